import type { Product, Recipe, RecipeCard, RecipeLine } from "../../api/client";
import { words } from "../../words";

const BATH: NonNullable<Recipe["heat"]> = {
  target_c: 78,
  source: "bath",
  hob: null,
  pan: null,
  start_whites: "meet",
  peak: "soft peak",
  wall_pct: 4,
};
const line = (ingredient: string, mass_g: number, moment: RecipeLine["moment"] = "start"): RecipeLine => ({
  ingredient,
  mass_g,
  moment,
  written: "",
});
/** A plain French nest to begin from; every figure is the cook's to change. */
const NEW: Recipe = {
  name: words.recipes.newMeringue,
  family: "nests",
  school: "french",
  base: "white",
  portion_g: 90,
  heat: null,
  on: null,
  egg: { kind: "fresh", size: null, temp_c: 20, old: false },
  lines: [line("egg-white", 150), line("caster", 240, "soft")],
  pieces: null,
  size_follows: true,
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
  scale: { by: "factor", amount: 1 },
  loss_pct: 4.5,
  oven: null,
  mixer: null,
  tray: null,
  notes: "",
};

const PLAIN = { ...NEW, shape: null, programme: null, base: "yolk" as const };
/** What a new recipe can begin from. */
export const BEGIN: readonly (readonly [string, Recipe])[] = [
  [words.recipes.newMeringue, NEW],
  [
    words.recipes.newSabayon,
    {
      ...PLAIN,
      name: words.recipes.newSabayon,
      family: "sabayons",
      school: "sabayon",
      portion_g: 70,
      heat: { ...BATH, target_c: 78 },
      lines: [line("egg-yolk", 120), line("caster", 96, "bath"), line("fortified-wine", 130, "bath")],
    },
  ],
  [
    words.recipes.newPart,
    {
      ...PLAIN,
      name: words.recipes.newCream,
      family: "creams",
      school: "whipped cream",
      base: "other",
      on: "whipping-cream",
      portion_g: 40,
      lines: [line("whipping-cream", 500), line("icing", 30)],
    },
  ],
  [
    words.recipes.newCurd,
    {
      ...PLAIN,
      name: words.recipes.newCurd,
      family: "curds",
      school: "curd",
      portion_g: 30,
      heat: { ...BATH, target_c: 80 },
      lines: [
        line("egg-yolk", 100),
        line("caster", 120, "bath"),
        line("lemon-juice", 100, "bath"),
        line("butter", 100, "off heat"),
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
export const BUILD: readonly {
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
export function begun(kind: string, cards: readonly RecipeCard[]): Product | undefined {
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
