import { useEffect } from "react";
import { useBlocker } from "react-router";

import { Dialog } from "../shared/Dialog";

type Props = {
  /** what would be left, in words: “this class” */
  what: string;
  dirty: boolean;
  /** saves, and tells whether it was kept; none where the reader may not save */
  save?: () => Promise<boolean>;
  /** whether a draft stays on this device */
  staysHere: boolean;
};

/** Asks whoever leaves with changes that are not saved: by a link of the application, by reload, by closing. */
export function LeaveGuard({ what, dirty, save, staysHere }: Props) {
  const leaving = useBlocker(
    ({ currentLocation, nextLocation }) => dirty && currentLocation.pathname !== nextLocation.pathname,
  );
  useEffect(() => {
    if (!dirty) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [dirty]);
  if (leaving.state !== "blocked") return null;
  return (
    <Dialog title={`Leave ${what}?`} onClose={leaving.reset}>
      <p data-testid="leaving">
        There are changes that are not saved.{" "}
        {staysHere ? "If you leave, they wait on this device until you come back." : "If you leave, they are lost."}
      </p>
      <div className="mt-4 flex flex-wrap gap-2">
        {save && (
          <button
            type="button"
            className="btn btn-primary"
            data-first
            onClick={() => void save().then((kept) => (kept ? leaving.proceed() : leaving.reset()), leaving.reset)}
          >
            Save and leave
          </button>
        )}
        <button type="button" className="btn" onClick={leaving.proceed}>
          {staysHere ? "Leave the draft here" : "Leave without saving"}
        </button>
        <button type="button" className="btn" onClick={leaving.reset}>
          Stay
        </button>
      </div>
    </Dialog>
  );
}
