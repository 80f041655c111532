import { useEffect } from "react";

/** Keep the screen awake while a batch is under way, where the device can: taken again whenever the page comes back to the front. */
export function useWakeLock(wanted: boolean) {
  useEffect(() => {
    if (!wanted || !("wakeLock" in navigator)) return;
    let lock: WakeLockSentinel | undefined;
    let over = false;
    const take = () => {
      if (over || document.visibilityState !== "visible" || (lock && !lock.released)) return;
      navigator.wakeLock
        .request("screen")
        .then((got) => {
          if (over) void got.release();
          else lock = got;
        })
        .catch(() => undefined);
    };
    take();
    document.addEventListener("visibilitychange", take);
    return () => {
      over = true;
      document.removeEventListener("visibilitychange", take);
      void lock?.release();
    };
  }, [wanted]);
}
