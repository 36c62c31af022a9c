import { useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useCallback, useEffect, useMemo, useState } from "react";
import { useParams, useSearchParams } from "react-router";

import { useMay } from "../api/account";
import { FaultyPlan, isFull, type ClassOut, type Plan } from "../api/client";
import { forecastOf, type Drawn, useCatalogue, useClass, useForecast, usePeople, useRooms } from "../api/queries";
import { Ledger } from "../ledger/Ledger";
import { CannotOpen } from "../shared/CannotOpen";
import { clock } from "../shared/format";
import { Opening } from "../shared/Opening";
import { Readout } from "../score/Readout";
import { Score } from "../score/Score";
import { ChosenContext, DraftContext, MomentContext, ShownClassContext } from "../class/classContext";
import { modernise } from "../draft/olderDrafts";
import { useOwner } from "../keeping/useDocument";
import { placeOf } from "../draft/edits";
import { RunButton } from "./RunButton";
import { PlanHead, type Face } from "./PlanHead";
import { useDraft } from "../draft/useDraft";

const HeldDialog = lazy(async () => ({ default: (await import("../heart/HeldDialog")).HeldDialog }));
const FloorView = lazy(async () => ({ default: (await import("../floor/FloorView")).FloorView }));
const PeopleView = lazy(async () => ({ default: (await import("../heart/PeopleView")).PeopleView }));

/** One class on the design screen. */
export function DesignPage() {
  const id = Number(useParams().id);
  const owner = useOwner();
  const first = useCallback((of: number) => modernise({ owner, kind: "class", id: String(of) }), [owner]);
  const loaded = useClass(id, first);
  if (loaded.isPending) return <Opening what="the class" />;
  if (loaded.isError) {
    return (
      <CannotOpen
        what="This class"
        error={loaded.error}
        again={() => void loaded.refetch()}
        home="/"
        homeName="All classes"
      />
    );
  }
  return <Designer key={id} loaded={loaded.data} />;
}

