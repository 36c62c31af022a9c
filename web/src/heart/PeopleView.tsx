import { ClipboardCheck, Dumbbell, NotebookPen, Thermometer } from "lucide-react";
import { useMemo, useState } from "react";
import { Link } from "react-router";

import type { FullForecast, FullPerson } from "../api/client";
import { useChosen, useClassDraft, useMoment, useShownClass } from "../class/classContext";
import { HowReached, type Opened } from "../shared/HowReached";
import { x, type Axis, type Drag } from "../drawing/axis";
import { bandOf, curveOf } from "../drawing/paths";
import { IntensityMark } from "../drawing/Curves";
import { Planks } from "../drawing/Planks";
import { TimeRule } from "../drawing/TimeRule";
import { useChart } from "../drawing/useChart";
import { figure, range } from "../shared/format";
import { shareOfReserve, targetWords } from "../shared/heart";
import { AirDialog } from "./AirDialog";
import { StartDialog } from "./StartDialog";
import { HeldDialog } from "./HeldDialog";
import { LoadsDialog } from "./LoadsDialog";

const CHART_H = 250;

const heightOf = (share: number) => CHART_H * (1 - Math.max(0, Math.min(1, share)));

/** The people of the class: all hearts on one axis, sorted by strain, and what has to be seen to before the start. */
export function PeopleView({ forecast }: { forecast: FullForecast }) {
  const draft = useClassDraft();
  const { id: classId, plan } = useShownClass();
  const { second, scrub: onScrub } = useMoment();
  const { shownBlock, selectBlock, person: chosen, choosePerson: onPerson } = useChosen();
  const person = forecast.people.find((one) => one.number === chosen?.number) ?? null;
  const [open, setOpen] = useState<"air" | "go" | "loads" | "held" | null>(null);
  const [opened, openFigure] = useState<Opened | null>(null);
  const length = forecast.length.value;
  const { chart, width, axis, drag } = useChart({ forecast, closeUp: null, whole: length * 1.01, onScrub });
  const sorted = useMemo(() => [...forecast.people].sort((one, other) => other.strain - one.strain), [forecast]);
  const heat = forecast.heat;
  const warm = heat && heat.advice !== "usual";
  return (
    <div className="px-4 pb-8 lg:px-6">
      <div className="mb-2 flex flex-wrap items-center gap-2 rounded border border-base-300 bg-base-200 px-3 py-1.5">
        <button type="button" className="btn btn-primary btn-sm" onClick={() => setOpen("go")}>
          <ClipboardCheck size={15} aria-hidden /> Before the start
        </button>
        <button type="button" className="btn btn-sm" onClick={() => setOpen("loads")}>
          <Dumbbell size={15} aria-hidden /> Loads
        </button>
        <button type="button" className="btn btn-sm" onClick={() => setOpen("air")}>
          <Thermometer size={15} aria-hidden /> Air
        </button>
        <span className={`grow text-sm ${warm ? "font-semibold text-accent" : ""}`} data-testid="air">
          {heat && plan.air
            ? `${warm ? "▲ " : ""}${plan.air.temperature_c} °C, ${plan.air.humidity_percent} % · heat index ${figure(heat.heat_index.value)} °C${heat.band ? ` (${heat.band})` : ""} · hearts drift up ${figure(heat.drift.value)} % an hour`
            : "no thermometer read"}
        </span>
        <button type="button" className="btn btn-sm" onClick={() => setOpen("held")}>
          <NotebookPen size={15} aria-hidden /> Log as held
        </button>
      </div>
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_26rem]">
        <div>
          <div ref={chart}>
            {width > 0 && (
              <>
                <Planks
                  axis={axis}
                  forecast={forecast}
                  selected={shownBlock}
                  onSelect={selectBlock}
                  onMove={() => {}}
                />
                <TimeRule axis={axis} length={length} second={second} onScrub={onScrub} drag={drag} />
                <Hearts forecast={forecast} axis={axis} drag={drag} second={second} person={person} />
              </>
            )}
          </div>
          <p className="faint mt-1 text-xs">
            Share of each person’s heart-rate reserve.{" "}
            {person ? "Shaded: the likely range of one person." : "Choose a person for their likely range."} Waiting and
            walking count as rest.
          </p>
          {person && (
            <OnePerson person={person} forecast={forecast} onOpen={openFigure} onClose={() => onPerson(null)} />
          )}
        </div>
        <Ranking people={sorted} forecast={forecast} chosen={person} onChoose={onPerson} />
      </div>
      {opened && <HowReached opened={opened} onClose={() => openFigure(null)} />}
      {open === "air" && <AirDialog draft={draft} forecast={forecast} onClose={() => setOpen(null)} />}
      {open === "go" && (
        <StartDialog classId={classId} draft={draft} forecast={forecast} onClose={() => setOpen(null)} />
      )}
      {open === "loads" && <LoadsDialog plan={draft.plan} forecast={forecast} onClose={() => setOpen(null)} />}
      {open === "held" && (
        <HeldDialog classId={classId} draft={draft} forecast={forecast} onClose={() => setOpen(null)} />
      )}
    </div>
  );
}

