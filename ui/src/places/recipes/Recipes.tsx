import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { foundQuery, productsQuery, recipesQuery } from "../../api/queries";
import { Trouble, Waiting } from "../../kit/States";
import { words } from "../../words";
import { Start } from "../start/Start";
import { Archived } from "./Archived";
import { Begin, type Begun } from "./Begin";
import { BringIn } from "./BringIn";
import { Counter, type Entry, nameOf } from "./Counter";

/** The kinds a cook looks for, in the order they stand, and the families of each. Parts come last, and stand by themselves. */
const KINDS = [
  ["rolls", words.recipes.rolls, ["rolls"]],
  ["pies", words.recipes.pies, ["pies", "mousse pies"]],
  ["filled", words.recipes.filledAndIced, ["jackets", "filled shells", "parfaits", "horns", "glasses", "menus"]],
  ["pavlovas", words.recipes.pavlovas, ["pavlovas"]],
  ["meringues", words.recipes.meringues, ["nests", "kisses", "discs", "slabs"]],
  ["sabayons", words.recipes.sabayons, ["sabayons"]],
  ["parts", words.recipes.partsOf, ["sheets", "toppings", "curds", "creams", "fruit", "pastry", "mixes"]],
] as const satisfies readonly (readonly [string, string, readonly string[]])[];

const familyOf = ({ kind, card }: Entry) => (kind === "recipe" ? card.recipe.family : card.product.family);
const tagsOf = ({ kind, card }: Entry) => (kind === "recipe" ? card.recipe.tags : card.product.tags) ?? [];
const kindOf = (entry: Entry) =>
  KINDS.findIndex(([, , families]) => (families as readonly string[]).includes(familyOf(entry)));

export default function Recipes() {
  const { data, error, refetch } = useQuery(recipesQuery);
  const products = useQuery(productsQuery);
  const [show, setShow] = useState("");
  const [open, setOpen] = useState<Begun | "nothing">();
  const [typed, setTyped] = useState("");
  const search = useQuery(foundQuery(typed.trim()));
  if (error) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.recipes.theRecipes} />;
  if (open === undefined && data.length + (products.data?.length ?? 1) === 0) setOpen("starters");
  const all: Entry[] = [
    ...(products.data ?? []).map((card) => ({ kind: "product" as const, card })),
    ...data.map((card) => ({ kind: "recipe" as const, card })),
  ].sort((a, b) => kindOf(a) - kindOf(b) || nameOf(a).localeCompare(nameOf(b)));
  const ids = typed.trim() && search.data ? new Set(search.data.ids) : undefined;
  const found = all.filter(
    (entry) =>
      (!ids || ids.has(entry.card.id)) &&
      (!show || show === `kind:${KINDS[kindOf(entry)]?.[0]}` || tagsOf(entry).some((tag) => show === `tag:${tag}`)),
  );
  const parts = KINDS.length - 1;
  const [desserts, partsOf] = [found.filter((e) => kindOf(e) !== parts), found.filter((e) => kindOf(e) === parts)];
  return (
    <div className="mx-auto w-full max-w-[1900px] px-4 py-4 md:px-6">
      <h1 className="sr-only">{words.recipes.book}</h1>
      <div className="flex flex-wrap items-center gap-3">
        {all.length > 0 && (
          <>
            <input
              type="search"
              aria-label={words.recipes.search}
              aria-describedby="understood"
              placeholder={words.recipes.searchHint}
              className="min-h-12 w-full min-w-0 px-4 sm:w-100"
              maxLength={80}
              value={typed}
              onChange={(e) => setTyped(e.target.value)}
            />
            <Filters entries={all} show={show} put={setShow} />
          </>
        )}
        <Link to="/write" className="press press-first min-h-12 max-sm:w-full sm:ml-auto">
          {words.write.writeARecipe}
        </Link>
      </div>
      <p id="understood" role="status" className="text-s text-quiet">
        {ids && (search.data?.understood.join(" · ") || "")}
        {ids && found.length === 0 && ` ${words.recipes.nothingFound(typed)}`}
      </p>
      <div className="flex flex-wrap items-start gap-x-5 text-s text-quiet">
        <Begin open={open} setOpen={setOpen} />
        <BringIn />
      </div>
      <Start book={open === "starters"} />
      {desserts.length > 0 && <Counter entries={desserts} label={words.recipes.desserts} />}
      {partsOf.length > 0 && (
        <>
          <h2 className="mt-6 text-m">{words.recipes.partsOf}</h2>
          <Counter entries={partsOf} label={words.recipes.partsOf} />
        </>
      )}
      <Archived />
    </div>
  );
}

/** What there is to look at by itself: the kinds there are, and the cook's own tags. */
function Filters({ entries, show, put }: { entries: readonly Entry[]; show: string; put: (show: string) => void }) {
  const tags = [...new Set(entries.flatMap(tagsOf))].sort();
  const kinds = new Set(entries.map(kindOf));
  const choices = [
    ["", words.recipes.all] as const,
    ...KINDS.filter((_, i) => kinds.has(i)).map(([key, name]) => [`kind:${key}`, name] as const),
    ...tags.map((tag) => [`tag:${tag}`, tag] as const),
  ];
  if (choices.length < 3) return null;
  return (
    <fieldset className="flex flex-wrap items-center">
      <legend className="sr-only">{words.recipes.show}</legend>
      {choices.map(([key, name]) => (
        <button
          key={key}
          type="button"
          aria-pressed={show === key}
          onClick={() => put(show === key ? "" : key)}
          className="min-h-11 rounded-full px-3 text-s aria-pressed:bg-deep aria-pressed:font-bold aria-pressed:text-paper"
        >
          {name}
        </button>
      ))}
    </fieldset>
  );
}
