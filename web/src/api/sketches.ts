import { api, dataOf } from "./client";
import type { components } from "./schema";

export type Sought = Required<components["schemas"]["Sought"]>;
export type Sketch = components["schemas"]["Sketch"];
export type Sketching = components["schemas"]["Sketching"];

/** One sketch of a class that differs from those that have these exercises; nothing is kept yet. */
export async function sketchOne(
  sought: Sought,
  number: number,
  unlike: string[][],
  signal: AbortSignal,
): Promise<Sketching> {
  return dataOf(await api.POST("/api/sketches", { body: { sought, number, unlike }, signal }));
}
