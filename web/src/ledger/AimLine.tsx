import { X } from "lucide-react";

import type { FigureGoal } from "../api/aim";
import type { Level } from "../api/client";
import { useCatalogue } from "../api/queries";
import { Pick } from "../shared/Pick";

/** What a figure is called where it is aimed at, and the unit it is typed in; seconds are typed as minutes. */
export const AIMED: [FigureGoal["figure"], string, string, number][] = [
  ["length", "Length", "min", 60],
  ["longest", "Length if all goes slowly", "min", 60],
  ["chance_inside", "Chance to end inside", "%", 1],
  ["work_share", "Work ÷ total", "%", 1],
  ["load_per_minute", "Load ÷ minute", "kg/min", 1],
  ["sets_per_minute", "Sets ÷ minute", "sets/min", 1],
  ["heart_mean", "Mean heart", "bpm", 1],
  ["vigorous_or_more", "Vigorous or more", "min", 1],
  ["impulse", "Impulse", "units", 1],
  ["zone_sum", "Zone sum", "units", 1],
  ["session_effort", "Session effort", "units", 1],
  ["energy", "Energy each", "kcal", 1],
  ["volume_load", "Volume load", "kg", 1],
  ["time_under_tension", "Under tension", "min", 60],
  ["muscle", "Tension of a muscle", "min", 60],
  ["waiting", "Waiting", "min", 60],
];
/** Figures that nobody has by themselves. */
export const OF_THE_CLASS = new Set<FigureGoal["figure"]>(["length", "longest", "chance_inside"]);
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
  const per = AIMED.find(([id]) => id === row.figure)![3];
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
  const [, , , per] = AIMED.find(([one]) => one === id)!;
  const shown = value / per;
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

const LEVELS: [string, string][] = [
  ["", "of the class"],
  ["beginner", "of beginners"],
  ["standard", "of standard level"],
  ["advanced", "of the advanced"],
];

/** A figure, how, and where it is to be. */
export function AimLine({ row, onChange, onDrop, fixed, byLevel }: Props) {
  const known = AIMED.find(([id]) => id === row.figure)!;
  const muscles = useCatalogue().data?.muscles ?? [];
  return (
    <div className="flex flex-wrap items-center gap-2">
      {fixed ? (
        <strong>{known[1]}</strong>
      ) : (
        <Pick
          bare
          label="Figure of the limit"
          value={row.figure}
          options={AIMED.map(([id, name]): [string, string] => [id, name])}
          onChange={(id) => onChange({ ...row, figure: AIMED.find(([one]) => one === id)![0] })}
        />
      )}
      {row.figure === "muscle" && (
        <Pick
          bare
          label="Which muscle"
          value={row.muscle ?? USUAL_MUSCLE}
          options={muscles.map((one): [string, string] => [one.id, one.name])}
          onChange={(muscle) => onChange({ ...row, muscle })}
        />
      )}
      <Pick
        bare
        label={fixed ? "How" : "How the limit holds"}
        value={row.want}
        options={WANTS}
        onChange={(want) => onChange({ ...row, want: WANTS.find(([one]) => one === want)![0] })}
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
      <span className="faint text-sm">{known[2]}</span>
      {byLevel && !OF_THE_CLASS.has(row.figure) && (
        <Pick
          bare
          label="Of whom"
          value={row.level ?? ""}
          options={LEVELS}
          onChange={(level) => onChange({ ...row, level: level as Level | "" })}
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
