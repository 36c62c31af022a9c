import { useState } from "react";

import { Pick } from "../shared/Pick";
import { RATIOS, ratioOf, withRatio, type Keep, type Ratio } from "./ratios";

const KEEPS: [Keep, string][] = [
  ["total", "the interval"],
  ["work", "the work"],
  ["rest", "the change"],
];

/** Work to rest as a ratio, and what stays as it is when another is chosen. */
export function RatioPick({
  work,
  change,
  onChange,
}: {
  work: number;
  change: number;
  onChange: (work: number, change: number) => void;
}) {
  const [keep, setKeep] = useState<Keep>("total");
  const now = ratioOf(work, change);
  const known = RATIOS.some(({ ratio }) => ratio.join(":") === now);
  return (
    <>
      <Pick
        label="Work to rest"
        value={now}
        options={[
          ...(known ? [] : [[now, now] as [string, string]]),
          ...RATIOS.map(({ ratio, usual }): [string, string] => [
            ratio.join(":"),
            usual ? `${ratio.join(":")} (${usual})` : ratio.join(":"),
          ]),
        ]}
        onChange={(words) => {
          const ratio = RATIOS.find((one) => one.ratio.join(":") === words)?.ratio as Ratio | undefined;
          if (ratio) onChange(...withRatio(work, change, ratio, keep));
        }}
      />
      <Pick label="keeping" value={keep} options={KEEPS} onChange={(next) => setKeep(next as Keep)} />
    </>
  );
}
