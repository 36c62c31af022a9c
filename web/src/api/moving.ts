import { api, asFile, dataOf } from "./client";
import type { components } from "./schema";

type Inside = components["schemas"]["Inside"];

/** What the file of a studio holds; nothing is kept. */
export async function lookIntoStudio(file: File): Promise<Inside> {
  return dataOf(await api.POST("/api/studio/file/look", asFile(file)));
}

/** Keep the studio of a file as another one. */
export async function takeStudioIn(file: File) {
  return dataOf(await api.POST("/api/studio/file", asFile(file)));
}
