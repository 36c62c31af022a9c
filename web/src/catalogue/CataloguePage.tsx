import { Plus } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { useSearchParams } from "react-router";

import { useCatalogue, useRooms } from "../api/queries";
import { Dialog } from "../shared/Dialog";
import { counted } from "../shared/format";
import { Pick } from "../shared/Pick";
import { ExerciseCard } from "./ExerciseCard";
import { Filters } from "./Filters";
import { OwnEquipmentForm, OwnExerciseForm } from "./OwnForms";
import { search, type ClassRequest } from "./search";
import { ShippedToo } from "../shared/ShippedToo";
import { TakeOut } from "../shared/TakeOut";

/** The catalogue: search at the left, everything known of one exercise at the right; own entries are added here. */
export function CataloguePage() {
  const catalogue = useCatalogue();
  const rooms = useRooms();
  const [parameters, setParameters] = useSearchParams();
  const [sought, seek] = useState<ClassRequest>({ words: "" });
  const [roomId, chooseRoom] = useState("");
  const [adding, add] = useState<"exercise" | "equipment" | "change" | null>(null);
  const room = rooms.data?.find((room) => room.id === roomId) ?? rooms.data?.[0];
  const found = useMemo(
    () => (catalogue.data ? search(catalogue.data, room, sought) : []),
    [catalogue.data, room, sought],
  );
  const retiredHere =
    catalogue.data?.exercises.filter((exercise) => catalogue.data.retired.includes(exercise.id)).length ?? 0;
  const open = parameters.get("exercise") ?? found[0]?.exercise.id ?? null;
  const exercise = catalogue.data?.exercises.find((exercise) => exercise.id === open);
  useEffect(() => {
    document.title = "Catalogue – Oaken Circuit";
  }, []);
  const show = (id: string) => setParameters({ exercise: id }, { replace: true });

  return (
    <div className="px-4 py-4 lg:px-6">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h1 className="text-2xl font-semibold">Catalogue</h1>
        <span className="faint text-sm">
          {catalogue.data && `${counted(found.length, "exercise")} of ${catalogue.data.exercises.length}`}
        </span>
        {(rooms.data?.length ?? 0) > 1 && (
          <Pick
            label="Room"
            value={room?.id ?? ""}
            options={(rooms.data ?? []).filter((room) => !room.retired).map((room) => [room.id, room.name])}
            onChange={chooseRoom}
          />
        )}
        <span className="ml-auto flex gap-2">
          <button type="button" className="btn btn-sm" onClick={() => add("equipment")}>
            <Plus size={15} aria-hidden /> Own equipment kind
          </button>
          <button type="button" className="btn btn-primary btn-sm" onClick={() => add("exercise")}>
            <Plus size={15} aria-hidden /> Own exercise
          </button>
        </span>
      </div>
      <ShippedToo />
      <Filters
        catalogue={catalogue.data}
        sought={sought}
        onSeek={seek}
        onEnter={() => found[0] && show(found[0].exercise.id)}
      />
      {retiredHere > 0 && (
        <label className="mt-2 flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={Boolean(sought.retired)}
            onChange={(event) => seek({ ...sought, retired: event.target.checked })}
          />
          Show what is retired ({retiredHere}) instead
        </label>
      )}
      {catalogue.isError ? (
        <div role="alert" className="mt-3 rounded border border-error p-3">
          The catalogue cannot be read: {catalogue.error.message}{" "}
          <button type="button" className="btn btn-sm" onClick={() => catalogue.refetch()}>
            Try again
          </button>
        </div>
      ) : catalogue.isPending ? (
        <div role="status" aria-label="Opening the catalogue" className="skeleton mt-3 h-96 w-full" />
      ) : (
        <div className="mt-3 grid gap-5 lg:grid-cols-[24rem_1fr]">
          <ul
            tabIndex={0}
            aria-label="Exercises found"
            className="max-h-[40vh] divide-y divide-base-300 overflow-y-auto border-y border-base-300 lg:max-h-[calc(100vh-11rem)]"
            data-testid="catalogue-list"
          >
            {found.length === 0 && (
              <li className="p-3">Nothing matches. Try fewer words, another muscle, or add an exercise of your own.</li>
            )}
            {found.map(({ exercise: one, kind, muscles, places }) => (
              <li key={one.id}>
                <button
                  type="button"
                  aria-current={one.id === open || undefined}
                  className="flex w-full items-baseline gap-3 px-2 py-1.5 text-left hover:bg-base-200 aria-[current]:bg-base-200 aria-[current]:shadow-[inset_3px_0_0_var(--color-base-content)]"
                  onClick={() => show(one.id)}
                >
                  <span className="grow">
                    {one.name} {catalogue.data.own.includes(one.id) && <span className="faint text-xs">(own)</span>}
                    <span className="faint block text-xs">{muscles.join(", ")}</span>
                  </span>
                  <span className={`text-right text-xs ${places === 0 ? "font-semibold text-accent" : "faint"}`}>
                    {kind}
                    {places === 0 && <span className="block">▲ none working</span>}
                  </span>
                </button>
              </li>
            ))}
          </ul>
          {open && exercise && (
            <article>
              <div className="mb-2 flex flex-wrap items-center gap-3">
                <h2 className="text-xl font-semibold">{exercise.name}</h2>
                {exercise.aliases.length > 0 && (
                  <span className="faint text-sm">also written {exercise.aliases.join(", ")}</span>
                )}
                {catalogue.data.own.includes(exercise.id) && (
                  <>
                    <button type="button" className="btn btn-xs" onClick={() => add("change")}>
                      Change {exercise.name.toLowerCase()}
                    </button>
                    <TakeOut
                      kind="exercises"
                      id={exercise.id}
                      name={exercise.name}
                      retired={catalogue.data.retired.includes(exercise.id)}
                      onGone={() => setParameters({}, { replace: true })}
                    />
                  </>
                )}
              </div>
              <ExerciseCard id={open} catalogue={catalogue.data} room={room} onOpen={show} />
            </article>
          )}
        </div>
      )}
      {adding && catalogue.data && (
        <Dialog
          title={adding === "equipment" ? "An equipment kind of your own" : "An exercise of your own"}
          onClose={() => add(null)}
          wide
        >
          {adding !== "equipment" ? (
            <OwnExerciseForm
              catalogue={catalogue.data}
              known={adding === "change" ? exercise : undefined}
              onKept={(id) => {
                add(null);
                seek({ words: "" });
                show(id);
              }}
            />
          ) : (
            <OwnEquipmentForm catalogue={catalogue.data} onKept={() => add(null)} />
          )}
        </Dialog>
      )}
    </div>
  );
}
