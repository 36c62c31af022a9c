import type { Exercise, Plan } from "../src/api/client";

/** An exercise with the values the tests do not ask about. */
export function exercise(id: string, fields: Partial<Exercise> = {}): Exercise {
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
    aliases: [],
    cues: [],
    cautions: [],
    kinder_for: [],
    easier: [],
    harder: [],
    tags: [],
    ...fields,
  };
}

/** A class of one person in a slot of 45 min. */
export function planOf(name: string, blocks: Plan["blocks"] = []): Plan {
  return {
    name,
    slot_min: 45,
    starts: "",
    note: "",
    aim: "mixed",
    level: "standard",
    choices: {},
    room: "room",
    people: ["p1"],
    together: [],
    apart: [],
    instead: [],
    taken: [],
    newcomers: [],
    settings: [],
    reasons: {},
    blocks,
  };
}
