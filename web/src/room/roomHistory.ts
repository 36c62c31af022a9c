import type { Room } from "../api/client";
import type { RoomEdit } from "./roomEdits";

/** A room under edit with what came before it and what was undone; `field` is what the last edit changed. */
export type RoomHistory = { past: Room[]; room: Room; future: Room[]; field: string };
export type RoomAction =
  { type: "edit"; edit: RoomEdit; field: string } | { type: "undo" } | { type: "redo" } | { type: "show"; room: Room };

const LONGEST_PAST = 200;

/** The history after an action: an edit that changes nothing is none, and one drag or one field is one step back. */
export function reduceRoom(state: RoomHistory, action: RoomAction): RoomHistory {
  const { past, room, future } = state;
  switch (action.type) {
    case "edit": {
      const next = action.edit(room);
      if (next === room) return state;
      // one drag or one field is one step back
      const same = action.field !== "" && action.field === state.field;
      return { past: same ? past : [...past, room].slice(-LONGEST_PAST), room: next, future: [], field: action.field };
    }
    case "undo":
      return past.length
        ? { past: past.slice(0, -1), room: past.at(-1)!, future: [room, ...future], field: "" }
        : state;
    case "redo":
      return future.length ? { past: [...past, room], room: future[0]!, future: future.slice(1), field: "" } : state;
    case "show":
      return { past: [...past, room], room: action.room, future: [], field: "" };
  }
}
