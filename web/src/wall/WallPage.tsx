import { useEffect, useMemo } from "react";
import { useParams } from "react-router";

import type { WallRun } from "../api/runs";
import { courseAt, replayEvents, faceOf, placeIn, type RunState } from "../live/runState";
import { Face } from "../live/Face";
import { blockEnd, machinesNow, type MachineNow } from "../live/machines";
import { peopleNow, type PersonNow, type Spot } from "../live/places";
import { useCourseNow } from "../live/useRun";
import { useWakeLock } from "../live/useWakeLock";
import { countdown, placeWords } from "../live/words";
import { Opening } from "../shared/Opening";
import { useWallRun } from "./useWallRun";
import { entryAt } from "../basis/entries";

/** The screen on the wall: the time as large as it goes, and where everybody goes next before they go. */
export function WallPage() {
  const { token } = useParams();
  const { wall, problem, now, alone } = useWallRun(token ?? "");
  useEffect(() => {
    document.documentElement.dataset.theme = "mill-wall";
  }, []);
  if (!wall) {
    return problem ? (
      <main className="p-10 text-3xl" role="alert">
        {problem}
      </main>
    ) : (
      <Opening what="the wall" />
    );
  }
  return <Wall wall={wall} now={now} alone={alone} />;
}

function Wall({ wall, now, alone }: { wall: WallRun; now: () => number; alone: boolean }) {
  const base = useMemo(() => replayEvents(wall.sheets, wall.events), [wall]);
  const runState = useCourseNow(base, now) ?? courseAt(base, now());
  useWakeLock(runState.state !== "ended");
  const face = faceOf(runState);
  const block = entryAt(runState.sheet.blocks, face.block);
  const machines = machinesNow(runState);
  if (machines.length && (runState.state === "runs" || runState.state === "runs over")) {
    return <MachineWall runState={runState} machines={machines} alone={alone} />;
  }
  return (
    <main className="flex h-dvh flex-col gap-[1vh] overflow-hidden bg-base-100 p-[1.2vh]">
      <div className="h-[58vh]">
        <Face runState={runState} wall />
      </div>
      <p className="flex items-baseline gap-4 truncate text-[3.4vh] leading-none font-semibold">
        <span className="truncate">{block.name}</span>
        <span className="faint ml-auto whitespace-nowrap">
          {runState.beganAt !== null && runState.state !== "ended" && `over in ${countdown(face.ends_in_s)}`}
          {alone && " · going on without the server"}
        </span>
      </p>
      <Places runState={runState} />
    </main>
  );
}

/** While people go at their own pace: machine by machine who is on it, and who comes next and when. */
function MachineWall({ runState, machines, alone }: { runState: RunState; machines: MachineNow[]; alone: boolean }) {
  const block = entryAt(runState.sheet.blocks, placeIn(runState.sheet, runState.second).block);
  const end = blockEnd(runState);
  const finished = peopleNow(runState).filter((person) => person.doing === "finished" && !person.away);
  const columns = machines.length > 12 ? 4 : machines.length > 4 ? 3 : 2;
  const call = (one: PersonNow) => one.person.name || String(one.person.number);
  return (
    <main className="flex h-dvh flex-col gap-[1.2vh] overflow-hidden bg-base-100 p-[1.2vh]" data-testid="machine-wall">
      <p className="flex items-baseline gap-[3vh] truncate text-[4.4vh] leading-tight font-semibold">
        <span className="truncate">{block.name}</span>
        {end && <span>over in {countdown(end.left_s)}</span>}
        <span className="faint ml-auto text-[3vh] whitespace-nowrap">
          class over in {countdown(faceOf(runState).ends_in_s)}
          {alone && " · going on without the server"}
        </span>
      </p>
      <ul
        className="grid min-h-0 flex-1 auto-rows-fr gap-[1vh]"
        style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}
      >
        {machines.map((machine) => (
          <li
            key={machine.unit}
            className={`flex min-h-0 min-w-0 flex-col overflow-hidden rounded border-2 px-[1.4vh] py-[0.6vh] ${
              machine.on.length ? "border-base-content/60" : "border-dashed border-base-300"
            }`}
          >
            <p className="truncate text-[3vh] leading-tight">{machine.name}</p>
            <p className="min-h-0 flex-1 truncate text-[7vh] leading-[1.1] font-bold">
              {machine.lost ? <span className="text-error">out</span> : machine.on.map(call).join(", ") || "–"}
            </p>
            <p className="truncate text-[3.6vh] leading-tight">
              {machine.next && (
                <>
                  <span className="faint">next </span>
                  <strong>{call(machine.next.person)}</strong>
                  <span className="faint tabular-nums"> {countdown(machine.next.in_s)}</span>
                </>
              )}
            </p>
          </li>
        ))}
      </ul>
      {finished.length > 0 && (
        <p className="truncate text-[3vh]">
          <span className="faint">Done: </span>
          {finished.map(call).join(", ")}
        </p>
      )}
    </main>
  );
}

