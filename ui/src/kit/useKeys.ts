import { useEffect, useRef } from "react";

const TYPING = "input:not([type=range]):not([type=checkbox]), select, textarea, [role=dialog] *";

/** Single keys, when the cook is not typing. The handler says whether it used the key; `always`: also on buttons. */
export function useKeys(handle: (key: string, event: KeyboardEvent) => boolean | undefined, always = false): void {
  const latest = useRef(handle);
  latest.current = handle;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      // In a field whose text is taken there is nothing left to undo but what it did.
      const settled = event.ctrlKey && event.key.toLowerCase() === "z" && target.matches?.("[data-settled]");
      const typing = target.matches?.(TYPING) && !settled;
      if (event.altKey || event.metaKey || typing || event.defaultPrevented) return;
      const arrows = event.key.startsWith("Arrow") && target.matches?.("input, [role=slider]");
      const presses = (event.key === " " || event.key === "Enter") && target.matches?.("button, a, summary");
      if (arrows || (presses && !always)) return;
      if (latest.current(event.key.length === 1 ? event.key.toLowerCase() : event.key, event)) event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [always]);
}
