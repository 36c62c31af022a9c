import { ChevronDown } from "lucide-react";

import type { Block } from "../api/client";
import { useCheatSheet } from "../api/queries";

/** The schemes by name, each with the line that says it; choosing one gives the slot its sets. */
export function SchemeMenu({ kind, onChoose }: { kind: Block["kind"]; onChoose: (line: string) => void }) {
  const sheet = useCheatSheet();
  if (kind !== "sets" && kind !== "together") return null;
  return (
    <div className="dropdown">
      <button type="button" tabIndex={0} className="btn btn-xs">
        Scheme <ChevronDown size={13} aria-hidden />
      </button>
      <ul
        tabIndex={-1}
        className="dropdown-content z-40 mt-1 max-h-96 w-[30rem] max-w-[90vw] overflow-y-auto rounded border border-base-300 bg-base-100 p-1 shadow"
      >
        {sheet.data?.slots.map((one) => (
          <li key={one.scheme}>
            <button
              type="button"
              className="w-full rounded px-2 py-1 text-left hover:bg-base-200"
              onClick={(event) => {
                event.currentTarget.blur();
                onChoose(one.line);
              }}
            >
              <span className="font-semibold">{one.scheme}</span> <span className="faint text-xs">{one.says}</span>
              <code className="block text-xs">{one.line}</code>
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
