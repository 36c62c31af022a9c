import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useMemo, useState } from "react";

import type { Catalogue, Exercise, Room } from "../api/client";
import { Dialog } from "../shared/Dialog";
import { Filters } from "./Filters";
import { search, type ClassRequest } from "./search";

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
  const [sought, seek] = useState<ClassRequest>({ words: "" });
  const found = useMemo(() => (catalogue ? search(catalogue, room, sought) : []), [catalogue, room, sought]);

  return (
    <Dialog title={title} onClose={onClose} wide>
      <Combobox<Exercise | null> value={null} onChange={(exercise) => exercise && onPick(exercise)}>
        <Filters
          catalogue={catalogue}
          sought={sought}
          onSeek={seek}
          field={
            <ComboboxInput
              data-first
              aria-label="Search exercises"
              className="input input-sm min-w-56 grow"
              placeholder="Name, muscle, pattern or machine"
              maxLength={80}
              onChange={(event) => seek({ ...sought, words: event.target.value })}
              onKeyDown={(event) => {
                if (event.key === "Escape") onClose();
                // the first that was found is what is meant until the arrow keys choose another
                if (event.key === "Enter" && !event.currentTarget.getAttribute("aria-activedescendant") && found[0]) {
                  onPick(found[0].exercise);
                }
              }}
            />
          }
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
          <ComboboxOptions
            static
            as="ul"
            modal={false}
            className="mt-3 h-[50vh] divide-y divide-base-300 overflow-y-auto"
            data-testid="exercises"
          >
            {found.map(({ exercise, kind, pattern, muscles, places }) => (
              <ComboboxOption
                key={exercise.id}
                as="li"
                value={exercise}
                className="flex w-full cursor-pointer items-baseline gap-3 px-2 py-2 text-left aria-[current]:font-semibold data-focus:bg-base-200"
                aria-current={exercise.id === current || undefined}
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
              </ComboboxOption>
            ))}
          </ComboboxOptions>
        )}
      </Combobox>
    </Dialog>
  );
}
