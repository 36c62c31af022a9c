import { useId, useState } from "react";

import type { EquipmentKind, Hardware, Room, Unit } from "../api/client";
import { Switch } from "../shared/Switch";
import { DecimalField } from "../shared/DecimalField";
import { NumberField } from "../shared/NumberField";
import { firstHardware, massesAsText, massesFromText, numbersFromText, steps, inKilograms, inMarks } from "./hardware";
import { setUnit, walkSeconds, type RoomEdit } from "./roomEdits";
import { entryAt, lastOf } from "../basis/entries";

type Props = {
  unit: Unit;
  kind: EquipmentKind | undefined;
  room: Room;
  edit: (change: RoomEdit, field?: string) => void;
};

const SETTINGS: [Unit["settings"][number], string][] = [
  ["seat", "seat"],
  ["back", "back rest"],
  ["pad", "pad"],
  ["range", "range limiter"],
  ["rack_hole", "rack hole"],
  ["platform", "platform"],
  ["resistance", "resistance"],
];

/** Everything about one unit in numbers. */
export function UnitPanel({ unit, kind, room, edit }: Props) {
  const set = (fields: Partial<Unit>, field: string) => edit(setUnit(unit.id, fields), `${unit.id}-${field}`);
  const implement = unit.hardware?.holds === "implements";
  return (
    <div className="flex flex-col gap-2" data-testid="unit-panel">
      <label className="flex items-center gap-2 text-sm">
        <span className="w-12">Name</span>
        <input
          className="h-7 min-w-0 grow rounded border border-base-300 bg-base-100 px-1"
          value={unit.name}
          maxLength={80}
          onChange={(event) => {
            const name = event.target.value.trimStart();
            if (name) set({ name }, "name");
          }}
        />
      </label>
      <label className="flex items-center gap-2 text-sm">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={unit.out_of_order}
          onChange={(event) => set({ out_of_order: event.target.checked }, "order")}
        />
        out of order
      </label>
      {!implement && (
        <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
          <NumberField
            label={unit.kind === "none" ? "Places" : "How many"}
            value={unit.count}
            min={1}
            max={60}
            onChange={(count) => set({ count }, "count")}
          />
          {unit.kind !== "none" && (
            <NumberField
              label="people at once"
              value={unit.people_at_once}
              min={1}
              max={10}
              onChange={(people_at_once) => set({ people_at_once }, "people")}
            />
          )}
        </div>
      )}
      <div className="grid grid-cols-2 gap-x-4 gap-y-1">
        <DecimalField
          label="from left"
          unit="m"
          value={unit.x_m}
          min={0}
          max={room.width_m ?? 200}
          onChange={(value) => value !== null && set({ x_m: value }, "x")}
        />
        <DecimalField
          label="from top"
          unit="m"
          value={unit.y_m}
          min={0}
          max={room.depth_m ?? 200}
          onChange={(value) => value !== null && set({ y_m: value }, "y")}
        />
        <DecimalField
          label="width"
          unit="m"
          value={unit.width_m ?? null}
          otherwise={kind?.width_m ?? 1}
          min={0.2}
          max={40}
          onChange={(width_m) => set({ width_m }, "width")}
        />
        <DecimalField
          label="depth"
          unit="m"
          value={unit.depth_m ?? null}
          otherwise={kind?.depth_m ?? 1.6}
          min={0.2}
          max={40}
          onChange={(depth_m) => set({ depth_m }, "depth")}
        />
        <DecimalField
          label="set-up"
          unit="s"
          step={1}
          value={unit.set_up_s ?? null}
          otherwise={kind?.set_up_s ?? 0}
          min={0}
          max={300}
          onChange={(set_up_s) => set({ set_up_s }, "set-up")}
        />
        <DecimalField
          label="load change"
          unit="s"
          step={1}
          value={unit.load_change_s ?? null}
          otherwise={kind?.load_change_s ?? 0}
          min={0}
          max={300}
          onChange={(load_change_s) => set({ load_change_s }, "load-change")}
        />
      </div>
      {unit.kind !== "none" && (
        <fieldset className="text-sm">
          <legend className="faint">What each person sets on it</legend>
          <div className="flex flex-wrap gap-x-4 gap-y-1.5">
            {SETTINGS.map(([id, name]) => (
              <label key={id} className="flex items-center gap-1">
                <input
                  type="checkbox"
                  className="checkbox checkbox-sm"
                  checked={unit.settings.includes(id)}
                  onChange={(event) =>
                    set(
                      {
                        settings: event.target.checked
                          ? [...unit.settings, id]
                          : unit.settings.filter((setting) => setting !== id),
                      },
                      "settings",
                    )
                  }
                />
                {name}
              </label>
            ))}
          </div>
        </fieldset>
      )}
      <Loads unit={unit} kind={kind} onChange={(hardware) => set({ hardware }, "hardware")} />
      <Walks unit={unit} room={room} />
    </div>
  );
}

function Loads({
  unit,
  kind,
  onChange,
}: {
  unit: Unit;
  kind: EquipmentKind | undefined;
  onChange: (hardware: Hardware | null) => void;
}) {
  const held = unit.hardware ?? null;
  if (!kind || (kind.holds === "nothing" && !held)) return null;
  if (!held) {
    return (
      <button
        type="button"
        className="btn btn-xs self-start"
        onClick={() => onChange(firstHardware(kind.holds, kind.step_kg))}
      >
        Say which loads it can hold
      </button>
    );
  }
  return (
    <>
      <span className="flex items-center justify-between text-sm">
        Masses are marked in
        <Switch
          label="Masses are marked in"
          options={[
            ["kg", "kg"],
            ["lb", "lb"],
          ]}
          value={held.marked ?? "kg"}
          onChange={(marked) => onChange({ ...held, marked })}
        />
      </span>
      <Masses held={inMarks(held)} change={(changed) => onChange(inKilograms(changed))} />
    </>
  );
}

