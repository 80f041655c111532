import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import type { DayView } from "../../api/client";
import { productsQuery, recipesQuery } from "../../api/queries";
import { ProductStands, RecipeStands } from "../../food/Stand";

const ROOM = { wide: 84, high: 44 } as const;

/** What is ordered, drawn as it stands on the counter; its room is there before the book is. */
export function useLooks(orders: DayView["record"]["day"]["orders"]): (order: string) => ReactNode {
  const { data: products } = useQuery(productsQuery);
  const { data: recipes } = useQuery(recipesQuery);
  return (key) => {
    const of = orders.find((o) => o.key === key)?.of;
    const product = products?.find((p) => p.id === of);
    const recipe = recipes?.find((r) => r.id === of);
    return (
      <span className="flex items-end pb-1" style={{ height: ROOM.high + 8 }}>
        {product && <ProductStands card={product} room={ROOM} />}
        {recipe && <RecipeStands card={recipe} room={ROOM} />}
      </span>
    );
  };
}
