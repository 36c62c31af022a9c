import { memo, useLayoutEffect, useMemo, useRef } from "react";

import { useThemeName } from "../shared/theme";
import type { Forecast, PersonForecast, Room } from "../api/client";
import { x, type Axis, type Drag } from "../drawing/axis";
import { inksOf, type Inks } from "../drawing/inks";
import { StaveDrawing } from "../drawing/StaveDrawing";
import { clock } from "../shared/format";
import { stretchesOf, waitingOf, type Stretch } from "../drawing/floorModel";
import { machineStaves } from "./machineRows";
import { describeWay, runsOf } from "./ways";
import { waitWords } from "./words";
import { firstName } from "../shared/names";

const ROW = 24;

type Props = {
  view: "people" | "machines";
  forecast: Forecast;
  room: Room;
  axis: Axis;
  drag: Drag;
  chosen: number | null;
  onChoose: (number: number | null) => void;
  machine: string | null;
  onMachine: (unit: string | null) => void;
  letters: Map<string, string>;
  /** mean waiting of everybody in the replays of the block that is shown, by number */
  replayed: Map<number, number> | undefined;
};

/** Who is where when: one row a person, or one row a machine, on the axis of the class. */
export const Matrix = memo(function Matrix(props: Props) {
  const { forecast, room, axis, drag, chosen } = props;
  const staves = useMemo(
    () => machineStaves(forecast, room, Math.max(0, axis.from), Math.min(forecast.length.value, axis.to)),
    [forecast, room, axis.from, axis.to],
  );
  if (props.view === "machines") {
    return (
      <div role="list" aria-label="Machines over time" data-testid="matrix">
        {staves.map(({ unit, stave, usedShare }) => (
          <Row
            key={unit.id}
            label={unit.name}
            value={`${Math.round(usedShare * 100)} %`}
            pressed={props.machine === unit.id}
            onPress={() => props.onMachine(props.machine === unit.id ? null : unit.id)}
          >
            <StaveDrawing stave={stave} axis={axis} own={chosen} drag={drag} />
          </Row>
        ))}
        {staves.length === 0 && <p className="faint py-6 text-sm">No machine is used in this class.</p>}
      </div>
    );
  }
  return (
    <div role="list" aria-label="People over time" data-testid="matrix">
      {forecast.people.map((person) => (
        <Row
          key={person.id}
          label={`${person.number} ${firstName(person.name)}`}
          value={waitWords(waitingOf(person), props.replayed?.get(person.number))}
          alarm={(props.replayed?.get(person.number) ?? waitingOf(person)) > 120}
          pressed={chosen === person.number}
          onPress={() => props.onChoose(chosen === person.number ? null : person.number)}
        >
          <PersonDrawing
            person={person}
            forecast={forecast}
            axis={axis}
            drag={drag}
            letters={props.letters}
            chosen={chosen === person.number}
          />
        </Row>
      ))}
    </div>
  );
});

function Row({
  label,
  value,
  alarm,
  pressed,
  onPress,
  children,
}: {
  label: string;
  value: string;
  alarm?: boolean;
  pressed: boolean;
  onPress: () => void;
  children: React.ReactNode;
}) {
  return (
    <div role="listitem" className="grid grid-cols-[var(--matrix-gutter)_minmax(0,1fr)] items-center">
      <button
        type="button"
        aria-pressed={pressed}
        onClick={onPress}
        title={label}
        className={`flex h-6 items-center gap-1 rounded px-1 text-left text-xs ${
          pressed ? "bg-base-content font-semibold text-base-100" : "hover:bg-base-200"
        }`}
      >
        <span className="grow truncate">{label}</span>
        <span className={`whitespace-nowrap ${pressed ? "" : alarm ? "font-semibold text-error" : "faint"}`}>
          {value}
        </span>
      </button>
      <div className="overflow-hidden border-b border-[var(--rule)]">{children}</div>
    </div>
  );
}

type PersonProps = {
  person: PersonForecast;
  forecast: Forecast;
  axis: Axis;
  drag: Drag;
  letters: Map<string, string>;
  chosen: boolean;
};

