import { Redo2, Undo2 } from "lucide-react";

type Props = { canUndo: boolean; canRedo: boolean; onUndo: () => void; onRedo: () => void };

/** A step back and a step forward. */
export function UndoRedo({ canUndo, canRedo, onUndo, onRedo }: Props) {
  return (
    <div className="join">
      <button type="button" className="btn btn-sm join-item" disabled={!canUndo} onClick={onUndo} title="Undo (Ctrl+Z)">
        <Undo2 size={16} aria-hidden /> <span className="sr-only">Undo</span>
      </button>
      <button type="button" className="btn btn-sm join-item" disabled={!canRedo} onClick={onRedo} title="Redo (Ctrl+Y)">
        <Redo2 size={16} aria-hidden /> <span className="sr-only">Redo</span>
      </button>
    </div>
  );
}
