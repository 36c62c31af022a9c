/** A block at people's own pace as what is dispatched again while it runs, and what is known of everybody in it. */
import type { SheetFloor } from "../api/runs";
import { entryAt } from "../basis/entries";

/** A set of somebody; `id` is its part and number, `part` the index of that part in the sheet. */
export type RollingTask = {
  id: string;
  part: number;
  number: number;
  kind: string;
  work_s: number;
  rest_s: number;
  set_up_s: number;
  load_change_s: number;
  load: number | null;
  leaves: number | null;
  keeps: boolean;
  visit: number;
  turn_s: number;
  ready_s: number;
  start_s: number;
};

/** A block at people's own pace as its sheet has it, with the units lost of which no sheet has come yet left out. */
export type RollingWork = {
  tasks: RollingTask[][];
  stock: Map<string, number[]>;
  walk: (here: number, there: number) => number;
  ownTimes: Map<number, readonly [number | null, number | null]>;
  gates: Map<number, string[]>;
  width: Map<string, number>;
  release_s: number[];
  gone: Set<string>;
};

/** What is known of a set. */
export type Seen = {
  start_s: number | null;
  end_s: number | null;
  unit: number | null;
  over: boolean;
  latest_s: number | null;
  assumed: boolean;
};
export const UNSEEN: Seen = {
  start_s: null,
  end_s: null,
  unit: null,
  over: false,
  latest_s: null,
  assumed: false,
};

/** What is known of somebody. */
export type Standing = {
  order: number[];
  seen: Map<number, Seen>;
  notBefore: Map<number, number>;
  away: (readonly [number, number])[];
  fixed: Placement[];
  standsAt: number | null;
  prompt: boolean;
};

/** A set on the floor, in seconds of its floor time. */
export type Placement = {
  task: RollingTask;
  leave_s: number;
  arrive_s: number;
  rested_s: number;
  setUpFrom_s: number;
  loadChange_s: number;
  workFrom_s: number;
  end_s: number;
  unit: number;
  known: boolean;
  held: boolean;
  cut: boolean;
};

export type Pause = readonly [at_s: number, length_s: number];

/** The work of a block from its sheet; `ids` are those of the sheet's parts, `lost` units that are lost besides. */
export function workOf(floor: SheetFloor, ids: readonly string[], lost: ReadonlySet<number>): RollingWork {
  const kinds = floor.kinds;
  const place = new Map(floor.walks_between.map((unit, at) => [unit, at]));
  const stock = new Map<string, number[]>();
  const gone = new Set<string>();
  for (const kind of kinds) {
    const units = kind.units.filter((unit) => !lost.has(unit));
    stock.set(kind.name, units);
    if (kind.gone || (kind.units.length > 0 && units.length === 0)) gone.add(kind.name);
  }
  return {
    tasks: floor.tasks.map((own) =>
      own.part.map((part, at) => {
        const number = entryAt(own.number, at);
        return {
          id: `${entryAt(ids, part)} ${number}`,
          part,
          number,
          kind: entryAt(kinds, entryAt(own.kind, at)).name,
          work_s: entryAt(own.work_s, at),
          rest_s: entryAt(own.rest_s, at),
          set_up_s: entryAt(own.set_up_s, at),
          load_change_s: entryAt(own.load_change_s, at),
          load: own.load[at] ?? null,
          leaves: own.leaves[at] ?? null,
          keeps: entryAt(own.keeps, at),
          visit: entryAt(own.visit, at),
          turn_s: entryAt(own.turn_s, at),
          ready_s: entryAt(own.ready_s, at),
          start_s: entryAt(own.start_s, at),
        };
      }),
    ),
    stock,
    walk: (here, there) => {
      const from = place.get(here);
      const to = place.get(there);
      return from === undefined || to === undefined ? 0 : entryAt(entryAt(floor.walks_s, from), to);
    },
    ownTimes: new Map(
      Object.entries(floor.own_times).map(
        ([unit, [setUp, change]]): [number, readonly [number | null, number | null]] => [
          Number(unit),
          [setUp ?? null, change ?? null],
        ],
      ),
    ),
    gates: new Map(Object.entries(floor.gates).map(([visit, names]) => [Number(visit), names])),
    width: new Map(Object.entries(floor.width)),
    release_s: floor.release_s,
    gone,
  };
}
