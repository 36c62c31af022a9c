import type { ExerciseProgress } from "../api/progress";

type Gain = NonNullable<ExerciseProgress["gain"]>;

const MARKS = { better: "▲", worse: "▼", "not told apart": "≈" } as const;

/** Better, worse or not told apart, as a shape that does not hang on colour. */
export function VerdictMark({ verdict }: { verdict: Gain["verdict"] }) {
  return (
    <span className={verdict === "worse" ? "text-accent" : verdict === "better" ? "text-primary" : ""} aria-hidden>
      {MARKS[verdict]}
    </span>
  );
}

/** A share as per cent with its sign, "+4.2 %". */
export function percent(share: number): string {
  const rounded = Math.round(share * 1000) / 10;
  return `${rounded > 0 ? "+" : rounded < 0 ? "−" : "±"}${Math.abs(rounded)} %`;
}

/** A gain in words with its range. */
export function gainWords(gain: Gain): string {
  return `${gain.verdict} (${percent(gain.share)})`;
}
