import { useState } from "react";

import { useMay } from "../api/account";
import type { Caution } from "../api/client";
import { useShownClass } from "../class/classContext";
import { counted } from "../shared/format";

const SIGNS = { clash: "✕ Clash", caution: "▲ Caution", note: "● Note" };

/** How many there are of each kind, in words: "1 clash, 3 cautions, 2 notes". */
function countedCautions(cautions: Caution[]): string {
  return (["clash", "caution", "note"] as const)
    .map((kind) => [cautions.filter((caution) => caution.severity === kind).length, kind] as const)
    .filter(([count]) => count > 0)
    .map(([count, kind]) => counted(count, kind, kind === "clash" ? "clashes" : `${kind}s`))
    .join(", ");
}

/** What stands out to warn of, counted as the plan stands: it opens the review, or for assistants a plain list. */
export function Cautions({ onReview }: { onReview: () => void }) {
  const { forecast, plan } = useShownClass();
  const mayPlan = useMay("plan_classes");
  const [open, setOpen] = useState(false);
  const cautions = forecast.cautions;
  if (!cautions.length) return <p className="faint mt-2 text-xs">Nothing in this plan stands out to warn of.</p>;
  const worst = (["clash", "caution", "note"] as const).find((kind) => cautions.some((item) => item.severity === kind));
  return (
    <section aria-label="Cautions" className="mt-2 border-t border-base-300 pt-1" data-testid="cautions">
      <button
        type="button"
        aria-expanded={mayPlan ? undefined : open}
        className={`flex min-h-6 w-full items-baseline justify-between rounded text-left font-semibold hover:bg-base-200 ${worst === "clash" ? "text-accent" : ""}`}
        onClick={() => (mayPlan ? onReview() : setOpen(!open))}
      >
        <span>
          {worst && SIGNS[worst].slice(0, 1)} {countedCautions(cautions)}
        </span>
        <span className="text-xs font-normal underline decoration-dotted underline-offset-2">
          {mayPlan ? "review" : open ? "close" : "read"}
        </span>
      </button>
      {open && (
        <ul className="mt-1 space-y-1.5">
          {cautions.map((item, at) => (
            <li key={at} className="text-xs leading-4">
              <strong className={item.severity === "note" ? "" : "text-accent"}>{SIGNS[item.severity]}</strong>{" "}
              {plan.blocks[item.block] && `${plan.blocks[item.block]?.name}: `}
              {item.message}. {item.safer && <span className="faint">Safer: {item.safer}. </span>}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
