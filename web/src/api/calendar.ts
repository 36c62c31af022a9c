import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { api, asFile, dataOf, done } from "./client";
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

export type DateRead = Schemas["DateRead"];

/** The addresses under which calendars are read elsewhere. */
export function useFeeds(wanted: boolean) {
  return useQuery({ queryKey: ["feeds"], enabled: wanted, queryFn: async () => dataOf(await api.GET("/api/feeds")) });
}

export async function addFeed(of: { class_id?: number; course_id?: number }) {
  return dataOf(await api.POST("/api/feeds", { body: of }));
}

export async function revokeFeed(feed_id: number): Promise<void> {
  done(await api.DELETE("/api/feeds/{feed_id}", { params: { path: { feed_id } } }));
}

/** The events of a calendar of another program; nothing is kept. */
export async function readDates(file: File): Promise<DateRead[]> {
  return dataOf(await api.POST("/api/calendar/read", asFile(file)));
}

/** A class like another for each date. */
export async function makeClasses(like: number, dates: Pick<DateRead, "name" | "starts" | "repeats">[]) {
  return dataOf(await api.POST("/api/calendar/classes", { body: { like, dates } }));
}
