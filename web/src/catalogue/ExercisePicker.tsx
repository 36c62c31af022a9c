import { useMemo, useState } from "react";

import type { Catalogue, Exercise, Room } from "../api/client";
import { Dialog } from "../shared/Dialog";

type Props = {
  title: string;
  catalogue: Catalogue | undefined;
  room: Room | undefined;
  onPick: (exercise: Exercise) => void;
  onClose: () => void;
  current?: string;
};

/** Working places of a kind of equipment in the room; null for the floor, where there is always room. */
function placesOf(room: Room | undefined, kind: string): number | null {
  if (kind === "none" || !room) return null;
  return room.units
    .filter((unit) => unit.kind === kind && !unit.out_of_order)
    .reduce((sum, unit) => sum + unit.count * unit.people_at_once, 0);
}

/** Choose an exercise by name, muscle or pattern; what the room cannot offer comes last and says so. */
export function ExercisePicker({ title, catalogue, room, onPick, onClose, current }: Props) {
  const [sought, setSought] = useState("");
  const found = useMemo(() => {
    if (!catalogue) return [];
    const kinds = new Map(catalogue.equipment.map((kind) => [kind.id, kind.name]));
    const muscles = new Map(catalogue.muscles.map((muscle) => [muscle.id, muscle.name]));
    const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
    return catalogue.exercises
      .map((exercise) => ({
        exercise,
        kind: kinds.get(exercise.equipment) ?? exercise.equipment,
        muscles: exercise.prime.map((muscle) => muscles.get(muscle) ?? muscle),
        places: placesOf(room, exercise.equipment),
      }))
      .filter((row) => {
        const text = `${row.exercise.name} ${row.kind} ${row.muscles.join(" ")} ${row.exercise.pattern}`.toLowerCase();
        return words.every((word) => text.includes(word));
      })
      .sort((one, other) => Number(one.places === 0) - Number(other.places === 0));
  }, [catalogue, room, sought]);

  return (
    <Dialog title={title} onClose={onClose} wide>
      <input
        autoFocus
        aria-label="Search exercises"
        className="input w-full"
        placeholder="Name, muscle, pattern or machine"
        value={sought}
        onChange={(event) => setSought(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter" && found[0]) onPick(found[0].exercise);
        }}
      />
      {!catalogue ? (
        <p role="status" className="mt-3">
          Opening the catalogue …
        </p>
      ) : found.length === 0 ? (
        <p className="mt-3">
          Nothing in the catalogue matches “{sought}”. Try a muscle, such as “glutes”, or a machine.
        </p>
      ) : (
        <ul className="mt-3 h-[50vh] divide-y divide-base-300 overflow-y-auto" data-testid="exercises">
          {found.map(({ exercise, kind, muscles, places }) => (
            <li key={exercise.id}>
              <button
                type="button"
                className="flex w-full items-baseline gap-3 px-2 py-2 text-left hover:bg-base-200 aria-[current]:font-semibold"
                aria-current={exercise.id === current || undefined}
                onClick={() => onPick(exercise)}
              >
                <span className="grow">
                  {exercise.name}
                  <span className="faint block text-xs">
                    {muscles.join(", ")} · {exercise.pattern.replaceAll("_", " ")}
                    {exercise.sides === "one_sided" ? " · one side at a time" : ""}
                  </span>
                </span>
                <span className="text-right text-sm">
                  {kind}
                  <span className={`block text-xs ${places === 0 ? "font-semibold text-error" : "faint"}`}>
                    {places === null ? "needs no machine" : places === 0 ? "▲ none working here" : `${places} at once`}
                  </span>
                </span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </Dialog>
  );
}
