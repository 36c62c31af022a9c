import { describe, expect, it } from "vitest";

import type { Forecast, Option, Person, PersonForecast, Room, RotationJob, Unit } from "../src/api/client";
import { stretchesOf, type Standing } from "../src/drawing/floorModel";
import { placed } from "../src/floor/marks";
import { lettersOf, runsOf, stopsOf } from "../src/floor/ways";
import { movedWords, proof, saved, signed, waitWords } from "../src/floor/words";
import { wrapped } from "../src/drawing/wrapped";

function unit(id: string, x_m: number, y_m: number, fields: Partial<Unit> = {}): Unit {
  const plain = { count: 1, people_at_once: 1, turned: 0 as const, settings: [], out_of_order: false };
  return { id, kind: "press", name: `Unit ${id}`, x_m, y_m, ...plain, ...fields };
}
const room: Room = {
  id: "r",
  name: "R",
  width_m: 10,
  depth_m: 8,
  zones: [],
  units: [unit("press", 2, 2), unit("curl", 7, 2), unit("floor", 5, 6, { kind: "none", width_m: 4, count: 6 })],
};
const kinds = new Map([["press", { width_m: 1.5, depth_m: 2 }]]);

function standing(number: number, state: Standing["state"], at: number, fields: Partial<Standing> = {}): Standing {
  const rest = { id: `p${number}`, name: `P ${number}`, slot: 0, from: -1, way: 0, since: 0, until: 10 };
  return { number, state, unit: at, ...rest, ...fields };
}

describe("where people are drawn", () => {
  it("puts who works on the machine, who waits in a row before it", () => {
    const marks = placed(room, kinds, [standing(1, "works", 0), standing(2, "waits", 0), standing(3, "waits", 0)]);
    const [works, first, second] = [1, 2, 3].map((number) => marks.find((mark) => mark.number === number)!);
    expect(Math.abs(works!.y - 2)).toBeLessThan(1);
    expect(first!.y).toBeGreaterThan(3);
    expect(second!.y).toBe(first!.y);
    expect(Math.abs(second!.x - first!.x)).toBeGreaterThan(0.58);
  });

  it("keeps those who rest clear of those who wait", () => {
    const marks = placed(room, kinds, [standing(1, "rests", 0), standing(2, "waits", 0)]);
    const [rests, waits] = [1, 2].map((number) => marks.find((mark) => mark.number === number)!);
    expect(waits!.y - rests!.y).toBeGreaterThan(0.58);
  });

  it("draws a way between two machines, as far as it is done", () => {
    const [half] = placed(room, kinds, [standing(1, "walks", 1, { from: 0, way: 0.5 })]);
    expect(half!.x).toBeCloseTo(4.5);
    const [lost] = placed(room, kinds, [standing(1, "walks", -1, { from: -1 })]);
    expect(lost!.y).toBeCloseTo(6);
  });

  it("stands everybody else on the free floor, inside of the walls", () => {
    const crowd = Array.from({ length: 14 }, (_, index) => standing(index + 1, "works", -1));
    const marks = placed(room, kinds, crowd);
    expect(marks).toHaveLength(14);
    for (const mark of marks) {
      expect(mark.x).toBeGreaterThan(0.3);
      expect(mark.x).toBeLessThan(9.7);
      expect(mark.y).toBeLessThan(7.7);
    }
    const places = new Set(marks.map((mark) => `${mark.x.toFixed(2)} ${mark.y.toFixed(2)}`));
    expect(places.size).toBe(14);
  });
});

