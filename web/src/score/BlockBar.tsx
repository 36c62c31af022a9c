import { ArrowLeft, ArrowRight, ClipboardCopy, Copy, Plus, Trash2 } from "lucide-react";
import { useState } from "react";

import type { Block, Circuit, Relay, Sets } from "../api/client";
import { useChosen, useClassDraft, useShownClass } from "../class/classContext";
import { useTemplates } from "../api/queries";
import { copiedBlock, copyBlock } from "../draft/clipboard";
import { copyOfBlock, freshId, insertBlock, moveBlock, removeBlock, setBlock, turnsOf } from "../draft/edits";
import { KINDS } from "../shared/blocks";
import { clock, counted } from "../shared/format";
import { IconButton } from "../shared/IconButton";
import { Menu } from "../shared/Menu";
import { NumberField } from "../shared/NumberField";
import { Pick } from "../shared/Pick";
import { RatioPick } from "./RatioPick";
import { entryAt } from "../basis/entries";

const PURPOSES: [NonNullable<Block["purpose"]>, string][] = [
  ["warm_up", "warm-up"],
  ["activation", "activation"],
  ["stretching", "stretching"],
  ["rolling", "rolling"],
  ["strength", "strength"],
  ["conditioning", "conditioning"],
  ["finisher", "finisher"],
  ["talk", "talk"],
  ["water", "water"],
  ["tidy_up", "tidy-up"],
  ["cool_down", "cool-down"],
];

/** The selected block's own figures, edited in place, and what can be done with the block. */
export function BlockBar({ onAdd }: { onAdd: () => void }) {
  const draft = useClassDraft();
  const { selected, shownBlock } = useChosen();
  // the block as it was forecast last
  const forecast = useShownClass().forecast.blocks[shownBlock];
  const { plan, edit } = draft;
  const block = entryAt(plan.blocks, selected);
  const field = (name: string) => `${block.id}-${name}`;
  const set: SetFields = (fields, name) => edit(setBlock(selected, fields), name && field(name));
  const last = selected === plan.blocks.length - 1;

  return (
    <div
      className="my-1 flex flex-wrap items-center gap-x-1.5 gap-y-1 rounded bg-base-200 px-2 py-1"
      data-testid="block-bar"
    >
      <input
        aria-label="Name of the block"
        className="max-w-52 min-w-16 [field-sizing:content] rounded border border-transparent bg-transparent font-semibold hover:border-base-300"
        value={block.name}
        maxLength={120}
        onChange={(event) => {
          const name = event.target.value;
          if (name.trim()) edit(setBlock(selected, { name: name.trimStart() }), field("name"));
        }}
        onBlur={() => edit(setBlock(selected, { name: block.name.trim() }), field("name"))}
      />
      <button type="button" className="btn btn-xs" onClick={onAdd}>
        <Plus size={14} aria-hidden /> {KINDS[block.kind].adds}
      </button>
      <Pick
        label="For"
        value={block.purpose ?? ""}
        options={[["", "not said"], ...PURPOSES]}
        onChange={(purpose) => edit(setBlock(selected, { purpose: purpose || null }))}
      />
      <KindFields block={block} set={set} />
      {!last && (
        <NumberField
          label="Transition"
          unit="s"
          value={block.move_on_s}
          min={0}
          max={1800}
          step={15}
          onChange={(move_on_s) => edit(setBlock(selected, { move_on_s }), field("move"))}
        />
      )}
      {forecast && (
        <span className="text-sm whitespace-nowrap" data-testid="block-time">
          <strong>{clock(forecast.end_s - forecast.start_s)}</strong>
          {forecast.shortest_s !== forecast.longest_s && (
            <span className="faint">
              {" "}
              ({clock(forecast.shortest_s)}–{clock(forecast.longest_s)})
            </span>
          )}
        </span>
      )}
      <BlockTools />
    </div>
  );
}

/** Changes fields of the block; several changes of one that is named are one step back. */
type SetFields = (fields: Parameters<typeof setBlock>[1], name?: string) => void;

/** What is edited of a block because of its kind. */
function KindFields({ block, set }: { block: Block; set: SetFields }) {
  switch (block.kind) {
    case "circuit":
      return <CircuitFields block={block} set={set} />;
    case "sets":
      return <SetsFields block={block} set={set} />;
    case "relay":
      return <RelayFields block={block} set={set} />;
    case "together":
      return null;
  }
}

