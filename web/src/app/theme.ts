import { useEffect, useState } from "react";

const KEY = "oaken-theme";
type Theme = "mill-day" | "mill-wall";

/** The theme in force and the switch to the other one; remembered on this device. */
export function useTheme(): [Theme, () => void] {
  const [theme, setTheme] = useState<Theme>(() =>
    localStorage.getItem(KEY) === "mill-wall" ? "mill-wall" : "mill-day",
  );
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
    localStorage.setItem(KEY, theme);
  }, [theme]);
  return [theme, () => setTheme(theme === "mill-day" ? "mill-wall" : "mill-day")];
}
