import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Download, Plus, Upload, Users } from "lucide-react";
import { useEffect, useState, type ReactNode } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";

import type { Attended, Person, PersonRecord, RosterLine } from "../api/client";
import { addPerson, rosterFile, useAttendance, useConditions, useRoster } from "../api/people";
import { Dialog } from "../shared/Dialog";
import { saveText } from "../shared/files";
import { NextStep } from "../shared/NextStep";
import { counted } from "../shared/format";
import { mass, useUnits, type Units } from "../shared/units";
import { CrowdDialog } from "./CrowdDialog";
import { ImportDialog } from "./ImportDialog";
import { TextField } from "../shared/TextField";
import { Refused } from "../shared/Refused";

const WIDE = "hidden sm:table-cell";
/** The columns of the roster; on a phone only what has to be seen to stays. */
const COLUMNS = [
  ["Name", ""],
  ["Group", WIDE],
  ["Level", WIDE],
  ["Age", `${WIDE} text-right`],
  ["Mass", `${WIDE} text-right`],
  ["Heart", WIDE],
  ["Considerations", ""],
  ["Screening", ""],
  ["Classes", `${WIDE} text-right`],
  ["Last", WIDE],
] as const;

/** The roster: everybody, what stands open, and how often they came. */
export function RosterPage() {
  const roster = useRoster();
  const attendance = useAttendance().data;
  const [units] = useUnits();
  const [search, setSearch] = useState("");
  const [group, setGroup] = useState("");
  const [adding, add] = useState(false);
  const [importing, bringIn] = useState(false);
  const [asked, ask] = useSearchParams();
  const everybody = roster.data ?? [];
  const groups = [...new Set(everybody.map((person) => person.group).filter(Boolean))].sort();
  const words = search.trim().toLowerCase();
  const shown = everybody.filter(
    (person) => (!group || person.group === group) && (!words || person.person.name.toLowerCase().includes(words)),
  );
  const open = everybody.filter((person) => person.screening.open).length;
  useEffect(() => {
    document.title = "People – Oaken Circuit";
  }, []);
  return (
    <div className="mx-auto max-w-6xl px-4 py-3 lg:px-6">
      <div className="flex flex-wrap items-center gap-2">
        <h1 className="text-2xl font-semibold">People</h1>
        <p className="grow pl-2 text-sm">
          {roster.isSuccess && counted(everybody.length, "person", "people")}
          {open > 0 && <strong className="text-accent"> · ▲ screening open for {open}</strong>}
        </p>
        <input
          type="search"
          className="input input-sm w-40"
          placeholder="Search"
          aria-label="Search people"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
        <select
          className="select select-sm w-40"
          aria-label="Group"
          value={group}
          onChange={(event) => setGroup(event.target.value)}
        >
          <option value="">All groups</option>
          {groups.map((group) => (
            <option key={group}>{group}</option>
          ))}
        </select>
        <button type="button" className="btn btn-sm" onClick={() => bringIn(true)}>
          <Upload size={15} aria-hidden /> Import CSV
        </button>
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => void rosterFile(units === "imperial").then((file) => saveText(file.name, file.text))}
        >
          <Download size={15} aria-hidden /> Export CSV
        </button>
        <button type="button" className="btn btn-sm" onClick={() => ask({ begin: "crowd" })}>
          <Users size={15} aria-hidden /> Add several
        </button>
        <button type="button" className="btn btn-primary btn-sm" onClick={() => add(true)}>
          <Plus size={15} aria-hidden /> Person
        </button>
      </div>
      {roster.isError && (
        <p role="alert" className="mt-3 rounded border border-error p-2">
          {roster.error.message}{" "}
          <button type="button" className="btn btn-xs" onClick={() => void roster.refetch()}>
            Try again
          </button>
        </p>
      )}
      {roster.isSuccess && <NextStep />}
      {roster.isPending && <div className="skeleton mt-4 h-64 w-full" role="status" aria-label="Opening the roster" />}
      {roster.isSuccess && everybody.length === 0 && (
        <p className="mt-4">
          Nobody yet.{" "}
          <button type="button" className="underline underline-offset-2" onClick={() => ask({ begin: "crowd" })}>
            Say how many come of each level
          </button>
          , add a person, or bring in a CSV file with a name, an age and a body mass each.
        </p>
      )}
      {everybody.length > 0 && shown.length === 0 && <p className="mt-4">Nobody matches.</p>}
      {shown.length > 0 && (
        <Lines>
          {shown.map((line) => (
            <Row key={line.person.id} line={line} came={attendance?.get(line.person.id)} units={units} />
          ))}
        </Lines>
      )}
      {adding && <NewPerson onClose={() => add(false)} />}
      {asked.get("begin") === "crowd" && <CrowdDialog onClose={() => ask({}, { replace: true })} />}
      {importing && <ImportDialog onClose={() => bringIn(false)} />}
    </div>
  );
}

