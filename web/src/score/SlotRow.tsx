import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical } from "lucide-react";
import { memo } from "react";

import type { Caution } from "../api/client";

const SIGNS = { clash: "✕", caution: "▲", note: "●" };

type Props = {
  id: string;
  order: string;
  name: string;
  exercise: string;
  /** the dose as it is written, without the name */
  dose: string;
  caution: Caution | undefined;
  chosen: boolean;
  onChoose: (id: string) => void;
  /** by one place up or down; true when it moved */
  onStep: (id: string, by: 1 | -1) => void;
  onRemove: (id: string) => void;
  onDuplicate: (id: string) => void;
};

/** A slot at the left of its stave: its name opens it, drag or arrow keys move it, Delete takes it out. */
export const SlotRow = memo(function SlotRow(props: Props) {
  const { id, order, name, exercise, dose, caution, chosen, onChoose, onStep, onRemove, onDuplicate } = props;
  const { setNodeRef, setActivatorNodeRef, listeners, transform, transition, isDragging } = useSortable({ id });
  return (
    <div
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition, zIndex: isDragging ? 20 : undefined }}
      className={`relative flex h-6 items-center gap-0.5 rounded ${
        isDragging ? "bg-base-200 shadow" : chosen ? "bg-base-200 shadow-[inset_3px_0_0_var(--color-base-content)]" : ""
      }`}
      data-testid="slot"
      data-exercise={exercise}
    >
      <button
        type="button"
        {...listeners}
        ref={setActivatorNodeRef}
        data-handle={id}
        aria-label={`Move ${name}: arrow keys or drag`}
        className="faint flex h-6 w-5 shrink-0 cursor-grab touch-none items-center justify-center rounded"
        onKeyDown={(event) => {
          if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
          event.preventDefault();
          onStep(id, event.key === "ArrowUp" ? -1 : 1);
        }}
      >
        <GripVertical size={14} aria-hidden />
      </button>
      <span className="faint hidden w-5 shrink-0 text-xs sm:inline">{order}</span>
      <button
        type="button"
        className="flex h-6 min-w-0 grow items-center gap-1.5 rounded px-0.5 text-left hover:bg-base-200"
        title={`${name} ${dose}`}
        aria-pressed={chosen}
        data-slot={id}
        onClick={() => onChoose(id)}
        onKeyDown={(event) => {
          if (event.key === "Delete") onRemove(id);
          else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "d") {
            event.preventDefault();
            onDuplicate(id);
          }
        }}
      >
        <span className="hand max-w-full shrink-0 truncate sm:max-w-[72%]">
          {caution && (
            <strong className={caution.severity === "note" ? "faint" : "text-accent"}>
              {SIGNS[caution.severity]} <span className="sr-only">{caution.message} </span>
            </strong>
          )}
          {name}
        </span>{" "}
        <span className="faint hidden min-w-0 shrink grow truncate text-right text-xs sm:inline">{dose}</span>
      </button>
    </div>
  );
});
