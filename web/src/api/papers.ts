import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { api, dataOf, type Plan } from "./client";
import type { components } from "./schema";

type Schemas = components["schemas"];
export type Paper = Schemas["PaperOut"];
export type PaperCard = Schemas["PaperCard"];
export type PaperPart = NonNullable<PaperCard["parts"]>[number];
export type PaperKind = Schemas["PaperIn"]["kind"];
export type PaperSize = NonNullable<Schemas["PageIn"]["page"]>;

/** What is printed: of a class as it is planned, of a run as it is held, or of a whole course. */
export type Printed =
  { of: "class"; plan: Plan; class_id: number } | { of: "run"; run_id: number } | { of: "course"; course_id: number };

/** A paper as data, as it is drawn on the screen. */
export function usePaper(printed: Printed, kind: PaperKind) {
  return useQuery({
    queryKey: ["paper", printed, kind],
    queryFn: async () => dataOf(await asked(printed, kind)),
    placeholderData: keepPreviousData,
    retry: false,
  });
}

function asked(printed: Printed, kind: PaperKind) {
  if (printed.of === "course") {
    const params = { path: { course_id: printed.course_id } };
    return api.POST("/api/courses/{course_id}/papers", { params, body: {} as never });
  }
  if (printed.of === "run") {
    return api.POST("/api/runs/{run_id}/papers", { params: { path: { run_id: printed.run_id } }, body: { kind } });
  }
  return api.POST("/api/papers", { body: { plan: printed.plan, class_id: printed.class_id, kind } });
}

/** A file that was asked for as a blob: the schema knows no PDF. */
function fileOf(answer: { data?: unknown; error?: unknown; response: Response }): Blob {
  const content: unknown = dataOf<unknown>(answer);
  if (!(content instanceof Blob)) throw new TypeError("The server's answer is no file.");
  return content;
}

/** A paper as PDF. */
export async function drawPaper(printed: Printed, kind: PaperKind, page: PaperSize): Promise<Blob> {
  const parseAs = "blob" as const;
  const answer =
    printed.of === "course"
      ? await api.POST("/api/courses/{course_id}/papers/pdf", {
          params: { path: { course_id: printed.course_id } },
          body: { page },
          parseAs,
        })
      : printed.of === "run"
        ? await api.POST("/api/runs/{run_id}/papers/pdf", {
            params: { path: { run_id: printed.run_id } },
            body: { kind, page },
            parseAs,
          })
        : await api.POST("/api/papers/pdf", {
            body: { plan: printed.plan, class_id: printed.class_id, kind, page },
            parseAs,
          });
  return fileOf(answer);
}

/** A paper of every class of a week that is written out, as PDF files in one zip. */
export async function drawWeek(course_id: number, week: number, kind: PaperKind, page: PaperSize): Promise<Blob> {
  const answer = await api.POST("/api/courses/{course_id}/papers/week", {
    params: { path: { course_id } },
    body: { week, kind, page },
    parseAs: "blob",
  });
  return fileOf(answer);
}
