import { useState } from "react";

import type { OverTime, WeekOutlook } from "../api/courses";
import { figureOf, labelOf } from "../shared/figures";
import { figure } from "../shared/format";
import { Pick } from "../shared/Pick";
import { entryAt } from "../basis/entries";

type Props = { weeks: WeekOutlook[]; actual: OverTime | undefined; now: number };

/** Each figure of a week's outlook beside that of the classes held. */
const ROWS = [
  ["session_effort", "session_effort"],
  ["impulse", "impulse"],
  ["zone_sum", "zone_sum"],
  ["vigorous_min", "vigorous_or_more"],
  ["kcal", "energy"],
] as const satisfies [keyof WeekOutlook, string][];

/** Week N beside week M: planned and actual, one person who came to everything. */
export function WeeksCompared({ weeks, actual, now }: Props) {
  const [one, setOne] = useState(Math.max(1, now - 6));
  const [other, setOther] = useState(now);
  if (weeks.length < 2) return null;
  const options = weeks.map((week): [string, string] => [String(week.week), `week ${week.week}`]);
  const held = new Map(actual?.weeks.map((week) => [week.monday, week]));
  const pair = [one, other].map((number) => weeks.find((week) => week.week === number) ?? entryAt(weeks, 0));
  const cell = (value: number | undefined) => (value === undefined ? "–" : figure(value));
  return (
    <section
      className="mt-6 border-t border-base-300 pt-3"
      aria-labelledby="weeks-compared"
      data-testid="weeks-compared"
    >
      <div className="flex flex-wrap items-center gap-4">
        <h2 id="weeks-compared" className="text-lg font-semibold">
          Two weeks side by side
        </h2>
        <Pick label="One" value={String(one)} options={options} onChange={(value) => setOne(Number(value))} />
        <Pick label="Other" value={String(other)} options={options} onChange={(value) => setOther(Number(value))} />
      </div>
      <table className="mt-1 w-full max-w-3xl text-sm">
        <thead className="faint text-left text-xs">
          <tr>
            <th scope="col" className="font-normal">
              One person who came to everything
            </th>
            {pair.map((week, place) => (
              <th key={place} scope="col" className="text-right font-normal">
                week {week.week} planned / actual
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ROWS.map(([planned, was]) => (
            <tr key={was} className="border-t border-base-300">
              <th scope="row" className="py-0.5 text-left font-normal">
                {labelOf(was)} <span className="faint text-xs">{figureOf(was).unit}</span>
              </th>
              {pair.map((week, place) => (
                <td key={place} className="text-right">
                  {figure(week[planned])} / {cell(held.get(week.monday)?.figures[was])}
                </td>
              ))}
            </tr>
          ))}
          <tr className="border-t border-base-300">
            <th scope="row" className="py-0.5 text-left font-normal">
              People who came, of those planned
            </th>
            {pair.map((week, place) => (
              <td key={place} className="text-right">
                {held
                  .get(week.monday)
                  ?.classes.map((each) => `${each.came}/${each.planned_people}`)
                  .join(", ") ?? "–"}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </section>
  );
}
