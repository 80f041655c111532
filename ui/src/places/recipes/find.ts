import type { Larder, Product, Recipe } from "../../api/client";

export interface Sought {
  recipe: (recipe: Recipe) => boolean;
  product: (product: Product, parts: readonly Recipe[]) => boolean;
}

/**
 * What a search means: every word is in it somewhere (its name, what goes in by any name that has, its way, its notes), and after a
 * `no`, nothing that holds that allergen or goes by that name.
 */
export function sought(typed: string, larder: Larder | undefined): Sought {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const without = words.flatMap((word, i) => (words[i - 1] === "no" ? [word] : []));
  const wanted = words.filter((word, i) => word !== "no" && words[i - 1] !== "no");
  const items = new Map(larder?.ingredients.map((i) => [i.key, i]));
  const schools = new Map(larder?.schools.map((s) => [s.school, s.name]));
  const used = (recipe: Recipe) => recipe.lines.flatMap((line) => items.get(line.ingredient) ?? []);
  const told = (recipe: Recipe) =>
    [
      recipe.name,
      recipe.family,
      schools.get(recipe.school) ?? recipe.school,
      recipe.notes,
      ...used(recipe).flatMap((i) => [i.name, ...i.also]),
    ]
      .join(" ")
      .toLowerCase();
  const holds = (recipe: Recipe, word: string) =>
    used(recipe).some((i) => !i.known || [i.name, ...i.also, ...i.allergens].join(" ").toLowerCase().includes(word));
  return {
    recipe: (recipe) =>
      wanted.every((word) => told(recipe).includes(word)) && !without.some((word) => holds(recipe, word)),
    product: (product, parts) => {
      const all = [product.name, product.family, product.notes, ...parts.map(told)].join(" ").toLowerCase();
      return (
        wanted.every((word) => all.includes(word)) && !without.some((word) => parts.some((part) => holds(part, word)))
      );
    },
  };
}
