/**
 * Where everybody really is in a block at their own pace: as `core/oaken/session/floor.py` tells it from the same presses.
 */
import { entryAt, lastOf } from "../basis/entries";
import { roll } from "./rolling";
import {
  UNSEEN,
  type Pause,
  type Placement,
  type RollingTask,
  type RollingWork,
  type Seen,
  type Standing,
} from "./rollingWork";

const MISSED_SHARE = 0.25;
const CLASS_PRESSES = 3;
const HARD_SHARE = 0.6;
const TOO_SOON_SHARE = 0.8;
const TOO_SOON_MORE_THAN = 0.015;
const LATE_FROM_S = 15;
const LATE_AT_MOST_S = 60;
const NEVER = Infinity;

export type SeenPress = {
  at_s: number;
  how: "done" | "started" | "another" | "skipped" | "stands" | "left" | "came";
  person: string;
  set: string;
  unit: number | null;
  second: number;
};

/** One going through a block at people's own pace. What is in it is never changed, only replaced. */
export type FloorVisit = {
  block: string;
  people: readonly string[];
  from_s: number;
  plans: readonly { from_s: number; work: RollingWork }[];
  absent: ReadonlySet<string>;
  doneBefore: ReadonlySet<string>;
  now_s: number;
  presses: readonly SeenPress[];
  pauses: readonly Pause[];
};

export type FloorState = { now_s: number; placed: readonly (readonly Placement[])[] };

/** When the last set is expected to be over. */
export function endsAt(state: FloorState): number {
  return Math.max(0, ...state.placed.map((own) => own[own.length - 1]?.end_s ?? 0));
}

/** Whether somebody is waited for whose set would be over, had anybody said so. */
export const isHeld = (state: FloorState): boolean => state.placed.some((own) => own.some((item) => item.held));

/** What everybody has done so far, as ids of sets. */
export function overIn(visit: FloorVisit, state: FloorState): Map<string, Set<string>> {
  return new Map(
    visit.people.map((name, person) => [
      name,
      new Set(
        entryAt(state.placed, person)
          .filter((item) => item.end_s <= state.now_s && !item.held && !item.cut)
          .map((item) => item.task.id),
      ),
    ]),
  );
}

/** The same visit with its floor stood still for so long. */
export function paused(visit: FloorVisit, seconds: number): FloorVisit {
  const last = visit.pauses[visit.pauses.length - 1];
  const pauses: Pause[] =
    last && last[0] === visit.now_s
      ? [...visit.pauses.slice(0, -1), [last[0], last[1] + seconds]]
      : [...visit.pauses, [visit.now_s, seconds]];
  return { ...visit, pauses };
}

const everybody = (tasks: readonly RollingTask[]): Standing => ({
  order: tasks.map((_, index) => index),
  seen: new Map(),
  notBefore: new Map(),
  away: [],
  fixed: [],
  standsAt: null,
  prompt: false,
});

const known = new WeakMap<FloorVisit, FloorState>();

/** Where everybody is in a visit, and what they do next. */
export function floorAt(visit: FloorVisit): FloorState {
  const found = known.get(visit);
  if (found) return found;
  const begin = entryAt(visit.plans, 0).work;
  let placed: Placement[][] = visit.people.map(() => []);
  if (visit.from_s > 0) {
    const planned = roll(begin, begin.tasks.map(everybody), 0, []);
    placed = planned.map((own) =>
      own.filter((item) => item.workFrom_s < visit.from_s).map((item) => moved(item, -visit.from_s)),
    );
  }
  const late = lateness(visit);
  visit.plans.forEach(({ from_s, work }, number) => {
    const until = visit.plans[number + 1]?.from_s ?? visit.now_s;
    const people = visit.people.map((_, person) =>
      stand(visit, work, person, entryAt(placed, person), from_s, until, late ?? 0),
    );
    if (late === null) judge(people);
    placed = roll(work, people, until, visit.pauses);
  });
  const state = { now_s: visit.now_s, placed };
  known.set(visit, state);
  return state;
}

