import { useCallback, useEffect, useRef, useState } from "react";

import { reachAim, type FigureGoal, type GoalSearch } from "../api/aim";
import type { Plan } from "../api/client";

/** A search in two goes: what is found at once is shown while the rest is looked for; it can be stopped. */
export function useReach() {
  const [told, tell] = useState<GoalSearch | null>(null);
  const [phase, setPhase] = useState<"quick" | "whole" | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const control = useRef<AbortController | null>(null);
  const stop = useCallback(() => {
    control.current?.abort();
    setPhase(null);
  }, []);
  useEffect(() => () => control.current?.abort(), []);
  const search = useCallback(async (plan: Plan, aimed: FigureGoal, limits: FigureGoal[]) => {
    control.current?.abort();
    const own = new AbortController();
    control.current = own;
    tell(null);
    setError(null);
    try {
      for (const thoroughness of ["quick", "whole"] as const) {
        setPhase(thoroughness);
        const found = await reachAim(plan, aimed, limits, thoroughness, own.signal);
        if (own.signal.aborted) return;
        tell(found);
        if (found.reached_already) break;
      }
    } catch (problem) {
      if (!own.signal.aborted) setError(problem instanceof Error ? problem : new Error(String(problem)));
    } finally {
      if (control.current === own) setPhase(null);
    }
  }, []);
  return { told, phase, error, search, stop };
}
