import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { answer, http, type Product, type ProductCard, type Recipe, type RecipeCard } from "../../api/client";
import { larderQuery, productsQuery, recipesQuery } from "../../api/queries";
import { Cut } from "../../kit/Cut";
import { parts } from "../../kit/format";
import { Glass } from "../../kit/Glass";
import { Section } from "../../kit/Section";
import { Empty, Trouble, Waiting } from "../../kit/States";
import { BringIn } from "./BringIn";

const FAMILIES = [
  ["kisses", "Kisses"],
  ["nests", "Nests"],
  ["pavlovas", "Pavlovas"],
  ["discs", "Discs"],
  ["slabs", "Slabs"],
  ["sheets", "Sheets for rolling"],
  ["toppings", "Toppings"],
  ["sabayons", "Sabayons"],
  ["curds", "Curds"],
  ["creams", "Creams"],
  ["fruit", "Fruit and sauces"],
  ["pastry", "Pastry and sponge"],
  ["mixes", "Mixes, powders, cores"],
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
  ["weigh", "egg"],
  ["sugar", "sugar to white"],
  ["heat", "heated to"],
  ["whisk", "whisking"],
  ["dry", "in the oven"],
] as const;

const BATH: NonNullable<Recipe["heat"]> = {
  target_c: 78,
  source: "bath",
  hob: null,
  pan: null,
  start_whites: "meet",
  peak: "soft peak",
  wall_pct: 4,
};
/** A plain French nest to begin from; every figure is the cook's to change. */
const NEW: Recipe = {
  name: "New meringue",
  family: "nests",
  school: "french",
  base: "white",
  portion_g: 90,
  heat: null,
  on: null,
  egg: { kind: "fresh", size: null, temp_c: 20, old: false },
  sugars: [{ kind: "caster", ratio: 1.6, moment: "soft", written: "" }],
  additions: [],
  shape: {
    kind: "nest",
    diameter_mm: 80,
    height_mm: 32,
    base_mm: 10,
    wall_mm: 18,
    length_mm: 300,
    width_mm: 200,
    gap_mm: 20,
  },
  texture: "crisp",
  programme: {
    fan: true,
    start: "hot",
    steps: [
      { kind: "heat", set_c: 95, minutes: null, door: "shut" },
      { kind: "off", set_c: null, minutes: 45, door: "ajar" },
    ],
  },
  scale: { by: "pieces", amount: 12 },
  loss_pct: 4.5,
  oven: null,
  mixer: null,
  tray: null,
  notes: "",
};

const PLAIN = { ...NEW, shape: null, programme: null, base: "yolk" as const };
/** What a new recipe can begin from. */
const BEGIN: readonly (readonly [string, Recipe])[] = [
  ["New meringue", NEW],
  [
    "New sabayon",
    {
      ...PLAIN,
      name: "New sabayon",
      family: "sabayons",
      school: "sabayon",
      portion_g: 70,
      scale: { by: "pieces", amount: 6 },
      heat: { ...BATH, target_c: 78 },
      sugars: [{ kind: "caster", ratio: 0.8, moment: "bath", written: "" }],
      additions: [{ ingredient: "fortified-wine", ratio: 1.1, moment: "bath", written: "" }],
    },
  ],
  [
    "New part",
    {
      ...PLAIN,
      name: "New cream",
      family: "creams",
      school: "whipped cream",
      base: "other",
      on: "whipping-cream",
      portion_g: 40,
      scale: { by: "pieces", amount: 12 },
      sugars: [{ kind: "icing", ratio: 0.06, moment: "start", written: "" }],
    },
  ],
  [
    "New curd",
    {
      ...PLAIN,
      name: "New curd",
      family: "curds",
      school: "curd",
      portion_g: 30,
      scale: { by: "pieces", amount: 20 },
      heat: { ...BATH, target_c: 80 },
      sugars: [{ kind: "caster", ratio: 1.2, moment: "bath", written: "" }],
      additions: [
        { ingredient: "lemon-juice", ratio: 1, moment: "bath", written: "" },
        { ingredient: "butter", ratio: 1, moment: "off heat", written: "" },
      ],
    },
  ],
];

type Role = Product["parts"][number]["role"];
type Finds = (recipe: Recipe) => boolean;
const shaped =
  (...kinds: string[]): Finds =>
  (r) =>
    Boolean(r.shape && kinds.includes(r.shape.kind));
const cream: Finds = (r) => r.school === "whipped cream";
const foam: Finds = (r) => r.base === "white" && !r.shape;
const eggCream: Finds = (r) => r.school === "curd" || r.school === "sabayon";

/** What a product can begin as: its family, portions of one whole, and what in the book may take each role. */
const BUILD: readonly {
  kind: Product["assembly"]["kind"];
  says: string;
  family: Product["family"];
  serves: number;
  roles: readonly (readonly [Role, Finds])[];
}[] = [
  {
    kind: "filled shell",
    says: "filled shells",
    family: "filled shells",
    serves: 1,
    roles: [
      ["shell", (r) => r.base === "white" && shaped("nest", "bowl", "disc", "kiss")(r)],
      ["filling", cream],
    ],
  },
  {
    kind: "roll",
    says: "a roll",
    family: "rolls",
    serves: 12,
    roles: [
      ["sheet", (r) => r.texture === "soft sheet"],
      ["filling", cream],
    ],
  },
  {
    kind: "pie",
    says: "a pie",
    family: "pies",
    serves: 8,
    roles: [
      ["case", shaped("case")],
      ["filling", eggCream],
      ["foam", foam],
    ],
  },
  {
    kind: "jacket",
    says: "jackets",
    family: "jackets",
    serves: 1,
    roles: [
      ["base", (r) => r.school === "sponge"],
      ["core", (r) => r.school === "bought"],
      ["foam", foam],
    ],
  },
  {
    kind: "mould",
    says: "a parfait",
    family: "parfaits",
    serves: 12,
    roles: [
      ["filling", foam],
      ["filling", cream],
    ],
  },
  {
    kind: "horn",
    says: "horns",
    family: "horns",
    serves: 1,
    roles: [
      ["case", shaped("horn")],
      ["filling", (r) => foam(r) || cream(r)],
    ],
  },
  {
    kind: "glass",
    says: "glasses",
    family: "glasses",
    serves: 1,
    roles: [["filling", (r) => eggCream(r) || cream(r)]],
  },
];

