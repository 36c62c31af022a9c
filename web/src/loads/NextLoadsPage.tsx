import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState, type ReactNode } from "react";
import { Link, useParams } from "react-router";

import { takeLoads, useNextLoads, type HowToday, type NextLoad, type TakenLoad } from "../api/progress";
import { useClass, usePeople } from "../api/queries";
import { CannotOpen } from "../shared/CannotOpen";
import { counted } from "../shared/format";
import { Opening } from "../shared/Opening";
import { Pick } from "../shared/Pick";
import { mass, useUnits, type Units } from "../shared/units";
import { SetLoads } from "./SetLoads";

const TODAY: [HowToday, string][] = [
  ["as usual", "as usual"],
  ["bad night", "bad night"],
  ["back after illness", "back after illness"],
];
const DOES = { add: "▲ add", repeat: "= repeat", reduce: "▼ lighter", begin: "• begin", nothing: "– nothing" } as const;

const COLUMNS = [
  ["Exercise", "w-36"],
  ["Last time", "w-60"],
  ["Works with", "w-24"],
  ["Next time", "w-52"],
  ["Why", ""],
  ["", "w-28"],
] as const;

const keyOf = (item: { person: string; exercise: string }) => `${item.person} ${item.exercise}`;

/** Whether these are the loads that somebody works with already, set by set where the sets differ. */
function worksWith(item: NextLoad, loads: number[]): boolean {
  const apart = loads.some((kg) => kg !== loads[0]) ? loads : [];
  return (
    item.working_kg === Math.max(...loads) &&
    apart.length === item.working_sets_kg.length &&
    apart.every((kg, place) => kg === item.working_sets_kg[place])
  );
}

/** What to put on next time, person by person: each proposal with its reason, taken, changed or left as it is. */
export function NextLoadsPage() {
  const id = Number(useParams().id);
  const planned = useClass(id);
  const people = usePeople();
  const [today, setToday] = useState<Record<string, HowToday>>({});
  const loads = useNextLoads(id, today);
  const name = planned.data?.plan.name ?? "";
  useEffect(() => {
    document.title = `Next loads, ${name} – Oaken Circuit`;
  }, [name]);
  if (planned.isPending || loads.isPending) return <Opening what="the loads" />;
  const failed = planned.error ?? loads.error;
  if (failed) {
    return (
      <CannotOpen
        what="The loads"
        error={failed}
        again={() => void loads.refetch()}
        home={`/classes/${id}`}
        homeName="The class"
      />
    );
  }
  const named = new Map(people.data?.map((person) => [person.id, person.name]));
  return (
    <Loads
      id={id}
      name={name}
      rows={loads.data ?? []}
      named={named}
      today={today}
      setToday={(person, how) => setToday((now) => ({ ...now, [person]: how }))}
    />
  );
}

function withOrWithout(some: Set<string>, one: string, put: boolean): Set<string> {
  const next = new Set(some);
  if (put) next.add(one);
  else next.delete(one);
  return next;
}

type LoadsProps = {
  id: number;
  name: string;
  rows: NextLoad[];
  named: Map<string, string>;
  today: Record<string, HowToday>;
  setToday: (person: string, how: HowToday) => void;
};

