import { createContext, useContext } from "react";

import type { Catalogue, Forecast, Person, PersonForecast, Plan, Room } from "../api/client";
import type { Draft } from "../draft/useDraft";

/** A class as it is shown: the plan whose forecast is drawn, and what is known around it. It changes once an edit. */
type ShownClass = {
  id: number;
  plan: Plan;
  forecast: Forecast;
  catalogue: Catalogue | undefined;
  room: Room | undefined;
  /** everybody of the studio, for those who may know them */
  known: Person[] | undefined;
  edit: Draft["edit"];
};

/** The second under the scrub line. */
export type Moment = { second: number; scrub: (second: number) => void };

/** What the instructor looks at: a block of the draft, the same block in what is drawn, a slot and a person. */
export type Chosen = {
  selected: number;
  shownBlock: number;
  selectBlock: (blockId: string) => void;
  slot: string | null;
  chooseSlot: (id: string | null) => void;
  person: PersonForecast | null;
  choosePerson: (number: number | null) => void;
};

export const ShownClassContext = createContext<ShownClass | null>(null);
export const MomentContext = createContext<Moment | null>(null);
export const ChosenContext = createContext<Chosen | null>(null);
export const DraftContext = createContext<Draft | null>(null);

function within<Value>(value: Value | null): Value {
  if (value === null) throw new Error("This is drawn inside a class only.");
  return value;
}

/** The class as it is shown. */
export const useShownClass = () => within(useContext(ShownClassContext));
/** The second under the scrub line, and what moves it. */
export const useMoment = () => within(useContext(MomentContext));
/** What the instructor looks at. */
export const useChosen = () => within(useContext(ChosenContext));
/** The draft under edit, which what is drawn follows a moment later. */
export const useClassDraft = () => within(useContext(DraftContext));
/** The plan as it is being edited, for fields that are typed into; null where nothing is edited. */
export const useLivePlan = (): Plan | null => useContext(DraftContext)?.plan ?? null;
