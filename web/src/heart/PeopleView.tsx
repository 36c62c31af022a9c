import { ClipboardCheck, Dumbbell, NotebookPen, Thermometer } from "lucide-react";
import { useMemo, useState } from "react";
import { Link } from "react-router";

import type { FullForecast, FullPerson } from "../api/client";
import { useChosen, useClassDraft, useMoment, useShownClass } from "../class/classContext";
import { ReviewDialog } from "../class/ReviewDialog";
import { askedOf, HowReached, type Opened } from "../shared/HowReached";
import { IntensityMark } from "../drawing/Curves";
import { Planks } from "../drawing/Planks";
import { TimeRule } from "../drawing/TimeRule";
import { useChart } from "../drawing/useChart";
import { labelOf } from "../shared/figures";
import { figure, range } from "../shared/format";
import { targetWords } from "../shared/heart";
import { AirDialog } from "./AirDialog";
import { HeartChart, HeartStrips } from "./HeartChart";
import { HeldDialog } from "./HeldDialog";
import { LoadsDialog } from "./LoadsDialog";
import { entryAt } from "../basis/entries";

/** The people of the class: all hearts on one axis, sorted by workload, and what has to be seen to before the start. */
export function PeopleView({ forecast }: { forecast: FullForecast }) {
  const draft = useClassDraft();
  const { id: classId, plan } = useShownClass();
  const { second, scrub: onScrub } = useMoment();
  const { shownBlock, selectBlock, person: chosen, choosePerson: onPerson } = useChosen();
  const person = forecast.people.find((person) => person.number === chosen?.number) ?? null;
  const [open, setOpen] = useState<"air" | "check" | "loads" | "held" | null>(null);
  const [opened, openFigure] = useState<Opened | null>(null);
  const length = forecast.length.value;
  const { chart, width, axis, drag } = useChart({ forecast, closeUp: null, whole: length * 1.01, onScrub });
  const sorted = useMemo(() => [...forecast.people].sort((one, other) => other.workload - one.workload), [forecast]);
  const heat = forecast.heat;
  const warm = heat && heat.advice !== "usual";
  return (
    <div className="px-4 pb-8 lg:px-6">
      <div className="mb-2 flex flex-wrap items-center gap-2 rounded border border-base-300 bg-base-200 px-3 py-1.5">
        <button type="button" className="btn btn-primary btn-sm" onClick={() => setOpen("check")}>
          <ClipboardCheck size={15} aria-hidden /> Pre-class check
        </button>
        <button type="button" className="btn btn-sm" onClick={() => setOpen("loads")}>
          <Dumbbell size={15} aria-hidden /> Loads
        </button>
        <button type="button" className="btn btn-sm" onClick={() => setOpen("air")}>
          <Thermometer size={15} aria-hidden /> Air
        </button>
        <span className={`grow text-sm ${warm ? "font-semibold text-accent" : ""}`} data-testid="air">
          {heat && plan.air
            ? `${warm ? "▲ " : ""}${plan.air.temperature_c} °C, ${plan.air.humidity_percent} % · heat index ${figure(heat.heat_index.value)} °C${heat.band ? ` (${heat.band})` : ""} · hearts ${figure(heat.at_once.value)} bpm up at once, and ${figure(heat.drift.value)} % an hour`
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
                <HeartChart forecast={forecast} axis={axis} drag={drag} second={second} person={person} />
              </>
            )}
          </div>
          <p className="faint mt-1 text-xs">
            Share of each person’s heart-rate reserve: the middle, half of all around it, and the range of all.{" "}
            {person ? "Grey: the likely range of the chosen person." : "Choose a person for their own."} Waiting and
            walking count as rest.
          </p>
          {person && (
            <OnePerson
              person={person}
              forecast={forecast}
              onOpen={(item) => openFigure(askedOf(item, person.figures, plan, person.id))}
              onClose={() => onPerson(null)}
            />
          )}
          {width > 0 && <HeartStrips forecast={forecast} axis={axis} person={person} onChoose={onPerson} />}
        </div>
        <Ranking people={sorted} forecast={forecast} chosen={person} onChoose={onPerson} />
      </div>
      {opened && <HowReached opened={opened} onClose={() => openFigure(null)} />}
      {open === "air" && <AirDialog draft={draft} forecast={forecast} onClose={() => setOpen(null)} />}
      {open === "check" && <ReviewDialog classId={classId} draft={draft} first="check" onClose={() => setOpen(null)} />}
      {open === "loads" && <LoadsDialog plan={draft.plan} forecast={forecast} onClose={() => setOpen(null)} />}
      {open === "held" && (
        <HeldDialog classId={classId} draft={draft} forecast={forecast} onClose={() => setOpen(null)} />
      )}
    </div>
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
  const longest = Math.max(1, ...people.map((person) => person.minutes_by_class.reduce((sum, part) => sum + part, 0)));
  const signs = useMemo(() => signsOf(forecast), [forecast]);
  return (
    <section aria-label="People by workload" data-testid="ranking">
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
        {people.map((person) => {
          const isChosen = person.number === chosen?.number;
          return (
            <li key={person.id} className="border-t border-base-300">
              <button
                type="button"
                aria-pressed={isChosen}
                className={`grid w-full grid-cols-[8.5rem_minmax(0,1fr)_4.2rem] items-center gap-2 px-1 py-1 text-left text-sm ${
                  isChosen ? "bg-neutral text-neutral-content" : "hover:bg-base-200"
                }`}
                onClick={() => onChoose(isChosen ? null : person.number)}
              >
                <span className="truncate">
                  {person.number} {person.name}
                </span>
                {person.heart_applies ? (
                  <MinutesBar minutes={person.minutes_by_class} names={forecast.class_names} longest={longest} />
                ) : (
                  <span className="text-xs">by {mainTarget(person)}</span>
                )}
                <span className="text-right text-xs whitespace-nowrap">
                  {person.figures.impulse ? `${figure(person.figures.impulse.value)} ${labelOf("impulse")}` : "–"}
                </span>
                {signs.get(person.number) && (
                  <span className={`col-span-3 text-xs leading-4 ${isChosen ? "" : "text-accent"}`}>
                    ▲ {signs.get(person.number)}
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
      if (words.length < 2) found.set(number, [...words, entryAt(caution.message.split(":"), 0)]);
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
    [labelOf("heart_mean"), of.heart_mean, 0],
    [labelOf("heart_peak"), of.heart_peak, 0],
    [labelOf("warm_up_reached"), of.warm_up_reached, 1],
    [labelOf("moderate_or_more"), of.moderate_or_more, 0],
    [labelOf("vigorous_or_more"), of.vigorous_or_more, 0],
    [labelOf("impulse"), of.impulse, 0],
    [labelOf("zone_sum"), of.zone_sum, 0],
    [labelOf("session_effort"), of.session_effort, 0],
    [labelOf("energy"), of.energy, 0],
    [labelOf("energy_net"), of.energy_net, 0],
    [labelOf("energy_by_table"), of.energy_by_table, 0],
    [labelOf("energy_by_heart_rate"), of.energy_by_heart_rate, 0],
    [labelOf("energy_by_lifting"), of.energy_by_lifting, 0],
    [labelOf("after_class"), of.after_class, 0],
    [labelOf("fluid"), of.fluid, 1],
    ["Maximum", person.max_bpm, 0],
    ["Resting", person.rest_bpm, 0],
    ["VO₂max", person.vo2max, 0],
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
        {person.targets.map((target) => (
          <li key={target.block}>
            <span className="faint">{forecast.blocks[target.block]?.name}</span> {targetWords(target)}{" "}
            <span className="faint">{target.class_name}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
