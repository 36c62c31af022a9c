import { useMemo, useState } from "react";

import type { Forecast, PersonForecast, Room } from "../api/client";
import { useChosen, useClassDraft, useMoment, useShownClass } from "../class/classContext";
import { useReplay } from "../api/floor";
import { x } from "../drawing/axis";
import { Planks } from "../drawing/Planks";
import { TimeRule } from "../drawing/TimeRule";
import { useChart } from "../drawing/useChart";
import { clock } from "../shared/format";
import { Switch } from "../shared/Switch";
import { standingOf, type Standing } from "../drawing/floorModel";
import { Matrix } from "./Matrix";
import { PathPanel } from "./PathPanel";
import { PeopleMarks } from "./PeopleMarks";
import { QueuePanel } from "./QueuePanel";
import { ReplayPanel } from "./ReplayPanel";
import { RotationStrip } from "./RotationStrip";
import { RoomPlan, type Use } from "../drawing/RoomPlan";
import { lettersOf } from "./ways";

/** The floor: who is where at every second, on the plan of the room and as a matrix, and what can be made better. */
export function FloorView() {
  const draft = useClassDraft();
  const { plan, forecast, catalogue, room } = useShownClass();
  const { second, scrub: onScrub } = useMoment();
  const { shownBlock: selected, selectBlock, person, choosePerson } = useChosen();
  const [view, setView] = useState<"people" | "machines">("people");
  const [closeUp, setCloseUp] = useState(true);
  const [machine, chooseMachine] = useState<string | null>(null);
  const [heat, setHeat] = useState(false);
  const [drawsUse, setDrawsUse] = useState(true);
  const replay = useReplay(draft.plan, heat);

  const block = forecast.blocks[selected];
  const length = forecast.length.value;
  const { chart, width, axis, drag } = useChart({
    forecast,
    closeUp: closeUp ? selected : null,
    whole: length * 1.01,
    onScrub,
  });

  const kinds = useMemo(() => new Map(catalogue?.equipment.map((item) => [item.id, item])), [catalogue]);
  const letters = useMemo(() => lettersOf(forecast), [forecast]);
  const standings = useMemo(
    () => forecast.people.map((person) => standingOf(person, forecast, second)),
    [forecast, second],
  );
  const uses = useMemo(() => {
    if (!heat || !drawsUse || !replay.data) return undefined;
    const found = new Map<string, Use>();
    const here = replay.data.blocks.find((eachBlock) => eachBlock.block === block?.id) ?? replay.data.blocks[0];
    for (const unit of here?.units ?? []) found.set(unit.unit, { share: unit.used_share, waited: unit.waited_for_s });
    return found;
  }, [heat, drawsUse, replay.data, block]);

  const replayed = useMemo(() => {
    const here = heat ? replay.data?.blocks.find((eachBlock) => eachBlock.block === block?.id) : undefined;
    return here ? new Map(here.people.map((person) => [person.number, person.waiting_s])) : undefined;
  }, [heat, replay.data, block]);

  // the moment goes along to another block
  function select(blockId: string) {
    selectBlock(blockId);
    const to = forecast.blocks.find((block) => block.id === blockId);
    if (to && (second < to.start_s || second >= to.end_s)) onScrub(Math.round(Math.min(to.start_s + 20, to.end_s - 1)));
  }

  if (!room) return <div className="skeleton mx-6 h-96" role="status" aria-label="Opening the room" />;
  const line = x(axis, second);
  return (
    <section aria-label="Floor" data-testid="floor" className="px-4 pb-6 lg:px-6">
      <RotationStrip room={room} onSelect={select} machine={machine} slot={slotAt(standings, person)} />
      <div className="mt-2 grid items-start gap-x-6 gap-y-3 lg:grid-cols-[minmax(0,1fr)_minmax(22rem,42%)]">
        <div className="order-2 min-w-0 lg:order-1">
          <div className="mb-1 flex flex-wrap items-center gap-2">
            <Switch
              options={[
                ["people", "People"],
                ["machines", "Machines"],
              ]}
              value={view}
              onChange={setView}
            />
            <Switch
              options={[
                ["block", "This block"],
                ["class", "Whole class"],
              ]}
              value={closeUp ? "block" : "class"}
              onChange={(item) => setCloseUp(item === "block")}
            />
            <span className="faint ml-auto text-xs">
              {view === "people"
                ? "letter = group or station · w = waits"
                : "number = person · hatched = somebody waits"}
            </span>
          </div>
          <div className="grid grid-cols-[var(--matrix-gutter)_minmax(0,1fr)]">
            <span className="faint self-end pr-3 text-right text-xs">minutes</span>
            <div ref={chart}>
              {width > 0 && (
                <>
                  <Planks axis={axis} forecast={forecast} selected={selected} onSelect={select} onMove={() => {}} />
                  <TimeRule axis={axis} length={length} second={second} onScrub={onScrub} drag={drag} />
                </>
              )}
            </div>
          </div>
          {width > 0 && (
            <div className="relative">
              <Matrix
                view={view}
                forecast={forecast}
                room={room}
                axis={axis}
                drag={drag}
                chosen={person?.number ?? null}
                onChoose={choosePerson}
                machine={machine}
                onMachine={chooseMachine}
                letters={letters}
                replayed={replayed}
              />
              <div
                className="pointer-events-none absolute inset-y-0 right-0 left-(--matrix-gutter) overflow-hidden"
                aria-hidden
              >
                {line >= 0 && line <= width && (
                  <div className="absolute inset-y-0 border-l-2 border-base-content" style={{ left: line - 1 }} />
                )}
              </div>
            </div>
          )}
          {person && <PathPanel person={person} forecast={forecast} room={room} letters={letters} onScrub={onScrub} />}
          {machine && <QueuePanel plan={draft.plan} unit={machine} room={room} forecast={forecast} onScrub={onScrub} />}
          {!person && !machine && (
            <p className="faint mt-2 text-sm">
              Press a person for their own way through the class, a machine for its queue and loads.
            </p>
          )}
        </div>
        <div className="order-1 lg:order-2">
          <NowLine second={second} standings={standings} forecast={forecast} room={room} />
          <RoomPlan
            room={room}
            kinds={kinds}
            taken={plan.taken}
            selected={machine}
            onSelect={(unit) => chooseMachine(machine === unit ? null : unit)}
            uses={uses}
            label={`${room.name} at ${clock(second)}`}
          >
            {!uses && (
              <PeopleMarks
                room={room}
                kinds={kinds}
                standings={standings}
                chosen={person?.number ?? null}
                onChoose={choosePerson}
              />
            )}
          </RoomPlan>
          <div className="mt-1 flex flex-wrap items-start gap-x-4 gap-y-1">
            {heat && (
              <Switch
                options={[
                  ["use", "Use and waits"],
                  ["people", "People now"],
                ]}
                value={drawsUse ? "use" : "people"}
                onChange={(item) => setDrawsUse(item === "use")}
              />
            )}
            {uses ? (
              <p className="faint text-xs">
                % of the block in use, darker is more · “waits” is what people wait in all
              </p>
            ) : (
              <Legend />
            )}
          </div>
          <ReplayPanel
            open={heat}
            onOpen={setHeat}
            replay={replay.data}
            error={replay.error}
            again={() => void replay.refetch()}
            blockId={block?.id}
            slotMin={plan.slot_min}
            forecast={forecast}
          />
        </div>
      </div>
    </section>
  );
}

