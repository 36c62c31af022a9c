import { describe, expect, it } from "vitest";

import { spoken } from "../src/shared/loadWords";
import { screeningState } from "../src/people/screening";
import { inKilograms, inMarks } from "../src/room/hardware";
import { shareOfReserve, targetWords } from "../src/shared/heart";
import { mass } from "../src/shared/units";

const NOW = new Date("2026-11-25T12:00:00Z").getTime();
const on = (date: string, some_yes = false, advised = false) =>
  screeningState({ screening: { on: date, some_yes, advised } }, NOW);

describe("screening", () => {
  it("stands open without a record, after a year, and after a yes without advice", () => {
    expect(screeningState({ screening: null }, NOW).open).toBe(true);
    expect(on("2025-11-24").open).toBe(true);
    expect(on("2025-11-26").open).toBe(false);
    expect(on("2026-09-01", true).open).toBe(true);
    const settled = on("2026-09-01", true, true);
    expect(settled.open).toBe(false);
    expect(settled.words).toMatch(/^advised, 1 Sep/);
  });
});

describe("hearts", () => {
  const estimate = (value: number) => ({
    value,
    low: value,
    high: value,
    unit: "bpm",
    method: "",
    inputs: [],
    note: "",
  });
  it("are shares of the reserve", () => {
    expect(shareOfReserve({ rest_bpm: estimate(60), max_bpm: estimate(180) }, 132)).toBeCloseTo(0.6);
    expect(shareOfReserve({ rest_bpm: null, max_bpm: null }, 132)).toBe(0);
  });
  it("have targets in bpm, or in effort where heart rates do not apply", () => {
    expect(targetWords({ low: 108, high: 132.4, by: "bpm" })).toBe("108–132 bpm");
    expect(targetWords({ low: 12, high: 14, by: "effort" })).toBe("effort 12–14 (6–20)");
  });
});

describe("masses", () => {
  it("are shown in the unit that is preferred", () => {
    expect(mass(82, "metric")).toBe("82 kg");
    expect(mass(81.6466, "imperial")).toBe("180 lb");
  });
  it("marked in pounds come back as the same kilograms", () => {
    const held = {
      holds: "plates" as const,
      marked: "lb" as const,
      bar_kg: 20.412,
      plates: [{ kg: 9.072, pairs: 2 }],
    };
    const shown = inMarks(held);
    expect(shown).toMatchObject({ bar_kg: 45, plates: [{ kg: 20, pairs: 2 }] });
    expect(inKilograms(shown)).toEqual(held);
    const stack = { holds: "stack" as const, marked: "lb" as const, steps_kg: [4.536, 9.072], add_ons_kg: [1.134] };
    expect(inMarks(stack)).toMatchObject({ steps_kg: [10, 20], add_ons_kg: [2.5] });
    const bells = { holds: "implements" as const, marked: "kg" as const, in_hand: 2, by_mass: [{ kg: 8, count: 1 }] };
    expect(inMarks(bells)).toBe(bells);
  });
  it("are told as they are set", () => {
    const load = {
      wanted_kg: 60,
      set_kg: 60,
      share_off: 0,
      a_side_kg: [],
      add_ons_kg: [],
      in_hand: 0,
      marked: "kg" as const,
    };
    const plain = { bar_kg: null, pin_kg: null, each_kg: null };
    expect(spoken({ ...load, ...plain, bar_kg: 20, a_side_kg: [20] })).toBe("bar 20, a side 20");
    expect(spoken({ ...load, ...plain, bar_kg: 20 })).toBe("bar 20, a side no plates");
    expect(spoken({ ...load, ...plain, pin_kg: 55, add_ons_kg: [2.5, 2.5] })).toBe("pin at 55 + 2.5 + 2.5");
    expect(spoken({ ...load, ...plain, each_kg: 13.608, in_hand: 2, marked: "lb" })).toBe("2 × 30");
    expect(spoken({ ...load, ...plain })).toBe("");
  });
});
