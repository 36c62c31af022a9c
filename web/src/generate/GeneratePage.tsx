import { useEffect, useState } from "react";
import { Link } from "react-router";

import { FaultyPlan } from "../api/client";
import { usePeople, useRooms } from "../api/queries";
import type { ClassRequest } from "../api/generator";
import { InWords } from "./InWords";
import { RequestForm } from "./RequestForm";
import { GeneratedCard } from "./GeneratedCard";
import { IN_A_ROW, useGenerated } from "./useGenerated";

const MOST_IN_CLASS = 60;

/** Say what the class should be; three classes that fit are drawn beside one another, one is taken. */
export function GeneratePage() {
  const rooms = useRooms();
  const people = usePeople();
  useEffect(() => {
    document.title = "Generate a class – Oaken Circuit";
  }, []);
  if (rooms.isPending || people.isPending)
    return <div role="status" aria-label="Opening rooms and people" className="skeleton m-4 h-96" />;
  if (rooms.isError || people.isError)
    return (
      <div role="alert" className="m-4 rounded border border-error p-4">
        Rooms and people cannot be read: {(rooms.error ?? people.error)?.message}{" "}
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => void Promise.all([rooms.refetch(), people.refetch()])}
        >
          Try again
        </button>
      </div>
    );
  const room = rooms.data.find((room) => !room.retired);
  if (!room || !people.data.length)
    return (
      <section className="mx-auto my-8 max-w-xl rounded-(--radius-box) border border-base-300 bg-base-200 p-5">
        <h1 className="text-xl font-semibold">A class needs a room and people</h1>
        <p className="mt-2">
          {room ? "The room is there. " : ""}
          {people.data.length ? "The people are there. " : ""}
          Then three classes can be generated.
        </p>
        <p className="mt-3 flex flex-wrap gap-2">
          {!room && (
            <Link to="/rooms?begin=room" className="btn btn-primary">
              Say what stands in the room
            </Link>
          )}
          {!people.data.length && (
            <Link to="/people?begin=crowd" className={`btn ${room ? "btn-primary" : ""}`}>
              Say who comes
            </Link>
          )}
        </p>
      </section>
    );
  return <Generation room={room.id} people={people.data.slice(0, MOST_IN_CLASS).map((person) => person.id)} />;
}

function Generation({ room, people }: { room: string; people: string[] }) {
  const { row, making, error, make, cancel } = useGenerated();
  const [request, seek] = useState<ClassRequest>(() => row?.request ?? begun(room, people));
  const same = row !== undefined && JSON.stringify(row.request) === JSON.stringify(request);
  const keep = (exercise: string) => seek(toggled(request, exercise, "pinned"));
  const leave = (exercise: string) => seek(toggled(request, exercise, "left"));
  return (
    <div
      className="mx-auto grid max-w-[110rem] gap-x-6 gap-y-4 px-4 py-4 lg:grid-cols-[21rem_1fr]"
      data-testid="generated-classes"
    >
      <section aria-labelledby="request">
        <h1 id="request" className="text-2xl font-semibold">
          Generate a class
        </h1>
        <InWords request={request} onRead={seek} />
        <RequestForm request={request} onChange={seek}>
          <div className="flex flex-wrap items-center gap-2">
            {making === null ? (
              <>
                <button
                  type="submit"
                  className="btn btn-primary"
                  disabled={!request.people.length}
                  onClick={() => void make(request, undefined)}
                >
                  {row && !same ? "Generate again" : "Generate three"}
                </button>
                {row && same && row.made.length > 0 && (
                  <button type="button" className="btn" onClick={() => void make(request, row)}>
                    Another three
                  </button>
                )}
              </>
            ) : (
              <>
                <button type="button" className="btn" onClick={cancel}>
                  Stop
                </button>
                <span role="status" className="text-sm">
                  Making class {making + 1} of {IN_A_ROW} …
                </span>
              </>
            )}
          </div>
          {!request.people.length && <p className="text-sm text-accent">▲ A class needs somebody who comes.</p>}
        </RequestForm>
      </section>
      <section aria-label="Generated classes" className="min-w-0">
        {error && (
          <div role="alert" className="mb-3 rounded border border-error px-3 py-2 text-sm">
            {error instanceof FaultyPlan ? (
              <ul>
                {error.faults.map((fault) => (
                  <li key={fault.path + fault.message}>
                    {fault.message} {fault.right && <span className="faint">({fault.right})</span>}
                  </li>
                ))}
              </ul>
            ) : (
              error.message
            )}
          </div>
        )}
        <InTheWay words={row?.made.at(-1)?.told.unmet ?? []} />
        {!row && making === null && !error && (
          <p className="faint max-w-prose pt-2">
            Say who comes, where, how long and what for. Three classes of different kinds are made from what the room
            has and what these people can do, complete from warm-up to cool-down, with the reason for every exercise.
            You take one and change it like any other, or keep an exercise and ask for another three.
          </p>
        )}
        <ol className="grid gap-4 md:grid-cols-2 xl:grid-cols-3">
          {row?.made.map(
            ({ number, told }) =>
              told.generated && (
                <GeneratedCard
                  key={number}
                  generated={told.generated}
                  request={request}
                  onKeep={keep}
                  onLeave={leave}
                />
              ),
          )}
          {making !== null && (
            <li className="skeleton h-96" role="status" aria-label={`Making class ${making + 1} of ${IN_A_ROW}`} />
          )}
        </ol>
      </section>
    </div>
  );
}

/** What keeps a class from being as it was asked for. */
function InTheWay({ words }: { words: string[] }) {
  if (!words.length) return null;
  return (
    <div className="mb-3 rounded border border-accent px-3 py-2" data-testid="in-the-way">
      <strong>▲ In the way</strong>
      <ul className="list-disc pl-5">
        {words.map((word) => (
          <li key={word}>{word}.</li>
        ))}
      </ul>
    </div>
  );
}

function begun(room: string, people: string[]): ClassRequest {
  return {
    name: "New class",
    room,
    people,
    slot_min: 45,
    starts: "",
    aim: "mixed",
    level: "standard",
    manner: null,
    day: "whole",
    accents: [],
    leave_out: { exercises: [], patterns: [], equipment: [], tags: [] },
    pinned: [],
    wanted: [],
    lately: [],
    hard_before: null,
    sets: null,
    seed: 7,
  };
}

/** An exercise kept or left out, or neither where it was so already; it is never both. */
function toggled(request: ClassRequest, exercise: string, how: "pinned" | "left"): ClassRequest {
  const pinned = request.pinned;
  const left = request.leave_out.exercises;
  const without = (names: string[]) => names.filter((name) => name !== exercise);
  const add = (names: string[]) => (names.includes(exercise) ? without(names) : [...names, exercise]);
  return {
    ...request,
    pinned: how === "pinned" ? add(pinned) : without(pinned),
    leave_out: { ...request.leave_out, exercises: how === "left" ? add(left) : without(left) },
  };
}
