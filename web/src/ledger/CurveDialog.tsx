import { useMutation } from "@tanstack/react-query";
import { scaleLinear } from "d3-scale";
import { useState } from "react";

import { traceCurve, type FigureGoal, type Axis, type Curve, type CurvePoint } from "../api/aim";
import type { Plan } from "../api/client";
import { Dialog } from "../shared/Dialog";
import { Pick } from "../shared/Pick";
import { Refused } from "../shared/Refused";
import { clock, figure } from "../shared/format";
import { GOALS, OF_THE_CLASS, goalOf, valueWords } from "./AimLine";

type Better = Axis["better"];
const BETTER: [Better, string][] = [
  ["less", "less is better"],
  ["more", "more is better"],
];
const LESS: FigureGoal["figure"][] = ["waiting", "length", "vigorous_or_more", "heart_mean", "session_effort"];
const [WIDE, TALL, LEFT, BOTTOM] = [640, 312, 64, 40];

type Props = {
  plan: Plan;
  /** whose value does not matter */
  across: FigureGoal;
  limits: FigureGoal[];
  onTake: (plan: Plan) => void;
  onClose: () => void;
};

/** What more of one figure costs of another: the classes of which none is better in both, each of which can be taken. */
export function CurveDialog({ plan, across, limits, onTake, onClose }: Props) {
  const others = GOALS.filter(({ id }) => id !== across.figure && id !== "muscle");
  const [up, setUp] = useState<FigureGoal["figure"]>(across.figure === "length" ? "waiting" : "length");
  const [better, setBetter] = useState<[Better, Better]>([usual(across.figure), usual(up)]);
  const [chosen, choose] = useState<number | null>(null);
  const trace = useMutation({
    mutationFn: () => {
      const axis = (id: FigureGoal["figure"], way: Better): Axis => ({
        figure: id,
        better: way,
        person: across.person,
        level: OF_THE_CLASS.has(id) ? null : across.level,
        muscle: id === "muscle" ? across.muscle : null,
      });
      return traceCurve(plan, axis(across.figure, better[0]), axis(up, better[1]), limits);
    },
    onSuccess: () => choose(null),
  });
  const point = chosen === null ? undefined : trace.data?.points[chosen];
  return (
    <Dialog title={`${nameOf(across.figure)} and what it costs`} onClose={onClose} wide>
      <form
        className="flex flex-wrap items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          trace.mutate();
        }}
      >
        <strong>{nameOf(across.figure)}</strong>
        <Pick
          bare
          label="Which way of the first is better"
          value={better[0]}
          options={BETTER}
          onChange={(way) => setBetter([way, better[1]])}
        />
        <span>against</span>
        <Pick
          bare
          label="The other figure"
          value={up}
          options={others.map((goal) => [goal.id, goal.name])}
          onChange={(id) => {
            setUp(id);
            setBetter([better[0], usual(id)]);
          }}
        />
        <Pick
          bare
          label="Which way of the other is better"
          value={better[1]}
          options={BETTER}
          onChange={(way) => setBetter([better[0], way])}
        />
        <button type="submit" className="btn btn-primary btn-sm" disabled={trace.isPending}>
          {trace.isPending ? "Trying changes …" : "Draw it"}
        </button>
      </form>
      <Refused error={trace.error} />
      {trace.isPending && <div className="skeleton mt-3 h-72 w-full" role="status" aria-label="Drawing the curve" />}
      {trace.data && !trace.isPending && (
        <div className="mt-3" data-testid="curve">
          <Drawing curve={trace.data} names={[across.figure, up]} chosen={chosen} onChoose={choose} />
          {point ? (
            <div className="mt-2 grid gap-x-4 gap-y-1 sm:grid-cols-[1fr_auto]">
              <p>
                <strong>{point.name || "The plan as it is"}</strong>
                <span className="block text-sm">{point.detail}</span>
                <span className="faint text-xs">
                  {nameOf(across.figure)} {said(across.figure, point.across)}, {nameOf(up).toLowerCase()}{" "}
                  {said(up, point.up)} · cost {figure(point.cost)}
                </span>
              </p>
              {point.name && (
                <button type="button" className="btn btn-primary btn-sm self-center" onClick={() => onTake(point.plan)}>
                  Use it
                </button>
              )}
            </div>
          ) : (
            <p className="faint mt-2 text-sm">Press a point to see what it changes, and use it.</p>
          )}
          <p className="faint mt-2 text-xs">
            Of these classes none is better in both figures; each keeps at least four fifths of the time under tension.
            Likely values: the ledger has the range once one is taken.
          </p>
        </div>
      )}
    </Dialog>
  );
}

