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

/** What is asked for in a few words, put into a request; what of it is not understood is told. */
export async function readRequest(
  text: string,
  request: ClassRequest,
): Promise<{ class_request: ClassRequest; read: string[]; unread: string[] }> {
  const body = { text, class_request: request };
  const asked = dataOf(await api.POST("/api/generated-classes/request", { body }));
  return { ...asked, class_request: { ...request, ...asked.class_request } };
}
