import { api, dataOf } from "./client";
import type { components } from "./schema";

export type ClassRequest = Required<components["schemas"]["ClassRequest"]>;
export type GeneratedClass = components["schemas"]["GeneratedClass"];
export type Generation = components["schemas"]["Generation"];

/** One generated class that differs from those that have these exercises; nothing is kept yet. */
export async function generateOne(
  request: ClassRequest,
  number: number,
  unlike: string[][],
  signal: AbortSignal,
): Promise<Generation> {
  return dataOf(await api.POST("/api/generated-classes", { body: { class_request: request, number, unlike }, signal }));
}
