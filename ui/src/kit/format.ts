import type { Figure, Sheet } from "../api/client";
import { words } from "../words";
import { dayOf, timeOf } from "./dates";
import { fixed, short } from "./numbers";

/** Minutes as a cook says them: 45 min, 1 h 40. */
export function minutes(value: number): string {
  const whole = Math.round(value);
  if (whole < 60) return value < 10 && whole !== value ? words.kit.min(fixed(value, 1)) : words.kit.min(whole);
  const rest = whole % 60;
  return `${Math.floor(whole / 60)} h${rest ? ` ${String(rest).padStart(2, "0")}` : ""}`;
}

/** Why eggs go over a cup: what one bowl risks of so many, and what cups cost. */
export function overCups(breakage: { eggs: number; lose_all_in_bowl: number; lost_over_cups: number }): string {
  if (breakage.eggs < 2) return words.kit.crackIntoACup;
  return words.kit.crackIntoACupInOne(
    fixed(100 * breakage.lose_all_in_bowl),
    breakage.eggs,
    fixed(breakage.lost_over_cups, 1),
  );
}

/** A number with as many digits as it deserves at an arm's length. */
function digits(value: number): string {
  const size = Math.abs(value);
  const places = size >= 100 || Number.isInteger(value) ? 0 : size >= 10 ? 1 : 2;
  return short(value, places);
}

/** Rounds as a scale or a clock would show it, by unit. */
function rounded(value: number, unit: string): string {
  if (unit === "g" && Math.abs(value) >= 20) return fixed(value);
  if (unit === "s") return fixed(value);
  if (unit === "h") return value >= 10 ? fixed(value) : digits(Number(value.toFixed(1)));
  if (unit === "%" || unit === "°C" || unit === "°F") return fixed(value);
  if (unit === "l" || unit === "mm") return digits(Number(value.toFixed(1)));
  if (unit === "g") return digits(Number(value.toFixed(1)));
  return digits(value);
}

/** A figure's number and unit apart, so that the number can stand large and the unit small. */
export function parts(figure: Figure): { number: string; unit: string } {
  if (figure.text) return { number: figure.text, unit: "" };
  if (figure.value === null || figure.value === undefined) return { number: "not known", unit: "" };
  if (figure.unit === "min" && figure.value >= 60) return { number: minutes(figure.value), unit: "" };
  if (figure.unit === "min")
    return { number: digits(Number(figure.value.toFixed(figure.value < 10 ? 1 : 0))), unit: "min" };
  return { number: rounded(figure.value, figure.unit), unit: figure.unit };
}

export function said(figure: Figure): string {
  const { number, unit } = parts(figure);
  return unit ? `${number} ${unit}` : number;
}

/** The honest spread of a figure, or nothing where it has none. */
export function band(figure: Figure): string | null {
  if (figure.low === null || figure.low === undefined || figure.high === null || figure.high === undefined) return null;
  const low = said({ ...figure, text: null, value: figure.low });
  const high = said({ ...figure, text: null, value: figure.high });
  return low === high ? null : `${low} to ${high}`;
}

export const day = (iso: string) => dayOf(iso);
export const stamp = (iso: string) => `${day(iso)}, ${time(iso)}`;
export const time = (iso: string | Date) => timeOf(iso);

/** Round moments on an axis of seconds that ends at `end`, at most `most` of them. */
export function moments(end: number, most = 6): number[] {
  const step = [10, 30, 60, 120, 300, 600, 1800, 3600, 7200].find((s) => end / s <= most) ?? 14_400;
  return Array.from({ length: Math.floor(end / step) + 1 }, (_, i) => i * step);
}

/** Seconds left as 12:05, or 1:02:05. */
export function clock(seconds: number): string {
  const left = Math.max(0, Math.round(seconds));
  const [h, m, s] = [Math.floor(left / 3600), Math.floor((left % 3600) / 60), left % 60];
  return `${h ? `${h}:${String(m).padStart(2, "0")}` : m}:${String(s).padStart(2, "0")}`;
}

/** What a recipe's amounts go by, as a cook says it: the white, the yolk, the cream. */
export const restsOn = (sheet: Sheet): string =>
  sheet.recipe.base === "other" ? (sheet.weigh.lines[0]?.name.toLowerCase() ?? "") : sheet.recipe.base;

/** Grams as a kitchen's scale shows them; nothing where they are not known. */
export const shownMass = (grams: number | null | undefined) =>
  grams == null ? "" : `${short(grams, grams >= 20 ? 0 : grams >= 2 ? 1 : 2)} g`;
