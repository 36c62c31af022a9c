import { keepPreviousData, useQuery } from "@tanstack/react-query";

import {
  api,
  dataOf,
  FaultyPlan,
  type Catalogue,
  type ClassOut,
  type ClassSummary,
  type Forecast,
  type Method,
  type Person,
  type Plan,
  type Room,
} from "./client";

/** The classes, the one saved last first. */
export function useClasses() {
  return useQuery({
    queryKey: ["classes"],
    queryFn: async () => {
      const answer = await api.GET("/api/classes");
      return dataOf<ClassSummary[]>(answer);
    },
  });
}

/** One class with its newest plan; asked for afresh each time the screen is opened. */
export function useClass(id: number) {
  return useQuery({
    queryKey: ["class", id],
    queryFn: async () => {
      const answer = await api.GET("/api/classes/{class_id}", { params: { path: { class_id: id } } });
      return dataOf<ClassOut>(answer);
    },
    staleTime: Infinity,
    gcTime: 0,
  });
}

/** The forecast of a draft. The last good one stays while the next is computed, or while the draft is faulty. */
export function useForecast(plan: Plan) {
  return useQuery({
    queryKey: ["forecast", plan],
    queryFn: async ({ signal }) => {
      const answer = await api.POST("/api/forecast", { body: { plan }, signal });
      return dataOf<Forecast>(answer);
    },
    placeholderData: keepPreviousData,
    // a new forecast is new throughout; comparing its long curves value by value would only cost time
    structuralSharing: false,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: (count, error) => !(error instanceof FaultyPlan) && count < 2,
  });
}

export function useCatalogue() {
  return useQuery({
    queryKey: ["catalogue"],
    queryFn: async () => {
      const answer = await api.GET("/api/catalogue");
      return dataOf<Catalogue>(answer);
    },
    staleTime: Infinity,
  });
}

export function useRooms() {
  return useQuery({
    queryKey: ["rooms"],
    queryFn: async () => {
      const answer = await api.GET("/api/rooms");
      return dataOf<Room[]>(answer);
    },
  });
}

export function usePeople() {
  return useQuery({
    queryKey: ["people"],
    queryFn: async () => {
      const answer = await api.GET("/api/people");
      return dataOf<Person[]>(answer);
    },
  });
}

/** How each figure is reached, by id. */
export function useMethods() {
  return useQuery({
    queryKey: ["methods"],
    queryFn: async () => {
      const answer = await api.GET("/api/methods");
      return new Map(dataOf<Method[]>(answer).map((method) => [method.id, method]));
    },
    staleTime: Infinity,
  });
}
