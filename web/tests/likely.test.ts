import { describe, expect, test } from "vitest";

import { dropped, likelyCounts, likelySeconds, likelySets, type Done } from "../src/run/likely";
import { partsAsPlanned, partsOf } from "../src/live/setParts";
import { doneWords } from "../src/live/log";
import { typedSet } from "../src/book/typed";

const DONE: Done = {
  person: "anna",
  part: "p",
  number: 1,
  exercise: "leg-press",
  load_kg: 60,
  reps: 10,
  parts: [],
  to_failure: false,
  helped: false,
  note: "",
};
const kg = (value: number) => `${value} kg`;

describe("what a set likely was", () => {
  test("a count is one press away, near the plan or far below it", () => {
    expect(likelyCounts(10)).toEqual([0, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13]);
    expect(likelyCounts(40)).toContain(15);
    expect(likelyCounts(40)).toContain(39);
    expect(likelyCounts(40).length).toBeLessThan(17);
    expect(likelyCounts(1)).toEqual([0, 1, 2, 3, 4]);
    expect(likelySeconds(40)).toEqual([5, 10, 15, 20, 25, 30, 35, 40, 45, 50]);
  });

  test("a press says in words what it writes", () => {
    const made = likelySets(DONE, [35, 40, 45, 50, 60], kg);
    const told = Object.fromEntries(made.map(({ words, done }) => [words, doneWords(done, kg)]));
    expect(told).toEqual({
      "to failure": "60 kg × 10, to failure",
      "last one helped": "60 kg × 10, 1 helped",
      "last 2 helped": "60 kg × 10, 2 helped",
      "drop: 10 + 8 with 50 kg": "60 kg × 10 + 50 kg × 8",
      "rest-pause: 10 + 3 after 15 s": "60 kg × 10 + 3, after 15 s, to failure",
      "cluster: 5 + 5 after 15 s": "60 kg × 5 + 5, after 15 s",
    });
  });

  test("a drop goes to a load that can be set, and needs a load", () => {
    expect(dropped(60, [10, 20, 45, 50, 60])).toBe(50);
    expect(dropped(60, [60, 70])).toBeNull();
    expect(dropped(60, [])).toBe(47.5);
    expect(dropped(null, [10])).toBeNull();
    expect(likelySets({ ...DONE, load_kg: null }, [], kg).some(({ words }) => words.startsWith("drop"))).toBe(false);
  });

  test("parts are as they were planned, and counts of older devices are parts", () => {
    expect(partsAsPlanned([10], [60])).toEqual([]);
    expect(partsAsPlanned([10, 8, 6], [60, 45, 45]).map((part) => part.load_kg)).toEqual([undefined, 45, undefined]);
    expect(partsOf({ parts: [5, { to_failure: false, helped: false, reps: 4 }] }).map((part) => part.reps)).toEqual([
      5, 4,
    ]);
  });
});

describe("a set that is typed in", () => {
  const typed = (load: string, reps: string) => typedSet(load, reps, 1, "kg");

  test("is one load and count, or one of each part", () => {
    expect(typed("72,5", "8")).toEqual({ done: { load_kg: 72.5, reps: 8 } });
    expect(typed("", "8")).toEqual({ done: { reps: 8 } });
    const plain = { to_failure: false, helped: false };
    expect(typed("60+45", "10+8")).toEqual({
      done: {
        load_kg: 60,
        parts: [
          { ...plain, reps: 10 },
          { ...plain, reps: 8, load_kg: 45 },
        ],
      },
    });
    expect(typed("60", "5+5+4")).toEqual({
      done: { load_kg: 60, parts: [5, 5, 4].map((reps) => ({ ...plain, reps })) },
    });
    expect(typed("60+45", "")).toEqual({ done: { load_kg: 60, parts: [plain, { ...plain, load_kg: 45 }] } });
  });

  test.each([
    ["heavy", "8", "heavy is no load: 0 to 900 kg"],
    ["60", "8.5", "8.5 are no repetitions: a whole number from 0 to 1000"],
    ["60+45+30", "10+8", "3 loads and 2 counts: as many of each, or one load"],
    ["", Array.from({ length: 21 }, () => "1").join("+"), "21 parts are too many: at most 20"],
  ])("says what is wrong with %s × %s", (load, reps, fault) => {
    expect(typed(load, reps)).toEqual({ fault });
  });
});
