import { useCallback, useEffect, useLayoutEffect, useMemo, useReducer, useRef } from "react";

import type { ClassOut, Plan } from "../api/client";
import type { Edit } from "./edits";
import { after, begin, redo, undo, type History } from "./history";
import { FORM, keptDraft, keyOf, type Kept } from "./keptDraft";

type Action =
  | { type: "edit"; edit: Edit; field: string; at: number }
  | { type: "undo" }
  | { type: "redo" }
  | { type: "saved"; revision: number; sent: Plan }
  | { type: "replace"; plan: Plan; revision: number };
type State = { history: History; revision: number; saved: Plan; broughtBack: string | null };

function same(one: Plan, other: Plan): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}

function start(loaded: ClassOut): State {
  const kept = keptDraft(loaded.id);
  const history = begin(loaded.plan);
  if (!kept || same(kept.plan, loaded.plan)) {
    return { history, revision: loaded.revision, saved: loaded.plan, broughtBack: null };
  }
  // based on the revision it was made from: if that is stale, saving says so and loses nothing
  return {
    history: after(history, kept.plan, "", 0),
    revision: kept.revision,
    saved: loaded.plan,
    broughtBack: kept.at,
  };
}

function reduce(state: State, action: Action): State {
  switch (action.type) {
    case "edit":
      return {
        ...state,
        broughtBack: null,
        history: after(state.history, action.edit(state.history.present), action.field, action.at),
      };
    case "undo":
      return { ...state, broughtBack: null, history: undo(state.history) };
    case "redo":
      return { ...state, history: redo(state.history) };
    case "saved":
      return { ...state, broughtBack: null, revision: action.revision, saved: action.sent };
    case "replace":
      return {
        revision: action.revision,
        saved: action.plan,
        broughtBack: null,
        history: after(state.history, action.plan, "", 0),
      };
  }
}

/** The draft of one class: edits with undo and redo, kept on this device until it is saved; `onNext` hears of each. */
export function useDraft(loaded: ClassOut, onNext: (plan: Plan) => void) {
  const [state, dispatch] = useReducer(reduce, loaded, start);
  const plan = state.history.present;
  // the plan after the last edit, which may not have been drawn yet
  const latest = useRef(plan);
  useLayoutEffect(() => {
    latest.current = plan;
  }, [plan]);
  const dirty = useMemo(() => !same(plan, state.saved), [plan, state.saved]);

  useEffect(() => {
    if (!dirty) {
      localStorage.removeItem(keyOf(loaded.id));
      return;
    }
    const kept: Kept = { form: FORM, revision: state.revision, plan, at: new Date().toISOString() };
    localStorage.setItem(keyOf(loaded.id), JSON.stringify(kept));
  }, [dirty, plan, state.revision, loaded.id]);

  const edit = useCallback(
    (change: Edit, field = "") => {
      const next = change(latest.current);
      if (next === latest.current) return;
      performance.mark("oaken-edit");
      latest.current = next;
      // what follows from the plan is asked for before it is drawn
      onNext(next);
      dispatch({ type: "edit", edit: () => next, field, at: Date.now() });
    },
    [onNext],
  );
  const step = useCallback((type: "undo" | "redo") => {
    performance.mark("oaken-edit");
    dispatch({ type });
  }, []);

  return {
    plan,
    dirty,
    revision: state.revision,
    broughtBack: state.broughtBack,
    canUndo: state.history.past.length > 0,
    canRedo: state.history.future.length > 0,
    edit,
    undo: useCallback(() => step("undo"), [step]),
    redo: useCallback(() => step("redo"), [step]),
    saved: useCallback((revision: number, sent: Plan) => dispatch({ type: "saved", revision, sent }), []),
    replace: useCallback((out: ClassOut) => dispatch({ type: "replace", plan: out.plan, revision: out.revision }), []),
  };
}

export type Draft = ReturnType<typeof useDraft>;
