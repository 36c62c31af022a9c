import { useEffect } from "react";

type Keys = { save?: () => void; undo: () => void; redo: () => void };

/** Ctrl+S saves, Ctrl+Z undoes, Ctrl+Y redoes, except where a text being written has an undo of its own. */
export function useKeys({ save, undo, redo }: Keys): void {
  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
      const key = event.key.toLowerCase();
      const writing = event.target instanceof Element && event.target.closest("textarea, dialog, [role=dialog]");
      if (key === "s" && save) save();
      else if (writing) return;
      else if (key === "z" && !event.shiftKey) undo();
      else if (key === "y" || (key === "z" && event.shiftKey)) redo();
      else return;
      event.preventDefault();
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [save, undo, redo]);
}
