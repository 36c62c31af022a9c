import { Bell, BellOff, MonitorUp, Smartphone, Wifi, WifiOff } from "lucide-react";
import { useEffect, useMemo, useState } from "react";

import { useCards, type LiveRun } from "../api/runs";
import { courseAt, faceOf, placeIn, type RunState } from "../live/runState";
import { Face } from "../live/Face";
import { logOf } from "../live/log";
import { nextNeed } from "../live/machines";
import type { PersonNow } from "../live/places";
import { useBells } from "../live/useBells";
import { useCourseNow, type OpenRun } from "../live/useRun";
import { useWakeLock } from "../live/useWakeLock";
import { clockWords } from "../live/words";
import { clock, counted } from "../shared/format";
import { Dialog } from "../shared/Dialog";
import { StorageBanner } from "../shared/StorageBanner";
import { Announced } from "./Announced";
import { AfterRun } from "./AfterRun";
import { BeforeRun } from "./BeforeRun";
import { Controls } from "./Controls";
import { Hearts } from "./Hearts";
import { Adjust } from "./Adjust";
import { Machines } from "./Machines";
import { PeopleList } from "./PeopleList";
import { PhonesDialog } from "./PhonesDialog";
import { doneNow } from "./SetForm";
import { SoundDialog } from "./SoundDialog";
import { Strip } from "./Strip";
import { WallDialog } from "./WallDialog";
import { WriteDown } from "./WriteDown";
import { entryAt } from "../basis/entries";

type Props = { run: OpenRun; live: LiveRun; base: RunState; mayReadHealth: boolean };
const COUNT_IN_MS = 5000;

type Panel = "people" | "machines" | "write" | "spot" | "hearts";

