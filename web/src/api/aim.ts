import { api, dataOf, type Plan } from "./client";
import type { components } from "./schema";

export type Aimed = components["schemas"]["Aimed"];
export type Aiming = components["schemas"]["Aiming"];
export type Reached = Aiming["proposals"][number];

/** Changes that bring a figure where it is wanted while the limits hold, or what stands in the way. */
export async function reachAim(plan: Plan, aimed: Aimed, limits: Aimed[]): Promise<Aiming> {
  return dataOf(await api.POST("/api/aim", { body: { plan, aimed, limits } }));
}