function Designer({ loaded }: { loaded: ClassOut }) {
  const queries = useQueryClient();
  const foresee = useCallback((next: Plan) => void queries.prefetchQuery(forecastOf(next)), [queries]);
  const draft = useDraft(loaded, foresee);
  const { plan, edit } = draft;
  const forecast = useForecast(plan);
  const catalogue = useCatalogue();
  const room = useRooms().data?.find((useRoom) => useRoom.id === plan.room);
  const people = usePeople().data;

  const longest = plan.blocks.findIndex((block) => block.kind !== "together");
  const [selectedId, select] = useState(plan.blocks[Math.max(longest, 0)]?.id ?? "");
  const selected = Math.max(
    0,
    plan.blocks.findIndex((block) => block.id === selectedId),
  );
  const [address, setFace] = useSearchParams();
  const wanted = address.get("face");
  const face: Face = wanted === "floor" || wanted === "people" ? wanted : "score";
  const [scrubbed, scrub] = useState<number | null>(null);
  const [number, choosePerson] = useState<number | null>(null);
  const [slot, chooseSlot] = useState<string | null>(null);
  const mayPlan = useMay("plan_classes");
  const [logging, log] = useState(false);
  const slotHere = slot && placeOf(plan, slot)?.block === selected ? slot : null;
  const selectBlock = useCallback((id: string) => {
    select(id);
    chooseSlot(null);
  }, []);

  useEffect(() => {
    document.title = `${plan.name} – Oaken Circuit`;
  }, [plan.name]);

  const faults = forecast.error instanceof FaultyPlan ? forecast.error.faults : [];
  // the last good forecast stays while the next one fails
  const [lastGood, keep] = useState<Drawn | null>(null);
  if (forecast.data && forecast.data !== lastGood) keep(forecast.data);
  const shown = forecast.data ?? lastGood;
  const result = shown?.forecast;
  // what is drawn changes once an edit, when its forecast is there; a faulty plan is shown as it is
  const drawn = forecast.isError ? plan : (shown?.plan ?? plan);
  const shownBlock = Math.max(
    0,
    drawn.blocks.findIndex((block) => block.id === plan.blocks[selected]?.id),
  );
  // until the line is moved it stands at the first turn of the main block
  const opening = (result?.blocks.find((block) => block.id === plan.blocks[selected]?.id)?.start_s ?? 0) + 20;
  const at = Math.round(Math.min(scrubbed ?? opening, result?.length.value ?? 0));
  const over = (result?.length.value ?? 0) - (result?.slot_s ?? 0);
  const full = result && isFull(result) ? result : null;
  const person = result?.people.find((person) => person.number === number) ?? null;

  const shownClass = useMemo(
    () =>
      result && { id: loaded.id, plan: drawn, forecast: result, catalogue: catalogue.data, room, known: people, edit },
    [loaded.id, drawn, result, catalogue.data, room, people, edit],
  );
  const moment = useMemo(() => ({ second: at, scrub }), [at]);
  const chosen = useMemo(
    () => ({ selected, shownBlock, selectBlock, slot: slotHere, chooseSlot, person, choosePerson }),
    [selected, shownBlock, selectBlock, slotHere, person],
  );

  return (
    <DraftContext value={draft}>
      <div className="flex flex-col">
        <PlanHead
          classId={loaded.id}
          draft={draft}
          room={room}
          catalogue={catalogue.data}
          face={face}
          onFace={(next) => setFace(next === "score" ? {} : { face: next })}
        />
        {forecast.isError && (
          <div role="alert" className="mx-4 mb-2 rounded border border-error p-2 text-sm lg:mx-6">
            <strong>The score shows the last state that could be computed.</strong>{" "}
            {faults.length
              ? faults
                  .map(
                    (fault) =>
                      `${fault.place}, ${fault.field}: ${fault.message}${fault.right ? ` (${fault.right})` : ""}`,
                  )
                  .join("; ")
              : forecast.error.message}
            {!faults.length && (
              <button type="button" className="btn btn-xs ml-2" onClick={() => forecast.refetch()}>
                Try again
              </button>
            )}
          </div>
        )}
        {result && shownClass ? (
          <ShownClassContext value={shownClass}>
            <MomentContext value={moment}>
              <ChosenContext value={chosen}>
                <p className="flex items-baseline justify-between px-4 pb-1 lg:hidden">
                  <span className={over > 0 ? "font-semibold text-accent" : ""}>
                    {over > 0 ? `▲ ${clock(over)} over the class length` : `${clock(-over)} to spare`}
                  </span>
                  <strong className="text-2xl">{clock(result.length.value)}</strong>
                </p>
                {!mayPlan && (
                  <div className="mx-4 mb-2 flex items-center gap-3 rounded border border-base-300 bg-base-200 px-3 py-1.5 text-sm lg:mx-6">
                    <span className="grow">You run and log this class; planning is for instructors.</span>
                    <RunButton classId={loaded.id} draft={draft} />
                    <button type="button" className="btn btn-sm" onClick={() => log(true)}>
                      Log as held
                    </button>
                    {logging && (
                      <Suspense fallback={null}>
                        <HeldDialog classId={loaded.id} draft={draft} forecast={result} onClose={() => log(false)} />
                      </Suspense>
                    )}
                  </div>
                )}
                {face === "people" && full ? (
                  <Suspense fallback={<Opening what="the class" />}>
                    <PeopleView forecast={full} />
                  </Suspense>
                ) : face === "floor" ? (
                  <Suspense fallback={<Opening what="the floor" />}>
                    <FloorView />
                  </Suspense>
                ) : (
                  <>
                    <div className="grid gap-4 px-4 lg:grid-cols-[minmax(0,1fr)_15.5rem] lg:px-6">
                      <Score />
                      <Ledger />
                    </div>
                    <Readout />
                  </>
                )}
              </ChosenContext>
            </MomentContext>
          </ShownClassContext>
        ) : forecast.isError ? null : (
          <Opening what="the class" />
        )}
      </div>
    </DraftContext>
  );
}
