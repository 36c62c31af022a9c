import type { RunState } from "../live/runState";
import { canSpeak, canVibrate, type useBells } from "../live/useBells";
import { Dialog } from "../shared/Dialog";

type Props = { bells: ReturnType<typeof useBells>; runState: RunState; onClose: () => void };

/** What is heard, how loud, and a check of it. */
export function SoundDialog({ bells, onClose }: Props) {
  const { choice, choose } = bells;
  const ticks = [
    ["on", "Bells for work, change, rest, half way, the last seconds and the end", true],
    ["beat", "The beat of the tempo of whoever is chosen under “Log sets”", true],
    [
      "speech",
      canSpeak() ? "Counting and names, spoken" : "Counting and names, spoken (this browser has no voice)",
      canSpeak(),
    ],
    ["vibrate", canVibrate() ? "A shake at each change" : "A shake at each change (not on this device)", canVibrate()],
    ["announce", "Every change told once to a screen reader", true],
  ] as const;
  return (
    <Dialog title="Sound" onClose={onClose}>
      {!bells.possible && <p role="alert">This browser makes no sound. Every call is seen as well.</p>}
      {!bells.ready && bells.possible && (
        <p className="mb-2">Browsers let a page sound only after a press: the check below is one.</p>
      )}
      <div className="flex flex-col gap-2">
        {ticks.map(([name, words, possible]) => (
          <label key={name} className="flex min-h-11 items-center gap-3">
            <input
              type="checkbox"
              className="toggle"
              checked={choice[name] && possible}
              disabled={!possible}
              onChange={(event) => choose({ [name]: event.target.checked })}
            />
            {words}
          </label>
        ))}
        <label className="flex items-center gap-3">
          How loud
          <input
            type="range"
            className="range flex-1"
            min={0}
            max={1}
            step={0.05}
            value={choice.loud}
            onChange={(event) => choose({ loud: Number(event.target.value) })}
          />
        </label>
        <button type="button" className="btn btn-primary" data-first onClick={() => void bells.check()}>
          Play what a change sounds like
        </button>
      </div>
    </Dialog>
  );
}
