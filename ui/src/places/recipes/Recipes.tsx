import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { ProductCard, RecipeCard } from "../../api/client";
import { foundQuery, larderQuery, productsQuery, recipesQuery } from "../../api/queries";
import { Cut } from "../../food/Cut";
import { Glass } from "../../food/Glass";
import { Section } from "../../food/Section";
import { unsaved } from "../../kit/drafts";
import { Choice } from "../../kit/Field";
import { TextField } from "../../kit/fields";
import { parts } from "../../kit/format";
import { Trouble, Waiting } from "../../kit/States";
import { words } from "../../words";
import { Start } from "../start/Start";
import { Archived } from "./Archived";
import { Begin, type Begun } from "./Begin";
import { BringIn } from "./BringIn";

const FAMILIES = [
  ["kisses", words.recipes.kisses],
  ["nests", words.recipes.nests],
  ["pavlovas", words.recipes.pavlovas],
  ["discs", words.recipes.discs],
  ["slabs", words.recipes.slabs],
  ["sheets", words.recipes.sheetsForRolling],
  ["toppings", words.recipes.toppings],
  ["sabayons", words.recipes.sabayons],
  ["curds", words.recipes.curds],
  ["creams", words.recipes.creams],
  ["fruit", words.recipes.fruitAndSauces],
  ["pastry", words.recipes.pastryAndSponge],
  ["mixes", words.recipes.mixesPowdersCores],
] as const;
const PRODUCT_FAMILIES = [
  "rolls",
  "pies",
  "mousse pies",
  "jackets",
  "filled shells",
  "parfaits",
  "horns",
  "glasses",
  "menus",
] as const;
const VITALS = [
  ["weigh", words.recipes.egg],
  ["sugar", words.recipes.sugarToWhite],
  ["heat", words.recipes.heatedTo],
  ["whisk", words.recipes.whisking],
  ["dry", words.recipes.inTheOven],
] as const;

export default function Recipes() {
  const { data, error, refetch } = useQuery(recipesQuery);
  const products = useQuery(productsQuery);
  const larder = useQuery(larderQuery);
  const [show, setShow] = useState("");
  const [open, setOpen] = useState<Begun | "nothing">();
  const schools = Object.fromEntries((larder.data?.schools ?? []).map((s) => [s.school, s.name]));
  const [typed, setTyped] = useState("");
  const search = useQuery(foundQuery(typed.trim()));
  if (error) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.recipes.theRecipes} />;
  const ids = typed.trim() && search.data ? new Set(search.data.ids) : undefined;
  const shown = (id: string, { family, tags = [] }: { family: string; tags?: readonly string[] }) =>
    (!ids || ids.has(id)) && (!show || show === `family:${family}` || tags.some((tag) => show === `tag:${tag}`));
  const found = data.filter((c) => shown(c.id, c.recipe));
  if (open === undefined && data.length + (products.data?.length ?? 1) === 0) setOpen("starters");
  const foundProducts = (products.data ?? []).filter((c) => shown(c.id, c.product));
  return (
    <div className="mx-auto w-full max-w-[1500px] px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-center justify-between gap-3 pb-2">
        <h1 className="text-l">{words.recipes.recipes}</h1>
      </div>
      <Begin open={open} setOpen={setOpen} />
      <BringIn />
      <Start book={open === "starters"} />
      {data.length > 0 && (
        <div className="flex flex-wrap items-start gap-x-4 gap-y-2">
          <TextField
            label={words.recipes.search}
            hint={search.data?.understood.join(" · ") || words.recipes.searchHint}
            value={typed}
            most={80}
            width="w-120"
            put={setTyped}
          />
          <Show cards={data} products={products.data ?? []} show={show} put={setShow} />
        </div>
      )}
      {ids && found.length + foundProducts.length === 0 && (
        <p role="status" className="pt-3">
          {words.recipes.nothingFound(typed)}
        </p>
      )}
      {PRODUCT_FAMILIES.map((family) => {
        const cards = foundProducts.filter((c) => c.product.family === family);
        return cards.length === 0 ? null : (
          <section
            key={family}
            aria-labelledby={`products-${family.replace(" ", "-")}`}
            className="mt-4 border-t border-deep pt-2"
          >
            <h2 id={`products-${family.replace(" ", "-")}`} className="text-s text-quiet">
              {family.replace(/^./, (c) => c.toUpperCase())}
            </h2>
            <ul className="divide-y divide-hairline">
              {cards.map((card) => (
                <ProductRow key={card.id} card={card} />
              ))}
            </ul>
          </section>
        );
      })}
      {found.length > 0 && <h2 className="mt-8 text-m">{words.recipes.partsAndPlainMeringues}</h2>}
      {FAMILIES.map(([family, title]) => {
        const cards = found.filter((c) => c.recipe.family === family);
        return cards.length === 0 ? null : (
          <section key={family} aria-labelledby={`family-${family}`} className="mt-4 border-t border-deep pt-2">
            <h2 id={`family-${family}`} className="text-s text-quiet">
              {title}
            </h2>
            <ul className="divide-y divide-hairline">
              {cards.map((card) => (
                <Row key={card.id} card={card} schools={schools} />
              ))}
            </ul>
          </section>
        );
      })}
      <Archived />
    </div>
  );
}

