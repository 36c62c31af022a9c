/**
 * The clock of a run, folded from its events: the same as `core/oaken/session/clock.py`, so that a device goes on without
 * the server. Golden cases (`tests/golden/runs.json`) hold both to the same answers.
 *
 * The class has one position, a second of the sheet's axis. It moves while the class runs, stands in a pause, while time
 * is added and while everybody waits for ready, and jumps where somebody skips on or back. Where the plan changes, the
 * sheet after that change takes over at the same second of the same block.
 */
import type { RunEvent, Sheet } from "../api/runs";
import { entryAt } from "../basis/entries";

export type Standing = "not begun" | "runs" | "paused" | "time added" | "waits for ready" | "plan is over" | "ended";
type Ahead = { person: string; block: string; ahead_s: number; from_s: number; until_s: number | null };

/** A sheet that was left for another one: when, and where everybody stood on its axis then. */
type Past = { sheet: Sheet; until: number; second: Map<string, number> };

/** How a class stands at a moment; seconds are since it began, `second` is a second of the sheet's axis. */
export type RunState = {
  sheet: Sheet;
  /** events that changed the plan, of which this device has no sheet yet */
  unlaid: number;
  beganAt: number | null;
  now_s: number;
  second: number;
  state: Standing;
  added_s: number;
  stopsAt: number | null;
  away: { person: string; from_s: number; until_s: number | null }[];
  ahead: Ahead[];
  past: Past[];
};

/** Two hands that press the same on two devices within so long mean it once; the second is of older devices. */
const TOGETHER_MS = 2000;
const PRESSED_AT_ONCE_MS = 1500;

export const moment = (event: RunEvent): number => Date.parse(event.happened_at);

function before(one: RunEvent, other: RunEvent): number {
  return moment(one) - moment(other) || (one.id < other.id ? -1 : one.id > other.id ? 1 : 0);
}

/** The events that count, in the order in which they happened: each once, none that was withdrawn. */
export function standing(events: readonly RunEvent[]): RunEvent[] {
  const found = new Map<string, RunEvent>();
  for (const event of events) {
    const known = found.get(event.id);
    // what the server has is what counts
    if (!known || (!known.received_at && event.received_at)) found.set(event.id, event);
  }
  const ordered = [...found.values()].sort(before);
  const earlier = new Map(ordered.map((event, place) => [event.id, place]));
  const gone = new Set<string>();
  for (let place = ordered.length - 1; place >= 0; place--) {
    const event = entryAt(ordered, place);
    if (event.kind !== "withdrawn" || gone.has(event.id)) continue;
    if ((earlier.get(event.event) ?? Infinity) < place) gone.add(event.event);
  }
  // what a second hand pressed is gone with what the first one pressed, also where that was taken back
  return pressedOnce(ordered.filter((event) => event.kind !== "withdrawn")).filter((event) => !gone.has(event.id));
}

type Press = Extract<RunEvent, { saw?: unknown }>;
export const PRESSES = new Set<RunEvent["kind"]>(["paused", "resumed", "time_added", "went_on", "waits_for_ready"]);
export type Saw = NonNullable<Press["saw"]>;
const isPress = (event: RunEvent): event is Press => PRESSES.has(event.kind);

/** What a press is about: presses about the same thing may be meant once. */
function intentOf(event: Press): string {
  if (event.kind === "paused" || event.kind === "resumed") return "stop or go on";
  if (event.kind === "went_on") return event.way ? `went ${event.way}` : `to ${event.block} ${event.second ?? 0}`;
  return event.kind === "time_added" ? `${event.seconds} more` : event.kind;
}

/** Without what a second hand pressed on another device at the same moment: its button had changed under it. */
function pressedOnce(events: RunEvent[]): RunEvent[] {
  const last = new Map<string, Press>();
  return events.filter((event) => {
    if (!isPress(event)) return true;
    const intent = intentOf(event);
    const before = last.get(intent);
    if (before && before.device !== event.device) {
      const apart = moment(event) - moment(before);
      if (event.saw ? apart < TOGETHER_MS : event.kind === "time_added" && apart < PRESSED_AT_ONCE_MS) return false;
    }
    last.set(intent, event);
    return true;
  });
}

