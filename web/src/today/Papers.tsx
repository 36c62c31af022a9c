import { FileDown } from "lucide-react";
import { useState } from "react";

import { drawPaper, type PaperKind, type PaperSize } from "../api/calls";
import type { Plan } from "../api/client";

const PAPERS: [PaperKind, string][] = [
  ["run-sheet", "Run sheet"],
  ["before-start", "Before the start"],
  ["people", "Cards of people"],
  ["stations", "Station cards"],
  ["set-up", "Machine cards"],
  ["poster", "Poster of the rotation"],
  ["log-sheet", "Log sheet"],
];
const SIZE = "oaken-paper";

/** Everything that is printed of a class, each as a PDF to keep or to print. */
export function Papers({ plan }: { plan: Plan }) {
  const [size, setSize] = useState<PaperSize>(localStorage.getItem(SIZE) === "letter" ? "letter" : "a4");
  const [drawing, setDrawing] = useState<PaperKind | null>(null);
  const [error, setError] = useState<string | null>(null);

  async function save(kind: PaperKind, name: string) {
    setDrawing(kind);
    setError(null);
    try {
      const address = URL.createObjectURL(await drawPaper(plan, kind, size));
      const link = document.createElement("a");
      link.href = address;
      link.download = `${plan.name}, ${name.toLowerCase()}.pdf`;
      link.click();
      setTimeout(() => URL.revokeObjectURL(address), 60_000);
    } catch (reason) {
      setError((reason as Error).message);
    }
    setDrawing(null);
  }

  return (
    <section aria-label="As PDF" className="mb-3 rounded border border-base-300 p-3 print:hidden">
      <div className="flex flex-wrap items-center gap-2">
        <span className="font-semibold">As PDF</span>
        {PAPERS.map(([kind, name]) => (
          <button
            key={kind}
            type="button"
            className="btn btn-sm"
            disabled={drawing !== null}
            onClick={() => void save(kind, name)}
          >
            <FileDown size={15} aria-hidden /> {drawing === kind ? "Drawing …" : name}
          </button>
        ))}
        <label className="ml-auto flex items-center gap-2 text-sm">
          Paper
          <select
            className="select select-sm w-24"
            value={size}
            onChange={(event) => {
              const chosen = event.target.value as PaperSize;
              localStorage.setItem(SIZE, chosen);
              setSize(chosen);
            }}
          >
            <option value="a4">A4</option>
            <option value="letter">Letter</option>
          </select>
        </label>
      </div>
      {error && (
        <p role="alert" className="mt-2 text-sm text-error">
          {error}
        </p>
      )}
      <p className="faint mt-2 text-xs">
        A class can be run from these alone. Poster and station cards have first names only and may hang on the wall;
        cards of people are for their owners.
      </p>
    </section>
  );
}
