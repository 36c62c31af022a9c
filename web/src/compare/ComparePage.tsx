import { useQuery } from "@tanstack/react-query";
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";

import { differences, readRevision } from "../api/calls";
import { api, dataOf, isFull, type ClassOut, type Estimate, type FullForecast } from "../api/client";
import { useClasses, useForecast } from "../api/queries";
import { ticks, x, type Axis } from "../drawing/axis";
import { labelOf } from "../shared/figures";
import { clock, figure, range } from "../shared/format";
import { Pick } from "../shared/Pick";
import { entryAt, present } from "../basis/entries";

/** A class, at its newest or at an older revision. */
function useVersion(id: number | null, revision: number | null) {
  return useQuery({
    queryKey: ["version", id, revision],
    enabled: id !== null,
    queryFn: async () => {
      if (revision !== null) return readRevision(present(id, "The class"), revision);
      const answer = await api.GET("/api/classes/{class_id}", {
        params: { path: { class_id: present(id, "The class") } },
      });
      return dataOf(answer);
    },
    gcTime: 0,
  });
}

function numberIn(parameters: URLSearchParams, name: string): number | null {
  const value = Number(parameters.get(name));
  return Number.isInteger(value) && value > 0 ? value : null;
}

/** Two classes, or two revisions of one, over each other on the same axis. */
export function ComparePage() {
  const [parameters, setParameters] = useSearchParams();
  const classes = useClasses();
  const one = numberIn(parameters, "one") ?? classes.data?.[0]?.id ?? null;
  const other = numberIn(parameters, "other") ?? classes.data?.find((row) => row.id !== one)?.id ?? null;
  const first = useVersion(one, numberIn(parameters, "at"));
  const second = useVersion(other, numberIn(parameters, "otherAt"));
  useEffect(() => {
    document.title = "Compare – Oaken Circuit";
  }, []);
  const choose = (name: "one" | "other", id: string) => {
    const next = new URLSearchParams(parameters);
    next.set("one", String(one));
    next.set("other", String(other));
    next.set(name, id);
    next.delete(name === "one" ? "at" : "otherAt");
    setParameters(next, { replace: true });
  };
  const options = (classes.data ?? []).map((row): [string, string] => [String(row.id), row.name]);
  const failed = [classes, first, second].find((query) => query.isError);
  return (
    <div className="px-4 py-4 lg:px-6">
      <h1 className="text-2xl font-semibold">Compare</h1>
      {failed ? (
        <p role="alert" className="mt-3 rounded border border-error p-3">
          This cannot be compared: {failed.error?.message}{" "}
          <Link to="/" className="btn btn-sm">
            All classes
          </Link>
        </p>
      ) : classes.data && classes.data.length < 2 && !numberIn(parameters, "at") ? (
        <p className="mt-3 rounded border border-base-300 bg-base-200 p-4">
          {classes.data.length
            ? "There is only one class. Make a version of it (“Versions” on its screen), then compare the two here. "
            : "There is no class yet: two of them are compared here. "}
          <Link to={classes.data.length ? "/classes" : "/generate"} className="underline underline-offset-2">
            {classes.data.length ? "The classes" : "Generate a class"}
          </Link>
        </p>
      ) : (
        <>
          <div className="mt-2 grid gap-2 sm:grid-cols-2">
            <Chosen
              mark="A"
              label="First class"
              value={one}
              options={options}
              version={first.data}
              onChoose={(id) => choose("one", id)}
              at={numberIn(parameters, "at")}
            />
            <Chosen
              mark="B"
              label="Second class"
              value={other}
              options={options}
              version={second.data}
              onChoose={(id) => choose("other", id)}
              at={numberIn(parameters, "otherAt")}
            />
          </div>
          {first.data && second.data ? (
            <Both one={first.data} other={second.data} />
          ) : (
            <div role="status" aria-label="Opening both classes" className="skeleton mt-4 h-96 w-full" />
          )}
        </>
      )}
    </div>
  );
}

