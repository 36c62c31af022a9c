import { api, dataOf, type LoadAsSet } from "./client";
import type { components } from "./schema";

type Schemas = components["schemas"];

type Loadings = { loadings: { load: LoadAsSet; change_s: number }[] };
export type NextTime = Schemas["LoadProposal"];
type Done = {
  room: string;
  unit: string;
  load_kg: number;
  reps: number[];
  low: number;
  high: number;
  poor_form: boolean;
};

/** Loads one after another as a unit can hold them, within the seconds there are for each change. */
export async function loadsOnUnit(
  room: string,
  unit: string,
  wanted_kg: number[],
  within_s: number | null,
): Promise<Loadings> {
  return dataOf(await api.POST("/api/loads/unit", { body: { room, unit, wanted_kg, within_s } }));
}

/** The share of the best that goes with repetitions and some in reserve, or with a window of repetitions. */
export async function shareForDose(reps: number, in_reserve: number, up_to: number | null): Promise<number> {
  const answer = await api.POST("/api/loads/share", { body: { reps, in_reserve, up_to } });
  return dataOf(answer).share_of_best;
}

/** What the sets of a rep window say for the next time. */
export async function nextLoad(body: Done): Promise<NextTime> {
  return dataOf(await api.POST("/api/loads/next", { body }));
}
