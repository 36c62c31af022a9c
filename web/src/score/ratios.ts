export type Keep = "total" | "work" | "rest";
type Ratio = readonly [number, number];

/** The ratios of work to rest that are usual, by aim (common practice, no source). */
export const RATIOS: { ratio: Ratio; usual: string }[] = [
  { ratio: [4, 1], usual: "" },
  { ratio: [3, 1], usual: "dense circuits" },
  { ratio: [2, 1], usual: "conditioning" },
  { ratio: [3, 2], usual: "" },
  { ratio: [1, 1], usual: "mixed aims and beginners" },
  { ratio: [1, 2], usual: "strength" },
  { ratio: [1, 3], usual: "technique and speed" },
];

/** Work to rest in small whole numbers, or with one number to one: "2:1", "1.8:1". */
export function ratioOf(work: number, rest: number): string {
  if (rest === 0) return "no rest";
  for (const { ratio } of RATIOS) if (work * ratio[1] === rest * ratio[0]) return ratio.join(":");
  const share = work / rest;
  const round = (value: number) => String(Math.round(value * 10) / 10);
  return share >= 1 ? `${round(share)}:1` : `1:${round(1 / share)}`;
}

/** Work and rest (s) at another ratio, keeping the interval, the work or the rest; bounds are those of a block. */
export function withRatio(work: number, rest: number, [more, less]: Ratio, keep: Keep): [number, number] {
  const bounded = (value: number, least: number, most: number) => Math.min(most, Math.max(least, Math.round(value)));
  if (keep === "work") return [work, bounded((work * less) / more, 0, 1800)];
  if (keep === "rest") return [bounded((rest * more) / less, 5, 3600), rest];
  const total = work + rest;
  const next = bounded((total * more) / (more + less), 5, 3600);
  return [next, bounded(total - next, 0, 1800)];
}
