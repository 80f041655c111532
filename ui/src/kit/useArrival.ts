import { type RefObject, useEffect, useRef } from "react";
import { words } from "../words";

const PATIENCE_MS = 10_000;

/** Arriving at a place: its heading takes the focus and names the page, as soon as it is there. The first page opened keeps the focus where the browser has it. */
export function useArrival(main: RefObject<HTMLElement | null>, pathname: string): void {
  const from = useRef(pathname);
  useEffect(() => {
    const place = main.current;
    if (!place) return;
    let moved = from.current !== pathname;
    from.current = pathname;
    const look = () => {
      const heading = place.querySelector("h1");
      if (!heading) return;
      const title = `${heading.textContent} · ${words.kit.gullPeak}`;
      if (document.title !== title) document.title = title;
      if (!moved) return;
      moved = false;
      const inUse = document.activeElement;
      if (inUse && place.contains(inUse) && inUse !== place && inUse.matches("input, textarea, select")) return;
      heading.tabIndex = -1;
      heading.focus({ preventScroll: true });
      window.scrollTo(0, 0);
    };
    look();
    const watch = new MutationObserver(look);
    watch.observe(place, { childList: true, subtree: true, characterData: true });
    const late = setTimeout(() => {
      moved = false;
    }, PATIENCE_MS);
    return () => {
      watch.disconnect();
      clearTimeout(late);
    };
  }, [main, pathname]);
}
