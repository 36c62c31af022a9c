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
import { endsAt, floorAt, isHeld, overIn, paused, type FloorVisit, type SeenPress } from "./floor";
import { tagged, turnsOfTeam } from "./relays";
import { workOf } from "./rollingWork";

export type Standing =
  | "not begun"
  | "runs"
  | "paused"
  | "time added"
  /** people at their own pace need longer than their block was planned to last */
  | "runs over"
  | "waits for ready"
  | "plan is over"
  | "ended";

/** The last moment of a block is so long before its end: there the clock stands while a block runs over. */
const LAST_S = 0.001;
const LOOKS_AFTER_S = 15;
const LOOKS_WITHIN_S = 60;
const ENDS_WITHIN_S = 0.5;

type Ahead = {
  person: string;
  block: string;
  ahead_s: number;
  from_s: number;
  until_s: number | null;
  /** the second of the axis that they do not pass; null: nothing keeps them */
  stays_at: number | null;
};

/** A sheet that was left for another one: when, where everybody stood on its axis then, and, where people were
 * followed, in which block and what they had done of it. */
type Past = {
  sheet: Sheet;
  until: number;
  second: Map<string, number>;
  floor: { block: number; over: Map<string, Set<string>> } | null;
};

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
  /** in blocks at their own pace the class goes by its plan's clock, or from where people really are */
  follows: "plan" | "people";
  /** the visit to such a block that is under way, where people are followed */
  floor: FloorVisit | null;
  over_s: number;
  /** what has been logged as done, by person, part and number */
  done: ReadonlySet<string>;
  /** units that are lost by events of which no sheet has come yet, or none ever will */
  lostUnlaid: ReadonlySet<string>;
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
    follows: began?.kind === "began" ? (began.follows ?? "plan") : "plan",
    floor: null,
    over_s: 0,
    done: new Set(),
    lostUnlaid: new Set(),
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
      if (runState.floor && runState.state !== "ended") {
        runState.floor = paused(runState.floor, to - runState.now_s);
      }
      runState.now_s = to;
    } else if (runState.added_s > 0) {
      const until = Math.min(to, runState.now_s + runState.added_s);
      runState.added_s = until < to ? 0 : Math.max(0, runState.added_s - (until - runState.now_s));
      goOn(runState, until);
    } else if (runState.over_s > 0) {
      const until = Math.min(to, runState.now_s + runState.over_s);
      runState.over_s = until < to ? 0 : Math.max(0, runState.over_s - (until - runState.now_s));
      goOn(runState, until);
    } else {
      const length = runState.sheet.length_s;
      const goal = runState.stopsAt === null ? length : Math.min(runState.stopsAt, length);
      const edge = edgeOf(runState);
      const until = Math.min(to, runState.now_s + (Math.min(goal, edge) - runState.second));
      if (until > runState.now_s) {
        runState.second = until < to ? Math.min(goal, edge) : runState.second + (until - runState.now_s);
        goOn(runState, until);
      }
      if (runState.second >= edge && edge <= goal) atEdge(runState);
      else if (runState.second >= goal) {
        runState.state = goal >= length ? "plan is over" : "waits for ready";
        runState.stopsAt = null;
      }
    }
  }
}

/** Let time pass in which people go on. */
function goOn(runState: RunState, until: number): void {
  if (runState.floor) {
    runState.floor = { ...runState.floor, now_s: runState.floor.now_s + (until - runState.now_s) };
  }
  runState.now_s = until;
}

const spanOf = (runState: RunState) => entryAt(runState.sheet.blocks, placeIn(runState.sheet, runState.second).block);

/** The next second of the axis at which a block at people's own pace begins or, in one, ends. */
function edgeOf(runState: RunState): number {
  if (runState.follows === "plan") return Infinity;
  if (runState.floor) return spanOf(runState).end_s - LAST_S;
  const next = runState.sheet.blocks.find(
    (block) => block.own_pace && block.end_s - block.start_s > LAST_S && block.start_s >= runState.second,
  );
  return next?.start_s ?? Infinity;
}

/** Begin to follow people in the block that begins; leave the one that ends if everybody is done, else go on. */
function atEdge(runState: RunState): void {
  if (!runState.floor) {
    enter(runState);
    return;
  }
  const stands = floorAt(runState.floor);
  const left = endsAt(stands) - runState.floor.now_s;
  const held = isHeld(stands);
  if (left > ENDS_WITHIN_S || held) {
    runState.over_s = Math.min(LOOKS_WITHIN_S, Math.max(left, held ? LOOKS_AFTER_S : 0));
    return;
  }
  runState.floor = null;
  runState.second = spanOf(runState).end_s;
}

