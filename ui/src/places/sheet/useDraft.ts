import { useCallback, useEffect, useRef, useState } from "react";
import { answer, http, type Recipe, Refused, type Sheet, type Weighed } from "../../api/client";

export interface Draft {
  recipe: Recipe;
  weighed: Weighed | null;
}

/** A change to the draft; edits with the same `of` in a row (one slider drag) are undone as one. */
export type Edit = (of: string, change: Partial<Recipe> | ((recipe: Recipe) => Partial<Recipe>), weighed?: Weighed | null) => void;

const SAME_MS = 900;

/** The recipe on the sheet, its worked-out figures, and undo. Every edit reworks all figures in one call; the newest wins. */
export function useDraft(saved: Recipe) {
  const [draft, setDraft] = useState<Draft>({ recipe: saved, weighed: null });
  const [past, setPast] = useState<Draft[]>([]);
  const [sheet, setSheet] = useState<Sheet>();
  const [refused, setRefused] = useState<Refused>();
  const last = useRef({ of: "", at: 0 });
  const asked = useRef<AbortController>(null);

  const work = useCallback(async (next: Draft) => {
    asked.current?.abort();
    const mine = new AbortController();
    asked.current = mine;
    try {
      const made = await answer(http.POST("/api/sheet", { body: next, signal: mine.signal }));
      if (!mine.signal.aborted) {
        setSheet(made);
        setRefused(undefined);
      }
    } catch (failure) {
      if (failure instanceof Refused && !mine.signal.aborted) setRefused(failure);
    }
  }, []);

  useEffect(() => {
    void work(draft);
  }, [draft, work]);

  const edit: Edit = useCallback((of, change, weighed) => {
    setDraft((now) => {
      const fresh = last.current.of !== of || Date.now() - last.current.at > SAME_MS;
      last.current = { of, at: Date.now() };
      if (fresh) setPast((steps) => [...steps.slice(-49), now]);
      const changed = typeof change === "function" ? change(now.recipe) : change;
      return { recipe: { ...now.recipe, ...changed }, weighed: weighed === undefined ? now.weighed : weighed };
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

  return { ...draft, sheet, refused, edit, undo, canUndo: past.length > 0, again: () => void work(draft) };
}
