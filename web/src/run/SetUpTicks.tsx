import { useCatalogue } from "../api/queries";
import type { SetUp } from "../live/setParts";
import { Stepper, Tick } from "./Stepper";

type Stance = NonNullable<SetUp["stance"]>[number];
type Aid = NonNullable<SetUp["aids"]>[number];

const STANCES: Stance[] = [
  "narrow",
  "wide",
  "toes in",
  "toes out",
  "toes ahead",
  "toes back",
  "feet high",
  "feet low",
  "heels up",
  "staggered",
  "one leg",
];
const AIDS: Aid[] = ["belt", "straps", "wedge", "pad"];
const MOST_STANCES = 4;
const HIGHEST_CM = 10;

/** How somebody was set up, where that was another way than planned: feet, heels, and what was worn or laid under. */
export function SetUpTicks({ set_up, onChange }: { set_up: SetUp; onChange: (set_up: SetUp) => void }) {
  const stance = set_up.stance ?? [];
  const aids = set_up.aids ?? [];
  const heels = set_up.heels_cm ?? 0;
  const claims = useCatalogue().data?.stance_claims ?? {};
  const heelsTo = (cm: number) =>
    onChange({ ...set_up, heels_cm: cm > 0 ? Math.min(HIGHEST_CM, Math.round(cm * 10) / 10) : null });
  return (
    <div className="flex flex-wrap gap-2" role="group" aria-label="Set-up">
      {AIDS.map((aid) => (
        <Tick
          key={aid}
          name={aid}
          on={aids.includes(aid)}
          set={(on) => onChange({ ...set_up, aids: on ? [...aids, aid] : aids.filter((item) => item !== aid) })}
        />
      ))}
      <Stepper
        label="cm under the heels"
        value={String(heels)}
        onStep={(way) => heelsTo(heels + way * 0.5)}
        onType={heelsTo}
      />
      {STANCES.map((item) => (
        <Tick
          key={item}
          name={item}
          on={stance.includes(item)}
          set={(on) =>
            onChange({
              ...set_up,
              stance: on ? [...stance, item].slice(-MOST_STANCES) : stance.filter((one) => one !== item),
            })
          }
        />
      ))}
      {stance.map((item) => {
        const claim = claims[item];
        return claim ? (
          <p key={item} className="faint w-full text-sm">
            {item}: said to work {claim} (a claim; no figure counts it)
          </p>
        ) : null;
      })}
    </div>
  );
}
