import type { RunState } from "./runState";
import { faceOf } from "./runState";
import { countdown, intervalOf, nextChange, saidNow, stateWord } from "./words";
import { entryAt } from "../basis/entries";

type Props = {
  runState: RunState;
  /** the seconds fill their half of a wall */
  wall?: boolean;
  /** seconds until the class begins, once somebody has pressed start */
  countIn_s?: number | null;
};

const DIGITS_CQW = 165;

/** How wide a time is in digits: the colon is half of one. */
function widthOf(text: string): number {
  return Math.max(
    2,
    [...text].reduce((sum, sign) => sum + (sign === ":" ? 0.55 : 1), 0),
  );
}

/** The clock: what now, how long still, what then. The last three seconds and every call are seen as well as heard. */
export function Face({ runState, wall, countIn_s = null }: Props) {
  const { word, works } = stateWord(runState);
  const face = faceOf(runState);
  const block = entryAt(runState.sheet.blocks, face.block);
  const said = saidNow(runState);
  const interval = intervalOf(runState);
  const next = nextChange(runState);
  const begun = runState.state !== "not begun";
  const lasts = begun ? runState.state === "runs" && face.left_s <= 3 : countIn_s !== null && countIn_s <= 3;
  const shown = begun ? face.left_s : (countIn_s ?? runState.sheet.length_s);
  const text = countdown(shown);
  return (
    <section
      aria-label="The clock"
      className={`@container relative flex flex-col items-center justify-center overflow-hidden rounded-(--radius-box) border-4 px-3 ${
        wall ? "h-full" : "py-3 lg:min-h-72 lg:flex-1"
      } ${lasts ? "border-accent" : works ? "border-base-content/70" : "border-base-300 border-dashed"}`}
    >
      <div className="absolute inset-x-0 top-0 h-2" style={{ background: `var(--plank-${block.kind})` }} aria-hidden />
      <p className={`font-semibold ${wall ? "text-[5.5vh] leading-none" : "text-2xl sm:text-3xl"}`} data-testid="word">
        {countIn_s === null || begun ? word : "Get ready"}
        {interval && begun && <span className="faint font-normal"> {`${interval.number} of ${interval.of}`}</span>}
      </p>
      <p
        role="timer"
        aria-label={`${text} left`}
        data-testid="left"
        className={`leading-[0.95] font-bold tabular-nums ${wall ? "[--digits:42vh]" : "[--digits:19vh] lg:[--digits:34vh]"} ${
          lasts ? "text-accent" : ""
        }`}
        style={{ fontSize: `min(var(--digits), ${DIGITS_CQW / widthOf(text)}cqw)` }}
      >
        {text}
      </p>
      <p
        className={`min-h-[1.4em] font-medium ${wall ? "text-[5vh] leading-none" : "text-lg sm:text-xl"}`}
        data-testid="said"
        aria-live="off"
      >
        {said ? (
          <strong className="rounded bg-base-content px-3 text-base-100">{said}</strong>
        ) : next && begun ? (
          <>
            then {next.words} <span className="faint">in {countdown(next.in_s)}</span>
          </>
        ) : (
          block.name
        )}
      </p>
    </section>
  );
}
