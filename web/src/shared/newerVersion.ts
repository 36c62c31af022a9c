import { useSyncExternalStore } from "react";
import { registerSW } from "virtual:pwa-register";

let load: (() => void) | null = null;
const listeners = new Set<() => void>();

/** Keeps the application on this device, so that it opens without the server. A newer version waits until it is asked
 * for: a class that runs is never reloaded under anybody's hands. */
export function keepOnDevice(): void {
  const update = registerSW({
    onNeedRefresh: () => {
      load = () => void update(true);
      listeners.forEach((listener) => listener());
    },
  });
}

/** What loads the newer version, where there is one. */
export function useNewerVersion(): (() => void) | null {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => load,
  );
}
