import { nextNeed } from "../live/machines";
import { peopleNow } from "../live/places";
import { placeIn, type RunState } from "../live/runState";
import { intervalOf, placeWords, stateWord } from "../live/words";
import { entryAt } from "../basis/entries";

/** How the class stands, in words that stay the same until something changes. */
function changeWords(runState: RunState): string {
  const { sheet } = runState;
  if (runState.state === "not begun" || runState.state === "ended") return "";
  const block = entryAt(sheet.blocks, placeIn(sheet, runState.second).block);
  const need = nextNeed(runState);
  if (!need) {
    const interval = intervalOf(runState);
    const which = interval ? ` ${interval.number} of ${interval.of}` : "";
    return `${stateWord(runState).word}${which}, ${block.name}.`;
  }
  if (need.what === "all done") return `Everybody is done with ${block.name}.`;
  const held = need.what === "held" ? need.people : [];
  const waiting = peopleNow(runState).filter((person) => person.doing === "wait" && !person.away);
  return [
    ...held.map((one) => `${one.person.name} should be done: ${placeWords(sheet, one.here).what}.`),
    ...waiting.map((one) => `${one.person.name} waits for ${placeWords(sheet, one.here).what}.`),
  ].join(" ");
}

/** Says every change once, politely, to whoever does not see the screen. */
export function Announced({ runState }: { runState: RunState }) {
  return (
    <p role="status" aria-live="polite" className="sr-only" data-testid="announced">
      {changeWords(runState)}
    </p>
  );
}
