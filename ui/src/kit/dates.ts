import { writtenIn } from "./locale";

/** Days and times as this kitchen writes them: by its language, and by its paper where English differs. Dates are 2026-06-20, times 14:05. */

const formats = new Map<string, Intl.DateTimeFormat>();
function written(at: Date, how: Intl.DateTimeFormatOptions): string {
  const key = `${writtenIn()} ${JSON.stringify(how)}`;
  const format = formats.get(key) ?? new Intl.DateTimeFormat(writtenIn(), how);
  formats.set(key, format);
  return format.format(at);
}

/** A date by itself is a day wherever it is read. */
const noon = (date: string) => new Date(`${date}T12:00:00Z`);
const DAY_TIME = { hour: "numeric", minute: "2-digit", hourCycle: "h23" } as const;

export const longDay = (date: string) =>
  written(noon(date), { weekday: "long", day: "numeric", month: "long", timeZone: "UTC" });
export const shortDay = (date: string) =>
  written(noon(date), { weekday: "short", day: "numeric", month: "short", timeZone: "UTC" });
/** As it stands in a field. */
export const fieldDay = (date: string) =>
  written(noon(date), { weekday: "short", day: "numeric", month: "short", year: "numeric", timeZone: "UTC" });
export const dayOf = (at: string | Date) => written(new Date(at), { weekday: "short", day: "numeric", month: "short" });
export const fullDayOf = (at: string | Date) =>
  written(new Date(at), {
    weekday: "short",
    day: "numeric",
    month: "long",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
  });
export const timeOf = (at: string | Date | number, zone?: string) => {
  try {
    return written(new Date(at), zone ? { ...DAY_TIME, timeZone: zone } : DAY_TIME);
  } catch {
    return written(new Date(at), DAY_TIME); // a zone this browser has not heard of
  }
};
export const monthOf = (at: Date) => written(at, { month: "long", year: "numeric" });
export const weekdayOf = (at: Date) => written(at, { weekday: "short" });
export const isoDay = (at: Date | number): string => {
  const day = new Date(at);
  return `${day.getFullYear()}-${String(day.getMonth() + 1).padStart(2, "0")}-${String(day.getDate()).padStart(2, "0")}`;
};
/** The day of the week that a week begins with here: 0 Sunday, 1 Monday. */
export const weekBegins = (): 0 | 1 => (writtenIn() === "en-US" ? 0 : 1);

const monthFirst = () =>
  new Intl.DateTimeFormat(writtenIn(), { day: "numeric", month: "numeric" }).formatToParts(new Date())[0]?.type ===
  "month";

function monthNamed(typed: string): number | undefined {
  const start = typed.toLowerCase().slice(0, 3);
  for (const language of [writtenIn(), "en-GB"])
    for (let month = 0; month < 12; month += 1) {
      const name = new Intl.DateTimeFormat(language, { month: "long", timeZone: "UTC" });
      if (
        name
          .format(new Date(Date.UTC(2026, month, 15)))
          .toLowerCase()
          .startsWith(start)
      )
        return month + 1;
    }
  return undefined;
}

const valid = (y: number, m: number, d: number): string | undefined => {
  const at = new Date(Date.UTC(y, m - 1, d));
  const real = y > 1900 && y < 2200 && at.getUTCMonth() === m - 1 && at.getUTCDate() === d;
  return real ? at.toISOString().slice(0, 10) : undefined;
};

/** The date that is written: 2026-06-20, 20/6 as this kitchen orders it, 20 June; without a year the one nearest to a day. */
export function readDay(typed: string, near: string): string | undefined {
  const text = typed.trim().replace(/^[^\d\s]+[,.]?\s+(?=\d)/, "");
  const iso = text.match(/^(\d{4})-(\d{1,2})-(\d{1,2})$/);
  if (iso) return valid(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const figures = text.match(/^(\d{1,2})[./-](\d{1,2})(?:[./-](\d{2}|\d{4}))?\.?$/);
  const named = text.match(/^(\d{1,2})(?:st|nd|rd|th)?\s+(\p{L}{3,})\.?,?(?:\s+(\d{4}))?$/u);
  const american = text.match(/^(\p{L}{3,})\.?\s+(\d{1,2}),?(?:\s+(\d{4}))?$/u);
  let parts: [number | undefined, number, string | undefined] | undefined;
  if (figures) {
    const [one, two] = [Number(figures[1]), Number(figures[2])];
    parts = monthFirst() ? [one, two, figures[3]] : [two, one, figures[3]];
  } else if (named) parts = [monthNamed(named[2] as string), Number(named[1]), named[3]];
  else if (american) parts = [monthNamed(american[1] as string), Number(american[2]), american[3]];
  const [month, day, year] = parts ?? [];
  if (month === undefined || day === undefined) return undefined;
  if (year) return valid(year.length === 2 ? 2000 + Number(year) : Number(year), month, day);
  const here = Number(near.slice(0, 4));
  const away = (date: string) => Math.abs(Date.parse(date) - Date.parse(near));
  return [here - 1, here, here + 1].flatMap((y) => valid(y, month, day) ?? []).sort((a, b) => away(a) - away(b))[0];
}

/** The time that is written, 14:05, 9.30 or 7. */
export function readTime(typed: string): string | undefined {
  const found = typed.trim().match(/^(\d{1,2})(?:[:.h](\d{2}))?\s?(am|pm)?$/i);
  if (!found) return undefined;
  const [half, minute] = [found[3]?.toLowerCase(), Number(found[2] ?? 0)];
  const hour = half ? (Number(found[1]) % 12) + (half === "pm" ? 12 : 0) : Number(found[1]);
  return hour < 24 && minute < 60 ? `${String(hour).padStart(2, "0")}:${String(minute).padStart(2, "0")}` : undefined;
}
