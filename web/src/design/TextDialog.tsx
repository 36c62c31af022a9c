import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";

import { readText, writeText } from "../api/calls";
import { FaultyText, type Plan, type TextFault } from "../api/client";
import { useCatalogue, useCheatSheet } from "../api/queries";
import { partsOf } from "../shared/blocks";
import { Dialog } from "../shared/Dialog";
import { counted } from "../shared/format";
import { replacePlan } from "../draft/edits";
import { mended, startOf } from "../shared/faults";
import type { Draft } from "../draft/useDraft";
import type { EditorHandle, Where } from "./TextEditor";
import { present } from "../basis/entries";

const NO_WORDS: string[] = [];
const LONGEST_TEXT = 60_000;

const TextEditor = lazy(() => import("./TextEditor"));

const keyOf = (id: number) => `oaken-text-${id}`;

/** The whole class as text: typed or pasted, read at once, taken over when wanted. What is half typed is kept. */
export function TextDialog({ classId, draft, onClose }: { classId: number; draft: Draft; onClose: () => void }) {
  const [where, setWhere] = useState<Where>("head");
  const editor = useRef<EditorHandle>(null);
  const catalogue = useCatalogue().data;
  const sheet = useCheatSheet().data;
  const names = useMemo(() => (catalogue?.exercises ?? []).map((exercise) => exercise.name.toLowerCase()), [catalogue]);
  const words = sheet?.words ?? NO_WORDS;
  const { plan, edit } = draft;
  const { text, setText, original, read, faults, notices, broken } = useText(classId, plan);

  function select(fault: TextFault) {
    const start = startOf(text ?? "", fault);
    editor.current?.focusAt(start, start + fault.length);
  }
  const changed = text !== original;
  return (
    <Dialog title="The class as text" onClose={onClose} huge>
      <div className="grid gap-4 lg:grid-cols-[1fr_22rem]">
        <div>
          {text === null ? (
            <div role="status" aria-label="Writing the class as text" className="skeleton h-[52vh] w-full" />
          ) : (
            <Suspense
              fallback={<div role="status" aria-label="Opening the editor" className="skeleton h-[52vh] w-full" />}
            >
              <TextEditor
                ref={editor}
                text={text}
                faults={faults}
                notices={notices}
                words={words}
                names={names}
                onChange={(next) => setText(next.slice(0, LONGEST_TEXT))}
                onWhere={setWhere}
              />
            </Suspense>
          )}
          <TextState
            broken={broken}
            faults={faults}
            notices={notices}
            read={read}
            onSelect={select}
            onMend={(fault, word) => setText(mended(text ?? "", fault, word))}
          />
          <div className="mt-2 flex flex-wrap gap-2">
            <button
              type="button"
              className="btn btn-primary btn-sm"
              disabled={!read || !changed}
              onClick={() => {
                edit(replacePlan(present(read, "The class that was read")));
                localStorage.removeItem(keyOf(classId));
                onClose();
              }}
            >
              Apply
            </button>
            <button
              type="button"
              className="btn btn-sm"
              disabled={!changed}
              onClick={() => original !== null && setText(original)}
            >
              Back to the class as it is
            </button>
            <button type="button" className="btn btn-sm" onClick={() => download(`${plan.name}.txt`, text ?? "")}>
              Save as a text file
            </button>
            {changed && <span className="faint self-center text-xs">Kept on this device until you apply it.</span>}
          </div>
        </div>
        <CheatSheet where={where} />
      </div>
    </Dialog>
  );
}

function countSlots(plan: Plan): number {
  return plan.blocks.reduce((sum, block) => sum + partsOf(block).length, 0);
}

/** Hands a text to the browser as a file. */
export function download(name: string, text: string, type = "text/plain"): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: `${type};charset=utf-8` }));
  link.download = name.replace(/[^\p{L}\p{N} ._-]/gu, "").trim() || "class.txt";
  link.click();
  URL.revokeObjectURL(link.href);
}

/** The notation on one page: what can be written where the cursor stands comes first. */
function CheatSheet({ where }: { where: Where }) {
  const sheet = useCheatSheet();
  if (!sheet.data)
    return <p className="faint text-sm">{sheet.isError ? sheet.error.message : "Opening the notation …"}</p>;
  const { heading, heads, slots, groups } = sheet.data;
  const parts = [
    { of: "head", title: "The head", rows: heading },
    { of: "block", title: "A block begins", rows: heads },
    { of: "part", title: "Below it, one exercise a line", rows: slots },
    { of: "joined", title: "Joined with +", rows: groups },
  ].sort((one, other) => Number(other.of === where) - Number(one.of === where));
  return (
    <section aria-label="How it is written" tabIndex={0} className="max-h-[66vh] overflow-y-auto text-sm">
      <h3 className="font-semibold">How it is written</h3>
      {parts.map(({ of, title, rows }) => (
        <Part key={of} title={of === where ? `${title} (where you are)` : title} rows={rows} />
      ))}
    </section>
  );
}

