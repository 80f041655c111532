import { useCallback } from "react";
import { answer, http, type Recipe, type Weighed } from "../../api/client";
import { useWorked } from "../../kit/useWorked";

export interface Draft {
  recipe: Recipe;
  weighed: Weighed | null;
}

export type Edit = (of: string, change: Partial<Recipe> | ((recipe: Recipe) => Partial<Recipe>), weighed?: Weighed | null) => void;

/** The recipe on the sheet with its worked-out figures. */
export function useDraft(saved: Recipe) {
  const worked = useWorked<Draft, Awaited<ReturnType<typeof workOut>>>({ recipe: saved, weighed: null }, workOut);
  const { change } = worked;
  const edit: Edit = useCallback(
    (of, next, weighed) =>
      change(of, (now) => ({
        recipe: { ...now.recipe, ...(typeof next === "function" ? next(now.recipe) : next) },
        weighed: weighed === undefined ? now.weighed : weighed,
      })),
    [change],
  );
  return { ...worked.draft, sheet: worked.made, refused: worked.refused, edit, undo: worked.undo, canUndo: worked.canUndo, again: worked.again };
}

const workOut = (draft: Draft, signal: AbortSignal) => answer(http.POST("/api/sheet", { body: draft, signal }));
