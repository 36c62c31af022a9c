import { createContext, useContext } from "react";

import type { Plan } from "../api/client";

/** The plan as it is being edited, which what is drawn follows a moment later: fields that are typed into show this. */
export const LivePlan = createContext<Plan | null>(null);

/** The plan as it is being edited. */
export function useLivePlan(): Plan | null {
  return useContext(LivePlan);
}