const [WORK, CHANGE, REST, WAIT, , BREATHER] = [0, 1, 2, 3, 4, 5];
function walker(steps: [number, number, number, number][]): PersonForecast {
  const column = (at: number) => steps.map((step) => step[at]!);
  const path = { start_s: column(0), doing: column(1), slot: column(2), unit: column(3), lane: [], round: [] };
  return { number: 4, id: "p4", name: "Oskar Tamarack", path } as unknown as PersonForecast;
}
const slot = (id: string, group: number, block = 0, stands_for = -1) => ({ id, group, block, name: id, stands_for });
const forecast = {
  length: { value: 400 },
  slots: [
    slot("press", 0),
    slot("curl", 0),
    slot("thrust", 1),
    slot("bike", -1, 1),
    slot("row", -1, 1),
    slot("wall sit", 0, 0, 0),
  ],
  blocks: [{ kind: "sets" }, { kind: "circuit" }],
} as unknown as Forecast;
const oskar = walker([
  [0, WORK, 0, 0],
  [40, CHANGE, 1, 1],
  [45, WORK, 1, 1],
  [80, REST, 1, 1],
  [120, WAIT, 2, 0],
  [150, WORK, 2, 0],
  [200, BREATHER, -1, -1],
  [240, WORK, 3, 1],
]);

describe("somebody's way", () => {
  it("calls groups by letters and stations by numbers, substitutes not at all", () => {
    expect([...lettersOf(forecast)]).toEqual([
      ["0-0", "A"],
      ["0-1", "B"],
      ["1-bike", "1"],
      ["1-row", "2"],
    ]);
  });

  it("has one stop a group, with what was waited before it", () => {
    const stops = stopsOf(stretchesOf(oskar, forecast), forecast, room, lettersOf(forecast));
    expect(stops.map((stop) => [stop.letter, stop.what, stop.waits])).toEqual([
      ["A", "press + curl", 0],
      ["B", "thrust", 30],
      ["", "breather", 0],
      ["1", "bike", 0],
    ]);
    expect(stops[0]!.where).toBe("Unit press");
  });

  it("runs from the first set of a group to its last", () => {
    const runs = runsOf(stretchesOf(oskar, forecast), forecast);
    expect(runs.map((run) => [run.key, run.start, run.end])).toEqual([
      ["0-0", 0, 80],
      ["0-1", 150, 200],
      ["1-bike", 240, 400],
    ]);
  });
});

describe("the words of the floor", () => {
  const job = { proven: false, gap: 0.088, bound_s: 2284, improved: 1, missing: [] as string[] } as RotationJob;

  it("say what is proven and what is not", () => {
    expect(proof({ ...job, proven: true })).toBe("No order can be shorter: proven.");
    expect(proof(job)).toBe("8.8 % above 38:04, below which no order can be; 1 improvement so far.");
    expect(proof({ ...job, missing: ["leg press"] })).toBe(
      "Nothing can be proven: no leg press works in this room, so nobody waits for one.",
    );
  });

  it("say who is sent elsewhere, by name where it is known", () => {
    const known = [{ id: "p4", name: "Oskar Tamarack" }] as Person[];
    expect(movedWords({ moved: [] as string[] } as Option, known)).toBe("Nobody is sent elsewhere than planned");
    expect(movedWords({ moved: ["p4", "p9"] } as Option, known)).toBe("2 people sent elsewhere: Oskar, p9");
  });

  it("say what something costs or saves", () => {
    expect([signed(0.4), signed(75), signed(-75)]).toEqual(["as long as planned", "1:15 longer", "1:15 shorter"]);
    expect([saved(0.4), saved(75), saved(-75)]).toEqual(["nothing", "1:15 min", "−1:15 min"]);
    expect([waitWords(0.5, undefined), waitWords(90, undefined), waitWords(90, 130), waitWords(90, 0)]).toEqual([
      "",
      "w 1:30",
      "w ~2:10",
      "",
    ]);
  });

  it("break a name into lines that fit a machine", () => {
    expect(wrapped("Lying leg curl", 1.1)).toEqual(["Lying", "leg curl"]);
    expect(wrapped("Leg press", 3)).toEqual(["Leg press"]);
    expect(wrapped("Extraordinary", 0.5)).toEqual(["Extraordinary"]);
  });
});
