import type { Block, Leg, Slot, Station } from "../api/client";

/** What somebody does in a place of a block. */
export type AnySlot = Station | Slot | Leg;

/** A list of parts that are done in turn: of a block of sets one of its groups, of any other the whole block (-1). */
type Listed = { group: number; parts: AnySlot[] };

/** What the interface has to know of a kind of block, whichever block it is. A new kind is entered here and below. */
export const KINDS = {
  circuit: {
    adds: "Station",
    line: "station",
    order: "everybody moves on the bell",
    chosen: "round the circle that was chosen",
  },
  sets: { adds: "Group", line: "slot", order: "first come, first served", chosen: "in the rotation that was chosen" },
  together: { adds: "Exercise", line: "slot", order: "everybody does the same", chosen: "" },
  relay: { adds: "Leg", line: "leg", order: "teams take turns", chosen: "" },
} as const satisfies Record<
  Block["kind"],
  {
    /** what is added to it */
    adds: string;
    /** as what a line of it is read */
    line: "slot" | "station" | "leg";
    /** how people go through it while nothing else was chosen, and when something was */
    order: string;
    chosen: string;
  }
>;

/** The parts of a block, list by list. */
export function listsOf(block: Block): Listed[] {
  switch (block.kind) {
    case "circuit":
      return [{ group: -1, parts: block.stations }];
    case "together":
      return [{ group: -1, parts: block.slots }];
    case "relay":
      return [{ group: -1, parts: block.legs }];
    case "sets":
      return block.groups.map((eachGroup, group) => ({ group, parts: eachGroup.slots }));
  }
}

/** Every part of a block in its order. */
export function partsOf(block: Block): AnySlot[] {
  return listsOf(block).flatMap((item) => item.parts);
}

/** The block with one of its lists changed; `group` is -1 where a block has one list only. */
export function withList(block: Block, group: number, change: (parts: AnySlot[]) => AnySlot[]): Block {
  // a change keeps the kind of the parts it is given
  const changed = <Part extends AnySlot>(parts: Part[]) => change(parts) as Part[];
  switch (block.kind) {
    case "circuit":
      return { ...block, stations: changed(block.stations) };
    case "together":
      return { ...block, slots: changed(block.slots) };
    case "relay":
      return { ...block, legs: changed(block.legs) };
    case "sets":
      return {
        ...block,
        groups: block.groups.map((eachGroup, at) =>
          at === group ? { ...eachGroup, slots: changed(eachGroup.slots) } : eachGroup,
        ),
      };
  }
}

/** The order of going round that was chosen for a block; null where none was, or none can be. */
function chosenOrder(block: Block): object | null {
  return (block.kind === "sets" ? block.rotation : block.kind === "circuit" ? block.circle : null) ?? null;
}

/** How people go through a block, in words. */
export function orderWords(block: Block): string {
  return chosenOrder(block) ? KINDS[block.kind].chosen : KINDS[block.kind].order;
}
