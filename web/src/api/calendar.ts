import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { api, dataOf, done } from "./client";
import type { components } from "./schema";

type Schemas = components["schemas"];
export type Entry = Schemas["EntryOut"];
export type Day = Schemas["DayOut"];

/** What is next, what runs, what is not written down yet, where the courses stand. */
export function useToday() {
  return useQuery({ queryKey: ["today"], queryFn: async () => dataOf(await api.GET("/api/today")) });
}

/** Every class from one day to another, planned and held. */
export function useCalendar(since: string, until: string) {
  return useQuery({
    queryKey: ["calendar", since, until],
    queryFn: async () => dataOf(await api.GET("/api/calendar", { params: { query: { since, until } } })),
    placeholderData: keepPreviousData,
  });
}

/** Takes a class out of the lists, or back in. */
export async function archiveClass(class_id: number, archived: boolean): Promise<void> {
  done(await api.PUT("/api/classes/{class_id}/archived", { params: { path: { class_id } }, body: { archived } }));
}
