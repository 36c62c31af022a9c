import { describe, expect, it } from "vitest";

import type { Forecast, PersonForecast, Plan } from "../src/api/client";
import { secondAt, ticks, x } from "../src/drawing/axis";
import { BREATHER, DOING, listed, stavesOf, stepAt } from "../src/drawing/steps";
import { clock, counted, figure, range } from "../src/shared/format";

describe("the time axis", () => {
  const axis = { from: 60, to: 660, width: 300 };
  it("turns seconds into pixels and back", () => {
    expect(x(axis, 60)).toBe(0);
    expect(x(axis, 660)).toBe(300);
    for (const second of [60, 61, 333, 660]) expect(secondAt(axis, x(axis, second))).toBeCloseTo(second);
  });
  it("labels whole minutes when there is room, and never too densely", () => {
    expect(ticks({ from: 0, to: 2700, width: 700 }).map((tick) => tick.label)).toEqual([
      "0", "5", "10", "15", "20", "25", "30", "35", "40", "45",
    ]); // prettier-ignore
    expect(ticks({ from: 0, to: 60, width: 700 }).map((tick) => tick.label)).toEqual([
      "0",
      "0:15",
      "0:30",
      "0:45",
      "1",
    ]);
    for (const width of [100, 300, 900]) {
      const placed = ticks({ from: 0, to: 3600, width }).map((tick) => x({ from: 0, to: 3600, width }, tick.at));
      for (let index = 1; index < placed.length; index += 1) {
        expect(placed[index]! - placed[index - 1]!).toBeGreaterThanOrEqual(46);
      }
    }
  });
});

type Step = [number, number, number];
function person(number: number, steps: Step[]): PersonForecast {
  const path = {
    start_s: steps.map(([start]) => start),
    doing: steps.map(([, doing]) => doing),
    slot: steps.map(([, , slot]) => slot),
    lane: steps.map(() => 0),
    unit: steps.map(() => 0),
    round: steps.map(() => 0),
  };
  return { id: `p${number}`, number, name: `P${number}`, path } as unknown as PersonForecast;
}
function slot(block: number, id: string, equipment: string) {
  return {
    block,
    group: -1,
    id,
    exercise: id,
    name: id,
    equipment,
    equipment_name: equipment,
    stands_for: -1,
    places: 1,
  };
}
const forecast = {
  blocks: [
    { id: "warm-up", kind: "together" },
    { id: "circuit", kind: "circuit" },
    { id: "sets", kind: "sets" },
  ],
  length: { value: 200, low: 200, high: 200, unit: "s" },
  slots: [slot(0, "march", "none"), slot(1, "press", "leg-press"), slot(1, "curl", "curl"), slot(2, "narrow", "leg-press")],
  people: [
    person(1, [[0, DOING.work, 0], [60, DOING.change, 1], [70, DOING.work, 1], [100, DOING.breather, -1], [130, DOING.work, 3]]),
    person(2, [[0, DOING.work, 0], [60, DOING.wait, 1], [100, DOING.work, 1], [130, DOING.rest, -1]]),
    person(3, [[0, DOING.work, 0], [60, DOING.wait, 1], [90, DOING.work, 2], [130, DOING.rest, -1]]),
  ],
} as unknown as Forecast; // prettier-ignore
const plan = {
  blocks: [
    { kind: "together", slots: [{ id: "march", exercise: "march" }] },
    { kind: "circuit", stations: [{ id: "press", exercise: "press" }, { id: "curl", exercise: "curl" }] },
    { kind: "sets", groups: [{ slots: [{ id: "narrow", exercise: "narrow" }] }] },
  ],
} as unknown as Plan; // prettier-ignore

