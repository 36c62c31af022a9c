/** Relays as they are run: a tag begins a team's next turn, as `core/oaken/session/relays.py` tells it. */
import type { Sheet } from "../api/runs";
import { entryAt, lastOf } from "../basis/entries";

const TWO_TURNS = 1.6;
const WORK = 0;

export type Turn = { person: number; start_s: number; end_s: number };
type SheetBlock = Sheet["blocks"][number];

/** The turns of a team in a block in their order, on the sheet's axis. */
export function turnsOfTeam(sheet: Sheet, block: SheetBlock, team: readonly number[]): Turn[] {
  const turns = team.flatMap((person) => {
    const own = entryAt(sheet.people, person);
    return own.start_s.flatMap((start_s, step) =>
      own.doing[step] === WORK && start_s >= block.start_s - 0.001 && start_s < block.end_s - 0.001
        ? [{ person, start_s, end_s: own.start_s[step + 1] ?? sheet.length_s }]
        : [],
    );
  });
  return turns.sort((one, other) => one.start_s - other.start_s);
}

/** The turn under way where a team stands at a second; its place among the turns. */
export const turnAt = (turns: readonly Turn[], second: number): number =>
  Math.max(
    0,
    turns.findLastIndex((turn) => turn.start_s <= second + 0.001),
  );

/** Where a team that stood at `second` stands now that it has tagged, and where it stays until the next tag; null where
 * it has no turns left. */
export function tagged(
  block: SheetBlock,
  turns: readonly Turn[],
  second: number,
  since_s: number | null,
): { second: number; until_s: number | null } | null {
  if (!turns.length || second >= lastOf(turns).end_s) return null;
  let over: number;
  if (since_s === null) {
    // the first tag is that of the turn whose planned end is nearest
    const apart = turns.map((turn) => Math.abs(turn.end_s - second));
    over = apart.indexOf(Math.min(...apart));
  } else {
    over = turnAt(turns, second);
    const turn = entryAt(turns, over);
    // a turn that comes after a rest begins when that is over
    const since = since_s - restBefore(block, turns, over);
    if (since > TWO_TURNS * (turn.end_s - turn.start_s) && over + 1 < turns.length) over++;
  }
  const end = entryAt(turns, over).end_s;
  const coming = turns[over + 1];
  if (!coming) return { second: end, until_s: null };
  return { second: restBefore(block, turns, over + 1) > 0 ? end : coming.start_s, until_s: coming.end_s };
}

/** The seconds of rest before a turn: between two legs there is one; within a leg the next begins at once. */
function restBefore(block: SheetBlock, turns: readonly Turn[], place: number): number {
  const gap = place ? entryAt(turns, place).start_s - entryAt(turns, place - 1).end_s : 0;
  return gap > block.tag_s + 1 ? gap : 0;
}
