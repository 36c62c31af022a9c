import { Download } from "lucide-react";
import { useState } from "react";

import { Pick } from "../shared/Pick";

const EVERYBODY = "";

/** What people did in a class, for other programs: heart rate, laps, sets and energy. */
export function ActivitiesOut({ id, people }: { id: number; people: [string, string][] }) {
  const [kind, setKind] = useState("fit");
  const [laps, setLaps] = useState("blocks");
  const [person, choose] = useState(EVERYBODY);
  const asked = new URLSearchParams({ kind, laps, ...(person === EVERYBODY ? {} : { person }) });
  return (
    <section className="mt-6" aria-labelledby="activities-out" data-testid="activities-out">
      <h2 id="activities-out" className="text-lg font-semibold">
        Activities for other programs
      </h2>
      <p className="max-w-prose text-sm">
        Of each person heart rate where it was recorded, laps, the sets that were written with their exercises, and the
        energy with the name of its method.
      </p>
      <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2">
        <Pick label="Of" value={person} options={[[EVERYBODY, "everybody (zip)"], ...people]} onChange={choose} />
        <Pick
          label="As"
          value={kind}
          options={[
            ["fit", "FIT"],
            ["tcx", "TCX"],
          ]}
          onChange={setKind}
        />
        <Pick
          label="Laps at"
          value={laps}
          options={[
            ["blocks", "blocks"],
            ["stations", "exercises"],
          ]}
          onChange={setLaps}
        />
        <a className="btn btn-sm" href={`/api/runs/${id}/activities?${asked}`} download>
          <Download size={16} aria-hidden /> Export
        </a>
      </div>
    </section>
  );
}