describe("the staves", () => {
  it("draws another block's work on the stave of the machine it is done on", () => {
    const press = stavesOf(forecast, "circuit").get("press")!;
    expect(press.tokens.map((token) => [token.person, token.start, token.end])).toEqual([
      [1, 70, 100],
      [2, 100, 130],
      [1, 130, 200],
    ]);
    expect(press.tokens[0]!.setUpFrom).toBe(60);
    expect(press.lanes).toBe(1);
  });
  it("shows what all do together once, on a stave of its own unless its block is selected", () => {
    const floor = stavesOf(forecast, "circuit").get("all-together")!;
    expect(floor.label).toBe("All together");
    expect(stavesOf(forecast, "warm-up").get("march")!.choruses).toEqual(floor.choruses);
    expect(floor.choruses).toEqual([{ start: 0, end: 60, label: "all 3: march" }]);
    expect(floor.tokens).toEqual([]);
  });
  it("leaves out what is not in view, and gives lanes only to what is", () => {
    const early = stavesOf(forecast, "circuit", { from: 0, to: 50 });
    expect(early.get("press")!.tokens).toEqual([]);
    expect(early.has(BREATHER)).toBe(false);
    const late = stavesOf(forecast, "circuit", { from: 140, to: 200 });
    expect(late.has("all-together")).toBe(false);
    expect(late.get("press")!.tokens.map((token) => token.person)).toEqual([1]);
  });
  it("counts who waits, from when to when", () => {
    const press = stavesOf(forecast, "circuit").get("press")!;
    expect(press.queues).toEqual([
      { start: 60, end: 90, people: [2, 3] },
      { start: 90, end: 100, people: [2] },
    ]);
  });
  it("keeps people at one place at one time in lanes of their own", () => {
    const crowd = {
      ...forecast,
      people: [person(1, [[0, DOING.work, 1]]), person(2, [[0, DOING.work, 1]]), person(3, [[0, DOING.work, 1]])],
    } as Forecast;
    const press = stavesOf(crowd, "circuit").get("press")!;
    expect(press.lanes).toBe(3);
    expect(new Set(press.tokens.map((token) => token.lane)).size).toBe(3);
  });
  it("shows a turn without a station as a breather", () => {
    const breather = stavesOf(forecast, "circuit").get(BREATHER)!;
    expect(breather.tokens.map((token) => [token.person, token.start, token.end])).toEqual([[1, 100, 130]]);
  });
  it("lists the slots of every kind of block in their order", () => {
    expect(listed(plan.blocks[1]!).map((item) => item.id)).toEqual(["press", "curl"]);
    expect(listed(plan.blocks[2]!)).toEqual([{ id: "narrow", exercise: "narrow", group: 0, index: 0 }]);
  });
  it("finds the step of a person at any second", () => {
    const one = forecast.people[0]!;
    expect([0, 59.9, 60, 69, 70, 150, 999].map((second) => stepAt(one, second))).toEqual([0, 0, 1, 1, 2, 4, 4]);
  });
});

describe("figures in words", () => {
  const estimate = (value: number, low: number, high: number, unit: string) =>
    ({ value, low, high, unit, method: "m", inputs: [], note: "", aside: "", partly: "" }) as const;
  it("shows no more digits than a figure deserves", () => {
    expect([figure(0.7134, 2), figure(58.4), figure(251.06), figure(3013), figure(11049)]).toEqual([
      "0.71", "58", "250", "3,010", "11,000",
    ]); // prettier-ignore
  });
  it("shows a range only where there is one", () => {
    expect(range({ ...estimate(250, 201, 299, "kcal"), inputs: [] })).toBe("200–300");
    expect(range({ ...estimate(60, 60, 60, "%"), inputs: [] })).toBe("");
    expect(range({ ...estimate(2285, 2200, 2400, "s"), inputs: [] })).toBe("36:40–40:00");
    expect(range({ ...estimate(2285, 2285, 2285, "s"), inputs: [] })).toBe("");
  });
  it("writes times and counts as people say them", () => {
    expect([clock(0), clock(59.6), clock(1335), clock(3661)]).toEqual(["0:00", "1:00", "22:15", "61:01"]);
    expect([counted(1, "person", "people"), counted(12, "person", "people"), counted(2, "round")]).toEqual([
      "1 person", "12 people", "2 rounds",
    ]); // prettier-ignore
  });
});
