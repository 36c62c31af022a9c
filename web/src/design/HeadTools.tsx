import { ChevronDown, PencilLine, SlidersHorizontal } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";

import type { Catalogue, Level } from "../api/client";
import { ChoicesDialog } from "./ChoicesDialog";
import { HistoryDialog } from "./HistoryDialog";
import { LevelDialog } from "./LevelDialog";
import { TextDialog } from "./TextDialog";
import type { Draft } from "../draft/useDraft";

type Open = "text" | "choices" | "history" | Level | null;

/** What can be done with the class as a whole: write it, choose schools, versions, history, files. */
export function HeadTools({
  classId,
  draft,
  catalogue,
}: {
  classId: number;
  draft: Draft;
  catalogue: Catalogue | undefined;
}) {
  const [open, setOpen] = useState<Open>(null);
  const close = () => setOpen(null);
  return (
    <>
      <button type="button" className="btn btn-sm" onClick={() => setOpen("text")}>
        <PencilLine size={15} aria-hidden /> Write
      </button>
      <button type="button" className="btn btn-sm" onClick={() => setOpen("choices")}>
        <SlidersHorizontal size={15} aria-hidden /> Choices
      </button>
      <div className="dropdown dropdown-end">
        <button type="button" tabIndex={0} className="btn btn-sm">
          Versions <ChevronDown size={14} aria-hidden />
        </button>
        <ul
          tabIndex={-1}
          className="dropdown-content z-40 mt-1 w-64 rounded border border-base-300 bg-base-100 p-1 text-sm shadow"
        >
          <Item onChoose={() => setOpen("history")}>History</Item>
          <li>
            <Link className="block rounded px-2 py-1.5 hover:bg-base-200" to={`/compare?one=${classId}`}>
              Compare with another class
            </Link>
          </li>
          <Item onChoose={() => setOpen("beginner")}>Beginner version</Item>
          <Item onChoose={() => setOpen("advanced")}>Advanced version</Item>
          <li>
            <a
              className="block rounded px-2 py-1.5 hover:bg-base-200"
              href={`/api/classes/${classId}/file`}
              download={`class-${classId}.json`}
            >
              Save as a class file
              <span className="faint block text-xs">the newest saved revision</span>
            </a>
          </li>
        </ul>
      </div>
      {open === "text" && <TextDialog classId={classId} draft={draft} onClose={close} />}
      {open === "choices" && <ChoicesDialog draft={draft} catalogue={catalogue} onClose={close} />}
      {open === "history" && <HistoryDialog classId={classId} draft={draft} onClose={close} />}
      {(open === "beginner" || open === "advanced") && <LevelDialog plan={draft.plan} level={open} onClose={close} />}
    </>
  );
}

function Item({ onChoose, children }: { onChoose: () => void; children: React.ReactNode }) {
  return (
    <li>
      <button
        type="button"
        className="w-full rounded px-2 py-1.5 text-left hover:bg-base-200"
        onClick={(event) => {
          event.currentTarget.blur();
          onChoose();
        }}
      >
        {children}
      </button>
    </li>
  );
}
