import { ChevronDown } from "lucide-react";

import type { Block } from "../api/client";
import { useCheatSheet } from "../api/queries";
import { Menu } from "../shared/Menu";

/** The schemes by name, each with the line that says it; choosing one gives the slot its sets. */
export function SchemeMenu({ kind, onChoose }: { kind: Block["kind"]; onChoose: (line: string) => void }) {
  const sheet = useCheatSheet();
  if (kind !== "sets" && kind !== "together") return null;
  return (
    <Menu
      small
      width="w-[30rem]"
      label={
        <>
          Scheme <ChevronDown size={13} aria-hidden />
        </>
      }
      instead={sheet.isPending ? "Opening the schemes …" : sheet.error?.message}
      choices={(sheet.data?.slots ?? []).map((slot) => ({
        id: slot.scheme,
        name: (
          <>
            <span className="font-semibold">{slot.scheme}</span> <span className="faint text-xs">{slot.says}</span>
            <code className="block text-xs">{slot.line}</code>
          </>
        ),
        onChoose: () => onChoose(slot.line),
      }))}
    />
  );
}
