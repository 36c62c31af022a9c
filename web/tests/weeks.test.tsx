import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, test, vi } from "vitest";

import { WeekChart } from "../src/drawing/WeekChart";
import { rowWords, countWords } from "../src/book/words";
import { spans } from "../src/course/CoursePage";
import { gainWords, percent } from "../src/progress/verdict";
import { setWords } from "../src/progress/ExercisePanel";
import * as files from "../src/shared/files";

vi.stubGlobal(
  "ResizeObserver",
  class {
    observe() {}
    disconnect() {}
  },
);

const LINE = {
  label: "line",
  kind: "line" as const,
  points: [
    { on: "2026-09-07", value: 100, low: 92, high: 108 },
    { on: "2026-09-14", value: null },
    { on: "2026-09-21", value: 104.5, low: 97, high: 112 },
  ],
};
const DOTS = {
  label: "day",
  kind: "dots" as const,
  points: [{ on: "2026-09-14", value: 96, open: true, note: "weak evidence" }],
};

describe("a chart of the weeks", () => {
  test("stands in a table, day by day, with ranges, and what only says at least", () => {
    render(<WeekChart title="Best" unit="kg" decimals={1} series={[LINE, DOTS]} />);
    const rows = [...document.querySelectorAll("tbody tr")].map((row) => row.textContent);
    expect(rows).toHaveLength(3);
    expect(rows[0]).toContain("100.0 (92.0–108.0)");
    expect(rows[1]).toContain("at least 96.0, weak evidence");
    expect(rows[2]).toContain("104.5");
    expect(screen.getByRole("table", { name: "Best, kg" })).toBeTruthy();
  });

  test("can be shown as its table, and is taken away as CSV", async () => {
    const saved = vi.spyOn(files, "saveText").mockImplementation(() => {});
    render(<WeekChart title="Best of the weeks" unit="kg" series={[LINE, DOTS]} />);
    await userEvent.click(screen.getByRole("button", { name: "Best of the weeks as a table" }));
    expect(document.querySelector(".sr-only table")).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: "Best of the weeks as CSV" }));
    const [name, text] = saved.mock.calls[0]!;
    expect(name).toBe("best-of-the-weeks.csv");
    expect(text.split("\r\n").slice(0, 3)).toEqual([
      '"date","line (kg)","day (kg)"',
      "2026-09-07,100,",
      "2026-09-14,,96",
    ]);
    saved.mockRestore();
  });

  test("without values says so", () => {
    render(<WeekChart title="Mass" unit="kg" series={[{ label: "mass", kind: "line", points: [] }]} />);
    expect(screen.getByText("Nothing to draw yet.")).toBeTruthy();
  });
});

describe("words of the weeks", () => {
  test("shares have their sign", () => {
    expect([0.042, -0.1, 0].map(percent)).toEqual(["+4.2 %", "−10 %", "±0 %"]);
    const gain = { since: "2026-09-07", share: 0.05, low: 0.01, high: 0.09, verdict: "better" as const };
    expect(gainWords({ ...gain, from_at_least: false })).toBe("better (+5 %)");
  });

  test("weeks are told as spans", () => {
    expect(spans([1, 2, 3, 5, 7, 8])).toBe("1–3, 5, 7–8");
    expect(spans([4])).toBe("4");
  });

  const row = {
    person: "ada",
    block: "b",
    part: "p",
    exercise: "leg-press",
    name: "Leg press",
    number: 1,
    unit: "press-1",
    planned_kg: 80,
    planned_low: 8,
    planned_high: 10,
    one_sided: false,
    written: "not written" as const,
    done: [],
  };
  const done = {
    side: null,
    load_kg: 82.5,
    reps: 9,
    parts: [],
    seconds: null,
    to_failure: true,
    helped: false,
    helped_reps: null,
    reps_left: null,
    range_of_motion: null,
    form: null,
    rest_s: null,
    set_up: null,
    note: "",
  };
  const part = { ...done, to_failure: false, load_kg: null };

  test("a set says what was planned until it says what was done", () => {
    expect(rowWords(row, "metric")).toBe("80 kg × 8–10");
    expect(rowWords({ ...row, done: [done] }, "metric")).toBe("82.5 kg × 9, to failure");
    const cluster = [5, 5, 4].map((reps) => ({ ...part, reps }));
    expect(rowWords({ ...row, done: [{ ...done, parts: cluster, side: "left" }] }, "metric")).toBe(
      "left, 82.5 kg × 5 + 5 + 4, to failure",
    );
    expect(rowWords({ ...row, planned_kg: null, planned_low: null, planned_high: null }, "metric")).toBe(
      "by the clock",
    );
    expect(countWords({ ...row, planned_high: 8 })).toBe("8");
  });

  test("each part of a set says what differs", () => {
    const drop = { ...part, reps: 8, load_kg: 60, helped: true, helped_reps: 2, rest_s: 10 };
    const told = { ...done, parts: [{ ...part, reps: 10 }, drop], set_up: { stance: [], heels_cm: 2.5, aids: [] } };
    expect(rowWords({ ...row, done: [told] }, "metric")).toBe(
      "82.5 kg × 10 + 60 kg × 8, 2 helped, after 10 s, to failure, heels 2.5 cm",
    );
    const uncounted = {
      ...done,
      parts: [
        { ...part, reps: 10 },
        { ...part, reps: null, load_kg: 60 },
      ],
    };
    expect(rowWords({ ...row, done: [uncounted] }, "metric")).toBe("82.5 kg × 10 + 60 kg, not counted, to failure");
  });

  test("a set of the weeks is told in the unit that is preferred", () => {
    const set = {
      part: "p",
      number: 1,
      side: "" as const,
      unit: "press-1",
      load_kg: 100,
      reps: 8,
      seconds: null,
      planned_kg: 100,
      low: 8,
      high: 10,
      ended: "left" as const,
      reps_left: 2,
      helped: false,
      poor: true,
      as_planned: false,
      helped_reps: 0,
      rest_s: null,
      set_up: "",
      in_parts: "",
      points_to_kg: 130,
      no_evidence: "form was poor",
    };
    expect(setWords(set, "metric")).toBe("100 kg × 8, 2 in reserve, form poor");
    expect(setWords(set, "imperial")).toBe("220.5 lb × 8, 2 in reserve, form poor");
    expect(setWords({ ...set, reps: null, seconds: 30, load_kg: null, reps_left: null, poor: false }, "metric")).toBe(
      "30 s",
    );
    expect(
      setWords({ ...set, reps: 8, helped_reps: 2, ended: "failed", reps_left: null, set_up: "belt" }, "metric"),
    ).toBe("100 kg × 10, 2 helped, form poor, belt");
  });
});