/** What a unit holds, in the unit that is marked on it. */
function Masses({ held, change }: { held: Hardware; change: (hardware: Hardware) => void }) {
  const marked = held.marked ?? "kg";
  switch (held.holds) {
    case "stack": {
      const [low, high] = [entryAt(held.steps_kg, 0), lastOf(held.steps_kg)];
      const by = held.steps_kg.length > 1 ? entryAt(held.steps_kg, 1) - low : 5;
      return (
        <fieldset className="flex flex-col gap-1 text-sm">
          <legend className="faint">Stack: {held.steps_kg.length} holes</legend>
          <div className="grid grid-cols-2 gap-x-4 gap-y-1">
            <DecimalField
              label="from"
              unit={marked}
              step={by}
              value={low}
              min={0.5}
              max={high}
              onChange={(value) => value && change({ ...held, steps_kg: steps(value, high, by) })}
            />
            <DecimalField
              label="to"
              unit={marked}
              step={by}
              value={high}
              min={low}
              max={400}
              onChange={(value) => value && change({ ...held, steps_kg: steps(low, value, by) })}
            />
            <DecimalField
              label="in steps of"
              unit={marked}
              step={0.5}
              value={by}
              min={0.5}
              max={50}
              onChange={(value) => value && change({ ...held, steps_kg: steps(low, high, value) })}
            />
          </div>
          <TextList
            label={`add-ons (${marked})`}
            text={held.add_ons_kg.join(", ")}
            hint="2.5, 1.25"
            read={(text) => {
              const numbers = numbersFromText(text, 6);
              if (typeof numbers === "string") return numbers;
              change({ ...held, add_ons_kg: numbers });
              return null;
            }}
          />
        </fieldset>
      );
    }
    case "plates":
      return (
        <fieldset className="flex flex-col gap-1 text-sm">
          <legend className="faint">Bar or carriage, equal plates on both sides</legend>
          <DecimalField
            label="mass without plates"
            unit={marked}
            step={0.5}
            value={held.bar_kg}
            min={0}
            max={150}
            onChange={(value) => value !== null && change({ ...held, bar_kg: value })}
          />
          <TextList
            label="pairs of plates"
            text={massesAsText(held.plates.map((plate) => ({ kg: plate.kg, count: plate.pairs })))}
            hint="20 x 3, 10 x 2"
            read={(text) => {
              const masses = massesFromText(text);
              if (typeof masses === "string") return masses;
              change({ ...held, plates: masses.map((mass) => ({ kg: mass.kg, pairs: mass.count })) });
              return null;
            }}
          />
        </fieldset>
      );
    case "implements":
      return (
        <fieldset className="flex flex-col gap-1 text-sm">
          <legend className="faint">
            {held.in_hand === 2 ? "Pairs by the mass of one" : "By mass"}:{" "}
            {held.by_mass.reduce((sum, item) => sum + item.count, 0)} in all
          </legend>
          <TextList
            label={held.in_hand === 2 ? "pairs" : "pieces"}
            text={massesAsText(held.by_mass)}
            hint="8 x 1, 16 x 2"
            read={(text) => {
              const masses = massesFromText(text);
              if (typeof masses === "string") return masses;
              change({ ...held, by_mass: masses });
              return null;
            }}
          />
        </fieldset>
      );
  }
}

function TextList({
  label,
  text,
  hint,
  read,
}: {
  label: string;
  text: string;
  hint: string;
  read: (text: string) => string | null;
}) {
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const [complaint, setComplaint] = useState<string | null>(null);
  return (
    <span className="flex flex-col gap-0.5">
      <span className="flex items-center gap-2">
        <label htmlFor={id}>{label}</label>
        <input
          id={id}
          className={`h-7 min-w-0 grow rounded border bg-base-100 px-1 ${complaint ? "border-error" : "border-base-300"}`}
          value={typed ?? text}
          placeholder={hint}
          aria-invalid={complaint ? true : undefined}
          aria-describedby={complaint ? `${id}-complaint` : undefined}
          onChange={(event) => {
            setTyped(event.target.value);
            setComplaint(read(event.target.value));
          }}
          onBlur={() => {
            setTyped(null);
            setComplaint(null);
          }}
        />
      </span>
      {complaint && (
        <span id={`${id}-complaint`} role="alert" className="text-xs text-error">
          {complaint}
        </span>
      )}
    </span>
  );
}

function Walks({ unit, room }: { unit: Unit; room: Room }) {
  const others = room.units
    .filter((eachUnit) => eachUnit.id !== unit.id)
    .map((eachUnit) => ({ name: eachUnit.name, seconds: walkSeconds(unit, eachUnit) }))
    .sort((one, other) => one.seconds - other.seconds);
  if (!others.length) return null;
  const far = lastOf(others);
  return (
    <details className="text-sm">
      <summary className="cursor-pointer">
        Walks from here: {entryAt(others, 0).seconds.toFixed(0)} to {far.seconds.toFixed(0)} s
      </summary>
      <ul className="mt-1 max-h-40 overflow-y-auto">
        {others.map((other) => (
          <li key={other.name} className="flex justify-between pr-2">
            <span className="truncate">{other.name}</span>
            <span>{other.seconds.toFixed(1)} s</span>
          </li>
        ))}
      </ul>
      <p className="faint text-xs">In a straight line between their middles, at 1.2 m/s.</p>
    </details>
  );
}
