import type { Forecast, Replay } from "../api/client";
import { clock } from "../shared/format";
import { firstName } from "../shared/names";

type Props = {
  open: boolean;
  onOpen: (open: boolean) => void;
  replay: Replay | undefined;
  error: Error | null;
  again: () => void;
  blockId: string | undefined;
  slotMin: number;
  forecast: Forecast;
};

/** The class replayed with people as they are: how likely it overruns, where it is held up, who waits. */
export function ReplayPanel({ open, onOpen, replay, error, again, blockId, slotMin, forecast }: Props) {
  const here = replay?.blocks.find((block) => block.block === blockId) ?? replay?.blocks[0];
  const neck = here?.units.find((unit) => unit.unit === here.bottleneck);
  const longest = here?.people.toSorted((one, other) => other.waiting_s - one.waiting_s).slice(0, 3);
  return (
    <div className="mt-2 border-t border-base-300 pt-2 text-sm" data-testid="replay">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="toggle toggle-sm"
          checked={open}
          onChange={(event) => onOpen(event.target.checked)}
        />
        Replay it 200 times with people as they are
      </label>
      {open && error && (
        <p role="alert" className="mt-1 text-error">
          The replay failed: {error.message}{" "}
          <button type="button" className="btn btn-xs" onClick={again}>
            Try again
          </button>
        </p>
      )}
      {open && !replay && !error && <div className="skeleton mt-2 h-16" role="status" aria-label="Replaying" />}
      {open && replay && (
        <dl className="mt-1.5 grid grid-cols-[auto_1fr] gap-x-4 gap-y-0.5">
          <dt className="faint">Over the slot of {slotMin} min</dt>
          <dd>
            <strong>{replay.chance_over.toFixed(0)} %</strong> of the replays
          </dd>
          <dt className="faint">Length of the class</dt>
          <dd>
            <strong>{clock(replay.length_s)}</strong>, eight in ten {clock(replay.length_low_s)}–
            {clock(replay.length_high_s)}
          </dd>
          {here && neck && (
            <>
              <dt className="faint">Held up by</dt>
              <dd>
                <strong>{neck.name}</strong>, used {Math.round(neck.used_share * 100)} %
                {neck.waited_for_s >= 30 && `, ${Math.round(neck.waited_for_s / 60)} min of waiting in all`}
              </dd>
              <dt className="faint">Wait longest</dt>
              <dd>
                {longest!.some((item) => item.waiting_s >= 10)
                  ? longest!
                      .map(
                        (item) =>
                          `${item.number} ${firstName(forecast.people[item.number - 1]?.name)} ${clock(item.waiting_s)}`,
                      )
                      .join(", ")
                  : "nobody"}
              </dd>
            </>
          )}
        </dl>
      )}
      {open && replay && (
        <p className="faint mt-1 text-xs">
          Sets, changes and walks vary by 12 to 15 % (common practice); the same plan always gives the same replays. On
          the plan: how much each machine is used, and how long people stand before it.
        </p>
      )}
    </div>
  );
}
