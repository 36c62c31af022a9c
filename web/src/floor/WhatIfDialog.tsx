import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { applyChange } from "../api/calls";
import type { Affected, Forecast, Option, Person, Plan, Room } from "../api/client";
import { repairOptions, substitutesOf, whatIfOneMore, whatIfPeople, whatIfTaken } from "../api/floor";
import { replacePlan } from "../draft/edits";
import type { Draft } from "../draft/useDraft";
import { Dialog } from "../shared/Dialog";
import { clock, counted } from "../shared/format";
import { movedWords, saved, signed } from "./words";
import { entryAt, errorWords, present } from "../basis/entries";

export type Question = "taken" | "leaves" | "comes" | "swap" | "more";

type Props = {
  draft: Draft;
  question: Question;
  forecast: Forecast;
  room: Room;
  known: Person[] | undefined;
  /** a machine that was chosen on the plan */
  machine: string | null;
  selected: number;
  onClose: () => void;
};

const TITLES: Record<Question, string> = {
  taken: "A machine is broken or taken",
  leaves: "Somebody leaves",
  comes: "Somebody comes",
  swap: "Another exercise",
  more: "One machine more",
};

/** What happened or might: one press says what, the next how to go on; the rotation is repaired, undo takes it back. */
export function WhatIfDialog(props: Props) {
  const { draft, question, onClose } = props;
  const [before] = useState(draft.plan);
  const [asking, setAsking] = useState(false);
  const [error, setError] = useState<string | null>(null);
  const [options, setOptions] = useState<Option[] | null>(null);
  const [affected, setAffected] = useState<{ plan: Plan; parts: Affected[] } | null>(null);
  const [taken, setTaken] = useState<number | null>(null);

  async function ask(work: () => Promise<void>) {
    setAsking(true);
    setError(null);
    try {
      await work();
    } catch (reason) {
      setError(errorWords(reason));
    }
    setAsking(false);
  }
  function apply(found: Option[], index: number) {
    draft.edit(replacePlan(entryAt(found, index).plan));
    setOptions(found);
    setTaken(index);
  }
  const takeUnit = (unit: string) =>
    ask(async () => {
      const answer = await whatIfTaken(before, unit);
      if (answer.affected.length) setAffected({ plan: answer.plan, parts: answer.affected });
      else setOptions(answer.options);
    });
  const people = (leaves: string[], comes: string[]) =>
    ask(async () => apply(await whatIfPeople(before, leaves, comes), 0));
  const substitute = (part: string, exercise: string) =>
    ask(async () => {
      const base = affected?.plan ?? before;
      const plan = await applyChange(base, { do: "swap_exercise", slot: part, exercise });
      const left = (affected?.parts ?? []).filter((eachPart) => eachPart.part !== part);
      if (left.length) {
        setAffected({ plan, parts: left });
        return;
      }
      apply(await repairOptions(before, plan), 0);
    });

  return (
    <Dialog title={TITLES[question]} onClose={onClose} wide>
      {error && (
        <p role="alert" className="mb-3 rounded border border-error p-2">
          {error}
        </p>
      )}
      <div aria-busy={asking} className={asking ? "opacity-60" : ""}>
        {taken !== null && options ? (
          <Repaired
            options={options}
            taken={taken}
            known={props.known}
            onChoose={(index) => apply(options, index)}
            onUndo={() => {
              draft.edit(replacePlan(before));
              onClose();
            }}
            onClose={onClose}
          />
        ) : options ? (
          <>
            <p className="text-sm">Others of its kind are left. How shall the class go on?</p>
            <OptionList
              options={options}
              known={props.known}
              taken={null}
              onChoose={(index) => apply(options, index)}
            />
          </>
        ) : affected ? (
          <Substitutes affected={entryAt(affected.parts, 0)} more={affected.parts.length - 1} onPick={substitute} />
        ) : question === "taken" ? (
          <UnitList {...props} onPick={(unit) => void takeUnit(unit)} />
        ) : question === "leaves" || question === "comes" ? (
          <PersonList question={question} plan={before} known={props.known} onPick={people} />
        ) : question === "swap" ? (
          <Swap plan={before} forecast={props.forecast} selected={props.selected} onPick={substitute} />
        ) : (
          <OneMoreList plan={before} forecast={props.forecast} />
        )}
      </div>
    </Dialog>
  );
}

