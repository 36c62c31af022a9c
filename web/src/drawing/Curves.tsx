import { memo, useMemo } from "react";

import { isFull, type Forecast, type PersonForecast } from "../api/client";
import { figure } from "../shared/format";
import { shareOfReserve } from "../shared/heart";
import type { Axis, Drag } from "./axis";
import { bandOf, curveOf } from "./paths";
import { entryAt, lastOf } from "../basis/entries";

type Props = { axis: Axis; forecast: Forecast; person: PersonForecast | null; drag: Drag };

const HEART_H = 86;
const ENERGY_H = 44;

const heartY = (share: number) => HEART_H * (1 - share);

/** The class's hearts as one band of heart-rate reserve, over the intensity classes by name. */
export const HeartBand = memo(function HeartBand({ axis, forecast, person, drag, second }: Props & { second: number }) {
  const limits = [0, ...forecast.class_limits, 1];
  const y = heartY;
  const shapes = useMemo(() => {
    const band = forecast.band;
    if (!band) return null;
    const series = { axis, every: forecast.sample_s, end: forecast.length.value, y: heartY };
    return { area: bandOf(band.low, band.high, series), median: curveOf(band.median, series) };
  }, [axis, forecast]);
  const own = useMemo(() => {
    if (!person?.heart_applies) return "";
    const shares = person.bpm.map((bpm) => shareOfReserve(person, bpm));
    return curveOf(shares, { axis, every: forecast.sample_s, end: forecast.length.value, y: heartY });
  }, [axis, forecast, person]);

  const sample = Math.round(second / forecast.sample_s);
  // hearts are for instructors: an assistant's score ends with the staves
  if (!isFull(forecast)) return null;
  return (
    <div className="pt-1 grid score-columns">
      <div className="relative" style={{ height: HEART_H }}>
        <div className="absolute top-0 left-0 hidden max-w-30 sm:block">
          <div className="hand font-semibold">Heart rate</div>
          <div className="faint text-xs">% of reserve, from the slowest to the fastest heart</div>
        </div>
        {forecast.class_names.map((name, index) => (
          <span
            key={name}
            className="absolute right-2 flex -translate-y-1/2 items-center gap-1 text-xs leading-3"
            style={{ top: y((entryAt(limits, index) + entryAt(limits, index + 1)) / 2) }}
          >
            {name} <IntensityMark level={index} />
          </span>
        ))}
      </div>
      <svg
        {...drag}
        width={axis.width}
        height={HEART_H}
        className="block cursor-crosshair touch-none"
        role="img"
        aria-label={heartInWords(forecast, sample)}
      >
        {forecast.class_names.map((name, index) => (
          <rect
            key={name}
            x={0}
            width={axis.width}
            y={y(entryAt(limits, index + 1))}
            height={y(entryAt(limits, index)) - y(entryAt(limits, index + 1))}
            fill={`var(--intensity-${index})`}
          />
        ))}
        {shapes ? (
          <>
            <path d={shapes.area} fill="var(--color-secondary)" opacity={0.32} />
            <path d={shapes.median} fill="none" stroke="var(--color-secondary)" strokeWidth={2} />
            {own && (
              <path
                d={own}
                fill="none"
                stroke="var(--color-base-content)"
                strokeWidth={2}
                strokeDasharray="5 3"
                data-testid="own-heart"
              />
            )}
          </>
        ) : (
          <text x={axis.width / 2} y={HEART_H / 2} textAnchor="middle" className="fill-base-content text-sm">
            Heart-rate figures apply to nobody in this class: use perceived effort.
          </text>
        )}
      </svg>
    </div>
  );
});

function heartInWords(forecast: Forecast, sample: number): string {
  const share = forecast.band?.median[sample];
  return share === undefined
    ? "Heart rate of the class over time"
    : `Heart rate of the class over time; at the scrub line the middle heart is at ${Math.round(share * 100)} % of reserve`;
}

/** The mark of an intensity class: one more stroke for each class, so that it does not hang on colour. */
export function IntensityMark({ level }: { level: number }) {
  return (
    <svg width={16} height={10} aria-hidden className="shrink-0">
      {[0, 1, 2, 3, 4].map((stroke) => (
        <rect
          key={stroke}
          x={stroke * 3.2}
          y={8 - stroke * 2}
          width={2.2}
          height={2 + stroke * 2}
          fill={stroke <= level ? "var(--color-base-content)" : "var(--color-base-300)"}
        />
      ))}
    </svg>
  );
}

/** Energy climbing over the class, one person, with its likely range. */
export const EnergyCurve = memo(function EnergyCurve({ axis, forecast, person, drag }: Props) {
  const shapes = useMemo(() => {
    const kcal = person?.kcal ?? forecast.kcal;
    if (!kcal || !forecast.kcal || !forecast.kcal_high) return null;
    const spread = lastOf(forecast.kcal_high) / lastOf(forecast.kcal) - 1;
    const low = kcal.map((value) => value * (1 - spread));
    const high = kcal.map((value) => value * (1 + spread));
    const top = Math.max(lastOf(high), 1);
    const y = (value: number) => ENERGY_H - 2 - (value / top) * (ENERGY_H - 6);
    const every = person ? forecast.kcal_sample_s : forecast.sample_s;
    const series = { axis, every, end: forecast.length.value, y };
    return {
      area: bandOf(low, high, series),
      middle: curveOf(kcal, series),
      words: `${figure(lastOf(kcal))} kcal (${figure(lastOf(low))}–${figure(lastOf(high))})`,
    };
  }, [axis, forecast, person]);
  // energy tells of bodies: it is for instructors
  if (!shapes) return null;
  return (
    <div className="mt-1 grid score-columns border-t border-base-300 ">
      <div className="pt-1">
        <div className="hand font-semibold">Energy</div>
        <div className="faint text-xs">
          {person ? `${person.number} ${person.name}` : "one person, mean"}: {shapes.words}
        </div>
      </div>
      <svg
        {...drag}
        width={axis.width}
        height={ENERGY_H}
        className="block cursor-crosshair touch-none"
        role="img"
        aria-label={`Energy over the class, ends at ${shapes.words}`}
      >
        <path d={shapes.area} fill="var(--color-primary)" opacity={0.22} />
        <path d={shapes.middle} fill="none" stroke="var(--color-primary)" strokeWidth={2} />
      </svg>
    </div>
  );
});