/** A class under way: the time first, then who does what, then what can be pressed. */
export function RunScreen({ run, live, base, mayReadHealth }: Props) {
  const runState = useCourseNow(base, run.now) ?? base;
  const [look, setLook] = useState<number | null>(null);
  const [panel, setPanel] = useState<Panel>("people");
  const [person, setPerson] = useState<string | null>(null);
  const [open, setOpen] = useState<"sound" | "wall" | "phones" | "end" | null>(null);
  const bells = useBells(base, run.now, person ?? base.sheet.people[0]?.id);
  const awake = useWakeLock(runState.state !== "ended" && runState.state !== "not begun");
  const log = useMemo(() => logOf(base, run.events), [base, run.events]);
  const cards = useCards(live.id);
  const begun = runState.state !== "not begun";
  const shown =
    look === null ? runState : { ...courseAt(base, run.now()), second: look, added_s: 0, ahead: [], floor: null };

  const [beginsAt, setBeginsAt] = useState<number | null>(null);
  const { countIn } = bells;
  const { add, now } = run;
  useEffect(() => {
    if (beginsAt === null) return;
    const silence = countIn(beginsAt - now());
    const timer = window.setTimeout(() => {
      setBeginsAt(null);
      void add("began", { follows: "people" });
    }, beginsAt - now());
    return () => {
      window.clearTimeout(timer);
      silence();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- adding an event is the same whenever it is drawn
  }, [beginsAt, countIn, now]);
  /** Start counts in; pressed again it takes that back. */
  function begin() {
    if (beginsAt !== null) return setBeginsAt(null);
    void bells.begin().finally(() => setBeginsAt(now() + COUNT_IN_MS));
  }
  function write(id: string) {
    setPerson(id);
    setPanel("write");
  }
  function setDone(one: PersonNow) {
    const done = doneNow(runState, log, one, run.events);
    if (done) void run.add("set_done", done);
  }
  const ownPace = runState.sheet.blocks.some((block) => block.own_pace) && runState.follows === "people";
  if (runState.state === "ended")
    return <AfterRun run={run} live={live} runState={runState} log={log} mayReadHealth={mayReadHealth} />;
  const block = entryAt(runState.sheet.blocks, placeIn(shown.sheet, shown.second).block);
  return (
    <div className="flex h-dvh flex-col">
      <header className="flex min-h-11 flex-wrap items-center gap-x-4 gap-y-1 border-b border-base-300 bg-base-200 px-3 py-1">
        <a href="/" title="All classes; the class goes on" className="shrink-0">
          <img src="/mark.svg" alt="All classes" className="h-6 w-6" />
        </a>
        <h1 className="min-w-0 flex-1 truncate font-semibold lg:flex-none">{live.name}</h1>
        <Ends live={live} runState={runState} now={run.now()} />
        <span className="order-2 flex items-center gap-1 lg:order-none lg:ml-auto">
          <Reach run={run} awake={awake} />
          <button
            type="button"
            className="btn btn-ghost h-11 px-3"
            onClick={() => setOpen("sound")}
            title={bells.choice.on && bells.ready ? "Sound is on" : "Sound is off"}
          >
            {bells.choice.on && bells.ready ? <Bell size={18} aria-hidden /> : <BellOff size={18} aria-hidden />}
            <span className="sr-only sm:not-sr-only">{bells.choice.on && bells.ready ? "Sound" : "No sound"}</span>
          </button>
          <button type="button" className="btn btn-ghost h-11 px-3" onClick={() => setOpen("wall")}>
            <MonitorUp size={18} aria-hidden /> <span className="sr-only sm:not-sr-only">Wall</span>
          </button>
          <button type="button" className="btn btn-ghost h-11 px-3" onClick={() => setOpen("phones")}>
            <Smartphone size={18} aria-hidden /> <span className="sr-only sm:not-sr-only">Own phones</span>
          </button>
          {begun && runState.state !== "plan is over" && (
            <button type="button" className="btn h-11" onClick={() => setOpen("end")}>
              End
            </button>
          )}
        </span>
      </header>
      {bells.choice.announce && <Announced runState={runState} />}
      <StorageBanner words="Presses are sent at once, and lost if this page closes before they arrive." />
      {run.step_ms !== 0 && <ClockStep run={run} />}
      {bells.missed > 0 && (
        <p
          role="alert"
          className="flex items-center gap-3 bg-warning px-3 py-1 text-sm text-warning-content"
          data-testid="missed-calls"
        >
          {counted(bells.missed, "call was", "calls were")} not heard: this page stood still. What the clock shows is
          right.
          <button type="button" className="btn h-11 ml-auto" onClick={bells.forgetMissed}>
            Seen
          </button>
        </p>
      )}
      {run.sendProblem && run.waiting > 0 && (
        <p role="alert" className="bg-error px-3 py-1 text-sm text-error-content" data-testid="send-problem">
          {counted(run.waiting, "press waits", "presses wait")} on this device: {run.sendProblem}
        </p>
      )}
      {run.refused.length > 0 && (
        <p role="alert" className="bg-error px-3 py-1 text-sm text-error-content">
          The server would not keep {counted(run.refused.length, "entry", "entries")}: {entryAt(run.refused, 0).message}
        </p>
      )}
      <main className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)] gap-2 p-2 lg:grid-cols-[minmax(0,6fr)_minmax(0,7fr)] lg:grid-rows-1">
        <div className="flex min-h-0 flex-col gap-2 lg:justify-center">
          <Face runState={runState} countIn_s={beginsAt === null ? null : (beginsAt - run.now()) / 1000} />
          <Strip runState={runState} look={look} onLook={setLook} />
          <GoOn run={run} runState={runState} />
          {runState.state === "plan is over" && (
            <button type="button" className="btn btn-primary h-14 text-lg" onClick={() => void run.add("ended", {})}>
              End the class
            </button>
          )}
          <div className="hidden lg:block">
            <Notes runState={shown} />
          </div>
        </div>
        <section className="flex min-h-0 flex-col rounded-(--radius-box) border border-base-300">
          {begun ? (
            <>
              <div
                role="tablist"
                aria-label="What is shown"
                className="flex gap-1 overflow-x-auto border-b border-base-300 px-2"
              >
                {(
                  [
                    ["people", "People"],
                    ...(ownPace ? ([["machines", "Machines"]] as const) : []),
                    ["write", "Log sets"],
                    ["spot", "Adjust"],
                    ...(mayReadHealth ? ([["hearts", "Hearts"]] as const) : []),
                  ] as const
                ).map(([id, name]) => (
                  <button
                    key={id}
                    type="button"
                    role="tab"
                    aria-selected={panel === id}
                    className={`min-h-11 px-2 text-sm font-semibold whitespace-nowrap sm:px-3 sm:text-base ${panel === id ? "border-b-4 border-base-content" : "faint"}`}
                    onClick={() => setPanel(id)}
                  >
                    {name}
                  </button>
                ))}
              </div>
              {look !== null && (
                <p
                  className="flex items-center gap-3 bg-accent px-2 py-1 text-sm text-accent-content"
                  data-testid="looking"
                >
                  Looking at {clock(look)}, {block.name}. The clock goes on.
                  <button type="button" className="btn h-11 ml-auto" onClick={() => setLook(null)}>
                    Back to now
                  </button>
                </p>
              )}
              <div className="min-h-0 flex-1 overflow-auto px-2 py-1" tabIndex={0} role="region" aria-label="Details">
                {panel === "people" && (
                  <PeopleList
                    run={run}
                    runState={shown}
                    looking={look !== null}
                    cards={cards}
                    log={log}
                    onWrite={write}
                    onSetDone={setDone}
                  />
                )}
                {panel === "machines" && (
                  <Machines run={run} runState={shown} onSetDone={setDone} onLost={() => setPanel("spot")} />
                )}
                {panel === "write" && (
                  <WriteDown
                    run={run}
                    runState={runState}
                    log={log}
                    person={person}
                    onPerson={setPerson}
                    cards={cards}
                  />
                )}
                {panel === "hearts" && <Hearts run={run} live={live} runState={runState} />}
                {panel === "spot" && <Adjust run={run} live={live} runState={runState} mayReadHealth={mayReadHealth} />}
              </div>
            </>
          ) : (
            <BeforeRun run={run} live={live} runState={runState} bells={bells} />
          )}
        </section>
      </main>
      <footer className="border-t border-base-300 bg-base-200 p-2">
        <div className="mx-auto max-w-3xl">
          <Controls run={run} runState={runState} onBegin={begin} countsIn={beginsAt !== null} />
        </div>
      </footer>
      {open === "sound" && <SoundDialog bells={bells} runState={runState} onClose={() => setOpen(null)} />}
      {open === "end" && (
        <Dialog title="End the class?" onClose={() => setOpen(null)}>
          <p>
            {clock(faceOf(runState).ends_in_s)} of the plan are left. What was logged stays, and the end can be taken
            back.
          </p>
          <div className="mt-4 flex gap-2">
            <button type="button" className="btn btn-primary" data-first onClick={() => void run.add("ended", {})}>
              End it now
            </button>
            <button type="button" className="btn" onClick={() => setOpen(null)}>
              Go on
            </button>
          </div>
        </Dialog>
      )}
      {open === "wall" && <WallDialog run={live.id} onClose={() => setOpen(null)} />}
      {open === "phones" && <PhonesDialog run={live.id} people={base.sheet.people} onClose={() => setOpen(null)} />}
    </div>
  );
}

