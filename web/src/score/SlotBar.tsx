import { BookOpen, Copy, Link2, Link2Off, Trash2, X } from "lucide-react";
import { useEffect, useRef, useState } from "react";

import { applyChange, readLine } from "../api/calls";
import {
  FaultyText,
  type Caution,
  type Exercise,
  type Forecast,
  type Segment,
  type Slot,
  type TextFault,
} from "../api/client";
import { useChosen, useClassDraft, useShownClass } from "../class/classContext";
import { ExerciseCard } from "../catalogue/ExerciseCard";
import { ExercisePicker } from "../catalogue/ExercisePicker";
import { KINDS } from "../shared/blocks";
import { Dialog } from "../shared/Dialog";
import { DecimalField } from "../shared/DecimalField";
import { clock } from "../shared/format";
import { IconButton } from "../shared/IconButton";
import { NumberField } from "../shared/NumberField";
import {
  canRemove,
  changeExercise,
  countSets,
  duplicateSlot,
  freshId,
  isSlot,
  joinGroup,
  removeSlot,
  replacePlan,
  rewriteSlot,
  setSlot,
  shared,
  slotAt,
  splitGroup,
  withRest,
  withSegments,
  withSets,
  type Place,
} from "../draft/edits";
import { mended } from "../shared/faults";
import { SchemeMenu } from "./SchemeMenu";
import type { Draft } from "../draft/useDraft";
import { entryAt, present } from "../basis/entries";

const SIGNS = { clash: "✕ Clash", caution: "▲ Caution", note: "● Note" };

/** The chosen slot: its line as in a notebook, its figures, its time, its cautions, and what can be done with it. */
export function SlotBar({ place, id }: { place: Place; id: string }) {
  const draft = useClassDraft();
  const { forecast, catalogue, room } = useShownClass();
  const { plan, edit } = draft;
  const slot = present(slotAt(plan, place), "The exercise");
  const block = entryAt(plan.blocks, place.block);
  const exercise = catalogue?.exercises.find((exercise) => exercise.id === slot.exercise);
  const report = forecast.slots.find((slot) => slot.id === id);
  const cautions = forecast.cautions.filter((caution) => caution.slots.includes(id));
  const [picking, setPicking] = useState(false);
  const [reading, setReading] = useState(false);
  const name = exercise?.name ?? slot.exercise;

  return (
    <div className="mb-1 rounded bg-base-200 px-2 py-1" data-testid="slot-bar" aria-label={`Slot ${name}`} role="group">
      <div className="flex flex-wrap items-start gap-x-2 gap-y-1">
        <Line key={id} draft={draft} place={place} line={report?.line ?? ""} name={name} />
        <SchemeMenu
          kind={block.kind}
          onChoose={(line) =>
            void readLine(line, "slot").then((next) => edit(rewriteSlot(place, asDose(next.part, slot))))
          }
        />
        <SlotTools place={place} name={name} onPick={() => setPicking(true)} onRead={() => setReading(true)} />
      </div>
      <div className="mt-1 flex flex-wrap items-center gap-x-3 gap-y-1">
        <DoseFields place={place} id={id} exercise={exercise} />
        {report && <TimeOf seconds={report.seconds} clocked={block.kind === "circuit"} />}
      </div>
      <Note place={place} id={id} cues={exercise?.cues ?? []} />
      {cautions.map((caution) => (
        <SlotCaution key={caution.message} caution={caution} draft={draft} />
      ))}
      {picking && (
        <ExercisePicker
          title="Another exercise here"
          catalogue={catalogue}
          room={room}
          current={slot.exercise}
          onClose={() => setPicking(false)}
          onPick={(next) => {
            edit(changeExercise(place, next));
            setPicking(false);
          }}
        />
      )}
      {reading && (
        <Dialog title={name} onClose={() => setReading(false)} wide>
          <ExerciseCard
            id={slot.exercise}
            catalogue={catalogue}
            room={room}
            choices={plan.choices}
            onUse={(next) => {
              edit(changeExercise(place, next));
              setReading(false);
            }}
          />
        </Dialog>
      )}
    </div>
  );
}

type ToolsProps = { place: Place; name: string; onPick: () => void; onRead: () => void };