function Effect({ option }: { option: Option }) {
  const more = option.waiting_more_s / Math.max(1, option.plan.people.length);
  return (
    <span>
      the class gets <strong>{signed(option.longer_s)}</strong>
      {Math.abs(more) >= 1 && `, each waits ${clock(Math.abs(more))} ${more > 0 ? "more" : "less"} on average`}
    </span>
  );
}

function OptionList({
  options,
  known,
  taken,
  onChoose,
}: {
  options: Option[];
  known: Person[] | undefined;
  taken: number | null;
  onChoose: (index: number) => void;
}) {
  return (
    <ol className="mt-2 divide-y divide-base-300" data-testid="options">
      {options.map((option, index) => (
        <li key={index} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2 text-sm">
          <span className="min-w-0 grow">
            <strong>{movedWords(option, known)}</strong>
            <br />
            <Effect option={option} />
          </span>
          {taken === index ? (
            <span className="font-semibold">✓ in the draft</span>
          ) : (
            <button
              type="button"
              className={`btn btn-sm ${taken === null ? "btn-primary" : ""}`}
              onClick={() => onChoose(index)}
            >
              {taken === null ? "Go on so" : "Rather so"}
            </button>
          )}
        </li>
      ))}
    </ol>
  );
}

function Repaired(props: {
  options: Option[];
  taken: number;
  known: Person[] | undefined;
  onChoose: (index: number) => void;
  onUndo: () => void;
  onClose: () => void;
}) {
  return (
    <div data-testid="repaired">
      <p role="status">
        <strong>Repaired.</strong> {movedWords(entryAt(props.options, props.taken), props.known)};{" "}
        <Effect option={entryAt(props.options, props.taken)} />.
      </p>
      {props.options.length > 1 && (
        <OptionList options={props.options} known={props.known} taken={props.taken} onChoose={props.onChoose} />
      )}
      <div className="mt-4 flex gap-2">
        <button type="button" className="btn btn-primary btn-sm" onClick={props.onClose}>
          To the floor
        </button>
        <button type="button" className="btn btn-sm" onClick={props.onUndo}>
          Undo it
        </button>
      </div>
    </div>
  );
}

function UnitList({ forecast, room, machine, draft, onPick }: Props & { onPick: (unit: string) => void }) {
  const kinds = new Set(forecast.slots.map((slot) => slot.equipment));
  const units = room.units.filter(
    (unit) => unit.kind !== "none" && kinds.has(unit.kind) && !unit.out_of_order && !draft.plan.taken.includes(unit.id),
  );
  const first = units.toSorted((one, other) => Number(other.id === machine) - Number(one.id === machine));
  return (
    <>
      <p className="text-sm">Which one? Only this class goes without it; the room stays as it is.</p>
      <ul className="mt-2 grid gap-1.5 sm:grid-cols-2" data-testid="units">
        {first.map((unit) => (
          <li key={unit.id}>
            <button
              type="button"
              className={`btn w-full justify-start ${unit.id === machine ? "btn-neutral" : ""}`}
              onClick={() => onPick(unit.id)}
            >
              {unit.name}
            </button>
          </li>
        ))}
      </ul>
      {units.length === 0 && <p className="faint mt-2 text-sm">This class uses no machine of this room.</p>}
    </>
  );
}

function Substitutes({
  affected,
  more,
  onPick,
}: {
  affected: Affected;
  more: number;
  onPick: (part: string, exercise: string) => void;
}) {
  return (
    <>
      <p className="text-sm">
        What instead of <strong>{affected.name.toLowerCase()}</strong>? Up to{" "}
        {counted(affected.at_once, "person", "people")} at once; best first.
        {more > 0 && ` ${counted(more, "more exercise")} to replace after this.`}
      </p>
      <ol className="mt-2 max-h-[55vh] divide-y divide-base-300 overflow-y-auto" data-testid="substitutes">
        {affected.substitutes.map((substitute, index) => {
          const effect = entryAt(affected.effects, index);
          return (
            <li key={substitute.exercise} className="flex items-center gap-4 py-2 text-sm">
              <span className="min-w-0 grow">
                <strong>{substitute.name}</strong>
                <span className="faint"> · block {signed(effect.after_s - effect.before_s)}</span>
                <br />
                {substitute.for_it.map((reason) => (
                  <span key={reason} className="mr-3 inline-block">
                    ✓ {reason}
                  </span>
                ))}
                {substitute.against_it.map((reason) => (
                  <span key={reason} className="mr-3 inline-block text-error">
                    ▲ {reason}
                  </span>
                ))}
              </span>
              <button
                type="button"
                className={`btn btn-sm ${index === 0 ? "btn-primary" : ""}`}
                aria-label={`Use ${substitute.name}`}
                onClick={() => onPick(affected.part, substitute.exercise)}
              >
                Use
              </button>
            </li>
          );
        })}
      </ol>
      {affected.substitutes.length === 0 && (
        <p className="mt-2 text-sm">Nothing in this room trains the same. Take the exercise out on the score.</p>
      )}
    </>
  );
}