function moved(item: Placement, by: number): Placement {
  return {
    ...item,
    leave_s: item.leave_s + by,
    arrive_s: item.arrive_s + by,
    rested_s: item.rested_s + by,
    setUpFrom_s: item.setUpFrom_s + by,
    workFrom_s: item.workFrom_s + by,
    end_s: item.end_s + by,
  };
}

/** What is known of somebody in one of the visit's plans, from what they did in the plan before it. */
function stand(
  visit: FloorVisit,
  work: RollingWork,
  person: number,
  before: readonly Placement[],
  from: number,
  until: number,
  late: number,
): Standing {
  const name = entryAt(visit.people, person);
  const tasks = entryAt(work.tasks, person);
  const indexOf = new Map(tasks.map((task, index) => [task.id, index]));
  const own = new Own(tasks);
  const over = new Set(tasks.filter((task) => visit.doneBefore.has(`${name} ${task.id}`)).map((task) => task.id));
  let underWay: Placement | null = null;
  for (const item of before) {
    if (item.workFrom_s >= from) {
      own.standsAt = item.leave_s <= from ? item.unit : null;
      break;
    }
    if (item.end_s > from || item.held) {
      if (item.unit >= 0 && ![...work.stock.values()].some((units) => units.includes(item.unit))) {
        // the set is broken off, and done again elsewhere
        own.fixed.push({ ...item, end_s: from, held: false, cut: true });
        break;
      }
      const index = indexOf.get(item.task.id);
      if (index !== undefined && entryAt(tasks, index).kind === item.task.kind) {
        underWay = item;
        break;
      }
    }
    own.fixed.push(item);
    if (!item.cut) over.add(item.task.id);
  }
  own.order = tasks.flatMap((task, index) => (over.has(task.id) ? [] : [index]));
  if (underWay) {
    const first = indexOf.get(underWay.task.id) ?? 0;
    own.order = [first, ...own.order.filter((index) => index !== first)];
    own.seen.set(first, {
      ...UNSEEN,
      start_s: underWay.workFrom_s,
      unit: underWay.unit,
      assumed: !underWay.known,
    });
  }
  let awaySince: number | null = visit.absent.has(name) ? 0 : null;
  for (const press of visit.presses) {
    if (press.person !== name || press.at_s > until) continue;
    if (press.how === "left") awaySince ??= press.at_s;
    else if (press.how === "came") {
      if (awaySince !== null) own.away.push([awaySince, press.at_s]);
      const begins = visit.presses.some(
        (other) => other.how === "stands" && other.person === name && other.at_s === press.at_s,
      );
      if (visit.absent.has(name) && awaySince === 0 && !begins) {
        // whoever comes late joins where the others are, unless it is said where they begin
        own.join(press.at_s);
      }
      awaySince = null;
    } else if (press.at_s >= from) {
      const index = indexOf.get(press.set);
      if (press.how === "stands") own.stand(press.at_s, press.second);
      else if (index !== undefined && own.order.includes(index)) {
        const at_s = press.how === "done" ? Math.max(from, press.at_s - late) : press.at_s;
        own.press({ ...press, at_s }, index);
      }
    }
  }
  if (awaySince !== null) own.away.push([awaySince, NEVER]);
  return own.standing();
}

