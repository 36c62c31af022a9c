import { closestCenter, DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from "@dnd-kit/core";
import { SortableContext, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { Plus } from "lucide-react";
import { Fragment, useEffect, useMemo, useRef, useState, type ReactNode } from "react";

import type { Catalogue, Exercise, Forecast, PersonForecast, Room } from "../api/client";
import { ExercisePicker } from "../catalogue/ExercisePicker";
import { addGroup, addSlot, changeExercise, moveSlot, setGroup, type Place } from "../design/edits";
import type { Draft } from "../design/useDraft";
import { NumberField } from "../shared/NumberField";
import type { Axis, Drag } from "./axis";
import { SlotRow } from "./SlotRow";
import { heightOf, StaveDrawing } from "./StaveDrawing";
import { BREATHER, listed, stavesOf } from "./staveModel";

type Props = {
  draft: Draft;
  forecast: Forecast;
  catalogue: Catalogue | undefined;
  room: Room | undefined;
  selected: number;
  person: PersonForecast | null;
  axis: Axis;
  drag: Drag;
};
type Picking = { place: Place } | { addTo: number } | { newGroup: true };

const ADDS = { sets: "Group", circuit: "Station", together: "Exercise" };
const SCHEMES = ["", "straight sets", "superset", "tri-set"];

/** The letter of a group, as in a notebook. */
function letter(group: number): string {
  return String.fromCharCode(65 + group);
}

/** One stave a slot of the selected block, edited in place at its left; below them the other machines of the class. */
export function Staves({ draft, forecast, catalogue, room, selected, person, axis, drag }: Props) {
  const { plan, edit } = draft;
  const block = plan.blocks[selected]!;
  const [picking, setPicking] = useState<Picking | null>(null);
  const moved = useRef<string | null>(null);
  const frame = useRef<HTMLDivElement>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const exercises = useMemo(() => new Map(catalogue?.exercises.map((one) => [one.id, one])), [catalogue]);
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

  // the cautions come with the gravest first
  const cautionOf = (slot: string) =>
    forecast.cautions.find((one) => one.severity !== "note" && one.slots.includes(slot));
  const slots = listed(block);
  const others = [...staves.values()].filter((stave) => !slots.some((slot) => slot.id === stave.key));
  const own = person?.number ?? null;

  function pick(exercise: Exercise) {
    if (!picking) return;
    if ("place" in picking) edit(changeExercise(picking.place, exercise));
    else if ("newGroup" in picking) edit(addGroup(selected, exercise));
    else edit(addSlot(selected, picking.addTo, exercise));
    setPicking(null);
  }
  function dropped(event: DragEndEvent) {
    const from = slots.find((slot) => slot.id === event.active.id);
    const to = slots.find((slot) => slot.id === event.over?.id);
    if (from && to && from.group === to.group && from.index !== to.index) {
      edit(moveSlot({ block: selected, group: from.group, index: from.index }, to.index));
    }
  }
  return (
    <div ref={frame} data-testid="staves">
      <button
        type="button"
        className="btn btn-ghost btn-xs absolute top-0 left-0 px-1"
        onClick={() => setPicking(block.kind === "sets" ? { newGroup: true } : { addTo: -1 })}
      >
        <Plus size={14} aria-hidden /> {ADDS[block.kind]}
      </button>
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={dropped}>
        <SortableContext items={slots.map((slot) => slot.id)} strategy={verticalListSortingStrategy}>
          {slots.map((slot, order) => {
            const place = { block: selected, group: slot.group, index: slot.index };
            const group = block.kind === "sets" ? block.groups[slot.group]! : null;
            const stave = staves.get(slot.id);
            return (
              <Fragment key={slot.id}>
                {group && slot.index === 0 && (
                  <Row
                    axis={axis}
                    height={26}
                    gutter={
                      <span className="flex items-center gap-1.5 text-xs">
                        <strong className="hand">{letter(slot.group)}</strong>
                        <span className="grow">{SCHEMES[group.slots.length] ?? "giant set"}</span>
                        <button
                          type="button"
                          className="flex h-6 items-center rounded px-1 hover:bg-base-200"
                          aria-label={`Add an exercise to group ${letter(slot.group)}`}
                          onClick={() => setPicking({ addTo: slot.group })}
                        >
                          <Plus size={13} aria-hidden />
                        </button>
                        <NumberField
                          bare
                          label={`Group ${letter(slot.group)}: rounds`}
                          unit="×"
                          value={group.rounds}
                          min={1}
                          max={20}
                          onChange={(rounds) => edit(setGroup(selected, slot.group, { rounds }), `${group.id}-rounds`)}
                        />
                        <NumberField
                          bare
                          label={`Group ${letter(slot.group)}: rest after the round`}
                          unit="s rest"
                          wide
                          step={15}
                          value={group.rest_s}
                          min={0}
                          max={1800}
                          onChange={(rest_s) => edit(setGroup(selected, slot.group, { rest_s }), `${group.id}-rest`)}
                        />
                      </span>
                    }
                  />
                )}
                <Row
                  axis={axis}
                  height={heightOf(stave)}
                  gutter={
                    <SlotRow
                      draft={draft}
                      place={place}
                      id={slot.id}
                      order={block.kind === "sets" ? `${letter(slot.group)}${slot.index + 1}` : String(order + 1)}
                      exercise={exercises.get(slot.exercise)}
                      caution={cautionOf(slot.id)}
                      onPick={() => setPicking({ place })}
                      onMoved={() => {
                        moved.current = slot.id;
                      }}
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
      {picking && (
        <ExercisePicker
          title={"place" in picking ? "Another exercise here" : "Which exercise?"}
          catalogue={catalogue}
          room={room}
          onPick={pick}
          onClose={() => setPicking(null)}
          current={
            "place" in picking
              ? slots.find((slot) => slot.group === picking.place.group && slot.index === picking.place.index)?.exercise
              : undefined
          }
        />
      )}
    </div>
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
    <div className="grid score-columns" style={{ minHeight: height }}>
      <div className="flex min-w-0 flex-col justify-center pr-2">{gutter}</div>
      <div className="border-b border-[var(--rule)]" style={{ width: axis.width }}>
        {children}
      </div>
    </div>
  );
}