/** The block under way at a second of a sheet, and the seconds since it began; between two blocks the earlier. */
export function placeIn(sheet: Sheet, second: number): { block: number; since: number } {
  let block = 0;
  while (block + 1 < sheet.blocks.length && entryAt(sheet.blocks, block + 1).start_s <= second) block++;
  return { block, since: second - entryAt(sheet.blocks, block).start_s };
}

function secondOf(sheet: Sheet, block: string, since: number): number | null {
  const found = sheet.blocks.find((eachBlock) => eachBlock.id === block);
  return found ? Math.min(found.start_s + since, found.end_s) : null;
}

/** Everything up to the last event, or up to a moment. `sheets` are those the server has laid; the first is the plan's
 * own. */
export function replayEvents(sheets: readonly Sheet[], events: readonly RunEvent[], until = Infinity): RunState {
  const counting = standing(events).filter((event) => moment(event) <= until);
  const began = counting.find((event) => event.kind === "began");
  const runState: RunState = {
    sheet: entryAt(sheets, 0),
    unlaid: 0,
    beganAt: began ? moment(began) : null,
    now_s: 0,
    second: 0,
    state: "not begun",
    added_s: 0,
    stopsAt: null,
    away: cameLate(counting),
    ahead: [],
    past: [],
  };
  for (const event of counting) {
    const at = began ? Math.max(0, (moment(event) - moment(began)) / 1000) : 0;
    if (began && moment(event) >= moment(began)) advance(runState, at);
    if (event === began) runState.state = "runs";
    else take(runState, sheets, event, at);
  }
  return runState;
}

/** The runState at a moment at or behind its last event; the given one stays as it is. */
export function courseAt(runState: RunState, now: number): RunState {
  if (runState.beganAt === null) return runState;
  const at = { ...runState };
  advance(at, Math.max(0, (now - runState.beganAt) / 1000));
  return at;
}

function advance(runState: RunState, to: number): void {
  while (runState.now_s < to) {
    if (["paused", "waits for ready", "plan is over", "ended"].includes(runState.state)) {
      runState.now_s = to;
    } else if (runState.added_s > 0) {
      const until = Math.min(to, runState.now_s + runState.added_s);
      runState.added_s = until < to ? 0 : Math.max(0, runState.added_s - (until - runState.now_s));
      runState.now_s = until;
    } else {
      const length = runState.sheet.length_s;
      const goal = runState.stopsAt === null ? length : Math.min(runState.stopsAt, length);
      const until = Math.min(to, runState.now_s + (goal - runState.second));
      if (until > runState.now_s) {
        runState.second = until < to ? goal : runState.second + (until - runState.now_s);
        runState.now_s = until;
      }
      if (runState.second >= goal) {
        runState.state = goal >= length ? "plan is over" : "waits for ready";
        runState.stopsAt = null;
      }
    }
  }
}

function take(runState: RunState, sheets: readonly Sheet[], event: RunEvent, at: number): void {
  const begun = runState.state !== "not begun" && runState.state !== "ended";
  switch (event.kind) {
    case "paused":
      if (begun && runState.state !== "plan is over") runState.state = "paused";
      return;
    case "resumed":
      if (runState.state === "paused" || runState.state === "waits for ready") runState.state = "runs";
      return;
    case "time_added":
      if (!begun) return;
      runState.added_s += event.seconds;
      if (runState.state === "plan is over") runState.state = "runs";
      return;
    case "waits_for_ready":
      if (runState.state === "runs")
        runState.stopsAt = runState.sheet.marks.find((mark) => mark > runState.second) ?? null;
      return;
    case "went_on": {
      const second = begun ? secondOf(runState.sheet, event.block, event.second ?? 0) : null;
      if (second === null) return;
      runState.second = second;
      runState.added_s = 0;
      runState.stopsAt = null;
      together(runState, at);
      if (runState.state === "plan is over" || runState.state === "waits for ready") runState.state = "runs";
      return;
    }
    case "moved_on": {
      const goal = begun ? secondOf(runState.sheet, event.block, event.second) : null;
      const here = entryAt(runState.sheet.blocks, placeIn(runState.sheet, runState.second).block);
      if (goal === null || here.id !== event.block) return;
      if (!runState.sheet.people.some((person) => person.id === event.person)) return;
      together(runState, at, event.person);
      runState.ahead = [
        ...runState.ahead,
        { person: event.person, block: event.block, ahead_s: goal - runState.second, from_s: at, until_s: null },
      ];
      return;
    }
    case "ended":
      if (begun) runState.state = "ended";
      return;
    case "came":
    case "left":
    case "stopped_for":
      presence(runState, event, at);
      return;
    case "changed":
    case "unit_lost":
    case "unit_back":
      if (runState.state !== "ended") change(runState, sheets, event);
      return;
  }
}