/** By how much those who press in this visit do so late; null where they press as sets end. */
function lateness(visit: FloorVisit): number | null {
  const work = lastOf(visit.plans).work;
  const planned = new Map<string, RollingTask>();
  visit.people.forEach((name, person) => {
    for (const task of entryAt(work.tasks, person)) planned.set(`${name} ${task.id}`, task);
  });
  const places = new Map<number, number>();
  for (const units of work.stock.values()) for (const unit of units) places.set(unit, (places.get(unit) ?? 0) + 1);
  const before = new Map<number, SeenPress>();
  const first = new Map<string, number>();
  const pressed = new Set<string>();
  let close = 0;
  let tooSoon = 0;
  for (const press of visit.presses) {
    const key = `${press.person} ${press.set}`;
    const task = planned.get(key);
    if (press.how !== "done" || !task || pressed.has(key) || press.at_s > visit.now_s) continue;
    pressed.add(key);
    if (!first.has(press.person)) {
      first.set(press.person, press.at_s - (task.start_s + task.work_s - visit.from_s));
    }
    if (press.unit === null || places.get(press.unit) !== 1) continue;
    const last = before.get(press.unit);
    if (last && last.person !== press.person) {
      const apart = press.at_s - last.at_s;
      if (apart < 3 * task.work_s) close++;
      if (apart < TOO_SOON_SHARE * task.work_s) tooSoon++;
    }
    before.set(press.unit, press);
  }
  if (tooSoon <= TOO_SOON_MORE_THAN * close) return null;
  const delays = [...first.values()].sort((a, b) => a - b);
  const middle = entryAt(delays, Math.floor(delays.length / 2));
  return middle >= LATE_FROM_S ? Math.min(LATE_AT_MOST_S, middle) : 0;
}

/** Say of everybody whether whoever presses for them does so promptly: what is not pressed is then not over. */
function judge(people: Standing[]): void {
  const pressed = people.map((person) => [...person.seen.values()].filter((seen) => seen.end_s !== null).length);
  const missed = people.map(
    (person) => [...person.seen.values()].filter((seen) => seen.end_s === null && seen.over).length,
  );
  const sum = (list: number[]) => list.reduce((all, each) => all + each, 0);
  const whole = sum(pressed);
  const leftOut = sum(missed);
  const allDo = whole >= CLASS_PRESSES && leftOut <= MISSED_SHARE * (whole + leftOut);
  people.forEach((person, at) => {
    const done = entryAt(pressed, at);
    const not = entryAt(missed, at);
    person.prompt = done + not === 0 ? allDo : done > 0 && not <= MISSED_SHARE * (done + not) + (allDo ? 1 : 0);
  });
}

/** Somebody's sets in a plan, as presses put them in order: those before `front` are over. */
class Own {
  order: number[] = [];
  seen = new Map<number, Seen>();
  fixed: Placement[] = [];
  away: [number, number][] = [];
  standsAt: number | null = null;
  private notBefore = new Map<number, number>();
  private front = 0;

  constructor(private tasks: readonly RollingTask[]) {}

  private task(index: number): RollingTask {
    return entryAt(this.tasks, index);
  }

  private at(index: number): Seen {
    return this.seen.get(index) ?? UNSEEN;
  }

  /** Take in what was seen of a set. */
  press(press: SeenPress, index: number): void {
    let place = this.order.indexOf(index);
    // what is done is not done again
    if (place < this.front && this.at(index).end_s !== null) return;
    if (press.how === "done" && place < this.front) {
      // it was not over when a later one was: they came back to it
      this.order.splice(place, 1);
      this.front--;
      this.order.splice(this.front, 0, index);
      place = this.front;
      this.seen.delete(index);
    }
    if (place < this.front) this.back(place);
    else if (press.how === "another" || (press.how === "done" && this.takenFirst(place))) this.first(place);
    else {
      for (const earlier of this.order.slice(this.front, place)) {
        this.seen.set(earlier, { ...this.at(earlier), over: true });
      }
      this.front = place;
    }
    if (press.how === "done") {
      const before = this.at(index);
      this.seen.set(index, { ...before, end_s: press.at_s, unit: press.unit ?? before.unit });
      this.front++;
    } else if (press.how === "skipped") {
      this.seen.delete(index);
      this.order.splice(this.front, 1);
      const next = this.order[this.front];
      if (next !== undefined) this.notBefore.set(next, press.at_s);
    } else {
      this.seen.set(index, { ...UNSEEN, start_s: press.at_s, unit: press.unit });
    }
  }

