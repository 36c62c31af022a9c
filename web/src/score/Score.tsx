import { useCallback, useLayoutEffect, useState } from "react";

import type { Catalogue, Forecast, PersonForecast, Plan, Room } from "../api/client";
import { moveBlock, placeOf } from "../design/edits";
import { SlotBar } from "../design/SlotBar";
import type { Draft } from "../design/useDraft";
import { clock } from "../shared/format";
import { Switch } from "../shared/Switch";
import { x } from "./axis";
import { AddBlock, BlockBar } from "./BlockBar";
import { EnergyCurve, HeartBand } from "./Curves";
import { Planks } from "./Planks";
import { Staves, type Adding } from "./Staves";
import { TimeRule } from "./TimeRule";
import { useChart } from "./useChart";

type Props = {
  draft: Draft;
  /** the plan whose forecast is drawn */
  plan: Plan;
  forecast: Forecast;
  catalogue: Catalogue | undefined;
  room: Room | undefined;
  selected: number;
  onSelect: (blockId: string) => void;
  second: number;
  onScrub: (second: number) => void;
  person: PersonForecast | null;
  slot: string | null;
  onSlot: (id: string | null) => void;
};

/** The class score: planks, staves, hearts and energy on one time axis, with one scrub line through all of them. */
export function Score(props: Props) {
  const { draft, plan, forecast, selected, onSelect, second, onScrub, person } = props;
  // the selected block in what is drawn, which may be an edit behind
  const drawn = Math.max(
    0,
    plan.blocks.findIndex((block) => block.id === draft.plan.blocks[selected]?.id),
  );
  const [closeUp, setCloseUp] = useState(false);
  const [adding, setAdding] = useState<Adding>(null);

  const { chart, width, axis, drag } = useChart({
    forecast,
    closeUp: closeUp ? drawn : null,
    whole: Math.max(forecast.length.value, forecast.slot_s) * 1.015,
    onScrub,
  });

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

  const place = props.slot ? placeOf(draft.plan, props.slot) : null;
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
  // the words of the slot's end stand on the roomier side of its line, and hide the minutes they would cover
  const words: [number, number] = slotEnd > width - 106 ? [slotEnd - 106, slotEnd] : [slotEnd, slotEnd + 106];
  return (
    <section aria-label="Class score" className="relative min-w-0" data-testid="score">
      <div className="grid score-columns">
        <div className="flex flex-wrap items-center gap-1 pr-2">
          <Switch
            options={[
              ["class", "Whole class"],
              ["block", "This block"],
            ]}
            value={closeUp ? "block" : "class"}
            onChange={(one) => setCloseUp(one === "block")}
          />
          <AddBlock draft={draft} selected={selected} onSelect={onSelect} />
        </div>
        <div ref={chart}>
          {width > 0 && <Planks axis={axis} forecast={forecast} selected={drawn} onSelect={onSelect} onMove={moveBy} />}
        </div>
      </div>
      <div className="held-at-top">
        <BlockBar
          draft={draft}
          selected={selected}
          onSelect={onSelect}
          onAdd={() => setAdding({ toBlock: true })}
          forecast={forecast.blocks[drawn]}
        />
        {place && place.block === selected && (
          <SlotBar
            key={props.slot}
            draft={draft}
            place={place}
            id={props.slot!}
            forecast={forecast}
            catalogue={props.catalogue}
            room={props.room}
            onSlot={props.onSlot}
          />
        )}
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
          <Staves
            plan={plan}
            edit={draft.edit}
            forecast={forecast}
            catalogue={props.catalogue}
            room={props.room}
            selected={drawn}
            person={person}
            axis={axis}
            drag={drag}
            slot={props.slot}
            onSlot={props.onSlot}
            adding={adding}
            onAdding={setAdding}
          />
          <div className="held-at-foot bg-base-100">
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
                  slot ends {clock(forecast.slot_s)}
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
