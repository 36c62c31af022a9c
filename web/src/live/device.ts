/**
 * What this device keeps of runs: the last state of each it took up, and every event until the server has acknowledged
 * it. Written with strict durability before it is drawn or sent: a browser that is killed right after has lost nothing.
 */
import { openDB, type DBSchema, type IDBPDatabase } from "idb";

import type { Me } from "../api/client";
import type { LiveRun, RunEvent } from "../api/runs";
import { NOT_MEASURED, type Offset } from "./serverClock";

type Waiting = { id: string; owner: string; run: number; event: RunEvent };
interface Kept extends DBSchema {
  runs: { key: string; value: { key: string; owner: string; live: LiveRun } };
  waiting: { key: string; value: Waiting; indexes: { "by-run": [string, number] } };
  device: { key: string; value: unknown };
}

let opened: Promise<IDBPDatabase<Kept>> | null = null;
function database(): Promise<IDBPDatabase<Kept>> {
  opened ??= openDB<Kept>("oaken-runs", 1, {
    upgrade(kept) {
      kept.createObjectStore("runs", { keyPath: "key" });
      kept.createObjectStore("waiting", { keyPath: "id" }).createIndex("by-run", ["owner", "run"]);
      kept.createObjectStore("device");
    },
  });
  return opened;
}

const STRICT = { durability: "strict" } as const;

/** A name for this device that stays, whoever is signed in. */
export async function deviceName(): Promise<string> {
  const kept = await database();
  const change = kept.transaction("device", "readwrite", STRICT);
  const known = await change.store.get("name");
  const name =
    typeof known === "string"
      ? known
      : Array.from(crypto.getRandomValues(new Uint8Array(6)), (one) => one.toString(36)).join("");
  if (name !== known) await change.store.put(name, "name");
  await change.done;
  return name;
}

/** Keeps an event until the server has it. When this returns it is on this device's disk. */
export async function keepWaiting(owner: string, run: number, event: RunEvent): Promise<void> {
  const change = (await database()).transaction("waiting", "readwrite", STRICT);
  await change.store.put({ id: `${run}/${event.id}`, owner, run, event });
  await change.done;
}

export async function waitingOf(owner: string, run: number): Promise<RunEvent[]> {
  return (await (await database()).getAllFromIndex("waiting", "by-run", [owner, run])).map((one) => one.event);
}

export async function dropWaiting(run: number, ids: readonly string[]): Promise<void> {
  const change = (await database()).transaction("waiting", "readwrite");
  await Promise.all(ids.map((id) => change.store.delete(`${run}/${id}`)));
  await change.done;
}

/** How many events of an account the server has not acknowledged yet, over all runs. */
export async function countWaiting(owner: string): Promise<number> {
  return (await (await database()).getAll("waiting")).filter((one) => one.owner === owner).length;
}

export async function keepRun(owner: string, live: LiveRun): Promise<void> {
  await (await database()).put("runs", { key: `${owner}/${live.id}`, owner, live });
}

export async function keptRun(owner: string, run: number): Promise<LiveRun | null> {
  return (await (await database()).get("runs", `${owner}/${run}`))?.live ?? null;
}

/** Who uses this device: a class that runs goes on without the server as theirs. Strictly kept, as everything here: a
 * browser that is killed forgets what it keeps elsewhere. */
export async function keepMe(me: Me): Promise<void> {
  await keepOnDevice("me", me);
}

export async function keptMe(): Promise<Me | null> {
  return ((await (await database()).get("device", "me")) as Me | undefined) ?? null;
}

export async function keepOffset(offset: Offset): Promise<void> {
  await keepOnDevice("offset", offset);
}

export async function keptOffset(): Promise<Offset> {
  return ((await (await database()).get("device", "offset")) as Offset | undefined) ?? NOT_MEASURED;
}

async function keepOnDevice(key: string, value: unknown): Promise<void> {
  const change = (await database()).transaction("device", "readwrite", STRICT);
  await change.store.put(value, key);
  await change.done;
}

/** Forgets what was taken up, and by whom: whoever signs out leaves nothing of anybody behind but what is still to be
 * sent. */
export async function forgetRuns(): Promise<void> {
  const kept = await database();
  await kept.clear("runs");
  await kept.delete("device", "me");
}
