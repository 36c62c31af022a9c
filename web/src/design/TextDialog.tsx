import { useEffect, useRef, useState } from "react";

import { readText, writeText } from "../api/calls";
import { FaultyText, type Plan, type TextFault } from "../api/client";
import { useCheatSheet } from "../api/queries";
import { partsOf } from "../shared/blocks";
import { Dialog } from "../shared/Dialog";
import { counted } from "../shared/format";
import { replacePlan } from "../draft/edits";
import { mended, startOf } from "../shared/faults";
import type { Draft } from "../draft/useDraft";

const keyOf = (id: number) => `oaken-text-${id}`;

/** The whole class as text: typed or pasted, read at once, taken over when wanted. What is half typed is kept. */
export function TextDialog({ classId, draft, onClose }: { classId: number; draft: Draft; onClose: () => void }) {
  const [text, setText] = useState<string | null>(() => localStorage.getItem(keyOf(classId)));
  const [broken, setBroken] = useState("");
  const [faults, setFaults] = useState<TextFault[]>([]);
  const [read, setRead] = useState<Plan | null>(null);
  const [original, setOriginal] = useState<string | null>(null);
  const area = useRef<HTMLTextAreaElement>(null);
  const { plan, edit } = draft;

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
          setRead(found);
          setFaults([]);
          setBroken("");
        },
        (error: Error) => {
          if (!here) return;
          setRead(null);
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

  function select(fault: TextFault) {
    const start = startOf(text ?? "", fault);
    area.current?.focus();
    area.current?.setSelectionRange(start, start + fault.length);
  }
  const changed = text !== original;
  return (
    <Dialog title="The class as text" onClose={onClose} huge>
      <div className="grid gap-4 lg:grid-cols-[1fr_22rem]">
        <div>
          <textarea
            ref={area}
            autoFocus
            aria-label="The class as text"
            aria-invalid={faults.length > 0 || undefined}
            spellCheck={false}
            className={`h-[52vh] w-full resize-y rounded border bg-base-100 p-2 text-[0.95rem] leading-6 ${faults.length ? "border-error" : "border-base-300"}`}
            value={text ?? ""}
            disabled={text === null}
            maxLength={60_000}
            onChange={(event) => setText(event.target.value)}
          />
          <div aria-live="polite" className="mt-1 max-h-36 overflow-y-auto text-sm" data-testid="text-state">
            {broken && <p role="alert">Not read: {broken}</p>}
            {faults.map((fault) => (
              <p key={`${fault.line}-${fault.column}-${fault.message}`}>
                <button
                  type="button"
                  className="min-h-6 underline decoration-dotted underline-offset-2"
                  onClick={() => select(fault)}
                >
                  line {fault.line}
                </button>
                : <code className="bg-error px-1 text-error-content">{fault.word || "…"}</code> {fault.message}.{" "}
                {fault.proposals?.map((word) => (
                  <button
                    key={word}
                    type="button"
                    className="mr-1.5 min-h-6 underline decoration-dotted underline-offset-2"
                    onClick={() => setText(mended(text ?? "", fault, word))}
                  >
                    {word}
                  </button>
                ))}
              </p>
            ))}
            {read && (
              <p>
                Reads as {counted(read.blocks.length, "block")}, {counted(countSlots(read), "exercise")}.
              </p>
            )}
          </div>
          <div className="mt-2 flex flex-wrap gap-2">
            <button
              type="button"
              className="btn btn-primary btn-sm"
              disabled={!read || !changed}
              onClick={() => {
                edit(replacePlan(read!));
                localStorage.removeItem(keyOf(classId));
                onClose();
              }}
            >
              Put it on the score
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
            {changed && <span className="faint self-center text-xs">Kept on this device until you put it on.</span>}
          </div>
        </div>
        <CheatSheet />
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

/** The notation on one page. */
function CheatSheet() {
  const sheet = useCheatSheet();
  if (!sheet.data)
    return <p className="faint text-sm">{sheet.isError ? sheet.error.message : "Opening the notation …"}</p>;
  const { heading, heads, slots, groups } = sheet.data;
  return (
    <section aria-label="How it is written" tabIndex={0} className="max-h-[66vh] overflow-y-auto text-sm">
      <h3 className="font-semibold">How it is written</h3>
      <Part title="The head" rows={heading} />
      <Part title="A block begins" rows={heads} />
      <Part title="Below it, one exercise a line" rows={slots} />
      <Part title="Joined with +" rows={groups} />
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
