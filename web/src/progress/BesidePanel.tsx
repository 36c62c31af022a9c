import { useState } from "react";

import { useBeside, type Beside } from "../api/progress";
import { mondayOf } from "../shared/days";
import { dayWords } from "../shared/format";
import { Pick } from "../shared/Pick";
import { useUnits } from "../shared/units";
import { setWords } from "./ExercisePanel";
import { percent } from "./verdict";
import { Refused } from "../shared/Refused";

const MARKS: Record<Beside["beats"], string> = {
  yes: "▲ yes",
  no: "▼ no",
  "the same": "= the same",
  "not comparable": "≠ not comparable",
};

/** Week N against week M, exercise by exercise, at the same scheme. */
export function BesidePanel({ person, days }: { person: string; days: string[] }) {
  const weeks = [...new Set(days.map(mondayOf))].sort();
  const [earlier, setEarlier] = useState(weeks.at(-Math.min(weeks.length, 7)) ?? "");
  const [later, setLater] = useState(weeks.at(-1) ?? "");
  const beside = useBeside(person, earlier, later);
  const [units] = useUnits();
  if (weeks.length < 2) return null;
  const options = weeks.map((monday, place): [string, string] => [monday, `week ${place + 1}: ${dayWords(monday)}`]);
  return (
    <section className="mt-8" aria-labelledby="beside" data-testid="beside">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <h2 id="beside" className="text-lg font-semibold">
          Does it beat the earlier week?
        </h2>
        <Pick label="Earlier" value={earlier} options={options} onChange={setEarlier} />
        <Pick label="Later" value={later} options={options} onChange={setLater} />
      </div>
      {beside.isPending && <p className="faint">Laying them side by side …</p>}
      <Refused error={beside.error} />
      {beside.data?.length === 0 && <p className="faint">Nothing was logged in either of the two weeks.</p>}
      {!!beside.data?.length && (
        <div className="mt-1 overflow-x-auto">
          <table className="w-full text-sm">
            <thead className="faint text-left text-xs">
              <tr>
                {["Exercise", "Earlier", "Later", "Beats it", "Why", "Best"].map((name) => (
                  <th key={name} scope="col" className="pr-3 font-normal">
                    {name}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {beside.data.map((item) => (
                <tr key={item.exercise} className="border-t border-base-300 align-top">
                  <th scope="row" className="py-1 pr-3 text-left font-normal">
                    {item.name}
                  </th>
                  {[item.earlier, item.later].map((session, place) => (
                    <td key={place} className="py-1 pr-3">
                      {session?.sets.map((each) => setWords(each, units)).join(" · ") ?? "–"}
                    </td>
                  ))}
                  <td
                    className={`py-1 pr-3 font-semibold whitespace-nowrap ${item.beats === "no" ? "text-accent" : ""}`}
                  >
                    {MARKS[item.beats]}
                  </td>
                  <td className="py-1 pr-3">{item.why}</td>
                  <td className="py-1 whitespace-nowrap">
                    {item.gain === null
                      ? "–"
                      : `${percent(item.gain)} (${percent(item.gain_low!)} to ${percent(item.gain_high!)})`}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}
