import type { Catalogue, Plan } from "../api/client";
import { Dialog } from "../shared/Dialog";
import { setPlan } from "../draft/edits";
import type { Draft } from "../draft/useDraft";

const AIMS: [Plan["aim"], string, string][] = [
  ["strength", "strength", "sets and loads are kept; rests may go last"],
  ["conditioning", "conditioning", "rounds and heart rate are kept; rests may go first"],
  ["mixed", "mixed", "a little of everything may go"],
  ["technique", "technique", "rests and slow repetitions are kept; rounds may go first"],
];

/** What the class is for, and what it holds with where practitioners disagree, each with its reasons. */
export function ChoicesDialog({
  draft,
  catalogue,
  onClose,
}: {
  draft: Draft;
  catalogue: Catalogue | undefined;
  onClose: () => void;
}) {
  const { plan, edit } = draft;
  return (
    <Dialog title="Aim and choices of this class" onClose={onClose} wide>
      <fieldset>
        <legend className="font-semibold">Aim</legend>
        {AIMS.map(([id, name, what]) => (
          <Option
            key={id}
            group="aim"
            name={name}
            what={what}
            on={plan.aim === id}
            onChoose={() => edit(setPlan({ aim: id }))}
          />
        ))}
      </fieldset>
      <p className="faint mt-4 text-sm">
        Practitioners disagree on what follows. The default is marked; another choice changes cues, advice and proposals
        of this class only.
      </p>
      {!catalogue && <p role="status">Opening the choices …</p>}
      <div className="grid gap-x-6 md:grid-cols-2">
        {catalogue?.questions.map((question) => {
          const chosen = plan.choices[question.id] ?? question.default;
          return (
            <fieldset key={question.id} className="mt-3 border-t border-base-300 pt-2" data-question={question.id}>
              <legend className="sr-only">{question.name}</legend>
              <div className="font-semibold" aria-hidden>
                {question.name}
              </div>
              {question.schools.map((school) => (
                <Option
                  key={school.id}
                  group={question.id}
                  name={school.name}
                  what={school.reason}
                  mark={school.id === question.default ? "default" : ""}
                  on={chosen === school.id}
                  onChoose={() => {
                    const choices = { ...plan.choices };
                    if (school.id === question.default) delete choices[question.id];
                    else choices[question.id] = school.id;
                    edit(setPlan({ choices }));
                  }}
                />
              ))}
              <p className="faint text-xs">
                Why the default: {question.why_default} What it changes: {question.effect}
              </p>
            </fieldset>
          );
        })}
      </div>
    </Dialog>
  );
}

type OptionProps = { group: string; name: string; what: string; mark?: string; on: boolean; onChoose: () => void };

function Option({ group, name, what, mark, on, onChoose }: OptionProps) {
  return (
    <label className="mt-1 flex cursor-pointer items-start gap-2 text-sm">
      <input type="radio" name={group} className="radio radio-xs mt-1" checked={on} onChange={onChoose} />
      <span>
        {name} {mark && <span className="faint text-xs">({mark})</span>}
        <span className="faint block text-xs">{what}</span>
      </span>
    </label>
  );
}