function CircuitFields({ block, set }: { block: Circuit; set: SetFields }) {
  return (
    <>
      <NumberField
        label="Work"
        unit="s"
        value={block.work_s}
        min={5}
        max={3600}
        step={5}
        onChange={(work_s) => set({ work_s, turn_s: fittingTurn(block.turn_s, work_s) }, "work")}
      />
      <NumberField
        label="Change"
        unit="s"
        value={block.change_s}
        min={0}
        max={1800}
        step={5}
        onChange={(change_s) => set({ change_s }, "change")}
      />
      <RatioPick
        work={block.work_s}
        change={block.change_s}
        onChange={(work_s, change_s) => set({ work_s, change_s, turn_s: fittingTurn(block.turn_s, work_s) }, "ratio")}
      />
      <NumberField
        label="Rounds"
        value={block.rounds}
        min={1}
        max={20}
        onChange={(rounds) => set({ rounds }, "rounds")}
      />
      {block.rounds > 1 && (
        <NumberField
          label="Round rest"
          unit="s"
          value={block.round_rest_s ?? block.change_s}
          min={0}
          max={1800}
          step={15}
          onChange={(round_rest_s) => set({ round_rest_s }, "rest")}
        />
      )}
      <Pick
        label="Partners"
        value={String(block.turn_s ?? "")}
        options={[
          ["", "none"],
          ...turnsOf(block.work_s).map((turn): [string, string] => [String(turn), `you go, I go: ${turn} s`]),
        ]}
        onChange={(turn) => set({ turn_s: turn ? Number(turn) : null })}
      />
    </>
  );
}

function SetsFields({ block, set }: { block: Sets; set: SetFields }) {
  return (
    <>
      <Pick
        label="Rounds"
        value={block.rounds_run}
        options={[
          ["back_and_forth", "group by group"],
          ["whole_circuit", "whole circuit"],
        ]}
        onChange={(way) => set({ rounds_run: way })}
      />
      <Pick
        label="Start order"
        value={block.start}
        options={[
          ["spread", "spread out"],
          ["in_order", "with the first"],
        ]}
        onChange={(start) => set({ start })}
      />
    </>
  );
}

function RelayFields({ block, set }: { block: Relay; set: SetFields }) {
  return (
    <>
      <NumberField
        label="Team of"
        value={block.team_size}
        min={2}
        max={8}
        onChange={(team_size) => set({ team_size }, "team")}
      />
      <NumberField
        label="Tag"
        unit="s"
        value={block.change_s}
        min={0}
        max={60}
        onChange={(change_s) => set({ change_s }, "tag")}
      />
    </>
  );
}

/** Moves, copies and removes the selected block. */
function BlockTools() {
  const [copied, setCopied] = useState("");
  const { plan, edit } = useClassDraft();
  const { selected, selectBlock: onSelect } = useChosen();
  const block = entryAt(plan.blocks, selected);
  const last = selected === plan.blocks.length - 1;
  return (
    <span className="ml-auto flex items-center">
      <span role="status" className="faint text-xs">
        {copied}
      </span>
      <IconButton
        label="Block earlier"
        disabled={selected === 0}
        onClick={() => edit(moveBlock(selected, selected - 1))}
      >
        <ArrowLeft size={15} aria-hidden />
      </IconButton>
      <IconButton label="Block later" disabled={last} onClick={() => edit(moveBlock(selected, selected + 1))}>
        <ArrowRight size={15} aria-hidden />
      </IconButton>
      <IconButton
        label="Duplicate block"
        onClick={() => {
          const copy = copyOfBlock(block);
          edit(insertBlock(copy, selected));
          onSelect(copy.id);
        }}
      >
        <Copy size={15} aria-hidden />
      </IconButton>
      <IconButton
        label="Copy block for another class"
        onClick={() => {
          copyBlock(block, plan.name);
          setCopied("Copied: “Block” puts it into any class");
        }}
      >
        <ClipboardCopy size={15} aria-hidden />
      </IconButton>
      <IconButton
        label="Remove block"
        disabled={plan.blocks.length === 1}
        onClick={() => {
          onSelect(entryAt(plan.blocks, selected === 0 ? 1 : selected - 1).id);
          edit(removeBlock(selected));
        }}
      >
        <Trash2 size={15} aria-hidden />
      </IconButton>
    </span>
  );
}

function fittingTurn(turn: number | null | undefined, work: number): number | null {
  return turn && turnsOf(work).includes(turn) ? turn : null;
}

/** Adds a block behind the selected one: from a template, or one that was copied from any class. */
export function AddBlock() {
  const draft = useClassDraft();
  const { selected, selectBlock: onSelect } = useChosen();
  const { edit } = draft;
  const templates = useTemplates();
  const [copied, setCopied] = useState(copiedBlock);
  function put(block: Block) {
    const copy = copyOfBlock(block, freshId());
    if (copy.kind === "sets" && draft.plan.choices.rounds === "whole-circuit") copy.rounds_run = "whole_circuit";
    edit(insertBlock(copy, selected));
    onSelect(copy.id);
  }
  return (
    <Menu
      small
      width="w-80"
      testId="templates"
      onOpen={() => setCopied(copiedBlock())}
      label={
        <>
          <Plus size={14} aria-hidden /> Block
        </>
      }
      instead={
        templates.isError
          ? `The templates cannot be read: ${templates.error.message}`
          : templates.isPending && "Opening the templates …"
      }
      choices={[
        ...(copied
          ? [
              {
                id: "copied",
                name: `Copied: ${copied.block.name}`,
                what: `from ${copied.from}`,
                onChoose: () => put(copied.block),
              },
            ]
          : []),
        ...(templates.data ?? []).map((template) => ({
          id: template.id,
          name: <span className="font-semibold">{template.name}</span>,
          what: `${template.what} · ${counted(template.lines.length - 1, "line")}`,
          onChoose: () => put(template.block),
        })),
      ]}
    />
  );
}
