import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { api, dataOf, savedOf, type Saved } from "./client";
import type { components } from "./schema";

type Schemas = components["schemas"];
export type Course = Schemas["Course"];
export type CourseOut = Schemas["CourseOut"];
export type Outlook = Schemas["CourseOutlook"];
export type WeekOutlook = Schemas["WeekOutlook"];
type WeekChange = Course["changes"][number];
export type Change = WeekChange["change"];
export type Written = Schemas["WrittenOut"];
export type WeekState = Schemas["WeekStateOut"];
export type FromTemplate = Schemas["FromTemplate"];
export type OverTime = Schemas["OverTimeOut"];

/** The courses, the one saved last first. */
export function useCourses(enabled = true) {
  return useQuery({
    queryKey: ["courses"],
    enabled,
    queryFn: async () => dataOf(await api.GET("/api/courses")),
  });
}

export function useCourse(id: number) {
  return useQuery({
    queryKey: ["course", id],
    queryFn: async () => dataOf(await api.GET("/api/courses/{course_id}", { params: { path: { course_id: id } } })),
    staleTime: Infinity,
    gcTime: 0,
  });
}

export const courseKept = (out: CourseOut) => ({ document: out.course, revision: out.revision, savedAt: out.saved_at });

export async function saveCourse(
  course_id: number,
  based_on: number,
  course: Course,
): Promise<Saved<ReturnType<typeof courseKept>>> {
  const answer = savedOf(
    await api.PUT("/api/courses/{course_id}", { params: { path: { course_id } }, body: { based_on, course } }),
  );
  return "kept" in answer ? { kept: courseKept(answer.kept) } : { ...answer, newer: courseKept(answer.newer) };
}

/** Every week of a draft in figures; the last good one stays while the next is computed. */
export function useOutlook(course: Course) {
  return useQuery({
    queryKey: ["outlook", course],
    queryFn: async ({ signal }) => ({
      course,
      told: dataOf(await api.POST("/api/courses/outlook", { body: { course }, signal })),
    }),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
  });
}

export function useCourseTemplates() {
  return useQuery({
    queryKey: ["course-templates"],
    queryFn: async () => dataOf(await api.GET("/api/courses/templates")),
    staleTime: Infinity,
  });
}

export async function makeFromTemplate(body: FromTemplate): Promise<CourseOut> {
  return dataOf(await api.POST("/api/courses/template", { body }));
}

export async function importCourse(document: Record<string, unknown>): Promise<CourseOut> {
  return dataOf(await api.POST("/api/courses/import", { body: { document } }));
}

/** A course without a week that is missed: moved or dropped. Nothing is kept. */
export async function missWeek(course: Course, week: number, how: "move" | "drop"): Promise<Course> {
  return dataOf(await api.POST("/api/courses/missed", { body: { course, week, how } }));
}

/** The classes that were written out, and how each stands to the course as it is now. */
export function useWritten(id: number) {
  return useQuery({
    queryKey: ["course", id, "written"],
    queryFn: async () =>
      dataOf(await api.GET("/api/courses/{course_id}/written", { params: { path: { course_id: id } } })),
  });
}

export async function writeWeek(course_id: number, week: number): Promise<Written[]> {
  return dataOf(
    await api.POST("/api/courses/{course_id}/written", { params: { path: { course_id } }, body: { week } }),
  );
}

export function useCourseHistory(id: number) {
  return useQuery({
    queryKey: ["course", id, "history"],
    queryFn: async () =>
      dataOf(await api.GET("/api/courses/{course_id}/history", { params: { path: { course_id: id } } })),
    gcTime: 0,
  });
}

/** What was held, week by week: of everything, of a course, or of one class. */
export function useOverTime(of: { course?: number; class_id?: number }) {
  return useQuery({
    queryKey: ["weeks", of],
    queryFn: async () => dataOf(await api.GET("/api/weeks", { params: { query: of } })),
  });
}
