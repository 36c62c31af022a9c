import { useMemo } from "react";

import type { FullForecast, FullPerson } from "../api/client";
import { x, type Axis, type Drag } from "../drawing/axis";
import { IntensityMark } from "../drawing/Curves";
import { bandOf, curveOf } from "../drawing/paths";
import { counted } from "../shared/format";
import { shareOfReserve } from "../shared/heart";
import { middleAndSpread, stripsOf } from "./spread";
import { firstName } from "../shared/names";
import { entryAt } from "../basis/entries";

const CHART_H = 250;
const FEW = 6;
const STRIP_H = 12;

/** Share of the reserve to the height it is drawn at. */
export function heightOf(share: number): number {
  return CHART_H * (1 - Math.min(1, Math.max(0, share)));
}

type Props = {
  forecast: FullForecast;
  axis: Axis;
  drag: Drag;
  second: number;
  person: FullPerson | null;
};

/**
 * The hearts of a class on one axis: the middle of all with the half of them around it and the range of all; the chosen
 * person before it. Single hearts are drawn where there are few enough to be told apart.
 */
export function HeartChart({ forecast, axis, drag, second, person }: Props) {
  const limits = [0, ...forecast.class_limits, 1];
  const y = heightOf;
  const beating = useMemo(() => forecast.people.filter((person) => person.heart_applies), [forecast]);
  const few = beating.length <= FEW;
  const series = useMemo(
    () => ({ axis, every: forecast.sample_s, end: forecast.length.value, y: heightOf }),
    [axis, forecast],
  );
  const spread = useMemo(
    () => middleAndSpread(beating.map((item) => item.bpm.map((bpm) => shareOfReserve(item, bpm)))),
    [beating],
  );
  const curves = useMemo(
    () =>
      beating
        .filter((item) => few || item.number === person?.number)
        .map((item) => ({
          number: item.number,
          d: curveOf(
            item.bpm.map((bpm) => shareOfReserve(item, bpm)),
            series,
          ),
        })),
    [beating, few, person, series],
  );
  const band = useMemo(() => {
    if (!person?.heart_applies) return "";
    const [low, high] = [person.bpm_low, person.bpm_high].map((rates) =>
      rates.map((bpm) => shareOfReserve(person, bpm)),
    );
    return bandOf(low!, high!, { ...series, every: forecast.kcal_sample_s });
  }, [person, forecast, series]);
  const ink = "var(--color-base-content)";
  return (
    <svg
      {...drag}
      width={axis.width}
      height={CHART_H}
      className="block cursor-crosshair touch-none"
      role="img"
      aria-label={`Heart rates of ${counted(beating.length, "person", "people")} over the class, as shares of their reserve${
        few ? "" : ": the middle, the half around it and the range of all"
      }`}
      data-testid="hearts"
    >
      {forecast.class_names.map((name, index) => (
        <g key={name}>
          <rect
            x={0}
            width={axis.width}
            y={y(entryAt(limits, index + 1))}
            height={y(entryAt(limits, index)) - y(entryAt(limits, index + 1))}
            fill={`var(--intensity-${index})`}
          />
          <text
            x={6}
            y={y((entryAt(limits, index) + entryAt(limits, index + 1)) / 2) + 4}
            className="fill-(--ink-on-intensity) text-xs"
          >
            {name}
          </text>
        </g>
      ))}
      {!few && spread && (
        <>
          <path d={bandOf(spread.lowest, spread.highest, series)} fill="var(--color-secondary)" opacity={0.18} />
          <path d={bandOf(spread.lower, spread.upper, series)} fill="var(--color-secondary)" opacity={0.3} />
          <path
            d={curveOf(spread.middle, series)}
            fill="none"
            stroke="var(--color-secondary)"
            strokeWidth={2}
            strokeDasharray={person ? "5 3" : undefined}
          />
        </>
      )}
      {band && <path d={band} fill={ink} opacity={0.16} />}
      {curves.map((curve) => (
        <path
          key={curve.number}
          d={curve.d}
          fill="none"
          stroke={curve.number === person?.number ? ink : "var(--color-secondary)"}
          strokeWidth={curve.number === person?.number ? 2.4 : 1.2}
          opacity={person && curve.number !== person.number ? 0.45 : 1}
        />
      ))}
      <line x1={x(axis, second)} x2={x(axis, second)} y1={0} y2={CHART_H} stroke={ink} strokeWidth={1.5} />
      {beating.length === 0 && (
        <text x={axis.width / 2} y={CHART_H / 2} textAnchor="middle" className="fill-base-content text-sm">
          Heart-rate figures apply to nobody here: use perceived effort.
        </text>
      )}
    </svg>
  );
}

/** Everybody's heart as a strip: which class of intensity when, one row a person. */
export function HeartStrips({
  forecast,
  axis,
  person,
  onChoose,
}: Pick<Props, "forecast" | "axis" | "person"> & { onChoose: (number: number | null) => void }) {
  const rows = useMemo(() => {
    const limits = forecast.class_limits;
    return forecast.people
      .filter((person) => person.heart_applies)
      .map((one) => ({
        one,
        strips: stripsOf(
          one.bpm.map((bpm) => shareOfReserve(one, bpm)),
          limits,
          forecast.sample_s,
        ),
      }));
  }, [forecast]);
  if (!rows.length) return null;
  return (
    <section aria-label="Everybody’s heart by intensity" className="mt-2" data-testid="strips">
      <h3 className="faint flex items-center gap-2 text-xs">
        Each heart over the class: the darker, the harder <IntensityMark level={3} />
      </h3>
      <ul className="mt-1">
        {rows.map(({ one, strips }) => (
          <li key={one.id}>
            <button
              type="button"
              aria-pressed={one.number === person?.number}
              aria-label={`${one.number} ${one.name}: ${wordsOf(strips, forecast.class_names)}`}
              className={`relative block w-full rounded-sm hover:bg-base-200 ${
                one.number === person?.number ? "outline-2 outline-base-content" : ""
              }`}
              onClick={() => onChoose(one.number === person?.number ? null : one.number)}
            >
              <svg width={axis.width} height={STRIP_H + 2} aria-hidden className="block">
                {strips.map((strip) => (
                  <rect
                    key={strip.from}
                    x={x(axis, strip.from)}
                    width={Math.max(0.5, x(axis, strip.to) - x(axis, strip.from))}
                    y={1}
                    height={STRIP_H}
                    fill={`var(--intensity-${strip.level})`}
                  />
                ))}
                <text x={3} y={STRIP_H - 1.5} className="fill-(--ink-on-intensity) text-[11px] font-semibold">
                  {one.number} {firstName(one.name)}
                </text>
              </svg>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function wordsOf(strips: { from: number; to: number; level: number }[], names: string[]): string {
  const minutes = names.map((name, level) => {
    const seconds = strips
      .filter((strip) => strip.level === level)
      .reduce((sum, strip) => sum + strip.to - strip.from, 0);
    return [name, Math.round(seconds / 60)] as const;
  });
  return minutes
    .filter(([, some]) => some > 0)
    .map(([name, some]) => `${name} ${some} min`)
    .join(", ");
}
