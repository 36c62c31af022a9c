import { describe, expect, test } from "vitest";

import type { RunEvent } from "../src/api/runs";
import type { LogRow } from "../src/live/log";
import { asked, decidedLoad, decidedOtherwise, decidedSteps } from "../src/run/decided";

const LOADS = [50, 55, 60, 65, 70];

function answer(number: number, so: boolean, then = "add a plate", when = "twelve easy"): RunEvent {
  const about = { person: "ada", part: "p", number, when, then, so };
  return { kind: "decided", id: `${when}${number}${so}`, happened_at: "2026-03-02T18:00:00Z", ...about } as RunEvent;
}

const SHEET = { units: [{ loads_kg: LOADS }] };
const row = (number: number, kg = 60, written = "not written") =>
  ({
    sheet: SHEET,
    person: { id: "ada" },
    part: { id: "p" },
    set: { unit: 0, kg: [kg] },
    number,
    written,
  }) as unknown as LogRow;

describe("what is decided on the floor", () => {
  test("a plate more is a step of the machine, and other words are none", () => {
    expect(
      ["add a plate", "drop two steps", "Add 3 plates", "leg press instead", "add 5 kg"].map(decidedSteps),
    ).toEqual([1, -2, 3, 0, 0]);
  });

  test("sets from the one it was asked before on take the load that it makes", () => {
    const events = [answer(2, true)];
    expect([1, 2, 3].map((number) => decidedLoad(events, row(number)))).toEqual([60, 65, 65]);
    expect(decidedLoad([answer(2, false)], row(3))).toBe(60);
    expect(decidedLoad([answer(1, true, "drop two steps")], row(1))).toBe(50);
    expect(decidedLoad([answer(1, true)], row(1, 70))).toBe(70);
  });

  test("what was decided is not ticked as planned", () => {
    const rows = [row(1), row(2), row(3, 60, "done"), row(4)];
    expect(decidedOtherwise([answer(2, true)], rows).map((one) => one.number)).toEqual([2, 4]);
    expect(decidedOtherwise([], rows)).toEqual([]);
  });

  test("the last answer to a question counts, of that person and part alone", () => {
    const events = [answer(1, true), answer(2, false)];
    expect(asked(events, "ada", "p", "twelve easy")?.so).toBe(false);
    expect(decidedLoad(events, row(3))).toBe(60);
    expect(asked(events, "bo", "p", "twelve easy")).toBeUndefined();
    expect(asked(events, "ada", "p", "legs shaky")).toBeUndefined();
  });
});