  /** Take in that somebody was put at a second of the plan. */
  stand(at: number, second: number): void {
    const found = this.order.findIndex((index) => this.task(index).start_s + this.task(index).work_s > second);
    let place = found < 0 ? this.order.length : found;
    if (place < this.front) {
      this.back(place);
      place = this.front;
    }
    for (const earlier of this.order.slice(this.front, place)) {
      this.seen.set(earlier, { ...this.at(earlier), over: true });
    }
    this.front = place;
    const index = this.order[place];
    if (index === undefined) return;
    const start = this.task(index).start_s;
    this.seen.delete(index);
    if (second >= start - 0.5) this.seen.set(index, { ...UNSEEN, start_s: at - Math.max(0, second - start) });
    else this.notBefore.set(index, at + (start - second));
  }

  /** Leave out what the plan has had begin by now. */
  join(at: number): void {
    const ahead = this.order.slice(this.front).filter((index) => this.task(index).start_s >= at);
    this.order = [...this.order.slice(0, this.front), ...ahead];
  }

  /** What was only taken to be over from a place of the order on is not over after all. */
  private back(place: number): void {
    const behind = this.order.slice(place, this.front);
    const done = behind.filter((index) => this.at(index).end_s !== null);
    const others = behind.filter((index) => !done.includes(index));
    for (const index of others) this.seen.delete(index);
    this.order = [...this.order.slice(0, place), ...done, ...others, ...this.order.slice(this.front)];
    this.front = place + done.length;
  }

  private takenFirst(place: number): boolean {
    const visit = this.task(entryAt(this.order, place)).visit;
    const between = new Set(this.order.slice(this.front, place).map((index) => this.task(index).visit));
    if (!between.size || between.has(visit)) return false;
    const all = [...this.seen.values()];
    const pressed = all.filter((seen) => seen.end_s !== null).length;
    const missed = all.filter((seen) => seen.over && seen.end_s === null).length;
    if (place - this.front > 1 && pressed > 0 && missed <= MISSED_SHARE * (pressed + missed)) return true;
    const begun = [...this.order.slice(0, this.front), ...this.seen.keys()].map((index) => this.task(index).visit);
    return ![...begun, ...this.fixed.map((item) => item.task.visit)].some((each) => between.has(each));
  }

  private first(place: number): void {
    const ahead = this.order.slice(this.front);
    const index = entryAt(this.order, place);
    const visit = this.task(index).visit;
    const between = new Set(this.order.slice(this.front, place).map((other) => this.task(other).visit));
    let chosen = [index];
    if (between.size && !between.has(visit)) {
      chosen = [index, ...ahead.filter((other) => this.task(other).visit === visit && other !== index)];
    }
    const others = ahead.filter((other) => !chosen.includes(other));
    for (const other of others) this.seen.delete(other);
    this.order = [...this.order.slice(0, this.front), ...chosen, ...others];
  }

  /** What is known of them, with what cannot have been so put right. */
  standing(): Standing {
    let soft = NEVER;
    let hard = NEVER;
    for (let place = this.order.length - 1; place >= 0; place--) {
      const index = entryAt(this.order, place);
      const task = this.task(index);
      let seen = this.seen.get(index);
      if (!seen) continue;
      if (soft < NEVER && seen.end_s === null) seen = { ...seen, over: true };
      // pressed afterwards, all at once
      if (seen.end_s !== null && seen.end_s > hard) seen = { ...seen, end_s: null, over: true };
      if (seen.start_s !== null && seen.start_s > Math.min(hard, seen.end_s ?? NEVER))
        seen = { ...seen, start_s: null };
      if (seen.over && seen.end_s === null && soft < NEVER) seen = { ...seen, latest_s: soft };
      this.seen.set(index, seen);
      let begin: number;
      let least: number;
      if (seen.start_s !== null) begin = least = seen.start_s;
      else if (seen.end_s !== null) {
        begin = seen.end_s - task.work_s;
        least = seen.end_s - HARD_SHARE * task.work_s;
      } else if (seen.latest_s !== null) begin = least = seen.latest_s - task.work_s;
      else continue;
      soft = begin - (place ? this.task(entryAt(this.order, place - 1)).rest_s : 0);
      hard = least;
    }
    return {
      order: this.order,
      seen: this.seen,
      notBefore: this.notBefore,
      away: this.away,
      fixed: this.fixed,
      standsAt: this.standsAt,
      prompt: false,
    };
  }
}
