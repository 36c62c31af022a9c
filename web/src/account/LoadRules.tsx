import { useMutation, useQueryClient } from "@tanstack/react-query";

import { keepZone, useZone } from "../api/account";
import { keepLoadRules, useLoadRules, type LoadRules as Kept, type School } from "../api/progress";
import { DecimalField } from "../shared/DecimalField";
import { Pick } from "../shared/Pick";
import { Refused } from "../shared/Refused";

/** How this house raises loads: its school, its steps, and what is never gone over. */
export function LoadRules() {
  const rules = useLoadRules();
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: (next: Kept["rules"]) => keepLoadRules(next),
    onSuccess: (kept) => {
      queries.setQueryData(["load-rules"], kept);
      void queries.invalidateQueries({ queryKey: ["next-loads"] });
    },
  });
  if (rules.isPending) return null;
  if (rules.isError) return <p role="alert">The rules of loads cannot be read: {rules.error.message}</p>;
  const now = rules.data.rules;
  const school = rules.data.schools.find((school) => school.id === now.school);
  return (
    <section className="mt-6" aria-labelledby="load-rules" data-testid="load-rules">
      <h2 id="load-rules" className="text-lg font-semibold">
        Next time’s loads
      </h2>
      <div className="mt-1 flex flex-wrap items-center gap-x-6 gap-y-2">
        <Pick
          label="Progression method"
          value={now.school}
          options={rules.data.schools.map((school) => [school.id, school.name])}
          onChange={(value) => keep.mutate({ ...now, school: value })}
        />
        <Pick
          label="For small lifts"
          value={now.school_small ?? ""}
          options={[
            ["", "the same"],
            ...rules.data.schools.map((school): [School | "", string] => [school.id, school.name]),
          ]}
          onChange={(value) => keep.mutate({ ...now, school_small: value || null })}
        />
        <DecimalField
          label="Step of big lifts"
          unit="kg"
          step={2.5}
          value={now.step_big_kg}
          min={0.5}
          max={20}
          onChange={(value) => keep.mutate({ ...now, step_big_kg: value ?? 5 })}
        />
        <DecimalField
          label="Step of small ones"
          unit="kg"
          step={0.5}
          value={now.step_small_kg}
          min={0.5}
          max={10}
          onChange={(value) => keep.mutate({ ...now, step_small_kg: value ?? 2.5 })}
        />
        <DecimalField
          label="Meant to be left in reserve"
          unit="reps"
          step={1}
          value={now.reserve}
          min={0}
          max={5}
          onChange={(value) => keep.mutate({ ...now, reserve: value ?? 2 })}
        />
        <DecimalField
          label="Never more at once than"
          unit="%"
          step={1}
          value={Math.round(now.most_step_share * 100)}
          min={1}
          max={50}
          onChange={(value) => keep.mutate({ ...now, most_step_share: (value ?? 10) / 100 })}
        />
        <DecimalField
          label="Never above"
          unit="kg"
          step={10}
          value={now.heaviest_kg ?? null}
          otherwise={0}
          min={1}
          max={900}
          onChange={(value) => keep.mutate({ ...now, heaviest_kg: value })}
        />
      </div>
      <p className="faint text-sm">
        {school?.reason} A unit whose smallest step is larger than that share takes it all the same, after two
        repetitions over the top. Common practice, no source.
      </p>
      <Refused error={keep.error} />
    </section>
  );
}

/** Where the dates and times of the studio are meant. */
export function TimeZone() {
  const zone = useZone();
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: keepZone,
    onSuccess: (kept) => {
      queries.setQueryData(["zone"], kept);
      void queries.invalidateQueries();
    },
  });
  if (!zone.data) return null;
  const names = Intl.supportedValuesOf("timeZone");
  const options = [...new Set([zone.data, "UTC", ...names])].map((name): [string, string] => [name, name]);
  return (
    <section className="mt-6" aria-labelledby="time-zone">
      <h2 id="time-zone" className="text-lg font-semibold">
        Dates and times
      </h2>
      <Pick label="Time zone" value={zone.data} options={options} onChange={(value) => keep.mutate(value)} />
      <Refused error={keep.error} />
    </section>
  );
}
