import { useEffect, useState } from "react";
import { appNow, appSpeed, onHeard } from "../api/clock";

/** The app's clock, once a second of it, but never more than five times a second of life. */
export function useNow(): number {
  const [now, setNow] = useState(appNow);
  const beatMs = Math.max(200, 1000 / appSpeed());
  useEffect(() => onHeard(() => setNow(appNow())), []);
  useEffect(() => {
    const beat = setInterval(() => setNow(appNow()), beatMs);
    return () => clearInterval(beat);
  }, [beatMs]);
  return now;
}
