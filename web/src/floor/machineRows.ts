import type { Forecast, Room, Unit } from "../api/client";
import { DOING, endOf, giveLanes, queuesOf, type Stave } from "../drawing/steps";
import { placesOn } from "../catalogue/search";
import { isWalk } from "../drawing/floorModel";
import { entryAt } from "../basis/entries";

type MachineRow = { unit: Unit; stave: Stave; usedShare: number };

/** One stave a unit that somebody uses between two seconds, with those who wait for it; in the order of the room. */
export function machineStaves(forecast: Forecast, room: Room, from: number, to: number): MachineRow[] {
  const rows = new Map<number, Stave>();
  const waiting = new Map<number, { at: number; person: number; by: 1 | -1 }[]>();
  const stave = (unit: number) => {
    let found = rows.get(unit);
    if (!found) {
      found = {
        key: String(unit),
        label: entryAt(room.units, unit).name,
        lanes: 1,
        tokens: [],
        queues: [],
        choruses: [],
        breather: false,
      };
      rows.set(unit, found);
    }
    return found;
  };
  for (const person of forecast.people) {
    const { start_s, doing, unit } = person.path;
    for (let at = 0; at < start_s.length; at += 1) {
      const here = entryAt(unit, at);
      if (here < 0 || !room.units[here]) continue;
      const [start, end] = [entryAt(start_s, at), endOf(person, at, forecast)];
      if (end <= from || start >= to) continue;
      if (doing[at] === DOING.work) {
        const setsUp = at > 0 && doing[at - 1] === DOING.change && unit[at - 1] === here && !isWalk(person, at - 1);
        stave(here).tokens.push({
          person: person.number,
          start,
          end,
          setUpFrom: setsUp ? entryAt(start_s, at - 1) : start,
          lane: -1,
        });
      } else if (doing[at] === DOING.wait) {
        const changes = waiting.get(here) ?? [];
        changes.push({ at: start, person: person.number, by: 1 }, { at: end, person: person.number, by: -1 });
        waiting.set(here, changes);
      }
    }
  }
  for (const [unit, changes] of waiting) stave(unit).queues = queuesOf(changes);
  for (const row of rows.values()) row.lanes = giveLanes(row.tokens);
  const length = Math.max(1, to - from);
  return [...rows]
    .sort(([one], [other]) => one - other)
    .map(([unit, one]) => ({
      unit: entryAt(room.units, unit),
      stave: one,
      usedShare:
        one.tokens.reduce((sum, token) => sum + token.end - token.setUpFrom, 0) /
        length /
        Math.max(1, placesOn(entryAt(room.units, unit))),
    }));
}
