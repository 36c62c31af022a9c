import { ChevronDown, Footprints, Shuffle, SlidersHorizontal } from "lucide-react";
import { useState } from "react";

import type { Block, Forecast, Room } from "../api/client";
import { useChosen, useClassDraft, useShownClass } from "../class/classContext";
import { orderWords } from "../shared/blocks";
import { clock, counted } from "../shared/format";
import { Menu } from "../shared/Menu";
import { Pick } from "../shared/Pick";
import { CircleDialog } from "./CircleDialog";
import { RotationDialog } from "./RotationDialog";
import { WhatIfDialog, type Question } from "./WhatIfDialog";
import { WishesDialog } from "./WishesDialog";

type Props = {
  room: Room;
  onSelect: (blockId: string) => void;
  /** the machine and the slot that the instructor has chosen, if any */
  machine: string | null;
  slot: number;
};

const QUESTIONS = [
  ["taken", "A machine is taken"],
  ["leaves", "Somebody leaves"],
  ["comes", "Somebody comes"],
  ["swap", "Another exercise"],
  ["more", "One machine more"],
] as const;

type Open = "rotation" | "wishes" | Question | null;

/** What the chosen block's rotation comes to, and what can be done about it. */
export function RotationStrip(props: Props) {
  const { room } = props;
  const draft = useClassDraft();
  const { plan, forecast, catalogue, known } = useShownClass();
  const { shownBlock: selected } = useChosen();
  const [open, setOpen] = useState<Open>(null);
  const block = plan.blocks[selected];
  const drawn = forecast.blocks[selected];
  if (!block || !drawn) return null;
  const close = () => setOpen(null);
  const taken = room.units.filter((unit) => plan.taken.includes(unit.id));
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1.5 rounded border border-base-300 bg-base-200 px-3 py-1.5">
      <p className="min-w-0 grow text-sm" data-testid="rotation-strip">
        <span className="mr-2 inline-block font-semibold">
          <Pick
            bare
            label="Block"
            value={block.id}
            options={forecast.blocks.map((block) => [block.id, block.name])}
            onChange={props.onSelect}
          />
        </span>
        <BlockWords block={block} drawn={drawn} />
      </p>
      {(block.kind === "sets" || block.kind === "circuit") && (
        <button type="button" className="btn btn-primary btn-sm" onClick={() => setOpen("rotation")}>
          <Shuffle size={15} aria-hidden /> {block.kind === "sets" ? "Find the best rotation" : "Order the circle"}
        </button>
      )}
      <button type="button" className="btn btn-sm" onClick={() => setOpen("wishes")}>
        <SlidersHorizontal size={15} aria-hidden /> Wishes
      </button>
      <Menu
        end
        width="w-60"
        label={
          <>
            <Footprints size={15} aria-hidden /> What if <ChevronDown size={14} aria-hidden />
          </>
        }
        choices={QUESTIONS.map(([question, name]) => ({ id: question, name, onChoose: () => setOpen(question) }))}
      />
      {taken.length > 0 && (
        <p className="w-full text-sm" data-testid="taken">
          Taken:{" "}
          {taken.map((unit) => (
            <button
              key={unit.id}
              type="button"
              className="btn btn-xs mr-1"
              onClick={() => draft.edit((now) => ({ ...now, taken: now.taken.filter((id) => id !== unit.id) }))}
            >
              {unit.name}: free again
            </button>
          ))}
        </p>
      )}
      {open === "rotation" &&
        (block.kind === "sets" ? (
          <RotationDialog
            draft={draft}
            block={block.id}
            crowd={plan.people.length}
            forecast={forecast}
            onClose={close}
          />
        ) : (
          <CircleDialog draft={draft} block={block.id} onClose={close} />
        ))}
      {open === "wishes" && (
        <WishesDialog
          draft={draft}
          selected={selected}
          known={known}
          catalogue={catalogue}
          room={room}
          onClose={close}
        />
      )}
      {open !== null && open !== "rotation" && open !== "wishes" && (
        <WhatIfDialog
          draft={draft}
          question={open}
          forecast={forecast}
          room={room}
          known={known}
          machine={props.machine}
          selected={selected}
          onClose={close}
        />
      )}
    </div>
  );
}

/** How long a block takes, how long people wait in it, and in which order they go. */
function BlockWords({ block, drawn }: { block: Block; drawn: Forecast["blocks"][number] }) {
  const length = drawn.end_s - drawn.start_s;
  const order = orderWords(block);
  return (
    <>
      {clock(length)}
      {block.kind === "sets" && (
        <>
          {" · "}
          <span className={drawn.waiting_s > 60 ? "font-semibold text-error" : ""}>
            {drawn.waiting_s < 1 ? "nobody waits" : `everybody waits ${clock(drawn.waiting_s)} on average`}
          </span>
        </>
      )}
      {drawn.breathers > 0 && ` · ${counted(drawn.breathers, "breather")} a round`}
      <span className="faint"> · {order}</span>
      {block.kind === "sets" && block.within_s != null && (
        <span className={length > block.within_s ? "font-semibold text-error" : "faint"}>
          {" "}
          · may take {clock(block.within_s)}
        </span>
      )}
    </>
  );
}
