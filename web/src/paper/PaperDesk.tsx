import { FileDown, Printer } from "lucide-react";
import { useState } from "react";

import { drawPaper, usePaper, type PaperKind, type PaperSize, type Printed } from "../api/papers";
import { Faces } from "../shared/Faces";
import { keepFile } from "../shared/files";
import { Pick } from "../shared/Pick";
import { PaperView } from "./PaperView";
import { errorWords } from "../basis/entries";

/** Every paper of a class: what it is called, and what it is for. */
export const PAPERS: [PaperKind, string][] = [
  ["run-sheet", "Run sheet"],
  ["before-start", "Pre-class check"],
  ["people", "Cards of people"],
  ["stations", "Station cards"],
  ["set-up", "Machine cards"],
  ["poster", "Poster of the rotation"],
  ["log-sheet", "Log sheet"],
];
const SIZE = "oaken-paper";

/** The size of paper that is chosen on this device. */
export function usePaperSize(): [PaperSize, (size: PaperSize) => void] {
  const [size, setSize] = useState<PaperSize>(localStorage.getItem(SIZE) === "letter" ? "letter" : "a4");
  const choose = (chosen: PaperSize) => {
    localStorage.setItem(SIZE, chosen);
    setSize(chosen);
  };
  return [size, choose];
}

type Props = { printed: Printed; name: string; kinds: [PaperKind, string][] };

/** Papers to look at, to print from here, or to keep as PDF: the same whichever way. */
export function PaperDesk({ printed, name, kinds }: Props) {
  const [chosen, choose] = useState<PaperKind>(kinds[0]?.[0] ?? "run-sheet");
  const [size, setSize] = usePaperSize();
  const [drawing, setDrawing] = useState(false);
  const [error, setError] = useState<string | null>(null);
  const paper = usePaper(printed, chosen);
  const called = kinds.find(([kind]) => kind === chosen)?.[1] ?? "Programme";

  async function save() {
    setDrawing(true);
    setError(null);
    try {
      keepFile(await drawPaper(printed, chosen, size), `${name}, ${called.toLowerCase()}.pdf`);
    } catch (reason) {
      setError(errorWords(reason));
    }
    setDrawing(false);
  }

  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-2 print:hidden">
        {kinds.length > 0 && <Faces label="Papers" faces={kinds} chosen={chosen} onChoose={choose} />}
        <span className="grow" />
        <Pick
          label="Paper"
          value={size}
          options={[
            ["a4", "A4"],
            ["letter", "Letter"],
          ]}
          onChange={(item) => setSize(item === "letter" ? "letter" : "a4")}
        />
        <button type="button" className="btn btn-sm" disabled={drawing} onClick={() => void save()}>
          <FileDown size={15} aria-hidden /> {drawing ? "Drawing …" : "PDF"}
        </button>
        <button type="button" className="btn btn-primary btn-sm" disabled={!paper.data} onClick={() => window.print()}>
          <Printer size={15} aria-hidden /> Print
        </button>
      </div>
      <p className="faint mb-3 text-sm print:hidden">{paper.data ? who(paper.data.wall ?? false, chosen) : ""}</p>
      {(error ?? paper.error?.message) && (
        <p role="alert" className="mb-3 rounded border border-error p-2 text-sm print:hidden">
          {error ?? paper.error?.message}
        </p>
      )}
      {paper.isPending && <div className="skeleton h-96 w-full" role="status" aria-label="Laying out the paper" />}
      {paper.data && (
        <div className="overflow-x-auto">
          <PaperView paper={paper.data} />
        </div>
      )}
    </>
  );
}

/** Who may read a paper. */
function who(wall: boolean, kind: PaperKind): string {
  if (wall) return "May hang on the wall: first names only, nothing about anybody’s health.";
  if (kind === "before-start") return "Tells of health: for the instructor alone, not for the wall.";
  if (kind === "people") return "Each card is for its owner.";
  return "For whoever runs the class.";
}
