import { useEffect, useState } from "react";

/** This device's clock, once a second. */
export function useNow(): number {
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    const beat = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(beat);
  }, []);
  return now;
}
