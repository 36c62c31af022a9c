import type { Condition } from "../api/client";
import { useConditions } from "../api/people";

type Props = { chosen: readonly Condition[]; onChange: (chosen: Condition[]) => void };

/** Everything somebody may have to be careful about, each to be ticked. */
export function ConditionBoxes({ chosen, onChange }: Props) {
  return useConditions().data?.map((one) => (
    <label key={one.id} className="flex items-center gap-2">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={chosen.includes(one.id)}
        onChange={(event) =>
          onChange(event.target.checked ? [...chosen, one.id] : chosen.filter((other) => other !== one.id))
        }
      />
      {one.name}
    </label>
  ));
}
