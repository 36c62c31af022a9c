/**
 * The rest of a block dispatched again from where everybody really is: the same, to the last digit, as
 * `core/oaken/schedule/rotation/rolling.py`, so that a device goes on without the server. Golden cases
 * (`tests/golden/runs.json`) hold both to the same answers.
 */
import { entryAt, present } from "../basis/entries";
import { Gates, Lane } from "./lanes";
import type { Pause, Placement, RollingTask, RollingWork, Seen, Standing } from "./rollingWork";

const HELD_AT_MOST_S = 90;
const HELD_ON_S = 5;
const HOLDS_MISSED = 2;
const FASTEST_PACE = 0.8;
const SLOWEST_PACE = 1.3;
const CLEAN_WAIT_S = 2;
const OWN_WEIGHT = 4;
const CLASS_WEIGHT = 10;
const NEVER = Infinity;

type Chosen = {
  lane: Lane | null;
  arrive_s: number;
  start_s: number;
  setUp_s: number;
  change_s: number;
  until_s: number;
};

/** Everybody's sets, done and to come, as they stand at `now` seconds of floor time. */
export function roll(
  work: RollingWork,
  people: readonly Standing[],
  now: number,
  pauses: readonly Pause[],
): Placement[][] {
  return new Rolling(work, people, now, pauses).run();
}

class Rolling {
  private lanes: Map<string, Lane[]>;
  private placed: Placement[][];
  private at: number[];
  private turns: (number | null)[];
  private missed: number[];
  /** when everybody left their last place, when they have rested, and where they are */
  private left: [number, number, number][];
  private ownPace: [number, number][];
  private classPace: [number, number] = [CLASS_WEIGHT, CLASS_WEIGHT];
  private gates: Gates | null;

  constructor(
    private work: RollingWork,
    private people: readonly Standing[],
    private now: number,
    private pauses: readonly Pause[],
  ) {
    this.lanes = new Map(
      [...work.stock].map(([kind, units]) => [
        kind,
        units.map((unit) => new Lane(unit, work.ownTimes.get(unit) ?? [null, null])),
      ]),
    );
    this.placed = people.map(() => []);
    this.at = people.map(() => 0);
    this.turns = people.map(() => null);
    this.missed = people.map(() => 0);
    this.left = people.map(() => [0, 0, -1]);
    this.ownPace = people.map(() => [OWN_WEIGHT, OWN_WEIGHT]);
    this.gates = work.gates.size ? this.makeGates() : null;
    this.reserve();
    this.stand();
  }

  run(): Placement[][] {
    for (let person = 0; person < this.people.length; person++) this.queue(person);
    for (;;) {
      let turn = 0;
      let person = -1;
      this.turns.forEach((own, number) => {
        if (own !== null && (person < 0 || own < turn)) {
          turn = own;
          person = number;
        }
      });
      if (person < 0) {
        const letIn = this.gates?.letIn();
        if (!letIn) return this.placed;
        [turn, person] = letIn;
      }
      this.turns[person] = null;
      this.serve(person, turn);
    }
  }

  private own(person: number): Standing {
    return entryAt(this.people, person);
  }

  private task(person: number, index: number): RollingTask {
    return entryAt(entryAt(this.work.tasks, person), index);
  }

  private done(person: number): Placement[] {
    return entryAt(this.placed, person);
  }

  private next(person: number): number | undefined {
    return this.own(person).order[entryAt(this.at, person)];
  }

  private makeGates(): Gates {
    const left = new Map<number, number>();
    const count = (visit: number) => left.set(visit, (left.get(visit) ?? 0) + 1);
    this.people.forEach((person, number) => {
      for (const index of person.order) count(this.task(number, index).visit);
      for (const placement of person.fixed) count(placement.task.visit);
    });
    return new Gates(this.work.gates, this.work.width, left);
  }