/** Everybody is done with a block at their own pace: the class goes on when the instructor says so. */
function GoOn({ run, runState }: { run: OpenRun; runState: RunState }) {
  if (nextNeed(runState)?.what !== "all done") return null;
  const next = runState.sheet.blocks[placeIn(runState.sheet, runState.second).block + 1];
  if (!next) return null;
  return (
    <button
      type="button"
      className="btn btn-primary h-14 text-lg"
      onClick={() => void run.add("went_on", { block: next.id, second: 0, way: "on" })}
    >
      Go on to {next.name}
    </button>
  );
}

/** The server's time has stepped away from this device's: whose is right is asked, and the class goes on meanwhile. */
function ClockStep({ run }: { run: OpenRun }) {
  const apart = clock(Math.abs(run.step_ms) / 1000);
  return (
    <div
      role="alert"
      className="flex flex-wrap items-center gap-3 bg-warning px-3 py-1 text-sm text-warning-content"
      data-testid="clock-step"
    >
      <span className="grow">
        The server’s clock is suddenly {apart} {run.step_ms > 0 ? "ahead of" : "behind"} this device’s. The class goes
        on by this device’s.
      </span>
      <button type="button" className="btn h-11" onClick={() => run.decideTime("device")}>
        This device is right
      </button>
      <button type="button" className="btn h-11" onClick={() => run.decideTime("server")}>
        Go by the server
      </button>
    </div>
  );
}

