import { useEffect, useState } from "react";

import { lookFromWall, serverTimeFromWall, type RunEvent, type WallRun } from "../api/runs";
import { keepOffset, keptOffset } from "../live/device";
import { DeviceClock } from "../live/deviceClock";
import { measureOffset } from "../live/serverClock";
import { Stream } from "../live/stream";
import { errorWords, read } from "../basis/entries";

const KEPT = "oaken/wall/";
const MEASURE_EVERY_MS = 60_000;
/** What changes the plan: its new sheet has to be asked for. */
const CHANGES = new Set<RunEvent["kind"]>(["changed", "unit_lost", "unit_back", "withdrawn"]);

/** A run as the wall follows it; what was seen last is kept, so that the wall goes on, and starts, without the server. */
export function useWallRun(token: string) {
  const [wall, setWall] = useState<WallRun | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [alone, setAlone] = useState(false);
  const [clock] = useState(() => new DeviceClock());
  const now = clock.now;

  useEffect(() => {
    let over = false;
    let seen: WallRun | null = null;
    const show = (next: WallRun) => {
      seen = next;
      setWall(next);
      setProblem(null);
      localStorage.setItem(KEPT + token, JSON.stringify(next));
    };
    async function measure() {
      try {
        const found = await measureOffset(() => serverTimeFromWall(token));
        void keepOffset(found);
        clock.take(found);
        // nobody stands at the wall to be asked: it goes as the server does
        if (clock.step_ms) clock.decide("server");
      } catch (error) {
        console.warn("The server's clock could not be asked.", error);
      }
    }
    async function load() {
      stream.asked();
      try {
        const next = await lookFromWall(token);
        if (over) return;
        show(next);
        setAlone(false);
        void measure();
        stream.follow(`/api/wall/${token}/stream?after=${next.seq}`);
      } catch (error) {
        if (over) return;
        const words = errorWords(error);
        if (words.includes("does not exist")) {
          // revoked: what was kept goes as well
          localStorage.removeItem(KEPT + token);
          seen = null;
          setWall(null);
          setProblem("This address shows nothing (any more). Ask the instructor for a new one.");
          return;
        }
        const kept = localStorage.getItem(KEPT + token);
        if (!seen && kept) show(read<WallRun>(kept));
        setAlone(true);
        if (!seen) setProblem("The server does not answer yet. It is asked again.");
      }
    }
    const stream = new Stream({
      heard: () => setAlone(false),
      lost: () => setAlone(true),
      again: () => void load(),
      on: {
        events: (found) => {
          if (!found.length || !seen) return;
          const known = new Set(seen.events.map((event) => event.id));
          const fresh = found.filter((event) => !known.has(event.id));
          if (!fresh.length) return;
          show({ ...seen, events: [...seen.events, ...fresh] });
          if (fresh.some((event) => CHANGES.has(event.kind))) void load();
        },
        gone: () => void load(),
      },
    });
    const measuring = window.setInterval(() => void measure(), MEASURE_EVERY_MS);
    void keptOffset()
      .then((kept) => clock.begin(kept))
      .finally(() => void load());
    return () => {
      over = true;
      stream.close();
      window.clearInterval(measuring);
    };
  }, [token, clock]);
  return { wall, problem, now, alone };
}
