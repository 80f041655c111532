import { type RefCallback, useCallback, useState } from "react";

/** The width a drawing really has, px, so that its text and rows stand at their true size; it may come onto the page later. */
export function useWidth<E extends HTMLElement>(start: number): [RefCallback<E>, number] {
  const [width, setWidth] = useState(start);
  const ref = useCallback((seen: E | null) => {
    if (!seen) return;
    const watch = new ResizeObserver(
      ([entry]) => entry && setWidth(Math.max(160, Math.round(entry.contentRect.width))),
    );
    watch.observe(seen);
    return () => watch.disconnect();
  }, []);
  return [ref, width];
}
