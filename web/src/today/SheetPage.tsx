import { useQuery } from "@tanstack/react-query";
import { Printer } from "lucide-react";
import { useEffect } from "react";
import { Link, useParams } from "react-router";

import { useIsInstructor } from "../api/account";
import { writeText } from "../api/calls";
import { useLoads } from "../api/people";
import { useClass, useForecast, useRooms } from "../api/queries";
import type { Plan } from "../api/client";
import { CannotOpen } from "../shared/CannotOpen";
import { clock, dateAndTime, startWords } from "../shared/format";
import { Opening } from "../shared/Opening";
import { mass, useUnits } from "../shared/units";
import { Papers } from "./Papers";

/** The run sheet, to be printed: times of day, blocks and their lines, and everybody's loads as they are set. */
export function SheetPage() {
  const id = Number(useParams().id);
  const loaded = useClass(id);
  if (loaded.isPending) return <Opening what="the sheet" />;
  if (loaded.isError) {
    return (
      <CannotOpen
        what="This class"
        error={loaded.error}
        again={() => void loaded.refetch()}
        home="/classes"
        homeName="All classes"
      />
    );
  }
  return <Sheet id={id} plan={loaded.data.plan} />;
}

function Sheet({ id, plan }: { id: number; plan: Plan }) {
  const instructor = useIsInstructor();
  const forecast = useForecast(plan);
  const rooms = useRooms();
  const text = useQuery({ queryKey: ["text", id, plan], queryFn: () => writeText(plan) });
  useEffect(() => {
    document.title = `${plan.name}, run sheet`;
  }, [plan.name]);
  const { date, time } = dateAndTime(plan.starts);
  const told = forecast.data?.forecast;
  const at = (seconds: number) => {
    if (!date) return clock(seconds);
    const moment = new Date(`${date}T${time}:00`);
    moment.setSeconds(moment.getSeconds() + Math.round(seconds));
    return moment.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit", second: "2-digit" });
  };
  return (
    <div className="mx-auto max-w-3xl px-4 py-4 print:max-w-none print:p-0" data-testid="run-sheet">
      <div className="mb-3 flex items-center gap-3 print:hidden">
        <Link to={`/classes/${id}`} className="grow underline underline-offset-2">
          Back to the class
        </Link>
        <button type="button" className="btn btn-primary" onClick={() => window.print()}>
          <Printer size={18} aria-hidden /> Print
        </button>
      </div>
      {instructor && <Papers plan={plan} />}
      <h1 className="text-2xl font-semibold">{plan.name}</h1>
      <p>
        {[
          startWords(plan.starts),
          rooms.data?.find((one) => one.id === plan.room)?.name,
          `${plan.people.length} people`,
          told && `${clock(told.length.value)} of ${plan.slot_min} min`,
        ]
          .filter(Boolean)
          .join(" · ")}
      </p>
      {plan.note && <p className="mt-1 whitespace-pre-line">{plan.note}</p>}
      {forecast.isError && (
        <p role="alert" className="mt-2 text-sm">
          Times cannot be told: {forecast.error.message}
        </p>
      )}
      {told && (
        <table className="mt-3 w-full text-sm">
          <thead className="text-left text-xs">
            <tr>
              <th scope="col">From</th>
              <th scope="col">To</th>
              <th scope="col">Block</th>
            </tr>
          </thead>
          <tbody>
            {told.blocks.map((block) => (
              <tr key={block.id} className="border-t border-base-300">
                <td className="py-0.5">{at(block.start_s)}</td>
                <td>{at(block.end_s)}</td>
                <td>
                  <strong>{block.name}</strong>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {text.data && <pre className="mt-3 text-sm leading-5 whitespace-pre-wrap">{text.data}</pre>}
      {instructor && told && <Loads plan={plan} names={new Map(told.people.map((one) => [one.number, one.name]))} />}
    </div>
  );
}

function Loads({ plan, names }: { plan: Plan; names: Map<number, string> }) {
  const loads = useLoads(plan);
  const [units] = useUnits();
  const rows = loads.data ?? [];
  if (!rows.some((row) => row.sets.length)) return null;
  return (
    <section className="mt-4 break-before-auto" aria-labelledby="sheet-loads">
      <h2 id="sheet-loads" className="text-lg font-semibold">
        Loads as they are set
      </h2>
      <table className="w-full text-sm">
        <tbody>
          {[...names].map(([number, name]) => {
            const own = rows.filter((row) => row.person === number && row.sets.length);
            return (
              <tr key={number} className="break-inside-avoid border-t border-base-300 align-top">
                <th scope="row" className="py-0.5 pr-3 text-left whitespace-nowrap">
                  {number} {name}
                </th>
                <td>
                  {own.map((row) => `${row.name} ${mass(row.sets[0]!.loadings[0]!.load.set_kg, units)}`).join(" · ") ||
                    "–"}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
