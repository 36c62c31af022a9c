import type { Condition } from "../api/client";
import { useConditions } from "../api/people";

type Props = { chosen: readonly Condition[]; onChange: (chosen: Condition[]) => void };

/** Everything somebody may have to be careful about, each to be ticked. */
export function ConditionBoxes({ chosen, onChange }: Props) {
  return useConditions().data?.map((useCondition) => (
    <label key={useCondition.id} className="flex items-center gap-2">
      <input
        type="checkbox"
        className="checkbox checkbox-sm"
        checked={chosen.includes(useCondition.id)}
        onChange={(event) =>
          onChange(
            event.target.checked ? [...chosen, useCondition.id] : chosen.filter((other) => other !== useCondition.id),
          )
        }
      />
      {useCondition.name}
    </label>
  ));
}
