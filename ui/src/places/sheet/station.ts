import type { Kitchen, Larder, Recipe, Refused, Sheet, Weighed } from "../../api/client";
import type { Edit } from "./useDraft";

/** What every station is drawn from, and the way to change it. */
export interface StationProps {
  sheet: Sheet;
  recipe: Recipe;
  weighed: Weighed | null;
  edit: Edit;
  kitchen: Kitchen;
  larder: Larder;
  refused: Refused | undefined;
}

/** What a closed station is drawn from; it is drawn again only when the figures are. */
export type Pictured = Pick<StationProps, "sheet">;

/** A list with one entry changed. */
export const swap = <T>(list: readonly T[], index: number, change: Partial<T>): T[] =>
  list.map((item, i) => (i === index ? { ...item, ...change } : item));
