import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { api, dataOf, done } from "./client";
import type { components } from "./schema";
import { present } from "../basis/entries";

type Schemas = components["schemas"];
export type Progress = Schemas["ProgressOut"];
export type ExerciseProgress = Schemas["ExerciseProgress"];
export type Session = Schemas["SessionOut"];
export type Beside = Schemas["BesideOut"];
export type NextLoad = Schemas["NextLoadOut"];
export type School = Schemas["SchoolInWords"]["id"];
export type LoadRules = Schemas["LoadRulesOut"];
export type HowToday = "as usual" | "bad night" | "back after illness";

/** Everything the weeks say of a person; gains are counted since a day. */
export function useProgress(key: string, since: string | null) {
  return useQuery({
    queryKey: ["progress", key, since],
    queryFn: async () =>
      dataOf(
        await api.GET("/api/people/{key}/progress", {
          params: { path: { key }, query: since === null ? {} : { since } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

/** An exercise of a person, set by set, the last day first. */
export function useSessions(key: string, exercise: string | null) {
  return useQuery({
    queryKey: ["progress", key, "sets", exercise],
    enabled: exercise !== null,
    queryFn: async () =>
      dataOf(
        await api.GET("/api/people/{key}/progress/{exercise}", {
          params: { path: { key, exercise: present(exercise, "The exercise") } },
        }),
      ),
  });
}

/** Two weeks of a person side by side, each named by one of its days. */
export function useBeside(key: string, earlier: string, later: string) {
  return useQuery({
    queryKey: ["progress", key, "beside", earlier, later],
    enabled: earlier !== "" && later !== "",
    queryFn: async () =>
      dataOf(await api.GET("/api/people/{key}/beside", { params: { path: { key }, query: { earlier, later } } })),
  });
}

export async function keepGoal(key: string, exercise: string, best_kg: number, by: string): Promise<void> {
  done(await api.PUT("/api/people/{key}/goals", { params: { path: { key } }, body: { exercise, best_kg, by } }));
}

export async function forgetGoal(key: string, exercise: string): Promise<void> {
  done(await api.DELETE("/api/people/{key}/goals/{exercise}", { params: { path: { key, exercise } } }));
}

export async function keepSchool(key: string, school: School | null): Promise<void> {
  done(await api.PUT("/api/people/{key}/load-school", { params: { path: { key } }, body: { school } }));
}

/** How this house raises loads. */
export function useLoadRules() {
  return useQuery({ queryKey: ["load-rules"], queryFn: async () => dataOf(await api.GET("/api/load-rules")) });
}

export async function keepLoadRules(rules: LoadRules["rules"]): Promise<LoadRules> {
  return dataOf(await api.PUT("/api/load-rules", { body: rules }));
}

/** What to put on next time, for everybody of a class; `today` says how people are. */
export function useNextLoads(class_id: number, today: Record<string, HowToday>) {
  return useQuery({
    queryKey: ["next-loads", class_id, today],
    queryFn: async () =>
      dataOf(await api.POST("/api/classes/{class_id}/next-loads", { params: { path: { class_id } }, body: { today } })),
    placeholderData: keepPreviousData,
  });
}

export type TakenLoad = { person: string; exercise: string; load_kg: number | null; sets_kg: number[] };

/** Makes these the working loads. */
export async function takeLoads(taken: TakenLoad[]): Promise<number> {
  return dataOf(await api.PUT("/api/next-loads", { body: { taken } })).changed;
}
