import { keepPreviousData, queryOptions, useQuery } from "@tanstack/react-query";

import { useMay } from "./account";
import { api, dataOf, done, FaultyPlan, type Catalogue, type Forecast, type Plan, type EntryRemoval } from "./client";
import { present } from "../basis/entries";

/** The classes, the one saved last first. */
export function useClasses() {
  return useQuery({
    queryKey: ["classes"],
    queryFn: async () => {
      const answer = await api.GET("/api/classes");
      return dataOf(answer);
    },
  });
}

/** One class with its newest plan; asked for afresh each time the screen is opened, after `first` is done. */
export function useClass(id: number, first: (id: number) => Promise<void> = async () => {}) {
  return useQuery({
    queryKey: ["class", id],
    queryFn: async () => {
      await first(id);
      const answer = await api.GET("/api/classes/{class_id}", { params: { path: { class_id: id } } });
      return dataOf(answer);
    },
    staleTime: Infinity,
    gcTime: 0,
  });
}

/** One class with its newest plan. */
export async function readClass(class_id: number) {
  return dataOf(await api.GET("/api/classes/{class_id}", { params: { path: { class_id } } }));
}

/** One class with its newest plan, for those who only look at it. */
export function useClassNow(id: number, enabled: boolean) {
  return useQuery({
    queryKey: ["class-now", id],
    enabled,
    queryFn: async () => dataOf(await api.GET("/api/classes/{class_id}", { params: { path: { class_id: id } } })),
  });
}

/** A forecast, and the plan it is the forecast of. */
export type Drawn = { plan: Plan; forecast: Forecast };

const numbers = new WeakMap<Plan, number>();
let given = 0;
/** A number for a plan, the same for the same object: plans are never changed, and writing one out as a key is slow. */
export function numberOf(plan: Plan): number {
  const known = numbers.get(plan);
  if (known !== undefined) return known;
  given += 1;
  numbers.set(plan, given);
  return given;
}

/** How the forecast of a draft is asked for. */
export function forecastOf(plan: Plan) {
  return queryOptions({
    queryKey: ["forecast", numberOf(plan)],
    queryFn: async ({ signal }): Promise<Drawn> => {
      const answer = await api.POST("/api/forecast", { body: { plan }, signal });
      return { plan, forecast: dataOf(answer) };
    },
    // a new forecast is new throughout; comparing its long curves value by value would only cost time
    structuralSharing: false,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: (count: number, error: Error) => !(error instanceof FaultyPlan) && count < 2,
  });
}

/** The forecast of a draft. The last good one stays while the next is computed, or while the draft is faulty. */
export function useForecast(plan: Plan) {
  return useQuery({ ...forecastOf(plan), placeholderData: keepPreviousData });
}

export function useCatalogue() {
  return useQuery({
    queryKey: ["catalogue"],
    queryFn: async () => {
      const answer = await api.GET("/api/catalogue");
      return dataOf(answer);
    },
    staleTime: Infinity,
  });
}

export function useRooms() {
  return useQuery({
    queryKey: ["rooms"],
    queryFn: async () => {
      const answer = await api.GET("/api/rooms");
      return dataOf(answer);
    },
  });
}

export type OwnKind = "exercises" | "equipment" | "rooms";

/** Takes something of one's own out; tells whether it is deleted, or retired because something still names it. */
export async function takeOut(kind: OwnKind, key: string): Promise<EntryRemoval> {
  const params = { params: { path: { key } } };
  switch (kind) {
    case "exercises":
      return dataOf(await api.DELETE("/api/own/exercises/{key}", params));
    case "equipment":
      return dataOf(await api.DELETE("/api/own/equipment/{key}", params));
    case "rooms":
      return dataOf(await api.DELETE("/api/own/rooms/{key}", params));
  }
}

/** Lets what was retired be chosen again. */
export async function bringBack(kind: OwnKind, key: string): Promise<void> {
  const { error, response } = await api.PUT("/api/own/{kind}/{key}/retired", {
    params: { path: { kind, key } },
    body: { retired: false },
  });
  done({ error, response });
}

export type Collision = Catalogue["collisions"][number];
export type OwnDecision = "keep" | "shipped" | "rename";

/** Decides about an entry of one's own that is shipped now too. */
export async function decideOwn(key: string, decision: OwnDecision, name: string): Promise<void> {
  const { error, response } = await api.POST("/api/catalogue/own/{key}/decision", {
    params: { path: { key } },
    body: { decision, name },
  });
  done({ error, response });
}

/** Everybody, for those who may know them. */
export function usePeople() {
  const mayReadHealth = useMay("read_health");
  return useQuery({
    queryKey: ["people"],
    enabled: mayReadHealth,
    queryFn: async () => {
      const answer = await api.GET("/api/people");
      return dataOf(answer);
    },
  });
}

/** A block to begin with, for each kind. */
export function useTemplates() {
  return useQuery({
    queryKey: ["templates"],
    queryFn: async () => dataOf(await api.GET("/api/templates")),
    staleTime: Infinity,
  });
}

/** The written notation on one page. */
export function useCheatSheet() {
  return useQuery({
    queryKey: ["cheat-sheet"],
    queryFn: async () => dataOf(await api.GET("/api/cheat-sheet")),
    staleTime: Infinity,
  });
}

/** One exercise with its derivation and its substitutes. */
export function useExercise(key: string | null) {
  return useQuery({
    queryKey: ["exercise", key],
    enabled: key !== null,
    queryFn: async () =>
      dataOf(
        await api.GET("/api/catalogue/exercises/{key}", { params: { path: { key: present(key, "The exercise") } } }),
      ),
    staleTime: Infinity,
  });
}

/** Every saved revision of a class with what changed. */
export function useHistory(id: number) {
  return useQuery({
    queryKey: ["history", id],
    queryFn: async () =>
      dataOf(await api.GET("/api/classes/{class_id}/history", { params: { path: { class_id: id } } })),
    gcTime: 0,
  });
}

/** What would bring a class into its slot, or fill it. */
export function useFitting(plan: Plan, surely: boolean) {
  return useQuery({
    queryKey: ["fit", numberOf(plan), surely],
    queryFn: async ({ signal }) => dataOf(await api.POST("/api/fit", { body: { plan, surely }, signal })),
    placeholderData: keepPreviousData,
    structuralSharing: false,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
  });
}

/** How each figure is reached, by id. */
export function useMethods() {
  return useQuery({
    queryKey: ["methods"],
    queryFn: async () => {
      const answer = await api.GET("/api/methods");
      return new Map(dataOf(answer).map((method) => [method.id, method]));
    },
    staleTime: Infinity,
  });
}

/** The inputs that move a figure of a class, or of one person in it, most; asked for once a figure is opened. */
export function useLevers(asked: { plan: Plan; figure: string; person?: string } | undefined) {
  return useQuery({
    queryKey: ["levers", asked && numberOf(asked.plan), asked?.figure, asked?.person],
    enabled: asked !== undefined,
    staleTime: Infinity,
    queryFn: async ({ signal }) => {
      const answer = await api.POST("/api/levers", {
        body: { plan: asked!.plan, figure: asked!.figure, person: asked!.person ?? null },
        signal,
      });
      return dataOf(answer);
    },
  });
}
