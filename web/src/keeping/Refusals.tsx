import type { ReactNode } from "react";

import { Dialog } from "../shared/Dialog";
import { when } from "../shared/format";
import type { Document } from "./useDocument";

type Props<What> = {
  document: Document<What>;
  /** “class”, “room”, “person” */
  what: string;
  /** further ways out when somebody else saved meanwhile */
  children?: ReactNode;
};

/** What stands between a document and its being saved: a draft that was brought back, a fault, a newer state. */
export function Refusals<What>({ document, what, children }: Props<What>) {
  const { newer, broughtBack, elsewhere, dirty, error } = document;
  return (
    <>
      {broughtBack && (
        <p
          role="status"
          data-testid="brought-back"
          className="mx-4 mb-2 flex flex-wrap items-center gap-3 rounded border border-info px-3 py-1.5 text-sm lg:mx-6"
        >
          Changes that were not saved ({when(broughtBack)}) are back.
          <button type="button" className="btn btn-xs" onClick={document.undo}>
            Show the saved {what} instead
          </button>
        </p>
      )}
      {elsewhere && !dirty && (
        <p
          role="status"
          data-testid="elsewhere"
          className="mx-4 mb-2 rounded border border-info px-3 py-1.5 text-sm lg:mx-6"
        >
          Another tab has changes of this {what} that are not saved. Here is the saved {what}; neither overwrites the
          other.
        </p>
      )}
      {error && (
        <p role="alert" className="mx-4 mb-2 rounded border border-error px-3 py-1.5 text-sm lg:mx-6">
          Not saved: {error.message} Nothing of yours is lost.
        </p>
      )}
      {newer && (
        <Dialog title={`This ${what} was saved elsewhere`} onClose={document.forgetRefusal}>
          <p>
            While you were working, revision {newer.revision} was saved{newer.savedAt && ` (${when(newer.savedAt)})`}.
            Nothing of yours is lost.
          </p>
          <div className="mt-4 flex flex-col gap-2">
            {children}
            <button type="button" className="btn" onClick={document.saveOver}>
              Save mine as the newest revision
            </button>
            <button
              type="button"
              className="btn"
              onClick={() => {
                document.show(newer);
                document.forgetRefusal();
              }}
            >
              Show the other version (undo brings mine back)
            </button>
          </div>
        </Dialog>
      )}
    </>
  );
}
