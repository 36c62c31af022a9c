import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";

import { generateOne, type Generation, type ClassRequest } from "../api/generator";

/** How many are made at a time. */
export const IN_A_ROW = 3;
const MOST_UNLIKE = 12;

/** What was made so far: each with its number, the last three shown; where it stands, and what went wrong. */
export type Row = {
  request: ClassRequest;
  made: { number: number; told: Generation }[];
  /** exercises of every generated so far, also of those that are no longer shown */
  before: string[][];
};

/** Classes generated one after the other, each shown as soon as it is there; cancelled, or three more that differ. */
export function useGenerated() {
  const queries = useQueryClient();
  const [row, setRow] = useState<Row | undefined>(() => queries.getQueryData<Row>(["generated-classes"]));
  const [making, setMaking] = useState<number | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const stop = useRef<AbortController | null>(null);

  const make = useCallback(
    async (request: ClassRequest, since: Row | undefined) => {
      stop.current?.abort();
      const control = new AbortController();
      stop.current = control;
      setError(null);
      const first = since ? Math.max(...since.made.map((item) => item.number)) + 1 : 0;
      let next: Row = { request, made: [], before: since?.before ?? [] };
      try {
        for (let at = 0; at < IN_A_ROW; at += 1) {
          setMaking(at);
          const told = await generateOne(request, first + at, next.before.slice(-MOST_UNLIKE), control.signal);
          if (control.signal.aborted) return;
          next = {
            ...next,
            made: [...next.made, { number: first + at, told }],
            before: told.generated ? [...next.before, told.generated.exercises] : next.before,
          };
          setRow(next);
          // coming back to the page finds them again
          queries.setQueryData(["generated-classes"], next);
          if (!told.generated) break;
        }
      } catch (problem) {
        if (!control.signal.aborted) setError(problem instanceof Error ? problem : new Error(String(problem)));
      } finally {
        if (stop.current === control) setMaking(null);
      }
    },
    [queries],
  );
  const cancel = useCallback(() => {
    stop.current?.abort();
    setMaking(null);
  }, []);
  useEffect(() => () => stop.current?.abort(), []);
  return { row, making, error, make, cancel };
}
