import type { PersonRecord } from "../api/client";
import { useBody, useConditions } from "../api/people";
import { ConditionBoxes } from "../shared/ConditionBoxes";
import type { EditRecord } from "./record";

type Props = { record: PersonRecord; edit: EditRecord };

/** What to be careful about: conditions, heart medication, screening, and a note for instructors only. */
export function CareSection({ record, edit }: Props) {
  const conditions = useConditions();
  const person = record.person;
  const careful = person.careful ?? [];
  type Person = typeof person;
  const set = (change: Partial<Person>) => edit((item) => ({ ...item, person: { ...item.person, ...change } }));
  return (
    <section>
      <h2 className="text-lg font-semibold">Considerations</h2>
      <div className="mt-2 flex flex-wrap gap-x-5 gap-y-1.5 text-sm" data-testid="careful">
        <ConditionBoxes chosen={careful} onChange={(chosen) => set({ careful: chosen })} />
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={person.heart_medication}
            onChange={(event) => set({ heart_medication: event.target.checked })}
          />
          heart medication (beta-blocker and similar)
        </label>
      </div>
      {person.heart_medication && (
        <p className="mt-2 text-sm">
          <strong className="text-accent">▲ Effort in place of heart rate.</strong> Everywhere in the plan this person
          goes by perceived effort, 6–20, and by what their doctor said.
        </p>
      )}
      {careful.map((id) => {
        const about = conditions.data?.find((condition) => condition.id === id);
        return (
          about && (
            <p key={id} className="mt-2 text-sm">
              <strong>{about.name}:</strong> {about.read}
            </p>
          )
        );
      })}
      <ScreeningRecord record={record} edit={edit} />
      <p className="faint mt-1 text-xs">A record of what was asked. It clears nobody to train.</p>
      <label className="mt-3 flex flex-col text-sm">
        Note (instructors only)
        <textarea
          className="textarea h-20 w-full text-sm"
          maxLength={2000}
          value={record.health_note}
          onChange={(event) => edit((item) => ({ ...item, health_note: event.target.value }))}
        />
      </label>
    </section>
  );
}

/** What was asked before somebody trains, and what was answered. */
function ScreeningRecord({ record, edit }: Props) {
  const screening = record.person.screening ?? null;
  const state = useBody(record).data?.screening;
  const set = (screening: Props["record"]["person"]["screening"]) =>
    edit((item) => ({ ...item, person: { ...item.person, screening } }));
  return (
    <>
      <h3 className="mt-4 font-semibold">
        Screening{" "}
        {state && (
          <span className={`text-sm font-normal ${state.open ? "text-accent" : "faint"}`}>
            {state.open && "▲ "}
            {state.words}
          </span>
        )}
      </h3>
      <div className="mt-1 flex flex-wrap items-center gap-3 text-sm">
        <label className="flex items-center gap-2">
          asked on
          <input
            type="date"
            className="input input-sm w-40"
            value={screening?.on ?? ""}
            onChange={(event) =>
              set(
                event.target.value
                  ? {
                      on: event.target.value,
                      some_yes: screening?.some_yes ?? false,
                      advised: screening?.advised ?? false,
                    }
                  : null,
              )
            }
          />
        </label>
        {screening && (
          <>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={screening.some_yes}
                onChange={(event) => set({ ...screening, some_yes: event.target.checked })}
              />
              at least one yes
            </label>
            {screening.some_yes && (
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  className="checkbox checkbox-sm"
                  checked={screening.advised}
                  onChange={(event) => set({ ...screening, advised: event.target.checked })}
                />
                licensed advice sought since
              </label>
            )}
          </>
        )}
      </div>
    </>
  );
}
