import { useQuery } from "@tanstack/react-query";
import type { RecipeCard } from "../api/client";
import { productsQuery, recipesQuery } from "../api/queries";
import { ProductStands, RecipeStands } from "../food/Stand";

/** What the book has under an id, drawn small, as it stands on the counter; its room is there before the book is. */
export function Looks({
  of,
  wide,
  high,
  toast,
}: {
  of: string | undefined;
  wide: number;
  high: number;
  /** How it came out of the oven, where that is known */
  toast?: RecipeCard["toast"];
}) {
  const { data: products } = useQuery(productsQuery);
  const { data: recipes } = useQuery(recipesQuery);
  const product = products?.find((p) => p.id === of);
  const recipe = recipes?.find((r) => r.id === of);
  const room = { wide, high };
  return (
    <span className="flex items-end" style={{ height: high + 4 }}>
      {product && <ProductStands card={product} room={room} />}
      {recipe && <RecipeStands card={toast ? { ...recipe, toast } : recipe} room={room} />}
    </span>
  );
}
