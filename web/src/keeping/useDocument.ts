import { useMutation } from "@tanstack/react-query";
import { useCallback, useEffect, useLayoutEffect, useMemo, useReducer, useRef, useState } from "react";

import { useMe } from "../api/account";
import type { Saved } from "../api/client";
import { dropDraft, findDraft, isEditedElsewhere, keepDraft, type Whose } from "./drafts";
import { after, begin, redo, undo, type History } from "./history";

/** A document as it is kept: what it says, and how often it was saved. */
export type Kept<Document> = { document: Document; revision: number; savedAt?: string };

type Options<Document> = {
  kind: string;
  id: string;
  loaded: Kept<Document>;
  save: (document: Document, basedOn: number) => Promise<Saved<Kept<Document>>>;
  onSaved?: (kept: Kept<Document>) => void;
  /** hears of every next state before it is drawn */
  onNext?: (document: Document) => void;
  /** whether two states say the same; as they are written, unless it is said otherwise */
  same?: (one: Document, other: Document) => boolean;
  /** whether what the server kept takes the place of what was sent: it may settle more than was said */
  adopts?: boolean;
  /** the form in which drafts are kept; one of another form is not brought back */
  form?: number;
};

type State<Document> = {
  history: History<Document>;
  /** the revision that the draft was made from */
  revision: number;
  saved: Document;
  broughtBack: string | null;
};
type Action<Document> =
  | { type: "edit"; document: Document; field: string; at: number }
  | { type: "undo" }
  | { type: "redo" }
  | { type: "saved"; revision: number; sent: Document; kept?: Document }
  | { type: "show"; kept: Kept<Document> };

function written(one: unknown, other: unknown): boolean {
  return one === other || JSON.stringify(one) === JSON.stringify(other);
}

export function reduce<Document>(state: State<Document>, action: Action<Document>): State<Document> {
  const { history } = state;
  switch (action.type) {
    case "edit":
      return { ...state, broughtBack: null, history: after(history, action.document, action.field, action.at) };
    case "undo":
      return { ...state, broughtBack: null, history: undo(history) };
    case "redo":
      return { ...state, history: redo(history) };
    case "saved":
      if (action.kept !== undefined && history.present === action.sent) {
        const present = action.kept;
        return {
          ...state,
          broughtBack: null,
          revision: action.revision,
          saved: present,
          history: { ...history, present },
        };
      }
      return { ...state, broughtBack: null, revision: action.revision, saved: action.sent };
    case "show":
      return {
        revision: action.kept.revision,
        saved: action.kept.document,
        broughtBack: null,
        history: after(history, action.kept.document, "", 0),
      };
  }
}

/** Whose drafts are found on this device: the account that is signed in, in its studio. */
export function useOwner(): string {
  const me = useMe().data;
  return me ? `${me.studio.id}/${me.user}` : "nobody";
}

/**
 * The one way of working on a document: edits with undo and redo, a draft kept on this device until it is saved, and
 * saving that never overwrites what somebody else saved meanwhile.
 *
 * `newer` is what somebody else saved when a save was refused; nothing of one's own is lost then.
 */
export function useDocument<Document>(options: Options<Document>) {
  const { kind, id, loaded, onNext, onSaved, same = written, adopts = false, form = 1 } = options;
  const owner = useOwner();
  const whose = useMemo<Whose>(() => ({ owner, kind, id }), [owner, kind, id]);
  const [state, dispatch] = useReducer(reduce<Document>, null, (): State<Document> => {
    const kept = findDraft(whose);
    const history = begin(loaded.document);
    const draft = kept?.form === form ? (kept.document as Document) : null;
    if (!kept || draft === null || same(draft, loaded.document)) {
      return { history, revision: loaded.revision, saved: loaded.document, broughtBack: null };
    }
    // based on the revision it was made from: if that is stale, saving says so and loses nothing
    return {
      history: after(history, draft, "", 0),
      revision: kept.revision,
      saved: loaded.document,
      broughtBack: kept.at,
    };
  });
  const document = state.history.present;
  // the document after the last edit, which may not have been drawn yet
  const latest = useRef(document);
  useLayoutEffect(() => {
    latest.current = document;
  }, [document]);
  const dirty = useMemo(() => !same(document, state.saved), [document, state.saved, same]);
  const [elsewhere] = useState(() => isEditedElsewhere(whose));

  useEffect(() => {
    if (dirty) keepDraft(whose, { form, revision: state.revision, document, at: new Date().toISOString() });
    else dropDraft(whose);
  }, [dirty, document, state.revision, whose, form]);

  const saving = useMutation({
    mutationFn: ({ sent, basedOn }: { sent: Document; basedOn: number }) => options.save(sent, basedOn),
    onSuccess: (answer, { sent }) => {
      if ("newer" in answer) return;
      const { document: kept, revision } = answer.kept;
      dispatch({ type: "saved", revision, sent, ...(adopts && { kept }) });
      onSaved?.(answer.kept);
    },
  });
  const { mutate, mutateAsync, reset } = saving;
  const newer = saving.data && "newer" in saving.data ? saving.data : null;

  const edit = useCallback(
    (change: (now: Document) => Document, field = "") => {
      const next = change(latest.current);
      if (next === latest.current) return;
      performance.mark("oaken-edit");
      latest.current = next;
      // what follows from the document is asked for before it is drawn
      onNext?.(next);
      dispatch({ type: "edit", document: next, field, at: Date.now() });
    },
    [onNext],
  );
  const step = useCallback((type: "undo" | "redo") => {
    performance.mark("oaken-edit");
    dispatch({ type });
  }, []);

  return {
    document,
    dirty,
    revision: state.revision,
    broughtBack: state.broughtBack,
    /** whether another tab had changes that are not saved when this one was opened */
    elsewhere,
    canUndo: state.history.past.length > 0,
    canRedo: state.history.future.length > 0,
    edit,
    undo: useCallback(() => step("undo"), [step]),
    redo: useCallback(() => step("redo"), [step]),
    /** shows another state, which undo brings one's own back from */
    show: useCallback((kept: Kept<Document>) => dispatch({ type: "show", kept }), []),
    /** counts the document as saved at a revision, for what was kept elsewhere */
    countAsSaved: useCallback((revision: number, sent: Document) => dispatch({ type: "saved", revision, sent }), []),
    save: useCallback(() => mutate({ sent: latest.current, basedOn: state.revision }), [mutate, state.revision]),
    /** saves and tells whether it was kept */
    saveNow: useCallback(async () => {
      const answer = await mutateAsync({ sent: latest.current, basedOn: state.revision });
      return "kept" in answer;
    }, [mutateAsync, state.revision]),
    isSaving: saving.isPending,
    error: saving.error,
    newer: newer && { ...newer.newer, message: newer.message },
    saveOver: () => newer && mutate({ sent: latest.current, basedOn: newer.newer.revision }),
    forgetRefusal: reset,
  };
}

/** What works on a document of any kind has in hand. */
export type Document<What> = ReturnType<typeof useDocument<What>>;
