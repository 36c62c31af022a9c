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
      choices={(sheet.data?.slots ?? []).map((one) => ({
        id: one.scheme,
        name: (
          <>
            <span className="font-semibold">{one.scheme}</span> <span className="faint text-xs">{one.says}</span>
            <code className="block text-xs">{one.line}</code>
          </>
        ),
        onChoose: () => onChoose(one.line),
      }))}
    />
  );
}
