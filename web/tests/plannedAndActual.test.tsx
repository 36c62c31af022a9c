import { render, screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";

import { FIGURES } from "../src/shared/figures";
import { PlannedAndActual } from "../src/shared/PlannedAndActual";

describe("planned beside actual", () => {
  it("writes each figure with the digits it needs, and rows that add up", () => {
    const unit = FIGURES.find((figure) => figure.id === "sets_per_minute")!.unit;
    render(<PlannedAndActual rows={[{ name: "Sets ÷ minute", unit, planned: 0.64, actual: 0.62 }]} testId="rows" />);
    expect(screen.getByText(`0.64 ${unit}`)).toBeTruthy();
    expect(screen.getByText(`0.62 ${unit}`)).toBeTruthy();
    expect(screen.getByText(`−0.02 ${unit}`)).toBeTruthy();
  });
});
