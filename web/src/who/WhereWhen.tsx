import { useId } from "react";

import type { Plan } from "../api/client";
import { useRooms } from "../api/queries";
import { NumberField } from "../shared/NumberField";
import { dateAndTime } from "../shared/format";

export type Chosen = Pick<Plan, "room" | "slot_min" | "starts" | "aim">;

const AIMS: [Plan["aim"], string][] = [
  ["mixed", "mixed: a little of everything"],
  ["strength", "strength: sets and loads lead"],
  ["conditioning", "conditioning: the heart leads"],
  ["technique", "technique: form leads"],
];

/** Where and when a class is held, how long, and what for. */
export function WhereWhen({ chosen, onChange }: { chosen: Chosen; onChange: (fields: Partial<Chosen>) => void }) {
  const rooms = useRooms();
  const id = useId();
  const { date, time } = dateAndTime(chosen.starts);
  const words = chosen.starts && !date ? chosen.starts : "";
  const field = "h-8 w-full rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-2 text-sm";
  const when = (nextDate: string, nextTime: string) =>
    onChange({ starts: nextDate ? `${nextDate} ${nextTime || "18:00"}` : "" });
  return (
    <div className="grid grid-cols-2 gap-x-3 gap-y-2 sm:grid-cols-3">
      <label className="text-sm" htmlFor={`${id}-room`}>
        Room
        <select
          id={`${id}-room`}
          className={field}
          value={chosen.room}
          onChange={(event) => onChange({ room: event.target.value })}
        >
          {(rooms.data ?? [])
            .filter((room) => !room.retired || room.id === chosen.room)
            .map((room) => (
              <option key={room.id} value={room.id}>
                {room.name}
              </option>
            ))}
        </select>
        {rooms.isError && <span role="alert">The rooms cannot be read: {rooms.error.message}</span>}
      </label>
      <label className="text-sm" htmlFor={`${id}-date`}>
        Date
        <input
          id={`${id}-date`}
          type="date"
          className={field}
          value={date}
          onChange={(event) => when(event.target.value, time)}
        />
        {words && <span className="faint block text-xs">so far: {words}</span>}
      </label>
      <label className="text-sm" htmlFor={`${id}-time`}>
        Time
        <input
          id={`${id}-time`}
          type="time"
          className={field}
          value={time}
          disabled={!date}
          onChange={(event) => when(date, event.target.value)}
        />
      </label>
      <div>
        <NumberField
          wide
          label="Slot"
          unit="min"
          value={chosen.slot_min}
          min={15}
          max={240}
          step={5}
          onChange={(slot_min) => onChange({ slot_min })}
        />
      </div>
      <label className="col-span-2 text-sm" htmlFor={`${id}-aim`}>
        Aim
        <select
          id={`${id}-aim`}
          className={field}
          value={chosen.aim}
          onChange={(event) => onChange({ aim: event.target.value as Plan["aim"] })}
        >
          {AIMS.map(([aim, name]) => (
            <option key={aim} value={aim}>
              {name}
            </option>
          ))}
        </select>
      </label>
    </div>
  );
}