function Hearts({
  forecast,
  axis,
  drag,
  second,
  person,
}: {
  forecast: FullForecast;
  axis: Axis;
  drag: Drag;
  second: number;
  person: FullPerson | null;
}) {
  const limits = [0, ...forecast.class_limits, 1];
  const y = heightOf;
  const others = useMemo(() => {
    const series = { axis, every: forecast.sample_s, end: forecast.length.value, y: heightOf };
    return forecast.people
      .filter((one) => one.heart_applies)
      .map((one) => ({
        number: one.number,
        d: curveOf(
          one.bpm.map((bpm) => shareOfReserve(one, bpm)),
          series,
        ),
      }));
  }, [forecast, axis]);
  const band = useMemo(() => {
    if (!person?.heart_applies) return "";
    const [low, high] = [person.bpm_low, person.bpm_high].map((rates) =>
      rates.map((bpm) => shareOfReserve(person, bpm)),
    );
    return bandOf(low!, high!, { axis, every: forecast.kcal_sample_s, end: forecast.length.value, y: heightOf });
  }, [person, forecast, axis]);
  const beating = forecast.people.filter((one) => one.heart_applies).length;
  return (
    <svg
      {...drag}
      width={axis.width}
      height={CHART_H}
      className="block cursor-crosshair touch-none"
      role="img"
      aria-label={`Heart rates of ${beating} people over the class, as shares of their reserve`}
      data-testid="hearts"
    >
      {forecast.class_names.map((name, index) => (
        <g key={name}>
          <rect
            x={0}
            width={axis.width}
            y={y(limits[index + 1]!)}
            height={y(limits[index]!) - y(limits[index + 1]!)}
            fill={`var(--intensity-${index})`}
          />
          <text
            x={6}
            y={y((limits[index]! + limits[index + 1]!) / 2) + 4}
            className="fill-(--ink-on-intensity) text-xs"
          >
            {name}
          </text>
        </g>
      ))}
      {band && <path d={band} fill="var(--color-base-content)" opacity={0.16} />}
      {others.map((one) => (
        <path
          key={one.number}
          d={one.d}
          fill="none"
          stroke={one.number === person?.number ? "var(--color-base-content)" : "var(--color-secondary)"}
          strokeWidth={one.number === person?.number ? 2.2 : 1}
          opacity={person && one.number !== person.number ? 0.35 : 0.85}
        />
      ))}
      <line
        x1={x(axis, second)}
        x2={x(axis, second)}
        y1={0}
        y2={CHART_H}
        stroke="var(--color-base-content)"
        strokeWidth={1.5}
      />
      {beating === 0 && (
        <text x={axis.width / 2} y={CHART_H / 2} textAnchor="middle" className="fill-base-content text-sm">
          Heart-rate figures apply to nobody here: use perceived effort.
        </text>
      )}
    </svg>
  );
}

/** Everybody, the most strained first: how long in which class of intensity, and what stands out. */
function Ranking({
  people,
  forecast,
  chosen,
  onChoose,
}: {
  people: FullPerson[];
  forecast: FullForecast;
  chosen: FullPerson | null;
  onChoose: (number: number | null) => void;
}) {
  const longest = Math.max(1, ...people.map((one) => one.minutes_by_class.reduce((sum, part) => sum + part, 0)));
  const signs = useMemo(() => signsOf(forecast), [forecast]);
  return (
    <section aria-label="People by strain" data-testid="ranking">
      <div className="faint text-xs">
        <h2>Minutes at each intensity, the most strained first</h2>
        <ul className="flex flex-wrap gap-x-2.5 py-0.5 whitespace-nowrap">
          {forecast.class_names.map((name, index) => (
            <li key={name} className="flex items-center gap-1">
              <IntensityMark level={index} /> {name}
            </li>
          ))}
        </ul>
      </div>
      <ol>
        {people.map((one) => {
          const isChosen = one.number === chosen?.number;
          return (
            <li key={one.id} className="border-t border-base-300">
              <button
                type="button"
                aria-pressed={isChosen}
                className={`grid w-full grid-cols-[8.5rem_minmax(0,1fr)_4.2rem] items-center gap-2 px-1 py-1 text-left text-sm ${
                  isChosen ? "bg-neutral text-neutral-content" : "hover:bg-base-200"
                }`}
                onClick={() => onChoose(isChosen ? null : one.number)}
              >
                <span className="truncate">
                  {one.number} {one.name}
                </span>
                {one.heart_applies ? (
                  <MinutesBar minutes={one.minutes_by_class} names={forecast.class_names} longest={longest} />
                ) : (
                  <span className="text-xs">by {mainTarget(one)}</span>
                )}
                <span className="text-right text-xs whitespace-nowrap">
                  {one.figures.impulse ? `${figure(one.figures.impulse.value)} impulse` : "–"}
                </span>
                {signs.get(one.number) && (
                  <span className={`col-span-3 text-xs leading-4 ${isChosen ? "" : "text-accent"}`}>
                    ▲ {signs.get(one.number)}
                  </span>
                )}
              </button>
            </li>
          );
        })}
      </ol>
    </section>
  );
}