/** Follow people from where the class stands, if that is in a block at their own pace. */
function enter(runState: RunState): void {
  runState.floor = null;
  runState.over_s = 0;
  if (runState.follows === "plan" || !runState.sheet.blocks.length) return;
  const span = spanOf(runState);
  if (!span.floor || runState.second >= span.end_s - LAST_S) return;
  runState.floor = {
    block: span.id,
    people: runState.sheet.people.map((person) => person.id),
    from_s: runState.second - span.start_s,
    plans: [{ from_s: 0, work: workIn(runState, span.floor) }],
    absent: new Set(runState.away.filter((item) => item.until_s === null).map((item) => item.person)),
    doneBefore: runState.done,
    now_s: 0,
    presses: [],
    pauses: [],
  };
}

function workIn(runState: RunState, floor: NonNullable<Sheet["blocks"][number]["floor"]>) {
  const { sheet, lostUnlaid } = runState;
  const lost = new Set(sheet.units.flatMap((unit, at) => (lostUnlaid.has(unit.id) ? [at] : [])));
  return workOf(
    floor,
    sheet.parts.map((part) => part.id),
    lost,
  );
}

/** Go on following people by the plan that stands now. */
function followOn(runState: RunState): void {
  const span = spanOf(runState);
  if (!runState.floor || !span.floor || span.id !== runState.floor.block) {
    enter(runState);
    return;
  }
  runState.over_s = 0;
  runState.second = Math.min(runState.second, span.end_s - LAST_S);
  const plan = { from_s: runState.floor.now_s, work: workIn(runState, span.floor) };
  runState.floor = { ...runState.floor, plans: [...runState.floor.plans, plan] };
}

/** Take in something that was seen of somebody, where people are followed. */
function see(runState: RunState, press: Pick<SeenPress, "how" | "person"> & Partial<SeenPress>): void {
  const { floor } = runState;
  if (!floor || runState.state === "ended" || !floor.people.includes(press.person)) return;
  const seen: SeenPress = { set: "", unit: null, second: 0, ...press, at_s: floor.now_s };
  runState.floor = { ...floor, presses: [...floor.presses, seen] };
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
      enter(runState);
      if (runState.state === "plan is over" || runState.state === "waits for ready") runState.state = "runs";
      return;
    }
    case "set_done":
    case "set_started":
    case "took_another":
    case "set_skipped": {
      const set = `${event.part} ${event.number}`;
      const unit = runState.sheet.units.findIndex((item) => item.id === event.unit);
      see(runState, { how: HOW[event.kind], person: event.person, set, unit: unit < 0 ? null : unit });
      if (event.kind === "set_done") runState.done = new Set(runState.done).add(`${event.person} ${set}`);
      return;
    }
    case "moved_on": {
      if (runState.floor) {
        if (event.block === runState.floor.block && begun) {
          see(runState, { how: "stands", person: event.person, second: event.second });
        }
        return;
      }
      const goal = begun ? secondOf(runState.sheet, event.block, event.second) : null;
      const here = entryAt(runState.sheet.blocks, placeIn(runState.sheet, runState.second).block);
      if (goal === null || here.id !== event.block) return;
      if (!runState.sheet.people.some((person) => person.id === event.person)) return;
      together(runState, at, event.person);
      runState.ahead = [
        ...runState.ahead,
        {
          person: event.person,
          block: event.block,
          ahead_s: goal - runState.second,
          from_s: at,
          until_s: null,
          stays_at: null,
        },
      ];
      return;
    }
    case "tagged":
      if (begun) tag(runState, event, at);
      return;
    case "ended":
      if (begun) runState.state = "ended";
      return;
    case "came":
    case "left":
    case "stopped_for":
      see(runState, { how: event.kind === "came" ? "came" : "left", person: event.person });
      presence(runState, event, at);
      return;
    case "changed":
    case "unit_lost":
    case "unit_back":
      if (runState.state !== "ended") change(runState, sheets, event);
      return;
  }
}