type ChosenProps = {
  mark: string;
  label: string;
  value: number | null;
  options: [string, string][];
  version: ClassOut | undefined;
  at: number | null;
  onChoose: (id: string) => void;
};

function Chosen({ mark, label, value, options, version, at, onChoose }: ChosenProps) {
  return (
    <div className="flex items-center gap-2">
      <Mark mark={mark} />
      <Pick bare wide label={label} value={String(value ?? "")} options={options} onChange={onChoose} />
      <span className="faint text-sm whitespace-nowrap">
        {at ? `revision ${at}` : version && `revision ${version.revision}`}
      </span>
      {value !== null && (
        <Link className="text-sm underline underline-offset-4" to={`/classes/${value}`}>
          Open
        </Link>
      )}
    </div>
  );
}

function Mark({ mark }: { mark: string }) {
  return (
    <span
      className={`inline-flex h-6 w-6 shrink-0 items-center justify-center rounded-sm text-sm font-semibold ${
        mark === "A" ? "bg-neutral text-neutral-content" : "border-2 border-dashed border-base-content"
      }`}
    >
      {mark}
    </span>
  );
}

function Both({ one, other }: { one: ClassOut; other: ClassOut }) {
  const first = useForecast(one.plan);
  const second = useForecast(other.plan);
  const changes = useQuery({
    queryKey: ["differences", one.plan, other.plan],
    queryFn: () => differences(one.plan, other.plan),
    retry: false,
  });
  const failed = first.error ?? second.error;
  if (failed)
    return (
      <p role="alert" className="mt-3 rounded border border-error p-3">
        {failed.message}
      </p>
    );
  if (!first.data || !second.data)
    return <div role="status" aria-label="Forecasting both" className="skeleton mt-4 h-96 w-full" />;
  const [a, b] = [first.data.forecast, second.data.forecast];
  if (!isFull(a) || !isFull(b)) return <p className="mt-3">Comparing classes is for instructors.</p>;
  return (
    <div className="mt-4 grid gap-6 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <div>
        <Scores one={a} other={b} />
        <section className="mt-4">
          <h2 className="font-semibold">From A to B</h2>
          {changes.isError && <p role="alert">The differences cannot be told: {changes.error.message}</p>}
          <ul className="mt-1 max-h-64 list-disc overflow-y-auto pl-5 text-sm" data-testid="differences">
            {changes.data?.length === 0 && <li>no difference</li>}
            {changes.data?.map((change) => (
              <li key={change}>{change}</li>
            ))}
          </ul>
        </section>
      </div>
      <Table one={a} other={b} />
    </div>
  );
}

const HEART_H = 170;
const ENERGY_H = 90;

