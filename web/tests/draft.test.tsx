import { act, renderHook } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";

import type { ClassOut, Plan, Room } from "../src/api/client";
import { FORM, keyOf } from "../src/design/keptDraft";
import { useDraft } from "../src/design/useDraft";
import { reduceRoom, type RoomHistory } from "../src/room/roomHistory";
import { planOf } from "./making";

const loaded: ClassOut = { id: 7, revision: 3, saved_at: "2026-11-20T10:00:00Z", plan: planOf("Legs") };
const named = (name: string) => (one: Plan) => ({ ...one, name });

describe("the draft of a class", () => {
  it("is edited, undone, done again, and kept on the device until it is saved", () => {
    const heard = vi.fn();
    const { result } = renderHook(() => useDraft(loaded, heard));
    expect(result.current).toMatchObject({ dirty: false, canUndo: false, canRedo: false, revision: 3 });
    act(() => result.current.edit(named("Heavy")));
    expect(result.current).toMatchObject({ dirty: true, canUndo: true });
    expect(heard).toHaveBeenLastCalledWith(expect.objectContaining({ name: "Heavy" }));
    expect(JSON.parse(localStorage.getItem(keyOf(7))!)).toMatchObject({ revision: 3, plan: { name: "Heavy" } });
    act(() => result.current.undo());
    expect(result.current).toMatchObject({ dirty: false, canRedo: true });
    expect(localStorage.getItem(keyOf(7))).toBeNull();
    act(() => result.current.redo());
    expect(result.current.plan.name).toBe("Heavy");
    act(() => result.current.saved(4, result.current.plan));
    expect(result.current).toMatchObject({ dirty: false, revision: 4, canUndo: true });
  });

  it("takes an edit that changes nothing for none", () => {
    const heard = vi.fn();
    const { result } = renderHook(() => useDraft(loaded, heard));
    act(() => result.current.edit((one) => one));
    expect(heard).not.toHaveBeenCalled();
    expect(result.current.canUndo).toBe(false);
  });

  it("counts quick edits of one field as one step back", () => {
    const { result } = renderHook(() => useDraft(loaded, vi.fn()));
    act(() => result.current.edit(named("H"), "name"));
    act(() => result.current.edit(named("He"), "name"));
    act(() => result.current.undo());
    expect(result.current.plan.name).toBe(loaded.plan.name);
  });

  it("comes back after a reload on the revision it was made from, and can be replaced by a newer one", () => {
    const kept = { form: FORM, revision: 2, plan: { ...loaded.plan, name: "Left here" }, at: "2026-11-21T10:00:00Z" };
    localStorage.setItem(keyOf(7), JSON.stringify(kept));
    const { result } = renderHook(() => useDraft(loaded, vi.fn()));
    expect(result.current).toMatchObject({ dirty: true, revision: 2, broughtBack: kept.at });
    expect(result.current.plan.name).toBe("Left here");
    act(() => result.current.replace({ ...loaded, revision: 5 }));
    expect(result.current).toMatchObject({ dirty: false, revision: 5, broughtBack: null });
    act(() => result.current.undo());
    expect(result.current.plan.name).toBe("Left here");
  });

  it("drops what cannot be read", () => {
    vi.spyOn(console, "warn").mockImplementation(() => undefined);
    localStorage.setItem(keyOf(7), "{half");
    const { result } = renderHook(() => useDraft(loaded, vi.fn()));
    expect(result.current).toMatchObject({ dirty: false, revision: 3 });
    expect(localStorage.getItem(keyOf(7))).toBeNull();
  });
});

describe("the history of a room", () => {
  const room: Room = { id: "mill", name: "Mill", width_m: 9, depth_m: 6, zones: [], units: [] };
  const start: RoomHistory = { past: [], room, future: [], field: "" };
  const renamed = (name: string) => (one: Room) => ({ ...one, name });

  it("undoes one drag as one step, and forgets what was undone after another edit", () => {
    let state = reduceRoom(start, { type: "edit", edit: renamed("A"), field: "name" });
    state = reduceRoom(state, { type: "edit", edit: renamed("B"), field: "name" });
    state = reduceRoom(state, { type: "edit", edit: renamed("C"), field: "" });
    expect(state.past).toHaveLength(2);
    state = reduceRoom(state, { type: "undo" });
    expect(state.room.name).toBe("B");
    expect(reduceRoom(state, { type: "redo" }).room.name).toBe("C");
    state = reduceRoom(state, { type: "edit", edit: renamed("D"), field: "" });
    expect(reduceRoom(state, { type: "redo" })).toBe(state);
    state = reduceRoom(reduceRoom(state, { type: "undo" }), { type: "undo" });
    expect(state.room).toBe(room);
    expect(reduceRoom(state, { type: "undo" })).toBe(state);
  });

  it("takes an edit that changes nothing for none, and shows another state as a step", () => {
    expect(reduceRoom(start, { type: "edit", edit: (one) => one, field: "x" })).toBe(start);
    const shown = reduceRoom(start, { type: "show", room: { ...room, name: "Newer" } });
    expect(reduceRoom(shown, { type: "undo" }).room).toBe(room);
  });
});
