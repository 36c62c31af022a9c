import { useQueryClient } from "@tanstack/react-query";

import { api, savedOf, type ClassOut, type Plan, type Saved } from "../api/client";
import { useDocument, type Kept } from "../keeping/useDocument";
import { FORM } from "./olderDrafts";

const keptAs = (out: ClassOut): Kept<Plan> => ({
  document: out.plan,
  revision: out.revision,
  savedAt: out.saved_at,
});

async function save(id: number, plan: Plan, based_on: number): Promise<Saved<Kept<Plan>>> {
  const answer = savedOf(
    await api.PUT("/api/classes/{class_id}", { params: { path: { class_id: id } }, body: { plan, based_on } }),
  );
  return "kept" in answer ? { kept: keptAs(answer.kept) } : { ...answer, newer: keptAs(answer.newer) };
}

/** The draft of one class; `onNext` hears of each next plan before it is drawn. */
export function useDraft(loaded: ClassOut, onNext: (plan: Plan) => void) {
  const queries = useQueryClient();
  const document = useDocument<Plan>({
    kind: "class",
    id: String(loaded.id),
    loaded: keptAs(loaded),
    save: (plan, basedOn) => save(loaded.id, plan, basedOn),
    onSaved: () => void queries.invalidateQueries({ queryKey: ["classes"] }),
    onNext,
    form: FORM,
  });
  return { ...document, plan: document.document };
}

export type Draft = ReturnType<typeof useDraft>;