/** When the class is over as it goes now, against the slot. */
function Ends({ live, runState, now }: { live: LiveRun; runState: RunState; now: number }) {
  if (runState.beganAt === null) {
    return (
      <span className="order-3 basis-full text-sm lg:order-none lg:basis-auto">
        {clock(runState.sheet.length_s)} of a class length of {clock(live.slot_s)}
      </span>
    );
  }
  const ends = now + faceOf(runState).ends_in_s * 1000;
  const over_s = (ends - runState.beganAt) / 1000 - live.slot_s;
  const time = new Date(ends).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  const apart =
    Math.abs(over_s) < 30
      ? "with the planned end"
      : `${clock(Math.abs(over_s))} ${over_s > 0 ? "over" : "before"} the planned end`;
  return (
    <span className="order-3 basis-full text-sm whitespace-nowrap lg:order-none lg:basis-auto" data-testid="ends">
      ends <strong>{time}</strong>, <span className={over_s > 30 ? "font-semibold text-error" : ""}>{apart}</span>
    </span>
  );
}

function Reach({ run, awake }: { run: OpenRun; awake: string }) {
  const { reach, waiting, offset } = run;
  const apart = clockWords(offset);
  const screen = awake === "cannot" ? " This browser does not let the screen be kept awake." : "";
  if (reach === "connected") {
    return (
      <span className="flex items-center gap-1 text-sm" data-testid="reach" title={apart + screen}>
        <Wifi size={18} aria-hidden />
        <span className="sr-only">Connected. {apart + screen}</span>
        {waiting > 0 && <span>{waiting}</span>}
      </span>
    );
  }
  return (
    <span
      role="status"
      className="flex items-center gap-1 rounded bg-warning px-2 py-0.5 text-sm font-semibold text-warning-content"
      data-testid="reach"
      title={`What is pressed is kept on this device and sent when the server answers. ${apart}${screen}`}
    >
      <WifiOff size={18} aria-hidden />
      {reach === "signed out" ? "Signed out" : "Offline"}
      {waiting > 0 && `, ${waiting} to send`}
    </span>
  );
}

/** The parts of the block that is shown, as they are written, with their cues. */
function Notes({ runState }: { runState: RunState }) {
  const { sheet } = runState;
  const place = placeIn(sheet, runState.second).block;
  const parts = sheet.parts.filter((part) => part.block === place);
  return (
    <section aria-label="This block" className="max-h-40 overflow-auto text-sm" tabIndex={0}>
      <h2 className="font-semibold">{entryAt(sheet.blocks, place).name}</h2>
      <ul className="columns-2 gap-4">
        {parts.map((part, at) => (
          <li key={at} className="break-inside-avoid">
            {part.line}
            {part.cues[0] && <span className="faint"> — {part.cues[0].toLowerCase()}</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}
