/** What was done of what is planned: as `core/oaken/session/log.py` tells it. Not written is not the same as as planned. */
import type { RunEvent, SetDone, Sheet } from "../api/runs";
import { moment, type RunState } from "./runState";
import { entryAt, present } from "../basis/entries";
import { partsOf, partWords, setUpWords } from "./setParts";

type SheetPerson = Sheet["people"][number];
type SheetSet = SheetPerson["sets"][number];
/** A set of somebody, with the sheet of the plan it belongs to: what was done before a plan changed stays what it was. */
export type LogRow = {
  sheet: Sheet;
  person: SheetPerson;
  set: SheetSet | null;
  part: Sheet["parts"][number] | null;
  exercise: string;
  number: number;
  written: "not written" | "as planned" | "done";
  done: SetDone[];
};

const UNPLANNED = "unplanned.";
type Ticked = Extract<RunEvent, { kind: "as_planned" }>;
type Own = { set: SheetSet; part: Sheet["parts"][number]; ends_s: number };

/** Whether somebody had done a set of a plan when it was left: on its axis, or, where people were followed, as they had
 * really done it. */
function isOver(
  past: RunState["past"][number],
  person: string,
  part: LogRow["sheet"]["parts"][number],
  number: number,
  ends_s: number,
) {
  if (past.floor?.block === part.block) return past.floor.over.get(person)?.has(`${part.id} ${number}`) ?? false;
  return ends_s <= (past.second.get(person) ?? 0);
}

/** Everybody's rows, each in the order of their path; sets that nobody planned come behind those of their part. */
export function logOf(runState: RunState, events: readonly RunEvent[]): Map<string, LogRow[]> {
  const done = new Map<string, Map<string, SetDone>>();
  const first = new Map<string, SetDone>();
  const ticked: Ticked[] = [];
  for (const event of events) {
    if (event.kind === "as_planned") ticked.push(event);
    if (event.kind !== "set_done") continue;
    const key = `${event.person}/${event.part}/${event.number}`;
    done.set(key, new Map(done.get(key)).set(event.side ?? "", event));
    if (!first.has(key)) first.set(key, event);
  }
  const sheets = [...runState.past.map((item) => item.sheet), runState.sheet];
  const at = (event: RunEvent) => runState.past.filter((item) => item.until <= moment(event)).length;
  const last = sheets.length - 1;
  return new Map(
    runState.sheet.people.map((shown) => {
      const own = sheets.map((sheet) => setsOf(sheet, shown.id));
      const doing = (era: number, part: string, number: number) =>
        entryAt(own, era).get(`${part}/${number}`)?.part.exercise ??
        entryAt(sheets, era).parts.find((eachPart) => eachPart.id === part)?.exercise;
      const eraOf = (event: SetDone, written: Iterable<SetDone>): number => {
        const era = at(event);
        const named = [...written].find((item) => item.exercise)?.exercise;
        if (!named) return era;
        for (let earlier = era; earlier >= 0; earlier--)
          if (doing(earlier, event.part, event.number) === named) return earlier;
        return era;
      };
      const numbered = new Map(
        ticked
          .filter((item) => item.part != null && item.number != null && (item.person ?? shown.id) === shown.id)
          .map((item) => [`${item.part}/${item.number}`, at(item)]),
      );
      const taken = new Set<string>();
      const rows = own.flatMap((sets, era) =>
        [...sets].flatMap(([key, { set, part, ends_s }]): LogRow[] => {
          const event = first.get(`${shown.id}/${key}`);
          const written = done.get(`${shown.id}/${key}`);
          const belongs = event && written ? eraOf(event, written.values()) : null;
          const over =
            era < last &&
            (isOver(entryAt(runState.past, era), shown.id, part, set.number, ends_s) || numbered.get(key) === era);
          const mine = belongs !== null && entryAt(own, belongs).has(key) ? belongs === era : over || era === last;
          if (!mine || taken.has(key)) return [];
          taken.add(key);
          done.delete(`${shown.id}/${key}`);
          const sheet = entryAt(sheets, era);
          const block = entryAt(sheet.blocks, part.block).id;
          const speaks = ticked.some(
            (item) =>
              (item.person ?? shown.id) === shown.id &&
              (item.part ?? part.id) === part.id &&
              (item.block ?? block) === block &&
              (item.number ?? set.number) === set.number &&
              (era <= at(item) || doing(at(item), part.id, set.number) === part.exercise),
          );
          const person = present(
            sheet.people.find((person) => person.id === shown.id),
            shown.id,
          );
          const how = written ? "done" : speaks ? "as planned" : "not written";
          const sides = written ? [...written.values()] : [];
          return [{ sheet, person, set, part, exercise: part.exercise, number: set.number, written: how, done: sides }];
        }),
      );
      const more = [...done].flatMap(([key, sides]): LogRow[] => {
        const [name, id, number] = key.split("/");
        if (name !== shown.id || id === undefined) return [];
        const eras = [eraOf(present(first.get(key), key), sides.values()), ...sheets.keys()].map((era) =>
          entryAt(sheets, era),
        );
        const found = eras.find((sheet) => sheet.parts.some((part) => part.id === id));
        const sheet = found ?? runState.sheet;
        const part = sheet.parts.find((part) => part.id === id) ?? null;
        const named = [...sides.values()].find((side) => side.exercise)?.exercise;
        const exercise = named ?? part?.exercise ?? (id.startsWith(UNPLANNED) ? id.slice(UNPLANNED.length) : "");
        const number_ = Number(number);
        return [
          {
            sheet,
            person: shown,
            set: null,
            part,
            exercise,
            number: number_,
            written: "done",
            done: [...sides.values()],
          },
        ];
      });
      return [shown.id, [...rows, ...more]];
    }),
  );
}

