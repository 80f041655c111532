import { useCallback, useEffect, useRef, useState } from "react";
import { Refused } from "../api/client";

const SAME_MS = 900;
const LONGEST_MS = 20_000;
/** While the app is away it is asked again so often. */
const AWAY_MS = 3_000;

/**
 * A draft, what the app works out of it, and undo. Every change works everything out anew, one call at a time: while one is under
 * way the newest draft waits, those between are left out, and every answer is shown. So a drag is followed as fast as answers come.
 * Changes with the same `of` in a row (one slider drag) are undone as one.
 */
export function useWorked<D, R>(saved: D, workOut: (draft: D, signal: AbortSignal) => Promise<R>, begun: D = saved) {
  const [draft, setDraft] = useState(begun);
  const [past, setPast] = useState<D[]>([]);
  const [answer, setAnswer] = useState<{ of: D; made: R }>();
  const [refused, setRefused] = useState<Refused>();
  const last = useRef({ of: "", at: 0 });
  const waiting = useRef<{ draft: D }>(undefined);
  const busy = useRef(false);
  const latest = useRef(workOut);
  latest.current = workOut;

  const work = useCallback(async (next: D) => {
    waiting.current = { draft: next };
    if (busy.current) return;
    busy.current = true;
    while (waiting.current) {
      const now = waiting.current;
      waiting.current = undefined;
      try {
        setAnswer({ of: now.draft, made: await latest.current(now.draft, AbortSignal.timeout(LONGEST_MS)) });
        setRefused(undefined);
      } catch (failure) {
        if (failure instanceof Refused) setRefused(failure);
      }
    }
    busy.current = false;
  }, []);

  useEffect(() => {
    void work(draft);
  }, [draft, work]);

  // Nobody answered: what is typed waits, and is worked out once somebody does.
  useEffect(() => {
    if (!refused?.offline) return;
    const wait = setTimeout(() => void work(draft), AWAY_MS);
    return () => clearTimeout(wait);
  }, [refused, draft, work]);

  const change = useCallback((of: string, next: (now: D) => D) => {
    setDraft((now) => {
      const fresh = last.current.of !== of || Date.now() - last.current.at > SAME_MS;
      last.current = { of, at: Date.now() };
      if (fresh) setPast((steps) => [...steps.slice(-49), now]);
      return next(now);
    });
  }, []);

  const undo = useCallback(() => {
    setPast((steps) => {
      const before = steps.at(-1);
      if (before) setDraft(before);
      last.current = { of: "", at: 0 };
      return steps.slice(0, -1);
    });
  }, []);

  const again = useCallback(() => void work(draft), [draft, work]);
  return { draft, made: answer?.made, madeOf: answer?.of, refused, change, undo, canUndo: past.length > 0, again };
}
