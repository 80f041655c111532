import { useQuery } from "@tanstack/react-query";
import type { Kitchen } from "../../api/client";
import { larderQuery } from "../../api/queries";
import { Choice, TypedField } from "../../kit/Field";
import { NumberField } from "../../kit/fields";
import { words } from "../../words";
import type { Put } from "./KitchenPlace";

const WHERE = (["tight tin", "room", "chilled", "frozen", "warm"] as const).map((w) => [w, w] as const);

/** How long things keep here, each row with who says so; what has no row is not known. */
export function Keeping({ kitchen, put }: { kitchen: Kitchen; put: Put }) {
  const { data } = useQuery(larderQuery);
  const missing = (data?.keeping ?? []).filter((row) => !kitchen.keeping.some((k) => k.key === row.key));
  const change = (i: number, next: Partial<Kitchen["keeping"][number]>) =>
    put({ keeping: kitchen.keeping.map((k, at) => (at === i ? { ...k, ...next } : k)) });
  return (
    <section aria-labelledby="keeping">
      <h2 id="keeping" className="border-b border-deep text-m">
        {words.kitchen.howLongThingsKeep}
      </h2>
      <p className="pt-1 text-s text-quiet">{words.kitchen.labelsTakeItFromHereA}</p>
      <details className="py-2">
        <summary className="min-h-11 cursor-pointer py-2 underline">
          {kitchen.keeping.length} {words.kitchen.rows}
        </summary>
        <ul className="divide-y divide-hairline">
          {kitchen.keeping.map((row, i) => (
            <li key={row.key} className="grid grid-cols-[minmax(0,1fr)_8rem_6rem_auto] items-end gap-3 py-2">
              <div className="min-w-0">
                <b className="block">{row.name}</b>
                <TypedField
                  quiet
                  label={words.kitchen.sourceOf(row.name)}
                  shown={row.source}
                  width="w-full"
                  read={(source) => {
                    if (!source.trim()) throw new Error(words.kitchen.sayWhereTheFigureComesFrom);
                    change(i, { source: source.trim() });
                  }}
                />
              </div>
              <Choice
                label={words.kitchen.where}
                value={row.where}
                options={WHERE}
                onChange={(where) => change(i, { where })}
              />
              <NumberField
                label={words.kitchen.hours}
                value={row.hours}
                least={0.01}
                most={20000}
                put={(hours) => change(i, { hours })}
              />
              <button
                type="button"
                className="min-h-11 px-2 text-s underline"
                aria-label={words.kitchen.remove(row.name)}
                onClick={() => put({ keeping: kitchen.keeping.filter((_, at) => at !== i) })}
              >
                {words.kitchen.remove2}
              </button>
            </li>
          ))}
        </ul>
        {missing.length > 0 && (
          <Choice
            label={words.kitchen.putBack}
            value=""
            options={[["", words.kitchen.choose] as const, ...missing.map((m) => [m.key, m.name] as const)]}
            onChange={(key) => {
              const row = missing.find((m) => m.key === key);
              if (row) put({ keeping: [...kitchen.keeping, row] });
            }}
          />
        )}
      </details>
    </section>
  );
}

/** What a kilogram costs, where the kitchen wants products costed. */
export function Prices({ kitchen, put }: { kitchen: Kitchen; put: Put }) {
  const { data } = useQuery(larderQuery);
  const named = (key: string) => data?.ingredients.find((i) => i.key === key)?.name ?? key;
  const others = (data?.ingredients ?? []).filter(
    (i) => i.key !== "water" && !kitchen.prices.some((p) => p.ingredient === i.key),
  );
  return (
    <section aria-labelledby="prices">
      <h2 id="prices" className="border-b border-deep text-m">
        {words.kitchen.pricesIfYouWantThem}
      </h2>
      <div className="flex flex-wrap items-end gap-3 py-2">
        <TypedField
          label={words.kitchen.money}
          shown={kitchen.currency}
          width="w-20"
          read={(currency) => put({ currency: currency.trim().slice(0, 8) })}
        />
        <Choice
          label={words.kitchen.addAnIngredient}
          value=""
          options={[["", words.kitchen.choose] as const, ...others.map((i) => [i.key, i.name] as const)]}
          onChange={(ingredient) => ingredient && put({ prices: [...kitchen.prices, { ingredient, per_kg: 0 }] })}
        />
      </div>
      <ul className="grid grid-cols-2 gap-x-6 sm:grid-cols-3">
        {kitchen.prices.map((price, i) => (
          <li key={price.ingredient} className="py-1">
            <NumberField
              label={words.kitchen.aKilogram(named(price.ingredient))}
              value={price.per_kg}
              least={0}
              most={100000}
              put={(per_kg) => put({ prices: kitchen.prices.map((p, at) => (at === i ? { ...p, per_kg } : p)) })}
            />
          </li>
        ))}
      </ul>
    </section>
  );
}
