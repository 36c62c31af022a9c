import { describe, expect, it } from "vitest";

import type { Exercise, Plan } from "../src/api/client";
import {
  addBlock,
  addGroup,
  addSlot,
  canRemove,
  changeExercise,
  moveBlock,
  moveSlot,
  removeBlock,
  removeSlot,
  setBlock,
  setGroup,
  setSlot,
  slotsAt,
} from "../src/design/edits";

function exercise(id: string, fields: Partial<Exercise> = {}): Exercise {
  return {
    id,
    name: id,
    equipment: "none",
    pattern: "squat",
    prime: [],
    helping: [],
    sides: "two_sided",
    nature: "resistance",
    muscle_mass: "two_leg_compound",
    activity: "02052",
    tempo: [2, 0, 1, 0],
    displacement_m: 0.3,
    body_mass_share: 0,
    takes_load: true,
    ...fields,
  };
}

function plan(): Plan {
  return {
    name: "Test",
    slot_min: 45,
    starts: "",
    note: "",
    room: "room",
    people: ["p1"],
    blocks: [
      {
        id: "b1",
        kind: "circuit",
        name: "Stations",
        move_on_s: 30,
        work_s: 40,
        change_s: 20,
        rounds: 2,
        stations: ["a", "b", "c"].map((id) => ({ id, exercise: id })),
      },
      {
        id: "b2",
        kind: "sets",
        name: "Sets",
        move_on_s: 30,
        groups: [
          { id: "g1", rounds: 3, rest_s: 60, slots: [{ id: "d", exercise: "d", reps: 10, tempo: [4, 0, 2, 0] }] },
          { id: "g2", rounds: 2, rest_s: 30, slots: [{ id: "e", exercise: "e", seconds: 40 }] },
        ],
      },
      {
        id: "b3",
        kind: "together",
        name: "Cool-down",
        move_on_s: 0,
        slots: [{ id: "f", exercise: "f", seconds: 60, pause_after_s: 0 }],
      },
    ],
  };
}

const ids = (one: Plan, block: number, group = -1) => slotsAt(one, block, group).map((slot) => slot.id);

describe("edits of a plan", () => {
  it("leaves the plan before the edit as it was, and shares what did not change", () => {
    const before = plan();
    const frozen = JSON.stringify(before);
    const after = setBlock(0, { work_s: 45 })(before);
    expect(JSON.stringify(before)).toBe(frozen);
    expect(after.blocks[0]).toMatchObject({ work_s: 45, change_s: 20 });
    expect(after.blocks[1]).toBe(before.blocks[1]);
  });

  it("moves a slot, and does nothing beyond the ends of the list", () => {
    const place = { block: 0, group: -1, index: 0 };
    expect(ids(moveSlot(place, 2)(plan()), 0)).toEqual(["b", "c", "a"]);
    expect(ids(moveSlot({ ...place, index: 2 }, 0)(plan()), 0)).toEqual(["c", "a", "b"]);
    expect(ids(moveSlot(place, -1)(plan()), 0)).toEqual(["a", "b", "c"]);
    expect(ids(moveSlot(place, 3)(plan()), 0)).toEqual(["a", "b", "c"]);
  });

  it("keeps at least one slot in a block, and takes an emptied group out", () => {
    const one = { block: 2, group: -1, index: 0 };
    expect(canRemove(plan(), one)).toBe(false);
    expect(ids(removeSlot(one)(plan()), 2)).toEqual(["f"]);
    expect(ids(removeSlot({ block: 0, group: -1, index: 1 })(plan()), 0)).toEqual(["a", "c"]);
    const without = removeSlot({ block: 1, group: 0, index: 0 })(plan());
    expect(without.blocks[1]).toMatchObject({ groups: [{ id: "g2" }] });
    expect(canRemove(without, { block: 1, group: 0, index: 0 })).toBe(false);
  });

  it("adds a slot that fits its block: a load on the clock, reps in sets, seconds for all together", () => {
    const press = exercise("press");
    expect(slotsAt(addSlot(0, -1, press)(plan()), 0, -1).at(-1)).toMatchObject({ load: { share_of_best: 0.5 } });
    expect(slotsAt(addSlot(1, 0, press)(plan()), 1, 0).at(-1)).toMatchObject({ reps: 10 });
    expect(slotsAt(addSlot(2, -1, press)(plan()), 2, -1).at(-1)).toMatchObject({ seconds: 60 });
    const lunge = exercise("lunge", { sides: "one_sided", takes_load: false, nature: "body_weight" });
    expect(slotsAt(addSlot(1, 0, lunge)(plan()), 1, 0).at(-1)).toMatchObject({ reps: 10, sides: "each_side" });
    const plank = exercise("plank", { tempo: [0, 0, 0, 1], takes_load: false });
    const held = slotsAt(addSlot(1, 0, plank)(plan()), 1, 0).at(-1);
    expect(held).toMatchObject({ seconds: 40 });
    expect(held).not.toHaveProperty("load");
  });

  it("gives every added part an id of its own", () => {
    const press = exercise("press");
    let grown = plan();
    for (const edit of [addSlot(0, -1, press), addSlot(0, -1, press), addGroup(1, press), addBlock("circuit", press)]) {
      grown = edit(grown);
    }
    const found = [...JSON.stringify(grown).matchAll(/"id":"([^"]+)"/g)].map((match) => match[1]);
    expect(new Set(found).size).toBe(found.length);
  });

  it("changes the exercise and keeps the dose, but drops what the new exercise has no use for", () => {
    const place = { block: 1, group: 0, index: 0 };
    const changed = slotsAt(changeExercise(place, exercise("squat"))(plan()), 1, 0)[0];
    expect(changed).toMatchObject({ id: "d", exercise: "squat", reps: 10 });
    expect(changed).not.toHaveProperty("tempo");
    expect(changed).not.toHaveProperty("seconds");
    const loaded = setSlot({ block: 0, group: -1, index: 0 }, { load: { share_of_best: 0.8 } })(plan());
    const light = changeExercise({ block: 0, group: -1, index: 0 }, exercise("plank", { takes_load: false }))(loaded);
    expect(slotsAt(light, 0, -1)[0]).toEqual({ id: "a", exercise: "plank" });
  });

  it("changes one group and leaves its neighbour alone", () => {
    const after = setGroup(1, 0, { rounds: 5 })(plan());
    expect(after.blocks[1]).toMatchObject({ groups: [{ rounds: 5 }, { rounds: 2 }] });
  });

  it("adds a block before the last one, moves and removes blocks, and never removes the last", () => {
    const grown = addBlock("sets", exercise("press"), "new")(plan());
    expect(grown.blocks.map((block) => block.id)).toEqual(["b1", "b2", "new", "b3"]);
    expect(moveBlock(0, 1)(plan()).blocks.map((block) => block.id)).toEqual(["b2", "b1", "b3"]);
    expect(moveBlock(0, -1)(plan()).blocks.map((block) => block.id)).toEqual(["b1", "b2", "b3"]);
    const alone = removeBlock(0)(removeBlock(0)(plan()));
    expect(alone.blocks.map((block) => block.id)).toEqual(["b3"]);
    expect(removeBlock(0)(alone)).toBe(alone);
  });
});
