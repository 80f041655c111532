import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, http, type Ingredient, type Larder, type OwnIngredient } from "../../api/client";
import { kitchenQuery, larderQuery } from "../../api/queries";
import { fresh } from "../../kit/fields";
import { Packet } from "../../kit/Packet";
import { words } from "../../words";

const SHORTEST = 3;

/** The way in for what the larder has not, or has only by its name: described from its packet, and there at once. */
export function Describe({
  larder,
  item,
  sought,
  kept,
}: {
  larder: Larder;
  item: Ingredient | undefined;
  sought: string;
  kept: (name: string, item: Ingredient | undefined) => void;
}) {
  const [begun, setBegun] = useState<OwnIngredient>();
  const queries = useQueryClient();
  const name = item?.name ?? sought.trim();
  if (item?.known || name.length < SHORTEST) return null;
  const keep = async (own: OwnIngredient, per_kg: number | null) => {
    queries.setQueryData(
      kitchenQuery.queryKey,
      await answer(http.POST("/api/kitchen/larder", { body: { own, per_kg } })),
    );
    await queries.invalidateQueries({ queryKey: larderQuery.queryKey });
    const now = await queries.fetchQuery(larderQuery);
    setBegun(undefined);
    kept(
      own.name,
      now.ingredients.find((i) => i.key === own.key),
    );
  };
  return (
    <>
      <button
        type="button"
        className="press mt-6"
        onClick={() =>
          setBegun(
            larder.own?.find((own) => own.key === item?.key) ?? {
              key: item?.key ?? fresh("own"),
              name: name[0]?.toUpperCase() + name.slice(1),
              also: [],
              role: item?.role ?? "flavour",
              per: "g",
              colour: "",
            },
          )
        }
      >
        {words.kit.describeIt(name.toLowerCase())}
      </button>
      {begun && <Packet larder={larder} begun={begun} keep={keep} close={() => setBegun(undefined)} />}
    </>
  );
}
