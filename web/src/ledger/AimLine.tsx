import { X } from "lucide-react";

import type { FigureGoal } from "../api/aim";
import type { Level } from "../api/client";
import { useCatalogue } from "../api/queries";
import { present } from "../basis/entries";
import { FIGURES, type Figure } from "../shared/figures";
import { clock, figure } from "../shared/format";
import { Pick } from "../shared/Pick";

/** A figure that a class can be steered by; it is typed in `unit`, which is `per` of its own. */
type Goal = { id: FigureGoal["figure"]; name: string; unit: string; per: number };

/** Figures that say how near counts as equal are those that can be steered by. */
const isGoal = (figure: Figure): figure is Figure & { id: Goal["id"] } => figure.goal !== undefined;

export const GOALS: Goal[] = FIGURES.filter(isGoal).map(({ id, label, unit }) => ({
  id,
  name: label,
  unit: unit === "s" ? "min" : unit,
  per: unit === "s" ? 60 : 1,
}));

export const goalOf = (id: Goal["id"]): Goal =>
  present(
    GOALS.find((goal) => goal.id === id),
    `The figure “${id}”`,
  );

/** A value of a figure in words, with its unit. */
export function valueWords(id: Goal["id"], value: number, decimals: number): string {
  const { unit, per } = goalOf(id);
  return per === 60 ? `${clock(value)} min:s` : `${figure(value, value < 10 ? decimals : 0)} ${unit}`;
}
/** Figures that nobody has by themselves. */
export const OF_THE_CLASS = new Set(FIGURES.filter((figure) => figure.of === "class").map((figure) => figure.id));
const USUAL_MUSCLE = "gluteals";
const WANTS: [NonNullable<FigureGoal["want"]>, string][] = [
  ["about", "about"],
  ["at_least", "at least"],
  ["at_most", "at most"],
];

/** One figure with where it is to be, as it is typed. */
export type Row = {
  figure: FigureGoal["figure"];
  want: NonNullable<FigureGoal["want"]>;
  value: string;
  level?: Level | "";
  /** by id, where the figure is the tension of one */
  muscle?: string;
};

/** A typed line as the server reads it. */
export function meant(row: Row): FigureGoal {
  const { per } = goalOf(row.figure);
  return {
    figure: row.figure,
    want: row.want,
    value: Number(row.value) * per,
    level: OF_THE_CLASS.has(row.figure) ? null : row.level || null,
    muscle: row.figure === "muscle" ? (row.muscle ?? USUAL_MUSCLE) : null,
  };
}

/** A value in the unit in which it is typed. */
export function typed(id: FigureGoal["figure"], value: number): string {
  const shown = value / goalOf(id).per;
  return shown >= 20 ? shown.toFixed(0) : String(Number(shown.toFixed(2)));
}

type Props = {
  row: Row;
  onChange: (row: Row) => void;
  onDrop?: () => void;
  /** the figure cannot be chosen */
  fixed?: boolean;
  /** it may be of one level alone */
  byLevel?: boolean;
};

const LEVELS: [Level | "", string][] = [
  ["", "of the class"],
  ["beginner", "of beginners"],
  ["standard", "of standard level"],
  ["advanced", "of the advanced"],
];

/** A figure, how, and where it is to be. */
export function AimLine({ row, onChange, onDrop, fixed, byLevel }: Props) {
  const known = goalOf(row.figure);
  const muscles = useCatalogue().data?.muscles ?? [];
  return (
    <div className="flex flex-wrap items-center gap-2">
      {fixed ? (
        <strong>{known.name}</strong>
      ) : (
        <Pick
          bare
          label="Figure of the limit"
          value={row.figure}
          options={GOALS.map((goal) => [goal.id, goal.name])}
          onChange={(figure) => onChange({ ...row, figure })}
        />
      )}
      {row.figure === "muscle" && (
        <Pick
          bare
          label="Which muscle"
          value={row.muscle ?? USUAL_MUSCLE}
          options={muscles.map((muscle) => [muscle.id, muscle.name])}
          onChange={(muscle) => onChange({ ...row, muscle })}
        />
      )}
      <Pick
        bare
        label={fixed ? "How" : "How the limit holds"}
        value={row.want}
        options={WANTS}
        onChange={(want) => onChange({ ...row, want })}
      />
      <input
        type="number"
        step="any"
        min={0}
        aria-label={fixed ? "Where it is to be" : "Value of the limit"}
        className="input input-sm w-24 text-right"
        value={row.value}
        onChange={(event) => onChange({ ...row, value: event.target.value })}
      />
      <span className="faint text-sm">{known.unit}</span>
      {byLevel && !OF_THE_CLASS.has(row.figure) && (
        <Pick
          bare
          label="Of whom"
          value={row.level ?? ""}
          options={LEVELS}
          onChange={(level) => onChange({ ...row, level })}
        />
      )}
      {onDrop && (
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square"
          aria-label="Without this limit"
          onClick={onDrop}
        >
          <X size={14} aria-hidden />
        </button>
      )}
    </div>
  );
}
