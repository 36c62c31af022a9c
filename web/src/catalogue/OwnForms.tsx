import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";

import { api, dataOf, FaultyPlan, type Catalogue, type EquipmentKind, type Exercise, type Fault } from "../api/client";
import { ConditionBoxes } from "../shared/ConditionBoxes";
import { Pick } from "../shared/Pick";
import { TakeOut } from "../shared/TakeOut";
import { entryAt } from "../basis/entries";

/** An id from a name: lower case, hyphens, nothing else. */
function idOf(name: string): string {
  return name
    .normalize("NFKD")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 60);
}

function lines(text: string): string[] {
  return text
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean);
}

/** An exercise of one's own: what the computation needs, checked by the same rules as the shipped ones. */
export function OwnExerciseForm({
  catalogue,
  known,
  onKept,
}: {
  catalogue: Catalogue;
  /** the exercise to be changed; without it a new one is made */
  known?: Exercise;
  onKept: (id: string) => void;
}) {
  const queries = useQueryClient();
  const [name, setName] = useState(known?.name ?? "");
  const [model, setModel] = useState(known?.id ?? "leg-press");
  const like = catalogue.exercises.find((exercise) => exercise.id === model) ?? entryAt(catalogue.exercises, 0);
  const [changes, change] = useState<Partial<Exercise>>({});
  const [cues, setCues] = useState(known?.cues.join("\n") ?? "");
  const [tempo, setTempo] = useState("");
  const kept =
    known && like.id === known.id
      ? known
      : { ...like, aliases: [], cautions: [], kinder_for: [], easier: [], harder: [] };
  const draft: Exercise = { ...kept, ...changes };
  const keep = useMutation({
    mutationFn: async () => {
      // as it was typed: the server says what is wrong with it
      const phases = tempo.trim() ? tempo.split("-").map(Number) : [...like.tempo];
      const exercise = {
        ...draft,
        id: known?.id ?? idOf(name),
        name: name.trim(),
        cues: lines(cues),
        tempo: phases as unknown as Exercise["tempo"],
        equation: changes.equipment && changes.equipment !== like.equipment ? null : like.equation,
      };
      return dataOf(await api.PUT("/api/catalogue/exercises", { body: exercise }));
    },
    onSuccess: async (saved) => {
      await queries.invalidateQueries({ queryKey: ["catalogue"] });
      await queries.invalidateQueries({ queryKey: ["exercise"] });
      onKept(saved.id);
    },
  });
  const named = (entries: { id: string; name: string }[]) =>
    entries.map((entry): [string, string] => [entry.id, entry.name]);
  const choosable = <Entry extends { id: string }>(entries: Entry[], retired: string[]) =>
    entries.filter((entry) => !retired.includes(entry.id));
  return (
    <form
      className="grid gap-3 text-sm sm:grid-cols-2"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <NameField value={name} onChange={setName} />
      <Labelled name="Much like" wide>
        <Pick
          bare
          wide
          label="Much like"
          value={model}
          options={named(choosable(catalogue.exercises, catalogue.retired))}
          onChange={setModel}
        />
        <span className="faint text-xs">gives the values below; change what differs</span>
      </Labelled>
      <PickField
        name="Equipment"
        value={draft.equipment}
        options={named(choosable(catalogue.equipment, catalogue.retired_equipment))}
        onChange={(equipment) => change({ ...changes, equipment })}
      />
      <PickField
        name="Movement pattern"
        value={draft.pattern}
        options={named(catalogue.patterns)}
        onChange={(pattern) => change({ ...changes, pattern })}
      />
      <PickField
        name="Prime mover"
        value={draft.prime[0] ?? ""}
        options={named(catalogue.muscles)}
        onChange={(muscle) => change({ ...changes, prime: [muscle] })}
      />
      <PickField
        name="Working muscle mass"
        value={draft.muscle_mass}
        options={named(catalogue.muscle_mass)}
        onChange={(muscle_mass) => change({ ...changes, muscle_mass })}
      />
      <PickField
        name="Sides"
        value={draft.sides}
        options={[
          ["two_sided", "both sides together"],
          ["one_sided", "one side at a time"],
        ]}
        onChange={(sides) => change({ ...changes, sides })}
      />
      <PickField
        name="Load"
        value={String(draft.takes_load)}
        options={[
          ["true", "takes a load"],
          ["false", "no load"],
        ]}
        onChange={(takes) => change({ ...changes, takes_load: takes === "true" })}
      />
      <Labelled name="Tempo, s">
        <input
          aria-label="Tempo"
          className="input input-sm w-full"
          placeholder={like.tempo.join("-")}
          pattern="\d+(\.\d+)?(-\d+(\.\d+)?){2,3}"
          title="lowering-pause-lifting, for example 2-0-1"
          value={tempo}
          onChange={(event) => setTempo(event.target.value)}
        />
      </Labelled>
      <Labelled name="Lifts through, m">
        <input
          aria-label="Lifts through"
          type="number"
          min={0}
          max={2}
          step={0.05}
          className="input input-sm w-full"
          value={draft.displacement_m}
          onChange={(event) => change({ ...changes, displacement_m: Number(event.target.value) })}
        />
      </Labelled>
      <fieldset className="sm:col-span-2">
        <legend className="faint text-xs">
          Kind to people who are careful about (only what is ticked is ever proposed to them)
        </legend>
        <div className="mt-1 flex flex-wrap gap-x-4 gap-y-1.5">
          <ConditionBoxes
            chosen={draft.kinder_for ?? []}
            onChange={(kinder_for) => change({ ...changes, kinder_for })}
          />
        </div>
      </fieldset>
      <Labelled name="Cues, one a line" wide>
        <textarea
          aria-label="Cues"
          className="textarea textarea-sm w-full"
          rows={3}
          value={cues}
          onChange={(event) => setCues(event.target.value)}
        />
      </Labelled>
      <Outcome error={keep.error} />
      <button type="submit" className="btn btn-primary btn-sm justify-self-start" disabled={keep.isPending}>
        Keep the exercise
      </button>
    </form>
  );
}

