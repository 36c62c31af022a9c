import { Dialog } from "../shared/Dialog";
import { setPlan } from "../draft/edits";
import type { Draft } from "../draft/useDraft";
import { PeoplePicker } from "../who/PeoplePicker";
import { WhereWhen } from "../who/WhereWhen";

/** Who comes to this class, where and when it is, and what for. Every change takes effect at once and can be undone. */
export function SetUpDialog({ draft, onClose }: { draft: Draft; onClose: () => void }) {
  const { plan, edit } = draft;
  return (
    <Dialog title="Class details" onClose={onClose} wide>
      <div className="space-y-3">
        <WhereWhen chosen={plan} onChange={(fields) => edit(setPlan(fields), "set-up")} />
        <PeoplePicker
          people={plan.people}
          onChange={(people) => {
            if (people.length) edit(setPlan(withoutStrangers(plan, people)), "people");
          }}
        />
        <p className="faint text-xs">
          A class has at least one person. Rotations that were chosen stay for those who are in them.
        </p>
      </div>
    </Dialog>
  );
}

/** The people, and the wishes of those who are still among them. */
function withoutStrangers(plan: Draft["plan"], people: string[]): Partial<Draft["plan"]> {
  const here = new Set(people);
  const kept = (companies: string[][]) =>
    companies.map((company) => company.filter((id) => here.has(id))).filter((company) => company.length > 1);
  return {
    people,
    together: kept(plan.together),
    apart: kept(plan.apart),
    instead: plan.instead
      .map((item) => ({ ...item, people: item.people.filter((id) => here.has(id)) }))
      .filter((item) => item.people.length || item.level),
    newcomers: (plan.newcomers ?? []).filter((id) => here.has(id)),
    settings: (plan.settings ?? []).filter((setting) => here.has(setting.person)),
  };
}
