import { describe, expect, it } from "vitest";

import { mended, startOf } from "../src/shared/faults";

const text = "class A\n\nblock Legs: sets\nleg pres 3 x 10, rets 60\n";

describe("a fault in a text", () => {
  it("is found at its place, also behind empty lines", () => {
    const at = startOf(text, { line: 4, column: 1, length: 8 });
    expect(text.slice(at, at + 8)).toBe("leg pres");
    expect(startOf(text, { line: 1, column: 1, length: 1 })).toBe(0);
    expect(startOf("", { line: 1, column: 1, length: 1 })).toBe(0);
  });

  it("is mended where it stands and nowhere else", () => {
    const rest = text.indexOf("rets");
    const column = rest - text.lastIndexOf("\n", rest);
    const once = mended(text, { line: 4, column, length: 4 }, "rest");
    expect(once).toBe(text.replace("rets", "rest"));
    const twice = mended(once, { line: 4, column: 1, length: 8 }, "leg press");
    expect(twice.split("\n")[3]).toBe("leg press 3 x 10, rest 60");
    expect(twice.split("\n")).toHaveLength(text.split("\n").length);
  });

  it("may be the end of a line that was left half typed", () => {
    expect(mended("leg press 4 x", { line: 1, column: 13, length: 1 }, "x 12")).toBe("leg press 4 x 12");
  });
});
