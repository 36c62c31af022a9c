import { ChevronDown, Eye, PencilLine, SlidersHorizontal } from "lucide-react";
import { useState } from "react";

import type { Catalogue, Level } from "../api/client";
import { ReviewDialog } from "../class/ReviewDialog";
import { Menu } from "../shared/Menu";
import { ChoicesDialog } from "./ChoicesDialog";
import { HistoryDialog } from "./HistoryDialog";
import { LevelDialog } from "./LevelDialog";
import { RunButton } from "./RunButton";
import { ScenariosDialog } from "./ScenariosDialog";
import { TextDialog } from "./TextDialog";
import type { Draft } from "../draft/useDraft";

type Open = "text" | "choices" | "look" | "sides" | "history" | Level | null;

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
      <RunButton classId={classId} draft={draft} />
      <button type="button" className="btn btn-sm" onClick={() => setOpen("look")}>
        <Eye size={15} aria-hidden /> Review
      </button>
      <button type="button" className="btn btn-sm" onClick={() => setOpen("text")}>
        <PencilLine size={15} aria-hidden /> Edit as text
      </button>
      <button type="button" className="btn btn-sm" onClick={() => setOpen("choices")}>
        <SlidersHorizontal size={15} aria-hidden /> Choices
      </button>
      <Menu
        end
        label={
          <>
            Versions <ChevronDown size={14} aria-hidden />
          </>
        }
        choices={[
          {
            id: "sides",
            name: "Compare scenarios",
            what: "more people, a machine gone, warmer, all beginners",
            onChoose: () => setOpen("sides"),
          },
          { id: "loads", name: "Next time’s loads", to: `/classes/${classId}/loads` },
          { id: "sheet", name: "On paper: sheets, cards, poster", to: `/classes/${classId}/sheet` },
          { id: "history", name: "History", onChoose: () => setOpen("history") },
          { id: "compare", name: "Compare with another class", to: `/compare?one=${classId}` },
          { id: "beginner", name: "Beginner version", onChoose: () => setOpen("beginner") },
          { id: "advanced", name: "Advanced version", onChoose: () => setOpen("advanced") },
          {
            id: "file",
            name: "Save as a class file",
            what: "the newest saved revision",
            file: `/api/classes/${classId}/file`,
            as: `class-${classId}.json`,
          },
        ]}
      />
      {open === "look" && <ReviewDialog classId={classId} draft={draft} onClose={close} />}
      {open === "sides" && <ScenariosDialog plan={draft.plan} onClose={close} />}
      {open === "text" && <TextDialog classId={classId} draft={draft} onClose={close} />}
      {open === "choices" && <ChoicesDialog draft={draft} catalogue={catalogue} onClose={close} />}
      {open === "history" && <HistoryDialog classId={classId} draft={draft} onClose={close} />}
      {(open === "beginner" || open === "advanced") && <LevelDialog plan={draft.plan} level={open} onClose={close} />}
    </>
  );
}
