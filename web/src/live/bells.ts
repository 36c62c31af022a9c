/**
 * What is heard, and when. Sounds are put on the audio clock a few seconds ahead, so that a busy or hidden page does not
 * delay a bell; the audio clock drifts against the server's, so what is put there is looked at again until shortly
 * before it sounds.
 */
import type { Sheet } from "../api/runs";
import type { RunState } from "./runState";

export type Sound = Sheet["cues"][number]["call"] | "beat";
export type Planned = { key: string; sound: Sound; words: string; at: number };

export const AHEAD_MS = 4000;
const SETTLED_MS = 1200;
const APART_MS = 15;

/** Notes of a sound: seconds after it begins, hertz, how long it rings, how loud. */
type Note = [after: number, hertz: number, rings: number, gain: number];
const NOTES: Record<Sound, Note[]> = {
  work: [
    [0, 587, 0.35, 0.9],
    [0.14, 880, 0.6, 0.9],
  ],
  change: [[0, 392, 0.9, 0.9]],
  rest: [
    [0, 523, 0.4, 0.6],
    [0.18, 392, 0.6, 0.6],
  ],
  "half way": [
    [0, 988, 0.12, 0.5],
    [0.16, 988, 0.12, 0.5],
  ],
  "ten left": [[0, 698, 0.14, 0.5]],
  three: [[0, 784, 0.1, 0.6]],
  two: [[0, 784, 0.1, 0.6]],
  one: [[0, 784, 0.1, 0.7]],
  block: [
    [0, 440, 0.7, 0.7],
    [0.02, 554, 0.7, 0.6],
    [0.04, 659, 0.9, 0.6],
  ],
  end: [
    [0, 659, 0.5, 0.8],
    [0.3, 554, 0.5, 0.8],
    [0.6, 440, 1.2, 0.8],
  ],
  beat: [[0, 1320, 0.03, 0.25]],
};

type Out = { cancel: () => void };

/** Puts a sound on an audio clock. */
export function ring(context: BaseAudioContext, out: AudioNode, sound: Sound, at: number): Out {
  const made = NOTES[sound].map(([after, hertz, rings, loud]) => {
    const tone = context.createOscillator();
    const gain = context.createGain();
    tone.type = "triangle";
    tone.frequency.value = hertz;
    gain.gain.setValueAtTime(0, at + after);
    gain.gain.linearRampToValueAtTime(loud, at + after + 0.008);
    gain.gain.exponentialRampToValueAtTime(0.001, at + after + rings);
    tone.connect(gain).connect(out);
    tone.start(at + after);
    tone.stop(at + after + rings + 0.02);
    return tone;
  });
  return {
    cancel: () =>
      made.forEach((tone) => {
        tone.onended = null;
        tone.stop();
        tone.disconnect();
      }),
  };
}

/** How long a sound can be heard, in ms. */
const lengthOf = (sound: Sound): number => 1000 * Math.max(...NOTES[sound].map(([after, , rings]) => after + rings));

/**
 * What sounds within a while from now, with the moment (ms, as the server counts) at which it does; and what was to
 * sound since a second of the axis that was looked at before (the beats of a tempo left out).
 */
export function soundsAhead(runState: RunState, now: number, beatsOf?: string, since = runState.second): Planned[] {
  if (runState.state !== "runs" || runState.beganAt === null) return [];
  const wait = runState.added_s * 1000;
  const until = runState.second + Math.max(0, AHEAD_MS - wait) / 1000;
  const goal = runState.stopsAt ?? Infinity;
  const at = (second: number) => now + wait + (second - runState.second) * 1000;
  const cues: Planned[] = runState.sheet.cues
    .filter((cue) => cue.second > since && cue.second <= until && cue.second <= goal)
    .map((cue) => ({ key: `${cue.call}@${cue.second}`, sound: cue.call, words: cue.words, at: at(cue.second) }));
  const beats =
    beatsOf === undefined ? [] : beatSeconds(runState.sheet, beatsOf, runState.second, Math.min(until, goal));
  return [
    ...cues,
    ...beats.map((second) => ({ key: `beat@${second}`, sound: "beat" as const, words: "", at: at(second) })),
  ];
}

/** The seconds at which a phase of the tempo of somebody's repetitions begins. */
export function beatSeconds(sheet: Sheet, person: string, from: number, to: number): number[] {
  const sets = sheet.people.find((eachPerson) => eachPerson.id === person)?.sets ?? [];
  return sets.flatMap((set) => {
    const whole = set.tempo_s.reduce((sum, phase) => sum + phase, 0);
    if (whole <= 0 || set.start_s + set.seconds < from || set.start_s > to) return [];
    const found: number[] = [];
    for (let start = set.start_s; start < set.start_s + set.seconds && start <= to; start += whole) {
      let at = start;
      for (const phase of set.tempo_s) {
        if (phase > 0 && at > from && at <= to && at < set.start_s + set.seconds) found.push(at);
        at += phase;
      }
    }
    return found;
  });
}

type Clock = { currentTime: number };

/** Keeps what is on the audio clock true to the server's: call `look` a few times a second. */
export class Scheduler {
  private readonly placed = new Map<string, { at: number; due: number; out: Out }>();

  constructor(
    private readonly clock: Clock,
    private readonly place: (planned: Planned, at: number) => Out,
    private readonly miss: (planned: Planned) => void = () => undefined,
  ) {}

  look(planned: readonly Planned[], now: number): void {
    const wanted = new Map(planned.map((item) => [item.key, item]));
    for (const [key, { at, due, out }] of this.placed) {
      const one = wanted.get(key);
      const sounds = (at - this.clock.currentTime) * 1000;
      if (!one) {
        // what is due by now is only waiting for a clock that is a little behind
        if (sounds > 0 && now < due - APART_MS) out.cancel();
        this.placed.delete(key);
      } else if (sounds > SETTLED_MS && Math.abs(one.at - now - sounds) > APART_MS) {
        out.cancel();
        this.placed.delete(key);
      }
    }
    for (const item of planned) {
      if (this.placed.has(item.key)) continue;
      // what is past by less than it would ring is rung late; what is past by more was missed, and that is said
      if (now - item.at >= lengthOf(item.sound)) {
        this.miss(item);
        continue;
      }
      const at = this.clock.currentTime + Math.max(0, item.at - now) / 1000;
      this.placed.set(item.key, { at, due: item.at, out: this.place(item, at) });
    }
  }

  /** Takes back everything that has not sounded. */
  clear(): void {
    this.look([], 0);
  }
}
