import { useMutation } from "@tanstack/react-query";
import { useState } from "react";

import { applyChange } from "../api/calls";
import type { Forecast } from "../api/client";
import { useHeat } from "../api/people";
import { replacePlan, setPlan } from "../draft/edits";
import type { Draft } from "../draft/useDraft";
import { HowReached, type Opened } from "../shared/HowReached";
import { Dialog } from "../shared/Dialog";
import { DecimalField } from "../shared/DecimalField";
import { figure, range } from "../shared/format";
import { Refused } from "../shared/Refused";

const ADVICE = {
  usual: "No warning from this air. Water within reach all the same.",
  caution: "▲ Caution: slow down, longer rests, water after every block, no drop sets on every exercise.",
  reconsider: "▲ Reconsider a hard class: put it off, or make it easy. Watch everybody’s face and speech.",
};

/** Thermometer and hygrometer, what they mean, and a milder version of the class. */
export function AirDialog({ draft, forecast, onClose }: { draft: Draft; forecast: Forecast; onClose: () => void }) {
  const plan = draft.plan;
  const [air, setAir] = useState(plan.air ?? { temperature_c: 22, humidity_percent: 50 });
  const [opened, open] = useState<Opened | null>(null);
  const heat = useHeat(air);
  const milder = useMutation({
    mutationFn: () => applyChange({ ...plan, air }, { do: "milder_for_heat" }),
    onSuccess: (next) => {
      draft.edit(replacePlan(next));
      onClose();
    },
  });
  const told = heat.data;
  const figures = told && [
    { name: "Heat index", estimate: told.heat_index },
    { name: "Simplified WBGT", estimate: told.wbgt },
    { name: "Heart rate at once", estimate: told.at_once },
    { name: "Heart-rate drift", estimate: told.drift },
  ];
  return (
    <Dialog title="The air of the room" onClose={onClose}>
      <div className="flex flex-col gap-2">
        <DecimalField
          label="Temperature"
          unit="°C"
          step={1}
          value={air.temperature_c}
          min={-5}
          max={50}
          onChange={(value) => value !== null && setAir({ ...air, temperature_c: value })}
        />
        <DecimalField
          label="Relative humidity"
          unit="%"
          step={5}
          value={air.humidity_percent}
          min={1}
          max={100}
          onChange={(value) => value !== null && setAir({ ...air, humidity_percent: value })}
        />
      </div>
      <Refused error={heat.error} />
      {told && (
        <div data-testid="heat">
          <ul className="mt-3 flex gap-6">
            {figures?.map((eachFigure) => (
              <li key={eachFigure.name}>
                <button type="button" className="rounded text-left hover:bg-base-200" onClick={() => open(eachFigure)}>
                  <span className="faint block text-xs">{eachFigure.name}</span>
                  <strong className="text-xl">{figure(eachFigure.estimate.value, 1)}</strong> {eachFigure.estimate.unit}{" "}
                  <span className="faint text-sm">{range(eachFigure.estimate, 1)}</span>
                </button>
              </li>
            ))}
          </ul>
          <p className={`mt-2 text-sm ${told.advice === "usual" ? "" : "font-semibold text-accent"}`}>
            {ADVICE[told.advice]}
            {told.band && ` Heat index: ${told.band}.`}
          </p>
        </div>
      )}
      <Refused error={milder.error} />
      <div className="mt-4 flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-primary"
          onClick={() => {
            draft.edit(setPlan({ air }));
            onClose();
          }}
        >
          Use this air
        </button>
        <button type="button" className="btn" disabled={milder.isPending} onClick={() => milder.mutate()}>
          Use it and make a milder class
        </button>
        {plan.air && (
          <button
            type="button"
            className="btn"
            onClick={() => {
              draft.edit(setPlan({ air: null }));
              onClose();
            }}
          >
            Forget the air
          </button>
        )}
      </div>
      <p className="faint mt-2 text-xs">
        Milder: half as much rest again, drop sets on the last set of the last exercise only, a minute of water after
        every block of work. The class now takes {Math.round(forecast.length.value / 60)} min; “Fit to length” helps
        afterwards. ISO 7243 governs the real measurement.
      </p>
      {opened && <HowReached opened={opened} onClose={() => open(null)} />}
    </Dialog>
  );
}
