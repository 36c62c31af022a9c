import { useMemo, useState } from "react";

import type { Catalogue, Exercise, Room } from "../api/client";
import { Dialog } from "../shared/Dialog";
import { Filters } from "./Filters";
import { search, type Sought } from "./search";

type Props = {
  title: string;
  catalogue: Catalogue | undefined;
  room: Room | undefined;
  onPick: (exercise: Exercise) => void;
  onClose: () => void;
  current?: string;
};

/** Choose an exercise by name, muscle, pattern or machine; what the room cannot offer comes last and says so. */
export function ExercisePicker({ title, catalogue, room, onPick, onClose, current }: Props) {
  const [sought, seek] = useState<Sought>({ words: "" });
  const found = useMemo(() => (catalogue ? search(catalogue, room, sought) : []), [catalogue, room, sought]);

  return (
    <Dialog title={title} onClose={onClose} wide>
      <Filters
        catalogue={catalogue}
        sought={sought}
        onSeek={seek}
        onEnter={() => found[0] && onPick(found[0].exercise)}
        autoFocus
      />
      {!catalogue ? (
        <p role="status" className="mt-3">
          Opening the catalogue …
        </p>
      ) : found.length === 0 ? (
        <p className="mt-3">
          Nothing in the catalogue matches “{sought.words}”. Try a muscle, such as “glutes”, or a machine.
        </p>
      ) : (
        <ul className="mt-3 h-[50vh] divide-y divide-base-300 overflow-y-auto" data-testid="exercises">
          {found.map(({ exercise, kind, pattern, muscles, places }) => (
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
                    {[...muscles, pattern.toLowerCase()].join(" · ")}
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
