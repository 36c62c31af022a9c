import { useQuery } from "@tanstack/react-query";

import { api, dataOf, type Plan } from "./client";
import { numberOf } from "./queries";
import type { components } from "./schema";

export type Advice = components["schemas"]["Advice"];
export type AdviceList = components["schemas"]["AdviceList"];
type Mend = NonNullable<Advice["mend"]>;

/** All that is worth a word about a class as it stands, the weightiest first. */
export function useReview(plan: Plan) {
  return useQuery({
    queryKey: ["review", numberOf(plan)],
    queryFn: async ({ signal }) => dataOf(await api.POST("/api/review", { body: { plan }, signal })),
    gcTime: 0,
  });
}

/** The plan with one line mended, and what was done. */
export async function mendIt(plan: Plan, mend: Mend) {
  return dataOf(await api.POST("/api/review/mend", { body: { plan, mend } }));
}

/** The keys of the lines of a class's review that were put away. */
export async function acceptedOf(classId: number, signal: AbortSignal) {
  const params = { path: { class_id: classId } };
  return dataOf(await api.GET("/api/classes/{class_id}/review/accepted", { params, signal }));
}

/** Put a line away until what it says changes. */
export async function acceptLine(classId: number, key: string) {
  const params = { path: { class_id: classId } };
  return dataOf(await api.POST("/api/classes/{class_id}/review/accepted", { params, body: { keys: [key] } }));
}

/** Show every line again. */
export async function takeAcceptanceBack(classId: number) {
  const params = { path: { class_id: classId } };
  return dataOf(await api.DELETE("/api/classes/{class_id}/review/accepted", { params }));
}
