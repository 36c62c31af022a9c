import { describe, expect, it } from "vitest";

import type { Plan, Slot } from "../src/api/client";
import {
  addGroup,
  addSlot,
  canRemove,
  changeExercise,
  copyOfBlock,
  countSets,
  duplicateSlot,
  insertBlock,
  joinGroup,
  mergedRuns,
  moveBlock,
  moveGroup,
  moveSlot,
  placeOf,
  removeBlock,
  removeSlot,
  rewriteSlot,
  roundsOf,
  segment,
  setBlock,
  setRoundRest,
  setRounds,
  setRun,
  setSlot,
  shared,
  slotOf,
  slotsAt,
  splitGroup,
  station,
  timed,
  withRest,
  withSegments,
} from "../src/draft/edits";
import { exercise } from "./making";

function dose(id: string, times: number, rest_s: number, fields: Parameters<typeof segment>[0]): Slot {
  return slotOf(id, [setRun({ times, rest_s, segments: [segment(fields)] })], id);
}

function plan(): Plan {
  return {
    name: "Test",
    aim: "mixed",
    level: "standard",
    choices: {},
    slot_min: 45,
    starts: "",
    note: "",
    room: "room",
    people: ["p1"],
    together: [],
    apart: [],
    instead: [],
    taken: [],
    newcomers: [],
    settings: [],
    reasons: {},
    blocks: [
      {
        id: "b1",
        kind: "circuit",
        name: "Stations",
        note: "",
        move_on_s: 30,
        work_s: 40,
        change_s: 20,
        rounds: 2,
        stations: ["a", "b", "c"].map((id) => station(id, { id })),
      },
      {
        id: "b2",
        kind: "sets",
        name: "Sets",
        note: "",
        log_s: 0,
        plates_back_s: 0,
        rounds_run: "back_and_forth",
        start: "spread",
        sharing: "work_in",
        waves: 1,
        wave_gap_s: 0,
        move_on_s: 30,
        groups: [
          { id: "g1", slots: [dose("d", 3, 60, { reps: 10, tempo: [4, 0, 2, 0] })] },
          { id: "g2", slots: [dose("e", 2, 30, { seconds: 40 })] },
        ],
      },
      {
        id: "b3",
        kind: "together",
        name: "Cool-down",
        note: "",
        move_on_s: 0,
        slots: [timed("f", 60, "f")],
      },
    ],
  };
}

