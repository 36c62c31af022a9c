import { ArrowLeft, ArrowRight, Plus, Trash2 } from "lucide-react";
import { useState } from "react";

import type { Block, Catalogue, Room } from "../api/client";
import { ExercisePicker } from "../catalogue/ExercisePicker";
import { addBlock, freshId, moveBlock, removeBlock, setBlock } from "../design/edits";
import type { Draft } from "../design/useDraft";
import { NumberField } from "../shared/NumberField";

const KINDS: { kind: Block["kind"]; name: string; what: string }[] = [
  { kind: "circuit", name: "Stations on the clock", what: "everybody moves on the bell" },
  { kind: "sets", name: "Sets and supersets", what: "groups of exercises at people's own pace" },
  { kind: "together", name: "All together", what: "warm-up, stretching, cool-down" },
];

type Props = { draft: Draft; selected: number; onSelect: (blockId: string) => void };

/** The selected block's own figures, edited in place, and what can be done with the block. */
export function BlockBar({ draft, selected, onSelect }: Props) {
  const { plan, edit } = draft;
  const block = plan.blocks[selected]!;
  const field = (name: string) => `${block.id}-${name}`;
  const last = selected === plan.blocks.length - 1;

  return (
    <div
      className="my-1 flex flex-wrap items-center gap-x-2 gap-y-1 rounded bg-base-200 px-2 py-1"
      data-testid="block-bar"
    >
      <input
        aria-label="Name of the block"
        className="max-w-52 min-w-16 [field-sizing:content] rounded border border-transparent bg-transparent font-semibold hover:border-base-300"
        value={block.name}
        maxLength={120}
        onChange={(event) => {
          if (event.target.value) edit(setBlock(selected, { name: event.target.value }), field("name"));
        }}
      />
      {block.kind === "circuit" && (
        <>
          <NumberField
            label="Work"
            unit="s"
            value={block.work_s}
            min={5}
            max={3600}
            step={5}
            onChange={(work_s) => edit(setBlock(selected, { work_s }), field("work"))}
          />
          <NumberField
            label="Change"
            unit="s"
            value={block.change_s}
            min={0}
            max={1800}
            step={5}
            onChange={(change_s) => edit(setBlock(selected, { change_s }), field("change"))}
          />
          <NumberField
            label="Rounds"
            value={block.rounds}
            min={1}
            max={20}
            onChange={(rounds) => edit(setBlock(selected, { rounds }), field("rounds"))}
          />
          {block.rounds > 1 && (
            <NumberField
              label="Round rest"
              unit="s"
              value={block.round_rest_s ?? block.change_s}
              min={0}
              max={1800}
              step={15}
              onChange={(round_rest_s) => edit(setBlock(selected, { round_rest_s }), field("rest"))}
            />
          )}
        </>
      )}
      {!last && (
        <NumberField
          label="Move on"
          unit="s"
          value={block.move_on_s}
          min={0}
          max={1800}
          step={15}
          onChange={(move_on_s) => edit(setBlock(selected, { move_on_s }), field("move"))}
        />
      )}
      <span className="ml-auto flex items-center gap-1">
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Block earlier"
          disabled={selected === 0}
          onClick={() => edit(moveBlock(selected, selected - 1))}
        >
          <ArrowLeft size={15} aria-hidden />
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Block later"
          disabled={last}
          onClick={() => edit(moveBlock(selected, selected + 1))}
        >
          <ArrowRight size={15} aria-hidden />
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Remove block"
          disabled={plan.blocks.length === 1}
          onClick={() => {
            onSelect(plan.blocks[selected === 0 ? 1 : selected - 1]!.id);
            edit(removeBlock(selected));
          }}
        >
          <Trash2 size={15} aria-hidden />
        </button>
      </span>
    </div>
  );
}

type AddProps = {
  draft: Draft;
  onSelect: (blockId: string) => void;
  catalogue: Catalogue | undefined;
  room: Room | undefined;
};

/** Adds a block of a kind, beginning with the exercise that is picked first. */
export function AddBlock({ draft, onSelect, catalogue, room }: AddProps) {
  const { edit } = draft;
  const [adding, setAdding] = useState<Block["kind"] | null>(null);
  return (
    <>
      <div className="dropdown">
        <button type="button" tabIndex={0} className="btn btn-xs">
          <Plus size={14} aria-hidden /> Block
        </button>
        <ul
          tabIndex={-1}
          className="dropdown-content z-40 mt-1 w-64 rounded border border-base-300 bg-base-100 p-1 shadow"
        >
          {KINDS.map((one) => (
            <li key={one.kind}>
              <button
                type="button"
                className="w-full rounded px-2 py-1.5 text-left hover:bg-base-200"
                onClick={() => setAdding(one.kind)}
              >
                <span className="font-semibold">{one.name}</span>
                <span className="faint block text-xs">{one.what}</span>
              </button>
            </li>
          ))}
        </ul>
      </div>
      {adding && (
        <ExercisePicker
          title="First exercise of the new block"
          catalogue={catalogue}
          room={room}
          onClose={() => setAdding(null)}
          onPick={(exercise) => {
            const id = freshId();
            edit(addBlock(adding, exercise, id));
            onSelect(id);
            setAdding(null);
          }}
        />
      )}
    </>
  );
}
