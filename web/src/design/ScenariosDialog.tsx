import { useSides, type Side } from "../api/scenarios";
import type { Plan } from "../api/client";
import { Dialog } from "../shared/Dialog";
import { Refused } from "../shared/Refused";
import { clock, counted, figure } from "../shared/format";

/** The same class in other circumstances, on one axis, with what becomes of its figures. */
export function ScenariosDialog({ plan, onClose }: { plan: Plan; onClose: () => void }) {
  const told = useSides(plan);
  const sides = told.data?.sides ?? [];
  const longest = Math.max(told.data?.slot_s ?? 0, ...sides.map((side) => side.high_s));
  const [planned] = sides;
  return (
    <Dialog title="Compare scenarios" onClose={onClose} huge>
      {told.isPending && <div className="skeleton h-72 w-full" role="status" aria-label="Computing the scenarios" />}
      <Refused error={told.error} />
      {planned && told.data && (
        <div data-testid="sides">
          <ul className="divide-y divide-base-300">
            {sides.map((side) => (
              <OneSide key={side.id} side={side} planned={planned} slot={told.data.slot_s} longest={longest} />
            ))}
          </ul>
          <p className="faint mt-2 text-xs">
            Every row is the forecast of this very plan in other circumstances; the line stands where the planned end,
            the thin bar is the likely range of the length. Means of the class; “longest wait” is that of whoever waits
            most.
          </p>
        </div>
      )}
    </Dialog>
  );
}

type Props = { side: Side; planned: Side; slot: number; longest: number };

function OneSide({ side, planned, slot, longest }: Props) {
  const at = (seconds: number) => `${(100 * seconds) / longest}%`;
  const own = side.id === planned.id;
  const over = side.length_s > slot;
  return (
    <li className="grid gap-x-4 gap-y-1 py-2 md:grid-cols-[13rem_1fr]" data-side={side.id}>
      <div>
        <strong>{side.name}</strong>
        <span className="faint block text-xs">{side.what}</span>
      </div>
      <div className="min-w-0">
        <div
          className="relative h-6"
          role="img"
          aria-label={`${side.name}: ${clock(side.length_s)}, slot ${clock(slot)}; ${side.blocks
            .map((block) => `${block.name} ${clock(block.end_s - block.start_s)}`)
            .join(", ")}`}
        >
          {side.blocks.map((block, number) => (
            <span
              key={number}
              className="absolute top-0 h-4 rounded-[2px]"
              style={{
                left: at(block.start_s),
                width: `calc(${at(block.end_s - block.start_s)} - 1px)`,
                background: `var(--plank-${block.kind})`,
              }}
            />
          ))}
          <span
            className="absolute top-[18px] h-[3px] bg-base-content"
            style={{ left: at(side.low_s), width: at(Math.max(side.high_s - side.low_s, longest / 300)) }}
          />
          <span className="absolute top-[-3px] h-7 border-l-2 border-dashed border-accent" style={{ left: at(slot) }} />
        </div>
        <dl className="flex flex-wrap gap-x-4 text-sm">
          <Told
            name="length"
            value={clock(side.length_s)}
            by={own ? "" : span(side.length_s - planned.length_s)}
            bad={over}
          />
          <Told
            name="fits"
            value={`${figure(side.chance_inside)} %`}
            by={own ? "" : signed(side.chance_inside - planned.chance_inside)}
            bad={side.chance_inside < 50}
          />
          <Told
            name="longest wait"
            value={clock(side.longest_wait_s)}
            by={own ? "" : span(side.longest_wait_s - planned.longest_wait_s)}
          />
          <Told
            name="work"
            value={`${figure(side.work_share)} %`}
            by={own ? "" : signed(side.work_share - planned.work_share)}
          />
          {side.heart_mean != null && (
            <Told
              name="heart"
              value={`${figure(side.heart_mean)} bpm`}
              by={own ? "" : signed(side.heart_mean - (planned.heart_mean ?? side.heart_mean))}
            />
          )}
          {side.vigorous_min != null && (
            <Told
              name="vigorous"
              value={`${figure(side.vigorous_min)} min`}
              by={own ? "" : signed(side.vigorous_min - (planned.vigorous_min ?? side.vigorous_min))}
            />
          )}
          <Told
            name="energy"
            value={`${figure(side.energy)} kcal`}
            by={own ? "" : signed(side.energy - planned.energy)}
          />
        </dl>
        {side.new_cautions.length > 0 && (
          <details className="text-sm text-accent">
            <summary className="cursor-pointer">▲ {counted(side.new_cautions.length, "new caution")}</summary>
            <ul className="list-disc pl-5 text-base-content">
              {side.new_cautions.map((words) => (
                <li key={words}>{words}</li>
              ))}
            </ul>
          </details>
        )}
      </div>
    </li>
  );
}

function signed(value: number): string {
  const text = figure(Math.abs(value));
  return Number(text.replace(",", "")) === 0 ? "±0" : `${value > 0 ? "+" : "−"}${text}`;
}

function span(seconds: number): string {
  return Math.abs(seconds) < 1 ? "±0" : `${seconds > 0 ? "+" : "−"}${clock(Math.abs(seconds))}`;
}

function Told({ name, value, by, bad }: { name: string; value: string; by: string; bad?: boolean }) {
  return (
    <div className="whitespace-nowrap">
      <dt className="faint inline text-xs">{name}</dt>{" "}
      <dd className={`inline font-semibold ${bad ? "text-accent" : ""}`}>
        {bad && "▲ "}
        {value}
        {by && <span className="faint text-xs font-normal"> {by}</span>}
      </dd>
    </div>
  );
}
