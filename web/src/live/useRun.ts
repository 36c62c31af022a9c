import { useEffect, useState, useSyncExternalStore } from "react";

import { courseAt, type RunState } from "./runState";
import { RunKeeper, type RunOnDevice } from "./RunKeeper";

/** A run that is open on this screen. */
export type OpenRun = RunOnDevice & Pick<RunKeeper, "add" | "addAll" | "withdraw" | "now" | "decideTime">;

/** Takes up a run, and lets go of it with the screen: one screen, one run. */
export function useRun(run: number, owner: string): OpenRun {
  const [keeper] = useState(() => new RunKeeper(run, owner));
  useEffect(() => {
    void keeper.open();
    return () => keeper.close();
  }, [keeper]);
  const state = useSyncExternalStore(keeper.subscribe, keeper.snapshot);
  return {
    ...state,
    add: keeper.add,
    addAll: keeper.addAll,
    withdraw: keeper.withdraw,
    now: keeper.now,
    decideTime: keeper.decideTime,
  };
}

const TICK_MS = 100;

/** The runState now, and again ten times a second. */
export function useCourseNow(runState: RunState | null, now: () => number): RunState | null {
  const [moment, setMoment] = useState(now);
  useEffect(() => {
    const tick = window.setInterval(() => setMoment(now()), TICK_MS);
    return () => window.clearInterval(tick);
  }, [now]);
  return runState && courseAt(runState, moment);
}