/** A team's next turn begins, and goes on until it is tagged. */
function tag(runState: RunState, event: Extract<RunEvent, { kind: "tagged" }>, at: number): void {
  const { sheet } = runState;
  const block = spanOf(runState);
  const person = sheet.people.findIndex((item) => item.id === event.person);
  const team = block.teams.find((own) => own.includes(person));
  if (block.id !== event.block || !team) return;
  const last = runState.ahead
    .filter((item) => item.person === event.person && item.block === block.id && item.stays_at !== null)
    .map((item) => item.from_s);
  const second = runState.second + aheadOf(runState, event.person);
  const turns = turnsOfTeam(sheet, block, team);
  const place = tagged(block, turns, second, last.length ? at - Math.max(...last) : null);
  if (!place) return;
  for (const member of team) {
    const id = entryAt(sheet.people, member).id;
    together(runState, at, id);
    const stays_at = place.until_s === null ? null : place.until_s - LAST_S;
    const ahead_s = place.second - runState.second;
    const own = { person: id, block: block.id, ahead_s, from_s: at, until_s: null, stays_at };
    runState.ahead = [...runState.ahead, own];
  }
}

const HOW = {
  set_done: "done",
  set_started: "started",
  took_another: "another",
  set_skipped: "skipped",
} as const;

/** From now on somebody, or everybody, stands where the class stands. */
function together(runState: RunState, at: number, person?: string): void {
  runState.ahead = runState.ahead.map((item) =>
    item.until_s === null && (person === undefined || item.person === person) ? { ...item, until_s: at } : item,
  );
}

type Changing = Extract<RunEvent, { kind: "changed" | "unit_lost" | "unit_back" }>;

function change(runState: RunState, sheets: readonly Sheet[], event: Changing): void {
  const after = [...runState.sheet.after, event.id];
  const next = sheets.find(
    (sheet) => sheet.after.length === after.length && after.every((item, place) => sheet.after[place] === item),
  );
  if (!next) {
    if (event.kind === "changed") runState.unlaid++;
    else withoutSheet(runState, event);
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
  const { floor } = runState;
  runState.past = [
    ...runState.past,
    {
      sheet: runState.sheet,
      until: moment(event),
      second: new Map(stood),
      floor: floor && { block, over: overIn(floor, floorAt(floor)) },
    },
  ];
  runState.sheet = next;
  runState.second = second;
  runState.stopsAt = null;
  if (runState.beganAt !== null && runState.state !== "not begun") followOn(runState);
  if (runState.state === "plan is over" && second < next.length_s) runState.state = "runs";
}

/** A unit is lost, or back, of which no sheet tells: what is left is dispatched without it, or with it again. What is
 * lost already changes nothing. */
function withoutSheet(runState: RunState, event: Exclude<Changing, { kind: "changed" }>): void {
  const lost = new Set(runState.lostUnlaid);
  const known = runState.sheet.units.find((unit) => unit.id === event.unit);
  const gone = !known || known.lost || lost.has(event.unit);
  if (gone === (event.kind === "unit_lost")) return;
  runState.unlaid++;
  if (event.kind === "unit_lost") lost.add(event.unit);
  else lost.delete(event.unit);
  runState.lostUnlaid = lost;
  if (runState.floor) followOn(runState);
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
  const own = runState.ahead.find((item) => item.person === person && item.block === block && item.until_s === null);
  if (!own) return 0;
  return own.stays_at === null ? own.ahead_s : Math.min(own.ahead_s, own.stays_at - runState.second);
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

/** What the clock shows where the runState stands. Where people are followed, what is under way is over when the last of
 * them is expected to be done, and nothing is called before. */
export function faceOf(runState: RunState): Face {
  const { sheet, second, floor, added_s } = runState;
  const { block, since } = placeIn(sheet, second);
  if (runState.state === "plan is over" || runState.state === "ended") {
    return { block, inBlock_s: since, left_s: 0, ends_in_s: 0, calls: [] };
  }
  const calls = (first: number, until: number, cues: Cue[]) =>
    cues.slice(0, NEXT_CALLS).map((cue) => ({ in_s: until + cue.second - first, cue }));
  if (!floor) {
    const mark = sheet.marks.find((mark) => mark > second) ?? sheet.length_s;
    return {
      block,
      inBlock_s: since,
      left_s: added_s + mark - second,
      ends_in_s: added_s + sheet.length_s - second,
      calls: calls(
        second,
        added_s,
        sheet.cues.filter((cue) => cue.second > second),
      ),
    };
  }
  const end = entryAt(sheet.blocks, block).end_s;
  const left = Math.max(0, endsAt(floorAt(floor)) - floor.now_s);
  // the class does not go on by itself before the block's planned end
  const until = Math.max(left, added_s + end - second);
  return {
    block,
    inBlock_s: since,
    left_s: left,
    ends_in_s: left + sheet.length_s - end,
    calls: calls(
      end,
      until,
      sheet.cues.filter((cue) => cue.second >= end),
    ),
  };
}
