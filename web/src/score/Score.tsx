import { ChevronLeft, ChevronRight } from "lucide-react";
import { useCallback, useLayoutEffect, useRef, useState } from "react";

import { useChosen, useClassDraft, useMoment, useShownClass } from "../class/classContext";
import { moveBlock, placeOf } from "../draft/edits";
import { SlotBar } from "./SlotBar";
import { clock } from "../shared/format";
import { IconButton } from "../shared/IconButton";
import { Switch } from "../shared/Switch";
import { x } from "../drawing/axis";
import { AddBlock, BlockBar } from "./BlockBar";
import { EnergyCurve, HeartBand } from "../drawing/Curves";
import { Planks } from "../drawing/Planks";
import { Staves, type Adding } from "./Staves";
import { TimeRule } from "../drawing/TimeRule";
import { useChart } from "../drawing/useChart";
import { useWholeRows } from "./useWholeRows";
import { present } from "../basis/entries";

const WIDE = [
  ["class", "Whole class"],
  ["block", "This block"],
  ["near", "3 min"],
] as const;
const NARROW = [
  ["class", "All"],
  ["block", "Block"],
  ["near", "3 min"],
] as const;

/** So many seconds are shown at a time where the screen is too narrow for numbers on a whole class. */
const PAGE_S = 180;

function onPhone(): boolean {
  return window.matchMedia?.("(width < 40rem)").matches ?? false;
}

function pageOf(second: number): [number, number] {
  const from = Math.floor(second / PAGE_S) * PAGE_S;
  return [from, from + PAGE_S];
}

/** The class score: planks, staves, hearts and energy on one time axis, with one scrub line through all of them. */
export function Score() {
  const draft = useClassDraft();
  const { forecast } = useShownClass();
  const { second, scrub: onScrub } = useMoment();
  const { selected, shownBlock: drawn, selectBlock, slot, person } = useChosen();
  const [shown, show] = useState<"class" | "block" | "near">(onPhone() ? "near" : "class");
  const [adding, setAdding] = useState<Adding>(null);

  const { chart, width, axis, drag } = useChart({
    forecast,
    closeUp: shown === "block" ? drawn : null,
    near: shown === "near" ? pageOf(second) : null,
    whole: Math.max(forecast.length.value, forecast.slot_s) * 1.015,
    onScrub,
  });

  const section = useRef<HTMLElement>(null);
  useWholeRows(section, forecast);

  // from the edit to the moment the frame with the score made of it has been painted: a message sent at the frame's
  // beginning arrives behind its painting
  useLayoutEffect(() => {
    if (!performance.getEntriesByName("oaken-edit").length || !width) return;
    const painted = new MessageChannel();
    painted.port1.onmessage = () => {
      performance.measure("oaken-edit-to-score", "oaken-edit");
      performance.clearMarks("oaken-edit");
    };
    const frame = requestAnimationFrame(() => painted.port2.postMessage(null));
    return () => cancelAnimationFrame(frame);
  }, [forecast, width]);

  const place = slot ? placeOf(draft.plan, slot) : null;
  const { edit } = draft;
  const moveBy = useCallback(
    (id: string, by: 1 | -1) =>
      edit((now) => {
        const at = now.blocks.findIndex((block) => block.id === id);
        return at < 0 ? now : moveBlock(at, at + by)(now);
      }),
    [edit],
  );
  const slotEnd = x(axis, forecast.slot_s);
  const line = x(axis, second);
  // the words of the planned end stand on the roomier side of its line, and hide the minutes they would cover
  const words: [number, number] = slotEnd > width - 106 ? [slotEnd - 106, slotEnd] : [slotEnd, slotEnd + 106];
  return (
    <section ref={section} aria-label="Class score" className="relative min-w-0" data-testid="score">
      <div className="grid score-columns">
        <div className="flex flex-wrap items-center gap-1 pr-2">
          <Switch options={onPhone() ? NARROW : WIDE} value={shown} onChange={show} />
          {shown === "near" && (
            <>
              <IconButton
                label="Three minutes earlier"
                disabled={second < PAGE_S}
                onClick={() => onScrub(Math.max(0, second - PAGE_S))}
              >
                <ChevronLeft size={15} aria-hidden />
              </IconButton>
              <IconButton
                label="Three minutes later"
                disabled={pageOf(second)[1] >= forecast.length.value}
                onClick={() => onScrub(Math.min(Math.round(forecast.length.value), second + PAGE_S))}
              >
                <ChevronRight size={15} aria-hidden />
              </IconButton>
            </>
          )}
          <AddBlock />
        </div>
        <div ref={chart}>
          {width > 0 && (
            <Planks axis={axis} forecast={forecast} selected={drawn} onSelect={selectBlock} onMove={moveBy} />
          )}
        </div>
      </div>
      <div className="held-at-top">
        <BlockBar onAdd={() => setAdding({ toBlock: true })} />
        {place && place.block === selected && <SlotBar key={slot} place={place} id={present(slot, "The exercise")} />}
      </div>
      {width > 0 && (
        <div className="relative">
          <div className="grid score-columns">
            <div className="faint self-end pr-3 text-right text-xs">minutes</div>
            <TimeRule
              axis={axis}
              length={forecast.length.value}
              second={second}
              onScrub={onScrub}
              drag={drag}
              hidden={words}
            />
          </div>
          <Staves axis={axis} drag={drag} adding={adding} onAdding={setAdding} />
          <div data-foot className="held-at-foot bg-base-100 shadow-[0_-8px_8px_-8px_rgb(0_0_0/0.35)]">
            <HeartBand axis={axis} forecast={forecast} person={person} drag={drag} second={second} />
            <EnergyCurve axis={axis} forecast={forecast} person={person} drag={drag} />
          </div>
          <div
            className="pointer-events-none absolute inset-y-0 right-0 left-(--gutter) z-10 overflow-hidden"
            aria-hidden
          >
            {slotEnd >= 0 && slotEnd <= width && (
              <>
                <div className="absolute inset-y-0 border-l-2 border-dashed border-accent" style={{ left: slotEnd }} />
                <span
                  className="absolute top-1 px-1 text-xs font-semibold whitespace-nowrap text-accent"
                  style={words[1] === slotEnd ? { right: width - slotEnd + 4 } : { left: slotEnd + 4 }}
                >
                  planned end {clock(forecast.slot_s)}
                </span>
              </>
            )}
            {line >= 0 && line <= width && (
              <>
                <div className="absolute inset-y-0 border-l-2 border-base-content" style={{ left: line - 1 }} />
                <span
                  className="absolute top-0 rounded-sm bg-neutral px-1.5 text-sm font-semibold text-neutral-content"
                  style={{ left: Math.min(Math.max(line - 22, 0), width - 46) }}
                >
                  {clock(second)}
                </span>
              </>
            )}
          </div>
        </div>
      )}
    </section>
  );
}
