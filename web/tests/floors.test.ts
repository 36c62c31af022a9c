import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";

import type { RunEvent, Sheet } from "../src/api/runs";
import { entryAt } from "../src/basis/entries";
import { floorAt, type FloorVisit, type SeenPress } from "../src/live/floor";
import { blockEnd, machinesNow, nextNeed, stillToDo } from "../src/live/machines";
import { DOINGS, peopleNow, type Spot } from "../src/live/places";
import { workOf, type Placement } from "../src/live/rollingWork";
import { courseAt, faceOf, moment, replayEvents } from "../src/live/runState";

type Placed = [number, string, number, number, number, number, boolean, boolean, boolean];
type Visit = {
  block: string;
  from_s: number;
  absent: string[];
  done_before: string[];
  now_s: number;
  presses: SeenPress[];
  pauses: [number, number][];
};
type Gives = {
  state: string;
  second: number;
  left_s: number;
  ends_in_s: number;
  calls: [number, string][];
  after: string[];
  visit: Visit | null;
  placed: Placed[][] | null;
  people: {
    doing: number;
    here: [string, string | null] | null;
    next: [string, string | null] | null;
    left_s: number;
    next_in_s: number | null;
    set: number;
    known: boolean;
    held: boolean;
    behind_s: number;
  }[];
};
type Run = { events: RunEvent[]; at: { moment: number; gives: Gives }[] };
const golden = JSON.parse(readFileSync("../tests/golden/floors.json", "utf-8")) as {
  class: string;
  sheets: Sheet[];
  runs: Run[];
}[];
const cases = golden.flatMap(({ class: name, sheets, runs }) =>
  runs.flatMap((run, number) =>
    run.at.map(({ moment, gives }) => ({ name: `${name}, run ${number}`, sheets, run, at: moment, gives })),
  ),
);

const told = (own: readonly Placement[], chosen: readonly number[]): Placed[] =>
  chosen.map((place) => {
    const item = entryAt(own, place);
    const { task, unit, setUpFrom_s, workFrom_s, end_s, known, held, cut } = item;
    return [place, task.id, unit, setUpFrom_s, workFrom_s, end_s, known, held, cut];
  });

const sheetOf = (sheets: readonly Sheet[], after: readonly string[]): Sheet =>
  sheets.find((sheet) => sheet.after.join() === after.join())!;

describe("a class that follows its people", () => {
  it.each(cases)("$name: dispatched from the same presses to the last digit, at $at s", ({ sheets, gives }) => {
    if (!gives.visit || !gives.placed) return;
    const sheet = sheetOf(sheets, gives.after);
    const block = sheet.blocks.find((item) => item.id === gives.visit!.block)!;
    const ids = sheet.parts.map((part) => part.id);
    const visit: FloorVisit = {
      block: block.id,
      people: sheet.people.map((person) => person.id),
      from_s: gives.visit.from_s,
      plans: [{ from_s: 0, work: workOf(block.floor!, ids, new Set()) }],
      absent: new Set(gives.visit.absent),
      doneBefore: new Set(gives.visit.done_before),
      now_s: gives.visit.now_s,
      presses: gives.visit.presses,
      pauses: gives.visit.pauses,
    };
    const { placed } = floorAt(visit);
    const ours = gives.placed.map((own, person) =>
      told(
        entryAt(placed, person),
        own.map(([place]) => place),
      ),
    );
    expect(ours).toEqual(gives.placed);
  });

  it.each(cases)("$name: machine by machine, at $at s", ({ sheets, run, at }) => {
    const until = moment(entryAt(run.events, 0)) + at * 1000;
    const runState = courseAt(replayEvents(sheets, run.events, until), until);
    const machines = machinesNow(runState);
    if (!runState.floor) {
      expect([machines, nextNeed(runState), blockEnd(runState)]).toEqual([[], null, null]);
      return;
    }
    const people = peopleNow(runState).filter((person) => !person.away);
    const busy = people.filter(
      (person) => (person.doing === "work" || person.doing === "change") && (person.here?.unit ?? -1) >= 0,
    );
    const on = machines.flatMap((machine) => machine.on.map((person) => person.person.id));
    expect(on.toSorted()).toEqual(busy.map((person) => person.person.id).toSorted());
    for (const machine of machines) {
      // a machine that is out has nobody on it and nobody to come
      if (machine.lost) expect([machine.on, machine.next]).toEqual([[], null]);
      if (machine.next) expect(machine.next.in_s).toBeGreaterThan(0);
    }
    const need = nextNeed(runState);
    if (people.some((person) => person.held)) expect(need?.what).toBe("held");
    else if (people.length && people.every((person) => person.doing === "finished"))
      expect(need?.what).toBe("all done");
    const end = blockEnd(runState)!;
    expect(end.low_s).toBeLessThanOrEqual(end.left_s);
    expect(end.high_s).toBeGreaterThanOrEqual(end.left_s);
    for (const { person, away, here } of peopleNow(runState)) {
      const left = stillToDo(runState, person.id);
      if (!away && here) expect(left.map((item) => item.part)).toContain(here.part);
    }
  });

  it.each(cases)("$name: folded from the same events, at $at s", ({ sheets, run, at, gives }) => {
    const began = moment(entryAt(run.events, 0));
    const until = began + at * 1000;
    const runState = courseAt(replayEvents(sheets, run.events, until), until);
    const { sheet } = runState;
    const face = faceOf(runState);
    const spot = (place: Spot | null) =>
      place && [entryAt(sheet.parts, place.part).id, place.unit < 0 ? null : entryAt(sheet.units, place.unit).id];
    expect([runState.state, sheet.after]).toEqual([gives.state, gives.after]);
    expect(runState.second).toBeCloseTo(gives.second, 5);
    expect(face.left_s).toBeCloseTo(gives.left_s, 5);
    expect(face.ends_in_s).toBeCloseTo(gives.ends_in_s, 5);
    expect(face.calls.map(({ cue }) => cue.call)).toEqual(gives.calls.map(([, call]) => call));
    const people = peopleNow(runState);
    expect(
      people.map((person) => [
        DOINGS.indexOf(person.doing),
        spot(person.here),
        spot(person.next),
        person.known,
        person.held,
      ]),
    ).toEqual(gives.people.map((person) => [person.doing, person.here, person.next, person.known, person.held]));
    people.forEach((person, place) => {
      const theirs = entryAt(gives.people, place);
      if (runState.floor) expect(person.here ? person.set : 0).toBe(theirs.set);
      expect(person.left_s).toBeCloseTo(theirs.left_s, 2);
      expect(person.behind_s).toBeCloseTo(theirs.behind_s, 5);
      if (theirs.next_in_s !== null) expect(person.next_in_s).toBeCloseTo(theirs.next_in_s, 2);
    });
  });
});
