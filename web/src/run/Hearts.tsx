import { useMutation } from "@tanstack/react-query";
import { Heart, HeartPulse } from "lucide-react";
import { useRef, useState } from "react";

import { startBelts, type HeartNow, type LiveRun } from "../api/runs";
import { canReadBelts, wearBelt } from "../live/belt";
import type { RunState } from "../live/runState";
import type { OpenRun } from "../live/useRun";
import { clock } from "../shared/format";
import { Refused } from "../shared/Refused";
import { firstName } from "../shared/names";

type Props = { run: OpenRun; live: LiveRun; runState: RunState };

const EFFORTS = [9, 11, 13, 15, 17, 19];

/** Everybody's heart beside its forecast, who should be looked at first; effort is asked where a heart tells nothing. */
export function Hearts({ run, live, runState }: Props) {
  const start = useMutation({ mutationFn: () => startBelts(live.id) });
  const worn = new Map(run.hearts.map((heart) => [heart.person, heart]));
  const people = runState.sheet.people.toSorted(
    (one, other) => (worn.get(other.id)?.look_at.length ?? 0) - (worn.get(one.id)?.look_at.length ?? 0),
  );
  const efforts = new Map<string, number>();
  for (const event of run.events) if (event.kind === "effort_told") efforts.set(event.person, event.effort);
  return (
    <div>
      <div className="flex flex-wrap items-center gap-2 py-1">
        <button type="button" className="btn h-11" disabled={start.isPending} onClick={() => start.mutate()}>
          <HeartPulse size={18} aria-hidden /> Simulated belts
        </button>
        <span className="faint text-sm">
          Only instructors see this page.{" "}
          {run.reach !== "connected" && "Hearts need the server, which does not answer."}
        </span>
      </div>
      <Refused error={start.error} />
      <ul className="divide-y divide-base-300" aria-label="Hearts now">
        {people.map((person) => {
          const heart = worn.get(person.id);
          return (
            <li key={person.id} className="flex items-center gap-3 py-1" data-testid={`heart-${person.id}`}>
              <span className="grid h-8 w-8 shrink-0 place-items-center rounded-full border-2 border-base-content font-bold">
                {person.number}
              </span>
              <span className="w-20 shrink-0 truncate font-semibold">{firstName(person.name)}</span>
              {heart?.applies !== false ? (
                <Rate heart={heart} />
              ) : (
                <Effort
                  told={efforts.get(person.id)}
                  onTell={(effort) => void run.add("effort_told", { person: person.id, effort })}
                />
              )}
              <span className="min-w-0 flex-1 text-sm leading-tight">
                {heart?.look_at.map((words) => (
                  <strong key={words} className="block text-error">
                    ▲ {words}
                  </strong>
                ))}
                {heart && heart.applies && heart.look_at.length === 0 && (
                  <span className="faint">
                    vigorous for {clock(heart.vigorous_s)}
                    {heart.expected_bpm !== null && heart.bpm !== null && `, ${apartWords(heart)}`}
                  </span>
                )}
              </span>
              {!heart && canReadBelts() && <OwnBelt run={run} live={live} person={person.id} />}
            </li>
          );
        })}
      </ul>
    </div>
  );
}

function apartWords(heart: HeartNow): string {
  const apart = heart.bpm! - heart.expected_bpm!;
  if (Math.abs(apart) < 3) return "as forecast";
  return `${Math.abs(apart)} ${apart > 0 ? "above" : "below"} the forecast`;
}

function Rate({ heart }: { heart: HeartNow | undefined }) {
  if (!heart) return <span className="faint w-52 text-sm">no belt</span>;
  return (
    <span className="flex w-52 shrink-0 items-baseline gap-2">
      <Heart size={16} aria-hidden className="self-center" />
      <strong className="w-12 text-right text-2xl tabular-nums">{heart.bpm ?? "–"}</strong>
      <span className="text-sm leading-tight">
        {heart.intensity ?? "no reading"}
        {heart.expected_bpm !== null && <span className="faint block">forecast {heart.expected_bpm}</span>}
      </span>
    </span>
  );
}

/** Effort as somebody says it, where heart medication makes the rate say nothing. */
function Effort({ told, onTell }: { told: number | undefined; onTell: (effort: number) => void }) {
  return (
    <span className="flex shrink-0 gap-1" role="group" aria-label="Effort, 6 to 20">
      {EFFORTS.map((effort) => (
        <button
          key={effort}
          type="button"
          aria-pressed={told === effort}
          className={`btn btn-square h-9 w-9 ${told === effort ? "btn-neutral" : ""}`}
          onClick={() => onTell(effort)}
        >
          {effort}
        </button>
      ))}
    </span>
  );
}

function OwnBelt({ run, live, person }: { run: OpenRun; live: LiveRun; person: string }) {
  const [state, setState] = useState<"off" | "asks" | "on" | "lost">("off");
  const takeOff = useRef<(() => void) | null>(null);
  const wear = useMutation({
    mutationFn: () => wearBelt(live.id, person, run.now, () => setState("lost")),
    onMutate: () => setState("asks"),
    onSuccess: (off) => {
      takeOff.current = off;
      setState("on");
    },
    onError: () => setState("off"),
  });
  return (
    <button
      type="button"
      className="btn h-11 text-sm"
      disabled={state === "asks"}
      title={wear.error?.message}
      onClick={() => {
        if (state === "on") {
          takeOff.current?.();
          setState("off");
        } else wear.mutate();
      }}
    >
      {state === "on" ? "Take the belt off" : state === "lost" ? "Belt lost: connect" : "Connect a belt"}
    </button>
  );
}