/** What there is to look at by itself: the families there are, and the cook's own tags. */
function Show({
  cards,
  products,
  show,
  put,
}: {
  cards: readonly RecipeCard[];
  products: readonly ProductCard[];
  show: string;
  put: (show: string) => void;
}) {
  const entries = [...cards.map((c) => c.recipe), ...products.map((c) => c.product)];
  const names = new Map<string, string>(FAMILIES);
  const families = [...new Set(entries.map((entry) => entry.family))].sort();
  const tags = [...new Set(entries.flatMap((entry) => entry.tags ?? []))].sort();
  return (
    <div className="w-60">
      <Choice
        label={words.recipes.show}
        value={show}
        options={[
          ["", words.recipes.everything] as const,
          ...tags.map((tag) => [`tag:${tag}`, words.recipes.tagged(tag)] as const),
          ...families.map((family) => [`family:${family}`, (names.get(family) ?? family).toLowerCase()] as const),
        ]}
        onChange={put}
      />
    </div>
  );
}

/** One product: its section, its portions, what decides it, both sides of the egg. */
function ProductRow({ card }: { card: ProductCard }) {
  return (
    <li>
      <Link
        to={`/products/${card.id}`}
        className="grid min-h-16 grid-cols-[6.5rem_1fr] items-center gap-x-5 gap-y-1 py-2 md:grid-cols-[6.5rem_minmax(14rem,1.4fr)_1fr_1fr]"
      >
        {card.section.length > 0 ? (
          <Cut patches={card.section} label={words.recipes.cutThrough} className="max-h-16 w-full" />
        ) : (
          <Glass className="h-13 w-full" />
        )}
        <span className="min-w-0">
          <b className="line-clamp-2 text-m">{card.product.name}</b>
          <span className="block text-s text-quiet">{card.trouble ?? card.says}</span>
          {unsaved().includes(card.id) && <b className="block text-s">{words.kit.notSaved}</b>}
          {card.warnings > 0 && (
            <b className="text-s">
              {card.warnings} {card.warnings === 1 ? "thing" : "things"} {words.recipes.toLookAt}
            </b>
          )}
        </span>
        <span>
          {card.vital && (
            <>
              <span className="text-m font-bold">{parts(card.vital).number}</span>{" "}
              <span className="text-s">{parts(card.vital).unit}</span>
              <span className="block text-s text-quiet">{card.vital_name.toLowerCase()}</span>
            </>
          )}
        </span>
        <span className="text-s">
          {card.eggs}
          <span className="block text-quiet">
            {card.product.parts.length === 1 ? "1 part" : words.recipes.parts(card.product.parts.length)}
          </span>
        </span>
      </Link>
    </li>
  );
}

/** One recipe: its cut outline, its name, and the figures that matter, in the order of work. */
function Row({ card, schools }: { card: RecipeCard; schools: Record<string, string> }) {
  return (
    <li>
      <Link
        to={`/recipes/${card.id}`}
        className="grid min-h-16 grid-cols-[6.5rem_1fr] items-center gap-x-5 gap-y-1 py-2 md:grid-cols-[6.5rem_minmax(14rem,1.4fr)_2fr]"
      >
        {card.recipe.shape ? (
          <Section parts={card.section} label={words.recipes.cut(card.recipe.shape.kind)} className="max-h-13 w-full" />
        ) : (
          <Glass className="h-13 w-full" />
        )}
        <span className="min-w-0">
          <b className="line-clamp-2 text-m">{card.recipe.name}</b>
          <span className="block text-s text-quiet">{card.trouble ?? card.says}</span>
          {unsaved().includes(card.id) && <b className="block text-s">{words.kit.notSaved}</b>}
          <span className="block text-s">
            {schools[card.recipe.school] ?? card.recipe.school}
            {card.warnings > 0 && (
              <b>
                {" "}
                · {card.warnings} {card.warnings === 1 ? "thing" : "things"} {words.recipes.toLookAt}
              </b>
            )}
          </span>
        </span>
        <span className="col-span-2 grid grid-cols-5 gap-3 md:col-span-1">
          {VITALS.map(([station, label]) => {
            const vital = card.vitals[station];
            if (!vital) return <span key={station} />;
            const { number, unit } = parts(vital);
            return (
              <span key={station}>
                <span className="text-m font-bold">{number}</span> <span className="text-s">{unit}</span>
                <span className="block text-s text-quiet">{station === "weigh" ? card.recipe.base : label}</span>
              </span>
            );
          })}
        </span>
      </Link>
    </li>
  );
}
