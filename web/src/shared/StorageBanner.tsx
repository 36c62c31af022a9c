import { useSyncExternalStore } from "react";

import { onStorageProblem, storageProblem } from "./safeStorage";

/** Stays for as long as the page is open, once the browser has refused to keep something. */
export function StorageBanner({ words }: { words: string }) {
  const problem = useSyncExternalStore(onStorageProblem, storageProblem);
  if (problem === null) return null;
  return (
    <p role="alert" className="bg-error px-3 py-1 text-sm text-error-content" data-testid="storage-banner">
      This browser keeps nothing on this device ({problem}). {words}
    </p>
  );
}
