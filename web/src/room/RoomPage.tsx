import { Plus, RotateCw, Trash2 } from "lucide-react";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { useParams } from "react-router";

import { type Catalogue, type EquipmentKind, type Room, type RoomOut, type Unit } from "../api/client";
import { keptAs, saveRoom, useRoom } from "../api/floor";
import { useKeys } from "../keeping/keys";
import { LeaveGuard } from "../keeping/LeaveGuard";
import { Refusals } from "../keeping/Refusals";
import { SaveState } from "../keeping/SaveState";
import { useDocument } from "../keeping/useDocument";
import { useCatalogue } from "../api/queries";
import { RoomPlan } from "../drawing/RoomPlan";
import { CannotOpen } from "../shared/CannotOpen";
import { Opening } from "../shared/Opening";
import { DecimalField } from "../shared/DecimalField";
import { IconButton } from "../shared/IconButton";
import { NextStep } from "../shared/NextStep";
import { counted } from "../shared/format";
import { UndoRedo } from "../shared/UndoRedo";
import {
  addUnit,
  addZone,
  moveUnit,
  removeUnit,
  removeZone,
  sameRoom,
  setZone,
  standingFaults,
  turnUnit,
  type RoomEdit,
} from "./roomEdits";
import { UnitPanel } from "./UnitPanel";
import { entryAt } from "../basis/entries";

/** One room on its own screen: drawn to scale, edited with pointer, keyboard and numbers. */
export function RoomPage() {
  const key = useParams().key ?? "";
  const loaded = useRoom(key);
  const catalogue = useCatalogue();
  if (loaded.isPending || !catalogue.data) {
    return <Opening what="the room" />;
  }
  if (loaded.isError) {
    return (
      <CannotOpen
        what="This room"
        error={loaded.error}
        again={() => void loaded.refetch()}
        home="/rooms"
        homeName="All rooms"
      />
    );
  }
  return <Editor key={key} loaded={loaded.data} catalogue={catalogue.data} />;
}

function Editor({ loaded, catalogue }: { loaded: RoomOut; catalogue: Catalogue }) {
  const queries = useQueryClient();
  const document = useDocument<Room>({
    kind: "room",
    id: loaded.room.id,
    loaded: keptAs(loaded),
    save: saveRoom,
    same: sameRoom,
    onSaved: () => {
      void queries.invalidateQueries({ queryKey: ["rooms"] });
      void queries.invalidateQueries({ queryKey: ["forecast"] });
    },
  });
  const [chosen, choose] = useState<string | null>(null);
  const { document: room, edit } = document;
  const kinds = useMemo(() => new Map(catalogue.equipment.map((item) => [item.id, item])), [catalogue]);
  const faults = useMemo(() => standingFaults(room, kinds), [room, kinds]);
  const unit = room.units.find((unit) => unit.id === chosen) ?? null;
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<{ id: string; dx: number; dy: number } | null>(null);

  useKeys(document);
  useEffect(() => {
    window.document.title = `${room.name} – Oaken Circuit`;
  }, [room.name]);
  function metres(event: PointerEvent): { x: number; y: number } {
    const matrix = svg.current!.getScreenCTM()!.inverse();
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
    return { x: point.x, y: point.y };
  }
  function grab(one: Unit, event: PointerEvent<SVGGElement>) {
    if (event.button !== 0) return;
    choose(one.id);
    const at = metres(event);
    drag.current = { id: one.id, dx: one.x_m - at.x, dy: one.y_m - at.y };
    event.currentTarget.setPointerCapture(event.pointerId);
  }
  function onMove(event: PointerEvent<HTMLDivElement>) {
    const held = drag.current;
    if (!held) return;
    const at = metres(event);
    edit(moveUnit(held.id, at.x + held.dx, at.y + held.dy), `drag-${held.id}`);
  }
  function onKey(one: Unit, event: KeyboardEvent<SVGGElement>) {
    const far = event.shiftKey ? 0.5 : 0.1;
    const by = { ArrowLeft: [-far, 0], ArrowRight: [far, 0], ArrowUp: [0, -far], ArrowDown: [0, far] }[event.key];
    if (by) edit(moveUnit(one.id, one.x_m + entryAt(by, 0), one.y_m + entryAt(by, 1)), `keys-${one.id}`);
    else if (event.key.toLowerCase() === "r") edit(turnUnit(one.id));
    else if (event.key === "Delete") {
      edit(removeUnit(one.id));
      choose(null);
    } else return;
    event.preventDefault();
  }
  function add(kind: EquipmentKind) {
    const [next, id] = addUnit(kind, kinds)(room);
    edit(() => next);
    choose(id);
  }

  return (
    <div className="px-4 pb-6 lg:px-6" data-testid="room">
      <NextStep />
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2 py-1.5">
        <div className="min-w-0 grow">
          <input
            aria-label="Name of the room"
            className="w-full max-w-md truncate rounded border border-transparent bg-transparent text-xl font-semibold hover:border-base-300"
            value={room.name}
            maxLength={120}
            onChange={(event) => {
              const name = event.target.value.trimStart();
              if (name) edit((now) => ({ ...now, name }), "name");
            }}
          />
          <p className="faint text-sm leading-4">
            {counted(room.units.length, "unit")}, {counted(room.zones.length, "zone")} · drag a unit, or choose it and
            use the arrow keys (R turns)
          </p>
        </div>
        <DecimalField
          label="Width"
          unit="m"
          value={room.width_m ?? null}
          min={2}
          max={200}
          otherwise={12}
          onChange={(width_m) => edit((now) => ({ ...now, width_m }), "width")}
        />
        <DecimalField
          label="Depth"
          unit="m"
          value={room.depth_m ?? null}
          min={2}
          max={200}
          otherwise={9}
          onChange={(depth_m) => edit((now) => ({ ...now, depth_m }), "depth")}
        />
        <UndoRedo canUndo={document.canUndo} canRedo={document.canRedo} onUndo={document.undo} onRedo={document.redo} />
        <SaveState document={document} />
      </div>
      <Refusals document={document} what="room" />
      <LeaveGuard what="this room" dirty={document.dirty} save={document.saveNow} staysHere />
      <div className="grid items-start gap-6 lg:grid-cols-[minmax(0,1fr)_21rem]">
        <div>
          <div
            onPointerMove={onMove}
            onPointerUp={() => (drag.current = null)}
            onPointerCancel={() => (drag.current = null)}
          >
            <RoomPlan
              room={room}
              kinds={kinds}
              selected={chosen}
              onSelect={choose}
              onUnitPointer={grab}
              onUnitKey={onKey}
              svgRef={svg}
              label={`Plan of ${room.name}`}
            />
          </div>
          {faults.length > 0 && (
            <ul className="mt-2 text-sm text-error" data-testid="standing-faults">
              {faults.map((fault) => (
                <li key={fault.words}>
                  ▲{" "}
                  <button type="button" className="underline underline-offset-2" onClick={() => choose(fault.unit)}>
                    {fault.words}
                  </button>
                </li>
              ))}
            </ul>
          )}
        </div>
        <aside className="flex flex-col gap-3">
          <AddUnit
            kinds={catalogue.equipment.filter((item) => !catalogue.retired_equipment.includes(item.id))}
            onAdd={add}
          />
          {unit ? (
            <>
              <div className="flex items-center gap-1">
                <h2 className="grow font-semibold">{kinds.get(unit.kind)?.name ?? unit.kind}</h2>
                <IconButton label="Turn by a quarter" onClick={() => edit(turnUnit(unit.id))}>
                  <RotateCw size={15} aria-hidden />
                </IconButton>
                <IconButton
                  label="Remove it from the room"
                  onClick={() => {
                    edit(removeUnit(unit.id));
                    choose(null);
                  }}
                >
                  <Trash2 size={15} aria-hidden />
                </IconButton>
              </div>
              <UnitPanel key={unit.id} unit={unit} kind={kinds.get(unit.kind)} room={room} edit={edit} />
            </>
          ) : (
            <p className="faint text-sm">
              {room.units.length
                ? "Choose a unit on the plan to see and change what it is."
                : "An empty room: add the first machine above, then draw it to its place."}
            </p>
          )}
          <Zones room={room} edit={edit} />
        </aside>
      </div>
    </div>
  );
}

