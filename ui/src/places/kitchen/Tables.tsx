import { useQuery } from "@tanstack/react-query";
import type { Kitchen } from "../../api/client";
import { larderQuery } from "../../api/queries";
import { Choice, TypedField } from "../../kit/Field";
import { NumberField } from "../../kit/fields";
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
        How long things keep
      </h2>
      <p className="pt-1 text-s text-quiet">Labels take it from here. A row you remove counts as not known.</p>
      <details className="py-2">
        <summary className="min-h-11 cursor-pointer py-2 underline">{kitchen.keeping.length} rows</summary>
        <ul className="divide-y divide-hairline">
          {kitchen.keeping.map((row, i) => (
            <li key={row.key} className="grid grid-cols-[minmax(0,1fr)_8rem_6rem_auto] items-end gap-3 py-2">
              <div className="min-w-0">
                <b className="block">{row.name}</b>
                <TypedField
                  quiet
                  label={`Source of ${row.name}`}
                  shown={row.source}
                  width="w-full"
                  read={(source) => {
                    if (!source.trim()) throw new Error("Say where the figure comes from");
                    change(i, { source: source.trim() });
                  }}
                />
              </div>
              <Choice label="Where" value={row.where} options={WHERE} onChange={(where) => change(i, { where })} />
              <NumberField
                label="Hours"
                value={row.hours}
                least={0.01}
                most={20000}
                put={(hours) => change(i, { hours })}
              />
              <button
                type="button"
                className="min-h-11 px-2 text-s underline"
                aria-label={`Remove ${row.name}`}
                onClick={() => put({ keeping: kitchen.keeping.filter((_, at) => at !== i) })}
              >
                Remove
              </button>
            </li>
          ))}
        </ul>
        {missing.length > 0 && (
          <Choice
            label="Put back"
            value=""
            options={[["", "choose"] as const, ...missing.map((m) => [m.key, m.name] as const)]}
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
        Prices, if you want them
      </h2>
      <div className="flex flex-wrap items-end gap-3 py-2">
        <TypedField
          label="Money"
          shown={kitchen.currency}
          width="w-20"
          read={(currency) => put({ currency: currency.trim().slice(0, 8) })}
        />
        <Choice
          label="Add an ingredient"
          value=""
          options={[["", "choose"] as const, ...others.map((i) => [i.key, i.name] as const)]}
          onChange={(ingredient) => ingredient && put({ prices: [...kitchen.prices, { ingredient, per_kg: 0 }] })}
        />
      </div>
      <ul className="grid grid-cols-2 gap-x-6 sm:grid-cols-3">
        {kitchen.prices.map((price, i) => (
          <li key={price.ingredient} className="py-1">
            <NumberField
              label={`${named(price.ingredient)}, a kilogram`}
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
