import { useSyncExternalStore } from "react";

const KEY = "oaken-theme";
type Theme = "mill-day" | "mill-wall";

const listeners = new Set<() => void>();

function kept(): Theme {
  return localStorage.getItem(KEY) === "mill-wall" ? "mill-wall" : "mill-day";
}

/** The theme in force, for what is drawn rather than styled. */
export function useThemeName(): Theme {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => (document.documentElement.dataset.theme === "mill-wall" ? "mill-wall" : "mill-day"),
  );
}

/** Puts the theme of this device in force, before anything is drawn. */
export function beginTheme(): void {
  document.documentElement.dataset.theme = kept();
}

/** The theme in force and the switch to the other one; remembered on this device. */
export function useTheme(): [Theme, () => void] {
  const theme = useThemeName();
  return [
    theme,
    () => {
      const other = theme === "mill-day" ? "mill-wall" : "mill-day";
      localStorage.setItem(KEY, other);
      document.documentElement.dataset.theme = other;
      listeners.forEach((listener) => listener());
    },
  ];
}
