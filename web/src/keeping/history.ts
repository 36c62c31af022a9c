/** A document under edit with what came before it and what was undone. `touched` names the field of the last edit, and
 * when. */
export type History<Document> = {
  past: Document[];
  present: Document;
  future: Document[];
  touched: { field: string; at: number } | null;
};

export const LONGEST_PAST = 200;
const SAME_EDIT_MS = 900;

export function begin<Document>(document: Document): History<Document> {
  return { past: [], present: document, future: [], touched: null };
}

/**
 * The history after an edit. Quick edits of one `field` (typing digits, holding a stepper, one drag) count as one step
 * back; an edit that changes nothing is none.
 */
export function after<Document>(
  history: History<Document>,
  document: Document,
  field: string,
  at: number,
): History<Document> {
  if (document === history.present || JSON.stringify(document) === JSON.stringify(history.present)) return history;
  const same = field !== "" && history.touched?.field === field && at - history.touched.at < SAME_EDIT_MS;
  const past = same ? history.past : [...history.past, history.present].slice(-LONGEST_PAST);
  return { past, present: document, future: [], touched: { field, at } };
}

export function undo<Document>(history: History<Document>): History<Document> {
  const previous = history.past.at(-1);
  if (previous === undefined) return history;
  return {
    past: history.past.slice(0, -1),
    present: previous,
    future: [history.present, ...history.future],
    touched: null,
  };
}

export function redo<Document>(history: History<Document>): History<Document> {
  const [next, ...future] = history.future;
  if (next === undefined) return history;
  return { past: [...history.past, history.present], present: next, future, touched: null };
}
