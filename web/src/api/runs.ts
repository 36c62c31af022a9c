import { useQuery } from "@tanstack/react-query";

import { api, dataOf, done } from "./client";
import type { components } from "./schema";

type Schemas = components["schemas"];
export type Run = Schemas["RunOut"];
export type Sheet = Schemas["Sheet"];
export type SheetFloor = Schemas["SheetFloor"];
export type RunEvent = Schemas["EventList"]["events"][number];
export type SetDone = Extract<RunEvent, { kind: "set_done" }>;
/** A run as the server hands it out; events come with the number under which they were kept. */
export type LiveRun = Omit<Schemas["LiveRun"], "events"> & { events: RunEvent[] };
export type WallRun = Omit<Schemas["WallRun"], "events"> & { events: RunEvent[] };
export type Wall = Schemas["WallOut"];
type EventsKept = Schemas["EventsKept"];

/** Gets a saved class ready to be run. */
export async function openRun(class_id: number, revision: number): Promise<Run> {
  return dataOf(await api.POST("/api/runs", { body: { class_id, revision } }));
}

export async function listRuns(): Promise<Run[]> {
  return dataOf(await api.GET("/api/runs"));
}

/** A run of this studio by its number; null where there is none. */
export async function findRun(run: number): Promise<Run | null> {
  return (await listRuns()).find((listRun) => listRun.id === run) ?? null;
}

export async function takeUp(run_id: number): Promise<LiveRun> {
  return dataOf(await api.GET("/api/runs/{run_id}/live", { params: { path: { run_id } } })) as unknown as LiveRun;
}

export async function sheetsOf(run_id: number): Promise<Sheet[]> {
  return dataOf(await api.GET("/api/runs/{run_id}/sheets", { params: { path: { run_id } } })).sheets;
}

export async function sendEvents(run_id: number, events: RunEvent[]): Promise<EventsKept> {
  const body = { events };
  return dataOf(await api.POST("/api/runs/{run_id}/events", { params: { path: { run_id } }, body }));
}

/** The time of a run by the server, in milliseconds as `Date.now()` counts them. */
export async function serverTime(run: number): Promise<number> {
  return Date.parse(dataOf(await api.GET("/api/clock", { params: { query: { run } } })).now);
}

export async function lookFromWall(token: string): Promise<WallRun> {
  return dataOf(await api.GET("/api/wall/{token}", { params: { path: { token } } })) as unknown as WallRun;
}

export async function listWalls(run_id: number): Promise<Wall[]> {
  return dataOf(await api.GET("/api/runs/{run_id}/walls", { params: { path: { run_id } } }));
}

export async function addWall(run_id: number, names: Wall["names"]): Promise<Wall> {
  return dataOf(await api.POST("/api/runs/{run_id}/walls", { params: { path: { run_id } }, body: { names } }));
}

export async function revokeWall(run_id: number, wall_id: number): Promise<void> {
  done(await api.DELETE("/api/runs/{run_id}/walls/{wall_id}", { params: { path: { run_id, wall_id } } }));
}

export type Ask = Schemas["AskIn"]["ask"];
export type Offer = Schemas["Offer"];

/** What can be done about something that happened, each way with its effect; nothing is kept. */
export async function askOffers(run_id: number, ask: Ask): Promise<Offer[]> {
  return dataOf(await api.POST("/api/runs/{run_id}/offers", { params: { path: { run_id } }, body: { ask } }));
}

export type After = Schemas["AfterOut"];

/** What was planned beside what actually happened. */
export async function afterRun(run_id: number): Promise<After> {
  return dataOf(await api.GET("/api/runs/{run_id}/after", { params: { path: { run_id } } }));
}

/** The server's time as the wall may ask for it. */
export async function serverTimeFromWall(token: string): Promise<number> {
  return Date.parse(dataOf(await api.GET("/api/wall/{token}/clock", { params: { path: { token } } })).now);
}

export type HeartNow = Schemas["HeartNow"];

/** Puts simulated belts on everybody of a run: the demo's stand-in for real ones. */
export async function startBelts(run_id: number): Promise<void> {
  done(await api.POST("/api/runs/{run_id}/simulated-belts", { params: { path: { run_id } }, body: { without: [] } }));
}

export type Packet = { at: string; hex: string };

/** Sends what a belt said to this browser. */
export async function sendPackets(run_id: number, person: string, packets: Packet[]): Promise<void> {
  done(await api.POST("/api/runs/{run_id}/packets", { params: { path: { run_id } }, body: { person, packets } }));
}

export type Card = Schemas["Card"];

/** What everybody's card says; kept, so that it is there without the server as well. */
export function useCards(run_id: number): Map<string, Card> {
  const cards = useQuery({
    queryKey: ["cards", run_id],
    queryFn: async () => dataOf(await api.GET("/api/runs/{run_id}/cards", { params: { path: { run_id } } })),
    staleTime: Infinity,
  });
  return new Map((cards.data ?? []).map((card) => [card.person, card]));
}
