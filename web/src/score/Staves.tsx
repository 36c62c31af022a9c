import { closestCenter, DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from "@dnd-kit/core";
import { SortableContext, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { Plus } from "lucide-react";
import { Fragment, memo, useEffect, useMemo, useRef, useState, type HTMLAttributes, type ReactNode } from "react";

import type { Catalogue, Exercise, Forecast, PersonForecast, Room } from "../api/client";
import { ExercisePicker } from "../catalogue/ExercisePicker";
import { addGroup, addSlot, changeExercise, moveSlot, setGroup, type Place } from "../design/edits";
import type { Draft } from "../design/useDraft";
import { NumberField } from "../shared/NumberField";
import { x, type Axis } from "./axis";
import { SlotRow } from "./SlotRow";
import { BREATHER, listed, stavesOf, type Stave } from "./staveModel";

type Drag = Pick<HTMLAttributes<HTMLElement>, "onPointerDown" | "onPointerMove">;
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

const ROW_H = 24;
const QUEUE_H = 6;
const ADDS = { sets: "Group", circuit: "Station", together: "Exercise" };
const SCHEMES = ["", "straight sets", "superset", "tri-set"];

/** The letter of a group, as in a notebook. */
function letter(group: number): string {
  return String.fromCharCode(65 + group);
}

/** How tall a lane is drawn: less where many stand beside one another. */
function laneOf(stave: Stave): number {
  return stave.lanes > 2 ? 13 : 16;
}

/** How tall a stave is drawn: one lane a person at once, and a strip for those who wait. */
export function heightOf(stave: Stave | undefined): number {
  if (!stave) return ROW_H;
  return Math.max(ROW_H, stave.lanes * laneOf(stave) + 6 + (stave.queues.length ? QUEUE_H : 0));
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
    () => stavesOf(plan, forecast, selected, { from: axis.from, to: axis.to }),
    [plan, forecast, selected, axis.from, axis.to],
  );

  // a row that was moved by keyboard keeps the focus, so that it can be moved on
  useEffect(() => {
    if (!moved.current) return;
    frame.current?.querySelector<HTMLElement>(`[data-handle="${moved.current}"]`)?.focus();
    moved.current = null;
  }, [plan]);

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

type DrawingProps = { stave: Stave; axis: Axis; own: number | null; drag: Drag };

/** The people passing over one stave: numbered while they work, outlined while they set up, hatched while they wait. */
const StaveDrawing = memo(function StaveDrawing({ stave, axis, own, drag }: DrawingProps) {
  const height = heightOf(stave);
  const top = 3;
  const lane = stave.lanes === 1 ? 17 : laneOf(stave) - 2;
  const inView = (start: number, end: number) => end > axis.from && start < axis.to;
  return (
    <svg
      {...(drag as Record<string, unknown>)}
      width={axis.width}
      height={height}
      className="block cursor-crosshair touch-none text-[11px] font-semibold select-none"
      role="img"
      aria-label={`${stave.label}: ${describe(stave)}`}
    >
      <defs>
        <pattern id="hatch" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="5" height="5" fill="var(--color-base-100)" />
          <rect width="2.4" height="5" fill="var(--color-accent)" />
        </pattern>
      </defs>
      {stave.choruses
        .filter((one) => inView(one.start, one.end))
        .map((one) => {
          const left = x(axis, one.start);
          const wide = x(axis, one.end) - left - 1;
          return (
            <g key={one.start}>
              <rect
                x={left}
                y={top}
                width={Math.max(wide, 1)}
                height={18}
                rx={2}
                fill="var(--token)"
                stroke="var(--token-edge)"
              />
              {wide > one.label.length * 5.6 ? (
                <text x={left + 5} y={top + 13} className="fill-base-content">
                  {one.label}
                </text>
              ) : wide > 24 ? (
                <text x={left + wide / 2} y={top + 13} textAnchor="middle" className="fill-base-content">
                  all
                </text>
              ) : null}
            </g>
          );
        })}
      {stave.tokens
        .filter((one) => inView(one.setUpFrom, one.end))
        .map((one) => {
          const left = x(axis, one.start);
          const wide = Math.max(x(axis, one.end) - left - 0.8, 1);
          const y = top + one.lane * laneOf(stave);
          const mine = own === one.person;
          const setUp = left - x(axis, one.setUpFrom);
          const digits = String(one.person).length;
          const size = wide >= digits * 5.3 + 1.5 && lane > 12 ? 11 : 9.5;
          return (
            <g key={`${one.person}-${one.start}`} opacity={own !== null && !mine ? 0.55 : 1}>
              {setUp > 0.8 && (
                <rect x={left - setUp} y={y + 1} width={setUp} height={lane - 2} fill="var(--token)" opacity={0.55} />
              )}
              {stave.breather ? (
                <rect
                  x={left}
                  y={y + 2}
                  width={wide}
                  height={lane - 4}
                  rx={(lane - 4) / 2}
                  fill="none"
                  stroke="var(--faint)"
                  strokeDasharray="3 2"
                />
              ) : (
                <rect
                  x={left}
                  y={y}
                  width={wide}
                  height={lane}
                  rx={2}
                  fill={mine ? "var(--color-base-content)" : "var(--token)"}
                  stroke="var(--token-edge)"
                  strokeWidth={0.8}
                />
              )}
              {wide >= digits * 4.5 - 0.5 && (
                <text
                  x={left + wide / 2}
                  y={y + lane / 2 + size * 0.36}
                  fontSize={size}
                  textAnchor="middle"
                  fill={mine && !stave.breather ? "var(--color-base-100)" : "var(--color-base-content)"}
                >
                  {one.person}
                </text>
              )}
            </g>
          );
        })}
      {stave.queues
        .filter((one) => inView(one.start, one.end))
        .map((one) => {
          const left = x(axis, one.start);
          const wide = x(axis, one.end) - left;
          return (
            <rect key={one.start} x={left} y={height - QUEUE_H - 1} width={wide} height={QUEUE_H} fill="url(#hatch)">
              <title>{`${one.people.length === 1 ? "no." : "nos."} ${one.people.join(", ")} waiting`}</title>
            </rect>
          );
        })}
    </svg>
  );
});

function describe(stave: Stave): string {
  const people = new Set(stave.tokens.map((token) => token.person)).size;
  const waiting = new Set(stave.queues.flatMap((queue) => queue.people)).size;
  const parts = [
    ...stave.choruses.map((one) => one.label),
    people ? `${people} people in ${stave.tokens.length} turns` : "",
    waiting ? `${waiting} wait here` : "",
  ].filter(Boolean);
  return parts.join("; ") || "unused";
}
