/** What an instructor looks for while people go at their own pace: machine by machine, who waits, and what comes next. */
import { entryAt } from "../basis/entries";
import { endsAt, floorAt, type FloorVisit } from "./floor";
import { peopleNow, type PersonNow } from "./places";
import type { Placement } from "./rollingWork";
import { placeIn, type RunState } from "./runState";

/** A unit of the room that the block uses: who is on it, who stands at it until it is free or they have rested, and who
 * comes next. */
export type MachineNow = {
  unit: number;
  name: string;
  lost: boolean;
  on: PersonNow[];
  waiting: PersonNow[];
  next: { person: PersonNow; in_s: number } | null;
};

/** What needs the instructor next: somebody whose set should be over, everybody being done, or the next set to end. */
export type NextNeed =
  | { what: "held"; people: PersonNow[]; since_s: number }
  | { what: "all done" }
  | { what: "ends"; person: PersonNow; in_s: number };

const ofPeople = (runState: RunState) => new Map(peopleNow(runState).map((person) => [person.person.id, person]));

/** Everybody's sets that are still to come, the nearest first. */
function coming(floor: FloorVisit): { person: string; item: Placement }[] {
  return floorAt(floor)
    .placed.flatMap((own, number) =>
      own
        .filter((item) => item.setUpFrom_s > floor.now_s)
        .map((item) => ({ person: entryAt(floor.people, number), item })),
    )
    .sort((one, other) => one.item.setUpFrom_s - other.item.setUpFrom_s);
}

/** The machines of the block under way; none where people are not followed. */
export function machinesNow(runState: RunState): MachineNow[] {
  const { floor, sheet } = runState;
  if (!floor) return [];
  const people = ofPeople(runState);
  const here = [...people.values()].filter((person) => !person.away && person.here);
  const then = coming(floor);
  const block = entryAt(sheet.blocks, placeIn(sheet, runState.second).block);
  const units = [...new Set(block.floor?.kinds.flatMap((kind) => kind.units) ?? [])];
  const lost = sheet.units.flatMap((unit, at) =>
    (unit.lost || runState.lostUnlaid.has(unit.id)) &&
    !units.includes(at) &&
    floor.plans.some((plan) => usedIn(plan.work, at))
      ? [at]
      : [],
  );
  return [...units, ...lost].map((unit) => {
    const mine = here.filter((person) => person.here?.unit === unit);
    const busy = (person: PersonNow) => person.doing === "work" || person.doing === "change";
    const on = mine.filter(busy);
    const next = then.find((item) => item.item.unit === unit && !on.some((person) => person.person.id === item.person));
    const person = next && people.get(next.person);
    const { name, lost: gone, id } = entryAt(sheet.units, unit);
    return {
      unit,
      name,
      lost: gone || runState.lostUnlaid.has(id),
      on,
      waiting: mine.filter((person) => !busy(person)),
      next: next && person ? { person, in_s: next.item.setUpFrom_s - floor.now_s } : null,
    };
  });
}

const usedIn = (work: FloorVisit["plans"][number]["work"], unit: number): boolean =>
  [...work.stock.values()].some((units) => units.includes(unit));

/** What needs the instructor next; null where people are not followed, or nobody is there. */
export function nextNeed(runState: RunState): NextNeed | null {
  const { floor } = runState;
  if (!floor) return null;
  const people = peopleNow(runState).filter((person) => !person.away);
  if (!people.length) return null;
  const held = people.filter((person) => person.held);
  if (held.length) return { what: "held", people: held, since_s: heldFor(floor, held) };
  if (people.every((person) => person.doing === "finished")) return { what: "all done" };
  const ends = people.filter((person) => person.doing === "work").sort((one, other) => one.left_s - other.left_s)[0];
  if (ends) return { what: "ends", person: ends, in_s: ends.left_s };
  const begins = people.filter((person) => person.here).sort((one, other) => one.left_s - other.left_s)[0];
  return begins ? { what: "ends", person: begins, in_s: begins.left_s } : null;
}

/** For how long the longest of them would have been done. */
function heldFor(floor: FloorVisit, held: readonly PersonNow[]): number {
  const { placed } = floorAt(floor);
  return Math.max(
    ...held.map((person) => {
      const item = entryAt(placed, floor.people.indexOf(person.person.id)).find((each) => each.held);
      return item ? floor.now_s - (item.workFrom_s + item.task.work_s) : 0;
    }),
    0,
  );
}

/** On simulated floors eight of ten blocks ended within this share of what was expected to be left, asked between their
 * first quarter and their last sixth (docs/methods.md; `make bench` prints how many do not). */
const LEFT_SPREAD = 0.09;

/** When the block under way is expected to be over against the plan, in seconds from now and as a range. */
export function blockEnd(
  runState: RunState,
): { left_s: number; low_s: number; high_s: number; later_s: number } | null {
  const { floor, sheet } = runState;
  if (!floor) return null;
  const left = Math.max(0, endsAt(floorAt(floor)) - floor.now_s);
  const block = entryAt(sheet.blocks, placeIn(sheet, runState.second).block);
  const planned = block.end_s - block.start_s - floor.from_s;
  return {
    left_s: left,
    low_s: left * (1 - LEFT_SPREAD),
    high_s: left * (1 + LEFT_SPREAD),
    later_s: floor.now_s + left - planned,
  };
}

/** Somebody's exercises of this block that are not done yet, the next first: part and number of the next set of each. */
export function stillToDo(
  runState: RunState,
  person: string,
): { part: number; number: number; unit: number; name: string }[] {
  const { floor, sheet } = runState;
  if (!floor) return [];
  const own = floorAt(floor).placed[floor.people.indexOf(person)] ?? [];
  const found = new Map<number, { part: number; number: number; unit: number; name: string }>();
  for (const item of own) {
    if (item.end_s <= floor.now_s && !item.held) continue;
    if (found.has(item.task.part)) continue;
    const name = entryAt(sheet.parts, item.task.part).name;
    found.set(item.task.part, { part: item.task.part, number: item.task.number, unit: item.unit, name });
  }
  return [...found.values()];
}
