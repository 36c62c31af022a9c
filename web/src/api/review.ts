import { useQuery } from "@tanstack/react-query";

import { api, dataOf, type Plan } from "./client";
import { numberOf } from "./queries";
import type { components } from "./schema";

export type Remark = components["schemas"]["Remark"];
export type Mend = NonNullable<Remark["mend"]>;

/** What a careful colleague would say of a class as it stands. */
export function useSecondLook(plan: Plan) {
  return useQuery({
    queryKey: ["second look", numberOf(plan)],
    queryFn: async ({ signal }) => dataOf(await api.POST("/api/review", { body: { plan }, signal })),
    gcTime: 0,
  });
}

/** The plan with one remark mended, and what was done. */
export async function mendIt(plan: Plan, mend: Mend) {
  return dataOf(await api.POST("/api/review/mend", { body: { plan, mend } }));
}
