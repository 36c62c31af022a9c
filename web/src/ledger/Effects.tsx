import type { Reached } from "../api/aim";
import { clock, figure } from "../shared/format";

/** What a change does to each figure. */
export function Effects({ effect }: { effect: Reached["effect"] }) {
  const seconds = `${effect.length_change_s < 0 ? "−" : "+"}${clock(Math.abs(effect.length_change_s))}`;
  const muscles = effect.muscles.slice(0, 3).map((muscle) => {
    const sign = muscle.change_s < 0 ? "−" : "+";
    return `${muscle.name.toLowerCase()} ${sign}${clock(Math.abs(muscle.change_s))}`;
  });
  return (
    <dl className="mt-0.5 flex flex-wrap gap-x-4 text-xs">
      <Effect name="time" value={seconds} />
      <Effect name="chance that it fits" value={`${figure(effect.chance_inside)} %`} />
      <Effect name="work ÷ total" value={`${signed(effect.work_share_change, 1)} %`} />
      {effect.load_per_minute_change != null && (
        <Effect name="load ÷ minute" value={`${signed(effect.load_per_minute_change)} kg`} />
      )}
      <Effect name="sets ÷ minute" value={signed(effect.sets_per_minute_change, 2)} />
      {effect.heart_mean_change != null && (
        <Effect name="mean heart" value={`${signed(effect.heart_mean_change)} bpm`} />
      )}
      {effect.vigorous_min_change != null && (
        <Effect name="vigorous" value={`${signed(effect.vigorous_min_change)} min`} />
      )}
      {Math.abs(effect.waiting_change_s) >= 5 && (
        <Effect
          name="waiting each"
          value={`${effect.waiting_change_s < 0 ? "−" : "+"}${clock(Math.abs(effect.waiting_change_s))}`}
        />
      )}
      <Effect name="energy" value={`${signed(effect.kcal_change)} kcal`} />
      {muscles.length > 0 && <Effect name="under tension" value={muscles.join(", ")} />}
    </dl>
  );
}

function signed(value: number, decimals = 0): string {
  const text = figure(Math.abs(value), decimals);
  return Number(text.replace(",", "")) === 0 ? "±0" : `${value > 0 ? "+" : "−"}${text}`;
}

function Effect({ name, value }: { name: string; value: string }) {
  return (
    <div>
      <dt className="faint inline">{name}</dt> <dd className="inline font-semibold">{value}</dd>
    </div>
  );
}
