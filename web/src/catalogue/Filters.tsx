import type { ReactNode } from "react";

import type { Catalogue } from "../api/client";
import { Pick } from "../shared/Pick";
import type { ClassRequest } from "./search";

type Props = {
  catalogue: Catalogue | undefined;
  sought: ClassRequest;
  onSeek: (sought: ClassRequest) => void;
  onEnter?: () => void;
  /** the field for the words, where it is part of a combobox */
  field?: ReactNode;
};

/** Words, muscle, pattern, equipment, and whether it has to be free in the room. */
export function Filters({ catalogue, sought, onSeek, onEnter, field }: Props) {
  const named = (all: string, entries: { id: string; name: string }[] | undefined): [string, string][] => [
    ["", all],
    ...(entries ?? []).map((entry): [string, string] => [entry.id, entry.name]),
  ];
  return (
    <div className="flex flex-wrap items-center gap-2">
      {field ?? (
        <input
          aria-label="Search exercises"
          className="input input-sm min-w-56 grow"
          placeholder="Name, muscle, pattern or machine"
          value={sought.words}
          maxLength={80}
          onChange={(event) => onSeek({ ...sought, words: event.target.value })}
          onKeyDown={(event) => {
            if (event.key === "Enter") onEnter?.();
          }}
        />
      )}
      <Pick
        label="Muscle"
        value={sought.muscle ?? ""}
        options={named("every muscle", catalogue?.muscles)}
        onChange={(muscle) => onSeek({ ...sought, muscle })}
      />
      <Pick
        label="Movement pattern"
        value={sought.pattern ?? ""}
        options={named("every pattern", catalogue?.patterns)}
        onChange={(pattern) => onSeek({ ...sought, pattern })}
      />
      <Pick
        label="Equipment"
        value={sought.equipment ?? ""}
        options={named("every equipment", catalogue?.equipment)}
        onChange={(equipment) => onSeek({ ...sought, equipment })}
      />
      <label className="flex items-center gap-1.5 text-sm">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={sought.free ?? false}
          onChange={(event) => onSeek({ ...sought, free: event.target.checked })}
        />
        in this room
      </label>
    </div>
  );
}
