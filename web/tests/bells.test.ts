import { describe, expect, it } from "vitest";

import type { RunEvent, Sheet } from "../src/api/runs";
import { AHEAD_MS, beatSeconds, Scheduler, soundsAhead, type Planned } from "../src/live/bells";
import { courseAt, replayEvents, type RunState } from "../src/live/runState";
import { wentOn } from "../src/live/useBells";

const BEGAN = Date.UTC(2026, 10, 24, 18, 30);
const CALLS = ["work", "change"] as const;

/** An hour of work and change, half a minute each. */
function hour(): Sheet {
  const seconds = Array.from({ length: 120 }, (_, turn) => turn * 30);
  return {
    after: [],
    name: "An hour",
    length_s: 3600,
    blocks: [
      {
        id: "b",
        name: "B",
        kind: "circuit",
        own_pace: false,
        start_s: 0,
        end_s: 3600,
        floor: null,
        teams: [],
        tag_s: 0,
      },
    ],
    marks: [...seconds, 3600],
    cues: [
      ...seconds.map((second, turn) => ({ second, call: CALLS[turn % 2]!, words: "" })),
      { second: 3600, call: "end" as const, words: "" },
    ],
    parts: [],
    units: [],
    people: [
      {
        id: "p",
        number: 1,
        name: "P",
        start_s: [0],
        doing: [0],
        part: [-1],
        unit: [-1],
        set: [0],
        sets: [
          {
            part: 0,
            number: 1,
            unit: -1,
            start_s: 10,
            ends_s: 26,
            reps: [4],
            kg: [],
            set_as: "",
            seconds: 16,
            tempo_s: [3, 0, 1, 0],
          },
        ],
      },
    ],
  };
}

const event = (kind: "began" | "paused" | "resumed", second: number): RunEvent =>
  ({
    id: `${kind}${second}`,
    kind,
    happened_at: new Date(BEGAN + second * 1000).toISOString(),
    by: "",
    device: "",
  }) as RunEvent;

const went = (at: number, second: number): RunEvent =>
  ({
    ...event("began", at),
    id: `w${at}`,
    kind: "went_on",
    block: hour().blocks[0]!.id,
    second,
  }) as unknown as RunEvent;

/**
 * An hour of a class on an audio clock that goes wrong by so many parts in a million, looked at every quarter of a second,
 * with a page that is busy for three seconds each minute. Gives by how much each bell was late, in ms.
 */
export function anHourOfBells(ppm: number): { late: number[]; rung: string[] } {
  const base = replayEvents([hour()], [event("began", 0)]);
  const audio = { currentTime: 0 };
  let real = BEGAN;
  const placed = new Map<string, { at: number; gone: boolean }[]>();
  const scheduler = new Scheduler(audio, (planned: Planned, at: number) => {
    const one = { at, gone: false };
    placed.set(planned.key, [...(placed.get(planned.key) ?? []), one]);
    return { cancel: () => (one.gone = true) };
  });
  for (let ms = 0; ms < 3_605_000; ms += 250) {
    real = BEGAN + ms;
    audio.currentTime = (ms / 1000) * (1 + ppm / 1e6);
    if (ms % 60_000 > 57_000) continue; // the page is busy
    scheduler.look(soundsAhead(courseAt(base, real), real), real);
  }
  const late: number[] = [];
  const rung: string[] = [];
  for (const [key, all] of placed) {
    const sounds = all.filter((item) => !item.gone);
    rung.push(...sounds.map(() => key));
    for (const sound of sounds) late.push(sound.at * (1 / (1 + ppm / 1e6)) * 1000 - Number(key.split("@")[1]) * 1000);
  }
  return { late, rung };
}

describe("bells on the audio clock", () => {
  it.each([0, 200, -200])("rings each once and in time in an hour, with a clock wrong by %d ppm", (ppm) => {
    const { late, rung } = anHourOfBells(ppm);
    // the first is under way when the class begins, and is seen, not heard
    expect(rung.length).toBe(120);
    expect(new Set(rung).size).toBe(120);
    const worst = Math.max(...late.map(Math.abs));
    expect(worst).toBeLessThanOrEqual(100);
    console.log(`bell drift at ${ppm} ppm: ${worst.toFixed(1)} ms`);
  });

  it("takes bells back when the class is paused, and rings them when it goes on", () => {
    const audio = { currentTime: 0 };
    const kept = new Map<string, number>();
    const scheduler = new Scheduler(audio, (planned, at) => {
      kept.set(planned.key, at);
      return { cancel: () => kept.delete(planned.key) };
    });
    const running = replayEvents([hour()], [event("began", 0)]);
    const at = (second: number) => BEGAN + second * 1000;
    audio.currentTime = 27;
    scheduler.look(soundsAhead(courseAt(running, at(27)), at(27)), at(27));
    expect([...kept]).toEqual([["change@30", 30]]);
    const paused = replayEvents([hour()], [event("began", 0), event("paused", 28)]);
    audio.currentTime = 28;
    scheduler.look(soundsAhead(courseAt(paused, at(28)), at(28)), at(28));
    expect([...kept]).toEqual([]);
    const again = replayEvents([hour()], [event("began", 0), event("paused", 28), event("resumed", 40)]);
    audio.currentTime = 40;
    scheduler.look(soundsAhead(courseAt(again, at(40)), at(40)), at(40));
    expect([...kept]).toEqual([["change@30", 42]]);
  });

  it("rings late what is only just past, and says what was missed, when the page stands still for ten seconds", () => {
    const audio = { currentTime: 0 };
    const rung: string[] = [];
    const missed: string[] = [];
    const place = (planned: Planned) => {
      rung.push(planned.key);
      return { cancel: () => undefined };
    };
    const sheet = hour();
    sheet.cues = [30, 33, 36, 39, 42, 45, 60].map((second) => ({ second, call: "rest" as const, words: "" }));
    const base = replayEvents([sheet], [event("began", 0)]);
    const scheduler = new Scheduler(audio, place, (planned) => missed.push(planned.key));
    let looked = { base, moment: BEGAN + 28_000 };
    const look = (second: number, now: RunState = base) => {
      const moment = BEGAN + second * 1000;
      audio.currentTime = second;
      scheduler.look(soundsAhead(courseAt(now, moment), moment, undefined, wentOn(looked, now, moment)), moment);
      looked = { base: now, moment };
    };
    look(28);
    expect(rung).toEqual(["rest@30"]);
    // ten seconds without a look, while somebody else wrote a set down
    const other = replayEvents(
      [sheet],
      [event("began", 0), { ...event("began", 31), kind: "noted", id: "n" } as RunEvent],
    );
    look(39.2, other);
    expect(missed).toEqual(["rest@33", "rest@36"]);
    expect(rung).toEqual(["rest@30", "rest@39", "rest@42"]);
    look(39.5, other);
    expect(missed).toHaveLength(2);
    expect(rung).toHaveLength(3);
    // skipped on: what was passed over was not missed
    const on = replayEvents([sheet], [event("began", 0), went(39.8, 59)]);
    look(40, on);
    expect(missed).toHaveLength(2);
  });

  it("looks far enough ahead for a page that is busy for three seconds", () => {
    expect(AHEAD_MS).toBeGreaterThan(3000 + 250);
  });

  it("beats the phases of a tempo, each at its second", () => {
    expect(beatSeconds(hour(), "p", 0, 60)).toEqual([10, 13, 14, 17, 18, 21, 22, 25]);
    expect(beatSeconds(hour(), "p", 13, 18)).toEqual([14, 17, 18]);
  });
});
