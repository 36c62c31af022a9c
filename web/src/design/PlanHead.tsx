import { Save } from "lucide-react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useNavigate } from "react-router";

import { useIsInstructor } from "../api/account";
import { api, dataOf, StalePlan, type Catalogue, type ClassOut, type Plan, type Room } from "../api/client";
import { Dialog } from "../shared/Dialog";
import { counted, when } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { Switch } from "../shared/Switch";
import { UndoRedo } from "../shared/UndoRedo";
import { setPlan } from "./edits";
import { HeadTools } from "./HeadTools";
import type { Draft } from "./useDraft";

export type Face = "score" | "floor" | "people";

function levelWords(plan: Plan): string {
  return plan.level === "standard" ? "" : `${plan.level} version`;
}

/** The class's name, its slot, and undo, redo and save. */
export function PlanHead({
  classId,
  draft,
  room,
  catalogue,
  face,
  onFace,
}: {
  classId: number;
  draft: Draft;
  room: Room | undefined;
  catalogue: Catalogue | undefined;
  face: Face;
  onFace: (face: Face) => void;
}) {
  const { plan, edit } = draft;
  const instructor = useIsInstructor();
  const queries = useQueryClient();
  const navigate = useNavigate();

  const save = useMutation({
    mutationFn: async ({ sent, basedOn }: { sent: Plan; basedOn: number }) => {
      const answer = await api.PUT("/api/classes/{class_id}", {
        params: { path: { class_id: classId } },
        body: { plan: sent, based_on: basedOn },
      });
      return dataOf<ClassOut>(answer);
    },
    onSuccess: (saved, { sent }) => {
      draft.saved(saved.revision, sent);
      void queries.invalidateQueries({ queryKey: ["classes"] });
    },
  });
  const copy = useMutation({
    mutationFn: async (sent: Plan) => {
      const answer = await api.POST("/api/classes", { body: { plan: { ...sent, name: `${sent.name} (copy)` } } });
      return dataOf<ClassOut>(answer);
    },
    onSuccess: (saved) => {
      save.reset();
      draft.saved(draft.revision, plan);
      void navigate(`/classes/${saved.id}`);
    },
  });

  const { mutate, isPending } = save;
  const saveNow = () => mutate({ sent: plan, basedOn: draft.revision });
  useEffect(() => {
    function onKey(event: KeyboardEvent) {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "s") {
        event.preventDefault();
        mutate({ sent: plan, basedOn: draft.revision });
      }
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [mutate, plan, draft.revision]);

  const stale = save.error instanceof StalePlan ? save.error : null;
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2 px-4 pt-1.5 pb-1 lg:px-6">
        <div className="min-w-0 grow">
          <input
            aria-label="Name of the class"
            className="w-full max-w-md truncate rounded border border-transparent bg-transparent text-xl font-semibold hover:border-base-300"
            value={plan.name}
            maxLength={120}
            onChange={(event) => {
              const name = event.target.value.trimStart();
              if (name) edit(setPlan({ name }), "name");
            }}
            onBlur={() => edit(setPlan({ name: plan.name.trim() }), "name")}
          />
          <p className="faint text-sm leading-4">
            {plan.starts && `${plan.starts} · `}
            <Link to={`/rooms/${plan.room}`} className="underline underline-offset-2">
              {room?.name ?? plan.room}
            </Link>
            {[" ", counted(plan.people.length, "person", "people"), levelWords(plan)]
              .filter(Boolean)
              .join(" · ")
              .slice(1)}
          </p>
        </div>
        <Switch
          large
          label="What is shown of the class"
          options={[["score", "Score"], ["floor", "Floor"], ...(instructor ? ([["people", "People"]] as const) : [])]}
          value={face}
          onChange={onFace}
        />
        <NumberField
          label="Slot"
          unit="min"
          value={plan.slot_min}
          min={5}
          max={240}
          step={5}
          onChange={(slot_min) => edit(setPlan({ slot_min }), "slot")}
        />
        {instructor && <HeadTools classId={classId} draft={draft} catalogue={catalogue} />}
        <UndoRedo canUndo={draft.canUndo} canRedo={draft.canRedo} onUndo={draft.undo} onRedo={draft.redo} />
        <div className="flex items-center gap-3">
          <span className="faint text-sm" role="status" data-testid="save-state">
            {!instructor
              ? "Saving is for instructors"
              : isPending
                ? "Saving …"
                : draft.dirty
                  ? "Not saved yet"
                  : `Saved as revision ${draft.revision}`}
          </span>
          <button
            type="button"
            className="btn btn-primary btn-sm"
            disabled={!draft.dirty || isPending || !instructor}
            onClick={saveNow}
            title={instructor ? "Save (Ctrl+S)" : "Saving is for instructors"}
          >
            <Save size={16} aria-hidden /> Save
          </button>
        </div>
      </div>
      {draft.broughtBack && (
        <p
          role="status"
          data-testid="brought-back"
          className="mx-4 mb-2 flex flex-wrap items-center gap-3 rounded border border-info px-3 py-1.5 text-sm lg:mx-6"
        >
          Changes that were not saved ({when(draft.broughtBack)}) are back on the score.
          <button type="button" className="btn btn-xs" onClick={draft.undo}>
            Show the saved class instead
          </button>
        </p>
      )}
      {save.isError && !stale && (
        <p role="alert" className="mx-4 mb-2 rounded border border-error px-3 py-1.5 text-sm lg:mx-6">
          Not saved: {save.error.message} Your changes are kept on this device.
        </p>
      )}
      {stale && (
        <Dialog title="This class was saved elsewhere" onClose={() => save.reset()}>
          <p>
            While you were working, revision {stale.latest.revision} was saved ({when(stale.latest.saved_at)}). Nothing
            of yours is lost. Whatever you choose, both versions stay in the history.
          </p>
          <div className="mt-4 flex flex-col gap-2">
            <button
              type="button"
              className="btn btn-primary"
              disabled={copy.isPending}
              onClick={() => copy.mutate(plan)}
            >
              Keep mine as a class of its own
            </button>
            <button
              type="button"
              className="btn"
              onClick={() => mutate({ sent: plan, basedOn: stale.latest.revision })}
            >
              Save mine as the newest revision
            </button>
            <button
              type="button"
              className="btn"
              onClick={() => {
                draft.replace(stale.latest);
                save.reset();
              }}
            >
              Show the other version (undo brings mine back)
            </button>
          </div>
        </Dialog>
      )}
    </>
  );
}
