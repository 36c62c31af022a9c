import { memo, useState, type ReactNode } from "react";

import { useMay } from "../api/account";
import type { Estimate } from "../api/client";
import { ReviewDialog } from "../class/ReviewDialog";
import { useChosen, useClassDraft, useShownClass } from "../class/classContext";
import { AimDialog } from "./AimDialog";
import { GOALS, OF_THE_CLASS } from "./AimLine";
import { Cautions } from "./Cautions";
import { FitDialog } from "./FitDialog";
import { labelOf } from "../shared/figures";
import { clock, figure, range } from "../shared/format";
import { askedOf, HowReached, type Opened } from "../shared/HowReached";
import { MuscleBalance } from "./MuscleBalance";

type AimStart = Parameters<typeof AimDialog>[0]["start"];

/** The figures of the class, or of one person, beside the score; each opens how it was reached. */
export const Ledger = memo(function Ledger() {
  const { id, forecast, plan, edit } = useShownClass();
  const draft = useClassDraft();
  const { person, choosePerson: onPerson } = useChosen();
  const mayReadHealth = useMay("read_health");
  const [fitting, fit] = useState(false);
  const [reviewing, review] = useState(false);
  const [opened, open] = useState<Opened | null>(null);
  const [aiming, aim] = useState<AimStart | null>(null);
  const figures = person?.figures ?? forecast.figures;
  const line = (name: string, estimate: Estimate | null, decimals = 0, note = "", bare = false) =>
    estimate && (
      <Line name={name} estimate={estimate} decimals={decimals} note={note} onOpen={openFigure} bare={bare} />
    );

  const openFigure = (opened: Opened) => {
    if (!mayReadHealth) return open(opened);
    const known = askedOf(opened, figures, plan, person?.id);
    const id =
      opened.name === "Length"
        ? "length"
        : opened.estimate === forecast.chance_inside
          ? "chance_inside"
          : known.asked?.figure;
    const aimed = GOALS.find((goal) => goal.id === id)?.id;
    const ofClass = aimed && OF_THE_CLASS.has(aimed);
    const who = person && !ofClass ? person.name : "the class";
    const onAim = () => {
      open(null);
      if (aimed) aim({ figure: aimed, person: ofClass ? undefined : person?.id, who, now: opened.estimate.value });
    };
    open(aimed ? { ...known, onAim } : known);
  };

  return (
    <aside aria-label="Ledger" data-testid="ledger" className="border-base-300 text-sm lg:border-l lg:pl-4">
      <LengthLine onOpen={openFigure} />

      <div className="flex items-center gap-2">
        {line(labelOf("chance_inside"), forecast.chance_inside, 0, "", true)}
        {mayReadHealth && (
          <button type="button" className="btn btn-xs shrink-0" onClick={() => fit(true)}>
            Fit to length
          </button>
        )}
      </div>
      <div className="mt-1 flex items-baseline justify-between border-t border-base-300 pt-1">
        <h2 className="font-semibold">{person ? `${person.number} ${person.name}` : "Mean of the class"}</h2>
        {person && (
          <button type="button" className="btn btn-xs" onClick={() => onPerson(null)}>
            Class
          </button>
        )}
      </div>
      <Group name={plan.choices.density === "everything" ? "Density, warm-up too" : "Density of the main part"}>
        {line(labelOf("work_share"), figures.work_share)}
        {line(labelOf("load_per_minute"), figures.load_per_minute, 0, figures.load_per_minute?.partly) ?? (
          <Unknown name={labelOf("load_per_minute")} />
        )}
        {line(labelOf("sets_per_minute"), figures.sets_per_minute, 2)}
      </Group>
      {figures.heart_mean ? (
        <Group name="Heart">
          {line(labelOf("heart_mean"), figures.heart_mean)}
          {line(labelOf("heart_peak"), figures.heart_peak)}
          {line(labelOf("vigorous_or_more"), figures.vigorous_or_more)}
        </Group>
      ) : (
        <Group name="Heart">
          <p className="faint">
            {mayReadHealth
              ? "Heart-rate figures do not apply. Guide by perceived effort and medical advice."
              : "Heart and energy figures are for instructors."}
          </p>
        </Group>
      )}
      {figures.energy && <Group name="Energy">{line(labelOf("energy"), figures.energy)}</Group>}
      <Cautions onReview={() => review(true)} />
      {reviewing && <ReviewDialog classId={id} draft={draft} onClose={() => review(false)} />}
      {figures.waiting.value > 0 && <Group name="Waiting">{line(labelOf("waiting"), figures.waiting)}</Group>}
      <MoreFigures line={line} onAim={mayReadHealth ? aim : undefined} />
      <p className="faint mt-3 pb-4 text-xs">{forecast.stop_signs}</p>
      {fitting && (
        <FitDialog
          plan={plan}
          edit={edit}
          onClose={() => fit(false)}
          onAim={() => {
            fit(false);
            aim({ figure: "length", who: "the class", now: 60 * plan.slot_min });
          }}
        />
      )}
      {aiming && <AimDialog plan={plan} edit={edit} start={aiming} onClose={() => aim(null)} />}
      {opened && <HowReached opened={opened} onClose={() => open(null)} />}
    </aside>
  );
});

