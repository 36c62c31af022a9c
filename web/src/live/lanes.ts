/** The places of a floor while its sets are given to them, and the gates of visits that keep others out. */
import { entryAt, present } from "../basis/entries";
import type { RollingTask } from "./rollingWork";

const SOONER = 0.6;
const NEVER = Infinity;

/** Which visits are under way, and who stands before a gate that is full. */
export class Gates {
  private slots: Map<string, number[]>;
  private held = new Map<number, (readonly [string, number])[]>();
  private begin = new Map<number, number>();
  private end = new Map<number, number>();
  private waiting: (readonly [number, number])[] = [];
  private passing = new Set<number>();

  constructor(
    private gates: Map<number, string[]>,
    width: Map<string, number>,
    private left: Map<number, number>,
  ) {
    this.slots = new Map([...width].map(([name, wide]) => [name, new Array<number>(wide).fill(0)]));
  }

  opened(visit: number, person: number, turn: number, passed = false): number | null {
    const letIn = this.passing.delete(person);
    const names = this.gates.get(visit);
    if (!names) return 0;
    if (this.held.has(visit)) return this.begin.get(visit) ?? 0;
    const taken: [string, number][] = [];
    let ready = 0;
    for (const name of names) {
      const slots = present(this.slots.get(name), `the gate ${name}`);
      let slot = 0;
      for (let at = 1; at < slots.length; at++) if (entryAt(slots, at) < entryAt(slots, slot)) slot = at;
      if (entryAt(slots, slot) === NEVER) {
        if (!passed && !letIn) {
          this.waiting.push([turn, person]);
          return null;
        }
        slots.push(0);
        slot = slots.length - 1;
      }
      ready = Math.max(ready, entryAt(slots, slot));
      taken.push([name, slot]);
    }
    for (const [name, slot] of taken) present(this.slots.get(name), name)[slot] = NEVER;
    this.held.set(visit, taken);
    this.begin.set(visit, passed ? 0 : ready);
    return passed ? 0 : ready;
  }

  /** Nobody can go on, since one of those who go round as one went ahead: whoever waits longest goes in all the same. */
  letIn(): readonly [number, number] | null {
    const first = this.waiting.reduce<readonly [number, number] | null>(
      (best, item) => (!best || item[0] < best[0] || (item[0] === best[0] && item[1] < best[1]) ? item : best),
      null,
    );
    if (!first) return null;
    this.waiting = this.waiting.filter((item) => item !== first);
    this.passing.add(first[1]);
    return first;
  }

  closed(visit: number, end: number): (readonly [number, number])[] {
    const left = (this.left.get(visit) ?? 0) - 1;
    this.left.set(visit, left);
    this.end.set(visit, Math.max(this.end.get(visit) ?? 0, end));
    const held = this.held.get(visit);
    if (left || !held) return [];
    this.held.delete(visit);
    for (const [name, slot] of held) present(this.slots.get(name), name)[slot] = this.end.get(visit) ?? 0;
    const again = this.waiting;
    this.waiting = [];
    return again;
  }
}

/** One place of a unit. */
export class Lane {
  free_s = 0;
  user = -1;
  load: number | null = null;
  seen: [number, number, number][] = [];
  private taken: [number, number][] = [];

  constructor(
    readonly unit: number,
    private own: readonly [number | null, number | null],
  ) {}

  preparing(person: number, task: RollingTask): [number, number] {
    const setUp = this.user === person ? 0 : (this.own[0] ?? task.set_up_s);
    if (!task.load_change_s || (this.load === task.load && this.user !== -1)) return [setUp, 0];
    return [setUp, this.own[1] ?? task.load_change_s];
  }

  take(person: number, since: number, until: number, leaves: number | null): void {
    if (until > this.free_s) this.free_s = until;
    this.user = person;
    this.load = leaves;
    this.taken.push([since, until]);
  }

  /** When somebody else was seen to begin here after a moment. */
  nextSeen(person: number, since: number): number {
    return Math.min(
      ...this.seen.flatMap(([begin, , other]) => (other !== person && begin > since ? [begin] : [])),
      NEVER,
    );
  }

  /** The last part of a stretch in which nobody else was on it; empty at its end where there is none. */
  fits(begin: number, end: number): [number, number] {
    for (const [since, until] of this.taken) {
      if (since < end && until > begin) {
        if (until < end) begin = until;
        else end = Math.max(begin, since);
      }
    }
    return [begin, end];
  }

  /** When a set that nobody saw can begin here, and by when it was over at the latest. */
  between(person: number, start: number, needs: number, work: number): [number, number] {
    for (const [since, until, other] of this.seen) {
      if (until <= start || other === person) continue;
      if (since >= start + needs + work) break;
      if (since >= start + needs + SOONER * work) return [start, since];
      start = until;
    }
    return [start, NEVER];
  }
}
