import { words } from "../words";
/** Water in a crumb: dry white to wet sea-blue, by water fraction 0–0.35. */
export function waterColour(fraction: number): string {
  const t = Math.min(Math.max(fraction / 0.33, 0), 1);
  const mix = (from: number, to: number) => Math.round(from + (to - from) * t);
  return words.kit.rgb(mix(255, 47), mix(255, 124), mix(255, 147));
}

/** Oven colour only: a toast scale by word. */
export const TOAST: Record<string, string> = {
  white: "#fffdf6",
  ivory: "#f6ebcf",
  straw: "#ecd49a",
  gold: "#d9a441",
  brown: "#8f5a24",
  scorched: "#3d2412",
};
