/** Food colours, as the style sheet has them: used where food is drawn and nowhere else. */
export const FOOD = {
  /** the edge of food, dark in both lights */
  line: "var(--food-line)",
  meringue: "var(--food-meringue)",
  cream: "var(--food-cream)",
  curd: "var(--food-curd)",
  sabayon: "var(--food-sabayon)",
  syrup: "var(--food-syrup)",
  sponge: "var(--food-sponge)",
  pastry: "var(--food-pastry)",
  berry: "var(--food-red-berry)",
  shell: "var(--food-shell)",
  brownShell: "var(--food-shell-brown)",
  ice: "var(--food-ice)",
  nuts: "var(--food-brown)",
} as const;

/** Water in a crumb: dry meringue to wet, by water fraction 0–0.35. */
export function waterColour(fraction: number): string {
  const wet = Math.round(100 * Math.min(Math.max(fraction / 0.33, 0), 1));
  return `color-mix(in srgb, var(--food-meringue), var(--food-wet) ${wet}%)`;
}

/** What the oven does to a foam, by word. */
export const TOAST: Record<string, string> = {
  white: "var(--food-white)",
  ivory: "var(--food-ivory)",
  straw: "var(--food-straw)",
  gold: "var(--food-gold)",
  brown: "var(--food-brown)",
  scorched: "var(--food-scorched)",
};
