import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";

import type { RunEvent, Sheet } from "../src/api/runs";
import { courseAt, replayEvents, faceOf } from "../src/live/runState";
import { DOINGS, peopleNow, type Spot } from "../src/live/places";

type Told = {
  state: string;
  now_s: number;
  second: number;
  block: number;
  left_s: number;
  ends_in_s: number;
  calls: [number, string, string][];
  people: {
    id: string;
    away: boolean;
    doing: number;
    here: [string, string | null] | null;
    left_s: number;
    next: [string, string | null] | null;
    next_in_s: number | null;
  }[];
};
type Golden = {
  class: string;
  sheets: Sheet[];
  cases: { what: string; events: RunEvent[]; at: { moment: number; gives: Told }[] }[];
}[];

const golden = JSON.parse(readFileSync("../tests/golden/runs.json", "utf-8")) as Golden;
const BEGAN = Date.UTC(2026, 10, 24, 18, 30);

describe.each(golden)("a run of $class", ({ sheets, cases }) => {
  it.each(cases.flatMap((eachCase) => eachCase.at.map((at) => ({ ...eachCase, ...at }))))(
    "$what, at $moment s",
    ({ events, moment, gives }) => {
      const now = BEGAN + moment * 1000;
      const runState = courseAt(replayEvents(sheets, events, now), now);
      const face = faceOf(runState);
      const spot = (at: Spot | null) =>
        at && [runState.sheet.parts[at.part]!.id, at.unit < 0 ? null : runState.sheet.units[at.unit]!.id];
      const shown = {
        state: runState.state,
        now_s: runState.now_s,
        second: runState.second,
        block: face.block,
        left_s: face.left_s,
        ends_in_s: face.ends_in_s,
        calls: face.calls.map(({ in_s, cue }) => [in_s, cue.call, cue.words]),
        people: peopleNow(runState).map((item) => ({
          id: item.person.id,
          away: item.away,
          doing: DOINGS.indexOf(item.doing),
          here: spot(item.here),
          left_s: item.left_s,
          next: spot(item.next),
          next_in_s: item.next_in_s,
        })),
      };
      close(shown, gives);
    },
  );
});

/** Equal, and numbers to two milliseconds: sheets carry whole milliseconds. */
function close(shown: unknown, wanted: unknown, where = ""): void {
  if (typeof wanted === "number" && typeof shown === "number") {
    expect(Math.abs(shown - wanted), `${where}: ${shown} for ${wanted}`).toBeLessThan(0.002);
  } else if (Array.isArray(wanted) && Array.isArray(shown)) {
    expect(shown.length, where).toBe(wanted.length);
    wanted.forEach((item, place) => close(shown[place], item, `${where}[${place}]`));
  } else if (wanted && typeof wanted === "object" && shown && typeof shown === "object") {
    expect(Object.keys(shown).sort(), where).toEqual(Object.keys(wanted).sort());
    for (const [name, one] of Object.entries(wanted))
      close((shown as Record<string, unknown>)[name], one, `${where}.${name}`);
  } else expect(shown, where).toEqual(wanted);
}
