import { ArrowDown, ArrowUp, X } from "lucide-react";
import { useState } from "react";

import { useRoster } from "../api/people";
import { IconButton } from "../shared/IconButton";
import { Pick } from "../shared/Pick";
import { counted } from "../shared/format";

const LEVELS: [string, string][] = [
  ["", "All levels"],
  ["beginner", "Beginners"],
  ["standard", "Standard"],
  ["advanced", "Advanced"],
];

/** Who comes, found by group, level or name; the order gives the numbers. */
export function PeoplePicker({ people, onChange }: { people: string[]; onChange: (people: string[]) => void }) {
  const roster = useRoster();
  const [sought, seek] = useState("");
  const [group, setGroup] = useState("");
  const [level, setLevel] = useState("");
  const everybody = roster.data ?? [];
  const groups = [...new Set(everybody.map((person) => person.group).filter(Boolean))].sort();
  const words = sought.trim().toLowerCase();
  const shown = everybody.filter(
    ({ person, group: own }) =>
      (!group || own === group) &&
      (!level || person.level === level) &&
      (!words || person.name.toLowerCase().includes(words)),
  );
  const names = new Map(everybody.map(({ person }) => [person.id, person.name]));
  const here = new Set(people);
  const shownIds = shown.map((item) => item.person.id);
  const allShown = shownIds.length > 0 && shownIds.every((id) => here.has(id));

  function move(at: number, by: number) {
    const next = [...people];
    const [one] = next.splice(at, 1);
    next.splice(at + by, 0, one!);
    onChange(next);
  }

  if (roster.isPending) return <div role="status" aria-label="Opening the people" className="skeleton h-56 w-full" />;
  if (roster.isError)
    return (
      <p role="alert">
        The people cannot be read: {roster.error.message}{" "}
        <button type="button" className="btn btn-xs" onClick={() => void roster.refetch()}>
          Try again
        </button>
      </p>
    );
  return (
    <div className="grid gap-3 sm:grid-cols-2">
      <section aria-label="Everybody">
        <div className="flex flex-wrap gap-1">
          <input
            type="search"
            aria-label="Search people"
            placeholder="Search"
            className="h-7 min-w-24 grow rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-2 text-sm"
            value={sought}
            onChange={(event) => seek(event.target.value)}
          />
          {groups.length > 1 && (
            <Pick
              bare
              label="Group"
              value={group}
              options={[["", "All groups"], ...groups.map((group): [string, string] => [group, group])]}
              onChange={setGroup}
            />
          )}
          <Pick bare label="Level" value={level} options={LEVELS} onChange={setLevel} />
        </div>
        <div className="mt-1 flex flex-wrap items-center gap-1">
          <button
            type="button"
            className="btn btn-xs"
            disabled={!shownIds.length}
            onClick={() =>
              onChange(
                allShown
                  ? people.filter((id) => !shownIds.includes(id))
                  : [...people, ...shownIds.filter((id) => !here.has(id))],
              )
            }
          >
            {allShown ? "None of these" : "All of these"}
          </button>
          <button type="button" className="btn btn-xs" disabled={!shownIds.length} onClick={() => onChange(shownIds)}>
            These alone
          </button>
          <span className="faint text-xs">{counted(shown.length, "person", "people")} shown</span>
        </div>
        <ul className="mt-1 max-h-56 overflow-y-auto rounded border border-base-300" tabIndex={0} aria-label="People">
          {shown.map(({ person, group: own }) => (
            <li key={person.id}>
              <label className="flex min-h-8 items-center gap-2 px-2 text-sm hover:bg-base-200">
                <input
                  type="checkbox"
                  checked={here.has(person.id)}
                  onChange={() =>
                    onChange(here.has(person.id) ? people.filter((id) => id !== person.id) : [...people, person.id])
                  }
                />
                <span className="min-w-0 grow truncate">{person.name}</span>
                <span className="faint shrink-0 text-xs">
                  {[own, person.level === "standard" ? "" : person.level].filter(Boolean).join(" · ")}
                </span>
              </label>
            </li>
          ))}
          {!shown.length && <li className="faint p-2 text-sm">Nobody of that name, group and level.</li>}
        </ul>
      </section>
      <section aria-label="In this class">
        <h4 className="text-sm font-semibold">{counted(people.length, "person", "people")}, in this order</h4>
        <ol className="mt-1 max-h-64 overflow-y-auto rounded border border-base-300" tabIndex={0} aria-label="Order">
          {people.map((id, at) => (
            <li key={id} className="flex min-h-8 items-center gap-1 px-2 text-sm">
              <span className="w-6 shrink-0 text-right font-semibold">{at + 1}</span>
              <span className="min-w-0 grow truncate pl-1">{names.get(id) ?? id}</span>
              <IconButton label={`${names.get(id) ?? id} earlier`} disabled={at === 0} onClick={() => move(at, -1)}>
                <ArrowUp size={14} aria-hidden />
              </IconButton>
              <IconButton
                label={`${names.get(id) ?? id} later`}
                disabled={at === people.length - 1}
                onClick={() => move(at, 1)}
              >
                <ArrowDown size={14} aria-hidden />
              </IconButton>
              <IconButton
                label={`Without ${names.get(id) ?? id}`}
                onClick={() => onChange(people.filter((person) => person !== id))}
              >
                <X size={14} aria-hidden />
              </IconButton>
            </li>
          ))}
          {!people.length && <li className="faint p-2 text-sm">Nobody yet: tick who comes.</li>}
        </ol>
      </section>
    </div>
  );
}
