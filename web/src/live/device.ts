/**
 * What this device keeps of runs: the last state of each it took up, and every event until the server has acknowledged
 * it. Written with strict durability before it is drawn or sent: a browser that is killed right after has lost nothing.
 */
import { openDB, type DBSchema, type IDBPDatabase } from "idb";

import type { Me } from "../api/client";
import type { LiveRun, RunEvent } from "../api/runs";
import { storageFailed } from "../shared/safeStorage";
import { NOT_MEASURED, type Offset } from "./serverClock";

/** An event that waits; `of` says of which run, for when nothing else tells it any more. */
type Waiting = { id: string; owner: string; run: number; event: RunEvent; of?: RunNamed };
type RunNamed = { name: string; opened_at: string };
interface Kept extends DBSchema {
  runs: { key: string; value: { key: string; owner: string; live: LiveRun } };
  waiting: { key: string; value: Waiting; indexes: { "by-run": [string, number] } };
  device: { key: string; value: unknown };
}

const OPENS_WITHIN_MS = 4_000;
let opened: Promise<IDBPDatabase<Kept>> | null = null;

/** The database; one that refuses to open, or never answers, is an error, and is tried again the next time. */
function database(): Promise<IDBPDatabase<Kept>> {
  opened ??= new Promise<IDBPDatabase<Kept>>((resolve, reject) => {
    const timer = window.setTimeout(() => reject(new Error("its storage does not answer")), OPENS_WITHIN_MS);
    openDB<Kept>("oaken-runs", 1, {
      upgrade(kept) {
        kept.createObjectStore("runs", { keyPath: "key" });
        kept.createObjectStore("waiting", { keyPath: "id" }).createIndex("by-run", ["owner", "run"]);
        kept.createObjectStore("device");
      },
    })
      .then(resolve, reject)
      .finally(() => window.clearTimeout(timer));
  });
  opened.catch(() => (opened = null));
  return opened;
}

/** What this page keeps where the browser keeps nothing: it is sent at once, and gone when the page closes. */
const memory = {
  runs: new Map<string, LiveRun>(),
  waiting: new Map<string, Waiting>(),
  device: new Map<string, unknown>(),
};

async function attempt<Found>(
  act: (kept: IDBPDatabase<Kept>) => Promise<Found>,
  otherwise: () => Found,
): Promise<Found> {
  try {
    return await act(await database());
  } catch (error) {
    storageFailed(error);
    return otherwise();
  }
}

const STRICT = { durability: "strict" } as const;

/** A name for this device that stays, whoever is signed in. */
export function deviceName(): Promise<string> {
  const fresh = () => Array.from(crypto.getRandomValues(new Uint8Array(6)), (item) => item.toString(36)).join("");
  return attempt(
    async (kept) => {
      const change = kept.transaction("device", "readwrite", STRICT);
      const known = await change.store.get("name");
      const name = typeof known === "string" ? known : fresh();
      if (name !== known) await change.store.put(name, "name");
      await change.done;
      return name;
    },
    () => {
      const name = String(memory.device.get("name") ?? fresh());
      memory.device.set("name", name);
      return name;
    },
  );
}

/** Keeps events until the server has them, all or none. When this returns they are on this device's disk, or, where the
 * browser refuses that, in this page. */
export async function keepWaiting(
  owner: string,
  run: number,
  events: readonly RunEvent[],
  of?: RunNamed,
): Promise<void> {
  const waiting = events.map((event) => ({ id: `${run}/${event.id}`, owner, run, event, ...(of && { of }) }));
  await attempt(
    async (kept) => {
      const change = kept.transaction("waiting", "readwrite", STRICT);
      await Promise.all(waiting.map((item) => change.store.put(item)));
      await change.done;
    },
    () => waiting.forEach((item) => memory.waiting.set(item.id, item)),
  );
}

