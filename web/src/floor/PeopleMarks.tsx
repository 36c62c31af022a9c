import type { Room } from "../api/client";
import type { Standing } from "../drawing/floorModel";
import { placed, type Kinds, type Mark } from "./marks";

type Props = {
  room: Room;
  kinds: Kinds;
  standings: Standing[];
  chosen: number | null;
  onChoose: (number: number | null) => void;
};

/** Everybody on the plan: a full disc works, a ring rests, a dashed ring with “w” waits, an arrow walks. */
export function PeopleMarks({ room, kinds, standings, chosen, onChoose }: Props) {
  return (
    <g data-testid="people-marks">
      {placed(room, kinds, standings).map((mark) => (
        <PersonMark key={mark.number} mark={mark} chosen={chosen === mark.number} onChoose={onChoose} />
      ))}
    </g>
  );
}

function PersonMark({
  mark,
  chosen,
  onChoose,
}: {
  mark: Mark;
  chosen: boolean;
  onChoose: (number: number | null) => void;
}) {
  const works = mark.state === "works";
  const waits = mark.state === "waits";
  const walks = mark.state === "walks";
  const full = works || chosen;
  return (
    <g
      transform={`translate(${mark.x} ${mark.y})`}
      role="button"
      aria-label={`${mark.number}${waits ? "w" : ""} ${mark.name} ${mark.state}`}
      data-person={mark.number}
      data-state={mark.state}
      className="cursor-pointer"
      onClick={(event) => {
        event.stopPropagation();
        onChoose(chosen ? null : mark.number);
      }}
    >
      {walks ? (
        <path
          d="M -0.28 -0.25 L 0.14 -0.25 L 0.4 0 L 0.14 0.25 L -0.28 0.25 Z"
          fill={chosen ? "var(--color-base-content)" : "var(--color-base-100)"}
          stroke="var(--color-base-content)"
          strokeWidth={0.05}
        />
      ) : (
        <circle
          r={0.29}
          fill={full ? "var(--color-base-content)" : "var(--color-base-100)"}
          stroke={waits ? "var(--color-error)" : "var(--color-base-content)"}
          strokeWidth={waits ? 0.08 : 0.05}
          strokeDasharray={waits ? "0.14 0.09" : undefined}
        />
      )}
      <text
        textAnchor="middle"
        y={0.11}
        x={walks ? 0.02 : 0}
        fontSize={0.32}
        fontWeight={600}
        fill={full ? "var(--color-base-100)" : "var(--color-base-content)"}
      >
        {mark.number}
      </text>
      {waits && (
        <text aria-hidden x={0.3} y={-0.16} fontSize={0.28} fontWeight={700} fill="var(--color-error)">
          w
        </text>
      )}
    </g>
  );
}
