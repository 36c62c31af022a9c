import { ChevronsLeft, ChevronsRight, Hand, Pause, Play, Plus } from "lucide-react";
import { useEffect, useState } from "react";

import type { OpenRun } from "../live/useRun";
import { placeIn, type RunState } from "../live/runState";
import { Dialog } from "../shared/Dialog";
import { clock } from "../shared/format";
import type { Sheet } from "../api/runs";
import { entryAt } from "../basis/entries";

const MORE_S = 15;
const JUST_BEGUN_S = 3;
/** A skip that leaves out more than this is asked about. */
const ASKS_FROM_S = 60;
/** For so long a skip can be taken back with one press. */
const UNDO_MS = 12_000;

type Skipped = { id: string; words: string };

function placeWords(sheet: Sheet, second: number): string {
  if (second >= sheet.length_s) return "the end of the plan";
  const { block, since } = placeIn(sheet, second);
  const { name, end_s } = entryAt(sheet.blocks, block);
  if (second >= end_s - 0.5) return `the end of ${name}`;
  return since < 1 ? name : `${name}, ${clock(since)}`;
}

type Props = { run: OpenRun; runState: RunState; onBegin: () => void; countsIn: boolean };

/** The few presses of a class under way, large enough for a thumb; space and arrows do the same. */
export function Controls({ run, runState, onBegin, countsIn }: Props) {
  const { sheet, second, state } = runState;
  const stands = state === "paused" || state === "waits for ready";
  /** where a skip would lead that leaves out more than a minute, while it is asked about */
  const [asked, ask] = useState<number | null>(null);
  const [skipped, setSkipped] = useState<Skipped | null>(null);
  async function goTo(mark: number, way: "on" | "back") {
    const { block, since } = placeIn(sheet, mark);
    const at = { block: entryAt(sheet.blocks, block).id, second: Math.round(since * 1000) / 1000 };
    const event = await run.add("went_on", { ...at, way });
    setSkipped({ id: event.id, words: `${way === "on" ? "Skipped on" : "Went back"} to ${placeWords(sheet, mark)}` });
  }
  function skip() {
    const mark = sheet.marks.find((mark) => mark > second) ?? sheet.length_s;
    if (mark - second > ASKS_FROM_S) ask(mark);
    else void goTo(mark, "on");
  }
  function skipAsked() {
    const mark = asked;
    ask(null);
    // meanwhile the clock, or another hand, may have come there
    if (mark !== null && mark > second) void goTo(mark, "on");
  }
  const actions = {
    go: () => {
      if (state === "not begun") onBegin();
      else if (stands) void run.add("resumed", {});
      else if (state !== "ended") void run.add("paused", {});
    },
    more: () => void run.add("time_added", { seconds: MORE_S }),
    back: () => void goTo(sheet.marks.findLast((mark) => mark < second - JUST_BEGUN_S) ?? 0, "back"),
    on: skip,
    wait: () => void run.add("waits_for_ready", {}),
  };
  const begun = state !== "not begun";
  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      const at = event.target instanceof Element ? event.target : null;
      if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
      if (at?.closest("button, a, input, select, textarea, dialog, [role=slider], [role=menu]")) return;
      const act = { " ": actions.go, ArrowRight: actions.on, ArrowLeft: actions.back, ArrowUp: actions.more }[
        event.key
      ];
      if (!act || (!begun && event.key !== " ")) return;
      event.preventDefault();
      act();
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });
  const big = "btn h-14 min-w-0 flex-1 flex-col gap-0 px-1 text-sm leading-tight sm:flex-none sm:px-5";
  return (
    <>
      <Taken run={run} skipped={skipped} onGone={() => setSkipped(null)} />
      {asked !== null && <SkipQuestion runState={runState} mark={asked} onStay={() => ask(null)} onSkip={skipAsked} />}
      <div className="flex items-stretch gap-2" role="group" aria-label="Run the class">
        <button type="button" className={big} disabled={!begun} onClick={actions.back} title="Back one (←)">
          <ChevronsLeft size={22} aria-hidden /> Back
        </button>
        <button
          type="button"
          className="btn btn-primary h-14 flex-[2] px-2 text-xl sm:px-6 sm:flex-none sm:min-w-44"
          onClick={actions.go}
          title="Space"
        >
          {!begun || stands ? <Play size={24} aria-hidden /> : <Pause size={24} aria-hidden />}
          {!begun
            ? countsIn
              ? "Not yet"
              : "Start"
            : state === "waits for ready"
              ? "Ready"
              : stands
                ? "Go on"
                : "Pause"}
        </button>
        <button type="button" className={big} disabled={!begun} onClick={actions.more} title={`${MORE_S} s more (↑)`}>
          <Plus size={22} aria-hidden /> {MORE_S} s
        </button>
        <button
          type="button"
          className={`${big} ${runState.stopsAt === null ? "" : "btn-active"}`}
          disabled={state !== "runs"}
          aria-pressed={runState.stopsAt !== null}
          onClick={actions.wait}
          title="The clock stops at the next change until you are ready"
        >
          <Hand size={22} aria-hidden /> Wait
        </button>
        <button type="button" className={big} disabled={!begun} onClick={actions.on} title="Skip on (→)">
          <ChevronsRight size={22} aria-hidden /> Skip
        </button>
      </div>
    </>
  );
}

/** What became of a skip, for as long as one press takes it back; and a press that counted once with another hand's. */
function Taken({ run, skipped, onGone }: { run: OpenRun; skipped: Skipped | null; onGone: () => void }) {
  useEffect(() => {
    if (!skipped) return;
    const timer = window.setTimeout(onGone, UNDO_MS);
    return () => window.clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only another skip begins the time anew
  }, [skipped]);
  const counts = skipped !== null && run.events.some((event) => event.id === skipped.id);
  if (run.countedOnce)
    return (
      <p role="status" className="mb-1 text-center text-sm" data-testid="counted-once">
        Another device pressed at the same moment: it counts once.
      </p>
    );
  if (!skipped || !counts) return null;
  return (
    <p role="status" className="mb-1 flex items-center justify-center gap-3 text-sm" data-testid="skipped">
      {skipped.words}.
      <button
        type="button"
        className="btn h-11"
        onClick={() => {
          void run.withdraw(skipped.id);
          onGone();
        }}
      >
        Undo
      </button>
    </p>
  );
}

type SkipQuestionProps = { runState: RunState; mark: number; onStay: () => void; onSkip: () => void };

/** Asks before more than a minute of the class is left out. */
function SkipQuestion({ runState: { sheet, second }, mark, onStay, onSkip }: SkipQuestionProps) {
  return (
    <Dialog
      title={`Skip ${clock(Math.max(0, mark - second))} of ${entryAt(sheet.blocks, placeIn(sheet, second).block).name}?`}
      onClose={onStay}
    >
      <p>What is left of it is not done. The class goes on at {placeWords(sheet, mark)}.</p>
      <div className="mt-4 flex gap-2">
        <button type="button" className="btn h-14" data-first onClick={onStay}>
          Stay
        </button>
        <button type="button" className="btn btn-primary h-14" onClick={onSkip}>
          Skip it
        </button>
      </div>
    </Dialog>
  );
}