const ids = (item: Plan, block: number, group = -1) => slotsAt(item, block, group).map((slot) => slot.id);

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
    const first = (slot: unknown) => (slot as Slot).sets[0]!;
    const press = exercise("press");
    expect(slotsAt(addSlot(0, -1, press)(plan()), 0, -1).at(-1)).toMatchObject({ load: { share_of_best: 0.5 } });
    expect(first(slotsAt(addSlot(1, 0, press)(plan()), 1, 0).at(-1))).toMatchObject({
      times: 3,
      segments: [{ reps: 10, load: { share_of_best: 0.65 } }],
    });
    expect(first(slotsAt(addSlot(2, -1, press)(plan()), 2, -1).at(-1)).segments[0]).toMatchObject({ seconds: 60 });
    const lunge = exercise("lunge", { sides: "one_sided", takes_load: false, nature: "body_weight" });
    const sided = first(slotsAt(addSlot(1, 0, lunge)(plan()), 1, 0).at(-1)).segments[0];
    expect(sided).toMatchObject({ reps: 10, sides: "each_side" });
    expect(sided).not.toHaveProperty("load");
    const plank = exercise("plank", { tempo: [0, 0, 0, 1], takes_load: false });
    expect(first(slotsAt(addSlot(1, 0, plank)(plan()), 1, 0).at(-1)).segments[0]).toMatchObject({ seconds: 40 });
  });

  it("gives every added or copied part an id of its own", () => {
    const press = exercise("press");
    let grown = plan();
    const place = { block: 1, group: 0, index: 0 };
    for (const edit of [
      addSlot(0, -1, press),
      addSlot(0, -1, press),
      addGroup(1, press),
      duplicateSlot(place),
      duplicateSlot({ block: 0, group: -1, index: 1 }),
      insertBlock(copyOfBlock(plan().blocks[1]!), 2),
      splitGroup(1, 0, 1),
    ]) {
      grown = edit(grown);
    }
    const found = [...JSON.stringify(grown).matchAll(/"id":"([^"]+)"/g)].map((match) => match[1]);
    expect(new Set(found).size).toBe(found.length);
    expect(ids(grown, 0)).toHaveLength(6);
    expect(placeOf(grown, "d")).toEqual(place);
    expect(placeOf(grown, "nowhere")).toBeNull();
  });

  it("changes the exercise and keeps the dose, but drops what the new exercise has no use for", () => {
    const place = { block: 1, group: 0, index: 0 };
    const changed = slotsAt(changeExercise(place, exercise("squat"))(plan()), 1, 0)[0] as Slot;
    expect(changed).toMatchObject({ id: "d", exercise: "squat" });
    expect(changed.sets[0]).toMatchObject({ times: 3, rest_s: 60, segments: [{ reps: 10, tempo: null, sides: null }] });
    const sided = slotsAt(changeExercise(place, exercise("lunge", { sides: "one_sided" }))(plan()), 1, 0)[0] as Slot;
    expect(sided.sets[0]!.segments[0]!.sides).toBe("each_side");
    const loaded = setSlot({ block: 0, group: -1, index: 0 }, { load: { share_of_best: 0.8 } })(plan());
    const light = changeExercise({ block: 0, group: -1, index: 0 }, exercise("plank", { takes_load: false }))(loaded);
    expect(slotsAt(light, 0, -1)[0]).toMatchObject({ id: "a", exercise: "plank", load: null });
  });

  it("takes a slot read from its line and keeps its id", () => {
    const place = { block: 1, group: 0, index: 0 };
    const after = rewriteSlot(place, dose("", 5, 90, { reps: 5 }))(plan());
    expect(slotsAt(after, 1, 0)[0]).toMatchObject({ id: "d", sets: [{ times: 5, rest_s: 90 }] });
  });

  it("changes rounds and round rest of one group and leaves its neighbour alone", () => {
    const after = setRoundRest(1, 0, 90)(setRounds(1, 0, 5)(plan()));
    const groups = after.blocks[1]!.kind === "sets" ? after.blocks[1]!.groups : [];
    expect(groups.map(roundsOf)).toEqual([5, 2]);
    expect(groups[0]!.slots[0]!.sets).toMatchObject([{ times: 5, rest_s: 90 }]);
    expect(groups[1]).toEqual((plan().blocks[1] as { groups: unknown[] }).groups[1]);
  });

  it("makes a superset of two groups and splits it again", () => {
    const joined = joinGroup(1, 1)(plan());
    expect(ids(joined, 1, 0)).toEqual(["d", "e"]);
    const parted = splitGroup(1, 0, 1, "g9")(joined);
    expect([ids(parted, 1, 0), ids(parted, 1, 1)]).toEqual([["d"], ["e"]]);
    expect(joinGroup(1, 0)(plan())).toEqual(plan());
    expect(ids(moveGroup(1, 0, 1)(plan()), 1, 0)).toEqual(["e"]);
  });

  it("writes equal neighbours once and knows what all segments share", () => {
    const run = setRun({ segments: [segment({ reps: 8 })] });
    expect(mergedRuns([run, run, { ...run, rest_s: 30 }])).toMatchObject([{ times: 2 }, { times: 1, rest_s: 30 }]);
    const slot: Slot = slotOf("s", [run, setRun({ segments: [segment({ reps: 6 })] })], "s");
    expect(shared(slot, (item) => item.reps)).toBeNull();
    const even = withSegments(slot, (item) => ({ ...item, reps: 10 }));
    expect([countSets(even), shared(even, (item) => item.reps)]).toEqual([2, 10]);
    expect(even.sets).toHaveLength(1);
  });

  it("makes one rest of a range of rests", () => {
    const run = setRun({ rest_s: 60, rest_to_s: 90, segments: [segment({ reps: 8 })] });
    expect(withRest(slotOf("s", [run]), 100).sets).toMatchObject([{ rest_s: 100, rest_to_s: null }]);
  });

  it("puts a block in behind another, moves and removes blocks, and never removes the last", () => {
    const grown = insertBlock(copyOfBlock(plan().blocks[1]!, "new"), 1)(plan());
    expect(grown.blocks.map((block) => block.id)).toEqual(["b1", "b2", "new", "b3"]);
    expect(moveBlock(0, 1)(plan()).blocks.map((block) => block.id)).toEqual(["b2", "b1", "b3"]);
    expect(moveBlock(0, -1)(plan()).blocks.map((block) => block.id)).toEqual(["b1", "b2", "b3"]);
    const alone = removeBlock(0)(removeBlock(0)(plan()));
    expect(alone.blocks.map((block) => block.id)).toEqual(["b3"]);
    expect(removeBlock(0)(alone)).toBe(alone);
  });
});
