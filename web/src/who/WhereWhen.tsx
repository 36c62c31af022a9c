import { useId, useState } from "react";

import type { Plan } from "../api/client";
import { useRooms } from "../api/queries";
import { Select } from "../shared/Select";
import { NumberField } from "../shared/NumberField";
import { plusDays } from "../shared/days";
import { dateAndTime, dayWords } from "../shared/format";

export type Chosen = Pick<Plan, "room" | "slot_min" | "starts" | "aim" | "repeats">;

const AIMS: [Plan["aim"], string][] = [
  ["mixed", "mixed: a little of everything"],
  ["strength", "strength: sets and loads lead"],
  ["conditioning", "conditioning: the heart leads"],
  ["technique", "technique: form leads"],
];

type WhereWhenProps = {
  chosen: Chosen;
  onChange: (fields: Partial<Chosen>) => void;
  /** it is not asked whether it repeats */
  once?: boolean;
};

/** Where and when a class is held, how long, and what for. */
export function WhereWhen({ chosen, onChange, once }: WhereWhenProps) {
  const rooms = useRooms();
  const id = useId();
  const { date, time } = dateAndTime(chosen.starts);
  const words = chosen.starts && !date ? chosen.starts : "";
  const field = "h-8 w-full rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-2 text-sm";
  const when = (nextDate: string, nextTime: string) =>
    onChange({
      starts: nextDate ? `${nextDate} ${nextTime || "18:00"}` : "",
      repeats: nextDate && chosen.repeats && chosen.repeats.until >= nextDate ? chosen.repeats : null,
    });
  return (
    <div className={`grid grid-cols-2 gap-x-3 gap-y-2 ${once ? "" : "sm:grid-cols-3"}`}>
      <label className={`text-sm ${once ? "col-span-2" : ""}`} htmlFor={`${id}-room`}>
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
      <div className={once ? "col-span-2" : ""}>
        <NumberField
          wide
          label="Class length"
          unit="min"
          value={chosen.slot_min}
          min={once ? 5 : 15}
          max={240}
          step={5}
          onChange={(slot_min) => onChange({ slot_min })}
        />
      </div>
      {date && !once && <Repeating chosen={chosen} date={date} field={field} onChange={onChange} />}
      <label className="col-span-2 text-sm" htmlFor={`${id}-aim`}>
        Aim
        <Select
          id={`${id}-aim`}
          className={field}
          value={chosen.aim}
          options={AIMS}
          onChange={(aim) => onChange({ aim })}
        />
      </label>
    </div>
  );
}

type RepeatingProps = {
  chosen: Chosen;
  date: string;
  field: string;
  onChange: (fields: Partial<Chosen>) => void;
};

/** Once, or every so many weeks until a day, holidays left out. */
function Repeating({ chosen, date, field, onChange }: RepeatingProps) {
  const id = useId();
  const repeats = chosen.repeats ?? null;
  const [free, setFree] = useState("");
  const set = (fields: Partial<NonNullable<Chosen["repeats"]>>) =>
    onChange({
      repeats: {
        every_weeks: 1,
        until: plusDays(date, 56),
        without: [],
        ...repeats,
        ...fields,
      },
    });
  return (
    <div className="col-span-2 grid grid-cols-2 gap-3 sm:col-span-3 sm:grid-cols-3">
      <label className="text-sm" htmlFor={`${id}-every`}>
        Held
        <select
          id={`${id}-every`}
          className={field}
          value={repeats ? String(repeats.every_weeks) : ""}
          onChange={(event) =>
            event.target.value === "" ? onChange({ repeats: null }) : set({ every_weeks: Number(event.target.value) })
          }
        >
          <option value="">once</option>
          <option value="1">every week</option>
          <option value="2">every second week</option>
          <option value="4">every fourth week</option>
        </select>
      </label>
      {repeats && (
        <>
          <label className="text-sm" htmlFor={`${id}-until`}>
            Until
            <input
              id={`${id}-until`}
              type="date"
              className={field}
              min={date}
              value={repeats.until}
              onChange={(event) => event.target.value >= date && set({ until: event.target.value })}
            />
          </label>
          <label className="text-sm" htmlFor={`${id}-without`}>
            Not on
            <span className="flex gap-1">
              <input
                id={`${id}-without`}
                type="date"
                className={field}
                value={free}
                onChange={(event) => setFree(event.target.value)}
              />
              <button
                type="button"
                className="btn btn-sm"
                disabled={!free || repeats.without?.includes(free)}
                onClick={() => {
                  set({ without: [...(repeats.without ?? []), free].sort() });
                  setFree("");
                }}
              >
                Leave out
              </button>
            </span>
            {repeats.without?.map((day) => (
              <button
                key={day}
                type="button"
                className="btn btn-ghost btn-xs"
                aria-label={`Hold it on ${day} after all`}
                onClick={() => set({ without: (repeats.without ?? []).filter((item) => item !== day) })}
              >
                {dayWords(day)} ×
              </button>
            ))}
          </label>
        </>
      )}
    </div>
  );
}
