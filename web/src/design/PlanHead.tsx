import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { flushSync } from "react-dom";
import { Link, useNavigate } from "react-router";

import { useMay } from "../api/account";
import { api, dataOf, type Catalogue, type Plan, type Room } from "../api/client";
import { useKeys } from "../keeping/keys";
import { LeaveGuard } from "../keeping/LeaveGuard";
import { Refusals } from "../keeping/Refusals";
import { SaveState } from "../keeping/SaveState";
import { counted, startWords } from "../shared/format";
import { NumberField } from "../shared/NumberField";
import { Switch } from "../shared/Switch";
import { UndoRedo } from "../shared/UndoRedo";
import { setPlan } from "../draft/edits";
import { HeadTools } from "./HeadTools";
import { SetUpDialog } from "./SetUpDialog";
import type { Draft } from "../draft/useDraft";

export type Face = "score" | "floor" | "people";

type Props = {
  classId: number;
  draft: Draft;
  room: Room | undefined;
  catalogue: Catalogue | undefined;
  face: Face;
  onFace: (face: Face) => void;
};

function levelWords(plan: Plan): string {
  return plan.level === "standard" ? "" : `${plan.level} version`;
}

/** The class's name, its slot, and undo, redo and save. */
export function PlanHead({ classId, draft, room, catalogue, face, onFace }: Props) {
  const { plan, edit } = draft;
  const mayPlan = useMay("plan_classes");
  const mayReadHealth = useMay("read_health");
  const navigate = useNavigate();
  const [settingUp, setUp] = useState(false);
  useKeys({ save: mayPlan ? draft.save : undefined, undo: draft.undo, redo: draft.redo });
  const copy = useMutation({
    mutationFn: async (sent: Plan) =>
      dataOf(await api.POST("/api/classes", { body: { plan: { ...sent, name: `${sent.name} (copy)` } } })),
    onSuccess: (saved) => {
      draft.forgetRefusal();
      flushSync(() => draft.countAsSaved(draft.revision, plan));
      void navigate(`/classes/${saved.id}`);
    },
  });
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1 px-4 pt-1.5 lg:px-6">
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
        </div>
        <Switch
          large
          label="What is shown of the class"
          options={[
            ["score", "Score"],
            ["floor", "Floor"],
            ...(mayReadHealth ? ([["people", "People"]] as const) : []),
          ]}
          value={face}
          onChange={onFace}
        />
        <NumberField
          label="Class length"
          unit="min"
          value={plan.slot_min}
          min={5}
          max={240}
          step={5}
          onChange={(slot_min) => edit(setPlan({ slot_min }), "slot")}
        />
        {mayPlan && <HeadTools classId={classId} draft={draft} catalogue={catalogue} />}
        <UndoRedo canUndo={draft.canUndo} canRedo={draft.canRedo} onUndo={draft.undo} onRedo={draft.redo} />
      </div>
      <div className="flex flex-wrap items-center justify-between gap-x-3 gap-y-1 px-4 pb-1 lg:px-6">
        <p className="faint text-sm leading-4">
          {plan.starts && `${startWords(plan.starts)} · `}
          <Link to={`/rooms/${plan.room}`} className="underline underline-offset-2">
            {room?.name ?? plan.room}
          </Link>
          {" · "}
          {[counted(plan.people.length, "person", "people"), plan.aim, levelWords(plan)].filter(Boolean).join(" · ")}
          {mayPlan && (
            <button
              type="button"
              className="ml-2 min-h-6 underline decoration-dotted underline-offset-2"
              onClick={() => setUp(true)}
            >
              class details
            </button>
          )}
        </p>
        <SaveState document={draft} readOnly={mayPlan ? undefined : "Saving is for instructors"} />
      </div>
      <Refusals document={draft} what="class">
        <button type="button" className="btn btn-primary" disabled={copy.isPending} onClick={() => copy.mutate(plan)}>
          Keep mine as a class of its own
        </button>
      </Refusals>
      {settingUp && <SetUpDialog draft={draft} onClose={() => setUp(false)} />}
      <LeaveGuard what="this class" dirty={draft.dirty} save={mayPlan ? draft.saveNow : undefined} staysHere />
    </>
  );
}
