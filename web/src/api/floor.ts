import { keepPreviousData, useQuery } from "@tanstack/react-query";

import type { components } from "./schema";

import {
  api,
  dataOf,
  savedOf,
  type Affected,
  type Circle,
  type OneMore,
  type Option,
  type Plan,
  type Room,
  type RoomOut,
  type RotationJob,
  type Saved,
  type Taken,
} from "./client";
import { numberOf } from "./queries";
import { present } from "../basis/entries";

/** Begin to look for the best rotation of a block; what can be had at once is in the answer. */
export async function beginRotation(plan: Plan, block: string, effort: number): Promise<RotationJob> {
  return dataOf(await api.POST("/api/rotations", { body: { plan, block, effort } }));
}

/** How far a search is, asked again and again until it has ended. */
export function useRotationJob(begun: RotationJob | null) {
  return useQuery({
    queryKey: ["rotation", begun?.id],
    enabled: begun !== null,
    initialData: begun ?? undefined,
    queryFn: async () =>
      dataOf(
        await api.GET("/api/rotations/{job_id}", { params: { path: { job_id: present(begun, "The search").id } } }),
      ),
    refetchInterval: (query) => (isOver(query.state.data) ? false : 300),
    gcTime: 0,
  });
}

export function isOver(job: RotationJob | undefined): boolean {
  return job !== undefined && job.state !== "waiting" && job.state !== "running";
}

/** The plan with the best rotation that a search has found so far. */
export async function planOfRotation(job: string): Promise<Plan> {
  const path = { job_id: job };
  return dataOf(await api.GET("/api/rotations/{job_id}/plan", { params: { path } })).plan;
}

/** Stop a search; its best stays usable. */
export async function cancelRotation(job: string): Promise<RotationJob> {
  return dataOf(await api.DELETE("/api/rotations/{job_id}", { params: { path: { job_id: job } } }));
}

/** Who begins where round a circuit, so that loads seldom change. */
export async function arrangeCircle(plan: Plan, part: string): Promise<Circle> {
  return dataOf(await api.POST("/api/circle", { body: { plan, part } }));
}

/** The class replayed with people as they are. */
export function useReplay(plan: Plan, wanted: boolean) {
  return useQuery({
    queryKey: ["replay", numberOf(plan)],
    enabled: wanted,
    queryFn: async ({ signal }) => dataOf(await api.POST("/api/replay", { body: { plan }, signal })),
    placeholderData: keepPreviousData,
    structuralSharing: false,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
  });
}

/** Who comes to every machine when, and with which load. */
export function useQueues(plan: Plan, wanted: boolean) {
  return useQuery({
    queryKey: ["queues", numberOf(plan)],
    enabled: wanted,
    queryFn: async ({ signal }) => dataOf(await api.POST("/api/queues", { body: { plan }, signal })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
  });
}

/** A machine is broken or taken. */
export async function whatIfTaken(plan: Plan, unit: string): Promise<Taken> {
  return dataOf(await api.POST("/api/what-if/taken", { body: { plan, unit } }));
}

/** What could stand in the place of an exercise. */
export async function substitutesOf(plan: Plan, part: string): Promise<Affected> {
  return dataOf(await api.POST("/api/what-if/substitutes", { body: { plan, part } }));
}

/** Ways to carry out a changed plan with few people sent elsewhere. */
export async function repairOptions(before: Plan, after: Plan): Promise<Option[]> {
  return dataOf(await api.POST("/api/what-if/repair", { body: { before, after } }));
}

/** Somebody leaves or comes. */
export async function whatIfPeople(plan: Plan, leaves: string[], comes: string[]): Promise<Option[]> {
  return dataOf(await api.POST("/api/what-if/people", { body: { plan, leaves, comes } }));
}

/** What one machine more of each kind would save. */
export async function whatIfOneMore(plan: Plan): Promise<OneMore[]> {
  return dataOf(await api.POST("/api/what-if/one-more", { body: { plan } }));
}

/** A room to work on. */
export function useRoom(key: string) {
  return useQuery({
    queryKey: ["room", key],
    queryFn: async () => dataOf(await api.GET("/api/rooms/{key}", { params: { path: { key } } })),
    staleTime: Infinity,
    gcTime: 0,
  });
}

/** A room as a document. */
export const keptAs = (out: RoomOut) => ({ document: out.room, revision: out.revision });

export async function saveRoom(room: Room, based_on: number): Promise<Saved<ReturnType<typeof keptAs>>> {
  const answer = savedOf(
    await api.PUT("/api/rooms/{key}", { params: { path: { key: room.id } }, body: { based_on, room } }),
  );
  return "kept" in answer ? { kept: keptAs(answer.kept) } : { ...answer, newer: keptAs(answer.newer) };
}

/** The short list from which a first room is told. */
export function useThings() {
  return useQuery({
    queryKey: ["things"],
    queryFn: async () => dataOf(await api.GET("/api/rooms/things")),
    staleTime: Infinity,
  });
}

/** Keep a room from how many of what stand there, everything placed sensibly. */
export async function createFirstRoom(told: components["schemas"]["FirstRoom"]): Promise<RoomOut> {
  return dataOf(await api.POST("/api/rooms/first", { body: told }));
}

export async function createRoom(room: Room): Promise<RoomOut> {
  return dataOf(await api.POST("/api/rooms", { body: { room } }));
}