/** Planks, middle hearts and energy of both classes on one time axis: A solid, B dashed. */
function Scores({ one, other }: { one: FullForecast; other: FullForecast }) {
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(Math.floor(entry!.contentRect.width)));
    observer.observe(frame.current!);
    return () => observer.disconnect();
  }, []);
  const longest = Math.max(one.length.value, other.length.value, one.slot_s, other.slot_s);
  const axis = useMemo<Axis>(() => ({ from: 0, to: longest * 1.01, width: Math.max(width - 24, 0) }), [longest, width]);
  const limits = [0, ...one.class_limits, 1];
  const line = (values: number[] | undefined, sample: number, end: number, y: (value: number) => number) =>
    values?.length
      ? `M${values.map((value, index) => `${x(axis, Math.min(index * sample, end)).toFixed(1)} ${y(value).toFixed(1)}`).join("L")}`
      : "";
  const heartY = (share: number) => HEART_H * (1 - share);
  const top = Math.max(one.kcal.at(-1) ?? 1, other.kcal.at(-1) ?? 1, 1);
  const energyY = (kcal: number) => ENERGY_H - 2 - (kcal / top) * (ENERGY_H - 8);
  return (
    <div ref={frame} data-testid="comparison">
      {width > 0 && (
        <>
          <PlankRow mark="A" forecast={one} axis={axis} />
          <PlankRow mark="B" forecast={other} axis={axis} />
          <div className="relative ml-6 h-5 border-b border-base-300 text-xs">
            {ticks(axis).map((tick) => (
              <span key={tick.at} className="faint absolute -translate-x-1/2" style={{ left: x(axis, tick.at) }}>
                {tick.label}
              </span>
            ))}
          </div>
          <h3 className="mt-2 ml-6 text-sm font-semibold">Heart rate, middle of the class, % of reserve</h3>
          <svg
            width={axis.width}
            height={HEART_H}
            className="ml-6 block"
            role="img"
            aria-label={`Heart rate over time: A mean ${words(one.figures.heart_mean)}, B mean ${words(other.figures.heart_mean)}`}
          >
            {one.class_names.map((name, index) => (
              <g key={name}>
                <rect
                  width={axis.width}
                  y={heartY(entryAt(limits, index + 1))}
                  height={heartY(entryAt(limits, index)) - heartY(entryAt(limits, index + 1))}
                  fill={`var(--intensity-${index})`}
                />
                <text
                  x={axis.width - 4}
                  y={heartY(entryAt(limits, index)) - 3}
                  textAnchor="end"
                  className="fill-[var(--ink-on-intensity)] text-[11px]"
                >
                  {name}
                </text>
              </g>
            ))}
            <path
              d={line(one.band?.median, one.sample_s, one.length.value, heartY)}
              fill="none"
              stroke="var(--color-secondary)"
              strokeWidth={2.5}
            />
            <path
              d={line(other.band?.median, other.sample_s, other.length.value, heartY)}
              fill="none"
              stroke="var(--color-base-content)"
              strokeWidth={2}
              strokeDasharray="6 4"
            />
          </svg>
          <h3 className="mt-2 ml-6 text-sm font-semibold">Energy, one person, mean</h3>
          <svg
            width={axis.width}
            height={ENERGY_H}
            className="ml-6 block border-b border-base-300"
            role="img"
            aria-label={`Energy over time: A ends at ${words(one.figures.energy)}, B at ${words(other.figures.energy)}`}
          >
            <path
              d={line(one.kcal, one.sample_s, one.length.value, energyY)}
              fill="none"
              stroke="var(--color-primary)"
              strokeWidth={2.5}
            />
            <path
              d={line(other.kcal, other.sample_s, other.length.value, energyY)}
              fill="none"
              stroke="var(--color-base-content)"
              strokeWidth={2}
              strokeDasharray="6 4"
            />
          </svg>
          <p className="faint ml-6 text-xs">A solid, B dashed.</p>
        </>
      )}
    </div>
  );
}

function words(estimate: Estimate | null | undefined): string {
  return estimate ? `${figure(estimate.value)} ${estimate.unit}` : "not known";
}

function PlankRow({ mark, forecast, axis }: { mark: string; forecast: FullForecast; axis: Axis }) {
  return (
    <div className="mb-1 flex items-center">
      <span className="w-6 text-sm font-semibold">{mark}</span>
      <div className="relative h-8 grow">
        {forecast.blocks.map((block) => {
          const wide = x(axis, block.end_s) - x(axis, block.start_s);
          return (
            <span
              key={block.id}
              title={`${block.name} ${clock(block.end_s - block.start_s)}`}
              className="absolute top-0.5 h-7 truncate rounded-[3px] px-1.5 text-sm leading-7 font-semibold whitespace-nowrap"
              style={{
                left: x(axis, block.start_s),
                width: Math.max(wide - 1.5, 2),
                background: `var(--plank-${block.kind})`,
                color: "var(--plank-ink)",
              }}
            >
              {wide > 46 ? block.name : ""}
            </span>
          );
        })}
        <span
          className="absolute inset-y-0 border-l-2 border-dashed border-accent"
          style={{ left: x(axis, forecast.slot_s) }}
          title={`planned end ${clock(forecast.slot_s)}`}
        />
      </div>
    </div>
  );
}

