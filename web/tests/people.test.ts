import { describe, expect, it } from "vitest";

import { inKilograms, inMarks } from "../src/room/hardware";
import { shareOfReserve, targetWords } from "../src/shared/heart";
import { mass } from "../src/shared/units";

describe("hearts", () => {
  const estimate = (value: number) => ({
    value,
    low: value,
    high: value,
    unit: "bpm",
    method: "",
    inputs: [],
    note: "",
    aside: "" as const,
    partly: "",
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
});