/** An equipment kind of one's own, with the seconds it costs. */
export function OwnEquipmentForm({ catalogue, onKept }: { catalogue: Catalogue; onKept: () => void }) {
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const [setUp, setSetUp] = useState(10);
  const [loadChange, setLoadChange] = useState(5);
  const [holds, setHolds] = useState<EquipmentKind["holds"]>("nothing");
  const [step, setStep] = useState(5);
  const keep = useMutation({
    mutationFn: async () => {
      const body: EquipmentKind = {
        id: idOf(name),
        name: name.trim(),
        set_up_s: setUp,
        load_change_s: loadChange,
        holds,
        step_kg: holds === "nothing" ? 0 : step,
        width_m: 1,
        depth_m: 1.6,
      };
      return dataOf(await api.PUT("/api/catalogue/equipment", { body }));
    },
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ["catalogue"] });
      onKept();
    },
  });
  const number = (label: string, value: number, onChange: (value: number) => void, max: number, by = 1) => (
    <Labelled name={label}>
      <input
        aria-label={label}
        type="number"
        min={0}
        max={max}
        step={by}
        className="input input-sm w-full"
        value={value}
        onChange={(event) => onChange(Number(event.target.value))}
      />
    </Labelled>
  );
  return (
    <form
      className="grid gap-3 text-sm sm:grid-cols-2"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <NameField value={name} onChange={setName} />
      {number("Set-up, s", setUp, setSetUp, 300)}
      {number("Load change, s", loadChange, setLoadChange, 300)}
      <PickField
        name="Holds"
        value={holds ?? "nothing"}
        options={HOLDS.map((item) => [item, item])}
        onChange={setHolds}
      />
      {holds !== "nothing" && number("Step, kg", step, setStep, 50, 0.5)}
      <Outcome error={keep.error} />
      <button type="submit" className="btn btn-primary btn-sm justify-self-start" disabled={keep.isPending}>
        Keep the equipment kind
      </button>
      <OwnKinds catalogue={catalogue} />
    </form>
  );
}

/** The kinds that were added here; what nothing names can be deleted, the others are retired. */
function OwnKinds({ catalogue }: { catalogue: Catalogue }) {
  const kinds = catalogue.equipment.filter((item) => catalogue.own_equipment.includes(item.id));
  if (!kinds.length) return null;
  return (
    <div className="sm:col-span-2">
      <h3 className="font-semibold">Added here</h3>
      <ul>
        {kinds.map((eachKind) => (
          <li key={eachKind.id} className="mt-1 flex items-center gap-3">
            {eachKind.name}
            <span className="faint text-xs">
              set-up {eachKind.set_up_s} s, load change {eachKind.load_change_s} s
            </span>
            <TakeOut
              kind="equipment"
              id={eachKind.id}
              name={eachKind.name}
              retired={catalogue.retired_equipment.includes(eachKind.id)}
            />
          </li>
        ))}
      </ul>
    </div>
  );
}

function Labelled({ name, wide, children }: { name: string; wide?: boolean; children: ReactNode }) {
  return (
    <div className={wide ? "sm:col-span-2" : ""}>
      <div className="faint text-xs" aria-hidden>
        {name}
      </div>
      {children}
    </div>
  );
}

const HOLDS = ["nothing", "stack", "plates", "bar", "dumbbells", "kettlebells"] as const;

type PickFieldProps<Value extends string> = {
  name: string;
  value: Value;
  options: [NoInfer<Value>, string][];
  onChange: (value: Value) => void;
};

function PickField<Value extends string>({ name, value, options, onChange }: PickFieldProps<Value>) {
  return (
    <Labelled name={name}>
      <Pick bare wide label={name} value={value} options={options} onChange={onChange} />
    </Labelled>
  );
}

/** What it is called; the same rule for all, so that it can stand in a line of the notebook. */
function NameField({ value, onChange }: { value: string; onChange: (name: string) => void }) {
  return (
    <Labelled name="Name" wide>
      <input
        aria-label="Name"
        required
        minLength={2}
        maxLength={60}
        className="input input-sm w-full"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
      <span className="faint text-xs">no digits and no , ; : @ / + # ( ) ~ %, so that it can be written in a line</span>
    </Labelled>
  );
}

function Outcome({ error }: { error: Error | null }) {
  if (!error) return null;
  const faults: Fault[] = error instanceof FaultyPlan ? error.faults : [];
  return (
    <div role="alert" className="rounded border border-error p-2 sm:col-span-2">
      Not kept, nothing was changed.
      {faults.length
        ? faults.map((fault) => (
            <div key={fault.path + fault.message}>
              {fault.field}: {fault.message} {fault.right && <span className="faint">({fault.right})</span>}
            </div>
          ))
        : ` ${error.message}`}
    </div>
  );
}
