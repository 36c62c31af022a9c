import { keepPreviousData, useQuery } from "@tanstack/react-query";

import type { components } from "./schema";
import {
  api,
  asFile,
  dataOf,
  done,
  savedOf,
  type Air,
  type Calibration,
  type Decision,
  type Estimate,
  type PersonOut,
  type PersonRecord,
  type Plan,
  type ReadOut,
  type RosterPreview,
  type Saved,
} from "./client";
import { numberOf } from "./queries";

/** Everybody with their group. */
export function useRoster() {
  return useQuery({
    queryKey: ["people", "roster"],
    queryFn: async () => dataOf(await api.GET("/api/people/roster")),
  });
}

/** How often everybody came, and when last. */
export function useAttendance() {
  return useQuery({
    queryKey: ["people", "attendance"],
    queryFn: async () => new Map(dataOf(await api.GET("/api/attendance")).map((item) => [item.person, item])),
  });
}

/** What people may have to be careful about. */
export function useConditions() {
  return useQuery({
    queryKey: ["conditions"],
    queryFn: async () => dataOf(await api.GET("/api/conditions")),
    staleTime: Infinity,
  });
}

/** One person, asked for afresh each time the screen is opened. */
export function usePerson(key: string) {
  return useQuery({
    queryKey: ["person", key],
    queryFn: async () => dataOf(await api.GET("/api/people/{key}", { params: { path: { key } } })),
    staleTime: Infinity,
    gcTime: 0,
  });
}

export type Crowd = Required<components["schemas"]["FirstPeople"]>;

/** Keep as many people of each level, before anybody has a name. */
export async function addCrowd(told: Crowd) {
  return dataOf(await api.POST("/api/people/crowd", { body: told }));
}

export async function addPerson(record: PersonRecord): Promise<PersonOut> {
  return dataOf(await api.POST("/api/people", { body: record }));
}

/** A person as a document. */
export const keptAs = (out: PersonOut) => ({ document: out.record, revision: out.revision });

export async function savePerson(
  key: string,
  based_on: number,
  record: PersonRecord,
): Promise<Saved<ReturnType<typeof keptAs>>> {
  const answer = savedOf(await api.PUT("/api/people/{key}", { params: { path: { key } }, body: { based_on, record } }));
  return "kept" in answer ? { kept: keptAs(answer.kept) } : { ...answer, newer: keptAs(answer.newer) };
}

/** The heart that follows from what is written down, before it is kept. */
export function useBody(record: PersonRecord) {
  return useQuery({
    queryKey: ["body", JSON.stringify(record.person)],
    queryFn: async () => dataOf(await api.POST("/api/bodies", { body: record })),
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 60_000,
  });
}

export type BestFormula = "epley" | "brzycki" | "lombardi" | "wathen" | "oconner" | "mayhew" | "lander";

export async function bestFromSet(
  load_kg: number,
  reps: number,
  in_reserve: number,
  formula: BestFormula,
): Promise<Estimate> {
  return dataOf(await api.POST("/api/best", { body: { load_kg, reps, in_reserve, formula } }));
}

export async function previewRoster(file: Blob): Promise<RosterPreview> {
  return dataOf(await api.POST("/api/people/roster/preview", asFile(file)));
}

export async function importRoster(file: Blob, only_right: boolean) {
  const answer = await api.POST("/api/people/roster", { params: { query: { only_right } }, ...asFile(file) });
  return dataOf(answer);
}

export async function rosterFile(pounds: boolean): Promise<{ name: string; text: string }> {
  const answer = await api.GET("/api/people/roster/file", { params: { query: { pounds } } });
  return dataOf(answer);
}

export function useRecordings(key: string) {
  return useQuery({
    queryKey: ["recordings", key],
    queryFn: async () => dataOf(await api.GET("/api/people/{key}/recordings", { params: { path: { key } } })),
  });
}

export function useRuns(wanted = true) {
  return useQuery({
    queryKey: ["runs"],
    enabled: wanted,
    queryFn: async () => dataOf(await api.GET("/api/runs")),
  });
}

export async function holdClass(class_id: number, revision: number, began_at: string, people: string[]) {
  return dataOf(await api.POST("/api/runs/past", { body: { class_id, revision, began_at, people } }));
}

export async function addRecording(run_id: number, person: string, file: File, offset: number | null) {
  const query = { person, name: file.name.slice(-200), ...(offset === null ? {} : { offset_s: offset }) };
  const answer = await api.POST("/api/runs/{run_id}/recordings", {
    params: { path: { run_id }, query },
    ...asFile(file),
  });
  return dataOf(answer);
}

/** What a recording holds and whose it seems to be; nothing is kept. */
export async function lookAtRecording(run_id: number, file: File) {
  const params = { path: { run_id }, query: { name: file.name.slice(-200) } };
  return dataOf(await api.POST("/api/runs/{run_id}/recordings/look", { params, ...asFile(file) }));
}

export async function simulateRecording(run: number, person: string) {
  const answer = await api.POST("/api/runs/{run_id}/simulated", {
    params: { path: { run_id: run } },
    body: { person },
  });
  return dataOf(answer);
}

export async function deleteRecording(key: string, recording_id: number): Promise<void> {
  const answer = await api.DELETE("/api/people/{key}/recordings/{recording_id}", {
    params: { path: { key, recording_id } },
  });
  done(answer);
}

export async function calibrate(key: string): Promise<Calibration> {
  const answer = await api.POST("/api/people/{key}/calibration", { params: { path: { key } }, body: { use: true } });
  return dataOf(answer);
}

export async function forgetCalibration(key: string): Promise<void> {
  const answer = await api.DELETE("/api/people/{key}/calibration", { params: { path: { key } } });
  done(answer);
}

export async function erasePerson(key: string): Promise<void> {
  const answer = await api.DELETE("/api/people/{key}/everything", { params: { path: { key } } });
  done(answer);
}

/** What the air of a room means. */
export function useHeat(air: Air) {
  return useQuery({
    queryKey: ["heat", air.temperature_c, air.humidity_percent],
    queryFn: async () => dataOf(await api.POST("/api/heat", { body: air })),
    placeholderData: keepPreviousData,
    retry: false,
  });
}

/** Everything to read before a class starts today. */
export function useStartList(plan: Plan) {
  return useQuery({
    queryKey: ["before-start", numberOf(plan)],
    queryFn: async () => dataOf(await api.POST("/api/pre-class-check", { body: { plan } })),
    retry: false,
    gcTime: 0,
  });
}

export async function keepRead(class_id: number, revision: number, items: Decision[]): Promise<ReadOut> {
  const answer = await api.POST("/api/classes/{class_id}/read", {
    params: { path: { class_id } },
    body: { revision, items },
  });
  return dataOf(answer);
}

/** What was read before this class, the last time first. */
export function useRead(class_id: number) {
  return useQuery({
    queryKey: ["read", class_id],
    queryFn: async () => dataOf(await api.GET("/api/classes/{class_id}/read", { params: { path: { class_id } } })),
  });
}

/** Everybody's loads as they can really be set. */
export function useLoads(plan: Plan) {
  return useQuery({
    queryKey: ["loads", numberOf(plan)],
    queryFn: async () => dataOf(await api.POST("/api/loads", { body: { plan } })),
    retry: false,
    gcTime: 60_000,
  });
}
