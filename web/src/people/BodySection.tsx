import { useState } from "react";

import type { PersonRecord } from "../api/client";
import { useBody } from "../api/people";
import { HowReached, type Opened } from "../shared/HowReached";
import { figure, range } from "../shared/format";
import { DecimalField } from "../shared/DecimalField";
import { Select } from "../shared/Select";
import { Switch } from "../shared/Switch";
import { IN_CM, LB_KG, useUnits } from "../shared/units";
import type { EditRecord } from "./record";
import { Refused } from "../shared/Refused";

type Person = PersonRecord["person"];
type Props = { record: PersonRecord; edit: EditRecord };

const FORMULAS: [Person["max_formula"], string][] = [
  ["tanaka", "Tanaka (default)"],
  ["gellish", "Gellish"],
  ["fox", "Fox"],
  ["nes", "Nes"],
  ["gulati", "Gulati (women)"],
];

const LEVELS: [Person["level"], string][] = [
  ["beginner", "beginner"],
  ["standard", "standard"],
  ["advanced", "advanced"],
];
const SEXES: [NonNullable<Person["sex"]> | "", string][] = [
  ["", "not given"],
  ["female", "female"],
  ["male", "male"],
];

/** Body data in either unit system, and the heart that follows from it: measured, or estimated by a chosen formula. */
export function BodySection({ record, edit }: Props) {
  const person = record.person;
  const [units, setUnits] = useUnits();
  const set = (change: Partial<Person>) => edit((item) => ({ ...item, person: { ...item.person, ...change } }));
  const [per, cm] = units === "metric" ? [1, 1] : [LB_KG, IN_CM];
  return (
    <section>
      <div className="flex items-center justify-between">
        <h2 className="text-lg font-semibold">Body and heart</h2>
        <Switch
          label="Units"
          options={[
            ["metric", "kg · cm"],
            ["imperial", "lb · in"],
          ]}
          value={units}
          onChange={setUnits}
        />
      </div>
      <div className="mt-2 grid gap-x-8 gap-y-2 text-sm sm:grid-cols-2">
        <label className="flex items-center gap-3 sm:col-span-2">
          <span className="w-20">Name</span>
          <input
            className="input input-sm min-w-0 grow"
            maxLength={120}
            value={person.name}
            onChange={(event) => set({ name: event.target.value })}
          />
        </label>
        <label className="flex items-center gap-3">
          <span className="w-20">Group</span>
          <input
            className="input input-sm min-w-0 grow"
            maxLength={60}
            value={record.group}
            onChange={(event) => edit((item) => ({ ...item, group: event.target.value }))}
          />
        </label>
        <label className="flex items-center gap-3">
          <span className="w-20">Level</span>
          <Select
            className="select select-sm min-w-0 grow"
            value={person.level ?? "standard"}
            options={LEVELS}
            onChange={(level) => set({ level })}
          />
        </label>
        <DecimalField
          label="Age"
          unit="y"
          step={1}
          value={person.age}
          min={12}
          max={100}
          onChange={(age) => age !== null && set({ age: Math.round(age) })}
        />
        <label className="flex items-center gap-3">
          <span className="w-20">Sex</span>
          <Select
            className="select select-sm min-w-0 grow"
            value={person.sex ?? ""}
            options={SEXES}
            onChange={(sex) => set({ sex: sex || null })}
          />
        </label>
        <DecimalField
          label="Body mass"
          unit={units === "metric" ? "kg" : "lb"}
          step={0.5}
          value={person.body_mass_kg / per}
          min={Math.round(30 / per)}
          max={Math.round(250 / per)}
          onChange={(value) => value !== null && set({ body_mass_kg: Math.round(value * per * 100) / 100 })}
        />
        <DecimalField
          label="Height"
          unit={units === "metric" ? "cm" : "in"}
          step={1}
          value={person.height_cm == null ? null : person.height_cm / cm}
          otherwise={Math.round(170 / cm)}
          min={Math.round(120 / cm)}
          max={Math.round(230 / cm)}
          onChange={(value) => set({ height_cm: value === null ? null : Math.round(value * cm * 10) / 10 })}
        />
        <HeartFields record={record} edit={edit} />
      </div>
      <Estimates record={record} />
    </section>
  );
}

/** What is known of somebody's heart and uptake; what was not measured is estimated below. */
function HeartFields({ record, edit }: Props) {
  const person = record.person;
  const body = useBody(record);
  const set = (change: Partial<Person>) => edit((item) => ({ ...item, person: { ...item.person, ...change } }));
  return (
    <>
      <DecimalField
        label="Resting rate"
        unit="bpm"
        step={1}
        value={person.resting_bpm ?? null}
        otherwise={65}
        min={30}
        max={110}
        onChange={(value) => set({ resting_bpm: value === null ? null : Math.round(value) })}
      />
      <DecimalField
        label="Maximum, measured"
        unit="bpm"
        step={1}
        value={person.max_bpm ?? null}
        otherwise={Math.round(body.data?.max_bpm.value ?? 180)}
        min={110}
        max={230}
        onChange={(value) => set({ max_bpm: value === null ? null : Math.round(value) })}
      />
      <DecimalField
        label="Uptake, measured"
        unit="mL/kg"
        step={0.5}
        value={person.vo2max ?? null}
        otherwise={Math.round(body.data?.vo2max.value ?? 40)}
        min={12}
        max={90}
        onChange={(vo2max) => set({ vo2max })}
      />
      <label className="flex items-center gap-3">
        <span className="grow">Formula</span>
        <Select
          className="select select-sm min-w-0"
          value={person.max_formula}
          options={FORMULAS}
          disabled={person.max_bpm != null}
          onChange={(max_formula) => set({ max_formula })}
        />
      </label>
    </>
  );
}

/** What follows from a record, each with how it is reached. */
function Estimates({ record }: { record: Props["record"] }) {
  const [opened, open] = useState<Opened | null>(null);
  const body = useBody(record);
  const estimates = body.data && [
    { name: "Resting", estimate: body.data.rest_bpm },
    { name: "Maximum", estimate: body.data.max_bpm },
    { name: "VO₂max", estimate: body.data.vo2max },
  ];
  return (
    <>
      <Refused error={body.error} />
      <ul className="mt-3 flex flex-wrap gap-x-6 gap-y-1" data-testid="heart-estimates">
        {estimates?.map((estimate) => (
          <li key={estimate.name}>
            <button
              type="button"
              className="rounded text-left text-sm hover:bg-base-200"
              onClick={() => open(estimate)}
              title="How this was reached"
            >
              <span className="faint block text-xs">{estimate.name}</span>
              <strong className="text-lg">{figure(estimate.estimate.value)}</strong> {estimate.estimate.unit}{" "}
              <span className="faint">{range(estimate.estimate)}</span>
            </button>
          </li>
        ))}
      </ul>
      {opened && <HowReached opened={opened} onClose={() => open(null)} />}
    </>
  );
}
