import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";

import type { RunEvent, Sheet } from "../src/api/runs";
import { replayEvents, standing } from "../src/live/runState";
import { doneWords, logOf, step } from "../src/live/log";
import { offsetOf } from "../src/live/serverClock";
import { countdown, loadWords, marked } from "../src/live/words";

type Logged = { person: string; part: string; exercise: string; number: number; written: string; done: string[] };
const golden = JSON.parse(readFileSync("../tests/golden/runs.json", "utf-8")) as {
  class: string;
  sheets: Sheet[];
  logs: { events: RunEvent[]; gives: Logged[] }[];
}[];

describe.each(golden)("the log of $class", ({ sheets, logs }) => {
  it.each(logs)("is the core's, case $#", ({ events, gives }) => {
    const rows = [...logOf(replayEvents(sheets, events), standing(events)).values()].flat();
    const told = rows.map((row) => ({
      person: row.person.id,
      part: row.part?.id ?? row.done[0]!.part,
      exercise: row.exercise,
      number: row.number,
      written: row.written,
      done: row.done.map((item) => item.id),
    }));
    const order = (one: Logged, other: Logged) =>
      one.person.localeCompare(other.person) || one.part.localeCompare(other.part) || one.number - other.number;
    expect(told.toSorted(order)).toEqual(gives.toSorted(order));
  });
});

describe("the clock that is set by the server's", () => {
  it("takes the sample with the shortest way, and is wrong by half of that at most", () => {
    const truth = 5_000;
    const sample = (sent: number, there: number, back: number) => ({
      sent,
      server: sent + there + truth,
      received: sent + there + back,
    });
    const offset = offsetOf([sample(0, 40, 300), sample(1000, 7, 3), sample(2000, 100, 20)]);
    expect(offset.error_ms).toBe(5);
    expect(Math.abs(offset.ms - truth)).toBeLessThanOrEqual(offset.error_ms);
  });
});

describe("words of a run", () => {
  it("counts down so that the last second is one", () => {
    expect([90.2, 60, 59.99, 3, 0.4, 0, -1].map(countdown)).toEqual(["1:31", "1:00", "1:00", "3", "1", "0", "0"]);
  });
  it("steps loads as the unit does, and by 2.5 kg where it has no steps", () => {
    const loads = [5, 10, 12.5, 20];
    expect([step(loads, 10, 1), step(loads, 10, -1), step(loads, 20, 1), step(loads, 11, 1)]).toEqual([
      12.5, 5, 20, 12.5,
    ]);
    expect([step([], 10, 1), step([], 1, -1)]).toEqual([12.5, 0]);
  });
  it("writes loads in the unit that stands on the machine", () => {
    expect(marked(45.359237, "lb")).toBe("100 lb");
    expect(marked(22.5, "kg")).toBe("22.5 kg");
    expect(loadWords({ kg: [50], set_as: "bar 25 kg, a side: 10 + 2.5" }, "kg")).toBe("50 kg (a side: 10 + 2.5)");
    expect(loadWords({ kg: [], set_as: "" }, "kg")).toBe("");
  });
  it("says what was done of a set", () => {
    const one = {
      side: "left",
      load_kg: 40,
      parts: [6, 4],
      to_failure: true,
      helped: false,
      form: "poor",
      reps_left: 0,
    };
    expect(doneWords(one as never, (kg) => `${kg} kg`)).toBe(
      "left, 40 kg × 6 + 4, to failure, none in reserve, form poor",
    );
  });
});
