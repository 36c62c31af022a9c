import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import { useNavigate } from "react-router";

import { createClass, makeFirstClass, type Wanted } from "../api/calls";
import { FaultyPlan } from "../api/client";
import { Dialog } from "../shared/Dialog";
import { PeoplePicker } from "../who/PeoplePicker";
import { WhereWhen } from "../who/WhereWhen";

const MANNERS: [NonNullable<Wanted["manner"]>, string, string][] = [
  ["stations", "Stations", "everybody moves on the bell"],
  ["pairs", "Pairs", "two exercises in turn, then the next two"],
  ["straight sets", "Straight sets", "one exercise until it is done"],
  ["partners", "Partners", "two share a station, alternating"],
];

/** Who, where, how long, what for, in which manner: then a first class that uses the room and the slot. */
export function NewClassDialog({ room, people, onClose }: { room: string; people: string[]; onClose: () => void }) {
  const [wanted, want] = useState<Wanted>({
    name: "New class",
    room,
    people,
    slot_min: 45,
    starts: "",
    repeats: null,
    aim: "mixed",
    manner: "stations",
    parts: [],
    loads: "share",
    scheme: null,
  });
  const navigate = useNavigate();
  const id = useId();
  const create = useMutation({
    mutationFn: async (item: Wanted) => createClass(await makeFirstClass(item)),
    onSuccess: (made) => void navigate(`/classes/${made.id}`),
  });
  const ready = wanted.people.length > 0 && wanted.name.trim() !== "";
  return (
    <Dialog title="A new class" onClose={onClose} wide>
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (ready) create.mutate({ ...wanted, name: wanted.name.trim() });
        }}
      >
        <label className="block text-sm" htmlFor={`${id}-name`}>
          Name
          <input
            id={`${id}-name`}
            data-first
            className="h-8 w-full rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-2"
            value={wanted.name}
            maxLength={120}
            onFocus={(event) => event.target.select()}
            onChange={(event) => want({ ...wanted, name: event.target.value })}
          />
        </label>
        <WhereWhen chosen={wanted} onChange={(fields) => want({ ...wanted, ...fields })} />
        <fieldset>
          <legend className="text-sm">Format</legend>
          <div className="grid grid-cols-2 gap-1 sm:grid-cols-4">
            {MANNERS.map(([manner, name, what]) => (
              <label
                key={manner}
                className={`cursor-pointer rounded border px-2 py-1 text-sm ${
                  wanted.manner === manner ? "border-base-content bg-base-200" : "border-base-300"
                }`}
              >
                <input
                  type="radio"
                  name="manner"
                  className="mr-1"
                  checked={wanted.manner === manner}
                  onChange={() => want({ ...wanted, manner })}
                />
                <strong>{name}</strong>
                <span className="faint block text-xs">{what}</span>
              </label>
            ))}
          </div>
        </fieldset>
        <PeoplePicker people={wanted.people} onChange={(next) => want({ ...wanted, people: next })} />
        {create.isError && (
          <p role="alert" className="rounded border border-error px-3 py-1.5 text-sm">
            The class was not made:{" "}
            {create.error instanceof FaultyPlan
              ? create.error.faults.map((fault) => `${fault.field}: ${fault.message}`).join("; ")
              : create.error.message}
          </p>
        )}
        <div className="flex flex-wrap items-center gap-3">
          <button type="submit" className="btn btn-primary" disabled={!ready || create.isPending}>
            {create.isPending ? "Making the class …" : "Make the class"}
          </button>
          <span className="faint text-xs">
            {ready
              ? "Warm-up, a main part from what the room has, and a cool-down, fitted to the class length: yours to change."
              : "A class has a name and somebody who comes."}
          </span>
        </div>
      </form>
    </Dialog>
  );
}