  /** Note on every unit when somebody was seen on it. */
  private reserve(): void {
    this.people.forEach((person, number) => {
      for (const [index, seen] of person.seen) {
        const task = this.task(number, index);
        if (seen.end_s === null && seen.start_s === null) continue;
        const mine = (this.lanes.get(task.kind) ?? []).filter((lane) => seen.unit === null || lane.unit === seen.unit);
        const lane = mine[0];
        if (mine.length !== 1 || !lane) continue;
        const end = seen.end_s ?? Math.max(this.now, (seen.start_s ?? 0) + task.work_s);
        lane.seen.push([seen.start_s ?? end - task.work_s, end, number]);
      }
    });
    for (const lanes of this.lanes.values()) {
      for (const lane of lanes) lane.seen.sort((a, b) => a[0] - b[0] || a[1] - b[1] || a[2] - b[2]);
    }
  }

  /** Put everybody where an earlier plan left them. */
  private stand(): void {
    const fixed = this.people.flatMap((person, number) => person.fixed.map((placement) => ({ number, placement })));
    fixed.sort((a, b) => a.placement.workFrom_s - b.placement.workFrom_s || a.number - b.number);
    for (const { number, placement } of fixed) {
      this.done(number).push(placement);
      let lane: Lane | null = null;
      for (const lanes of this.lanes.values()) {
        for (const each of lanes) {
          if (each.unit === placement.unit && (!lane || each.free_s < lane.free_s)) lane = each;
        }
      }
      if (placement.unit >= 0 && lane) {
        lane.take(number, placement.setUpFrom_s, placement.end_s, placement.task.leaves);
      }
      if (this.gates) {
        this.gates.opened(placement.task.visit, number, placement.workFrom_s, true);
        this.gates.closed(placement.task.visit, placement.end_s);
      }
    }
  }

  private paceOf(person: number): number {
    const [planned, real] = entryAt(this.ownPace, person);
    const ofClass = this.classPace[1] / this.classPace[0];
    const found = (real - OWN_WEIGHT + OWN_WEIGHT * ofClass) / planned;
    return Math.min(SLOWEST_PACE, Math.max(FASTEST_PACE, found));
  }

  /** When somebody has had their rest: what they stood through in a pause was rest too. */
  private restedAt(leave: number, rest: number): number {
    for (const [at, length] of this.pauses) {
      if (leave <= at && at < leave + rest) rest = Math.max(at - leave, rest - length);
    }
    return leave + rest;
  }

  private since(person: number): [number, number, number] {
    const own = this.own(person);
    const done = this.done(person);
    const last = done[done.length - 1];
    if (!last) {
      let release = this.work.release_s[person] ?? 0;
      const first = own.order[0];
      // whoever was seen did not wait until they were to begin
      if (first !== undefined && own.seen.has(first)) release = 0;
      return [release, release, own.standsAt ?? -1];
    }
    let rest = last.task.rest_s;
    if (!(last.end_s < this.now && this.seenNext(person))) rest *= this.paceOf(person);
    const at = own.standsAt !== null && done.length === own.fixed.length ? own.standsAt : last.unit;
    return [last.end_s, this.restedAt(last.end_s, rest), at];
  }

  private seenNext(person: number): boolean {
    const index = this.next(person);
    return index !== undefined && this.own(person).seen.has(index);
  }

  /** Note when it is somebody's turn again. */
  private queue(person: number): void {
    const own = this.own(person);
    let index = this.next(person);
    while (index !== undefined && this.work.gone.has(this.task(person, index).kind) && !own.seen.has(index)) {
      this.at[person] = entryAt(this.at, person) + 1;
      index = this.next(person);
    }
    if (index === undefined) return;
    const task = this.task(person, index);
    const seen = own.seen.get(index);
    this.left[person] = this.since(person);
    const [, ready] = entryAt(this.left, person);
    const turn = task.turn_s + (Math.max(ready, own.notBefore.get(index) ?? 0) - task.ready_s);
    if (seen && seen.start_s !== null) this.turns[person] = Math.min(turn, seen.start_s);
    else if (seen && seen.end_s !== null) this.turns[person] = Math.min(turn, seen.end_s - task.work_s);
    else this.turns[person] = turn;
  }

