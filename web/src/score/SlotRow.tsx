import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical, X } from "lucide-react";

import type { Caution, Exercise, Load } from "../api/client";
import { canRemove, moveSlot, removeSlot, setSlot, slotsAt, type Place } from "../design/edits";
import type { Draft } from "../design/useDraft";
import { NumberField } from "../shared/NumberField";

const SIGNS = { clash: "✕", caution: "▲", note: "●" };

type Props = {
  draft: Draft;
  place: Place;
  id: string;
  order: string;
  exercise: Exercise | undefined;
  caution: Caution | undefined;
  onPick: () => void;
  onMoved: () => void;
};

/** A slot at the left of its stave: drag or arrow keys move it, its name changes the exercise, its figures its dose. */
export function SlotRow({ draft, place, id, order, exercise, caution, onPick, onMoved }: Props) {
  const { plan, edit } = draft;
  const { setNodeRef, setActivatorNodeRef, listeners, transform, transition, isDragging } = useSortable({ id });
  const slots = slotsAt(plan, place.block, place.group);
  const slot = slots[place.index] as {
    exercise: string;
    reps?: number | null;
    seconds?: number | null;
    load?: Load | null;
    sides?: string | null;
  };
  const name = exercise?.name ?? slot.exercise;
  const share = slot.load?.share_of_best;
  const eachSide = exercise?.sides === "one_sided" && slot.reps != null && slot.sides !== "in_all";

  function move(to: number) {
    if (to < 0 || to >= slots.length) return;
    edit(moveSlot(place, to));
    onMoved();
  }
  return (
    <div
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition, zIndex: isDragging ? 20 : undefined }}
      className={`group relative flex h-6 items-center gap-0.5 ${isDragging ? "rounded bg-base-200 shadow" : ""}`}
      data-testid="slot"
      data-exercise={slot.exercise}
    >
      <button
        type="button"
        {...listeners}
        ref={setActivatorNodeRef}
        data-handle={id}
        aria-label={`Move ${name}, place ${place.index + 1} of ${slots.length}: arrow keys or drag`}
        className="faint flex h-6 w-5 shrink-0 cursor-grab touch-none items-center justify-center rounded"
        onKeyDown={(event) => {
          const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
          if (!by) return;
          event.preventDefault();
          move(place.index + by);
        }}
      >
        <GripVertical size={14} aria-hidden />
      </button>
      <span className="faint hidden w-5 shrink-0 text-xs sm:inline">{order}</span>
      <button
        type="button"
        className="hand h-6 min-w-0 grow truncate rounded px-0.5 text-left hover:bg-base-200"
        title={`${name}: change the exercise`}
        onClick={onPick}
      >
        {caution && (
          <strong className="text-accent" title={`${caution.message}. Safer: ${caution.safer}.`}>
            {SIGNS[caution.severity]}
            <span className="sr-only"> {caution.message}. </span>{" "}
          </strong>
        )}
        {name}
      </button>
      <span className="hidden items-center gap-0.5 sm:flex">
        {slot.reps != null && (
          <NumberField
            bare
            label={`${name}: repetitions${eachSide ? " each side" : ""}`}
            unit={eachSide ? "/side" : "reps"}
            value={slot.reps}
            min={1}
            max={200}
            onChange={(reps) => edit(setSlot(place, { reps }), `${id}-reps`)}
          />
        )}
        {slot.seconds != null && (
          <NumberField
            bare
            label={`${name}: seconds`}
            unit="s"
            step={5}
            value={slot.seconds}
            min={5}
            max={3600}
            onChange={(seconds) => edit(setSlot(place, { seconds }), `${id}-seconds`)}
          />
        )}
        {share != null && (
          <NumberField
            bare
            label={`${name}: load in percent of best`}
            unit="%"
            step={5}
            value={Math.round(share * 100)}
            min={5}
            max={120}
            onChange={(percent) => edit(setSlot(place, { load: { share_of_best: percent / 100 } }), `${id}-load`)}
          />
        )}
      </span>
      <button
        type="button"
        className="faint flex h-6 w-6 shrink-0 items-center justify-center rounded hover:text-error disabled:invisible"
        aria-label={`Remove ${name}`}
        disabled={!canRemove(plan, place)}
        onClick={() => edit(removeSlot(place))}
      >
        <X size={14} aria-hidden />
      </button>
    </div>
  );
}
