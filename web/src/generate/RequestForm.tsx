import { Plus, X } from "lucide-react";
import { useState, type ReactNode } from "react";

import { useCatalogue } from "../api/queries";
import type { ClassRequest } from "../api/generator";
import { AimLine, goalOf, meant, type Row } from "../ledger/AimLine";
import { counted } from "../shared/format";
import { Pick } from "../shared/Pick";
import { PeoplePicker } from "../who/PeoplePicker";
import { WhereWhen } from "../who/WhereWhen";

const MANNERS: [NonNullable<ClassRequest["manner"]> | "", string][] = [
  ["", "three that differ"],
  ["stations", "stations: all move on the bell"],
  ["partners", "partners: two share a station"],
  ["pairs", "pairs: two exercises in turn"],
  ["tri-sets", "tri-sets: three in turn"],
  ["giant sets", "giant sets: four in turn"],
  ["straight sets", "straight sets"],
  ["mixed", "mixed: pairs, then stations"],
];
const DAYS: [ClassRequest["day"], string][] = [
  ["whole", "Whole leg"],
  ["front", "Front"],
  ["back", "Back"],
];
const LEVELS: [ClassRequest["level"], string][] = [
  ["beginner", "beginners"],
  ["standard", "standard"],
  ["advanced", "advanced"],
];
type Tag = NonNullable<ClassRequest["leave_out"]["tags"]>[number];
const TAGS: [Tag, string][] = [
  ["impact", "what lands hard"],
  ["spinal_load", "loads on the spine"],
  ["free_bar", "free bars"],
  ["overhead", "overhead"],
  ["balance", "balance"],
];
const MOST_WANTED = 6;
const MOST_ACCENTS = 4;

type Props = { request: ClassRequest; onChange: (request: ClassRequest) => void; children: ReactNode };

/** Who comes, where, when, for how long, what for, how, and what is not to be there. */
export function RequestForm({ request, onChange, children }: Props) {
  const catalogue = useCatalogue().data;
  const [rows, setRows] = useState<Row[]>(() => request.wanted.map(asRow));
  const set = (fields: Partial<ClassRequest>) => onChange({ ...request, ...fields });
  const wanted = (next: Row[]) => {
    setRows(next);
    set({ wanted: next.filter((item) => item.value !== "" && Number(item.value) >= 0).map(meant) });
  };
  const out = request.leave_out;
  const tags = out.tags;
  const named = new Map(catalogue?.exercises.map((exercise) => [exercise.id, exercise.name]));
  return (
    <form className="mt-2 space-y-3" onSubmit={(event) => event.preventDefault()}>
      <WhereWhen
        chosen={{ ...request, repeats: null }}
        once
        onChange={(fields) => {
          const { room, slot_min, starts, aim } = { ...request, ...fields };
          set({ room, slot_min, starts, aim });
        }}
      />
      <details className="rounded border border-base-300 px-2 py-1">
        <summary className="cursor-pointer text-sm">
          <strong>{counted(request.people.length, "person", "people")}</strong>{" "}
          <span className="faint">change who comes</span>
        </summary>
        <div className="mt-2">
          <PeoplePicker people={request.people} onChange={(people) => set({ people })} />
        </div>
      </details>
      <fieldset className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <legend className="sr-only">Which part of the leg</legend>
        {DAYS.map(([day, name]) => (
          <label key={day} className="flex min-h-7 items-center gap-1 text-sm">
            <input type="radio" name="day" checked={request.day === day} onChange={() => set({ day })} />
            {name}
          </label>
        ))}
      </fieldset>
      <div className="grid grid-cols-1 gap-2">
        <Pick
          wide
          label="Format"
          value={request.manner ?? ""}
          options={MANNERS}
          onChange={(manner) => set({ manner: manner || null })}
        />
        <Pick wide label="Level" value={request.level} options={LEVELS} onChange={(level) => set({ level })} />
        <Pick<string>
          wide
          label="More for"
          value=""
          options={[
            ["", "no muscle in particular"],
            ...(catalogue?.muscles ?? [])
              .filter((muscle) => !request.accents.includes(muscle.id))
              .map((muscle): [string, string] => [muscle.id, muscle.name]),
          ]}
          onChange={(muscle) =>
            muscle && request.accents.length < MOST_ACCENTS && set({ accents: [...request.accents, muscle] })
          }
        />
        <Chips
          names={request.accents}
          named={new Map(catalogue?.muscles.map((muscle) => [muscle.id, muscle.name]))}
          words="More for"
          onDrop={(item) => set({ accents: request.accents.filter((each) => each !== item) })}
        />
      </div>
      <fieldset>
        <legend className="text-sm font-semibold">Without</legend>
        <div className="flex flex-wrap gap-x-3">
          {TAGS.map(([tag, name]) => (
            <label key={tag} className="flex min-h-7 items-center gap-1 text-sm">
              <input
                type="checkbox"
                checked={tags.includes(tag)}
                onChange={() =>
                  set({
                    leave_out: {
                      ...out,
                      tags: tags.includes(tag) ? tags.filter((eachTag) => eachTag !== tag) : [...tags, tag],
                    },
                  })
                }
              />
              {name}
            </label>
          ))}
        </div>
        <Chips
          names={out.exercises}
          named={named}
          words="Left out"
          onDrop={(item) => set({ leave_out: { ...out, exercises: out.exercises.filter((each) => each !== item) } })}
        />
      </fieldset>
      <Chips
        names={request.pinned}
        named={named}
        words="To be kept"
        onDrop={(item) => set({ pinned: request.pinned.filter((each) => each !== item) })}
      />
      <fieldset>
        <legend className="text-sm font-semibold">Figures</legend>
        {rows.map((row, at) => (
          <div key={at} className="mt-1">
            <AimLine
              row={row}
              byLevel
              onChange={(next) => wanted(rows.map((row, place) => (place === at ? next : row)))}
              onDrop={() => wanted(rows.filter((_, place) => place !== at))}
            />
          </div>
        ))}
        {rows.length < MOST_WANTED && (
          <button
            type="button"
            className="btn btn-xs mt-1"
            onClick={() => wanted([...rows, { figure: "energy", want: "about", value: "" }])}
          >
            <Plus size={14} aria-hidden /> A figure to reach
          </button>
        )}
      </fieldset>
      {children}
    </form>
  );
}

function asRow(one: ClassRequest["wanted"][number]): Row {
  const per = goalOf(one.figure).per;
  return {
    figure: one.figure,
    want: one.want ?? "about",
    value: String(one.value / per),
    level: one.level ?? "",
    muscle: one.muscle ?? undefined,
  };
}

type ChipsProps = {
  names: readonly string[];
  named: Map<string, string>;
  words: string;
  onDrop: (name: string) => void;
};

/** A few names, each with the press that takes it back. */
function Chips({ names, named, words, onDrop }: ChipsProps) {
  if (!names.length) return null;
  return (
    <p className="flex flex-wrap items-center gap-1 text-sm">
      <span className="faint">{words}:</span>
      {names.map((name) => (
        <button
          key={name}
          type="button"
          className="btn btn-xs"
          aria-label={`${words}: not ${named.get(name) ?? name}`}
          onClick={() => onDrop(name)}
        >
          {named.get(name) ?? name} <X size={12} aria-hidden />
        </button>
      ))}
    </p>
  );
}
