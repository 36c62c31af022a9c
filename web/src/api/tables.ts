import { api, asFile, dataOf } from "./client";
import type { components, paths } from "./schema";

export type TableRead = components["schemas"]["TableRead"];
export type TableName = paths["/api/tables/{name}"]["get"]["parameters"]["path"]["name"];
export type ComesBack = paths["/api/tables/{name}"]["post"]["parameters"]["path"]["name"];

/** Looks at a table that comes back, or keeps it. */
export async function takeTable(name: ComesBack, file: File, keep: boolean, only_right: boolean): Promise<TableRead> {
  const params = { path: { name }, query: { keep, only_right } };
  return dataOf(await api.POST("/api/tables/{name}", { params, ...asFile(file) }));
}
