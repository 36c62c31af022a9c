/** What was decided on the floor before a set, and what that makes of the loads of the sets after it. */
import type { RunEvent } from "../api/runs";
import { step, type LogRow } from "../live/log";

type Answer = Extract<RunEvent, { kind: "decided" }>;

/** The last answer to a question of somebody in a part; undefined where it was not asked. */
export function asked(events: readonly RunEvent[], person: string, part: string, when: string): Answer | undefined {
  return answers(events, person, part).findLast((answer) => answer.when === when);
}

function answers(events: readonly RunEvent[], person: string, part: string): Answer[] {
  return events.filter(
    (event): event is Answer => event.kind === "decided" && event.person === person && event.part === part,
  );
}

const COUNTS: Record<string, number> = { a: 1, one: 1, two: 2, three: 3 };

/** How many steps of the machine heavier (or, below zero, lighter) a branch is: "add a plate" is one; 0 where it is
 * something else. */
export function decidedSteps(then: string): number {
  const said = /^(add|drop) (a|one|two|three|[1-9]) (?:plate|step)s?$/i.exec(then.trim());
  if (!said) return 0;
  const count = COUNTS[said[2]!.toLowerCase()] ?? Number(said[2]);
  return said[1]!.toLowerCase() === "add" ? count : -count;
}

/** The load of the first part of a planned set, once what was decided before it is done; undefined where it has none. */
export function decidedLoad(events: readonly RunEvent[], row: LogRow): number | undefined {
  const planned = row.set?.kg[0];
  if (planned === undefined || !row.part || !row.set) return planned;
  const last = new Map(answers(events, row.person.id, row.part.id).map((answer) => [answer.when, answer]));
  const steps = [...last.values()]
    .filter((answer) => answer.so && answer.number <= row.number)
    .reduce((sum, answer) => sum + decidedSteps(answer.then), 0);
  const loads = row.sheet.units[row.set.unit]?.loads_kg ?? [];
  let kg = planned;
  for (let taken = 0; taken < Math.abs(steps); taken++) kg = step(loads, kg, steps > 0 ? 1 : -1);
  return kg;
}

/** Of these sets those that are not logged and whose load was decided to be another than planned: what is planned is
 * not what they are. */
export function decidedOtherwise(events: readonly RunEvent[], rows: readonly LogRow[]): LogRow[] {
  return rows.filter((row) => row.written === "not written" && row.set && decidedLoad(events, row) !== row.set.kg[0]);
}