type Read = (forecast: FullForecast) => Estimate | null | undefined;
const ROWS: [string, Read, number][] = [
  [labelOf("length"), (item) => item.length, 0],
  [labelOf("chance_inside"), (item) => item.chance_inside, 0],
  [labelOf("work_share"), (item) => item.figures.work_share, 0],
  [labelOf("load_per_minute"), (item) => item.figures.load_per_minute, 0],
  [labelOf("sets_per_minute"), (item) => item.figures.sets_per_minute, 2],
  [labelOf("waiting"), (item) => item.figures.waiting, 0],
  [labelOf("heart_mean"), (item) => item.figures.heart_mean, 0],
  [labelOf("vigorous_or_more"), (item) => item.figures.vigorous_or_more, 0],
  [labelOf("impulse"), (item) => item.figures.impulse, 0],
  [labelOf("energy"), (item) => item.figures.energy, 0],
  [labelOf("volume_load"), (item) => item.figures.volume_load, 0],
  [labelOf("time_under_tension"), (item) => item.figures.time_under_tension, 0],
];

/** Every figure of both, and the difference. */
function Table({ one, other }: { one: FullForecast; other: FullForecast }) {
  const shown = (estimate: Estimate | null | undefined, decimals: number) =>
    !estimate ? "—" : estimate.unit === "s" ? clock(estimate.value) : figure(estimate.value, decimals);
  const muscles = [...new Set([...one.muscles, ...other.muscles].map((muscle) => muscle.name))];
  const tension = (forecast: FullForecast, name: string) =>
    forecast.muscles.find((muscle) => muscle.name === name)?.prime_s ?? 0;
  return (
    <table className="h-fit w-full text-sm" data-testid="comparison-table">
      <thead>
        <tr className="border-b border-base-300 text-right">
          <th className="py-1 text-left font-semibold">Mean of the class</th>
          <th className="pl-2">A</th>
          <th className="pl-2">B</th>
          <th className="pl-2">B − A</th>
        </tr>
      </thead>
      <tbody>
        {ROWS.map(([name, read, decimals]) => {
          const [before, after] = [read(one), read(other)];
          if (!before && !after) return null;
          const unit = (before ?? after)!.unit;
          const change = before && after ? after.value - before.value : null;
          const size =
            change === null ? "" : unit === "s" ? clock(Math.abs(change)) : figure(Math.abs(change), decimals);
          return (
            <tr
              key={name}
              className="border-b border-[var(--rule)] text-right"
              title={`A ${range(before!, decimals)}, B ${range(after!, decimals)}`}
            >
              <th className="py-1 text-left font-normal">
                {name} <span className="faint text-xs">{unit === "s" ? "min:s" : unit}</span>
              </th>
              <td className="pl-2">{shown(before, decimals)}</td>
              <td className="pl-2">{shown(after, decimals)}</td>
              <td className="pl-2 font-semibold">
                {change === null ? "—" : Math.abs(change) < 1e-9 ? "±0" : `${change > 0 ? "+" : "−"}${size}`}
              </td>
            </tr>
          );
        })}
        <tr>
          <th colSpan={4} className="pt-3 text-left font-semibold">
            Muscles under tension <span className="faint text-xs font-normal">min:s, prime mover</span>
          </th>
        </tr>
        {muscles.map((name) => {
          const [before, after] = [tension(one, name), tension(other, name)];
          if (!before && !after) return null;
          const change = after - before;
          return (
            <tr key={name} className="border-b border-[var(--rule)] text-right">
              <th className="py-0.5 text-left font-normal">{name}</th>
              <td className="pl-2">{clock(before)}</td>
              <td className="pl-2">{clock(after)}</td>
              <td className="pl-2 font-semibold">
                {Math.abs(change) < 0.5 ? "±0" : `${change > 0 ? "+" : "−"}${clock(Math.abs(change))}`}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
