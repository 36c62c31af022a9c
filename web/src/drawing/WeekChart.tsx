import { extent } from "d3-array";
import { scaleLinear, scaleUtc } from "d3-scale";
import { area, line } from "d3-shape";
import { Download, Table2 } from "lucide-react";
import { useId, useMemo, useState } from "react";

import { saveText } from "../shared/files";
import { dayWords, figure } from "../shared/format";
import { useWidth } from "./useWidth";
import { entryAt } from "../basis/entries";

/** One value on a day, with its range where it has one; `open` ones only say “at least”. */
type DayPoint = {
  on: string;
  value: number | null;
  low?: number | null;
  high?: number | null;
  open?: boolean;
  note?: string;
};

/** What is drawn: a line with its band, dots, or bars; `dashed` tells two lines apart without colour. */
type DaySeries = { label: string; kind: "line" | "dots" | "bars"; points: DayPoint[]; dashed?: boolean };

type Props = {
  title: string;
  unit: string;
  series: DaySeries[];
  decimals?: number;
  height?: number;
  /** a value to reach, drawn across, and the day it is to be reached */
  goal?: { value: number; on: string } | null;
  /** whether the axis of values begins at nothing */
  fromZero?: boolean;
  /** what is chosen by a click on a day */
  onDay?: (on: string) => void;
};

const LEFT = 46;
const BELOW = 22;
const INKS = ["var(--color-secondary)", "var(--color-primary)", "var(--color-info)", "var(--color-accent)"];

/**
 * Values over days: time along, one unit up, ranges as bands. What is drawn stands in a table as well, for those who
 * cannot see it and for those who want the numbers; and can be taken away as CSV.
 */