/** What can be done with a slot as a whole. */
function SlotTools({ place, name, onPick, onRead }: ToolsProps) {
  const { plan, edit } = useClassDraft();
  const { chooseSlot: onSlot } = useChosen();
  const block = entryAt(plan.blocks, place.block);
  const group = block.kind === "sets" ? entryAt(block.groups, place.group) : null;
  return (
    <span className="ml-auto flex items-center gap-1">
      <button type="button" className="btn btn-xs" onClick={onPick}>
        Other exercise
      </button>
      <IconButton label={`About ${name}`} onClick={onRead}>
        <BookOpen size={15} aria-hidden />
      </IconButton>
      {group && place.index === 0 && place.group > 0 && (
        <IconButton label={`Join ${name} to the group above`} onClick={() => edit(joinGroup(place.block, place.group))}>
          <Link2 size={15} aria-hidden />
        </IconButton>
      )}
      {group && place.index > 0 && (
        <IconButton label={`Split ${name} off`} onClick={() => edit(splitGroup(place.block, place.group, place.index))}>
          <Link2Off size={15} aria-hidden />
        </IconButton>
      )}
      <IconButton
        label={`Duplicate ${name}`}
        onClick={() => {
          const copy = freshId();
          edit(duplicateSlot(place, copy));
          onSlot(copy);
        }}
      >
        <Copy size={15} aria-hidden />
      </IconButton>
      <IconButton
        label={`Remove ${name}`}
        disabled={!canRemove(plan, place)}
        onClick={() => {
          onSlot(null);
          edit(removeSlot(place));
        }}
      >
        <Trash2 size={15} aria-hidden />
      </IconButton>
      <IconButton label="Close the exercise" onClick={() => onSlot(null)}>
        <X size={15} aria-hidden />
      </IconButton>
    </span>
  );
}

/** The dose of a slot, where all of its sets share it: sets, repetitions or seconds, load and rest. */
function DoseFields({ place, id, exercise }: { place: Place; id: string; exercise: Exercise | undefined }) {
  const { plan, edit } = useClassDraft();
  const slot = present(slotAt(plan, place), "The exercise");
  const block = entryAt(plan.blocks, place.block);
  const field = (what: string) => `${id}-${what}`;
  const each = (of: Slot, change: (item: Segment) => Segment, what: string) =>
    edit(setSlot(place, withSegments(of, change)), field(what));
  const reps = isSlot(slot) ? shared(slot, (item) => (item.reps_to || item.to_failure ? null : item.reps)) : null;
  const seconds = isSlot(slot) ? shared(slot, (item) => (item.seconds_to ? null : item.seconds)) : null;
  // a range of rests is edited in the line
  const ranged = isSlot(slot) && slot.sets.some((run) => run.rest_to_s != null);
  const rests = isSlot(slot) && !ranged ? [...new Set(slot.sets.map((run) => run.rest_s))] : [];
  return (
    <>
      {isSlot(slot) && block.kind !== "together" && (
        <NumberField
          label="Sets"
          value={countSets(slot)}
          min={1}
          max={40}
          onChange={(sets) => edit(setSlot(place, withSets(slot, sets)), field("sets"))}
        />
      )}
      {isSlot(slot) && reps !== null && (
        <NumberField
          label={exercise?.sides === "one_sided" ? sideWords(slot) : "Repetitions"}
          value={reps}
          min={1}
          max={200}
          onChange={(count) => each(slot, (item) => ({ ...item, reps: count }), "reps")}
        />
      )}
      {isSlot(slot) && seconds !== null && (
        <NumberField
          label={shared(slot, (item) => item.sides) === "each_side" ? "Seconds each side" : "Seconds"}
          unit="s"
          step={5}
          value={seconds}
          min={1}
          max={3600}
          onChange={(count) => each(slot, (item) => ({ ...item, seconds: count }), "seconds")}
        />
      )}
      <LoadField place={place} id={id} />
      {isSlot(slot) && rests.length === 1 && (
        <NumberField
          label="Rest"
          unit="s"
          step={15}
          value={entryAt(rests, 0)}
          min={0}
          max={1800}
          onChange={(rest_s) => edit(setSlot(place, withRest(slot, rest_s)), field("rest"))}
        />
      )}
    </>
  );
}

