import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Ban, Pin } from "lucide-react";
import { useState } from "react";
import { useNavigate } from "react-router";

import { createClass } from "../api/calls";
import type { Estimate } from "../api/client";
import { forecastOf } from "../api/queries";
import type { GeneratedClass, ClassRequest } from "../api/generator";
import { SmallScore } from "../drawing/SmallScore";
import { HowReached, type Opened } from "../shared/HowReached";
import { Refused } from "../shared/Refused";
import { clock, counted, figure } from "../shared/format";
import { labelOf } from "../shared/figures";
import { entryAt } from "../basis/entries";

type Props = {
  generated: GeneratedClass;
  request: ClassRequest;
  onKeep: (exercise: string) => void;
  onLeave: (exercise: string) => void;
};

/** One generated: its kind, figures, small score, and every exercise with why it is there. */
export function GeneratedCard({ generated, request, onKeep, onLeave }: Props) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const drawn = useQuery(forecastOf(generated.plan));
  const [opened, open] = useState<Opened | null>(null);
  const take = useMutation({
    mutationFn: () => createClass(generated.plan),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: ["classes"] });
      void navigate(`/classes/${made.id}`);
    },
  });
  const figures = generated.figures;
  const main = generated.plan.blocks.filter((block) => block.kind !== "together");
  return (
    <li
      className="flex min-w-0 flex-col rounded-(--radius-box) border border-base-300 p-3"
      data-testid="generated-class"
    >
      <div className="flex flex-wrap items-baseline gap-x-2">
        <h2 className="grow text-lg font-semibold">{generated.name}</h2>
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={take.isPending}
          onClick={() => take.mutate()}
        >
          {take.isPending ? "Saving it …" : "Use this class"}
        </button>
      </div>
      <p className="faint text-sm">
        {main.map(doseOf).join("; ")}. {entryAt(generated.why, 0).toUpperCase()}
        {generated.why.slice(1)}.
      </p>
      {figures.main_lifts.length > 0 && (
        <p className="mt-1 text-sm">
          <span className="faint">Main lifts </span>
          <strong>{figures.main_lifts.join(", ")}</strong>
        </p>
      )}
      <Refused error={take.error} />
      <CardFigures figures={figures} onOpen={open} />
      {generated.hits.map((hit) => (
        <p key={hit.wanted} className={`text-sm ${hit.there ? "" : "text-accent"}`}>
          {hit.there ? "✓" : "▲"} {hit.wanted}: {figure(hit.value, hit.value < 10 ? 1 : 0)} {hit.unit}
        </p>
      ))}
      {generated.given_up.map((words) => (
        <p key={words} className="text-sm text-accent">
          ▲ {words}
        </p>
      ))}
      {figures.clashes + figures.cautions > 0 && (
        <p className="text-sm">{counted(figures.clashes + figures.cautions, "caution")} to look at once it is taken</p>
      )}
      <div className="mt-1 min-h-40">
        {drawn.data ? (
          <SmallScore forecast={drawn.data.forecast} title={generated.name} />
        ) : drawn.isError ? (
          <Refused error={drawn.error} />
        ) : (
          <div className="skeleton h-40 w-full" role="status" aria-label="Drawing" />
        )}
      </div>
      <details className="mt-2">
        <summary className="cursor-pointer text-sm font-semibold">Why each exercise</summary>
        <Muscles held={figures.muscles} />
        <ul className="mt-1 divide-y divide-base-300">
          {generated.reasons.map((reason) => (
            <li key={reason.part} className="flex items-start gap-1 py-1 text-sm">
              <div className="min-w-0 grow">
                <strong>{reason.name}</strong>
                <span className="faint block text-xs">{reason.because.join("; ")}</span>
              </div>
              <Mark
                on={request.pinned.includes(reason.exercise)}
                label={`Keep ${reason.name}`}
                onPress={() => onKeep(reason.exercise)}
              >
                <Pin size={14} aria-hidden />
              </Mark>
              <Mark
                on={request.leave_out.exercises.includes(reason.exercise)}
                label={`Leave ${reason.name} out`}
                onPress={() => onLeave(reason.exercise)}
              >
                <Ban size={14} aria-hidden />
              </Mark>
            </li>
          ))}
        </ul>
      </details>
      {opened && <HowReached opened={opened} onClose={() => open(null)} />}
    </li>
  );
}