  /** Place somebody's next set, and those that stay on its unit. */
  private serve(person: number, turn: number): void {
    const own = this.own(person);
    let held = 0;
    if (this.gates) {
      const index = present(this.next(person), "a next set");
      const opened = this.gates.opened(this.task(person, index).visit, person, turn, own.seen.has(index));
      if (opened === null) return;
      held = opened;
    }
    let kept: Lane | null = null;
    for (;;) {
      const index = present(this.next(person), "a next set");
      const task = this.task(person, index);
      const seen = own.seen.get(index);
      const [leave, since, at] = entryAt(this.left, person);
      let ready = since;
      const earliest = own.notBefore.get(index) ?? 0;
      if (earliest > ready) ready = earliest;
      for (const [since, until] of own.away) if (since <= ready && ready < until) ready = until;
      const rested = ready;
      if (held > ready) ready = held;
      if (ready === NEVER) {
        this.leaves(person);
        return;
      }
      const pace = this.paceOf(person);
      let chosen: Chosen;
      if (kept) {
        const [setUp, change]: [number, number] = kept.preparing(person, task);
        chosen = { lane: kept, arrive_s: leave, start_s: ready, setUp_s: setUp, change_s: change, until_s: NEVER };
      } else {
        chosen = this.choose(person, task, seen, leave, ready, at, pace);
      }
      let placement = this.place(person, task, seen, chosen, leave, Math.max(chosen.arrive_s, rested), pace);
      for (const [since, until] of own.away) {
        if (placement.setUpFrom_s < since && since < placement.end_s && placement.end_s > this.now) {
          placement = {
            ...placement,
            end_s: since,
            workFrom_s: Math.min(since, placement.workFrom_s),
            held: false,
            cut: true,
          };
        } else if (since <= placement.setUpFrom_s && placement.setUpFrom_s < until && until === NEVER) {
          this.leaves(person);
          return;
        }
      }
      chosen.lane?.take(person, placement.setUpFrom_s, placement.end_s, task.leaves);
      this.done(person).push(placement);
      this.at[person] = entryAt(this.at, person) + 1;
      if (this.gates) {
        for (const [again, other] of this.gates.closed(task.visit, placement.end_s)) this.turns[other] = again;
      }
      if (!task.keeps || !chosen.lane || this.next(person) === undefined) break;
      kept = chosen.lane;
      this.left[person] = this.since(person);
    }
    this.queue(person);
  }

  private leaves(person: number): void {
    const order = this.own(person).order;
    for (const index of order.slice(entryAt(this.at, person))) {
      if (!this.gates) break;
      const again = this.gates.closed(this.task(person, index).visit, this.now);
      for (const [turn, other] of again) this.turns[other] = turn;
    }
    this.at[person] = order.length;
  }

  /** The place on which work can begin first, or the one on which it was seen. */
  private choose(
    person: number,
    task: RollingTask,
    seen: Seen | undefined,
    leave: number,
    ready: number,
    at: number,
    pace: number,
  ): Chosen {
    let lanes = this.lanes.get(task.kind) ?? [];
    if (seen && seen.unit !== null) {
      const mine = lanes.filter((lane) => lane.unit === seen.unit);
      if (mine.length) lanes = mine;
    }
    if (!lanes.length) {
      const done = this.done(person);
      const settled = done[done.length - 1]?.task.kind === task.kind;
      const setUp = settled ? 0 : task.set_up_s;
      return { lane: null, arrive_s: leave, start_s: ready, setUp_s: setUp, change_s: 0, until_s: NEVER };
    }
    let best: Chosen | null = null;
    for (const lane of lanes) {
      const arrive = leave + this.work.walk(at, lane.unit);
      let start = Math.max(ready, arrive, lane.free_s);
      const [setUp, change] = lane.preparing(person, task);
      let until = NEVER;
      if (!seen || (seen.end_s === null && seen.start_s === null)) {
        [start, until] = lane.between(person, start, setUp + change, task.work_s * pace);
      }
      const begin = start + (setUp + change);
      const known: number = best ? best.start_s + (best.setUp_s + best.change_s) : NEVER;
      if (!best || begin < known || (begin === known && start < best.start_s)) {
        best = { lane, arrive_s: arrive, start_s: start, setUp_s: setUp, change_s: change, until_s: until };
      }
    }
    return present(best, "a place");
  }

