import { useState } from "react";

import type { Forecast, Plan } from "../api/client";
import { Dialog } from "../shared/Dialog";
import { clock } from "../shared/format";

type Muscles = Forecast["muscles"];

/** Textures, so that no muscle hangs on a colour. */
const HATCH = "repeating-linear-gradient(135deg, var(--color-secondary) 0 2px, transparent 2px 5px)";

type BalanceProps = {
  muscles: Muscles;
  plan: Plan;
  /** brings a muscle to another value, for those who may */
  onAim?: (muscle: Muscles[number]) => void;
};

/** Minutes under tension of each muscle: solid as prime mover, hatched as helper. */
export function MuscleBalance({ muscles, plan, onAim }: BalanceProps) {
  const [open, setOpen] = useState(false);
  const most = Math.max(1, ...muscles.map((muscle) => muscle.prime_s + muscle.helping_s));
  if (!muscles.length) return <p className="faint">No muscle is under tension yet: add a lifting exercise.</p>;
  return (
    <>
      <ul className="space-y-0.5">
        {muscles.map((muscle) => (
          <li
            key={muscle.muscle}
            className="flex items-center gap-1.5 text-xs"
            title={`${muscle.name}: prime mover ${clock(muscle.prime_s)} min:s, helping ${clock(muscle.helping_s)} min:s`}
          >
            <span className="w-[4.6rem] shrink-0">{muscle.name}</span>
            <span className="flex h-2.5 grow">
              <span className="bg-secondary" style={{ width: `${(muscle.prime_s / most) * 100}%` }} />
              <span style={{ width: `${(muscle.helping_s / most) * 100}%`, background: HATCH }} />
            </span>
            <span className="w-8 shrink-0 text-right">{clock(muscle.prime_s)}</span>
          </li>
        ))}
        <li className="faint text-xs">mean of the class; solid: prime mover (min:s), hatched: helping</li>
      </ul>
      <button type="button" className="btn btn-xs mt-1" onClick={() => setOpen(true)}>
        Muscle balance by block
      </button>
      {open && (
        <BalanceDialog
          muscles={muscles}
          plan={plan}
          onAim={
            onAim &&
            ((item) => {
              setOpen(false);
              onAim(item);
            })
          }
          onClose={() => setOpen(false)}
        />
      )}
    </>
  );
}

/** Pairs that pull against each other; the usual question is how far apart they are. */
const OPPOSITES: [string, string][] = [
  ["quadriceps", "hamstrings"],
  ["adductors", "abductors"],
  ["calves", "shins"],
  ["abdominals", "lower-back"],
];

/** Every muscle against every block, and opposite muscles against each other. */
function BalanceDialog({ muscles, plan, onAim, onClose }: BalanceProps & { onClose: () => void }) {
  const blocks = plan.blocks
    .map((block, index) => ({ name: block.name, index }))
    .filter(({ index }) => muscles.some((muscle) => (muscle.prime_by_block_s[index] ?? 0) > 0));
  const most = Math.max(1, ...muscles.flatMap((muscle) => muscle.prime_by_block_s));
  const of = new Map(muscles.map((muscle) => [muscle.muscle, muscle]));
  return (
    <Dialog title="Muscle balance" onClose={onClose} wide>
      <p className="faint text-sm">Minutes under tension as prime mover, mean of a person.</p>
      <div className="overflow-x-auto">
        <table className="mt-2 w-full text-sm" data-testid="muscle-balance">
          <thead>
            <tr className="border-b border-base-300 text-left">
              <th className="py-1 pr-2 font-semibold">Muscle</th>
              {blocks.map((block) => (
                <th key={block.index} className="px-2 font-semibold">
                  {block.name}
                </th>
              ))}
              <th className="pl-2 text-right font-semibold">Class</th>
              {onAim && <th aria-label="Another value" />}
            </tr>
          </thead>
          <tbody>
            {muscles.map((muscle) => (
              <tr key={muscle.muscle} className="border-b border-[var(--rule)]">
                <th className="py-1 pr-2 text-left font-normal">{muscle.name}</th>
                {blocks.map((block) => {
                  const seconds = muscle.prime_by_block_s[block.index] ?? 0;
                  return (
                    <td key={block.index} className="min-w-24 px-2">
                      {seconds > 0 && (
                        <span className="flex items-center gap-1.5">
                          <span className="h-2.5 bg-secondary" style={{ width: `${(seconds / most) * 70}%` }} />
                          <span className="text-xs">{clock(seconds)}</span>
                        </span>
                      )}
                    </td>
                  );
                })}
                <td className="pl-2 text-right font-semibold">{clock(muscle.prime_s)}</td>
                {onAim && (
                  <td className="pl-2 text-right">
                    <button
                      type="button"
                      className="btn btn-xs"
                      aria-label={`Aim at another value of ${muscle.name.toLowerCase()}`}
                      onClick={() => onAim(muscle)}
                    >
                      Aim …
                    </button>
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <h3 className="mt-4 font-semibold">Opposites</h3>
      <ul className="text-sm">
        {OPPOSITES.map(([one, other]) => {
          const [front, back] = [of.get(one), of.get(other)];
          if (!front && !back) return null;
          return (
            <li key={one} className="mt-1 grid grid-cols-[8rem_1fr_8rem] items-center gap-2">
              <span className="text-right">
                {front?.name ?? one} {clock(front?.prime_s ?? 0)}
              </span>
              <Scale left={front?.prime_s ?? 0} right={back?.prime_s ?? 0} />
              <span>
                {clock(back?.prime_s ?? 0)} {(back?.name ?? other.replace("-", " ")).toLowerCase()}
              </span>
            </li>
          );
        })}
      </ul>
    </Dialog>
  );
}

function Scale({ left, right }: { left: number; right: number }) {
  const all = Math.max(left + right, 1);
  return (
    <span className="flex h-3 border border-base-300" aria-hidden>
      <span className="bg-secondary" style={{ width: `${(left / all) * 100}%` }} />
      <span style={{ width: `${(right / all) * 100}%`, background: HATCH }} />
    </span>
  );
}
