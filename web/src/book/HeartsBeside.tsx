import { line } from "d3-shape";
import { scaleLinear } from "d3-scale";
import { useState } from "react";

import type { Book } from "../api/book";
import { useWidth } from "../drawing/useWidth";
import { figure } from "../shared/format";
import { Pick } from "../shared/Pick";

const HEIGHT = 150;
const LEFT = 40;

/** A recorded heart beside its forecast, person by person. */
export function HeartsBeside({ book }: { book: Book }) {
  const [person, choose] = useState(book.hearts[0]?.person ?? "");
  const { element, width } = useWidth<HTMLDivElement>();
  const heart = book.hearts.find((one) => one.person === person);
  if (!heart) return null;
  const rates = [...heart.forecast, ...heart.recorded.filter((bpm): bpm is number => bpm !== null)];
  const x = scaleLinear([0, heart.forecast.length * heart.every_s], [LEFT, width - 4]);
  const y = scaleLinear([Math.min(...rates) - 5, Math.max(...rates) + 5], [HEIGHT - 18, 6]).nice(4);
  const curve = line<number | null>(
    (_, place) => x(place * heart.every_s),
    (bpm) => y(bpm ?? 0),
  ).defined((bpm) => bpm !== null);
  return (
    <section className="mt-6" aria-labelledby="hearts-beside" data-testid="hearts-beside">
      <div className="flex flex-wrap items-center gap-4">
        <h2 id="hearts-beside" className="text-lg font-semibold">
          Hearts beside forecasts
        </h2>
        <Pick
          label="Of"
          value={person}
          options={book.hearts.map((one): [string, string] => [one.person, book.people[one.person] ?? one.person])}
          onChange={choose}
        />
        <span className="faint text-sm">
          mean error {figure(heart.error_bpm, 1)} bpm, bias {figure(heart.bias_bpm, 1)} bpm over {figure(heart.minutes)}{" "}
          min; dashed is the forecast
        </span>
      </div>
      <div ref={element}>
        {width > 100 && (
          <svg
            width={width}
            height={HEIGHT}
            role="img"
            aria-label={`Recorded heart of ${book.people[person] ?? person} beside its forecast: mean error ${heart.error_bpm} bpm`}
          >
            {y.ticks(4).map((tick) => (
              <g key={tick}>
                <line x1={LEFT} x2={width} y1={y(tick)} y2={y(tick)} stroke="var(--color-base-300)" />
                <text x={LEFT - 6} y={y(tick) + 4} textAnchor="end" className="fill-base-content text-xs">
                  {tick}
                </text>
              </g>
            ))}
            {Array.from({ length: Math.ceil((heart.forecast.length * heart.every_s) / 600) }, (_, place) => place * 600)
              .filter((second) => x(second) < width - 30)
              .map((second) => (
                <text
                  key={second}
                  x={x(second)}
                  y={HEIGHT - 4}
                  textAnchor="middle"
                  className="fill-base-content text-xs"
                >
                  {second / 60} min
                </text>
              ))}
            <path d={curve(heart.recorded) ?? ""} fill="none" stroke="var(--color-secondary)" strokeWidth={2} />
            <path
              d={curve(heart.forecast) ?? ""}
              fill="none"
              stroke="var(--color-base-content)"
              strokeWidth={1.5}
              strokeDasharray="5 3"
            />
          </svg>
        )}
      </div>
    </section>
  );
}
