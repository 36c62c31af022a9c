import type { PersonRecord } from "../api/client";
import { useRooms } from "../api/queries";
import type { EditRecord } from "./record";

type Props = { record: PersonRecord; edit: EditRecord };

const NAMES: Record<string, string> = { rack_hole: "rack hole", range: "range limiter", back: "back rest" };

/** How the person sets every unit that has something to set. */
export function SettingsSection({ record, edit }: Props) {
  const rooms = useRooms().data ?? [];
  const rows = record.settings ?? [];
  const set = (room: string, unit: string, name: string, value: string) =>
    edit((item) => {
      const others = (item.settings ?? []).filter((row) => row.room !== room || row.unit !== unit || row.name !== name);
      return { ...item, settings: value ? [...others, { room, unit, name, value }] : others };
    });
  return (
    <section>
      <h2 className="text-lg font-semibold">Settings on the machines</h2>
      {rooms.map((room) => {
        const units = room.units.filter((unit) => unit.settings?.length);
        return (
          <div key={room.id} className="mt-1">
            <h3 className="faint text-sm">{room.name}</h3>
            {units.length === 0 && <p className="text-sm">No unit of this room has anything to set.</p>}
            <ul className="text-sm" data-testid="settings">
              {units.map((unit) => (
                <li key={unit.id} className="flex flex-wrap items-center gap-x-4 border-t border-base-300 py-1">
                  <span className="grow">{unit.name}</span>
                  {unit.settings?.map((name) => (
                    <label key={name} className="flex items-center gap-1.5">
                      {NAMES[name] ?? name}
                      <input
                        className="input input-xs w-14 text-right"
                        maxLength={20}
                        value={
                          rows.find((row) => row.room === room.id && row.unit === unit.id && row.name === name)
                            ?.value ?? ""
                        }
                        onChange={(event) => set(room.id, unit.id, name, event.target.value)}
                      />
                    </label>
                  ))}
                </li>
              ))}
            </ul>
          </div>
        );
      })}
    </section>
  );
}
