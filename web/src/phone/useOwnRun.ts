import { useCallback, useEffect, useRef, useState } from "react";

import { lookFromPhone, pressOnPhone, type OwnPress, type OwnRun } from "../api/phones";
import { errorWords, read } from "../basis/entries";
import { newId } from "../basis/ids";
import { Stream } from "../live/stream";
import { FaultyPlan } from "../api/client";

const KEPT = "oaken/phone/";
/** So often it is asked again without being told: what nobody presses goes on as well. */
const ASKS_EVERY_MS = 15_000;
/** Everybody's phones hear of a change together: each asks within so long, not all at once. */
const APART_MS = 300;
/** What goes on by itself is asked for so long after it should have changed. */
const AFTER_MS = 400;
/** A press that could not be sent is tried again after so long. */
const AGAIN_MS = 3_000;

/** What the server said, and when by this page's clock. */
export type OwnNow = { own: OwnRun; at: number };
type Pressed = Omit<OwnPress, "ago_s"> & { at: number };

/** Somebody's way through a class as their own phone follows it; presses wait on the phone until the server has them. */
export function useOwnRun(token: string) {
  const [now, setNow] = useState<OwnNow | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [alone, setAlone] = useState(false);
  const [waiting, setWaiting] = useState<Pressed[]>(() => read<Pressed[]>(localStorage.getItem(KEPT + token) ?? "[]"));
  const [refused, setRefused] = useState<string | null>(null);
  const queue = useRef(waiting);
  const ask = useRef<() => void>(() => {});

  const keep = useCallback(
    (next: Pressed[]) => {
      queue.current = next;
      setWaiting(next);
      if (next.length) localStorage.setItem(KEPT + token, JSON.stringify(next));
      else localStorage.removeItem(KEPT + token);
    },
    [token],
  );

  useEffect(() => {
    let over = false;
    let sending = false;
    let timer = 0;
    let follows = false;
    const show = (own: OwnRun) => {
      setNow({ own, at: performance.now() });
      setProblem(null);
      setAlone(false);
      later(own.view.left_s > 0 ? Math.min(ASKS_EVERY_MS, own.view.left_s * 1000 + AFTER_MS) : ASKS_EVERY_MS);
    };
    function later(milliseconds: number) {
      window.clearTimeout(timer);
      timer = window.setTimeout(() => void look(), milliseconds);
    }
    function failed(error: unknown) {
      const words = errorWords(error);
      if (words.includes("does not exist")) {
        keep([]);
        setNow(null);
        setProblem("This address shows nothing (any more). Ask the instructor for a new one.");
        window.clearTimeout(timer);
        stream.close();
        return;
      }
      setAlone(true);
      setProblem((before) => before ?? "The server does not answer yet. It is asked again.");
      later(AGAIN_MS);
    }
    async function look() {
      if (over) return;
      if (queue.current.length) return send();
      stream.asked();
      try {
        const own = await lookFromPhone(token);
        if (over) return;
        show(own);
        if (!follows) {
          follows = true;
          stream.follow(`/api/phone/${token}/stream`);
        }
      } catch (error) {
        if (!over) failed(error);
      }
    }
    async function send() {
      if (sending) return;
      sending = true;
      try {
        for (let press = queue.current[0]; press; press = queue.current[0]) {
          const { at, ...said } = press;
          try {
            const own = await pressOnPhone(token, { ...said, ago_s: Math.max(0, (Date.now() - at) / 1000) });
            if (!over) show(own);
          } catch (error) {
            // what the server will not keep is told, and not sent for ever
            if (!(error instanceof FaultyPlan)) throw error;
            setRefused(error.faults.map((fault) => fault.message).join("; "));
            later(0);
          }
          keep(queue.current.slice(1));
        }
      } catch (error) {
        if (!over) failed(error);
      } finally {
        sending = false;
      }
    }
    const stream = new Stream({
      heard: () => setAlone(false),
      lost: () => {
        follows = false;
        setAlone(true);
      },
      again: () => void look(),
      on: { changed: () => later(Math.random() * APART_MS), gone: () => void look() },
    });
    const awake = () => {
      if (document.visibilityState === "visible") void look();
    };
    ask.current = () => void look();
    document.addEventListener("visibilitychange", awake);
    window.addEventListener("online", awake);
    void look();
    return () => {
      over = true;
      stream.close();
      window.clearTimeout(timer);
      document.removeEventListener("visibilitychange", awake);
      window.removeEventListener("online", awake);
    };
  }, [token, keep]);

  const press = useCallback(
    (what: Omit<OwnPress, "id" | "ago_s">) => {
      setRefused(null);
      keep([...queue.current, { ...what, id: newId(), at: Date.now() }]);
      ask.current();
    },
    [keep],
  );
  return { now, problem, alone, waiting, refused, press };
}
