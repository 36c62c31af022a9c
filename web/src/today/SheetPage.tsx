import { useEffect } from "react";
import { Link, useParams, useSearchParams } from "react-router";

import { useMay } from "../api/account";
import type { Printed } from "../api/papers";
import { useClass } from "../api/queries";
import { PaperDesk, PAPERS } from "../paper/PaperDesk";
import { CannotOpen } from "../shared/CannotOpen";
import { Opening } from "../shared/Opening";

/** Everything that is printed of a class, as it is planned or as a run of it is held. */
export function SheetPage() {
  const id = Number(useParams().id);
  const [asked] = useSearchParams();
  const loaded = useClass(id);
  const mayReadHealth = useMay("read_health");
  const run = Number(asked.get("run"));
  const name = loaded.data?.plan.name;
  useEffect(() => {
    if (name) document.title = `${name}, on paper`;
  }, [name]);
  if (loaded.isPending) return <Opening what="the papers" />;
  if (loaded.isError) {
    return (
      <CannotOpen
        what="This class"
        error={loaded.error}
        again={() => void loaded.refetch()}
        home="/classes"
        homeName="All classes"
      />
    );
  }
  const printed: Printed = run ? { of: "run", run_id: run } : { of: "class", plan: loaded.data.plan, class_id: id };
  return (
    <div className="mx-auto max-w-5xl px-4 py-4 print:max-w-none print:p-0" data-testid="papers">
      <div className="mb-3 flex flex-wrap items-baseline gap-3 print:hidden">
        <h1 className="grow text-2xl font-semibold">{loaded.data.plan.name}, on paper</h1>
        <Link to={run ? `/runs/${run}/book` : `/classes/${id}`} className="underline underline-offset-2">
          {run ? "Back to the run" : "Back to the class"}
        </Link>
      </div>
      <PaperDesk
        printed={printed}
        name={loaded.data.plan.name}
        kinds={PAPERS.filter(([kind]) => mayReadHealth || kind !== "before-start")}
      />
    </div>
  );
}
