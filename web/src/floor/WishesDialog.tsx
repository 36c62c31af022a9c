import { X } from "lucide-react";
import { useState } from "react";

import type { Catalogue, Exercise, Person, Plan, Room, Sets } from "../api/client";
import { ExercisePicker } from "../catalogue/ExercisePicker";
import { setBlock } from "../draft/edits";
import type { Draft } from "../draft/useDraft";
import { partsOf } from "../shared/blocks";
import { Dialog } from "../shared/Dialog";
import { NumberField } from "../shared/NumberField";
import { Pick } from "../shared/Pick";
import { firstName } from "../shared/names";
import { entryAt } from "../basis/entries";

const LEVELS = ["beginner", "standard", "advanced"] as const;

type Props = {
  draft: Draft;
  selected: number;
  known: Person[] | undefined;
  catalogue: Catalogue | undefined;
  room: Room | undefined;
  onClose: () => void;
};

/** What every rotation has to keep: who goes with whom, who does something else, what comes first, how machines are shared. */
export function WishesDialog({ draft, selected, known, catalogue, room, onClose }: Props) {
  const block = draft.plan.blocks[selected];
  return (
    <Dialog title="Wishes for the rotation" onClose={onClose} wide>
      {block?.kind === "sets" && <BlockWishes draft={draft} selected={selected} block={block} catalogue={catalogue} />}
      <Companies draft={draft} known={known} />
      <Insteads draft={draft} selected={selected} known={known} catalogue={catalogue} room={room} />
      <p className="faint mt-4 text-xs">
        Wishes take effect at once; undo takes them back. A rotation that was chosen before stays until another is
        looked for.
      </p>
    </Dialog>
  );
}

function BlockWishes({
  draft,
  selected,
  block,
  catalogue,
}: {
  draft: Draft;
  selected: number;
  block: Sets;
  catalogue: Catalogue | undefined;
}) {
  const { edit } = draft;
  const change = (fields: Partial<Sets>) => edit(setBlock(selected, fields));
  const names = new Map(catalogue?.exercises.map((exercise) => [exercise.id, exercise]));
  return (
    <section aria-label={block.name} className="border-b border-base-300 pb-3">
      <h3 className="font-semibold">{block.name}</h3>
      <div className="mt-1.5 flex flex-wrap items-center gap-x-4 gap-y-2">
        <Pick
          bare
          label="How machines are shared"
          value={block.sharing}
          options={[
            ["work_in", "others work in between sets"],
            ["hold", "nobody works in: one at a machine"],
          ]}
          onChange={(sharing) => change({ sharing })}
        />
        <NumberField
          label="Waves"
          value={block.waves}
          min={1}
          max={12}
          onChange={(waves) => change({ waves, wave_gap_s: waves > 1 ? block.wave_gap_s || 240 : 0 })}
        />
        {block.waves > 1 && (
          <NumberField
            label="every"
            unit="s"
            value={block.wave_gap_s}
            min={0}
            max={1800}
            step={30}
            onChange={(wave_gap_s) => change({ wave_gap_s })}
          />
        )}
        <label className="flex items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={block.within_s != null}
            onChange={(event) => change({ within_s: event.target.checked ? 40 * 60 : null })}
          />
          may not take longer than
        </label>
        {block.within_s != null && (
          <NumberField
            label="in all"
            unit="min"
            value={Math.round(block.within_s / 60)}
            min={1}
            max={240}
            onChange={(minutes) => change({ within_s: minutes * 60 })}
          />
        )}
      </div>
      {block.groups.length > 1 && <Stages block={block} names={names} change={change} />}
    </section>
  );
}

function Companies({ draft, known }: { draft: Draft; known: Person[] | undefined }) {
  const { plan, edit } = draft;
  const [chosen, choose] = useState<string[]>([]);
  const name = (id: string) => firstName(known?.find((item) => item.id === id)?.name) ?? id;
  const busy = new Set(plan.together.flat());
  const add = (what: "together" | "apart") => {
    edit((now) => ({ ...now, [what]: [...now[what], chosen] }));
    choose([]);
  };
  const drop = (what: "together" | "apart", index: number) =>
    edit((now) => ({ ...now, [what]: now[what].filter((_, at) => at !== index) }));
  const clash = plan.together.some((company) => chosen.filter((id) => company.includes(id)).length > 1);
  return (
    <section aria-label="Who goes with whom" className="border-b border-base-300 py-3">
      <h3 className="font-semibold">Who goes with whom</h3>
      <ul className="mt-1 flex flex-wrap gap-2 text-sm" data-testid="companies">
        {plan.together.map((company, index) => (
          <Chip
            key={`t${index}`}
            onDrop={() => drop("together", index)}
            words={`together: ${company.map(name).join(", ")}`}
          />
        ))}
        {plan.apart.map((company, index) => (
          <Chip
            key={`a${index}`}
            onDrop={() => drop("apart", index)}
            words={`apart: ${company.map(name).join(", ")}`}
          />
        ))}
        {plan.together.length + plan.apart.length === 0 && (
          <li className="faint">Nobody yet: everybody goes round for themselves.</li>
        )}
      </ul>
      <div className="mt-2 flex flex-wrap gap-1">
        {plan.people.map((id) => (
          <button
            key={id}
            type="button"
            aria-pressed={chosen.includes(id)}
            className={`btn btn-xs ${chosen.includes(id) ? "btn-neutral" : ""}`}
            onClick={() => choose((now) => (now.includes(id) ? now.filter((item) => item !== id) : [...now, id]))}
          >
            {name(id)}
          </button>
        ))}
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <button
          type="button"
          className="btn btn-sm"
          disabled={chosen.length < 2 || chosen.some((id) => busy.has(id))}
          onClick={() => add("together")}
        >
          Keep together
        </button>
        <button type="button" className="btn btn-sm" disabled={chosen.length < 2 || clash} onClick={() => add("apart")}>
          Keep apart
        </button>
        <span className="faint text-xs">
          {chosen.length < 2
            ? "choose two or more"
            : chosen.some((id) => busy.has(id))
              ? "somebody goes with others already"
              : ""}
        </span>
      </div>
    </section>
  );
}

