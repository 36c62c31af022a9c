/** Who does what where at a moment of a run, and what and where next: as `core/oaken/session/now.py` tells it. */
import type { Sheet } from "../api/runs";
import { aheadOf, isAway, placeIn, type RunState } from "./runState";
import { entryAt, lastOf } from "../basis/entries";
import { floorAt, type FloorVisit } from "./floor";
import type { Placement } from "./rollingWork";

export const DOINGS = ["work", "change", "rest", "wait", "finished", "breather"] as const;
type Doing = (typeof DOINGS)[number];
type SheetPerson = Sheet["people"][number];

/** A place: indexes of part and unit in the sheet, -1 for none. */
export type Spot = { part: number; unit: number };
export type PersonNow = {
  person: SheetPerson;
  away: boolean;
  doing: Doing;
  here: Spot | null;
  /** the number of the set under way, or of the one that was done last or comes next at this part */
  set: number;
  left_s: number;
  next: Spot | null;
  next_in_s: number | null;
  /** where people are followed: whether this is known from what was pressed, or assumed */
  known: boolean;
  /** whether they are waited for: their set would be over, had anybody said so */
  held: boolean;
  /** by how many seconds they are behind the plan; before it: less than 0 */
  behind_s: number;
};

const NOT_FOLLOWED = { known: false, held: false, behind_s: 0 };

/** Everybody where the runState stands, in the order of the plan. */
export function peopleNow(runState: RunState): PersonNow[] {
  return runState.sheet.people.map((person) => personNow(runState, person));
}

export function personNow(runState: RunState, person: SheetPerson): PersonNow {
  const nothing = { ...NOT_FOLLOWED, person, away: false, doing: "finished" as const, here: null, set: 0, left_s: 0 };
  if (isAway(runState, person.id) || runState.state === "ended") {
    return { ...nothing, away: isAway(runState, person.id), next: null, next_in_s: null };
  }
  if (runState.floor) return onTheFloor(runState, runState.floor, person);
  const ahead = aheadOf(runState, person.id);
  let second = runState.second + ahead;
  if (ahead) {
    const span = entryAt(runState.sheet.blocks, placeIn(runState.sheet, runState.second).block);
    second = Math.max(span.start_s, second);
    if (second >= span.end_s) {
      const coming = nextSpot(runState, person, stepAt(runState.sheet, person, span.end_s), null, runState.second);
      const left = Math.max(0, span.end_s - runState.second);
      return { ...nothing, left_s: runState.added_s + left, ...coming };
    }
  }
  const at = stepAt(runState.sheet, person, second);
  if (at >= person.start_s.length) return { ...nothing, next: null, next_in_s: null };
  const here = spotOf(person, at);
  return {
    ...NOT_FOLLOWED,
    person,
    away: false,
    doing: entryAt(DOINGS, entryAt(person.doing, at)),
    here,
    set: setAt(person, at),
    left_s: runState.added_s + endOf(runState.sheet, person, at) - second,
    ...nextSpot(runState, person, at + 1, here, second),
  };
}

/** One person where people are followed. */
function onTheFloor(runState: RunState, floor: FloorVisit, person: SheetPerson): PersonNow {
  const number = floor.people.indexOf(person.id);
  const placed = entryAt(floorAt(floor).placed, number);
  const now = floor.now_s;
  const at = placed.findIndex((item) => now < item.end_s || item.held);
  const item = placed[at];
  const base = { ...NOT_FOLLOWED, person, away: false };
  if (!item) {
    // done with the block: what comes next comes when the class gets there
    const end = entryAt(runState.sheet.blocks, placeIn(runState.sheet, runState.second).block).end_s;
    // the steps of a sheet are rounded to a thousandth of a second
    const coming = nextSpot(runState, person, stepAt(runState.sheet, person, end + 0.001), null, runState.second);
    const left = runState.added_s + Math.max(0, end - runState.second);
    const known = placed[placed.length - 1]?.known ?? false;
    return { ...base, doing: "finished", here: null, set: 0, left_s: left, ...coming, known };
  }
  const phases: [number, Doing][] = [
    [item.arrive_s, "change"],
    [item.rested_s, "rest"],
    [item.setUpFrom_s, "wait"],
    [item.workFrom_s, "change"],
    [item.end_s, "work"],
  ];
  const [until, doing] = phases.find(([until]) => now < until) ?? [now, "work"];
  const here = spotAt(item);
  const then = placed.slice(at + 1).find((other) => !same(spotAt(other), here));
  const tasks = entryAt(lastOf(floor.plans).work.tasks, number);
  const planned = Math.max(0, ...tasks.map((task) => task.start_s + task.work_s));
  return {
    ...base,
    doing,
    here,
    set: item.task.number,
    left_s: until - now,
    next: then ? spotAt(then) : null,
    next_in_s: then ? then.workFrom_s - now : null,
    known: item.known || (placed[at - 1]?.known ?? false),
    held: item.held,
    behind_s: lastOf(placed).end_s - (planned - floor.from_s),
  };
}

const spotAt = (item: Placement): Spot => ({ part: item.task.part, unit: item.unit });

/** The step under way at a second of the axis; behind the last one the number of steps. */
export function stepAt(sheet: Sheet, person: SheetPerson, second: number): number {
  let low = 0;
  let high = person.start_s.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (endOf(sheet, person, middle) > second) high = middle;
    else low = middle + 1;
  }
  return low;
}

export function endOf(sheet: Sheet, person: SheetPerson, step: number): number {
  return person.start_s[step + 1] ?? sheet.length_s;
}

function spotOf(person: SheetPerson, step: number): Spot | null {
  const part = entryAt(person.part, step);
  return part < 0 ? null : { part, unit: entryAt(person.unit, step) };
}

function setAt(person: SheetPerson, step: number): number {
  for (let back = step; back >= 0 && person.part[back] === person.part[step]; back--) {
    if (person.set[back]) return entryAt(person.set, back);
  }
  return entryAt(person.part, step) >= 0 ? 1 : 0;
}

const same = (one: Spot | null, other: Spot | null) =>
  one === other || (one !== null && other !== null && one.part === other.part && one.unit === other.unit);

function nextSpot(runState: RunState, person: SheetPerson, from: number, here: Spot | null, second: number) {
  for (let step = from; step < person.start_s.length; step++) {
    const spot = spotOf(person, step);
    if (DOINGS[entryAt(person.doing, step)] !== "work" || same(spot, here)) continue;
    return { next: spot, next_in_s: runState.added_s + entryAt(person.start_s, step) - second };
  }
  return { next: null, next_in_s: null };
}

/** The second of the axis at which somebody's next set begins (or, back, the one under way or before), within the block
 * under way; null where there is none. */
export function otherSet(runState: RunState, person: SheetPerson, way: "next" | "back"): number | null {
  const span = entryAt(runState.sheet.blocks, placeIn(runState.sheet, runState.second).block);
  const second = runState.second + aheadOf(runState, person.id);
  const starts = person.sets.map((set) => set.start_s).filter((at) => at >= span.start_s && at < span.end_s);
  if (way === "next") return starts.find((at) => at > second + 0.5) ?? span.end_s;
  return starts.findLast((at) => at < second - 3) ?? null;
}
