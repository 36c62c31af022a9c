import { useEffect, type RefObject } from "react";

/**
 * No stave is seen cut in half by what stays in sight at the foot: a row that only half shows is not shown, and its place
 * stays free. It is reached by scrolling, and by keyboard, as before.
 */
export function useWholeRows(score: RefObject<HTMLElement | null>, drawn: unknown): void {
  useEffect(() => {
    const element = score.current;
    if (!element) return;
    let asked = 0;
    const look = () => {
      asked = 0;
      const foot = element.querySelector("[data-foot]")?.getBoundingClientRect().top ?? Infinity;
      for (const row of element.querySelectorAll<HTMLElement>("[data-row]")) {
        const { top, bottom } = row.getBoundingClientRect();
        row.style.opacity = top < foot && bottom > foot + 2 ? "0" : "";
      }
    };
    const ask = () => {
      asked ||= requestAnimationFrame(look);
    };
    look();
    window.addEventListener("scroll", ask, { passive: true });
    const observer = new ResizeObserver(ask);
    observer.observe(element);
    return () => {
      window.removeEventListener("scroll", ask);
      observer.disconnect();
      cancelAnimationFrame(asked);
    };
  }, [score, drawn]);
}
