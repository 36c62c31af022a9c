import { useEffect, useState } from "react";
import { useParams } from "react-router";

import type { OwnPlace, OwnRun } from "../api/phones";
import { useWakeLock } from "../live/useWakeLock";
import { loadWords, marked } from "../live/words";
import { clock } from "../shared/format";
import { Opening } from "../shared/Opening";
import { firstName } from "../shared/names";
import { useOwnRun, type OwnNow } from "./useOwnRun";

/** Somebody's own phone: what they do now with what load and setting, one large press when it is done, what comes next. */
export function PhonePage() {
  const { token } = useParams();
  const { now, problem, alone, waiting, refused, press } = useOwnRun(token ?? "");
  useEffect(() => {
    if (now) document.title = now.own.view.name;
  }, [now]);
  useWakeLock(now !== null && now.own.view.state !== "ended" && now.own.view.state !== "not begun");
  if (!now) {
    return problem ? (
      <main className="p-6 text-xl" role="alert">
        {problem}
      </main>
    ) : (
      <Opening what="your class" />
    );
  }
  return <Own now={now} alone={alone} waiting={waiting.length} refused={refused} press={press} />;
}

type Press = ReturnType<typeof useOwnRun>["press"];
type Props = { now: OwnNow; alone: boolean; waiting: number; refused: string | null; press: Press };

function Own({ now, alone, waiting, refused, press }: Props) {
  const { view, said } = now.own;
  const since = useSeconds(now);
  const runs = view.state === "runs" || view.state === "runs over";
  const left = runs ? view.left_s - since : view.left_s;
  const over = view.state === "ended";
  return (
    <div className="mx-auto flex min-h-dvh max-w-xl flex-col gap-3 p-3">
      <header className="flex items-baseline gap-3">
        <h1 className="min-w-0 flex-1 truncate font-semibold">{view.name}</h1>
        {!over && view.state !== "not begun" && (
          <span className="faint whitespace-nowrap tabular-nums">
            over in {clock(Math.max(0, view.over_in_s - (runs ? since : 0)))}
          </span>
        )}
      </header>
      {alone && (
        <p role="status" className="rounded bg-warning px-2 py-1 text-sm text-warning-content">
          No connection.{" "}
          {waiting ? "What you pressed is kept here and sent as soon as there is one." : "It is tried again."}
        </p>
      )}
      {refused && (
        <p role="alert" className="rounded bg-error px-2 py-1 text-sm text-error-content">
          Not kept: {refused}.
        </p>
      )}
      <main className="flex flex-1 flex-col gap-3">
        {over ? (
          <p className="mt-6 text-2xl font-semibold">The class is over.</p>
        ) : (
          <>
            <section
              className={`rounded-(--radius-box) border-2 p-4 ${view.doing === "work" && runs ? "border-base-content" : "border-base-300"}`}
              aria-label="Now"
              data-testid="now"
            >
              <p className="flex items-baseline gap-2 text-xl">
                <span className="font-semibold">{firstName(view.called)}</span>
                <span>{nowWords(now.own)}</span>
                {runs && view.doing !== "finished" && view.doing !== "away" && (
                  <span className="ml-auto font-semibold tabular-nums">
                    {view.held ? "done?" : left > 0.5 ? clock(Math.ceil(left)) : ""}
                  </span>
                )}
              </p>
              {view.here && <Place place={view.here} large />}
              {runs && view.here && !view.known && view.press === "done" && (
                <p className="faint mt-2 text-sm">
                  <em>As planned, nothing was pressed yet.</em> Press when a set is done, and this follows you.
                </p>
              )}
            </section>
            {view.next && (
              <section
                className="rounded-(--radius-box) border border-base-300 p-3"
                aria-label="Next"
                data-testid="next"
              >
                <p className="flex items-baseline gap-2">
                  <span className="faint">Then</span>
                  {view.next_in_s !== null && runs && (
                    <span className="faint ml-auto tabular-nums">
                      in about {clock(Math.max(0, Math.round((view.next_in_s - since) / 5) * 5))}
                    </span>
                  )}
                </p>
                <Place place={view.next} />
              </section>
            )}
            {!view.next && view.doing !== "away" && <p className="faint">Nothing comes after this.</p>}
          </>
        )}
      </main>
      {!over && (
        <footer className="sticky bottom-0 flex flex-col gap-2 bg-base-100 pt-1 pb-2">
          {waiting === 0 && said && (
            <button type="button" className="btn btn-ghost h-11" onClick={() => press({ what: "take_back", of: said })}>
              Take back what was pressed last
            </button>
          )}
          <DoneButton own={now.own} waiting={waiting} press={press} />
          <p className="faint text-center text-sm">If it hurts, or you feel dizzy: stop, and tell the instructor.</p>
        </footer>
      )}
    </div>
  );
}