function MinutesBar({ minutes, names, longest }: { minutes: number[]; names: string[]; longest: number }) {
  const words = minutes.map((part, index) => `${names[index]} ${part.toFixed(0)} min`).join(", ");
  return (
    <span
      className="flex h-4 rounded-sm border border-base-300 bg-base-100 text-(--ink-on-intensity)"
      title={words}
      role="img"
      aria-label={words}
    >
      {minutes.map((part, index) =>
        part > 0 ? (
          <span
            key={names[index]}
            className="overflow-hidden text-center text-[0.7rem] leading-[0.9rem]"
            style={{ width: `${(part / longest) * 100}%`, background: `var(--intensity-${index})` }}
          >
            {(part / longest) * 100 > 8 ? part.toFixed(0) : ""}
          </span>
        ) : null,
      )}
    </span>
  );
}

/** What stands out of each person, from the cautions about hearts and care. */
function signsOf(forecast: FullForecast): Map<number, string> {
  const found = new Map<number, string[]>();
  for (const caution of forecast.cautions) {
    if (caution.about !== "heart" && caution.about !== "careful") continue;
    for (const number of caution.people) {
      const words = found.get(number) ?? [];
      if (words.length < 2) found.set(number, [...words, caution.message.split(":")[0]!]);
    }
  }
  return new Map([...found].map(([number, words]) => [number, words.join("; ")]));
}

function mainTarget(person: FullPerson): string {
  const hardest = [...person.targets].sort((one, other) => other.low - one.low)[0];
  return hardest ? targetWords(hardest) : "";
}

/** One person's figures, each of which opens how it was reached, and what they go by in each block. */
function OnePerson({
  person,
  forecast,
  onOpen,
  onClose,
}: {
  person: FullPerson;
  forecast: FullForecast;
  onOpen: (opened: Opened) => void;
  onClose: () => void;
}) {
  const of = person.figures;
  const figures = [
    ["Mean heart", of.heart_mean, 0],
    ["Highest", of.heart_peak, 0],
    ["Warm after", of.warm_up_reached, 1],
    ["Moderate or more", of.moderate_or_more, 0],
    ["Vigorous or more", of.vigorous_or_more, 0],
    ["Impulse", of.impulse, 0],
    ["Zone sum", of.zone_sum, 0],
    ["Session effort", of.session_effort, 0],
    ["Energy, gross", of.energy, 0],
    ["Energy, net", of.energy_net, 0],
    ["By table alone", of.energy_by_table, 0],
    ["By heart rate", of.energy_by_heart_rate, 0],
    ["By lifting work", of.energy_by_lifting, 0],
    ["After the class", of.after_class, 0],
    ["To drink", of.fluid, 1],
    ["Maximum", person.max_bpm, 0],
    ["Resting", person.rest_bpm, 0],
    ["Maximal uptake", person.vo2max, 0],
  ] as const;
  return (
    <section className="mt-3" data-testid="one-person">
      <div className="flex items-baseline gap-3">
        <h2 className="grow text-lg font-semibold">
          {person.number} {person.name}{" "}
          <span className="faint text-sm font-normal">
            {person.fitted
              ? `own heart from recordings, last forecast off by ${person.fitted.error_bpm.toFixed(1)} bpm`
              : person.heart_applies
                ? "usual heart, nothing fitted"
                : "by effort in place of heart rate"}
          </span>
        </h2>
        <Link to={`/people/${person.id}`} className="text-sm underline underline-offset-2">
          Open
        </Link>
        <button type="button" className="btn btn-xs" onClick={onClose}>
          Everybody
        </button>
      </div>
      <ul className="mt-1 grid grid-cols-2 gap-x-4 sm:grid-cols-3 xl:grid-cols-4">
        {figures.map(
          ([name, estimate, decimals]) =>
            estimate && (
              <li key={name}>
                <button
                  type="button"
                  className="w-full rounded py-0.5 text-left text-sm hover:bg-base-200"
                  onClick={() => onOpen({ name, estimate })}
                >
                  <span className="faint">{name}</span>{" "}
                  <strong>
                    {figure(estimate.value, decimals)} {estimate.unit}
                  </strong>{" "}
                  <span className="faint whitespace-nowrap">{range(estimate, decimals)}</span>
                </button>
              </li>
            ),
        )}
      </ul>
      {person.heart_applies && !of.warm_up_reached && (
        <p className="text-sm">▲ Warm (about 105 bpm) is not likely to be reached in this class.</p>
      )}
      <ul className="mt-1 flex flex-wrap gap-x-5 text-sm" data-testid="targets">
        {person.targets.map((one) => (
          <li key={one.block}>
            <span className="faint">{forecast.blocks[one.block]?.name}</span> {targetWords(one)}{" "}
            <span className="faint">{one.class_name}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
