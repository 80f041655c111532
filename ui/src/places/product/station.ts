import type { Product, ProductSheet, RecipeCard, Refused, Remedy } from "../../api/client";
import { fixed } from "../../kit/numbers";

/** Change the product; changes of the same `of` in a row are undone as one. */
type Change = (of: string, next: (now: Product) => Product) => void;

/** What every station of a product is drawn from, and the way to change it. */
export interface StationProps {
  id: string;
  changed: boolean;
  sheet: ProductSheet;
  product: Product;
  change: Change;
  take: (remedy: Remedy) => void;
  refused: Refused | undefined;
  recipes: readonly RecipeCard[];
  products: readonly { id: string; name: string }[];
  /** The batch a part was made in, by the part's path. */
  batches: Readonly<Record<string, string>>;
  madeIn: (path: string, batch: string) => void;
}

/** Set one thing, given by its path: `portions`, `assembly.inner_mm`, `parts.1.made`. */
export function set(product: Product, path: string, value: unknown): Product {
  const put = (at: unknown, keys: readonly string[]): unknown => {
    const [key, ...rest] = keys;
    if (key === undefined) return value;
    if (Array.isArray(at)) return at.map((item, i) => (String(i) === key ? put(item, rest) : item));
    const held = at as Record<string, unknown>;
    return { ...held, [key]: put(held[key], rest) };
  };
  return put(product, path.split(".")) as Product;
}

export const amount = (value: number, unit: string): string =>
  `${value >= 20 || unit === "pieces" ? fixed(value) : fixed(value, 1)} ${unit === "pieces" ? (value === 1 ? "piece" : "pieces") : unit}`;
