import { type RefObject, useEffect, useRef, useState } from "react";

/** The width a drawing really has, px, so that its text and rows stand at their true size. */
export function useWidth<E extends HTMLElement>(start: number): [RefObject<E | null>, number] {
  const ref = useRef<E>(null);
  const [width, setWidth] = useState(start);
  useEffect(() => {
    const seen = ref.current;
    if (!seen) return;
    const watch = new ResizeObserver(([entry]) => entry && setWidth(Math.max(160, Math.round(entry.contentRect.width))));
    watch.observe(seen);
    return () => watch.disconnect();
  }, []);
  return [ref, width];
}
