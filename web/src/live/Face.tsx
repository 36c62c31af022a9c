import type { RunState } from "./runState";
import { faceOf } from "./runState";
import { blockEnd, nextNeed, type NextNeed } from "./machines";
import type { PersonNow } from "./places";
import { countdown, doingWords, intervalOf, nextChange, placeWords, saidNow, stateWord } from "./words";
import { firstName } from "../shared/names";
import { clock } from "../shared/format";
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

const FRAME =
  "@container relative flex flex-col items-center justify-center overflow-hidden rounded-(--radius-box) border-4 px-3";

/** The clock: what now, how long still, what then. The last three seconds and every call are seen as well as heard. */
export function Face({ runState, wall, countIn_s = null }: Props) {
  const { word, works } = stateWord(runState);
  const face = faceOf(runState);
  const block = entryAt(runState.sheet.blocks, face.block);
  const said = saidNow(runState);
  const interval = intervalOf(runState);
  const next = nextChange(runState);
  const begun = runState.state !== "not begun";
  const need = nextNeed(runState);
  if (need && runState.floor && (runState.state === "runs" || runState.state === "runs over")) {
    return <OwnPaceFace runState={runState} need={need} wall={wall} kind={block.kind} />;
  }
  const lasts = begun ? runState.state === "runs" && face.left_s <= 3 : countIn_s !== null && countIn_s <= 3;
  const shown = begun ? face.left_s : (countIn_s ?? runState.sheet.length_s);
  const text = countdown(shown);
  return (
    <section
      aria-label="The clock"
      className={`${FRAME} ${wall ? "h-full" : "py-3 lg:min-h-72 lg:flex-1"} ${lasts ? "border-accent" : works ? "border-base-content/70" : "border-base-300 border-dashed"}`}
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

/** While people go at their own pace: what needs somebody next, and in how many seconds. */
function OwnPaceFace({
  runState,
  need,
  wall,
  kind,
}: {
  runState: RunState;
  need: NextNeed;
  wall?: boolean;
  kind: string;
}) {
  const seconds = need.what === "ends" ? need.in_s : need.what === "held" ? need.since_s : 0;
  const text = need.what === "all done" ? "done" : `${need.what === "held" ? "+" : ""}${countdown(seconds)}`;
  const word =
    need.what === "all done"
      ? "Everybody is done"
      : need.what === "held"
        ? `${whoWords(need.people, wall)}: done?`
        : `${whoWords([need.person], wall)} ${need.person.doing === "work" ? "is done in" : doingWords(need.person)}`;
  const place = need.what === "ends" ? placeWords(runState.sheet, need.person.here) : null;
  const end = blockEnd(runState);
  return (
    <section
      aria-label="The clock"
      className={`${FRAME} ${wall ? "h-full" : "py-3 lg:min-h-72 lg:flex-1"} ${
        need.what === "held" ? "border-accent" : "border-base-content/70"
      }`}
    >
      <div className="absolute inset-x-0 top-0 h-2" style={{ background: `var(--plank-${kind})` }} aria-hidden />
      <p
        className={`max-w-full truncate font-semibold ${wall ? "text-[5.5vh] leading-none" : "text-2xl sm:text-3xl"}`}
        data-testid="word"
      >
        {word}
      </p>
      <p
        role="timer"
        aria-label={need.what === "all done" ? "everybody is done" : `${text} s`}
        data-testid="left"
        className={`leading-[0.95] font-bold tabular-nums ${wall ? "[--digits:36vh]" : "[--digits:15vh] lg:[--digits:28vh]"}`}
        style={{
          fontSize: `min(var(--digits), ${DIGITS_CQW / Math.max(widthOf(text), need.what === "all done" ? 4 : 2)}cqw)`,
        }}
      >
        {text}
      </p>
      <p className={`font-medium ${wall ? "text-[5vh] leading-none" : "text-lg sm:text-xl"}`} data-testid="said">
        {place ? (
          <>
            {place.what}
            {place.where && <span className="faint">, {place.where}</span>}
          </>
        ) : wall ? null : need.what === "held" ? (
          "Press ✓ when the set is over."
        ) : (
          "Go on to the next block when you like."
        )}
      </p>
      {end && !wall && (
        <p className="text-base" data-testid="block-end">
          <span className="faint">{entryAt(runState.sheet.blocks, faceOf(runState).block).name} over in </span>
          {minutesWords(end)}
          {Math.abs(end.later_s) >= 30 && (
            <span className={end.later_s > 0 ? "font-semibold" : "faint"}>
              , {clock(Math.abs(end.later_s))} {end.later_s > 0 ? "later" : "sooner"} than planned
            </span>
          )}
        </p>
      )}
    </section>
  );
}

function whoWords(people: readonly PersonNow[], wall?: boolean): string {
  const names = people.slice(0, 3).map(({ person }) => {
    const name = firstName(person.name);
    return wall ? name || String(person.number) : `${person.number} ${name}`.trim();
  });
  return names.join(", ") + (people.length > 3 ? ` and ${people.length - 3} more` : "");
}

/** In how many minutes a block ends, as a range; in its last minutes by the second. */
function minutesWords({ left_s, low_s, high_s }: { left_s: number; low_s: number; high_s: number }): string {
  if (left_s < 180) return clock(left_s);
  const [low, high] = [Math.floor(low_s / 60), Math.ceil(high_s / 60)];
  return `${low}–${high} min`;
}
