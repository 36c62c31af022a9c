/** The figures as the core declares them: one name and one unit wherever a figure is shown. */
import declared from "../../../core/oaken/forecast/report/figures.json";

export type Figure = {
  id: string;
  label: string;
  unit: string;
  digits?: number;
  of?: string;
  goal?: { near?: number; near_share?: number };
};

export const FIGURES: readonly Figure[] = declared.figures;
const BY_ID = new Map(FIGURES.map((figure) => [figure.id, figure]));

/** A figure by its id. */
export function figureOf(id: string): Figure {
  const found = BY_ID.get(id);
  if (!found) throw new Error(`there is no figure ${id}`);
  return found;
}

/** What a figure is called on every screen. */
export const labelOf = (id: string) => figureOf(id).label;
