import { Plus } from "lucide-react";
import { useEffect, useMemo, useState } from "react";

import type { Catalogue, Exercise } from "../api/client";
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
        <AddOwn onAdd={add} />
      </div>
      <ShippedToo />
      <Filters
        catalogue={catalogue.data}
        sought={sought}
        onSeek={seek}
        onEnter={() => found[0] && show(found[0].exercise.id)}
      />
      {retiredHere > 0 && (
        <RetiredOnly
          count={retiredHere}
          chosen={Boolean(sought.retired)}
          onChange={(retired) => seek({ ...sought, retired })}
        />
      )}
      {catalogue.isError ? (
        <CatalogueLost error={catalogue.error} again={() => void catalogue.refetch()} />
      ) : catalogue.isPending ? (
        <div role="status" aria-label="Opening the catalogue" className="skeleton mt-3 h-96 w-full" />
      ) : (
        <div className="mt-3 grid gap-5 lg:grid-cols-[24rem_1fr]">
          <Found found={found} own={catalogue.data.own} open={open} onShow={show} />
          {open && exercise && (
            <article>
              <ExerciseHead
                exercise={exercise}
                catalogue={catalogue.data}
                onChange={() => add("change")}
                onGone={() => setParameters({}, { replace: true })}
              />
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

type FoundProps = {
  found: ReturnType<typeof search>;
  own: string[];
  open: string | null;
  onShow: (id: string) => void;
};

/** The exercises that were found, each with its muscles and where it is done. */
function Found({ found, own, open, onShow }: FoundProps) {
  return (
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
            onClick={() => onShow(one.id)}
          >
            <span className="grow">
              {one.name} {own.includes(one.id) && <span className="faint text-xs">(own)</span>}
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
  );
}

type ExerciseHeadProps = { exercise: Exercise; catalogue: Catalogue; onChange: () => void; onGone: () => void };

/** What an exercise is called; one's own can be changed or taken out. */
function ExerciseHead({ exercise, catalogue, onChange, onGone }: ExerciseHeadProps) {
  return (
    <div className="mb-2 flex flex-wrap items-center gap-3">
      <h2 className="text-xl font-semibold">{exercise.name}</h2>
      {exercise.aliases.length > 0 && <span className="faint text-sm">also written {exercise.aliases.join(", ")}</span>}
      {catalogue.own.includes(exercise.id) && (
        <>
          <button type="button" className="btn btn-xs" onClick={onChange}>
            Change {exercise.name.toLowerCase()}
          </button>
          <TakeOut
            kind="exercises"
            id={exercise.id}
            name={exercise.name}
            retired={catalogue.retired.includes(exercise.id)}
            onGone={onGone}
          />
        </>
      )}
    </div>
  );
}

/** Why there is no catalogue, and a press that asks again. */
function CatalogueLost({ error, again }: { error: Error; again: () => void }) {
  return (
    <div role="alert" className="mt-3 rounded border border-error p-3">
      The catalogue cannot be read: {error.message}{" "}
      <button type="button" className="btn btn-sm" onClick={again}>
        Try again
      </button>
    </div>
  );
}

type RetiredOnlyProps = { count: number; chosen: boolean; onChange: (retired: boolean) => void };

function RetiredOnly({ count, chosen, onChange }: RetiredOnlyProps) {
  return (
    <label className="mt-2 flex items-center gap-2 text-sm">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={chosen}
        onChange={(event) => onChange(event.target.checked)}
      />
      Show what is retired ({count}) instead
    </label>
  );
}

function AddOwn({ onAdd }: { onAdd: (what: "exercise" | "equipment") => void }) {
  return (
    <span className="ml-auto flex gap-2">
      <button type="button" className="btn btn-sm" onClick={() => onAdd("equipment")}>
        <Plus size={15} aria-hidden /> Own equipment kind
      </button>
      <button type="button" className="btn btn-primary btn-sm" onClick={() => onAdd("exercise")}>
        <Plus size={15} aria-hidden /> Own exercise
      </button>
    </span>
  );
}
