import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { Block } from "../src/api/client";
import { station, timed } from "../src/draft/edits";
import { planOf } from "./making";

/** What a browser keeps, in memory. */
class Store {
  private readonly kept = new Map<string, string>();
  getItem = (key: string) => this.kept.get(key) ?? null;
  setItem = (key: string, value: string) => void this.kept.set(key, value);
  removeItem = (key: string) => void this.kept.delete(key);
}

const block: Block = {
  id: "b",
  kind: "circuit",
  name: "Stations",
  note: "",
  move_on_s: 30,
  work_s: 40,
  change_s: 20,
  rounds: 2,
  stations: [station("leg-press", { id: "s" })],
};

const plan = planOf("Kept", [
  block,
  { id: "c", kind: "together", name: "End", note: "", move_on_s: 0, slots: [timed("marching", 60, "m")] },
]);

let asked: unknown[] = [];

beforeEach(() => {
  asked = [];
  vi.resetModules();
  vi.stubGlobal("localStorage", new Store());
  vi.stubGlobal("document", { cookie: "" });
  vi.stubGlobal("window", { location: { origin: "http://127.0.0.1" } });
  vi.stubGlobal("fetch", async (request: Request) => {
    asked.push(await request.json());
    return new Response(JSON.stringify({ plan }), { status: 200, headers: { "Content-Type": "application/json" } });
  });
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

describe("what is kept on this device", () => {
  it("carries a block from class to class", async () => {
    const { copiedBlock, copyBlock } = await import("../src/draft/clipboard");
    expect(copiedBlock()).toBeNull();
    copyBlock(block, "Monday");
    expect(copiedBlock()).toEqual({ block, from: "Monday" });
    const warn = vi.spyOn(console, "warn").mockImplementation(() => undefined);
    localStorage.setItem("oaken-copied-block", "nonsense{");
    expect(copiedBlock()).toBeNull();
    expect(warn).toHaveBeenCalledOnce();
  });
});

describe("what the server says", () => {
  it("is told apart: faulty plans, faulty texts, stale saves, missing classes and other errors", async () => {
    const { dataOf, savedOf, FaultyPlan, FaultyText } = await import("../src/api/client");
    const answer = (status: number, error: unknown) => () =>
      dataOf({ error, response: new Response(null, { status: status }) });
    const fault = { path: "plan.room", place: "the plan", field: "room", message: "is missing", right: "" };
    expect(answer(422, { faults: [fault] })).toThrow(FaultyPlan);
    expect(answer(422, { faults: [fault] })).toThrow("the plan, room: is missing");
    const misread = { line: 2, column: 1, length: 3, word: "leg", message: "is no exercise", proposals: [] };
    expect(answer(422, { text_faults: [misread] })).toThrow(FaultyText);
    expect(answer(422, { text_faults: [misread] })).toThrow("line 2, “leg”: is no exercise");
    const response = new Response(null, { status: 409 });
    const refused = savedOf({ error: { message: "saved elsewhere", latest: { id: 1 } }, response });
    expect(refused).toEqual({ newer: { id: 1 }, message: "saved elsewhere" });
    expect(answer(404, {})).toThrow("does not exist");
    expect(answer(500, undefined)).toThrow("error (500)");
    expect(dataOf({ data: 5, response: new Response(null, { status: 200 }) })).toBe(5);
  });
});
