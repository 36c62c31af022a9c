import { describe, expect, it } from "vitest";

import type { Catalogue, Room } from "../src/api/client";
import { placesOf, search } from "../src/catalogue/search";
import { exercise } from "./making";

const named = (id: string, name: string, fields: Parameters<typeof exercise>[1]) =>
  exercise(id, { name, prime: ["quadriceps"], ...fields });

const size = { width_m: 1, depth_m: 1.6 };
const catalogue: Catalogue = {
  exercises: [
    named("leg-press", "Leg press", { equipment: "leg-press" }),
    named("wide", "Wide leg press", { equipment: "leg-press", prime: ["gluteals"] }),
    named("curl", "Lying leg curl", {
      equipment: "curl",
      pattern: "knee_flexion",
      prime: ["hamstrings"],
      aliases: ["leg curl"],
    }),
    named("seated", "Seated leg curl", { equipment: "seated", pattern: "knee_flexion", prime: ["hamstrings"] }),
    named("bridge", "Glute bridge", { pattern: "hip_extension", prime: ["gluteals"] }),
  ],
  equipment: [
    { id: "leg-press", name: "Leg press", set_up_s: 10, load_change_s: 20, holds: "plates", step_kg: 5, ...size },
    { id: "curl", name: "Lying leg curl", set_up_s: 8, load_change_s: 5, holds: "stack", step_kg: 5, ...size },
    { id: "seated", name: "Seated leg curl", set_up_s: 8, load_change_s: 5, holds: "stack", step_kg: 5, ...size },
    { id: "none", name: "Floor", set_up_s: 3, load_change_s: 0, holds: "nothing", step_kg: 0, ...size },
  ],
  muscles: [
    { id: "quadriceps", name: "Quadriceps" },
    { id: "gluteals", name: "Gluteals" },
    { id: "hamstrings", name: "Hamstrings" },
  ],
  patterns: [
    { id: "squat", name: "Squat", cues: [], questions: [] },
    { id: "knee_flexion", name: "Knee flexion", cues: [], questions: [] },
    { id: "hip_extension", name: "Hip extension", cues: [], questions: [] },
  ],
  stance_claims: {},
  spoken: { curl: ["hamstring curl"], seated: ["hamstring curl"] },
  muscle_mass: [],
  activities: [],
  questions: [],
  own: [],
  retired: [],
  own_equipment: [],
  retired_equipment: [],
  collisions: [],
};

function unit(id: string, kind: string, fields: Partial<Room["units"][number]> = {}): Room["units"][number] {
  return {
    id,
    kind,
    name: id,
    count: 1,
    people_at_once: 1,
    x_m: 0,
    y_m: 0,
    turned: 0,
    settings: [],
    out_of_order: false,
    ...fields,
  };
}

const room: Room = {
  id: "room",
  name: "Room",
  zones: [],
  units: [unit("a", "leg-press"), unit("b", "leg-press", { count: 2 }), unit("c", "seated", { out_of_order: true })],
};

const names = (sought: Parameters<typeof search>[2], where: Room | undefined = room) =>
  search(catalogue, where, sought).map((found) => found.exercise.id);

describe("the search of the catalogue", () => {
  it("finds what goes by another name on the floor, however many are said", () => {
    expect(names({ words: "hamstring curls" }, undefined)).toEqual(["curl", "seated"]);
  });

  it("counts working places, and knows that the floor has room for all", () => {
    expect(placesOf(room, "leg-press")).toBe(3);
    expect(placesOf(room, "seated")).toBe(0);
    expect(placesOf(room, "none")).toBeNull();
    expect(placesOf(undefined, "leg-press")).toBeNull();
  });

  it("finds by name, alias, muscle, pattern and machine, in any order of words", () => {
    expect(names({ words: "press wide" })).toEqual(["wide"]);
    expect(names({ words: "hamstrings" })).toEqual(["curl", "seated"]);
    expect(names({ words: "hip ext" })).toEqual(["bridge"]);
    expect(names({ words: "glutes" })).toContain("wide");
    expect(names({ words: "nothing like it" })).toEqual([]);
  });

  it("puts what begins with the words first, and what the room has not got last", () => {
    expect(names({ words: "leg press" })).toEqual(["leg-press", "wide"]);
    expect(names({ words: "" }).slice(-2)).toEqual(["curl", "seated"]);
    expect(names({ words: "" }, undefined)[0]).toBe("bridge");
  });

  it("narrows by muscle, pattern, equipment and what is free here", () => {
    expect(names({ words: "", muscle: "gluteals" })).toEqual(["bridge", "wide"]);
    expect(names({ words: "", pattern: "knee_flexion" })).toEqual(["curl", "seated"]);
    expect(names({ words: "", equipment: "leg-press", muscle: "gluteals" })).toEqual(["wide"]);
    expect(names({ words: "leg", free: true })).toEqual(["leg-press", "wide"]);
  });
});
