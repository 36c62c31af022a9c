import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { useParams } from "react-router";

import { readClass } from "../api/queries";
import { listRuns, openRun } from "../api/runs";
import { CannotOpen } from "../shared/CannotOpen";
import { Opening } from "../shared/Opening";

/** Where the code on a run sheet leads: to the run of a class that is open, or to a new one. */
export function OpenRunPage() {
  const id = Number(useParams().id);
  const run = useQuery({
    queryKey: ["open-run", id],
    queryFn: async () => {
      const open = (await listRuns()).find((listRun) => listRun.class_id === id && listRun.state !== "over");
      return (open ?? (await openRun(id, (await readClass(id)).revision))).id;
    },
    retry: false,
    staleTime: Infinity,
  });
  useEffect(() => {
    if (run.data !== undefined) window.location.replace(`/runs/${run.data}`);
  }, [run.data]);
  if (run.isError) {
    return (
      <CannotOpen
        what="This class"
        error={run.error}
        again={() => void run.refetch()}
        home="/classes"
        homeName="All classes"
      />
    );
  }
  return <Opening what="the run" />;
}