function Row({ line, came, units }: { line: RosterLine; came: Attended | undefined; units: Units }) {
  const { person, group } = line;
  const conditions = useConditions().data;
  const careful = (person.careful ?? []).map((id) => conditions?.find((condition) => condition.id === id)?.name ?? id);
  const state = line.screening;
  return (
    <tr className="border-t border-base-300 hover:bg-base-200">
      <th scope="row" className="px-2 py-1.5 text-left font-semibold sm:whitespace-nowrap">
        <Link to={`/people/${person.id}`} className="underline-offset-4 hover:underline">
          {person.name}
        </Link>
      </th>
      <td className={`${WIDE} px-2 whitespace-nowrap`}>{group}</td>
      <td className={`${WIDE} px-2`}>{person.level}</td>
      <td className={`${WIDE} px-2 text-right`}>{person.age}</td>
      <td className={`${WIDE} px-2 text-right whitespace-nowrap`}>{mass(person.body_mass_kg, units, 0)}</td>
      <td className={`${WIDE} px-2 whitespace-nowrap`}>{heartWords(person)}</td>
      <td className="px-2">{careful.join(", ")}</td>
      <td className={`px-2 sm:whitespace-nowrap ${state.open ? "font-semibold text-accent" : ""}`}>
        {state.open ? "▲ " : ""}
        {state.words}
      </td>
      <td className={`${WIDE} px-2 text-right`}>{came?.classes ?? 0}</td>
      <td className={`${WIDE} px-2 whitespace-nowrap`}>
        {came?.last ? new Date(came.last).toLocaleDateString("en-GB", { day: "numeric", month: "short" }) : "–"}
      </td>
    </tr>
  );
}

function heartWords(person: Person): string {
  if (person.heart_medication) return "by effort (medication)";
  if (person.heart_fit) return `own, ± ${person.heart_fit.error_bpm.toFixed(0)} bpm`;
  return person.max_bpm ? "measured maximum" : "estimated";
}

/** The few things that are needed of somebody new; everything else can follow. */
function NewPerson({ onClose }: { onClose: () => void }) {
  const [units] = useUnits();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const [age, setAge] = useState("");
  const [weight, setWeight] = useState("");
  const add = useMutation({
    mutationFn: () => addPerson(firstRecord(name.trim(), Number(age), Number(weight), units)),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: ["people"] });
      void navigate(`/people/${made.record.person.id}`);
    },
  });
  return (
    <Dialog title="A new person" onClose={onClose}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate();
        }}
      >
        <TextField label="Name" required maxLength={120} value={name} onChange={setName} />
        <div className="flex gap-3">
          <TextField label="Age (years)" inputMode="numeric" pattern="\d+" required value={age} onChange={setAge} />
          <TextField
            label={`Body mass (${units === "metric" ? "kg" : "lb"})`}
            inputMode="decimal"
            pattern="\d+([.]\d+)?"
            required
            value={weight}
            onChange={setWeight}
          />
        </div>
        <Refused error={add.error} />
        <button type="submit" className="btn btn-primary" disabled={add.isPending}>
          Add, and write down the rest
        </button>
      </form>
    </Dialog>
  );
}

function firstRecord(name: string, age: number, weight: number, units: Units): PersonRecord {
  const kg = units === "metric" ? weight : Math.round(weight * 45.359237) / 100;
  return {
    person: { id: "new", name, age, body_mass_kg: kg },
    group: "",
    health_note: "",
    best_from: {},
    settings: [],
  } as unknown as PersonRecord;
}

/** The table of everybody, whose rows are given. */
function Lines({ children }: { children: ReactNode }) {
  return (
    <div className="mt-2 overflow-x-auto">
      <table className="w-full text-sm" data-testid="roster">
        <thead className="faint text-left text-xs">
          <tr>
            {COLUMNS.map(([name, look]) => (
              <th key={name} scope="col" className={`px-2 py-1 font-normal ${look}`}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </div>
  );
}