export function WeekChart({ title, unit, series, decimals = 0, height = 190, goal, fromZero, onDay }: Props) {
  const { element, width } = useWidth<HTMLDivElement>();
  const [table, showTable] = useState(false);
  const id = useId();
  const rows = useMemo(() => rowsOf(series), [series]);
  const drawn = useMemo(() => {
    const days = series.flatMap((line) => line.points.map((point) => at(point.on)));
    const values = series
      .flatMap((line) => line.points.flatMap((point) => [point.value, point.low, point.high]))
      .filter((value): value is number => typeof value === "number");
    if (goal) {
      days.push(at(goal.on));
      values.push(goal.value);
    }
    const [first, last] = extent(days);
    const [low, high] = extent(values);
    if (!first || !last || low === undefined || high === undefined || width < 120) return null;
    if (fromZero && high <= 0) return null;
    const room = Math.max(high - low, Math.abs(high) * 0.04, 1e-6) * 0.12;
    const aside = series.some((line) => line.kind === "bars") ? 10 : 4;
    const x = scaleUtc([new Date(+first - DAY), new Date(+last + DAY)], [LEFT + aside, width - aside]);
    const y = scaleLinear([fromZero ? 0 : low - room, high + room], [height - BELOW, 8]).nice(4);
    const apart = [...new Set(days.map(Number))].sort((one, other) => one - other).map(x);
    const bar = Math.min(10, ...apart.slice(1).map((right, place) => 0.7 * (right - entryAt(apart, place))));
    return { x, y, bar: Math.max(2, bar) };
  }, [series, goal, width, height, fromZero]);
  const csv = () => {
    const head = ["date", ...series.map((line) => `${line.label} (${unit})`)].map(quoted).join(",");
    const lines = rows.map((row) => [row.on, ...row.values.map((point) => point?.value ?? "")].join(","));
    saveText(`${title.toLowerCase().replace(/[^a-z0-9]+/g, "-")}.csv`, [head, ...lines, ""].join("\r\n"), "text/csv");
  };
  return (
    <figure aria-labelledby={id} className="relative min-w-0" data-testid="week-chart">
      <figcaption className="flex flex-wrap items-center gap-x-3 text-sm">
        <span id={id} className="font-semibold">
          {title} <span className="faint font-normal">{unit}</span>
        </span>
        {series.length > 1 && (
          <span className="flex flex-wrap gap-x-3 text-xs">
            {series.map((line, place) => (
              <span key={line.label} className="flex items-center gap-1">
                <Key series={line} ink={entryAt(INKS, place % INKS.length)} /> {line.label}
              </span>
            ))}
          </span>
        )}
        <span className="ml-auto flex gap-1">
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            aria-pressed={table}
            aria-label={`${title} as a table`}
            onClick={() => showTable(!table)}
          >
            <Table2 size={14} aria-hidden /> Table
          </button>
          <button type="button" className="btn btn-ghost btn-xs" aria-label={`${title} as CSV`} onClick={csv}>
            <Download size={14} aria-hidden /> CSV
          </button>
        </span>
      </figcaption>
      <div ref={element} className={table ? "hidden" : ""}>
        {!drawn ? (
          <p className="faint py-6 text-sm">Nothing to draw yet.</p>
        ) : (
          <svg width={width} height={height} aria-hidden className="block">
            {drawn.y.ticks(4).map((tick) => (
              <g key={tick}>
                <line
                  x1={LEFT}
                  x2={width}
                  y1={drawn.y(tick)}
                  y2={drawn.y(tick)}
                  stroke="var(--color-base-300)"
                  strokeWidth={1}
                />
                <text x={LEFT - 6} y={drawn.y(tick) + 4} textAnchor="end" className="fill-base-content text-xs">
                  {figure(tick, drawn.y.ticks(4).some((tick) => tick % 1) ? 1 : 0)}
                </text>
              </g>
            ))}
            {daysOn(drawn.x, width).map((day) => (
              <text
                key={+day}
                x={drawn.x(day)}
                y={height - 6}
                textAnchor="middle"
                className="fill-base-content text-xs"
              >
                {day.toLocaleDateString("en-GB", { day: "numeric", month: "short", timeZone: "UTC" })}
              </text>
            ))}
            {goal && (
              <g>
                <line
                  x1={LEFT}
                  x2={drawn.x(at(goal.on))}
                  y1={drawn.y(goal.value)}
                  y2={drawn.y(goal.value)}
                  stroke="var(--color-accent)"
                  strokeDasharray="2 4"
                  strokeWidth={1.5}
                />
                <path
                  d={`M${drawn.x(at(goal.on))} ${drawn.y(goal.value) - 6}l5 6l-5 6l-5 -6z`}
                  fill="var(--color-accent)"
                />
              </g>
            )}
            {series.map((line, place) => (
              <Drawn
                key={line.label}
                series={line}
                ink={entryAt(INKS, place % INKS.length)}
                x={(point) => drawn.x(at(point.on))}
                y={(value) => drawn.y(value)}
                base={height - BELOW}
                bar={drawn.bar}
                onDay={onDay}
                words={(point) => `${dayWords(point.on)}: ${wordsOf(point, unit, decimals)}`}
              />
            ))}
          </svg>
        )}
      </div>
      <div className={table ? "mt-1" : "sr-only"}>
        <table className="w-full text-sm">
          <caption className="sr-only">
            {title}, {unit}
          </caption>
          <thead className="faint text-left text-xs">
            <tr>
              <th scope="col" className="font-normal">
                Day
              </th>
              {series.map((line) => (
                <th key={line.label} scope="col" className="font-normal">
                  {line.label} ({unit})
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.on} className="border-t border-base-300">
                <th scope="row" className="py-0.5 pr-3 text-left font-normal">
                  {dayWords(row.on)}
                </th>
                {row.values.map((point, place) => (
                  <td key={entryAt(series, place).label} className="pr-3">
                    {point ? wordsOf(point, "", decimals) : ""}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </figure>
  );
}

const DAY = 86_400_000;

function at(on: string): Date {
  return new Date(`${on}T00:00:00Z`);
}

function quoted(text: string): string {
  return `"${text.replaceAll('"', '""')}"`;
}

/** Days that are named below the axis, far enough apart to be read. */
function daysOn(x: { ticks: (count: number) => Date[]; (day: Date): number }, width: number): Date[] {
  const wanted = Math.max(2, Math.floor((width - LEFT) / 72));
  return x.ticks(wanted).filter((day) => x(day) > LEFT + 16 && x(day) < width - 18 && day.getUTCHours() === 0);
}

/** A value with its range, in words. */
function wordsOf(point: DayPoint, unit: string, decimals: number): string {
  if (point.value === null) return point.note ?? "";
  const ranged =
    typeof point.low === "number" && typeof point.high === "number"
      ? ` (${figure(point.low, decimals)}–${figure(point.high, decimals)})`
      : "";
  const value = `${point.open ? "at least " : ""}${figure(point.value, decimals)}${ranged} ${unit}`.trim();
  return point.note ? `${value}, ${point.note}` : value;
}

/** The days of all series, each with what every series says of it. */
function rowsOf(series: DaySeries[]): { on: string; values: (DayPoint | undefined)[] }[] {
  const days = [...new Set(series.flatMap((line) => line.points.map((point) => point.on)))].sort();
  const known = series.map((line) => new Map(line.points.map((point) => [point.on, point])));
  return days.map((on) => ({ on, values: known.map((of) => of.get(on)) }));
}

function Key({ series, ink }: { series: DaySeries; ink: string }) {
  return (
    <svg width={18} height={10} aria-hidden>
      {series.kind === "line" && (
        <line x1={0} x2={18} y1={5} y2={5} stroke={ink} strokeWidth={2} strokeDasharray={series.dashed ? "4 3" : ""} />
      )}
      {series.kind === "dots" && <circle cx={9} cy={5} r={3} fill={ink} />}
      {series.kind === "bars" && <rect x={5} y={1} width={8} height={8} fill={ink} />}
    </svg>
  );
}

type DrawnProps = {
  series: DaySeries;
  ink: string;
  x: (point: DayPoint) => number;
  y: (value: number) => number;
  base: number;
  /** how wide a bar is, so that days do not run into one another */
  bar: number;
  onDay?: (on: string) => void;
  words: (point: DayPoint) => string;
};

function Drawn({ series, ink, x, y, base, bar, onDay, words }: DrawnProps) {
  const known = series.points.filter((point): point is DayPoint & { value: number } => point.value !== null);
  const ranged = known.filter((point) => typeof point.low === "number" && typeof point.high === "number");
  const marks = (
    <>
      {known.map((point, place) => (
        <circle
          key={place}
          cx={x(point)}
          cy={y(point.value)}
          r={series.kind === "dots" ? 3.5 : 2.5}
          fill={point.open ? "var(--color-base-100)" : ink}
          stroke={ink}
          strokeWidth={1.5}
          className={onDay ? "cursor-pointer" : ""}
          onClick={() => onDay?.(point.on)}
        >
          <title>{words(point)}</title>
        </circle>
      ))}
    </>
  );
  switch (series.kind) {
    case "bars":
      return (
        <>
          {known.map((point, place) => (
            <rect
              key={place}
              x={x(point) - bar / 2}
              width={bar}
              y={Math.min(y(point.value), base)}
              height={Math.max(0, base - y(point.value))}
              fill={ink}
              opacity={0.8}
            >
              <title>{words(point)}</title>
            </rect>
          ))}
        </>
      );
    case "dots":
      return marks;
    case "line":
      return (
        <>
          {ranged.length > 1 && (
            <path
              d={
                area<DayPoint>(
                  x,
                  (point) => y(point.low!),
                  (point) => y(point.high!),
                )(ranged) ?? ""
              }
              fill={ink}
              opacity={0.2}
            />
          )}
          <path
            d={line<DayPoint & { value: number }>(x, (point) => y(point.value))(known) ?? ""}
            fill="none"
            stroke={ink}
            strokeWidth={2}
            strokeDasharray={series.dashed ? "5 3" : ""}
          />
          {marks}
        </>
      );
  }
}