type Place = { what: string; where: string; people: PersonNow[] };

/** Who goes where: the places now, and before a change those after it. In a block at their own pace, where each has a
 * change of their own, both stand side by side. */
function Places({ runState }: { runState: RunState }) {
  const people = peopleNow(runState).filter((item) => !item.away);
  const block = entryAt(runState.sheet.blocks, placeIn(runState.sheet, runState.second).block);
  const begun = runState.state !== "not begun";
  if (block.own_pace && begun) {
    const soon = people
      .filter((person) => person.next && person.next_in_s !== null)
      .toSorted((one, other) => one.next_in_s! - other.next_in_s!)
      .slice(0, SOON_AT_MOST);
    return (
      <section className="flex min-h-0 flex-1 gap-[1.2vh]" data-testid="places">
        <Title words="Now" />
        <Grid columns={2} places={placesOf(runState, people, false)} close />
        <Title words="Next" coming />
        <ul className="grid min-w-0 flex-1 auto-rows-fr gap-[0.5vh]">
          {soon.map((item) => (
            <li key={item.person.id} className="flex min-w-0 items-baseline gap-[1.5vh] leading-none">
              <strong className="text-[4.6vh]">{item.person.name || item.person.number}</strong>
              <span className="min-w-0 flex-1 truncate text-[3vh]">{placeWords(runState.sheet, item.next).what}</span>
              <span className="faint text-[3.4vh] tabular-nums">{countdown(item.next_in_s!)}</span>
            </li>
          ))}
        </ul>
      </section>
    );
  }
  // where they go is shown before they go: while they change, and in the last seconds of the work
  const working = people.some((person) => person.doing === "work");
  const coming = !begun || !working || faceOf(runState).left_s <= SHOWN_BEFORE_S;
  const places = placesOf(runState, people, coming);
  const columns = places.length > 6 ? 4 : places.length > 4 ? 3 : places.length > 1 ? 2 : 1;
  return (
    <section className="flex min-h-0 flex-1 gap-[1.2vh]" data-testid="places">
      <Title words={coming ? "Next" : "Now"} coming={coming} />
      <Grid columns={columns} places={places} />
    </section>
  );
}

function Title({ words, coming }: { words: string; coming?: boolean }) {
  return (
    <h2
      className={`grid w-[11vh] shrink-0 place-items-center rounded text-[4vh] font-bold ${
        coming ? "bg-accent text-accent-content" : "bg-base-300"
      }`}
    >
      {words}
    </h2>
  );
}

function Grid({ columns, places, close }: { columns: number; places: Place[]; close?: boolean }) {
  return (
    <ul
      className="grid min-h-0 min-w-0 flex-1 auto-rows-fr gap-[0.8vh] overflow-hidden"
      style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}
    >
      {places.map((place) => (
        <li
          key={`${place.what}/${place.where}`}
          className={`min-w-0 overflow-hidden rounded border-2 border-base-300 px-[1vh] ${
            close ? "flex items-center gap-[1vh]" : ""
          }`}
        >
          <p className={`flex gap-x-[1.4vh] text-[4.6vh] leading-[1.05] font-bold ${close ? "shrink-0" : "flex-wrap"}`}>
            {place.people.map(({ person }) => (
              <span key={person.id} className="whitespace-nowrap">
                {person.name || person.number}
              </span>
            ))}
          </p>
          <p className="truncate text-[3vh] leading-tight">
            {place.what}
            {place.where && <span className="faint">, {place.where}</span>}
          </p>
        </li>
      ))}
    </ul>
  );
}

const SOON_AT_MOST = 6;
const SHOWN_BEFORE_S = 20;
const SHOWN_AT_MOST = 12;

function placesOf(runState: RunState, people: PersonNow[], coming: boolean): Place[] {
  const found = new Map<string, Place>();
  for (const person of people) {
    const spot: Spot | null = coming ? (person.next ?? person.here) : (person.here ?? person.next);
    const { what, where } = placeWords(runState.sheet, spot);
    const key = spot ? `${spot.part}/${spot.unit}` : "";
    const place = found.get(key) ?? { what: what || "done", where, people: [] };
    place.people.push(person);
    found.set(key, place);
  }
  return [...found.values()].slice(0, SHOWN_AT_MOST);
}
