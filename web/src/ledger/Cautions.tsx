import { useState } from "react";

import { useMay } from "../api/account";
import { applyChange } from "../api/calls";
import type { Caution, Forecast, Plan } from "../api/client";
import { useChosen, useShownClass } from "../class/classContext";
import { replacePlan } from "../draft/edits";
import { counted } from "../shared/format";
import { errorWords } from "../basis/entries";

const SIGNS = { clash: "✕ Clash", caution: "▲ Caution", note: "● Note" };
const RANK = { clash: 0, caution: 1, note: 2 };
const AT_ONCE = 3;

export type CautionGroup = { key: string; name: string; cautions: Caution[] };

/** The gravest first; among equals what concerns the class before what concerns one person's care. */
export function gravestFirst(cautions: Caution[]): Caution[] {
  const rank = (item: Caution) => RANK[item.severity] * 2 + (item.about === "careful" ? 1 : 0);
  return [...cautions].sort((one, other) => rank(one) - rank(other));
}

/** Cautions by whom or what they are about, the gravest group first; what is said of several slots is said once. */
export function grouped(cautions: Caution[], plan: Plan, forecast: Forecast): CautionGroup[] {
  const groups = new Map<string, CautionGroup>();
  for (const item of gravestFirst(cautions)) {
    const { key, name } = aboutWhom(item, plan, forecast);
    const group = groups.get(key) ?? { key, name, cautions: [] };
    const same = group.cautions.find((other) => other.message === item.message && other.safer === item.safer);
    if (!same || item.fix) group.cautions.push(item);
    groups.set(key, group);
  }
  return [...groups.values()];
}

function aboutWhom(one: Caution, plan: Plan, forecast: Forecast): { key: string; name: string } {
  const some = one.people.length > 0 && one.people.length < plan.people.length;
  if (some && one.people.length <= 2) {
    const names = one.people.map((number) => forecast.people.find((person) => person.number === number)?.name);
    return { key: `people ${one.people.join()}`, name: names.map((name) => name ?? "?").join(" and ") };
  }
  const block = plan.blocks[one.block];
  if (block) return { key: `block ${block.id}`, name: block.name };
  if (one.slots.length) {
    const slot = forecast.slots.find((own) => own.id === one.slots[0]);
    const of = slot && plan.blocks[slot.block];
    if (of) return { key: `block ${of.id}`, name: of.name };
  }
  return some
    ? { key: "some", name: counted(one.people.length, "person", "people") }
    : { key: "class", name: "The class" };
}

/** How many there are of each kind, in words: "1 clash, 3 cautions, 2 notes". */
export function countedCautions(cautions: Caution[]): string {
  return (["clash", "caution", "note"] as const)
    .map((kind) => [cautions.filter((caution) => caution.severity === kind).length, kind] as const)
    .filter(([count]) => count > 0)
    .map(([count, kind]) => counted(count, kind, kind === "clash" ? "clashes" : `${kind}s`))
    .join(", ");
}

/** What stands out to warn of: a counted line that opens; three lines at once, then all of them by whom and where. */
export function Cautions() {
  const { forecast, plan, edit } = useShownClass();
  const { selectBlock } = useChosen();
  const mayPlan = useMay("plan_classes");
  const [open, setOpen] = useState(false);
  const [all, showAll] = useState(false);
  const [failed, setFailed] = useState("");
  const cautions = forecast.cautions;
  if (!cautions.length) return <p className="faint mt-2 text-xs">Nothing in this plan stands out to warn of.</p>;
  const grave = cautions.some((caution) => caution.severity === "clash");
  const groups = grouped(cautions, plan, forecast);
  const first = gravestFirst(groups.flatMap((group) => group.cautions)).slice(0, AT_ONCE);

  async function mend(fixes: Caution[]) {
    setFailed("");
    let next = plan;
    try {
      for (const fix of fixes) if (fix.fix) next = await applyChange(next, fix.fix.change);
      edit(replacePlan(next));
    } catch (error) {
      setFailed(errorWords(error));
    }
  }

  const line = (item: Caution, withPlace: boolean) => {
    const block = plan.blocks[item.block];
    const people = item.people.length && item.people.length < plan.people.length ? item.people : [];
    return (
      <li
        key={`${item.severity}-${item.slots.join()}-${item.people.join()}-${item.message}`}
        className="text-xs leading-4"
      >
        <strong className={item.severity === "note" ? "" : "text-accent"}>{SIGNS[item.severity]}</strong>{" "}
        {withPlace && block && (
          <button
            type="button"
            className="min-h-6 underline decoration-dotted underline-offset-2"
            onClick={() => selectBlock(block.id)}
          >
            {block.name}
          </button>
        )}
        {withPlace && block && ": "}
        {people.length > 0 && `${people.length === 1 ? "no." : "nos."} ${people.join(", ")}: `}
        {item.message}. {item.safer && <span className="faint">Safer: {item.safer}. </span>}
        {item.fix && mayPlan && (
          <button type="button" className="btn btn-xs" onClick={() => void mend([item])}>
            {item.fix.label}
          </button>
        )}
      </li>
    );
  };

  return (
    <section aria-label="Cautions" className="mt-2 border-t border-base-300 pt-1" data-testid="cautions">
      <button
        type="button"
        aria-expanded={open}
        className={`flex min-h-6 w-full items-baseline justify-between rounded text-left font-semibold hover:bg-base-200 ${grave ? "text-accent" : ""}`}
        onClick={() => setOpen(!open)}
      >
        <span>
          {grave ? "✕" : cautions.some((caution) => caution.severity === "caution") ? "▲" : "●"}{" "}
          {countedCautions(cautions)}
        </span>
        <span className="text-xs font-normal underline decoration-dotted underline-offset-2">
          {open ? "close" : "read"}
        </span>
      </button>
      {open && !all && <ul className="mt-1 space-y-1.5">{first.map((item) => line(item, true))}</ul>}
      {open &&
        all &&
        groups.map((group) => {
          const fixes = group.cautions.filter((caution) => caution.fix);
          return (
            <section key={group.key} aria-label={group.name} className="mt-1.5">
              <h4 className="flex items-baseline justify-between gap-2 text-xs font-semibold">
                <span>{group.name}</span>
                {mayPlan && fixes.length > 1 && (
                  <button type="button" className="btn btn-xs" onClick={() => void mend(fixes)}>
                    All {fixes.length} safer choices
                  </button>
                )}
              </h4>
              <ul className="space-y-1">{group.cautions.map((caution) => line(caution, false))}</ul>
            </section>
          );
        })}
      {open && (all || first.length < cautions.length) && (
        <button
          type="button"
          className="mt-1 min-h-6 text-xs underline decoration-dotted underline-offset-2"
          onClick={() => showAll(!all)}
        >
          {all ? "The gravest alone" : `All ${cautions.length}, by whom and where`}
        </button>
      )}
      {failed && (
        <p role="alert" className="text-xs">
          Not changed: {failed}
        </p>
      )}
    </section>
  );
}