function AddUnit({ kinds, onAdd }: { kinds: EquipmentKind[]; onAdd: (kind: EquipmentKind) => void }) {
  const [id, setId] = useState("leg-press");
  const sorted = kinds.toSorted((one, other) => one.name.localeCompare(other.name));
  return (
    <div className="flex items-center gap-2">
      <select
        aria-label="Kind of equipment to add"
        className="h-8 min-w-0 grow rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-1 text-sm"
        value={id}
        onChange={(event) => setId(event.target.value)}
      >
        {sorted.map((kind) => (
          <option key={kind.id} value={kind.id}>
            {kind.id === "none" ? "Free floor" : kind.name}
          </option>
        ))}
      </select>
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => {
          const kind = kinds.find((kind) => kind.id === id);
          if (kind) onAdd(kind);
        }}
      >
        <Plus size={15} aria-hidden /> Add it
      </button>
    </div>
  );
}

function Zones({ room, edit }: { room: Room; edit: (change: RoomEdit, field?: string) => void }) {
  return (
    <details className="border-t border-base-300 pt-2" open={room.zones.length < 3}>
      <summary className="cursor-pointer font-semibold">Zones ({room.zones.length})</summary>
      <ul className="mt-2 flex flex-col gap-3 text-sm">
        {room.zones.map((zone) => (
          <li key={zone.id} className="grid grid-cols-2 gap-x-4 gap-y-1">
            <span className="col-span-2 flex items-center gap-1">
              <input
                aria-label="Name of the zone"
                className="h-7 min-w-0 grow rounded border border-base-300 bg-base-100 px-1"
                value={zone.name}
                maxLength={80}
                onChange={(event) => {
                  const name = event.target.value;
                  if (name.trim()) edit(setZone(zone.id, { name }), `zone-${zone.id}-name`);
                }}
              />
              <IconButton label={`Remove ${zone.name}`} onClick={() => edit(removeZone(zone.id))}>
                <Trash2 size={14} aria-hidden />
              </IconButton>
            </span>
            {(
              [
                ["from left", "x_m", 0],
                ["from top", "y_m", 0],
                ["width", "width_m", 0.5],
                ["depth", "depth_m", 0.5],
              ] as const
            ).map(([label, field, min]) => (
              <DecimalField
                key={field}
                label={label}
                unit="m"
                value={zone[field]}
                min={min}
                max={200}
                onChange={(value) =>
                  value !== null && edit(setZone(zone.id, { [field]: value }), `zone-${zone.id}-${field}`)
                }
              />
            ))}
          </li>
        ))}
      </ul>
      <button type="button" className="btn btn-xs mt-2" onClick={() => edit((now) => addZone()(now)[0])}>
        <Plus size={13} aria-hidden /> Zone
      </button>
    </details>
  );
}
