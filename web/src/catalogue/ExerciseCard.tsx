import type { Catalogue, Exercise, Room } from "../api/client";
import { useExercise } from "../api/queries";
import { placesOf } from "./search";

type Props = {
  id: string;
  catalogue: Catalogue | undefined;
  room: Room | undefined;
  /** the class's answers where practitioners disagree; without a class all schools are shown */
  choices?: Record<string, string>;
  onUse?: (exercise: Exercise) => void;
  onOpen?: (id: string) => void;
};

const ASKS = ["asks nothing", "asks little", "asks some care", "asks much care"];

/** Everything known of an exercise: cues, cautions, how its demand was derived, and what could stand in its place. */
export function ExerciseCard({ id, catalogue, room, choices, onUse, onOpen }: Props) {
  const detail = useExercise(id);
  if (detail.isError) return <p role="alert">This exercise cannot be read: {detail.error.message}</p>;
  if (!detail.data || !catalogue) return <div role="status" aria-label="Opening" className="skeleton h-64 w-full" />;
  const { exercise, derivation, substitutes } = detail.data;
  const care = [...detail.data.care].sort((one, other) => (other.asks ?? 2) - (one.asks ?? 2));
  const byId = new Map(catalogue.exercises.map((exercise) => [exercise.id, exercise]));
  const muscle = (name: string) => catalogue.muscles.find((muscle) => muscle.id === name)?.name ?? name;
  const kind = catalogue.equipment.find((item) => item.id === exercise.equipment);
  const pattern = catalogue.patterns.find((pattern) => pattern.id === exercise.pattern);
  const shares = catalogue.exercises.filter(
    (eachExercise) =>
      eachExercise.equipment === exercise.equipment &&
      eachExercise.id !== exercise.id &&
      exercise.equipment !== "none" &&
      !catalogue.retired.includes(eachExercise.id),
  );
  const questions = catalogue.questions.filter((question) => pattern?.questions.includes(question.id));
  const places = placesOf(room, exercise.equipment);

  const swap = (item: Exercise) => {
    const there = placesOf(room, item.equipment);
    return (
      <li key={item.id} className="flex flex-wrap items-baseline gap-x-2">
        <button
          type="button"
          className="min-h-6 underline decoration-dotted underline-offset-2"
          onClick={() => (onUse ? onUse(item) : onOpen?.(item.id))}
        >
          {item.name}
        </button>
        <span className={`text-xs ${there === 0 ? "text-accent" : "faint"}`}>
          {there === null ? "needs no machine" : there === 0 ? "▲ none working here" : `${there} at once`}
        </span>
      </li>
    );
  };
  const known = (names: string[]) => names.flatMap((name) => byId.get(name) ?? []);
  return (
    <div className="grid gap-x-6 gap-y-3 text-sm md:grid-cols-2" data-testid="exercise-card">
      <div className="space-y-3">
        <p>
          <strong>{exercise.prime.map(muscle).join(", ") || "no prime mover"}</strong>
          {exercise.helping.length > 0 && <>; helping: {exercise.helping.map(muscle).join(", ").toLowerCase()}</>}
          <span className="faint block">
            {pattern?.name} · {kind?.name}
            {places === 0 ? " (▲ none working here)" : ""} ·{" "}
            {exercise.sides === "one_sided" ? "one side at a time" : "both sides together"} · tempo{" "}
            {exercise.tempo.join("-")} · {exercise.takes_load ? "takes a load" : "no load"}
            {exercise.displacement_m > 0 && ` · lifts through ${exercise.displacement_m.toFixed(2)} m`}
          </span>
        </p>
        <Part title="Cues">
          <ul className="list-disc pl-5">
            {[...exercise.cues, ...(pattern?.cues ?? [])].map((cue) => (
              <li key={cue}>{cue}</li>
            ))}
          </ul>
        </Part>
        <Schools questions={questions} choices={choices} />
        {care.length > 0 && (
          <Part title="People with considerations">
            <ul data-testid="care-of-exercise">
              {care.map((item) => (
                <li key={item.condition}>
                  <strong>
                    {(item.asks ?? 2) >= 2 && "▲ "}
                    {item.name}
                  </strong>{" "}
                  {item.asks === null ? "unknown" : ASKS[item.asks]}: {item.why}
                  {item.say && `; ${item.say}`}
                </li>
              ))}
            </ul>
            <p className="faint text-xs">Common practice, no source. Studio rules and medical advice come first.</p>
          </Part>
        )}
      </div>
      <div className="space-y-3">
        <Demand derivation={derivation} />
        {exercise.easier.length > 0 && <Part title="Easier">{<ul>{known(exercise.easier).map(swap)}</ul>}</Part>}
        {exercise.harder.length > 0 && <Part title="Harder">{<ul>{known(exercise.harder).map(swap)}</ul>}</Part>}
        <Part title="In its place, same pattern">
          {substitutes.length ? (
            <ul>{known(substitutes).slice(0, 8).map(swap)}</ul>
          ) : (
            <p className="faint">Nothing else of this pattern.</p>
          )}
        </Part>
        {shares.length > 0 && (
          <Part title={`On the same unit (${kind?.name.toLowerCase()})`}>
            <p className="faint">
              {shares.map((share) => share.name.toLowerCase()).join(", ")}: no walk, but it blocks the unit for both.
            </p>
          </Part>
        )}
      </div>
    </div>
  );
}

function Part({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <section>
      <h3 className="font-semibold">{title}</h3>
      {children}
    </section>
  );
}

type SchoolsProps = { questions: Catalogue["questions"]; choices: Props["choices"] };

/** What practitioners do not agree on here, and what this class has chosen. */
function Schools({ questions, choices }: SchoolsProps) {
  return (
    <>
      {questions.map((question) => {
        const chosen = choices ? (choices[question.id] ?? question.default) : null;
        return (
          <Part key={question.id} title={question.name}>
            <ul>
              {question.schools.map((school) => (
                <li key={school.id} className={chosen && chosen !== school.id ? "faint" : ""}>
                  {chosen === school.id && "✓ "}
                  {school.name}: <span className="text-xs">{school.reason}</span>
                </li>
              ))}
            </ul>
          </Part>
        );
      })}
    </>
  );
}

type DemandProps = { derivation: NonNullable<ReturnType<typeof useExercise>["data"]>["derivation"] };

/** What an exercise asks of the body, and from where that is taken. */
function Demand({ derivation }: DemandProps) {
  return (
    <Part title="Demand while working">
      {derivation.at_usual_setting && (
        <p className="mb-1 first-letter:uppercase">{derivation.at_usual_setting}. The table:</p>
      )}
      <p>
        <strong>{derivation.work_met} MET</strong>, from {derivation.code} {derivation.activity.toLowerCase()}:{" "}
        {derivation.table_met} MET at {derivation.duty_percent} % work, {derivation.rest_met} MET between; factor{" "}
        {derivation.factor} for {derivation.muscle_mass.toLowerCase()}.
      </p>
      <p className="faint text-xs">
        {derivation.formula}. Straining adds {derivation.pressor_percent} % of the heart-rate reserve. Source:{" "}
        {derivation.source}.
      </p>
    </Part>
  );
}