/** Somebody's sets by part and number, in the order of their path, with when the last step of each is over. */
function setsOf(sheet: Sheet, id: string): Map<string, Own> {
  const person = sheet.people.find((person) => person.id === id);
  return new Map(
    (person?.sets ?? []).map((set) => {
      const part = entryAt(sheet.parts, set.part);
      // a sheet that an older server laid says only when a set begins
      const ends_s = set.ends_s ?? set.start_s + set.seconds;
      return [`${part.id}/${set.number}`, { set, part, ends_s }];
    }),
  );
}

/** The load that comes next on a unit, up or down: its own steps, or 2.5 kg where it has none. */
export function step(loads: readonly number[], from: number, way: 1 | -1): number {
  const found = way > 0 ? loads.find((kg) => kg > from + 1e-6) : loads.findLast((kg) => kg < from - 1e-6);
  if (found !== undefined) return found;
  return loads.length ? from : Math.max(0, from + way * 2.5);
}

/** What there is to say of a set that was done. */
type Told = Pick<
  SetDone,
  | "side"
  | "load_kg"
  | "reps"
  | "seconds"
  | "to_failure"
  | "helped"
  | "helped_reps"
  | "reps_left"
  | "range_of_motion"
  | "form"
  | "rest_s"
  | "parts"
  | "set_up"
> & { note?: string };

/** What was written of a set, in a few words: "60 kg × 10 + 45 kg × 8, 2 helped, to failure". */
export function doneWords(one: Told, write: (kg: number) => string): string {
  const parts = partsOf(one);
  const lifted = (part: Pick<Told, "load_kg" | "reps">) =>
    [part.load_kg != null ? write(part.load_kg) : "", part.reps != null ? `× ${part.reps}` : ""]
      .filter(Boolean)
      .join(" ");
  const each = parts.map((part, at) => {
    const load_kg = part.load_kg ?? (at === 0 ? one.load_kg : null);
    const told = load_kg == null && part.reps != null ? String(part.reps) : lifted({ reps: part.reps, load_kg });
    const uncounted = part.reps == null && part.seconds == null ? "not counted" : "";
    return [told, uncounted, ...partWords(part)].filter(Boolean).join(", ");
  });
  const said = [
    one.side ?? "",
    parts.length ? each.join(" + ") : lifted(one),
    ...partWords(one),
    setUpWords(one.set_up),
    one.note ?? "",
  ];
  return said.filter(Boolean).join(", ");
}