function Group({ name, children }: { name: string; children: ReactNode }) {
  return (
    <section aria-label={name} className="mt-2">
      <h3 className="faint text-xs">{name}</h3>
      {children}
    </section>
  );
}

/** A sum of loads of which nobody knows any: no figure, and certainly no nought. */
function Unknown({ name }: { name: string }) {
  return (
    <p className="flex min-h-6 items-baseline gap-1.5">
      <span className="grow">
        {name} <span className="faint text-xs">no load is known</span>
      </span>
      <strong>–</strong>
    </p>
  );
}

type LineProps = {
  name: string;
  estimate: Estimate;
  decimals: number;
  note: string;
  onOpen: (opened: Opened) => void;
  /** without its range */
  bare: boolean;
};

function Line({ name, estimate, decimals, note, onOpen, bare }: LineProps) {
  const value = estimate.unit === "s" ? clock(estimate.value) : figure(estimate.value, decimals);
  const unit = estimate.unit === "s" ? "min:s" : estimate.unit;
  return (
    <button
      type="button"
      className="flex min-h-6 w-full items-baseline gap-1.5 rounded text-left hover:bg-base-200"
      title="How this was reached"
      onClick={() => onOpen({ name, estimate })}
    >
      <span className="grow">
        {name} {note && <span className="faint text-xs">{note}</span>}
      </span>
      <span className="text-right">
        <strong>{value}</strong> <span className="faint text-xs">{unit}</span>
        {!bare && <span className="faint block text-xs leading-3">{range(estimate, decimals)}</span>}
      </span>
    </button>
  );
}

type LineOf = (name: string, estimate: Estimate | null, decimals?: number, note?: string) => ReactNode;

/** The figures that are asked for less often, each by `line`. */
function MoreFigures({ line, onAim }: { line: LineOf; onAim?: (start: AimStart) => void }) {
  const { forecast, plan } = useShownClass();
  const { person } = useChosen();
  const figures = person?.figures ?? forecast.figures;
  return (
    <>
      {figures.energy && (
        <Group name="More on energy">
          {line(labelOf("energy_net"), figures.energy_net)}
          {!person && line("Whole class", forecast.class_energy)}
          <details className="mt-0.5">
            <summary className="cursor-pointer py-0.5 underline decoration-dotted underline-offset-4">
              Other methods
            </summary>
            {line(labelOf("energy_by_table"), figures.energy_by_table, 0, figures.energy_by_table?.aside)}
            {line(
              labelOf("energy_by_heart_rate"),
              figures.energy_by_heart_rate,
              0,
              figures.energy_by_heart_rate?.aside,
            )}
            {line(labelOf("energy_by_lifting"), figures.energy_by_lifting, 0, figures.energy_by_lifting?.aside)}
            {line(labelOf("after_class"), figures.after_class, 0, "extra")}
          </details>
        </Group>
      )}
      {person && figures.heart_mean && (
        <Group name="This heart">
          {line("Maximum", person.max_bpm, 0, "of the person")}
          {line("VO₂max", person.vo2max)}
        </Group>
      )}
      {figures.impulse && (
        <Group name="Training load">
          {line(labelOf("impulse"), figures.impulse)}
          {line(labelOf("zone_sum"), figures.zone_sum)}
          {line(labelOf("session_effort"), figures.session_effort)}
        </Group>
      )}
      <Group name="Volume and tension">
        {line(labelOf("volume_load"), figures.volume_load, 0, figures.volume_load?.partly) ?? (
          <Unknown name={labelOf("volume_load")} />
        )}
        {line(labelOf("time_under_tension"), figures.time_under_tension)}
        <MuscleBalance
          muscles={forecast.muscles}
          plan={plan}
          onAim={
            onAim
              ? (item) => onAim({ figure: "muscle", muscle: item.muscle, who: "the class", now: item.prime_s })
              : undefined
          }
        />
      </Group>
      <Group name="Around the work, mean of a person">
        {line("Walking", forecast.overheads.walking)}
        {line("Set-up", forecast.overheads.set_up)}
        {line("Load change", forecast.overheads.load_change)}
        {line("Change of side", forecast.overheads.change_of_side)}
      </Group>
    </>
  );
}

/** How long the class is, and how much that is over or below its slot. */
function LengthLine({ onOpen }: { onOpen: (opened: Opened) => void }) {
  const { forecast } = useShownClass();
  const over = forecast.length.value - forecast.slot_s;
  return (
    <button
      type="button"
      className="w-full rounded py-1 text-left hover:bg-base-200"
      onClick={() => onOpen({ name: "Length", estimate: forecast.length })}
    >
      <span className="flex items-baseline justify-between">
        <span>Length</span>
        <span className={`text-3xl leading-8 font-semibold ${over > 0 ? "text-accent" : ""}`} data-testid="length">
          {clock(forecast.length.value)}
        </span>
      </span>
      <span className={`flex justify-between ${over > 0 ? "font-semibold text-accent" : ""}`}>
        <span>{over > 0 ? `▲ ${clock(over)} over the class length` : `${clock(-over)} to spare`}</span>
        <span className="faint font-normal">{range(forecast.length)}</span>
      </span>
    </button>
  );
}