type Row = { scheme?: string; line?: string; lines?: string[]; says: string };

function Part({ title, rows }: { title: string; rows: Row[] }) {
  return (
    <>
      <h4 className="mt-3 border-b border-base-300 font-semibold">{title}</h4>
      <dl>
        {rows.map((row) => (
          <div key={(row.scheme ?? "") + (row.line ?? "") + row.says} className="mt-1.5">
            <dt>
              <code className="block text-[0.8rem] whitespace-pre-wrap">
                {row.lines?.length ? row.lines.join("\n") : row.line}
              </code>
            </dt>
            <dd className="faint text-xs">
              {row.scheme && <strong>{row.scheme}: </strong>}
              {row.says}
            </dd>
          </div>
        ))}
      </dl>
    </>
  );
}

type TextStateProps = {
  broken: string;
  faults: TextFault[];
  notices: TextFault[];
  read: Plan | null;
  onSelect: (fault: TextFault) => void;
  onMend: (fault: TextFault, word: string) => void;
};

/** What the text is read as: its faults at their lines, each with what may be meant, or what it comes to. */
function TextState({ broken, faults, notices, read, onSelect, onMend }: TextStateProps) {
  return (
    <div aria-live="polite" className="mt-1 max-h-36 overflow-y-auto text-sm" data-testid="text-state">
      {broken && <p role="alert">Not read: {broken}</p>}
      {faults.map((fault) => (
        <p key={`${fault.line}-${fault.column}-${fault.message}`}>
          <button
            type="button"
            className="min-h-6 underline decoration-dotted underline-offset-2"
            onClick={() => onSelect(fault)}
          >
            line {fault.line}
          </button>
          : <code className="bg-error px-1 text-error-content">{fault.word || "…"}</code> {fault.message}.{" "}
          {fault.proposals?.map((word) => (
            <button
              key={word}
              type="button"
              className="mr-1.5 min-h-6 underline decoration-dotted underline-offset-2"
              onClick={() => onMend(fault, word)}
            >
              {word}
            </button>
          ))}
        </p>
      ))}
      {read &&
        notices.map((notice) => (
          <p key={`${notice.line}-${notice.column}-${notice.message}`}>
            <button
              type="button"
              className="min-h-6 underline decoration-dotted underline-offset-2"
              onClick={() => onSelect(notice)}
            >
              line {notice.line}
            </button>
            : {notice.word}, {notice.message}.
          </p>
        ))}
      {read && (
        <p>
          Reads as {counted(read.blocks.length, "block")}, {counted(countSlots(read), "exercise")}.
        </p>
      )}
    </div>
  );
}

/** The class as text as it is typed, kept on this device until it is applied, and what it is read as. */
function useText(classId: number, plan: Plan) {
  const [text, setText] = useState<string | null>(() => localStorage.getItem(keyOf(classId)));
  const [broken, setBroken] = useState("");
  const [faults, setFaults] = useState<TextFault[]>([]);
  const [notices, setNotices] = useState<TextFault[]>([]);
  const [read, setRead] = useState<Plan | null>(null);
  const [original, setOriginal] = useState<string | null>(null);
  useEffect(() => {
    let here = true;
    writeText(plan).then(
      (written) => {
        if (!here) return;
        setOriginal(written);
        setText((now) => now ?? written);
      },
      (error: Error) => here && setBroken(error.message),
    );
    return () => {
      here = false;
    };
  }, [plan]);

  useEffect(() => {
    if (text === null || original === null) return;
    if (text === original) localStorage.removeItem(keyOf(classId));
    else localStorage.setItem(keyOf(classId), text);
    let here = true;
    const timer = setTimeout(() => {
      readText(text, plan).then(
        (found) => {
          if (!here) return;
          setRead(found.plan);
          setNotices(found.notices);
          setFaults([]);
          setBroken("");
        },
        (error: Error) => {
          if (!here) return;
          setRead(null);
          setNotices([]);
          if (error instanceof FaultyText) setFaults(error.faults);
          else setBroken(error.message);
        },
      );
    }, 200);
    return () => {
      here = false;
      clearTimeout(timer);
    };
  }, [text, original, plan, classId]);

  return { text, setText, original, read, faults, notices, broken };
}
