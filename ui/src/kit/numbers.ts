import { writtenIn } from "./locale";

/** Numbers as this kitchen writes them: with its own decimal sign, thousands unmarked as on a scale. What is typed is read with either sign. */

const formats = new Map<string, Intl.NumberFormat>();
function written(value: number, least: number, most: number): string {
  const key = `${writtenIn()} ${least} ${most}`;
  let format = formats.get(key);
  if (!format) {
    format = new Intl.NumberFormat(writtenIn(), {
      minimumFractionDigits: least,
      maximumFractionDigits: most,
      useGrouping: false,
    });
    formats.set(key, format);
  }
  return format.format(value);
}

/** A number with just so many places; nothing where there is none. */
export const fixed = (value: number | null | undefined, places = 0): string =>
  value === null || value === undefined ? "" : written(value, places, places);

/** Grams as a scale shows them, without the unit. */
export const weight = (grams: number): string => fixed(grams, grams >= 20 ? 0 : 1);

/** A number with at most so many places, and no noughts at its end. */
export const short = (value: number, most = 3): string => written(value, 0, most);
