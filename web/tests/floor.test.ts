import { describe, expect, it } from "vitest";

import type { EquipmentKind, Forecast, PersonForecast, Room, Unit } from "../src/api/client";
import { isWalk, standingOf, stretchesOf } from "../src/drawing/floorModel";
import { machineStaves } from "../src/floor/machineRows";
import { massesAsText, massesFromText, numbersFromText, steps } from "../src/room/hardware";
import {
  addUnit,
  canonical,
  moveUnit,
  overlap,
  removeUnit,
  standingFaults,
  turnUnit,
  walkSeconds,
} from "../src/room/roomEdits";

const [WORK, CHANGE, REST, WAIT] = [0, 1, 2, 3];

function person(number: number, steps: [number, number, number, number][]): PersonForecast {
  return {
    number,
    id: `p${number}`,
    name: `Person ${number}`,
    path: {
      start_s: steps.map((step) => step[0]),
      doing: steps.map((step) => step[1]),
      slot: steps.map((step) => step[2]),
      unit: steps.map((step) => step[3]),
      lane: steps.map(() => 0),
      round: steps.map(() => 0),
    },
  } as unknown as PersonForecast;
}

// press 0–40, walk to the curl 40–46, wait to 60, set up to 68, curl to 100, rest
const ines = person(1, [
  [0, WORK, 0, 0],
  [40, CHANGE, 1, 1],
  [46, WAIT, 1, 1],
  [60, CHANGE, 1, 1],
  [68, WORK, 1, 1],
  [100, REST, 1, 1],
]);
const forecast = {
  length: { value: 120 },
  people: [ines],
  slots: [
    { block: 0, group: 0, id: "a", name: "Leg press", stands_for: -1 },
    { block: 0, group: 1, id: "b", name: "Leg curl", stands_for: -1 },
  ],
  blocks: [{ id: "x", kind: "sets", start_s: 0, end_s: 120 }],
} as unknown as Forecast;

function unit(id: string, x_m: number, y_m: number, fields: Partial<Unit> = {}): Unit {
  const plain = { count: 1, people_at_once: 1, turned: 0 as const, settings: [], out_of_order: false };
  return { id, kind: "press", name: id, x_m, y_m, ...plain, ...fields };
}
const room: Room = {
  id: "r",
  name: "R",
  width_m: 8,
  depth_m: 6,
  zones: [],
  units: [unit("press", 2, 2), unit("curl", 5, 2)],
};
const kind = { id: "press", name: "Press", width_m: 1.5, depth_m: 2, holds: "plates", step_kg: 5 } as EquipmentKind;
const kinds = new Map([["press", kind]]);

describe("where somebody is", () => {
  it("tells the way to a unit from setting it up", () => {
    expect([isWalk(ines, 1), isWalk(ines, 3)]).toEqual([true, false]);
    const way = standingOf(ines, forecast, 43);
    expect([way.state, way.from, way.unit, way.way]).toEqual(["walks", 0, 1, 0.5]);
    expect(standingOf(ines, forecast, 50).state).toBe("waits");
    expect(standingOf(ines, forecast, 62).state).toBe("sets up");
    expect(standingOf(ines, forecast, 110)).toMatchObject({ state: "rests", unit: 1 });
  });

  it("makes visits, ways and waits of the steps", () => {
    const found = stretchesOf(ines, forecast).map((item) => [item.kind, item.start, item.end]);
    expect(found).toEqual([
      ["visit", 0, 40],
      ["walk", 40, 46],
      ["wait", 46, 60],
      ["visit", 60, 100],
      ["rest", 100, 120],
    ]);
  });

  it("gives each machine its turns, its waits and its share", () => {
    const rows = machineStaves(forecast, room, 0, 120);
    expect(rows.map((row) => row.unit.id)).toEqual(["press", "curl"]);
    expect(rows[1]!.stave.queues).toEqual([{ start: 46, end: 60, people: [1] }]);
    expect(rows[1]!.usedShare).toBeCloseTo(40 / 120);
    expect(machineStaves(forecast, room, 70, 90).map((row) => row.unit.id)).toEqual(["curl"]);
  });
});

describe("a room is edited", () => {
  it("moves to the grid and stops at the walls", () => {
    const moved = moveUnit("press", 2.347, -3)(room).units[0]!;
    expect([moved.x_m, moved.y_m]).toEqual([2.3, 0]);
    expect(turnUnit("press")(room).units[0]!.turned).toBe(90);
    expect(removeUnit("press")(room).units.map((unit) => unit.id)).toEqual(["curl"]);
  });

  it("puts a new machine where it stands free, with an id of its own and loads to begin with", () => {
    const [more, id] = addUnit(kind, kinds)(room);
    const made = more.units.find((unit) => unit.id === id)!;
    expect(more.units.filter((unit) => overlap(made, unit, kinds))).toEqual([]);
    expect(made.hardware?.holds).toBe("plates");
    const [again, second] = addUnit(kind, kinds)(more);
    expect(second).not.toBe(id);
    expect(again.units).toHaveLength(4);
  });

  it("is the same room however it is written", () => {
    const written = { ...room, units: room.units.map((unit) => ({ width_m: null, ...unit, hardware: null })) };
    expect(canonical(written)).toBe(canonical(room));
    expect(canonical(turnUnit("press")(room))).not.toBe(canonical(room));
  });

  it("says what stands in something else or in a wall", () => {
    const tight = moveUnit("curl", 3, 2)(room);
    expect(standingFaults(tight, kinds).map((standingFault) => standingFault.words)).toEqual(["press stands in curl"]);
    const wall = moveUnit("curl", 7.9, 2)(room);
    expect(standingFaults(wall, kinds)[0]!.words).toContain("through a wall");
    expect(standingFaults(room, kinds)).toEqual([]);
    expect(walkSeconds(room.units[0]!, room.units[1]!)).toBeCloseTo(2.5);
  });

  it("reads masses as they are written, and says what is wrong", () => {
    const read = massesFromText("20 x 3, 2.5x2");
    expect(read).toEqual([
      { kg: 20, count: 3 },
      { kg: 2.5, count: 2 },
    ]);
    expect(massesAsText(read as { kg: number; count: number }[])).toBe("20 x 3, 2.5 x 2");
    expect(massesFromText("20 by 3")).toContain("reads like");
    expect(massesFromText("20 x 3, 20 x 1")).toContain("stands twice");
    expect(massesFromText("")).toContain("at least one");
    expect(numbersFromText("2.5, a", 6)).toContain("is no mass");
    expect(steps(5, 20, 5)).toEqual([5, 10, 15, 20]);
  });
});