/** Everything that waits on this device, of every account and run. */
async function everythingWaiting(): Promise<Waiting[]> {
  const kept = await attempt(
    (found) => found.getAll("waiting"),
    () => [],
  );
  return [...kept, ...memory.waiting.values()];
}

export async function waitingOf(owner: string, run: number): Promise<RunEvent[]> {
  const kept = await attempt(
    (found) => found.getAllFromIndex("waiting", "by-run", [owner, run]),
    () => [],
  );
  const held = [...memory.waiting.values()].filter((item) => item.owner === owner && item.run === run);
  return [...kept, ...held].map((item) => item.event);
}

export async function dropWaiting(run: number, ids: readonly string[]): Promise<void> {
  ids.forEach((id) => memory.waiting.delete(`${run}/${id}`));
  await attempt(
    async (kept) => {
      const change = kept.transaction("waiting", "readwrite");
      await Promise.all(ids.map((id) => change.store.delete(`${run}/${id}`)));
      await change.done;
    },
    () => undefined,
  );
}

/** What was pressed on this device for one run by one account, and has not been sent. */
export type Left = { owner: string; run: number; name: string; opened_at: string; events: RunEvent[] };

/** Everything that was pressed here and has not been sent, by account and run; what the class was called where that is
 * known. */
export async function leftOver(): Promise<Left[]> {
  const found = new Map<string, Left>();
  for (const { owner, run, event, of } of await everythingWaiting()) {
    const key = `${owner} ${run}`;
    const named = of ?? found.get(key) ?? (await keptRun(owner, run)) ?? { name: "", opened_at: "" };
    const { name, opened_at } = named;
    found.set(key, { owner, run, name, opened_at, events: [...(found.get(key)?.events ?? []), event] });
  }
  return [...found.values()];
}

export async function keepRun(owner: string, live: LiveRun): Promise<void> {
  const key = `${owner}/${live.id}`;
  await attempt(
    async (kept) => void (await kept.put("runs", { key, owner, live })),
    () => void memory.runs.set(key, live),
  );
}

export async function keptRun(owner: string, run: number): Promise<LiveRun | null> {
  const key = `${owner}/${run}`;
  const held = memory.runs.get(key) ?? null;
  return attempt(
    async (kept) => (await kept.get("runs", key))?.live ?? held,
    () => held,
  );
}

/** Who uses this device: a class that runs goes on without the server as theirs. Strictly kept, as everything here: a
 * browser that is killed forgets what it keeps elsewhere. */
export async function keepMe(me: Me): Promise<void> {
  await keepOnDevice("me", me);
}

export async function keptMe(): Promise<Me | null> {
  const me = await keptOnDevice<Me>("me");
  // what an older page kept names no permissions
  return me ? { ...me, permissions: me.permissions ?? [] } : null;
}

export async function keepOffset(offset: Offset): Promise<void> {
  await keepOnDevice("offset", offset);
}

export async function keptOffset(): Promise<Offset> {
  return (await keptOnDevice<Offset>("offset")) ?? NOT_MEASURED;
}

async function keptOnDevice<Kept>(key: string): Promise<Kept | undefined> {
  const found = await attempt(
    async (kept) => (await kept.get("device", key)) ?? memory.device.get(key),
    () => memory.device.get(key),
  );
  // only this module writes there
  return found as Kept | undefined;
}

async function keepOnDevice(key: string, value: unknown): Promise<void> {
  await attempt(
    async (kept) => {
      const change = kept.transaction("device", "readwrite", STRICT);
      await change.store.put(value, key);
      await change.done;
    },
    () => void memory.device.set(key, value),
  );
}

/** Forgets what was taken up, and by whom: whoever signs out leaves nothing of anybody behind but what is still to be
 * sent. */
export async function forgetRuns(): Promise<void> {
  memory.runs.clear();
  memory.device.delete("me");
  await attempt(
    async (kept) => {
      await kept.clear("runs");
      await kept.delete("device", "me");
    },
    () => undefined,
  );
}