  /** A set at the place that was chosen, as far as it was seen. */
  private place(
    person: number,
    task: RollingTask,
    seen: Seen | undefined,
    chosen: Chosen,
    leave: number,
    rested: number,
    pace: number,
  ): Placement {
    let begin = chosen.start_s + chosen.setUp_s + chosen.change_s;
    let end = begin + task.work_s * pace;
    let held = false;
    const unit = chosen.lane ? chosen.lane.unit : -1;
    const prompt = this.own(person).prompt;
    if (!seen) {
      if (chosen.until_s < end) end = chosen.until_s;
      else if (this.waitsFor(person, end, prompt)) {
        end = this.now + HELD_ON_S;
        held = true;
      }
      return {
        task,
        leave_s: leave,
        arrive_s: chosen.arrive_s,
        rested_s: rested,
        setUpFrom_s: chosen.start_s,
        loadChange_s: chosen.change_s,
        workFrom_s: begin,
        end_s: end,
        unit,
        known: false,
        held,
        cut: false,
      };
    }
    if (seen.start_s !== null) {
      begin = Math.max(leave, seen.start_s);
      end = begin + task.work_s * pace;
      if (seen.end_s !== null) end = Math.max(begin, seen.end_s);
      else if (seen.over) end = Math.max(begin, Math.min(end, seen.latest_s ?? this.now));
      else if (this.waitsFor(person, end, prompt)) {
        end = this.now + HELD_ON_S;
        held = true;
      }
      const after = chosen.lane ? chosen.lane.nextSeen(person, begin) : NEVER;
      if (seen.end_s === null && after < end) {
        // somebody else is seen on the unit since
        end = after;
        held = false;
      }
    } else if (seen.end_s !== null) {
      end = Math.max(leave, seen.end_s);
      const planned = rested - leave + (begin - chosen.start_s) + task.work_s;
      this.learn(person, chosen.start_s - rested, planned, end - leave);
      begin = Math.max(leave, end - task.work_s * pace);
    } else {
      const latest = seen.latest_s === null ? this.now : Math.min(this.now, seen.latest_s);
      end = Math.max(leave, Math.min(end, latest));
      begin = Math.max(leave, Math.min(begin, end - task.work_s * pace));
    }
    let setUpFrom = Math.max(leave, Math.min(chosen.start_s, begin));
    if (chosen.lane) {
      const expected = end;
      [begin, end] = chosen.lane.fits(begin, end);
      held &&= end === expected;
      setUpFrom = chosen.lane.fits(Math.max(leave, Math.min(chosen.start_s, begin)), begin)[0];
    }
    this.missed[person] = 0;
    return {
      task,
      leave_s: leave,
      arrive_s: Math.min(chosen.arrive_s, setUpFrom),
      rested_s: Math.min(rested, setUpFrom),
      setUpFrom_s: setUpFrom,
      loadChange_s: Math.min(chosen.change_s, begin - setUpFrom),
      workFrom_s: begin,
      end_s: end,
      unit,
      known: seen.end_s !== null || (seen.start_s !== null && !seen.over && !seen.assumed),
      held,
      cut: false,
    };
  }

  /** Whether a set that would be over is waited for, because nobody said so. */
  private waitsFor(person: number, end: number, prompt: boolean): boolean {
    if (!prompt || end >= this.now) return false;
    const missed = entryAt(this.missed, person);
    if (this.now <= end + HELD_AT_MOST_S) return missed < HOLDS_MISSED;
    this.missed[person] = missed + 1;
    return false;
  }

  /** Take a stretch from one seen end to the next into the pace of its person and of the class. */
  private learn(person: number, waited: number, planned: number, real: number): void {
    const done = this.done(person);
    if (!done[done.length - 1]?.known || waited > CLEAN_WAIT_S || planned <= 0) return;
    const ratio = Math.min(2, Math.max(0.5, real / planned));
    const own = entryAt(this.ownPace, person);
    this.ownPace[person] = [own[0] + 1, own[1] + ratio];
    this.classPace = [this.classPace[0] + 1, this.classPace[1] + ratio];
  }
}