function Note({ place, id, cues }: { place: Place; id: string; cues: string[] }) {
  const { plan, edit } = useClassDraft();
  const slot = present(slotAt(plan, place), "The exercise");
  return (
    <div className="mt-1 flex flex-wrap items-baseline gap-x-3 gap-y-1 text-xs">
      <label className="flex min-w-60 grow items-baseline gap-1">
        <span className="shrink-0">Note</span>
        <input
          className="h-7 min-w-0 grow rounded border border-base-300 bg-base-100 px-2"
          placeholder="a cue of your own, for the card and the screen"
          value={slot.note ?? ""}
          maxLength={200}
          onChange={(event) => edit(setSlot(place, { note: plainNote(event.target.value) }), `${id}-note`)}
          onBlur={() => {
            if (slot.note !== slot.note?.trim()) edit(setSlot(place, { note: slot.note.trim() }), `${id}-note`);
          }}
        />
      </label>
      {cues.length > 0 && <span className="faint">Cues: {cues.join(" · ")}</span>}
    </div>
  );
}

/** The load of a slot, where all of its sets share it. */
function LoadField({ place, id }: { place: Place; id: string }) {
  const { plan, edit } = useClassDraft();
  const slot = present(slotAt(plan, place), "The exercise");
  const load = isSlot(slot) ? shared(slot, (item) => item.load ?? null) : "load" in slot ? (slot.load ?? null) : null;
  const set = (next: { load: Segment["load"] }) =>
    edit(setSlot(place, isSlot(slot) ? withSegments(slot, (item) => ({ ...item, ...next })) : next), `${id}-load`);
  return (
    <>
      {load?.share_of_best != null && (
        <NumberField
          label="Load"
          unit="%"
          step={5}
          value={Math.round(load.share_of_best * 100)}
          min={5}
          max={120}
          onChange={(percent) => {
            const next = { load: { share_of_best: percent / 100 } };
            set(next);
          }}
        />
      )}
      {load?.load_kg != null && (
        <DecimalField
          label="Load"
          unit="kg"
          value={load.load_kg}
          min={0}
          max={600}
          step={2.5}
          onChange={(kg) => {
            if (kg === null) return;
            const load_kg = kg;
            const next = { load: { load_kg } };
            set(next);
          }}
        />
      )}
    </>
  );
}

