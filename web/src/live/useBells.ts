import { useCallback, useEffect, useRef, useState } from "react";

import { ring, Scheduler, soundsAhead, type Planned } from "./bells";
import { courseAt, type RunState } from "./runState";
import { read } from "../basis/entries";

type SoundChoice = {
  on: boolean;
  loud: number;
  speech: boolean;
  beat: boolean;
  vibrate: boolean;
  /** whether changes are told to a screen reader */
  announce: boolean;
};
const KEPT = "oaken/sound";
const FIRST: SoundChoice = { on: true, loud: 0.8, speech: false, beat: false, vibrate: true, announce: true };

function kept(): SoundChoice {
  try {
    return { ...FIRST, ...read<Partial<SoundChoice>>(localStorage.getItem(KEPT) ?? "{}") };
  } catch (error) {
    console.warn("The choice of sounds that was kept cannot be read.", error);
    return FIRST;
  }
}

export const canSpeak = (): boolean => "speechSynthesis" in window && window.speechSynthesis.getVoices().length > 0;
export const canVibrate = (): boolean => "vibrate" in navigator;

const SPOKEN: Partial<Record<Planned["sound"], string>> = {
  work: "begin",
  change: "change",
  rest: "rest",
  "half way": "half way",
  "ten left": "ten seconds",
  three: "three",
  two: "two",
  one: "one",
  end: "time is up",
};
const SHAKEN = new Set<Planned["sound"]>(["work", "change", "rest", "block", "end"]);

/** Rings, speaks and shakes what the runState calls. Sound begins with `check`, as browsers let it only after a press. */
export function useBells(runState: RunState | null, now: () => number, beatsOf?: string) {
  const [choice, setChoice] = useState(kept);
  const [ready, setReady] = useState(false);
  const [missed, setMissed] = useState(0);
  const audio = useRef<Audio | null>(null);
  const latest = useRef({ runState, choice, beatsOf });
  useEffect(() => {
    latest.current = { runState, choice, beatsOf };
  });

  const choose = useCallback((change: Partial<SoundChoice>) => {
    setChoice((before) => {
      const next = { ...before, ...change };
      localStorage.setItem(KEPT, JSON.stringify(next));
      return next;
    });
  }, []);

  const open = useCallback(() => {
    if (audio.current || !("AudioContext" in window)) return audio.current;
    audio.current = openAudio(
      (planned) => twin(planned, latest.current.choice),
      () => setMissed((before) => before + 1),
    );
    return audio.current;
  }, []);

  /** Lets sound begin, and plays what will be heard at a change. */
  const check = useCallback(async () => {
    const opened = open();
    if (!opened) return;
    await opened.context.resume();
    setReady(opened.context.state === "running");
    opened.out.gain.value = latest.current.choice.loud;
    ring(opened.context, opened.out, "work", opened.context.currentTime + 0.05);
  }, [open]);

  /** Lets sound begin without playing anything: with the first press that starts the class. */
  const begin = useCallback(async () => {
    const opened = open();
    await opened?.context.resume();
    setReady(opened?.context.state === "running");
  }, [open]);

  /** Three, two, one before the class begins, in so many ms; gives what takes them back. */
  const countIn = useCallback((ms: number) => {
    const opened = audio.current;
    if (!opened) return () => undefined;
    const begins = opened.context.currentTime + ms / 1000;
    const rung = (["three", "two", "one"] as const).map((sound, at) =>
      ring(opened.context, opened.out, sound, Math.max(opened.context.currentTime, begins - 3 + at)),
    );
    return () => rung.forEach((item) => item.cancel());
  }, []);

  useEffect(() => {
    if (!audio.current) return;
    audio.current.out.gain.value = choice.on ? choice.loud : 0;
  }, [choice, ready]);

  useEffect(() => {
    const worker = new Worker(new URL("./ticks.worker.ts", import.meta.url), { type: "module" });
    // from where to look for what was missed: only while the same runState went on
    let looked: Looked | null = null;
    worker.onmessage = () => {
      const { runState: base, beatsOf: whose, choice: chosen } = latest.current;
      if (!audio.current || audio.current.context.state !== "running") {
        looked = null;
        return;
      }
      const moment = now();
      const since = base && looked ? wentOn(looked, base, moment) : undefined;
      const planned = base ? soundsAhead(courseAt(base, moment), moment, chosen.beat ? whose : undefined, since) : [];
      audio.current.scheduler.look(planned, moment);
      looked = base && { base, moment };
    };
    return () => {
      worker.terminate();
      audio.current?.scheduler.clear();
    };
  }, [now]);

  useEffect(() => () => void audio.current?.context.close(), []);

  const forgetMissed = useCallback(() => setMissed(0), []);
  const possible = "AudioContext" in window;
  return { choice, choose, check, begin, countIn, ready, possible, missed, forgetMissed };
}

type Looked = { base: RunState; moment: number };
const SAME_S = 0.3;

/** Where the class stood when it was looked at before, if it only went on since then; whatever else happened meanwhile. */
export function wentOn(looked: Looked, base: RunState, moment: number): number | undefined {
  if (looked.base.sheet !== base.sheet) return undefined;
  const expected = courseAt(looked.base, moment).second;
  if (Math.abs(expected - courseAt(base, moment).second) > SAME_S) return undefined;
  return courseAt(looked.base, looked.moment).second;
}

/** What goes with a sound: said aloud, and felt. */
function twin(planned: Planned, choice: SoundChoice): void {
  if (choice.vibrate && SHAKEN.has(planned.sound) && canVibrate()) {
    navigator.vibrate(planned.sound === "end" ? [200, 100, 200, 100, 400] : 200);
  }
  if (choice.speech && choice.on && canSpeak()) {
    const words = planned.sound === "block" ? planned.words : SPOKEN[planned.sound];
    if (!words) return;
    const said = new SpeechSynthesisUtterance(words);
    said.volume = choice.loud;
    window.speechSynthesis.speak(said);
  }
}

type Audio = { context: AudioContext; out: GainNode; scheduler: Scheduler };

/** Sound with what rings it in time; `shown` is its visible twin, at the same moment. */
function openAudio(shown: (planned: Planned) => void, missing: () => void): Audio {
  const context = new AudioContext({ latencyHint: "interactive" });
  const out = context.createGain();
  out.connect(context.destination);
  const place = (planned: Planned, at: number) => {
    const sound = ring(context, out, planned.sound, at);
    const timer = window.setTimeout(() => shown(planned), (at - context.currentTime) * 1000);
    return {
      cancel: () => {
        sound.cancel();
        window.clearTimeout(timer);
      },
    };
  };
  return { context, out, scheduler: new Scheduler(context, place, missing) };
}
