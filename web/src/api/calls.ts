import { api, dataOf, type Change, type ClassOut, type Level, type Plan } from "./client";
import type { components } from "./schema";
import { objectOf } from "../basis/entries";

/** The class that a text describes, and what its words were read as; what the head leaves out is the plan's. */
export async function readText(text: string, plan: Plan) {
  return dataOf(await api.POST("/api/text/read", { body: { text, plan } }));
}

/** The class as text. */
export async function writeText(plan: Plan): Promise<string> {
  return dataOf(await api.POST("/api/text/write", { body: { plan } })).text;
}

/** One line of the notation as a slot, station or leg, and what its words were read as. */
export async function readLine(line: string, kind: "slot" | "station" | "leg") {
  return dataOf(await api.POST("/api/text/line", { body: { line, kind } }));
}

/** The plan with the safer choice of a caution. */
export async function applyChange(plan: Plan, change: Change): Promise<Plan> {
  return dataOf(await api.POST("/api/changes", { body: { plan, change } })).plan;
}

/** The class for another level, with the rules it was made by. */
export async function atLevel(plan: Plan, level: Level) {
  const answer = await api.POST("/api/levels", { body: { plan, level } });
  return dataOf(answer);
}

export type Wanted = Required<components["schemas"]["Wanted"]>;

/** A first class that uses the room and the slot; nothing is kept yet. */
export async function makeFirstClass(wanted: Wanted): Promise<Plan> {
  return dataOf(await api.POST("/api/first-class", { body: wanted })).plan;
}

/** Keep a new class. */
export async function createClass(plan: Plan): Promise<ClassOut> {
  return dataOf(await api.POST("/api/classes", { body: { plan } }));
}

/** A class as it was saved once. */
export async function readRevision(id: number, number: number): Promise<ClassOut> {
  const path = { class_id: id, number };
  return dataOf(await api.GET("/api/classes/{class_id}/revisions/{number}", { params: { path } }));
}

/** A draft of an older version in today's form. */
export async function upgradePlan(plan: unknown): Promise<Plan> {
  return dataOf(await api.POST("/api/upgrade", { body: { plan: objectOf(plan) } })).plan;
}

/** What changed from one plan to another, in words. */
export async function differences(before: Plan, after: Plan): Promise<string[]> {
  return dataOf(await api.POST("/api/compare", { body: { before, after } })).changes;
}

/** Keep the class of a class file; with what there is to know about it. */
export async function importFile(document: unknown): Promise<{ made: ClassOut; notes: string[] }> {
  const body = { document: objectOf(document) };
  return dataOf(await api.POST("/api/classes/import", { body }));
}
