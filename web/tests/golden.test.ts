import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";

import type { Block, Exercise, Plan, Slot, Unit } from "../src/api/client";
import { changeExercise, turnsOf, withRest, withSets, type AnySlot } from "../src/draft/edits";
import { walkSeconds } from "../src/room/roomEdits";
import { planOf } from "./making";

type Case = { what: string; part: AnySlot; gives: AnySlot };
type Golden = {
  "another exercise": (Case & { exercise: Exercise })[];
  "so many sets": (Case & { part: Slot; sets: number })[];
  "another rest": (Case & { part: Slot; rest_s: number })[];
  turns: { work_s: number; turns: number[] }[];
  walks: { from: [number, number]; to: [number, number]; seconds: number }[];
};
const golden = JSON.parse(readFileSync("../tests/golden/edits.json", "utf-8")) as Golden;

/** What is not said is not compared: the core leaves out what is null. */
const said = (value: unknown): unknown =>
  JSON.parse(JSON.stringify(value, (_, item: unknown) => (item === null ? undefined : item)));

/** A plan with nothing but this part. */
function around(part: AnySlot): Plan {
  const head = { id: "b", name: "Block", move_on_s: 0 };
  const block =
    "sets" in part
      ? { ...head, kind: "together", slots: [part] }
      : "turn" in part
        ? { ...head, kind: "relay", team_size: 2, change_s: 2, legs: [part] }
        : { ...head, kind: "circuit", work_s: 40, change_s: 20, rounds: 1, stations: [part] };
  return planOf("Golden", [block as Block]);
}

function only(plan: Plan): AnySlot {
  const block = plan.blocks[0]!;
  return block.kind === "circuit"
    ? block.stations[0]!
    : block.kind === "relay"
      ? block.legs[0]!
      : (block as { slots: Slot[] }).slots[0]!;
}

describe("an edit does in the interface what it does in the core", () => {
  it.each(golden["another exercise"])("$what", ({ part, exercise, gives }) => {
    const changed = changeExercise({ block: 0, group: -1, index: 0 }, exercise)(around(part));
    expect(said(only(changed))).toEqual(said(gives));
  });
  it.each(golden["so many sets"])("$what", ({ part, sets, gives }) => {
    expect(said(withSets(part, sets))).toEqual(said(gives));
  });
  it.each(golden["another rest"])("$what", ({ part, rest_s, gives }) => {
    expect(said(withRest(part, rest_s))).toEqual(said(gives));
  });
  it.each(golden.turns)("partners share $work_s s", ({ work_s, turns }) => {
    expect(turnsOf(work_s)).toEqual(turns);
  });
  it.each(golden.walks)("a walk to $to", ({ from, to, seconds }) => {
    const at = ([x_m, y_m]: [number, number]) => ({ x_m, y_m }) as Unit;
    expect(walkSeconds(at(from), at(to))).toBeCloseTo(seconds, 5);
  });
});
