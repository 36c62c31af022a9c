import { useQuery } from "@tanstack/react-query";

import { api, asFile, dataOf } from "./client";
import type { components } from "./schema";

type Schemas = components["schemas"];
export type Book = Schemas["BookOut"];
export type LogRow = Schemas["LogRowOut"];
export type SetsRead = Schemas["SetsRead"];

/** A run's page in the book. */
export function useBook(run_id: number) {
  return useQuery({
    queryKey: ["book", run_id],
    queryFn: async () => dataOf(await api.GET("/api/runs/{run_id}/book", { params: { path: { run_id } } })),
  });
}

/** Looks at a table of sets, or keeps it. */
export async function takeSets(run_id: number, file: Blob, keep: boolean, only_right: boolean): Promise<SetsRead> {
  const params = { path: { run_id }, query: { keep, only_right } };
  return dataOf(await api.POST("/api/runs/{run_id}/sets-file", { params, ...asFile(file) }));
}