function Loads({ id, name, rows, named, today, setToday }: LoadsProps) {
  const queries = useQueryClient();
  const [units] = useUnits();
  const [changed, change] = useState<Record<string, number[]>>({});
  const [left, leave] = useState<Set<string>>(new Set());
  const people = useMemo(() => [...new Set(rows.map((row) => row.person))], [rows]);
  const take = useMutation({
    mutationFn: takeLoads,
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["next-loads"] });
      void queries.invalidateQueries({ queryKey: ["people"] });
      void queries.invalidateQueries({ queryKey: ["forecast"] });
    },
  });
  const loadsOf = (item: NextLoad) => changed[keyOf(item)] ?? item.proposal.sets.map((set) => set.load_kg);
  const isOpen = (item: NextLoad) => {
    const loads = loadsOf(item);
    return loads.length > 0 && !worksWith(item, loads) && !left.has(keyOf(item));
  };
  const open = rows.filter(isOpen);
  const taken = (some: NextLoad[]): TakenLoad[] =>
    some.map((item) => {
      const sets_kg = loadsOf(item);
      return { person: item.person, exercise: item.exercise, load_kg: Math.max(...sets_kg), sets_kg };
    });
  return (
    <div className="mx-auto max-w-6xl px-4 pb-10 lg:px-6" data-testid="next-loads">
      <header className="held-at-top flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
        <div className="grow">
          <h1 className="text-2xl leading-7 font-semibold">Next time’s loads</h1>
          <p className="faint text-sm">
            <Link to={`/classes/${id}`} className="underline underline-offset-2">
              {name}
            </Link>{" "}
            · {open.length ? `${counted(open.length, "proposal")} open` : "nothing is open"}
          </p>
        </div>
        <button
          type="button"
          className="btn btn-primary"
          disabled={!open.length || take.isPending}
          onClick={() => take.mutate(taken(open))}
        >
          Take all {open.length || ""}
        </button>
      </header>
      <p className="faint max-w-prose text-sm">
        A proposal moves nothing. What is taken becomes the working load: it stands in sheets, cards and the forecast
        wherever the class says nothing of the load.
      </p>
      {take.isError && (
        <p role="alert" className="mt-2 text-sm text-error">
          Nothing was taken: {take.error.message}
        </p>
      )}
      {take.data !== undefined && (
        <p role="status" className="mt-2 text-sm" data-testid="taken">
          {counted(take.data, "working load")} changed.
        </p>
      )}
      {rows.length === 0 && (
        <p className="mt-4 rounded border border-base-300 bg-base-200 p-6">
          Nothing in this class takes a load, so there is nothing to propose.
        </p>
      )}
      {people.map((person) => (
        <section key={person} className="mt-5" aria-label={named.get(person) ?? person}>
          <div className="flex flex-wrap items-center gap-x-4">
            <h2 className="text-lg font-semibold">
              <Link to={`/people/${person}/progress`} className="underline-offset-2 hover:underline">
                {named.get(person) ?? person}
              </Link>
            </h2>
            <Pick
              label="Today"
              value={today[person] ?? "as usual"}
              options={TODAY}
              onChange={(value) => setToday(person, value)}
            />
          </div>
          <ProposalTable>
            {rows
              .filter((row) => row.person === person)
              .map((row) => (
                <Row
                  key={keyOf(row)}
                  one={row}
                  loads={loadsOf(row)}
                  open={isOpen(row)}
                  units={units}
                  onChange={(loads) => change((now) => ({ ...now, [keyOf(row)]: loads }))}
                  onTake={() => take.mutate(taken([row]))}
                  left={left.has(keyOf(row))}
                  onLeave={(leaves) => leave((now) => withOrWithout(now, keyOf(row), leaves))}
                />
              ))}
          </ProposalTable>
        </section>
      ))}
    </div>
  );
}

type RowProps = {
  one: NextLoad;
  loads: number[];
  open: boolean;
  units: Units;
  onChange: (loads: number[]) => void;
  onTake: () => void;
  left: boolean;
  onLeave: (leaves: boolean) => void;
};

function Row({ one, loads, open, units, onChange, onTake, left, onLeave }: RowProps) {
  const { proposal } = one;
  return (
    <tr
      className="border-t border-base-300 align-top max-md:grid max-md:grid-cols-[1fr_auto] max-md:py-1.5"
      data-testid="next-load"
    >
      <th scope="row" className="pr-3 text-left font-normal max-md:text-base max-md:font-semibold md:py-1.5">
        {one.name}
        {one.plan_says && (
          <span className="faint block text-xs">the class says {one.plan_says}: that stands there</span>
        )}
      </th>
      <td className="pr-3 max-md:order-3 max-md:col-span-2 md:py-1.5">{proposal.rests_on.join("; ") || "–"}</td>
      <td className="pr-3 max-md:hidden md:py-1.5">
        {one.working_sets_kg.length
          ? one.working_sets_kg.map((kg) => mass(kg, units)).join(" / ")
          : one.working_kg === null
            ? "–"
            : mass(one.working_kg, units)}
      </td>
      <td className="whitespace-nowrap max-md:text-right md:py-1.5 md:pr-3">
        <span className="mr-2">{DOES[proposal.do]}</span>
        {loads.length > 0 && (
          <SetLoads
            name={one.name}
            sets={proposal.sets}
            loads={loads}
            choices={one.loads_kg}
            units={units}
            onChange={onChange}
          />
        )}
        {proposal.reps.length > 0 && <span className="faint block text-xs">aim at {proposal.reps.join(", ")}</span>}
      </td>
      <td className="pr-3 max-md:order-4 md:py-1.5">{proposal.reason}</td>
      <td className="text-right whitespace-nowrap max-md:order-5 md:py-1.5">
        {open ? (
          <>
            <button type="button" className="btn btn-xs btn-primary" onClick={onTake}>
              Take
            </button>{" "}
            <button type="button" className="btn btn-ghost btn-xs" onClick={() => onLeave(true)}>
              Leave
            </button>
          </>
        ) : left ? (
          <>
            <span className="faint text-xs">left</span>{" "}
            <button type="button" className="btn btn-ghost btn-xs" onClick={() => onLeave(false)}>
              Undo
            </button>
          </>
        ) : (
          <span className="faint text-xs">{worksWith(one, loads) ? "✓ works with it" : ""}</span>
        )}
      </td>
    </tr>
  );
}

/** The table of one person's proposals, whose rows are given. */
function ProposalTable({ children }: { children: ReactNode }) {
  return (
    <div>
      <table className="w-full text-sm max-md:block md:table-fixed">
        <thead className="faint text-left text-xs max-md:sr-only">
          <tr>
            {COLUMNS.map(([head, width]) => (
              <th key={head} scope="col" className={`pr-3 font-normal ${width}`}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="max-md:block">{children}</tbody>
      </table>
    </div>
  );
}
