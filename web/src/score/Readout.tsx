import { memo, useEffect, useMemo, useRef } from "react";

import type { Forecast, PersonForecast, Plan } from "../api/client";
import { useChosen, useMoment, useShownClass } from "../class/classContext";
import { shareOfReserve } from "../shared/heart";
import { clock } from "../shared/format";
import { IntensityMark } from "../drawing/Curves";
import { DOING, endOf, stepAt } from "../drawing/steps";
import { firstName } from "../shared/names";
import { entryAt, lastOf } from "../basis/entries";

/** Everything that is true at the second under the scrub line. */
export const Readout = memo(function Readout() {
  const { forecast, plan, known } = useShownClass();
  const { second } = useMoment();
  const { person, choosePerson: onChoose } = useChosen();
  const chosen = person?.number ?? null;
  const moment = useMemo(() => momentOf(forecast, plan, second), [forecast, plan, second]);
  const firstNames = useMemo(() => new Map(known?.map((item) => [item.id, firstName(item.name)])), [known]);
  // the curves stand on the readout, however tall it is
  const foot = useRef<HTMLElement>(null);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => {
      const tall = entryAt(entry!.borderBoxSize, 0).blockSize;
      document.documentElement.style.setProperty("--readout", `${Math.ceil(tall)}px`);
    });
    observer.observe(foot.current!);
    return () => observer.disconnect();
  }, []);
  return (
    <section
      ref={foot}
      aria-label="At the scrub line"
      data-testid="readout"
      className="z-20 mt-2 max-h-[40vh] overflow-y-auto border-t border-base-300 bg-base-200 px-4 py-1.5 lg:sticky lg:bottom-0 lg:px-6"
    >
      <p className="mb-1 flex flex-wrap items-baseline gap-x-4 text-sm">
        <strong className="text-base">{clock(second)}</strong>
        <span>{moment.what}</span>
        <span className="faint">{moment.counts}</span>
        {moment.next && <span>Next change {moment.next}</span>}
      </p>
      <ul className="grid grid-cols-2 gap-1 sm:grid-cols-3 md:grid-cols-4 xl:grid-cols-6">
        {forecast.people.map((person) => {
          const now = stateOf(person, forecast, second);
          return (
            <li key={person.id}>
              <button
                type="button"
                aria-pressed={chosen === person.number}
                onClick={() => onChoose(chosen === person.number ? null : person.number)}
                className={`flex w-full items-center gap-1.5 rounded border px-1.5 py-0.5 text-left text-xs ${
                  chosen === person.number ? "border-base-content bg-base-100 font-semibold" : "border-base-300"
                }`}
              >
                <span className="w-5 shrink-0 text-right font-semibold">{person.number}</span>
                <span className="min-w-0 grow truncate">
                  {firstNames.get(person.id) ?? person.name}{" "}
                  <span className={now.waiting ? "font-semibold text-accent" : "faint"}>{now.words}</span>
                </span>
                {now.level !== null && (
                  <span className="flex shrink-0 items-center gap-1" title={forecast.class_names[now.level]}>
                    <IntensityMark level={now.level} />
                    {now.bpm}
                  </span>
                )}
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
});

type State = { words: string; waiting: boolean; bpm: number | null; level: number | null };

function stateOf(person: PersonForecast, forecast: Forecast, second: number): State {
  const step = stepAt(person, Math.min(second, forecast.length.value - 0.01));
  const doing = person.path.doing[step];
  // on the way the place is where the person works next
  let placed = step;
  while (doing === DOING.change && placed < person.path.doing.length && person.path.doing[placed] !== DOING.work) {
    placed += 1;
  }
  const place = forecast.slots[person.path.slot[placed] ?? -1]?.name.toLowerCase();
  const words =
    doing === DOING.work
      ? (place ?? "works")
      : doing === DOING.wait
        ? `▲ waits: ${place}`
        : doing === DOING.breather
          ? "breather"
          : doing === DOING.finished
            ? "done with the block"
            : doing === DOING.rest
              ? "rests"
              : place
                ? `to ${place}`
                : "moves on";
  if (!person.heart_applies) return { words, waiting: doing === DOING.wait, bpm: null, level: null };
  const at = second / forecast.sample_s;
  const before = person.bpm[Math.floor(at)] ?? lastOf(person.bpm);
  const next = person.bpm[Math.floor(at) + 1] ?? before;
  const bpm = before + (next - before) * (at - Math.floor(at));
  const share = shareOfReserve(person, bpm);
  const level = forecast.class_limits.filter((limit) => share >= limit).length;
  return { words, waiting: doing === DOING.wait, bpm: Math.round(bpm), level };
}

function momentOf(forecast: Forecast, plan: Plan, second: number) {
  const count = new Map<number, number>();
  let nextChange = Infinity;
  let round = 0;
  for (const person of forecast.people) {
    const step = stepAt(person, second);
    const doing = entryAt(person.path.doing, step);
    count.set(doing, (count.get(doing) ?? 0) + 1);
    nextChange = Math.min(nextChange, endOf(person, step, forecast));
    round = entryAt(person.path.round, step) + 1;
  }
  const index = forecast.blocks.findIndex((block) => second >= block.start_s && second < block.end_s);
  const block = forecast.blocks[index];
  const inPlan = plan.blocks.find((eachBlock) => eachBlock.id === block?.id);
  const rounds = inPlan?.kind === "circuit" ? `, round ${round} of ${inPlan.rounds}` : "";
  const what = block
    ? `${block.name}${rounds}`
    : second >= forecast.length.value
      ? "End of the class"
      : "Moving on to the next block";
  const words: [number, string][] = [
    [DOING.work, "at work"],
    [DOING.change, "changing"],
    [DOING.rest, "resting"],
    [DOING.wait, "waiting"],
    [DOING.breather, "breather"],
    [DOING.finished, "done with the block"],
  ];
  const counts = words
    .filter(([doing]) => count.get(doing))
    .map(([doing, word]) => `${count.get(doing)} ${word}`)
    .join(" · ");
  return { what, counts, next: second < forecast.length.value ? clock(nextChange) : "" };
}