/** A product of a kind from what the book has; a role for which there is nothing is left for the cook to fill. */
function begun(kind: string, cards: readonly RecipeCard[]): Product | undefined {
  const build = BUILD.find((b) => b.kind === kind);
  if (!build) return undefined;
  const parts = build.roles.flatMap(([role, finds], i) => {
    const found = cards.find((c) => finds(c.recipe));
    return found
      ? [
          {
            key: `${role}-${i + 1}`,
            of: found.id,
            role,
            amount: null,
            unit: "g" as const,
            per: "whole" as const,
            made: null,
          },
        ]
      : [];
  });
  if (parts.length === 0) return undefined;
  // Its sizes are the app's own until the cook sets them.
  return {
    name: `New: ${build.says}`,
    family: build.family,
    portions: Math.max(8, build.serves),
    serves: build.serves,
    assembly: { kind: build.kind } as Product["assembly"],
    parts,
    held: [],
    notes: "",
  };
}

export default function Recipes() {
  const { data, error, refetch } = useQuery(recipesQuery);
  const products = useQuery(productsQuery);
  const larder = useQuery(larderQuery);
  const schools = Object.fromEntries((larder.data?.schools ?? []).map((s) => [s.school, s.name]));
  const go = useNavigate();
  const [lacking, setLacking] = useState<string>();
  const queries = useQueryClient();
  const create = useMutation({
    mutationFn: (body: Recipe) => answer(http.POST("/api/recipes", { body })),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: ["recipes"] });
      go(`/recipes/${made.id}`);
    },
  });
  const build = useMutation({
    mutationFn: (body: Product) => answer(http.POST("/api/products", { body })),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: ["products"] });
      go(`/products/${made.id}`);
    },
  });
  if (error) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what="the recipes" />;
  return (
    <div className="mx-auto w-full max-w-[1500px] px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h1 className="text-l">Recipes</h1>
        <div className="flex flex-wrap gap-3">
          {BEGIN.map(([says, recipe]) => (
            <button
              key={says}
              type="button"
              className="press"
              disabled={create.isPending}
              onClick={() => create.mutate(recipe)}
            >
              {says}
            </button>
          ))}
          <select
            aria-label="New product"
            className="press min-h-11"
            value=""
            disabled={build.isPending}
            onChange={(e) => {
              const made = begun(e.target.value, data);
              setLacking(made ? undefined : e.target.value);
              if (made) build.mutate(made);
            }}
          >
            <option value="">New product…</option>
            {BUILD.map((b) => (
              <option key={b.kind} value={b.kind}>
                {b.says}
              </option>
            ))}
          </select>
        </div>
      </div>
      {lacking && (
        <p role="alert" className="mt-2 border-l-4 border-deep pl-3 text-s">
          Nothing in the book can be a part of it yet: make one first, with New meringue or New part.
        </p>
      )}
      <BringIn />
      {build.error && <Trouble error={build.error} />}
      {create.error && <Trouble error={create.error} />}
      {data.length === 0 && (
        <Empty title="No recipe yet">Start with “New meringue”: a plain French nest that you change to yours.</Empty>
      )}
      {PRODUCT_FAMILIES.map((family) => {
        const cards = (products.data ?? []).filter((c) => c.product.family === family);
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
      <h2 className="mt-8 text-m">Parts and plain meringues</h2>
      {FAMILIES.map(([family, title]) => {
        const cards = data.filter((c) => c.recipe.family === family);
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
          <Cut patches={card.section} label="cut through" className="max-h-16 w-full" />
        ) : (
          <Glass className="h-13 w-full" />
        )}
        <span className="min-w-0">
          <b className="line-clamp-2 text-m">{card.product.name}</b>
          <span className="block text-s text-quiet">{card.trouble ?? card.says}</span>
          {card.warnings > 0 && (
            <b className="text-s">
              {card.warnings} {card.warnings === 1 ? "thing" : "things"} to look at
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
            {card.product.parts.length === 1 ? "1 part" : `${card.product.parts.length} parts`}
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
          <Section parts={card.section} label={`${card.recipe.shape.kind}, cut`} className="max-h-13 w-full" />
        ) : (
          <Glass className="h-13 w-full" />
        )}
        <span className="min-w-0">
          <b className="line-clamp-2 text-m">{card.recipe.name}</b>
          <span className="block text-s text-quiet">{card.trouble ?? card.says}</span>
          <span className="block text-s">
            {schools[card.recipe.school] ?? card.recipe.school}
            {card.warnings > 0 && (
              <b>
                {" "}
                · {card.warnings} {card.warnings === 1 ? "thing" : "things"} to look at
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
