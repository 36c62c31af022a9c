import { clock } from "../shared/format";
import type { Sheet } from "../api/runs";
import type { Offset } from "./serverClock";
import { faceOf, placeIn, type RunState, type Cue } from "./runState";
import { peopleNow, type PersonNow, type Spot } from "./places";
import { entryAt } from "../basis/entries";

/** Seconds as a countdown shows them: the last one is 1, and 0 is over. */
export function countdown(seconds: number): string {
  const whole = Math.max(0, Math.ceil(seconds - 1e-6));
  return whole >= 60 ? clock(whole) : String(whole);
}

export function placeWords(sheet: Sheet, spot: Spot | null): { what: string; where: string } {
  if (!spot) return { what: "", where: "" };
  const what = sheet.parts[spot.part]?.name ?? "";
  const where = spot.unit < 0 ? "" : (sheet.units[spot.unit]?.name ?? "");
  // a machine that is called as what is done on it says nothing more
  return { what, where: where.toLowerCase() === what.toLowerCase() ? "" : where };
}

/** What everybody does now, in a word, and whether it is work. */
export function stateWord(runState: RunState): { word: string; works: boolean } {
  switch (runState.state) {
    case "not begun":
      return { word: "Ready", works: false };
    case "paused":
      return { word: "Paused", works: false };
    case "waits for ready":
      return { word: "Waiting for you", works: false };
    case "plan is over":
      return { word: "The plan is over", works: false };
    case "ended":
      return { word: "Over", works: false };
  }
  if (runState.added_s > 0) return { word: "More time", works: false };
  const block = entryAt(runState.sheet.blocks, placeIn(runState.sheet, runState.second).block);
  if (runState.second >= block.end_s) return { word: "On to the next block", works: false };
  if (block.own_pace) return { word: "At their own pace", works: true };
  const doing = new Set(peopleNow({ ...runState, ahead: [] }).map((item) => item.doing));
  if (doing.has("work")) return { word: "Work", works: true };
  return doing.has("change") ? { word: "Change", works: false } : { word: "Rest", works: false };
}

const CALLED: Record<Cue["call"], string> = {
  work: "Work",
  "half way": "Half way",
  "ten left": "Last ten seconds",
  three: "Three",
  two: "Two",
  one: "One",
  change: "Change",
  rest: "Rest",
  block: "Next block",
  end: "Time is up",
};
const SEEN_S = 2;

/** What was called just now, for whoever does not hear it; empty when nothing was. */
export function saidNow(runState: RunState): string {
  if (runState.state !== "runs" && runState.state !== "plan is over") return "";
  if (runState.added_s > 0) return "";
  const said = runState.sheet.cues.findLast(
    (cue) => cue.second <= runState.second && cue.second > runState.second - SEEN_S,
  );
  if (!said) return "";
  return said.call === "block" && said.words ? said.words : CALLED[said.call];
}

const TURNS = new Set<Cue["call"]>(["work", "change", "rest", "block", "end"]);

/** The next change, in words and seconds. */
export function nextChange(runState: RunState): { words: string; in_s: number } | null {
  const next = faceOf(runState).calls.find(({ cue }) => TURNS.has(cue.call));
  if (!next) return null;
  const words = next.cue.call === "block" ? next.cue.words || "next block" : CALLED[next.cue.call].toLowerCase();
  return { words, in_s: next.in_s };
}

/** Which interval of a block on the bell is under way, of how many; null where there are none. */
export function intervalOf(runState: RunState): { number: number; of: number } | null {
  const { sheet, second } = runState;
  const block = entryAt(sheet.blocks, placeIn(sheet, second).block);
  if (block.own_pace) return null;
  const works = sheet.cues.filter(
    (cue) => cue.call === "work" && cue.second >= block.start_s && cue.second < block.end_s,
  );
  const number = works.filter((cue) => cue.second <= second).length;
  return works.length > 1 && number ? { number, of: works.length } : null;
}

/** What somebody does, in words for a line. */
export function doingWords(one: PersonNow): string {
  if (one.away) return "not here";
  return { work: "", change: "sets up", rest: "rests", wait: "waits", finished: "done", breather: "breather" }[
    one.doing
  ];
}

/** A load in the unit that stands on the machine. */
export function marked(kg: number, unit: string): string {
  const value = unit === "lb" ? kg / 0.45359237 : kg;
  return `${Number(value.toFixed(value < 10 ? 2 : 1))} ${unit}`;
}

/** A load as it is set, with what it comes to: a bar with its plates says only its parts. */
export function loadWords(set: { kg: number[]; set_as: string }, unit: string): string {
  if (!set.kg.length) return "";
  const plates = /^bar [^,]*, (.*)$/.exec(set.set_as)?.[1];
  return plates ? `${marked(entryAt(set.kg, 0), unit)} (${plates})` : set.set_as;
}

/** A set as it is planned: its loads, and its repetitions or seconds. */
export function setWords(
  set: { kg: number[]; reps: number[]; seconds: number },
  write: (kg: number) => string,
  one_sided: boolean,
): string {
  const loads = [...new Set(set.kg)].map(write).join(", ");
  const reps = set.reps.length ? `× ${set.reps.join(" + ")}${one_sided ? " a side" : ""}` : clock(set.seconds);
  return [loads, reps].filter(Boolean).join(" ");
}

/** How far this device's clock is from the server's, for a help line. */
export function clockWords(offset: Offset): string {
  if (!Number.isFinite(offset.error_ms)) return "This device’s clock has not been compared with the server’s yet.";
  const apart = `${Math.round(Math.abs(offset.ms))} ms ${offset.ms < 0 ? "ahead of" : "behind"} the server’s`;
  return `This device’s clock is ${apart}, give or take ${Math.ceil(offset.error_ms)} ms, and is set right by that.`;
}
