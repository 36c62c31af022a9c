import type { Room } from "../api/client";
import { footprintOf, sizeOf, type Standing } from "./floorModel";

type Kinds = Map<string, { width_m: number; depth_m: number }>;
type Mark = Standing & { x: number; y: number };

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

/** Where everybody is drawn: on their unit, in a row before it while they wait, between two while they walk. */
function placed(room: Room, kinds: Kinds, standings: Standing[]): Mark[] {
  const { width, depth } = sizeOf(room);
  const at = (unit: number) => room.units[unit];
  const onUnit = new Map<number, Standing[]>();
  const before = new Map<number, Standing[]>();
  const floor: Standing[] = [];
  const found: Mark[] = [];
  for (const one of standings) {
    if (one.state === "walks") {
      const [from, to] = [at(one.from), at(one.unit)];
      const start = from ?? to;
      const end = to ?? from;
      if (!start || !end) floor.push(one);
      else {
        found.push({
          ...one,
          x: start.x_m + (end.x_m - start.x_m) * one.way,
          y: start.y_m + 0.6 + (end.y_m - start.y_m) * one.way,
        });
      }
    } else if (!at(one.unit)) floor.push(one);
    else {
      const group = one.state === "waits" ? before : onUnit;
      group.set(one.unit, [...(group.get(one.unit) ?? []), one]);
    }
  }
  const inRows = (people: Standing[], x: number, y: number, wide: number) => {
    const row = Math.max(1, Math.floor(wide / 0.64));
    people.forEach((one, index) => {
      const inRow = Math.min(row, people.length - Math.floor(index / row) * row);
      const column = index % row;
      found.push({
        ...one,
        x: clamp(x + (column - (inRow - 1) / 2) * 0.64, 0.35, width - 0.35),
        y: clamp(y + Math.floor(index / row) * 0.62, 0.35, depth - 0.35),
      });
    });
  };
  for (const [unit, people] of onUnit) {
    const size = footprintOf(at(unit)!, kinds);
    const works = people.filter((one) => one.state === "works" || one.state === "sets up");
    const rests = people.filter((one) => !works.includes(one));
    inRows(works, at(unit)!.x_m, at(unit)!.y_m + Math.max(0.15, size.depth / 2 - 0.36), Math.max(size.width, 0.7));
    inRows(rests, at(unit)!.x_m, at(unit)!.y_m + size.depth / 2 + 0.3, Math.max(size.width + 0.5, 1.4));
  }
  for (const [unit, people] of before) {
    const size = footprintOf(at(unit)!, kinds);
    const resting = (onUnit.get(unit) ?? []).some((one) => one.state === "rests" || one.state === "is done");
    inRows(
      people,
      at(unit)!.x_m,
      at(unit)!.y_m + size.depth / 2 + (resting ? 0.92 : 0.36),
      Math.max(size.width + 0.5, 1.4),
    );
  }
  const free = room.units.find((unit) => unit.kind === "none");
  inRows(floor, free?.x_m ?? width / 2, free?.y_m ?? depth / 2, free?.width_m ?? Math.min(width - 1, 6));
  return found;
}

function clamp(value: number, low: number, high: number): number {
  return Math.min(Math.max(value, low), high);
}
