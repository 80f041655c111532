import { useEffect, useRef, useState } from "react";
import { words } from "../words";
import { beep } from "./beep";

/** A timer of a batch: which, of what, and the seconds left of it. */
export interface Running {
  key: string;
  name: string;
  title: string;
  left: number;
}

const AGAIN_MS = 20_000;
const TIMES = 4;
/** A timer that was over longer ago than this when the page opened is shown, not rung. */
const STALE_S = 120;
const TITLE = words.kit.gullPeak;

/** Ask whether the device may show a note when a timer is over: on a press of the cook's, as browsers want it. */
export function askToNotify(): void {
  if ("Notification" in window && Notification.permission === "default") void Notification.requestPermission();
}

function notify(timer: Running): void {
  if (!("Notification" in window) || Notification.permission !== "granted") return;
  try {
    new Notification(words.kit.lookNow(timer.name), { body: timer.title, tag: timer.key });
  } catch {
    // Some devices show notes only from a worker: sound, title and the line on the page are there.
  }
}

/**
 * At a timer's end: a sound, four times or until it is stopped, the title of the page, a note of the device where it may, and the
 * words to be read out. Returns those words.
 */
export function useRing(timers: readonly Running[]): string {
  const rung = useRef(new Set<string>());
  const [said, setSaid] = useState("");
  const over = timers.filter((t) => t.left <= 0);
  const keys = over.map((t) => t.key).join(" ");
  const now = useRef(over);
  now.current = over;
  useEffect(() => {
    if (!keys) return;
    const fresh = now.current.filter((t) => !rung.current.has(t.key));
    for (const timer of fresh) rung.current.add(timer.key);
    const first = fresh.find((t) => t.left > -STALE_S);
    if (!first) return;
    setSaid(words.kit.timerOver(first.name, first.title));
    notify(first);
    beep(false);
    let left = TIMES - 1;
    const again = setInterval(() => {
      beep(false);
      left -= 1;
      if (left <= 0) clearInterval(again);
    }, AGAIN_MS);
    return () => clearInterval(again);
  }, [keys]);
  const title = over[0] ? words.kit.lookNow2(over[0].name, TITLE) : TITLE;
  useEffect(() => {
    document.title = title;
    return () => {
      document.title = TITLE;
    };
  }, [title]);
  return over.length > 0 ? said : "";
}