function usual(id: FigureGoal["figure"]): Better {
  return LESS.includes(id) ? "less" : "more";
}

const nameOf = (id: FigureGoal["figure"]): string => goalOf(id).name;

function said(id: FigureGoal["figure"], value: number): string {
  return valueWords(id, value, 1);
}

type DrawingProps = {
  curve: Curve;
  names: [FigureGoal["figure"], FigureGoal["figure"]];
  chosen: number | null;
  onChoose: (point: number) => void;
};

/** From the least to the most of what points have. */
function spread(points: CurvePoint[], read: (point: CurvePoint) => number): [number, number] {
  const values = points.map(read);
  return [Math.min(...values), Math.max(...values)];
}

function Drawing({ curve, names, chosen, onChoose }: DrawingProps) {
  const every: CurvePoint[] = [...curve.points, curve.here];
  const x = scaleLinear(
    spread(every, (item) => item.across),
    [LEFT + 12, WIDE - 16],
  ).nice(5);
  const y = scaleLinear(
    spread(every, (item) => item.up),
    [TALL - BOTTOM - 10, 30],
  ).nice(4);
  const tick = (id: FigureGoal["figure"], value: number) =>
    goalOf(id).per === 60 ? clock(value) : figure(value, value < 10 ? 1 : 0);
  return (
    <svg viewBox={`0 0 ${WIDE} ${TALL}`} className="w-full text-sm" role="group" aria-label="The curve">
      {x.ticks(5).map((value) => (
        <g key={value}>
          <line x1={x(value)} x2={x(value)} y1={20} y2={TALL - BOTTOM} stroke="var(--color-base-300)" />
          <text x={x(value)} y={TALL - BOTTOM + 15} textAnchor="middle" fontSize={12} fill="var(--faint)">
            {tick(names[0], value)}
          </text>
        </g>
      ))}
      {y.ticks(4).map((value) => (
        <g key={value}>
          <line x1={LEFT} x2={WIDE - 4} y1={y(value)} y2={y(value)} stroke="var(--color-base-300)" />
          <text x={LEFT - 6} y={y(value) + 4} textAnchor="end" fontSize={12} fill="var(--faint)">
            {tick(names[1], value)}
          </text>
        </g>
      ))}
      <text x={WIDE - 6} y={TALL - 6} textAnchor="end" fontSize={12} fill="currentColor">
        {nameOf(names[0])}, {curve.across_unit === "s" ? "min:s" : curve.across_unit} →
      </text>
      <text x={4} y={12} fontSize={12} fill="currentColor">
        ↑ {nameOf(names[1])}, {curve.up_unit === "s" ? "min:s" : curve.up_unit}
      </text>
      <polyline
        fill="none"
        stroke="var(--color-secondary)"
        strokeWidth={2}
        points={curve.points.map((point) => `${x(point.across)},${y(point.up)}`).join(" ")}
      />
      <rect
        x={x(curve.here.across) - 6}
        y={y(curve.here.up) - 6}
        width={12}
        height={12}
        fill="none"
        stroke="var(--color-accent)"
        strokeWidth={2.5}
      />
      <text x={x(curve.here.across) + 10} y={y(curve.here.up) - 8} fontSize={12} fill="var(--color-accent)">
        the plan
      </text>
      {curve.points.map((point, at) => (
        <g
          key={at}
          role="button"
          tabIndex={0}
          aria-pressed={chosen === at}
          aria-label={`${point.name || "The plan as it is"}: ${said(names[0], point.across)}, ${said(names[1], point.up)}`}
          className="cursor-pointer"
          onClick={() => onChoose(at)}
          onKeyDown={(event) => {
            if (event.key !== "Enter" && event.key !== " ") return;
            event.preventDefault();
            onChoose(at);
          }}
        >
          <circle cx={x(point.across)} cy={y(point.up)} r={14} fill="transparent" />
          <circle
            cx={x(point.across)}
            cy={y(point.up)}
            r={chosen === at ? 8 : 5.5}
            fill={chosen === at ? "var(--color-primary)" : "var(--color-secondary)"}
          />
        </g>
      ))}
    </svg>
  );
}