function PersonList({
  question,
  plan,
  known,
  onPick,
}: {
  question: "leaves" | "comes";
  plan: Plan;
  known: Person[] | undefined;
  onPick: (leaves: string[], comes: string[]) => void;
}) {
  const leaves = question === "leaves";
  const list = (known ?? []).filter((item) => plan.people.includes(item.id) === leaves);
  return (
    <>
      <p className="text-sm">
        {leaves ? "Who leaves?" : "Who comes?"} Everybody else keeps their way as far as can be.
      </p>
      <ul className="mt-2 grid gap-1.5 sm:grid-cols-3" data-testid="persons">
        {list.map((item) => (
          <li key={item.id}>
            <button
              type="button"
              className="btn w-full justify-start"
              disabled={leaves && plan.people.length === 1}
              onClick={() => onPick(leaves ? [item.id] : [], leaves ? [] : [item.id])}
            >
              {leaves ? `${plan.people.indexOf(item.id) + 1} ` : ""}
              {item.name}
            </button>
          </li>
        ))}
      </ul>
      {list.length === 0 && (
        <p className="faint mt-2 text-sm">{leaves ? "Nobody is in the class." : "Everybody who is known is here."}</p>
      )}
    </>
  );
}

function Swap({
  plan,
  forecast,
  selected,
  onPick,
}: {
  plan: Plan;
  forecast: Forecast;
  selected: number;
  onPick: (part: string, exercise: string) => void;
}) {
  const [part, setPart] = useState<string | null>(null);
  const found = useQuery({
    queryKey: ["substitutes", part],
    enabled: part !== null,
    queryFn: () => substitutesOf(plan, present(part, "The exercise")),
    gcTime: 0,
    retry: false,
  });
  if (part !== null) {
    if (found.isError) return <p role="alert">{found.error.message}</p>;
    if (!found.data) return <div className="skeleton h-40 w-full" role="status" aria-label="Looking" />;
    return <Substitutes affected={found.data} more={0} onPick={onPick} />;
  }
  const slots = forecast.slots.filter((slot) => slot.block === selected && slot.stands_for < 0);
  return (
    <>
      <p className="text-sm">Which exercise shall be replaced?</p>
      <ul className="mt-2 grid gap-1.5 sm:grid-cols-2">
        {slots.map((slot) => (
          <li key={slot.id}>
            <button type="button" className="btn w-full justify-start" onClick={() => setPart(slot.id)}>
              {slot.name}
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

function OneMoreList({ plan, forecast }: { plan: Plan; forecast: Forecast }) {
  const found = useQuery({
    queryKey: ["one-more", plan],
    queryFn: () => whatIfOneMore(plan),
    gcTime: 0,
    retry: false,
  });
  const crowd = Math.max(1, plan.people.length);
  if (found.isError) return <p role="alert">{found.error.message}</p>;
  if (!found.data) return <div className="skeleton h-40 w-full" role="status" aria-label="Looking" />;
  if (!found.data.length) return <p className="text-sm">People share no machine at their own pace in this class.</p>;
  return (
    <table className="w-full text-sm" data-testid="one-more">
      <thead>
        <tr className="faint text-left">
          <th className="py-1 font-normal">One more</th>
          <th className="font-normal">in</th>
          <th className="text-right font-normal">waiting saved, each</th>
          <th className="text-right font-normal">block shorter by</th>
        </tr>
      </thead>
      <tbody>
        {found.data.map((item) => (
          <tr key={`${item.block}-${item.kind}`} className="border-t border-base-300">
            <th className="py-1 text-left font-semibold">{item.name}</th>
            <td>{forecast.blocks.find((block) => block.id === item.block)?.name}</td>
            <td className="text-right">{saved(item.waiting_saved_s / crowd)}</td>
            <td className="text-right">{saved(item.shorter_s)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