/** A note as a line of the notation can hold it. */
function plainNote(text: string): string {
  return text.replace(/["“”]/g, "").trimStart();
}

function sideWords(slot: Parameters<typeof shared>[0]): string {
  const sides = shared(slot, (item) => item.sides);
  return sides === "in_all" ? "Repetitions in all" : "Repetitions each side";
}

/** The sets of a scheme's example for the exercise at hand. */
function asDose(example: ReturnType<typeof slotAt>, slot: NonNullable<ReturnType<typeof slotAt>>) {
  if (!example || !isSlot(example) || !isSlot(slot)) return slot;
  const sides = entryAt(entryAt(slot.sets, 0).segments, 0).sides ?? null;
  return { ...withSegments(example, (item) => ({ ...item, sides })), exercise: slot.exercise };
}

function SlotCaution({ caution, draft }: { caution: Caution; draft: Draft }) {
  const [failed, setFailed] = useState("");
  return (
    <p className="mt-1 text-xs leading-4">
      <strong className={caution.severity === "note" ? "" : "text-accent"}>{SIGNS[caution.severity]}</strong>{" "}
      {caution.message}. <span className="faint">Safer: {caution.safer}.</span>{" "}
      {caution.fix && (
        <button
          type="button"
          className="btn btn-xs"
          onClick={() =>
            void applyChange(draft.plan, present(caution.fix, "The fix").change).then(
              (next) => draft.edit(replacePlan(next)),
              (error: Error) => setFailed(error.message),
            )
          }
        >
          {caution.fix.label}
        </button>
      )}
      {failed && <span role="alert"> Not changed: {failed}</span>}
    </p>
  );
}

type Seconds = Forecast["slots"][number]["seconds"];

/** How long one person is with the slot, and what that is made of. */
function TimeOf({ seconds, clocked }: { seconds: Seconds; clocked: boolean }) {
  const parts = [
    ["work", seconds.work],
    ["change of side", seconds.change_of_side],
    ["load change", seconds.load_change],
    ["set-up", seconds.set_up],
    ["rest", seconds.rest],
  ] as const;
  const varies = seconds.shortest !== seconds.longest;
  return (
    <span className="text-sm" data-testid="slot-time">
      <strong>{clock(seconds.expected)}</strong>
      {varies && (
        <span className="faint">
          {" "}
          ({clock(seconds.shortest)}–{clock(seconds.longest)})
        </span>
      )}
      <span className="faint text-xs">
        {" "}
        {clocked
          ? "on the clock"
          : parts
              .filter(([, value]) => value > 0)
              .map(([word, value]) => `${word} ${clock(value)}`)
              .join(" + ")}
      </span>
    </span>
  );
}

type LineProps = { draft: Draft; place: Place; line: string; name: string };

/** The slot as a line of the notebook: what is typed takes effect as soon as it can be read. */
function Line({ draft, place, line, name }: LineProps) {
  const { plan, edit } = draft;
  const kind = KINDS[entryAt(plan.blocks, place.block).kind].line;
  const [typed, setTyped] = useState<string | null>(null);
  const [faults, setFaults] = useState<TextFault[]>([]);
  const [notices, setNotices] = useState<TextFault[]>([]);
  const [broken, setBroken] = useState("");
  const latest = useRef(0);
  const input = useRef<HTMLInputElement>(null);

  useEffect(() => {
    if (typed === null) return;
    const turn = ++latest.current;
    const timer = setTimeout(() => {
      readLine(typed, kind).then(
        (next) => {
          if (turn !== latest.current) return;
          setFaults([]);
          setBroken("");
          setNotices(next.notices);
          edit(rewriteSlot(place, next.part), `${place.block}-${place.group}-${place.index}-line`);
        },
        (error: Error) => {
          if (turn !== latest.current) return;
          if (error instanceof FaultyText) setFaults(error.faults);
          else setBroken(error.message);
        },
      );
    }, 150);
    return () => clearTimeout(timer);
    // the place stands for the slot as long as this input is mounted
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [typed, kind, edit]);

  const fault = faults[0];
  const text = typed ?? line;
  function replaceWord(word: string) {
    if (!fault) return;
    setTyped(mended(text, fault, word));
    input.current?.focus();
  }
  return (
    <span className="relative min-w-72 grow basis-96">
      <input
        ref={input}
        aria-label={`Line of ${name}`}
        aria-invalid={fault || broken ? true : undefined}
        aria-describedby="line-fault"
        className={`w-full rounded border bg-base-100 px-2 py-0.5 text-sm ${fault || broken ? "border-error" : "border-base-300"}`}
        spellCheck={false}
        autoComplete="off"
        value={text}
        maxLength={400}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => {
          if (!fault && !broken) setTyped(null);
        }}
        onKeyDown={(event) => {
          const undoing = (event.ctrlKey || event.metaKey) && ["z", "y"].includes(event.key.toLowerCase());
          if (event.key === "Escape" || undoing) {
            setTyped(null);
            setFaults([]);
            setBroken("");
          }
        }}
      />
      <span id="line-fault" role={fault || broken ? "alert" : undefined} className="block text-xs">
        {fault && (
          <>
            <code className="bg-error px-1 text-error-content">{fault.word || "…"}</code> {fault.message}.{" "}
            {fault.proposals?.map((proposal) => (
              <button
                key={proposal}
                type="button"
                className="mr-1 min-h-6 underline decoration-dotted underline-offset-2"
                onClick={() => replaceWord(proposal)}
              >
                {proposal}
              </button>
            ))}
            <span className="faint">The score shows the last line that could be read.</span>
          </>
        )}
        {broken && <>Not read: {broken}</>}
        {!fault &&
          !broken &&
          notices.map((notice) => (
            <span key={notice.column} className="faint mr-2">
              {notice.word}: {notice.message}.
            </span>
          ))}
      </span>
    </span>
  );
}
