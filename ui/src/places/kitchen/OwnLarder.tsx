import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, http, type Kitchen, type OwnIngredient } from "../../api/client";
import { larderQuery } from "../../api/queries";
import { fresh } from "../../kit/fields";
import { Packet } from "../../kit/Packet";
import { words } from "../../words";
import type { Put } from "./KitchenPlace";

const NEW = { name: "", also: [], role: "flavour", per: "g", colour: "" } as const;

/** What this kitchen describes itself: what the larder has not, or has otherwise. */
export function OwnLarder({ kitchen, put }: { kitchen: Kitchen; put: Put }) {
  const { data: larder } = useQuery(larderQuery);
  const [begun, setBegun] = useState<OwnIngredient>();
  const keep = async (own: OwnIngredient, per_kg: number | null) => {
    await answer(http.POST("/api/read/packet", { body: own })); // what cannot be is refused at its field
    const others = kitchen.prices.filter((p) => p.ingredient !== own.key);
    put({
      larder: [...(kitchen.larder ?? []).filter((there) => there.key !== own.key), own],
      prices: per_kg === null ? kitchen.prices : [...others, { ingredient: own.key, per_kg }],
    });
    setBegun(undefined);
  };
  return (
    <section aria-labelledby="own-larder">
      <h2 id="own-larder" className="border-b border-deep text-m">
        {words.kitchen.yourOwnIngredients}
      </h2>
      <ul className="divide-y divide-hairline">
        {(kitchen.larder ?? []).map((own) => (
          <li key={own.key} className="flex items-center gap-3 py-1">
            <b className="grow">{own.name}</b>
            <button
              type="button"
              className="min-h-11 px-2 text-s underline"
              aria-label={words.kitchen.describeAnew(own.name)}
              onClick={() => setBegun(own)}
            >
              {words.kitchen.change}
            </button>
            <button
              type="button"
              className="min-h-11 px-2 text-s underline"
              aria-label={words.kitchen.remove(own.name)}
              onClick={() => put({ larder: (kitchen.larder ?? []).filter((there) => there.key !== own.key) })}
            >
              {words.kitchen.remove2}
            </button>
          </li>
        ))}
      </ul>
      <p className="py-1 text-s text-quiet">{words.kitchen.recipesKeepWhatTheyUse}</p>
      <button type="button" className="press mt-1" onClick={() => setBegun({ ...NEW, also: [], key: fresh("own") })}>
        {words.kitchen.describeAnIngredient}
      </button>
      {begun && larder && (
        <Packet
          larder={larder}
          begun={begun}
          price={kitchen.prices.find((p) => p.ingredient === begun.key)?.per_kg}
          keep={keep}
          close={() => setBegun(undefined)}
        />
      )}
    </section>
  );
}
