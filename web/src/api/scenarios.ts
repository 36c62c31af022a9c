import { useQuery } from "@tanstack/react-query";

import { api, dataOf, type Plan } from "./client";
import { numberOf } from "./queries";
import type { components } from "./schema";

export type Side = components["schemas"]["Scenario"];

/** The same class in other circumstances. */
export function useSides(plan: Plan) {
  return useQuery({
    queryKey: ["doubts", numberOf(plan)],
    queryFn: async ({ signal }) => dataOf(await api.POST("/api/scenarios", { body: { plan }, signal })),
    gcTime: 0,
  });
}