function Chip({ words, onDrop }: { words: string; onDrop: () => void }) {
  return (
    <li className="flex items-center gap-1 rounded border border-base-300 pl-2">
      {words}
      <button type="button" className="btn btn-ghost btn-xs btn-square" aria-label={`Drop: ${words}`} onClick={onDrop}>
        <X size={13} aria-hidden />
      </button>
    </li>
  );
}

function Insteads({
  draft,
  selected,
  known,
  catalogue,
  room,
}: {
  draft: Draft;
  selected: number;
  known: Person[] | undefined;
  catalogue: Catalogue | undefined;
  room: Room | undefined;
}) {
  const { plan, edit } = draft;
  const used = exercisesOf(plan, selected);
  const [exercise, setExercise] = useState(used[0] ?? "");
  const [whom, setWhom] = useState("level beginner");
  const [picking, setPicking] = useState(false);
  const nameOf = (id: string) => catalogue?.exercises.find((exercise) => exercise.id === id)?.name ?? id;
  const person = (id: string) => firstName(known?.find((item) => item.id === id)?.name) ?? id;
  function add(other: Exercise) {
    setPicking(false);
    const level = LEVELS.find((each) => whom === `level ${each}`) ?? null;
    edit((now) => ({
      ...now,
      instead: [...now.instead, { exercise, other: other.id, people: level ? [] : [whom], level }],
    }));
  }
  return (
    <section aria-label="Who does something else" className="py-3">
      <h3 className="font-semibold">Who does something else</h3>
      <ul className="mt-1 flex flex-wrap gap-2 text-sm" data-testid="insteads">
        {plan.instead.map((item, index) => (
          <Chip
            key={index}
            words={`${[...item.people.map(person), ...(item.level ? [`${item.level}s`] : [])].join(", ")}: ${nameOf(item.other).toLowerCase()} instead of ${nameOf(item.exercise).toLowerCase()}`}
            onDrop={() => edit((now) => ({ ...now, instead: now.instead.filter((_, at) => at !== index) }))}
          />
        ))}
        {plan.instead.length === 0 && <li className="faint">Nobody yet: everybody does what is planned.</li>}
      </ul>
      <div className="mt-2 flex flex-wrap items-center gap-2 text-sm">
        <Pick
          bare
          label="For whom"
          value={whom}
          options={[
            ["level beginner", "all beginners"],
            ["level standard", "all at standard level"],
            ["level advanced", "all advanced"],
            ...plan.people.map((id): [string, string] => [id, person(id)]),
          ]}
          onChange={setWhom}
        />
        not
        <Pick
          bare
          label="Which exercise"
          value={exercise}
          options={used.map((id) => [id, nameOf(id).toLowerCase()])}
          onChange={setExercise}
        />
        <button type="button" className="btn btn-sm" disabled={!exercise} onClick={() => setPicking(true)}>
          but …
        </button>
      </div>
      {picking && (
        <ExercisePicker
          title={`Instead of ${nameOf(exercise).toLowerCase()}`}
          catalogue={catalogue}
          room={room}
          current={exercise}
          onPick={add}
          onClose={() => setPicking(false)}
        />
      )}
    </section>
  );
}

/** What the class does, the chosen block's first. */
function exercisesOf(plan: Plan, selected: number): string[] {
  const blocks = [...plan.blocks.slice(selected), ...plan.blocks.slice(0, selected)];
  return [...new Set(blocks.flatMap(partsOf).map((item) => item.exercise))];
}

type StagesProps = {
  block: Sets;
  names: Map<string, Catalogue["exercises"][number]>;
  change: (fields: Partial<Sets>) => void;
};

/** Which groups everybody does before which others. */
function Stages({ block, names, change }: StagesProps) {
  const stage = (index: number, value: number | null) =>
    change({ groups: block.groups.map((group, at) => (at === index ? { ...group, stage: value } : group)) });
  const compound = (exercise: string) => names.get(exercise)?.muscle_mass.includes("compound") ?? false;
  return (
    <div className="mt-2 text-sm">
      <span className="mr-2">What comes first</span>
      {block.groups.map((group, index) => (
        <label key={group.id} className="mr-3 inline-flex items-center gap-1">
          <span title={group.slots.map((slot) => names.get(slot.exercise)?.name ?? slot.exercise).join(" + ")}>
            <strong>{String.fromCharCode(65 + index)}</strong>{" "}
            {(names.get(entryAt(group.slots, 0).exercise)?.name ?? entryAt(group.slots, 0).exercise).toLowerCase()}
          </span>
          <Pick
            bare
            label={`Group ${String.fromCharCode(65 + index)} comes`}
            value={String(group.stage ?? 0)}
            options={[
              ["0", "anywhere"],
              ["1", "first"],
              ["2", "second"],
              ["3", "third"],
            ]}
            onChange={(value) => stage(index, Number(value) || null)}
          />
        </label>
      ))}
      <button
        type="button"
        className="btn btn-xs"
        onClick={() =>
          change({
            groups: block.groups.map((group) => ({
              ...group,
              stage: group.slots.some((slot) => compound(slot.exercise)) ? 1 : 2,
            })),
          })
        }
      >
        Compound before single joint
      </button>
    </div>
  );
}