/** The slot that a chosen person is at. */
function slotAt(standings: Standing[], person: PersonForecast | null): number {
  return standings.find((standing) => standing.number === person?.number)?.slot ?? -1;
}

function NowLine({
  second,
  standings,
  forecast,
  room,
}: {
  second: number;
  standings: Standing[];
  forecast: Forecast;
  room: Room;
}) {
  const count = (state: Standing["state"]) => standings.filter((standing) => standing.state === state).length;
  const waits = standings.filter((standing) => standing.state === "waits");
  const words = [
    [count("works"), "works", "work"],
    [count("sets up"), "sets up", "set up"],
    [count("walks"), "walks", "walk"],
    [count("rests") + count("breather") + count("is done"), "rests", "rest"],
  ] as const;
  return (
    <p className="mb-1 text-sm" data-testid="now" role="status">
      <strong className="mr-2 text-lg">{clock(second)}</strong>
      {words
        .filter(([number]) => number > 0)
        .map(([number, one, many]) => `${number} ${number === 1 ? one : many}`)
        .join(", ")}
      {waits.length > 0 && (
        <span className="font-semibold text-error">
          {" "}
          · {waits.length === 1 ? "1 waits: " : `${waits.length} wait: `}
          {waits
            .slice(0, 3)
            .map(
              (wait) =>
                `${wait.number} for the ${(room.units[wait.unit]?.name ?? forecast.slots[wait.slot]?.name ?? "floor").toLowerCase()}`,
            )
            .join(", ")}
          {waits.length > 3 ? " …" : ""}
        </span>
      )}
      {waits.length === 0 && <span className="faint"> · nobody waits</span>}
    </p>
  );
}

function Legend() {
  return (
    <ul className="faint flex flex-wrap items-center gap-x-4 gap-y-0.5 text-xs" aria-label="What the marks mean">
      <li>● works</li>
      <li>○ rests or sets up</li>
      <li className="text-error">◌ w waits</li>
      <li>▷ walks</li>
      <li>hatched: cannot be used</li>
    </ul>
  );
}
