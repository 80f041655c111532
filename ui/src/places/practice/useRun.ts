import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { answer, type DrillCard, http, type PracticeAction, type PracticeView } from "../../api/client";

const POLL_MS = 250;

/** A run of a drill: its time, what was done in it, what the app says of it. It is kept when it has ended. */
export function useRun(drill: DrillCard, seed: number, asked: boolean) {
  const queries = useQueryClient();
  const [view, setView] = useState<PracticeView>();
  const [going, setGoing] = useState(false);
  const actions = useRef<PracticeAction[]>([]);
  const began = useRef(0);
  const gone = useRef(0);
  const asking = useRef(0);
  const { mutate: play, error: unplayed } = useMutation({
    mutationFn: (until_s: number) => {
      asking.current += 1;
      return answer(
        http.POST("/api/practice/play", { body: { drill: drill.key, seed, actions: actions.current, until_s, asked } }),
      ).finally(() => {
        asking.current -= 1;
      });
    },
  });
  const { mutate: keep, error: unkept } = useMutation({
    mutationFn: () =>
      answer(
        http.POST("/api/practice/runs", {
          body: {
            id: crypto.randomUUID(),
            drill: drill.key,
            seed,
            actions: actions.current,
            cook: localStorage.getItem("gullpeak-cook") ?? "",
          },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["practice"] }),
  });
  const speed = view?.setup.speed ?? 1;
  const at = useCallback(
    () => gone.current + (going ? ((Date.now() - began.current) / 1000) * speed : 0),
    [going, speed],
  );
  const ended = view?.ended ?? false;
  const still = view?.setup.drawn === "peak"; // what is looked at stands still
  const look = useCallback(
    (until_s: number) =>
      play(until_s, {
        // only the latest call's answer is taken
        onSuccess: (found) => {
          setView(found);
          if (found.ended) setGoing(false);
        },
      }),
    [play],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: with or without the figures it is asked anew
  useEffect(() => look(gone.current), [look, asked]);
  useEffect(() => {
    if (!going) return;
    // A slow answer is waited for: asked over its head, none would ever be taken.
    const timer = setInterval(() => asking.current === 0 && look(at()), POLL_MS);
    return () => clearInterval(timer);
  }, [going, look, at]);
  useEffect(() => {
    if (ended) keep();
  }, [ended, keep]);
  const act = (what: string, value = 1) => {
    if (ended || (!going && !still)) return;
    const now = still ? actions.current.length : at();
    actions.current = [...actions.current, { at_s: now, what, value }];
    look(now);
  };
  return {
    view,
    going,
    ended,
    still,
    problem: (unplayed ?? unkept)?.message,
    start: () => {
      began.current = Date.now();
      setGoing(true);
    },
    pause: () => {
      gone.current = at();
      setGoing(false);
    },
    act,
    step: (what: string, levels: number, by: number) => {
      // The last press counts, though the picture has not caught up with it.
      const is = actions.current.findLast((a) => a.what === what)?.value ?? view?.look.levels?.[what] ?? 0;
      const to = Math.max(0, Math.min(levels - 1, is + by));
      if (to !== is) act(what, to);
    },
  };
}

export type Running = ReturnType<typeof useRun>;

/** Whether the name is asked next, or what to do. */
export const nextAsk = (view: PracticeView) => view.look.asks === "name";
