import { entryAt } from "../basis/entries";
/** The middle of several series at each sample, the half of them around it, and the range of all. */
type Spread = { lowest: number[]; lower: number[]; middle: number[]; upper: number[]; highest: number[] };

export function middleAndSpread(series: number[][]): Spread | null {
  const length = Math.max(0, ...series.map((line) => line.length));
  if (!series.length || !length) return null;
  const spread: Spread = { lowest: [], lower: [], middle: [], upper: [], highest: [] };
  for (let at = 0; at < length; at += 1) {
    const sorted = series
      .map((line) => line[Math.min(at, line.length - 1)] ?? 0)
      .sort((first, second) => first - second);
    spread.lowest.push(entryAt(sorted, 0));
    spread.lower.push(quantile(sorted, 0.25));
    spread.middle.push(quantile(sorted, 0.5));
    spread.upper.push(quantile(sorted, 0.75));
    spread.highest.push(entryAt(sorted, sorted.length - 1));
  }
  return spread;
}

function quantile(sorted: number[], share: number): number {
  const place = (sorted.length - 1) * share;
  const below = Math.floor(place);
  const low = entryAt(sorted, below);
  return low + ((sorted[below + 1] ?? low) - low) * (place - below);
}

/** Stretches of one class of intensity, from a series of shares of the reserve; `limits` part the classes. */
export function stripsOf(
  shares: number[],
  limits: number[],
  every: number,
): { from: number; to: number; level: number }[] {
  const strips: { from: number; to: number; level: number }[] = [];
  shares.forEach((share, at) => {
    const level = limits.filter((limit) => share >= limit).length;
    const last = strips[strips.length - 1];
    if (last && last.level === level) last.to = (at + 1) * every;
    else strips.push({ from: at * every, to: (at + 1) * every, level });
  });
  return strips;
}
