import { ChevronsLeft, ChevronsRight, Hand, Pause, Play, Plus } from "lucide-react";
import { useEffect } from "react";

import type { OpenRun } from "../live/useRun";
import { placeIn, type Course } from "../live/course";

const MORE_S = 15;
const JUST_BEGUN_S = 3;

type Props = { run: OpenRun; course: Course; onBegin: () => void; countsIn: boolean };

/** The few presses of a class under way, large enough for a thumb; space and arrows do the same. */
export function Controls({ run, course, onBegin, countsIn }: Props) {
  const { sheet, second, state } = course;
  const stands = state === "paused" || state === "waits for ready";
  function goTo(mark: number) {
    const { block, since } = placeIn(sheet, mark);
    void run.add("went_on", { block: sheet.blocks[block]!.id, second: Math.round(since * 1000) / 1000 });
  }
  const actions = {
    go: () => {
      if (state === "not begun") onBegin();
      else if (stands) void run.add("resumed", {});
      else if (state !== "ended") void run.add("paused", {});
    },
    more: () => void run.add("time_added", { seconds: MORE_S }),
    back: () => goTo(sheet.marks.findLast((mark) => mark < second - JUST_BEGUN_S) ?? 0),
    on: () => goTo(sheet.marks.find((mark) => mark > second) ?? sheet.length_s),
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
        {!begun ? (countsIn ? "Not yet" : "Start") : state === "waits for ready" ? "Ready" : stands ? "Go on" : "Pause"}
      </button>
      <button type="button" className={big} disabled={!begun} onClick={actions.more} title={`${MORE_S} s more (↑)`}>
        <Plus size={22} aria-hidden /> {MORE_S} s
      </button>
      <button
        type="button"
        className={`${big} ${course.stopsAt === null ? "" : "btn-active"}`}
        disabled={state !== "runs"}
        aria-pressed={course.stopsAt !== null}
        onClick={actions.wait}
        title="The clock stops at the next change until you are ready"
      >
        <Hand size={22} aria-hidden /> Wait
      </button>
      <button type="button" className={big} disabled={!begun} onClick={actions.on} title="Skip on (→)">
        <ChevronsRight size={22} aria-hidden /> Skip
      </button>
    </div>
  );
}
