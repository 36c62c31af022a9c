import type { EquipmentKind, Room, Unit, Zone } from "../api/client";
import { footprintOf, sizeOf } from "../drawing/floorModel";
import { firstHardware } from "./hardware";

/** Metres between the places a thing snaps to. */
const GRID = 0.1;
const SPEED_M_PER_S = 1.2;

export type RoomEdit = (room: Room) => Room;

/** A room in one way of writing: the same room is the same text, whoever wrote it. */
export function canonical(room: Room): string {
  return JSON.stringify(room, (_, value: unknown) => {
    if (value === null || typeof value !== "object" || Array.isArray(value)) return value;
    const entries = Object.entries(value).filter(([, one]) => one !== null && one !== undefined);
    return Object.fromEntries(entries.sort(([one], [other]) => one.localeCompare(other)));
  });
}

/** Whether two rooms are the same, however they are written. */
export function sameRoom(one: Room, other: Room): boolean {
  return one === other || canonical(one) === canonical(other);
}

function snapped(metres: number): number {
  return Math.round(Math.round(metres / GRID) * GRID * 100) / 100;
}

export function setUnit(id: string, fields: Partial<Unit>): RoomEdit {
  return (room) => ({ ...room, units: room.units.map((unit) => (unit.id === id ? { ...unit, ...fields } : unit)) });
}

export function setZone(id: string, fields: Partial<Zone>): RoomEdit {
  return (room) => ({ ...room, zones: room.zones.map((zone) => (zone.id === id ? { ...zone, ...fields } : zone)) });
}

/** A unit to another place, as far as the walls allow. */
export function moveUnit(id: string, x: number, y: number): RoomEdit {
  return (room) => {
    const { width, depth } = sizeOf(room);
    return setUnit(id, {
      x_m: snapped(Math.min(Math.max(x, 0), width)),
      y_m: snapped(Math.min(Math.max(y, 0), depth)),
    })(room);
  };
}

const QUARTERS = [0, 90, 180, 270] as const;

export function turnUnit(id: string): RoomEdit {
  return (room) => {
    const unit = room.units.find((unit) => unit.id === id);
    return unit ? setUnit(id, { turned: QUARTERS[(unit.turned / 90 + 1) % 4] })(room) : room;
  };
}

export function removeUnit(id: string): RoomEdit {
  return (room) => ({ ...room, units: room.units.filter((unit) => unit.id !== id) });
}

export function removeZone(id: string): RoomEdit {
  return (room) => ({ ...room, zones: room.zones.filter((zone) => zone.id !== id) });
}

/** A new unit of a kind at the first place where it stands free. */
export function addUnit(kind: EquipmentKind, kinds: Map<string, EquipmentKind>): (room: Room) => [Room, string] {
  return (room) => {
    const id = freshId(
      kind.id === "none" ? "floor" : kind.id,
      room.units.map((unit) => unit.id),
    );
    const alike = room.units.filter((unit) => unit.kind === kind.id).length;
    const unit: Unit = {
      id,
      kind: kind.id,
      name: kind.id === "none" ? "Free floor" : alike ? `${kind.name} ${alike + 1}` : kind.name,
      count: kind.id === "none" ? 4 : 1,
      people_at_once: 1,
      x_m: 0,
      y_m: 0,
      turned: 0,
      settings: [],
      hardware: firstHardware(kind.holds, kind.step_kg),
      out_of_order: false,
    };
    const { width, depth } = sizeOf(room);
    const size = footprintOf(unit, kinds);
    for (let y = size.depth / 2 + 0.3; y < depth - size.depth / 2; y += 0.3) {
      for (let x = size.width / 2 + 0.3; x < width - size.width / 2; x += 0.3) {
        const here = { ...unit, x_m: snapped(x), y_m: snapped(y) };
        if (!room.units.some((other) => overlap(here, other, kinds))) {
          return [{ ...room, units: [...room.units, here] }, id];
        }
      }
    }
    return [{ ...room, units: [...room.units, { ...unit, x_m: snapped(width / 2), y_m: snapped(depth / 2) }] }, id];
  };
}

export function addZone(): (room: Room) => [Room, string] {
  return (room) => {
    const id = freshId(
      "zone",
      room.zones.map((zone) => zone.id),
    );
    const { width, depth } = sizeOf(room);
    const zone: Zone = {
      id,
      name: `Zone ${room.zones.length + 1}`,
      x_m: snapped(width / 3),
      y_m: snapped(depth / 3),
      width_m: snapped(Math.min(3, width / 2)),
      depth_m: snapped(Math.min(2, depth / 2)),
    };
    return [{ ...room, zones: [...room.zones, zone] }, id];
  };
}

function freshId(stem: string, taken: string[]): string {
  let number = 1;
  while (taken.includes(`${stem}-${number}`)) number += 1;
  return `${stem}-${number}`;
}

/** Whether two units stand in one another's footprint; free floor may reach under anything. */
export function overlap(one: Unit, other: Unit, kinds: Map<string, EquipmentKind>): boolean {
  if (one.id === other.id || one.kind === "none" || other.kind === "none") return false;
  const [a, b] = [footprintOf(one, kinds), footprintOf(other, kinds)];
  return (
    Math.abs(one.x_m - other.x_m) < (a.width + b.width) / 2 - 0.01 &&
    Math.abs(one.y_m - other.y_m) < (a.depth + b.depth) / 2 - 0.01
  );
}

/** What is wrong with how things stand, in words. */
export function standingFaults(room: Room, kinds: Map<string, EquipmentKind>): { unit: string; words: string }[] {
  const { width, depth } = sizeOf(room);
  const found: { unit: string; words: string }[] = [];
  room.units.forEach((unit, index) => {
    const size = footprintOf(unit, kinds);
    const out =
      unit.x_m - size.width / 2 < -0.01 ||
      unit.y_m - size.depth / 2 < -0.01 ||
      unit.x_m + size.width / 2 > width + 0.01 ||
      unit.y_m + size.depth / 2 > depth + 0.01;
    if (out) found.push({ unit: unit.id, words: `${unit.name} reaches through a wall` });
    for (const other of room.units.slice(index + 1)) {
      if (overlap(unit, other, kinds)) found.push({ unit: unit.id, words: `${unit.name} stands in ${other.name}` });
    }
  });
  return found;
}

/** Seconds to walk between the middles of two units at an ordinary indoor speed. */
export function walkSeconds(one: Unit, other: Unit): number {
  return Math.hypot(one.x_m - other.x_m, one.y_m - other.y_m) / SPEED_M_PER_S;
}
