import { describe, expect, it } from "vitest";

import { after, begin, LONGEST_PAST, redo, undo, type History } from "../src/keeping/history";
import type { Plan } from "../src/api/client";
import { planOf } from "./making";

const typed = (names: string[], field: string, apart: number): History<Plan> =>
  names.reduce((history, name, index) => after(history, planOf(name), field, index * apart), begin(planOf("start")));

describe("the history of a draft", () => {
  it("goes back and forth through every edit", () => {
    let history = typed(["a", "b", "c"], "", 1);
    const seen = [history.present.name];
    while (history.past.length) {
      history = undo(history);
      seen.push(history.present.name);
    }
    expect(seen).toEqual(["c", "b", "a", "start"]);
    for (const name of ["a", "b", "c"]) {
      history = redo(history);
      expect(history.present.name).toBe(name);
    }
    expect(redo(history)).toBe(history);
    expect(undo(begin(planOf("start"))).present.name).toBe("start");
  });

  it("takes quick typing in one field as one step, and slow typing as several", () => {
    expect(typed(["4", "45"], "work", 100).past).toHaveLength(1);
    expect(undo(typed(["4", "45"], "work", 100)).present.name).toBe("start");
    expect(typed(["4", "45"], "work", 2000).past).toHaveLength(2);
  });

  it("keeps edits of different fields apart however quick they are", () => {
    const one = after(begin(planOf("start")), planOf("a"), "work", 0);
    expect(after(one, planOf("b"), "change", 1).past).toHaveLength(2);
  });

  it("does not join an edit to one that was undone", () => {
    const undone = undo(after(begin(planOf("start")), planOf("a"), "work", 0));
    expect(after(undone, planOf("b"), "work", 10).past).toHaveLength(1);
  });

  it("forgets what was undone once something else is done", () => {
    const forked = after(undo(typed(["a", "b"], "", 1)), planOf("c"), "", 9);
    expect(forked.future).toEqual([]);
    expect(undo(forked).present.name).toBe("a");
  });

  it("counts no step where nothing changed, and keeps a bounded past", () => {
    const same = begin(planOf("start"));
    expect(after(same, planOf("start"), "", 0)).toBe(same);
    const names = Array.from({ length: LONGEST_PAST + 50 }, (_, index) => `n${index}`);
    expect(typed(names, "", 1).past).toHaveLength(LONGEST_PAST);
  });
});
