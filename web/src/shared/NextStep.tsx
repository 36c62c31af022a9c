import { Check } from "lucide-react";
import { Link } from "react-router";

import { useClasses, usePeople, useRooms } from "../api/queries";
import { present } from "../basis/entries";

/** From nothing to a class that runs: what is there already, and the press that does what is next. Nothing where a class
 * is there. */
export function NextStep({ runs }: { runs?: boolean }) {
  const rooms = useRooms();
  const people = usePeople();
  const classes = useClasses();
  if (!rooms.data || !people.data || !classes.data || (classes.data.length > 0 && !runs)) return null;
  const newest = classes.data[0];
  const steps: { name: string; done: boolean; to: string; words: string }[] = [
    { name: "The room", done: rooms.data.length > 0, to: "/rooms?begin=room", words: "Say what stands in the room" },
    { name: "The people", done: people.data.length > 0, to: "/people?begin=crowd", words: "Say who comes" },
    { name: "A class", done: Boolean(newest), to: "/generate", words: "Generate a class" },
    { name: "Run it", done: false, to: newest ? `/classes/${newest.id}/run` : "/generate", words: "Run the class" },
  ];
  const next = present(
    steps.find((step) => !step.done),
    "The next step",
  );
  return (
    <section
      className="mt-3 flex flex-wrap items-center gap-x-6 gap-y-2 rounded-(--radius-box) border border-base-300 bg-base-200 px-4 py-3"
      aria-label="From nothing to a class"
      data-testid="next-step"
    >
      <ol className="flex flex-wrap gap-x-6 gap-y-1">
        {steps.map((step, at) => (
          <li
            key={step.name}
            aria-current={step === next ? "step" : undefined}
            className={`flex items-center gap-1 ${step === next ? "font-semibold" : "faint"}`}
          >
            {step.done ? <Check size={16} aria-label="done" /> : <span>{at + 1}</span>} {step.name}
          </li>
        ))}
      </ol>
      <Link to={next.to} className="btn btn-primary sm:ml-auto">
        {next.words}
      </Link>
    </section>
  );
}