/** From now on somebody, or everybody, stands where the class stands. */
function together(runState: RunState, at: number, person?: string): void {
  runState.ahead = runState.ahead.map((item) =>
    item.until_s === null && (person === undefined || item.person === person) ? { ...item, until_s: at } : item,
  );
}

function change(runState: RunState, sheets: readonly Sheet[], event: RunEvent): void {
  const after = [...runState.sheet.after, event.id];
  const next = sheets.find(
    (sheet) => sheet.after.length === after.length && after.every((item, place) => sheet.after[place] === item),
  );
  if (!next) {
    runState.unlaid++;
    return;
  }
  const { block, since } = placeIn(runState.sheet, runState.second);
  const goals: [string, number][] = [
    [entryAt(runState.sheet.blocks, block).id, since],
    ...runState.sheet.blocks.slice(block + 1).map((block): [string, number] => [block.id, 0]),
  ];
  const second = goals.map(([name, from]) => secondOf(next, name, from)).find((item) => item !== null) ?? next.length_s;
  const stood = runState.sheet.people.map((person): [string, number] => [
    person.id,
    runState.second + aheadOf(runState, person.id),
  ]);
  runState.past = [...runState.past, { sheet: runState.sheet, until: moment(event), second: new Map(stood) }];
  runState.sheet = next;
  runState.second = second;
  runState.stopsAt = null;
  if (runState.state === "plan is over" && second < next.length_s) runState.state = "runs";
}

/** Whoever is said to have come was not there before, unless they had left. */
function cameLate(events: readonly RunEvent[]): RunState["away"] {
  const seen = new Set<string>();
  const away: RunState["away"] = [];
  for (const event of events) {
    if (event.kind !== "came" && event.kind !== "left" && event.kind !== "stopped_for") continue;
    if (!seen.has(event.person) && event.kind === "came") away.push({ person: event.person, from_s: 0, until_s: null });
    seen.add(event.person);
  }
  return away;
}

function presence(runState: RunState, event: Extract<RunEvent, { kind: "came" | "left" | "stopped_for" }>, at: number) {
  const open = runState.away.findIndex((item) => item.person === event.person && item.until_s === null);
  if (event.kind === "came") {
    if (open >= 0)
      runState.away = runState.away.map((item, place) => (place === open ? { ...item, until_s: at } : item));
  } else if (open < 0) {
    runState.away = [...runState.away, { person: event.person, from_s: at, until_s: null }];
  }
}

/** How far somebody stands before the class now, in seconds; behind it: less than 0. */
export function aheadOf(runState: RunState, person: string): number {
  if (!runState.ahead.length) return 0;
  const block = entryAt(runState.sheet.blocks, placeIn(runState.sheet, runState.second).block).id;
  return (
    runState.ahead.find((item) => item.person === person && item.block === block && item.until_s === null)?.ahead_s ?? 0
  );
}

export const isAway = (runState: RunState, person: string): boolean =>
  runState.away.some((item) => item.person === person && item.until_s === null);

export type Cue = Sheet["cues"][number];
/** What the clock shows: how long what is under way still takes, when the class is over, and what is called next. */
export type Face = {
  block: number;
  inBlock_s: number;
  left_s: number;
  ends_in_s: number;
  calls: { in_s: number; cue: Cue }[];
};

const NEXT_CALLS = 8;

/** What the clock shows where the runState stands. */
export function faceOf(runState: RunState): Face {
  const { sheet, second } = runState;
  const { block, since } = placeIn(sheet, second);
  const over = runState.state === "plan is over" || runState.state === "ended";
  const mark = sheet.marks.find((mark) => mark > second) ?? sheet.length_s;
  const wait = runState.added_s;
  return {
    block,
    inBlock_s: since,
    left_s: over ? 0 : wait + mark - second,
    ends_in_s: over ? 0 : wait + sheet.length_s - second,
    calls: over
      ? []
      : sheet.cues
          .filter((cue) => cue.second > second)
          .slice(0, NEXT_CALLS)
          .map((cue) => ({ in_s: wait + cue.second - second, cue })),
  };
}
