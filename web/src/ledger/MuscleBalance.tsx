import type { Forecast } from "../api/client";
import { clock } from "../shared/format";

/** Minutes under tension of each muscle: solid as prime mover, hatched as helper. */
export function MuscleBalance({ muscles }: { muscles: Forecast["muscles"] }) {
  const most = Math.max(1, ...muscles.map((muscle) => muscle.prime_s + muscle.helping_s));
  if (!muscles.length) return <p className="faint">No muscle is under tension yet: add a lifting exercise.</p>;
  return (
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
            <span
              style={{
                width: `${(muscle.helping_s / most) * 100}%`,
                background: "repeating-linear-gradient(135deg, var(--color-secondary) 0 2px, transparent 2px 5px)",
              }}
            />
          </span>
          <span className="w-8 shrink-0 text-right">{clock(muscle.prime_s)}</span>
        </li>
      ))}
      <li className="faint text-xs">mean of the class; solid: prime mover (min:s), hatched: helping</li>
    </ul>
  );
}
