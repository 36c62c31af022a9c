import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { useNavigate } from "react-router";

import { createFirstRoom, useThings } from "../api/floor";
import { Dialog } from "../shared/Dialog";
import { HowMany } from "../shared/HowMany";
import { NumberField } from "../shared/NumberField";
import { Refused } from "../shared/Refused";
import { counted } from "../shared/format";

/** How large the room is and how many of what stand there; everything is placed sensibly and can be dragged then. */
export function FirstRoomDialog({ name: begun, onClose }: { name: string; onClose: () => void }) {
  const things = useThings();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const id = useId();
  const [name, setName] = useState(begun);
  const [width, setWidth] = useState(12);
  const [depth, setDepth] = useState(9);
  const [counts, setCounts] = useState<Record<string, number>>({});
  const make = useMutation({
    mutationFn: () =>
      createFirstRoom({
        name: name.trim(),
        width_m: width,
        depth_m: depth,
        counts: Object.fromEntries(Object.entries(counts).filter(([, count]) => count > 0)),
      }),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: ["rooms"] });
      void navigate(`/rooms/${made.room.id}`);
    },
  });
  const groups = [...new Set((things.data ?? []).map((thing) => thing.group))];
  const many = Object.values(counts).reduce((sum, count) => sum + count, 0);
  return (
    <Dialog title="What stands in the room" onClose={onClose} wide>
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim()) make.mutate();
        }}
      >
        <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
          <label className="text-sm" htmlFor={`${id}-name`}>
            Name
            <input
              id={`${id}-name`}
              data-first
              className="block h-8 w-52 rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-2"
              value={name}
              maxLength={120}
              onFocus={(event) => event.target.select()}
              onChange={(event) => setName(event.target.value)}
            />
          </label>
          <NumberField wide label="Width" unit="m" value={width} min={3} max={60} onChange={setWidth} />
          <NumberField wide label="Depth" unit="m" value={depth} min={3} max={60} onChange={setDepth} />
        </div>
        {things.isPending && <div className="skeleton h-60 w-full" role="status" aria-label="Opening the list" />}
        <Refused error={things.error} />
        <div className="grid gap-x-6 gap-y-3 sm:grid-cols-3">
          {groups.map((group) => (
            <fieldset key={group}>
              <legend className="font-semibold first-letter:uppercase">{group}</legend>
              <ul>
                {things.data
                  ?.filter((thing) => thing.group === group)
                  .map((thing) => (
                    <li key={thing.kind} className={counts[thing.kind] ? "font-semibold" : ""}>
                      <HowMany
                        name={thing.name}
                        most={thing.most}
                        count={counts[thing.kind] ?? 0}
                        onChange={(count) => setCounts({ ...counts, [thing.kind]: count })}
                      />
                    </li>
                  ))}
              </ul>
            </fieldset>
          ))}
        </div>
        <Refused error={make.error} />
        <div className="flex flex-wrap items-center gap-3">
          <button type="submit" className="btn btn-primary" disabled={!name.trim() || make.isPending}>
            {make.isPending ? "Placing it …" : "Make the room"}
          </button>
          <span className="faint text-xs">
            {many ? `${counted(many, "thing")}, placed along the walls` : "An empty floor is a room, too"}: dragged to
            where they really stand afterwards. Loads are usual ones, to be corrected at each unit.
          </span>
        </div>
      </form>
    </Dialog>
  );
}
