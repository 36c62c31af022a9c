import type { Plan } from "../api/client";
import { segment, setRun, station, timed } from "../draft/edits";

/** What a new class starts as: short, sensible, and ready to be changed. */
export function firstPlan(room: string, people: string[]): Plan {
  const half = { load: { share_of_best: 0.5 } };
  return {
    name: "New class",
    slot_min: 45,
    starts: "",
    note: "",
    aim: "mixed",
    level: "standard",
    choices: {},
    room,
    people,
    together: [],
    apart: [],
    instead: [],
    taken: [],
    blocks: [
      {
        id: "warm-up",
        kind: "together",
        name: "Warm-up",
        purpose: "warm_up",
        move_on_s: 45,
        slots: [
          timed("marching", 240, "march"),
          {
            id: "swings",
            exercise: "leg-swings",
            sets: [setRun({ segments: [segment({ seconds: 30, sides: "each_side" })] })],
          },
        ],
      },
      {
        id: "stations",
        kind: "circuit",
        name: "Stations",
        purpose: "conditioning",
        move_on_s: 45,
        work_s: 40,
        change_s: 20,
        rounds: 2,
        round_rest_s: 60,
        stations: [
          station("leg-press", { id: "station-1", ...half }),
          station("lying-leg-curl", { id: "station-2", ...half }),
          station("step-up", { id: "station-3" }),
          station("plank", { id: "station-4" }),
        ],
      },
      {
        id: "cool-down",
        kind: "together",
        name: "Cool-down",
        purpose: "cool_down",
        move_on_s: 0,
        slots: [
          {
            id: "stretch",
            exercise: "held-stretch",
            sets: [setRun({ times: 4, segments: [segment({ seconds: 20, sides: "each_side" })] })],
          },
        ],
      },
    ],
  };
}
