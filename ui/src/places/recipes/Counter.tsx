import type { ReactNode } from "react";
import { Link } from "react-router";
import type { ProductCard, RecipeCard } from "../../api/client";
import { ProductStands, RecipeStands, ROOM } from "../../food/Stand";
import { unsaved } from "../../kit/drafts";
import { minutes } from "../../kit/format";
import { words } from "../../words";

/** Either kind of entry, as it stands on the counter. */
export type Entry = { kind: "recipe"; card: RecipeCard } | { kind: "product"; card: ProductCard };

export const nameOf = (entry: Entry) => (entry.kind === "recipe" ? entry.card.recipe.name : entry.card.product.name);

/** Shelves of what the book holds, each drawn from its own figures, a millimetre a pixel where that fits. */
export function Counter({ entries, label }: { entries: readonly Entry[]; label: string }) {
  return (
    <ul
      aria-label={label}
      className="grid grid-cols-1 overflow-hidden sm:grid-cols-2 lg:grid-cols-3 xl:grid-cols-4 min-[100rem]:grid-cols-5"
    >
      {entries.map((entry) =>
        entry.kind === "product" ? (
          <Place key={entry.card.id} to={`/products/${entry.card.id}`} entry={entry}>
            <ProductStands card={entry.card} />
          </Place>
        ) : (
          <Place key={entry.card.id} to={`/recipes/${entry.card.id}`} entry={entry}>
            <RecipeStands card={entry.card} />
          </Place>
        ),
      )}
    </ul>
  );
}

function Place({ to, entry, children }: { to: string; entry: Entry; children: ReactNode }) {
  const { card } = entry;
  const over = entry.kind === "recipe" ? entry.card.over : entry.card.eggs;
  const told = [
    entry.kind === "recipe" && entry.card.way,
    card.minutes && minutes(card.minutes),
    card.last && words.recipes.lastTime(card.last),
  ];
  return (
    <li className="relative min-w-0 last:after:absolute last:after:left-full last:after:h-1 last:after:w-screen last:after:bg-shelf last:after:content-['']">
      <Link to={to} className="group block h-full pb-5">
        <span className="flex items-end border-b-4 border-shelf px-4" style={{ height: ROOM.high + 16 }}>
          {children}
        </span>
        <span className="block px-4 pt-2">
          <b className="block font-name text-m leading-tight group-hover:underline">{nameOf(entry)}</b>
          <span className="block text-s text-quiet">{card.trouble ?? card.says}</span>
          <span className="block text-s text-quiet">{told.filter(Boolean).join(" · ")}</span>
          {over && <span className="block text-s text-quiet">{over}</span>}
          {unsaved().includes(card.id) && <b className="block text-s">{words.kit.notSaved}</b>}
          {card.warnings > 0 && (
            <b className="block text-s">
              {card.warnings} {card.warnings === 1 ? "thing" : "things"} {words.recipes.toLookAt}
            </b>
          )}
        </span>
      </Link>
    </li>
  );
}