/** Each muscle's share of the tension, over the share that was asked for (the outline). */
function Muscles({ held }: { held: GeneratedClass["figures"]["muscles"] }) {
  const most = Math.max(0.01, ...held.map((item) => Math.max(item.target, item.share)));
  return (
    <ul className="mt-1 grid grid-cols-2 gap-x-3" aria-label="Muscles">
      {held.map((item) => (
        <li key={item.muscle} className="text-xs">
          <span className="flex justify-between">
            <span>{item.name}</span>
            <span>
              {figure(100 * item.share)} % <span className="faint">({figure(100 * item.target)} request)</span>
            </span>
          </span>
          <span className="relative block h-2" aria-hidden>
            <span
              className="absolute inset-y-0 left-0 bg-secondary"
              style={{ width: `${(100 * item.share) / most}%` }}
            />
            <span
              className="absolute inset-y-0 left-0 border border-base-content"
              style={{ width: `${(100 * item.target) / most}%` }}
            />
          </span>
        </li>
      ))}
    </ul>
  );
}

type MarkProps = { on: boolean; label: string; onPress: () => void; children: React.ReactNode };

function Mark({ on, label, onPress, children }: MarkProps) {
  return (
    <button
      type="button"
      aria-pressed={on}
      aria-label={label}
      title={label}
      className={`btn btn-sm btn-square ${on ? "btn-neutral" : "btn-ghost"}`}
      onClick={onPress}
    >
      {children}
    </button>
  );
}

type NumberProps = { name: string; value: string; of?: Estimate; onOpen?: (opened: Opened) => void; title?: string };

function Number({ name, value, of, onOpen, title }: NumberProps) {
  return (
    <div title={title}>
      <dt className="faint text-xs">{name}</dt>
      <dd className="font-semibold whitespace-nowrap">
        {of && onOpen ? (
          <button
            type="button"
            className="underline decoration-dotted underline-offset-2"
            onClick={() => onOpen({ name, estimate: of })}
          >
            {value}
          </button>
        ) : (
          value
        )}
      </dd>
    </div>
  );
}

/** The dose of a block in a few words. */
function doseOf(block: GeneratedClass["plan"]["blocks"][number]): string {
  if (block.kind === "circuit")
    return `${block.stations.length} stations, ${counted(block.rounds, "round")} of ${block.work_s} s, ${block.change_s} s to change`;
  if (block.kind === "sets") {
    const sets = entryAt(entryAt(block.groups, 0).slots, 0).sets.reduce((sum, run) => sum + (run.times ?? 1), 0);
    return `${counted(block.groups.length, "group")} of ${counted(entryAt(block.groups, 0).slots.length, "exercise")}, ${counted(sets, "set")} each`;
  }
  return block.name;
}

type CardFiguresProps = { figures: GeneratedClass["figures"]; onOpen: (opened: Opened) => void };

/** The figures by which one of three is chosen: load, machines and the longest wait first. */
function CardFigures({ figures, onOpen }: CardFiguresProps) {
  return (
    <dl className="my-2 grid grid-cols-4 gap-x-2 gap-y-1 md:grid-cols-3">
      <Number
        name="With load"
        value={`${figure(100 * figures.loaded_share)} %`}
        title="The share of the exercises of the main part that take load, as each person does them."
      />
      <Number
        name="On machines"
        value={`${figure(100 * figures.machine_share)} %`}
        title="The share of the exercises of the main part that are done on a machine."
      />
      <Number
        name="Longest wait"
        value={clock(figures.longest_wait_s)}
        title="All waits of whoever waits most, added up (min:s)."
      />
      <Number name="Length" value={clock(figures.length.value)} of={figures.length} onOpen={onOpen} />
      <Number name="Fits" value={`${figure(figures.chance_inside)} %`} />
      <Number
        name={labelOf("work_share")}
        value={`${figure(figures.work_share.value)} %`}
        of={figures.work_share}
        onOpen={onOpen}
      />
      <Number
        name="Unused time"
        value={`${figure(100 * figures.idle_share)} %`}
        title="Waiting, and turns without a station, as a share of the main part; the mean of all."
      />
      <Number
        name="Off-target"
        value={`${figure(100 * figures.off_target_share)} %`}
        title="The share of the tension that is at other muscles than was asked for."
      />
      <Number name="Energy" value={`${figure(figures.energy.value)} kcal`} of={figures.energy} onOpen={onOpen} />
      {figures.heart_mean ? (
        <Number
          name="Heart"
          value={`${figure(figures.heart_mean.value)} bpm`}
          of={figures.heart_mean}
          onOpen={onOpen}
        />
      ) : (
        <Number name="Heart" value="–" />
      )}
      {figures.vigorous && (
        <Number name="Vigorous" value={`${figure(figures.vigorous.value)} min`} of={figures.vigorous} onOpen={onOpen} />
      )}
    </dl>
  );
}
