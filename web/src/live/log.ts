/** What was done of what is planned: as `core/oaken/run/log.py` tells it. Not written is not the same as as planned. */
import type { RunEvent, SetDone, Sheet } from "../api/runs";

type SheetPerson = Sheet["people"][number];
export type SheetSet = SheetPerson["sets"][number];
export type LogRow = {
  person: SheetPerson;
  set: SheetSet | null;
  part: Sheet["parts"][number] | null;
  number: number;
  written: "not written" | "as planned" | "done";
  done: SetDone[];
};

/** Everybody's rows, each in the order of their path; sets that nobody planned come behind those of their part. */
export function logOf(sheet: Sheet, events: readonly RunEvent[]): Map<string, LogRow[]> {
  const done = new Map<string, Map<string, SetDone>>();
  const ticked: Extract<RunEvent, { kind: "as_planned" }>[] = [];
  for (const event of events) {
    if (event.kind === "as_planned") ticked.push(event);
    if (event.kind !== "set_done") continue;
    const key = `${event.person}/${event.part}/${event.number}`;
    done.set(key, new Map(done.get(key)).set(event.side ?? "", event));
  }
  return new Map(
    sheet.people.map((person) => {
      const rows = person.sets.map((set): LogRow => {
        const part = sheet.parts[set.part]!;
        const key = `${person.id}/${part.id}/${set.number}`;
        const own = [...(done.get(key)?.values() ?? [])];
        done.delete(key);
        const block = sheet.blocks[part.block]!.id;
        const speaks = ticked.some(
          (one) =>
            (one.person ?? person.id) === person.id &&
            (one.part ?? part.id) === part.id &&
            (one.block ?? block) === block &&
            (one.number ?? set.number) === set.number,
        );
        const written = own.length ? "done" : speaks ? "as planned" : "not written";
        return { person, set, part, number: set.number, written, done: own };
      });
      const more = [...done].flatMap(([key, sides]): LogRow[] => {
        const [name, id, number] = key.split("/");
        if (name !== person.id) return [];
        const part = sheet.parts.find((one) => one.id === id) ?? null;
        return [{ person, set: null, part, number: Number(number), written: "done", done: [...sides.values()] }];
      });
      return [person.id, [...rows, ...more]];
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
  "side" | "load_kg" | "reps" | "parts" | "seconds" | "to_failure" | "helped" | "reps_left" | "form"
> & { note?: string };

/** What was written of a set, in a few words. */
export function doneWords(one: Told, write: (kg: number) => string): string {
  const reps = one.parts?.length ? one.parts.join(" + ") : one.reps;
  const lifted = [one.load_kg != null ? write(one.load_kg) : "", reps != null ? `× ${reps}` : ""];
  const said = [
    one.side ?? "",
    lifted.filter(Boolean).join(" "),
    one.seconds != null ? `${Math.round(one.seconds)} s` : "",
    one.to_failure ? "to failure" : "",
    one.helped ? "helped" : "",
    one.reps_left != null ? (one.reps_left ? `${one.reps_left} left over` : "none left over") : "",
    one.form === "poor" ? "form poor" : "",
    one.note ?? "",
  ];
  return said.filter(Boolean).join(", ");
}