const PersonDrawing = memo(function PersonDrawing({ person, forecast, axis, drag, letters, chosen }: PersonProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useThemeName();
  const stretches = useMemo(() => stretchesOf(person, forecast), [person, forecast]);
  useLayoutEffect(() => {
    const element = canvas.current;
    const context = element?.getContext("2d");
    if (!element || !context) return;
    const scale = window.devicePixelRatio || 1;
    element.width = Math.round(axis.width * scale);
    element.height = Math.round(ROW * scale);
    context.setTransform(scale, 0, 0, scale, 0, 0);
    draw(context, stretches, forecast, letters, axis, chosen, inksOf(theme));
  }, [stretches, forecast, letters, axis, chosen, theme]);
  const waits = stretches.filter((stretch) => stretch.kind === "wait");
  return (
    <canvas
      {...drag}
      ref={canvas}
      style={{ width: axis.width, height: ROW }}
      className="block cursor-crosshair touch-none select-none"
      role="img"
      aria-label={`${person.name}: ${describeWay(stretches, forecast)}${
        waits.length ? `; waits ${clock(waitingOf(person))} in all` : ""
      }`}
    />
  );
});

/** Visits as boxes with the letter of their group, waits hatched with a “w”, ways as a thin arrow, rests as a line. */
function draw(
  on: CanvasRenderingContext2D,
  stretches: Stretch[],
  forecast: Forecast,
  letters: Map<string, string>,
  axis: Axis,
  chosen: boolean,
  inks: Inks,
): void {
  on.clearRect(0, 0, axis.width, ROW);
  on.textAlign = "center";
  for (const stretch of stretches) {
    const left = x(axis, stretch.start);
    const wide = Math.max(x(axis, stretch.end) - left, 0.6);
    switch (stretch.kind) {
      case "visit":
        on.fillStyle = chosen ? inks.ink : inks.token;
        on.strokeStyle = inks.edge;
        on.lineWidth = 1;
        on.beginPath();
        on.rect(left, 3, Math.max(wide - 0.6, 0.6), ROW - 6);
        on.fill();
        on.stroke();
        break;
      case "wait":
        on.fillStyle = inks.hatch(on);
        on.fillRect(left, 3, wide, ROW - 6);
        break;
      case "breather":
        on.setLineDash([3, 2]);
        on.strokeStyle = inks.faint;
        on.strokeRect(left, 5, Math.max(wide - 1, 1), ROW - 10);
        on.setLineDash([]);
        break;
      case "walk":
        on.strokeStyle = inks.ink;
        on.lineWidth = 1.2;
        on.beginPath();
        on.moveTo(left, ROW / 2);
        on.lineTo(left + wide, ROW / 2);
        if (wide > 5) {
          on.moveTo(left + wide - 3, ROW / 2 - 3);
          on.lineTo(left + wide, ROW / 2);
          on.lineTo(left + wide - 3, ROW / 2 + 3);
        }
        on.stroke();
        break;
      default:
        on.strokeStyle = inks.faint;
        on.lineWidth = 0.8;
        on.beginPath();
        on.moveTo(left, ROW / 2);
        on.lineTo(left + wide, ROW / 2);
        on.stroke();
    }
  }
  // words last, so that no box covers them
  for (const run of runsOf(stretches, forecast)) {
    const left = x(axis, run.start);
    const wide = x(axis, run.end) - left;
    const letter = letters.get(run.key) ?? "";
    if (letter && wide > 9) {
      on.font = `700 11px ${inks.font}`;
      const half = on.measureText(letter).width / 2 + 2;
      on.fillStyle = inks.paper;
      on.fillRect(left + wide / 2 - half, 5, 2 * half, ROW - 10);
      on.fillStyle = inks.ink;
      on.fillText(letter, left + wide / 2, ROW / 2 + 4);
    }
  }
  on.font = `700 10px ${inks.font}`;
  for (const stretch of stretches) {
    const wide = x(axis, stretch.end) - x(axis, stretch.start);
    if (stretch.kind !== "wait" || wide < 9) continue;
    const middle = x(axis, stretch.start) + wide / 2;
    on.fillStyle = inks.paper;
    on.fillRect(middle - 5, 6, 10, ROW - 12);
    on.fillStyle = inks.ink;
    on.fillText("w", middle, ROW / 2 + 3);
  }
}
