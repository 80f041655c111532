import { type QueryClient, queryOptions, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { answer, http, type Recipe, type RecipeRecord, type Weighed } from "../../api/client";
import { type Kept, keep } from "../../kit/drafts";
import { useWorked } from "../../kit/useWorked";

export interface Draft {
  recipe: Recipe;
  weighed: Weighed | null;
}

export type Edit = (
  of: string,
  change: Partial<Recipe> | ((recipe: Recipe) => Partial<Recipe>),
  weighed?: Weighed | null,
) => void;

/** The fields that one of two has otherwise, or no longer. */
const moved = <T extends object>(from: T, made: T) =>
  Object.fromEntries(
    (Object.keys({ ...from, ...made }) as (keyof T)[])
      .filter((key) => JSON.stringify(made[key]) !== JSON.stringify(from[key]))
      .map((key) => [key, made[key]]),
  ) as Partial<T>;

/** What a recipe made out of an earlier one changes of it, and no more: what was typed in between stands. */
export const changesOf =
  (from: Recipe, made: Recipe) =>
  (now: Recipe): Partial<Recipe> => {
    const { lines, ...rest } = moved(from, made);
    const same = (one: Recipe) =>
      one.lines.length === made.lines.length && one.lines.every((l, i) => l.ingredient === made.lines[i]?.ingredient);
    if (!lines || !same(from) || !same(now)) return lines ? { ...rest, lines } : rest;
    const between = (line: Recipe["lines"][number], i: number) => {
      const [was, is] = [from.lines[i], made.lines[i]];
      return was && is ? { ...line, ...moved(was, is) } : line;
    };
    return { ...rest, lines: now.lines.map(between) };
  };

/** What a recipe comes to as it is kept, in this version of the kitchen. */
export const keptQuery = (record: RecipeRecord, kitchen: number) =>
  queryOptions({
    queryKey: ["sheet", record.id, record.version, kitchen],
    queryFn: () => answer(http.POST("/api/sheet", { body: { recipe: record.recipe, weighed: null } })),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });

/** The recipe on the sheet with its worked-out figures. kitchen: its version; kept: what this tablet holds of it unsaved. */
export function useDraft(record: RecipeRecord, kitchen: number, kept: Kept<Draft> | undefined) {
  const queries = useQueryClient();
  const worked = useWorked<Draft, Awaited<ReturnType<typeof workOut>>>(
    { recipe: record.recipe, weighed: null },
    (draft, signal) =>
      draft.recipe === record.recipe && !draft.weighed ? asKept(queries, record, kitchen) : workOut(draft, signal),
    kept?.draft,
  );
  const { change } = worked;
  const [onTop, setOnTop] = useState(kept?.version ?? record.version);
  const changed =
    worked.draft.weighed !== null || JSON.stringify(worked.draft.recipe) !== JSON.stringify(record.recipe);
  useEffect(
    () => keep(record.id, changed ? { version: onTop, draft: worked.draft } : undefined),
    [record.id, changed, onTop, worked.draft],
  );
  const edit: Edit = useCallback(
    (of, next, weighed) =>
      change(of, (now) => ({
        recipe: { ...now.recipe, ...(typeof next === "function" ? next(now.recipe) : next) },
        weighed: weighed === undefined ? now.weighed : weighed,
      })),
    [change],
  );
  return {
    ...worked.draft,
    /** The version of the recipe it was begun on */
    onTop,
    sheet: worked.made,
    /** The recipe the sheet is worked out of: the one above, or one before it */
    workedOf: worked.madeOf?.recipe,
    refused: worked.refused,
    edit,
    changed,
    /** Back to what is saved; it can be undone */
    discard: () => {
      setOnTop(record.version);
      change("discard", () => ({ recipe: record.recipe, weighed: null }));
    },
    undo: worked.undo,
    canUndo: worked.canUndo,
    again: worked.again,
  };
}

const asKept = (queries: QueryClient, record: RecipeRecord, kitchen: number) =>
  queries.fetchQuery(keptQuery(record, kitchen));
const workOut = (draft: Draft, signal: AbortSignal) => answer(http.POST("/api/sheet", { body: draft, signal }));
