import { useCallback, useEffect, useRef, useState } from "react";
import { Refused } from "../api/client";

const SAME_MS = 900;

/**
 * A draft, what the app works out of it, and undo. Every change works everything out anew in one call; the newest wins.
 * Changes with the same `of` in a row (one slider drag) are undone as one.
 */
export function useWorked<D, R>(saved: D, workOut: (draft: D, signal: AbortSignal) => Promise<R>) {
  const [draft, setDraft] = useState(saved);
  const [past, setPast] = useState<D[]>([]);
  const [made, setMade] = useState<R>();
  const [refused, setRefused] = useState<Refused>();
  const last = useRef({ of: "", at: 0 });
  const asked = useRef<AbortController>(null);
  const reckon = useRef(workOut);
  reckon.current = workOut;

  const work = useCallback(async (next: D) => {
    asked.current?.abort();
    const mine = new AbortController();
    asked.current = mine;
    try {
      const result = await reckon.current(next, mine.signal);
      if (!mine.signal.aborted) {
        setMade(result);
        setRefused(undefined);
      }
    } catch (failure) {
      if (failure instanceof Refused && !mine.signal.aborted) setRefused(failure);
    }
  }, []);

  useEffect(() => {
    void work(draft);
  }, [draft, work]);

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
  return { draft, made, refused, change, undo, canUndo: past.length > 0, again };
}
