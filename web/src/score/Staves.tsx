import { closestCenter, DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from "@dnd-kit/core";
import { SortableContext, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { Plus } from "lucide-react";
import { Fragment, memo, useCallback, useEffect, useMemo, useRef, type ReactNode } from "react";

import type { Exercise, Group, Plan } from "../api/client";
import { useChosen, useLivePlan, useShownClass } from "../class/classContext";
import { ExercisePicker } from "../catalogue/ExercisePicker";
import {
  addGroup,
  addSlot,
  duplicateSlot,
  freshId,
  moveGroup,
  moveSlot,
  placeOf,
  removeSlot,
  roundsOf,
  setRoundRest,
  setRounds,
  slotsAt,
} from "../draft/edits";
import { NumberField } from "../shared/NumberField";
import type { Axis, Drag } from "../drawing/axis";
import { SlotRow } from "./SlotRow";
import { heightOf, StaveDrawing } from "../drawing/StaveDrawing";
import { BREATHER, listed, stavesOf } from "../drawing/steps";
import { entryAt, lastOf } from "../basis/entries";

type Props = {
  axis: Axis;
  drag: Drag;
  /** whether an exercise is being added to the block: a group of its own, or one to an existing group */
  adding: Adding;
  onAdding: (adding: Adding) => void;
};
export type Adding = { toGroup: number } | { toBlock: true } | null;

const SCHEMES = ["", "straight sets", "superset", "tri-set"];

/** The letter of a group, as in a notebook. */
function letter(group: number): string {
  return String.fromCharCode(65 + group);
}

/** One stave a slot of the selected block, opened at its left; below them the other machines of the class. */
export const Staves = memo(function Staves({ axis, drag, adding, onAdding }: Props) {
  const { plan, forecast, catalogue, room, edit } = useShownClass();
  const { shownBlock: selected, slot: chosen, chooseSlot: onSlot, person } = useChosen();
  const block = entryAt(plan.blocks, selected);
  const frame = useRef<HTMLDivElement>(null);
  const moved = useRef<string | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const names = useMemo(
    () => new Map(catalogue?.exercises.map((exercise) => [exercise.id, exercise.name])),
    [catalogue],
  );
  const doses = useMemo(
    () =>
      new Map(
        forecast.slots
          .filter((slot) => slot.stands_for < 0)
          .map((slot) => [slot.id, slot.line.slice(slot.name.length).replace(/^,? ?/, "")]),
      ),
    [forecast],
  );
  const staves = useMemo(
    () => stavesOf(forecast, block.id, { from: axis.from, to: axis.to }),
    [forecast, block.id, axis.from, axis.to],
  );

  // a row that was moved by keyboard keeps the focus, so that it can be moved on
  useEffect(() => {
    if (!moved.current) return;
    frame.current?.querySelector<HTMLElement>(`[data-handle="${moved.current}"]`)?.focus();
    moved.current = null;
  }, [plan]);

  // a slot that is opened or added comes into sight
  useEffect(() => {
    if (chosen) frame.current?.querySelector(`[data-slot="${chosen}"]`)?.scrollIntoView({ block: "nearest" });
  }, [chosen]);

  const step = useCallback(
    (id: string, by: 1 | -1) => {
      moved.current = id;
      edit((now) => {
        const place = placeOf(now, id);
        if (!place) return now;
        const slots = slotsAt(now, place.block, place.group);
        if (slots.length === 1) return moveGroup(place.block, place.group, place.group + by)(now);
        return moveSlot(place, place.index + by)(now);
      });
    },
    [edit],
  );
  const remove = useCallback(
    (id: string) => {
      onSlot(null);
      edit((now) => {
        const place = placeOf(now, id);
        return place ? removeSlot(place)(now) : now;
      });
    },
    [edit, onSlot],
  );
  const duplicate = useCallback(
    (id: string) => {
      const copy = freshId();
      const group = freshId();
      edit((now) => {
        const place = placeOf(now, id);
        return place ? duplicateSlot(place, copy, group)(now) : now;
      });
      onSlot(copy);
    },
    [edit, onSlot],
  );

  // the cautions come with the gravest first; a note is marked where it speaks of this very place. What asks for care
  // with single people stands beside them: here it would mark nearly every exercise
  const cautionOf = (slot: string) =>
    forecast.cautions.find(
      (caution) =>
        (caution.severity !== "note" || caution.block >= 0) &&
        caution.about !== "careful" &&
        caution.slots.includes(slot),
    );
  const slots = listed(block);
  const others = [...staves.values()].filter((stave) => !slots.some((slot) => slot.id === stave.key));
  const own = person?.number ?? null;

  function pick(exercise: Exercise) {
    const id = freshId();
    const group = freshId();
    edit((now) => {
      const at = now.blocks.findIndex((eachBlock) => eachBlock.id === block.id);
      if (adding && "toGroup" in adding) return addSlot(at, adding.toGroup, exercise, id)(now);
      return block.kind === "sets" ? addGroup(at, exercise, id, group)(now) : addSlot(at, -1, exercise, id)(now);
    });
    onSlot(id);
    onAdding(null);
  }
  function dropped(event: DragEndEvent) {
    const from = slots.find((slot) => slot.id === event.active.id);
    const to = slots.find((slot) => slot.id === event.over?.id);
    if (!from || !to || from === to) return;
    if (from.group === to.group) {
      edit(moveSlot({ block: selected, group: from.group, index: from.index }, to.index));
    } else edit(moveGroup(selected, from.group, to.group));
  }
  return (
    <div ref={frame} data-testid="staves">
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={dropped}>
        <SortableContext items={slots.map((slot) => slot.id)} strategy={verticalListSortingStrategy}>
          {slots.map((slot, order) => {
            const group = block.kind === "sets" ? entryAt(block.groups, slot.group) : null;
            const stave = staves.get(slot.id);
            return (
              <Fragment key={slot.id}>
                {group && group.slots.length > 1 && slot.index === 0 && (
                  <GroupHead
                    axis={axis}
                    letter={letter(slot.group)}
                    scheme={SCHEMES[group.slots.length] ?? "giant set"}
                    group={group}
                    onAdd={() => onAdding({ toGroup: slot.group })}
                    onRounds={(rounds) => edit(setRounds(selected, slot.group, rounds), `${group.id}-rounds`)}
                    onRest={(rest_s) => edit(setRoundRest(selected, slot.group, rest_s), `${group.id}-rest`)}
                  />
                )}
                <Row
                  axis={axis}
                  height={heightOf(stave)}
                  gutter={
                    <SlotRow
                      id={slot.id}
                      order={
                        group
                          ? group.slots.length > 1
                            ? `${letter(slot.group)}${slot.index + 1}`
                            : letter(slot.group)
                          : String(order + 1)
                      }
                      name={names.get(slot.exercise) ?? slot.exercise}
                      exercise={slot.exercise}
                      dose={doses.get(slot.id) ?? ""}
                      caution={cautionOf(slot.id)}
                      chosen={chosen === slot.id}
                      onChoose={onSlot}
                      onStep={step}
                      onRemove={remove}
                      onDuplicate={duplicate}
                    />
                  }
                >
                  {stave && <StaveDrawing stave={stave} axis={axis} own={own} drag={drag} />}
                </Row>
              </Fragment>
            );
          })}
        </SortableContext>
      </DndContext>
      {others.map((stave) => (
        <Row
          key={stave.key}
          axis={axis}
          height={heightOf(stave)}
          gutter={
            <span className="faint hand truncate pl-6">
              {stave.key === BREATHER ? "Breather, no station" : stave.label}
            </span>
          }
        >
          <StaveDrawing stave={stave} axis={axis} own={own} drag={drag} />
        </Row>
      ))}
      {adding && (
        <ExercisePicker
          title="Which exercise?"
          catalogue={catalogue}
          room={room}
          onPick={pick}
          onClose={() => onAdding(null)}
        />
      )}
    </div>
  );
});

/** The rest after a round, where it is the same after each. */
function restOf(group: Group): number | null {
  const rests = lastOf(group.slots).sets.map((run) => run.rest_s);
  return rests.every((rest) => rest === rests[0]) ? entryAt(rests, 0) : null;
}

type HeadProps = {
  axis: Axis;
  letter: string;
  scheme: string;
  group: Group;
  onAdd: () => void;
  onRounds: (rounds: number) => void;
  onRest: (rest: number) => void;
};

function groupOf(plan: Plan | null, id: string): Group | undefined {
  return plan?.blocks.flatMap((block) => (block.kind === "sets" ? block.groups : [])).find((group) => group.id === id);
}

/** What holds for all exercises of a superset: its rounds and the rest after each. */
function GroupHead({ axis, letter, scheme, group: drawn, onAdd, onRounds, onRest }: HeadProps) {
  const live = groupOf(useLivePlan(), drawn.id) ?? drawn;
  const [rounds, rest] = [roundsOf(live), restOf(live)];
  return (
    <Row
      axis={axis}
      height={26}
      gutter={
        <span className="flex items-center gap-1.5 text-xs">
          <strong className="hand">{letter}</strong>
          <span className="grow">{scheme}</span>
          <button
            type="button"
            className="flex h-6 items-center rounded px-1 hover:bg-base-200"
            aria-label={`Add an exercise to group ${letter}`}
            onClick={onAdd}
          >
            <Plus size={13} aria-hidden />
          </button>
          <span className="hidden items-center gap-1.5 sm:flex">
            <NumberField
              bare
              label={`Group ${letter}: rounds`}
              unit="×"
              value={rounds}
              min={1}
              max={20}
              onChange={onRounds}
            />
            {rest === null ? (
              <span className="faint w-[4.4rem] text-right">rests differ</span>
            ) : (
              <NumberField
                bare
                label={`Group ${letter}: rest after the round`}
                unit="s rest"
                wide
                step={15}
                value={rest}
                min={0}
                max={1800}
                onChange={onRest}
              />
            )}
          </span>
        </span>
      }
    />
  );
}

function Row({
  axis,
  height,
  gutter,
  children,
}: {
  axis: Axis;
  height: number;
  gutter: ReactNode;
  children?: ReactNode;
}) {
  return (
    <div data-row className="grid score-columns" style={{ minHeight: height }}>
      <div className="flex min-w-0 flex-col justify-center pr-2">{gutter}</div>
      <div className="border-b border-[var(--rule)]" style={{ width: axis.width }}>
        {children}
      </div>
    </div>
  );
}
