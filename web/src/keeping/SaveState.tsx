import { Save } from "lucide-react";

import type { Document } from "./useDocument";

type Props = {
  document: Pick<Document<unknown>, "dirty" | "isSaving" | "revision" | "save">;
  /** for whom nothing can be saved, and why */
  readOnly?: string;
};

/** How the document stands, and the button that saves it. */
export function SaveState({ document, readOnly }: Props) {
  const { dirty, isSaving, revision } = document;
  return (
    <div className="flex items-center gap-3">
      <span className="faint text-sm" role="status" data-testid="save-state">
        {readOnly ?? (isSaving ? "Saving …" : dirty ? "Not saved yet" : `Saved as revision ${revision}`)}
      </span>
      <button
        type="button"
        className="btn btn-primary btn-sm"
        disabled={!dirty || isSaving || readOnly !== undefined}
        onClick={document.save}
        title={readOnly ?? "Save (Ctrl+S)"}
      >
        <Save size={16} aria-hidden /> Save
      </button>
    </div>
  );
}
