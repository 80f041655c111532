import { edgeOf, FOOD, TOAST, type Toast } from "./colours";

/** A foam's shading from ridge to foot, browned from above as far as the oven took it. */
export function Browned({ id, toast, colour = FOOD.meringue }: { id: string; toast?: Toast | null; colour?: string }) {
  const ridge = toast && toast !== "white" ? TOAST[toast] : colour;
  return (
    <linearGradient id={id} x1="0" y1="0" x2="0" y2="1">
      <stop offset="0" stopColor={ridge} />
      <stop offset="0.45" stopColor={colour} />
      <stop offset="1" stopColor={`color-mix(in srgb, ${colour}, ${FOOD.shade} 60%)`} />
    </linearGradient>
  );
}

/** The edge of a foam that the oven took so far. */
export const edge = (toast?: Toast | null): string =>
  toast && toast !== "white" && toast !== "ivory" ? edgeOf(TOAST[toast]) : FOOD.line;
