import { answer, http } from "./client";

/** The app's clock: what it told last, and this device's own steady count since. It may run faster than life. */
let anchor = { app: Date.now(), since: performance.now(), speed: 1 };
let heard = false;
const listeners = new Set<() => void>();
const AGAIN_MS = 20_000;

async function ask() {
  const sent = performance.now();
  try {
    const told = await answer(http.GET("/api/clock"));
    anchor = { app: Date.parse(told.now), since: (sent + performance.now()) / 2, speed: told.speed };
    heard = true;
    for (const tell of listeners) tell();
  } catch {
    // Not reached: the last word holds.
  }
}
void ask();
setInterval(() => void ask(), AGAIN_MS);

/** The app's time, ms. */
export const appNow = (): number => anchor.app + (performance.now() - anchor.since) * anchor.speed;
/** Be told whenever the app has told its time. */
export function onHeard(told: () => void): () => void {
  listeners.add(told);
  return () => listeners.delete(told);
}
/** Whether the app has told its time yet: until then this device's own is taken, which may be another day. */
export const clockHeard = (): boolean => heard;
export const appSpeed = (): number => anchor.speed;
