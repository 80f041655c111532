import type { Larder, RecipeLine } from "../api/client";

/** What a line holds of an ingredient: its key, and what this kitchen says of it where it describes it itself. */
export const chosenFrom = (larder: Larder, key: string): Pick<RecipeLine, "ingredient" | "own"> => ({
  ingredient: key,
  own: larder.own?.find((own) => own.key === key),
});

/** What a line is of: as the larder has it, else as the recipe brought it along. */
export const itemOf = (larder: Larder, line: RecipeLine) =>
  larder.ingredients.find((item) => item.key === line.ingredient) ?? line.own ?? undefined;
