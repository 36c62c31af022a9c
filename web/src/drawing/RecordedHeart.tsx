import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";

import { useWidth } from "./useWidth";

type Props = {
  forecast: number[];
  recorded: (number | null)[];
  /** what the usual heart would have shown, where that is another */
  usual?: number[] | null;
  every: number;
  height: number;
  /** what is drawn, in words */
  label: string;
};

const LEFT = 34;
const BELOW = 18;

/** A recorded heart as dots, its forecast as a line, and the usual heart's dashed, over the minutes of a class. */
export function RecordedHeart({ forecast, recorded, usual, every, height, label }: Props) {
  const { element, width } = useWidth<HTMLDivElement>();
  const rates = [...forecast, ...(usual ?? []), ...recorded.filter((bpm): bpm is number => bpm !== null)];
  const x = scaleLinear([0, Math.max(1, forecast.length - 1) * every], [LEFT, Math.max(width, LEFT + 1)]);
  const y = scaleLinear([Math.min(...rates), Math.max(...rates)], [height - BELOW, 4]).nice(4);
  const curve = line<number>(
    (_, place) => x(place * every),
    (bpm) => y(bpm),
  ).digits(1);
  const minutes = Math.floor(((forecast.length - 1) * every) / 600);
  return (
    <div ref={element} className="min-w-0 grow">
      <svg width={width} height={height} role="img" aria-label={label} className="block">
        {y.ticks(3).map((tick) => (
          <g key={tick}>
            <line x1={LEFT} x2={width} y1={y(tick)} y2={y(tick)} stroke="var(--color-base-300)" />
            <text x={LEFT - 5} y={y(tick) + 4} textAnchor="end" className="fill-base-content text-xs">
              {tick}
            </text>
          </g>
        ))}
        {Array.from({ length: minutes }, (_, place) => 10 * (place + 1)).map((minute) => (
          <text
            key={minute}
            x={x(minute * 60)}
            y={height - 4}
            textAnchor={x(minute * 60) > width - 16 ? "end" : "middle"}
            className="fill-base-content text-xs"
          >
            {minute}
          </text>
        ))}
        {recorded.map(
          (bpm, place) =>
            bpm !== null && <circle key={place} cx={x(place * every)} cy={y(bpm)} r={1.6} className="fill-accent" />,
        )}
        {usual && (
          <path d={curve(usual) ?? ""} fill="none" stroke="var(--faint)" strokeWidth={1} strokeDasharray="4 3" />
        )}
        <path d={curve(forecast) ?? ""} fill="none" stroke="var(--color-base-content)" strokeWidth={1.6} />
      </svg>
    </div>
  );
}

/** What the signs of such a drawing mean. */
export function HeartSigns({ usual }: { usual: boolean }) {
  return (
    <ul className="faint flex flex-wrap gap-x-3 text-xs">
      <li>
        <span className="text-accent">•</span> recorded
      </li>
      <li>— forecast</li>
      {usual && <li>- - usual heart</li>}
    </ul>
  );
}
