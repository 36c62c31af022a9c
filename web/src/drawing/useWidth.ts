import { useLayoutEffect, useRef, useState } from "react";

/** The width of an element, as it is and as it changes. */
export function useWidth<Kind extends HTMLElement>() {
  const element = useRef<Kind>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    if (!element.current) return;
    const observer = new ResizeObserver(([entry]) => setWidth(Math.floor(entry!.contentRect.width)));
    observer.observe(element.current);
    return () => observer.disconnect();
  }, []);
  return { element, width };
}
