import { RATIOS, ratioOf, withRatio, type Keep } from "./ratios";

const KEEPS: [Keep, string][] = [
  ["total", "keeping the interval"],
  ["work", "keeping the work"],
  ["rest", "keeping the change"],
];

/** Work to rest as a ratio: another one is chosen with what stays as it is. */
export function RatioPick({
  work,
  change,
  onChange,
}: {
  work: number;
  change: number;
  onChange: (work: number, change: number) => void;
}) {
  const now = ratioOf(work, change);
  return (
    <label className="flex items-center gap-1 text-sm">
      <span className="shrink-0">Work to rest</span>
      <select
        className="h-7 w-20 rounded-[var(--radius-field)] border border-base-300 bg-base-100 px-1 text-sm font-semibold"
        value=""
        onChange={(event) => {
          const [chosenKeep, at] = event.target.value.split(" ");
          const keep = KEEPS.find(([each]) => each === chosenKeep)?.[0];
          const chosen = RATIOS[Number(at)];
          if (chosen && keep) onChange(...withRatio(work, change, chosen.ratio, keep));
        }}
      >
        <option value="">{now}</option>
        {KEEPS.map(([keep, words]) => (
          <optgroup key={keep} label={words}>
            {RATIOS.map(({ ratio, usual }, at) => (
              <option key={ratio.join()} value={`${keep} ${at}`}>
                {ratio.join(":")}
                {usual && ` (usual for ${usual})`}
              </option>
            ))}
          </optgroup>
        ))}
      </select>
    </label>
  );
}
