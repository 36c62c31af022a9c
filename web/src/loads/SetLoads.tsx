import { useState } from "react";

import type { NextLoad } from "../api/progress";
import { mass, type Units } from "../shared/units";

type Props = {
  name: string;
  sets: NextLoad["proposal"]["sets"];
  /** the load of each set (kg), in their order */
  loads: number[];
  /** what the unit holds near them; empty: any load, so that there is nothing to choose */
  choices: number[];
  units: Units;
  onChange: (loads: number[]) => void;
};

/** The loads of the next class: one for all sets, or set by set where they differ or somebody asks for it. */
export function SetLoads({ name, sets, loads, choices, units, onChange }: Props) {
  const [apart, setApart] = useState(false);
  const first = loads[0] ?? 0;
  const alike = loads.every((kg) => kg === first);
  if (alike && !apart) {
    return (
      <>
        <LoadChoice
          label={`Next load of ${name}`}
          kg={first}
          choices={choices}
          units={units}
          onChange={(kg) => onChange(loads.map(() => kg))}
        />
        {loads.length > 1 && choices.length > 0 && (
          <button
            type="button"
            className="faint block text-xs underline underline-offset-2"
            onClick={() => setApart(true)}
            aria-label={`${name} set by set`}
          >
            set by set
          </button>
        )}
      </>
    );
  }
  return (
    <ol className="mt-0.5 space-y-0.5" aria-label={`Next loads of ${name}`}>
      {loads.map((kg, place) => (
        <li key={place} className="flex items-center gap-1.5 max-md:justify-end">
          <span className="faint w-12 text-right tabular-nums">{repsOf(sets[place])} ×</span>
          <LoadChoice
            label={`Set ${place + 1} of ${name}`}
            kg={kg}
            choices={choices}
            units={units}
            onChange={(next) => onChange(loads.map((now, at) => (at === place ? next : now)))}
          />
        </li>
      ))}
    </ol>
  );
}

/** The planned repetitions of a set: 8–10; a dot for a set by time. */
function repsOf(set: Props["sets"][number] | undefined): string {
  if (!set || set.low === null) return "·";
  return set.low === set.high ? String(set.low) : `${set.low}–${set.high}`;
}

type ChoiceProps = {
  label: string;
  kg: number;
  choices: number[];
  units: Units;
  onChange: (kg: number) => void;
};

function LoadChoice({ label, kg, choices, units, onChange }: ChoiceProps) {
  if (!choices.length) return <strong>{mass(kg, units)}</strong>;
  const here = choices.includes(kg) ? choices : [...choices, kg].sort((a, b) => a - b);
  return (
    <select
      aria-label={label}
      className="select select-xs w-24 font-semibold"
      value={kg}
      onChange={(event) => onChange(Number(event.target.value))}
    >
      {here.map((load) => (
        <option key={load} value={load}>
          {mass(load, units)}
        </option>
      ))}
    </select>
  );
}
