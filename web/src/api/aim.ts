import { api, dataOf, type Plan } from "./client";
import type { components } from "./schema";

export type FigureGoal = components["schemas"]["FigureGoal"];
export type GoalSearch = components["schemas"]["GoalSearch"];
export type Reached = GoalSearch["proposals"][number];
export type Caught = GoalSearch["caught"][number];
export type Axis = components["schemas"]["TradeAxis"];
export type Curve = components["schemas"]["TradeCurve"];
export type CurvePoint = Curve["points"][number];
type Thoroughness = components["schemas"]["AimIn"]["thoroughness"];

/** Changes that bring a figure where it is wanted while the limits hold, or what stands in the way. */
export async function reachAim(
  plan: Plan,
  aimed: FigureGoal,
  limits: FigureGoal[],
  thoroughness: Thoroughness,
  signal: AbortSignal,
): Promise<GoalSearch> {
  return dataOf(await api.POST("/api/aim", { body: { plan, aimed, limits, thoroughness }, signal }));
}

/** What more of one figure costs of another, as classes that can be taken. */
export async function traceCurve(plan: Plan, across: Axis, up: Axis, limits: FigureGoal[]): Promise<Curve> {
  return dataOf(await api.POST("/api/aim/curve", { body: { plan, across, up, limits, work_kept: 0.8 } }));
}
