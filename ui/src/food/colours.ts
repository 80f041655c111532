import type { Patch } from "../api/client";

type Material = Patch["material"];
type Colour = NonNullable<Patch["colour"]>;
export type Toast = NonNullable<Patch["toast"]>;

const of = (name: string) => `var(--food-${name})`;

/** Food colours, as the style sheet has them: used where food is drawn and nowhere else. */
export const FOOD = {
  /** the edge of a foam, in both lights */
  line: of("edge"),
  /** what is written on food, in both lights */
  ink: of("ink"),
  meringue: of("meringue"),
  shade: of("shade"),
  cream: of("cream"),
  curd: of("curd"),
  syrup: of("syrup"),
  shell: of("shell"),
  brownShell: of("shell-brown"),
  yolk: of("yolk"),
  sugar: of("sugar"),
} as const;

/** What the larder calls a colour, as it is drawn. */
const SHOWN: Record<Colour, string> = {
  "": of("meringue"),
  sponge: of("sponge"),
  "orange fruit": of("orange-fruit"),
  butter: of("curd"),
  clear: of("ice"),
  "green fruit": of("green-fruit"),
  "dark berry": of("dark-berry"),
  chocolate: of("chocolate"),
  nut: of("nut"),
  pastry: of("pastry"),
  syrup: of("syrup"),
  "red berry": of("red-berry"),
  sugar: of("sugar"),
  foam: of("meringue"),
  cream: of("cream"),
  yolk: of("yolk"),
  sabayon: of("sabayon"),
};

/** Each material by itself, and how much of it shows through what is stirred in. */
const PLAIN: Record<Material, readonly [colour: string, covers: number]> = {
  foam: [of("meringue"), 45],
  shell: [of("meringue"), 45],
  sheet: [of("ivory"), 45],
  cream: [of("cream"), 55],
  curd: [of("curd"), 35],
  fruit: [of("red-berry"), 0],
  sauce: [of("syrup"), 0],
  pastry: [of("pastry"), 70],
  sponge: [of("sponge"), 50],
  ice: [of("ice"), 55],
  bits: [of("nut"), 0],
  vessel: ["none", 100],
};

/** The colour of a material with what shows in it. */
export function foodColour(material: Material, colour: Colour = ""): string {
  const [plain, covers] = PLAIN[material];
  if (!colour || material === "vessel") return plain;
  if (colour === "sabayon") return SHOWN.sabayon;
  if (colour === "chocolate" && covers > 0) return `color-mix(in srgb, ${of("cocoa")}, ${plain} ${covers}%)`;
  return covers === 0 ? SHOWN[colour] : `color-mix(in srgb, ${SHOWN[colour]}, ${plain} ${covers}%)`;
}

export const shownColour = (colour: Colour): string => SHOWN[colour];

/** The edge of a food of this colour: the same, darker. */
export const edgeOf = (colour: string): string => `color-mix(in srgb, ${colour}, var(--food-scorched) 38%)`;

/** Water in a crumb: dry meringue to wet, by water fraction 0–0.35. */
export function waterColour(fraction: number): string {
  const wet = Math.round(100 * Math.min(Math.max(fraction / 0.33, 0), 1));
  return `color-mix(in srgb, ${FOOD.meringue}, ${of("wet")} ${wet}%)`;
}

/** What the oven does to a foam, by word. */
export const TOAST: Record<Toast, string> = {
  white: of("white"),
  ivory: of("ivory"),
  straw: of("straw"),
  gold: of("gold"),
  brown: of("brown"),
  scorched: of("scorched"),
};

/** How hot an oven is, in the colours things take in it: low enough to dry, to bake pale, to brown. */
export const ovenColour = (celsius: number): string => of(celsius <= 130 ? "ivory" : celsius <= 178 ? "straw" : "gold");
