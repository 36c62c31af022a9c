import { Plus, Spline } from "lucide-react";
import { useState } from "react";

import type { FigureGoal, GoalSearch } from "../api/aim";
import type { Plan } from "../api/client";
import { replacePlan } from "../draft/edits";
import type { Draft } from "../draft/useDraft";
import { Dialog } from "../shared/Dialog";
import { Refused } from "../shared/Refused";
import { AimLine, meant, typed, valueWords, type Row } from "./AimLine";
import { CurveDialog } from "./CurveDialog";
import { Proposals } from "./Proposals";
import { useReach } from "./useReach";

type Props = {
  plan: Plan;
  edit: Draft["edit"];
  onClose: () => void;
  /** which figure, of whom (an id; nobody: the class), of which muscle, and where it is now */
  start: { figure: FigureGoal["figure"]; person?: string; muscle?: string; who: string; now: number };
};

/** Says where a figure is to be and what has to hold; shows changes that bring it there, with what each does. */
export function AimDialog({ plan, edit, onClose, start }: Props) {
  const [row, setRow] = useState<Row>({
    figure: start.figure,
    want: "about",
    value: typed(start.figure, start.now),
    muscle: start.muscle,
  });
  const [limits, setLimits] = useState<Row[]>(
    start.figure === "length" ? [] : [{ figure: "length", want: "at_most", value: String(plan.slot_min) }],
  );
  const { told, phase, error, search, stop } = useReach();
  const [curve, openCurve] = useState(false);
  const aimed = () => ({ ...meant(row), person: start.person ?? null });
  const held = () => limits.filter((limit) => limit.value !== "").map(meant);
  const right = [row, ...limits].every((limit) => limit.value !== "" && Number(limit.value) >= 0);
  return (
    <Dialog title={`Aim at a figure: ${start.who}`} onClose={onClose} wide>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (right) void search(plan, aimed(), held());
        }}
      >
        <AimLine row={row} fixed byLevel={!start.person} onChange={setRow} />
        {limits.map((limit, at) => (
          <div key={at} className="mt-2 flex items-center gap-2">
            <span className="faint w-14 text-sm">while</span>
            <AimLine
              row={limit}
              byLevel
              onChange={(next) => setLimits(limits.map((limit, place) => (place === at ? next : limit)))}
              onDrop={() => setLimits(limits.filter((_, place) => place !== at))}
            />
          </div>
        ))}
        <div className="mt-3 flex flex-wrap gap-2">
          {phase === null ? (
            <button type="submit" className="btn btn-primary btn-sm" disabled={!right}>
              Find changes
            </button>
          ) : (
            <button type="button" className="btn btn-sm" onClick={stop}>
              Stop
            </button>
          )}
          {limits.length < 4 && (
            <button
              type="button"
              className="btn btn-sm"
              onClick={() => setLimits([...limits, { figure: "vigorous_or_more", want: "at_most", value: "" }])}
            >
              <Plus size={14} aria-hidden /> A limit
            </button>
          )}
          <button type="button" className="btn btn-sm" onClick={() => openCurve(true)}>
            <Spline size={14} aria-hidden /> What it costs of another figure …
          </button>
        </div>
      </form>
      <Refused error={error} />
      {phase && (
        <p role="status" className="mt-3 text-sm">
          {phase === "quick" ? "Trying the usual changes …" : "Looking for more: other kinds, and several together …"}
        </p>
      )}
      {phase === "quick" && <div className="skeleton mt-2 h-32 w-full" aria-hidden />}
      {told && (
        <Told
          told={told}
          still={phase !== null}
          figure={row.figure}
          onApply={(next) => {
            edit(replacePlan(next));
            onClose();
          }}
        />
      )}
      {curve && (
        <CurveDialog
          plan={plan}
          across={aimed()}
          limits={held()}
          onTake={(next) => {
            edit(replacePlan(next));
            onClose();
          }}
          onClose={() => openCurve(false)}
        />
      )}
    </Dialog>
  );
}

type ToldProps = { told: GoalSearch; still: boolean; figure: FigureGoal["figure"]; onApply: (plan: Plan) => void };

function Told({ told, still, figure: id, onApply }: ToldProps) {
  const said = (value: number) => valueWords(id, value, 2);
  if (told.reached_already)
    return <p className="mt-3">It is there already: {said(told.before)}. Nothing has to change.</p>;
  const reached = told.proposals.filter((proposal) => proposal.reached);
  return (
    <div className="mt-4" data-testid="aiming">
      <p aria-live="polite">
        {reached.length
          ? `Now ${said(told.before)}. These bring it there, the lowest cost first.`
          : told.proposals.length
            ? `Now ${said(told.before)}. Nothing that was tried reaches it; these come nearest.`
            : still
              ? `Now ${said(told.before)}.`
              : `Now ${said(told.before)}. Nothing that was tried brings it nearer without breaking a limit.`}
      </p>
      <Proposals proposals={told.proposals} caught={told.caught} said={said} onApply={onApply} />
    </div>
  );
}
