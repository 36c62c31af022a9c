import { useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useCallback, useEffect, useState } from "react";
import { useParams, useSearchParams } from "react-router";

import { useIsInstructor } from "../api/account";
import { FaultyPlan, isFull, type ClassOut, type Plan } from "../api/client";
import { forecastOf, type Drawn, useCatalogue, useClass, useForecast, usePeople, useRooms } from "../api/queries";
import { FloorView } from "../floor/FloorView";
import { Ledger } from "../ledger/Ledger";
import { CannotOpen } from "../shared/CannotOpen";
import { clock } from "../shared/format";
import { Opening } from "../shared/Opening";
import { Readout } from "../score/Readout";
import { Score } from "../score/Score";
import { modernise } from "./keptDraft";
import { placeOf } from "./edits";
import { LivePlan } from "./livePlan";
import { PlanHead, type Face } from "./PlanHead";
import { useDraft } from "./useDraft";

const HeldDialog = lazy(async () => ({ default: (await import("../heart/HeldDialog")).HeldDialog }));
const PeopleView = lazy(async () => ({ default: (await import("../heart/PeopleView")).PeopleView }));

/** One class on the design screen. */
export function DesignPage() {
  const id = Number(useParams().id);
  const loaded = useClass(id, modernise);
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
  const { plan, undo, redo } = draft;
  const forecast = useForecast(plan);
  const catalogue = useCatalogue();
  const room = useRooms().data?.find((one) => one.id === plan.room);
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
  const instructor = useIsInstructor();
  const [logging, log] = useState(false);
  const slotHere = slot && placeOf(plan, slot)?.block === selected ? slot : null;
  const selectBlock = useCallback((id: string) => {
    select(id);
    chooseSlot(null);
  }, []);

  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
      // a text being written has an undo of its own
      if (event.target instanceof Element && event.target.closest("textarea, dialog")) return;
      const key = event.key.toLowerCase();
      if (key === "z" && !event.shiftKey) undo();
      else if (key === "y" || (key === "z" && event.shiftKey)) redo();
      else return;
      event.preventDefault();
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [undo, redo]);

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
  const person = result?.people.find((one) => one.number === number) ?? null;

  return (
    <LivePlan value={plan}>
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
                  .map((one) => `${one.place}, ${one.field}: ${one.message}${one.right ? ` (${one.right})` : ""}`)
                  .join("; ")
              : forecast.error.message}
            {!faults.length && (
              <button type="button" className="btn btn-xs ml-2" onClick={() => forecast.refetch()}>
                Try again
              </button>
            )}
          </div>
        )}
        {result ? (
          <>
            <p className="flex items-baseline justify-between px-4 pb-1 lg:hidden">
              <span className={over > 0 ? "font-semibold text-accent" : ""}>
                {over > 0 ? `▲ ${clock(over)} over the slot` : `${clock(-over)} to spare`}
              </span>
              <strong className="text-2xl">{clock(result.length.value)}</strong>
            </p>
            {!instructor && (
              <div className="mx-4 mb-2 flex items-center gap-3 rounded border border-base-300 bg-base-200 px-3 py-1.5 text-sm lg:mx-6">
                <span className="grow">You run and log this class; planning is for instructors.</span>
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
                <PeopleView
                  classId={loaded.id}
                  draft={draft}
                  plan={drawn}
                  forecast={full}
                  selected={shownBlock}
                  onSelect={selectBlock}
                  second={at}
                  onScrub={scrub}
                  person={full.people.find((one) => one.number === person?.number) ?? null}
                  onPerson={choosePerson}
                />
              </Suspense>
            ) : face === "floor" ? (
              <FloorView
                draft={draft}
                plan={drawn}
                forecast={result}
                catalogue={catalogue.data}
                room={room}
                known={people}
                selected={shownBlock}
                onSelect={selectBlock}
                second={at}
                onScrub={scrub}
                person={person}
                onPerson={choosePerson}
              />
            ) : (
              <>
                <div className="grid gap-4 px-4 lg:grid-cols-[minmax(0,1fr)_15.5rem] lg:px-6">
                  <Score
                    draft={draft}
                    plan={drawn}
                    forecast={result}
                    catalogue={catalogue.data}
                    room={room}
                    selected={selected}
                    onSelect={selectBlock}
                    second={at}
                    onScrub={scrub}
                    person={person}
                    slot={slotHere}
                    onSlot={chooseSlot}
                  />
                  <Ledger
                    forecast={result}
                    plan={drawn}
                    edit={draft.edit}
                    person={person}
                    onPerson={choosePerson}
                    onSelectBlock={selectBlock}
                  />
                </div>
                <Readout
                  forecast={result}
                  plan={drawn}
                  second={at}
                  chosen={number}
                  onChoose={choosePerson}
                  known={people}
                />
              </>
            )}
          </>
        ) : forecast.isError ? null : (
          <Opening what="the class" />
        )}
      </div>
    </LivePlan>
  );
}