function DoneButton({ own: { view }, waiting, press }: { own: OwnRun; waiting: number; press: Press }) {
  const { here } = view;
  const large = "btn btn-primary h-24 w-full text-2xl";
  if (view.press === "tag") {
    return (
      <button type="button" className={large} disabled={waiting > 0} onClick={() => press({ what: "tag" })}>
        {waiting ? "Pressed" : "Tag: our next one goes"}
      </button>
    );
  }
  if (view.press !== "done" || !here || !here.number) return null;
  const set = here.sets > 1 ? `Set ${here.number} is done` : "Done";
  return (
    <button
      type="button"
      className={view.doing === "work" ? large : "btn h-24 w-full text-2xl"}
      disabled={waiting > 0}
      onClick={() => press({ what: "done", part: here.part, number: here.number })}
    >
      {waiting ? "Pressed" : set}
    </button>
  );
}

/** An exercise with where, how much, and how the machine is set. */
function Place({ place, large }: { place: OwnPlace; large?: boolean }) {
  // a bar says what it comes to, and beside it what goes on each side; all else is set as its words say
  const [, load = "", plates] = /^(.*?)(?: \((.*)\))?$/.exec(loadWords(place, place.marked)) ?? [];
  const loads = new Set(place.kg).size > 1 ? place.kg.map((kg) => marked(kg, place.marked)).join(", then ") : load;
  const reps = `${place.reps.join(" + ")} ${place.reps.join() === "1" ? "repetition" : "repetitions"}${place.one_sided ? " a side" : ""}`;
  return (
    <div className="mt-1 leading-tight">
      <p className={large ? "text-4xl font-bold" : "text-2xl font-semibold"}>{place.exercise}</p>
      {place.unit && <p className="faint text-lg">{place.unit}</p>}
      {place.number > 0 && loads && <p className={large ? "mt-2 text-3xl" : "text-xl"}>{loads}</p>}
      {plates && <p className="text-lg">{plates}</p>}
      {place.number > 0 && (
        <p className={large ? "text-2xl" : "text-lg"}>{place.reps.length ? reps : clock(place.seconds)}</p>
      )}
      <p className={large ? "mt-1 text-xl" : "text-lg"}>
        {[place.sets > 1 ? `set ${place.number} of ${place.sets}` : "", place.setting].filter(Boolean).join(" · ")}
      </p>
    </div>
  );
}

function nowWords({ view }: OwnRun): string {
  switch (view.state) {
    case "not begun":
      return "begins with";
    case "paused":
      return "– everybody pauses";
    case "waits for ready":
      return "– wait for the instructor";
    case "plan is over":
      return "– the plan is over";
  }
  return {
    work: "now",
    change: "sets up",
    rest: "rests, then",
    wait: "waits for the machine",
    finished: "is done with this block",
    breather: "has a breather",
    away: "is marked as not here",
  }[view.doing];
}

/** The seconds since the server said where its person is. */
function useSeconds(now: OwnNow): number {
  const [at, setAt] = useState(() => performance.now());
  useEffect(() => {
    const timer = window.setInterval(() => setAt(performance.now()), 250);
    return () => window.clearInterval(timer);
  }, []);
  return Math.max(0, at - now.at) / 1000;
}
