import { words } from "../words";
import { useDegrees } from "./degrees";
import { TypedField } from "./Field";

export const fresh = (what: string) => `${what}-${crypto.randomUUID().slice(0, 8)}`;

export function named(typed: string): string {
  if (!typed.trim()) throw new Error(words.kit.itNeedsANameWriteOne);
  return typed.trim();
}

export function NumberField({
  label,
  value,
  least,
  most,
  whole = false,
  put,
}: {
  label: string;
  value: number;
  least: number;
  most: number;
  whole?: boolean;
  put: (value: number) => Promise<void> | void;
}) {
  return (
    <TypedField
      label={label}
      shown={String(value)}
      width="w-full"
      read={(typed) => {
        const next = Number(typed.replace(",", "."));
        if (
          !typed.trim() ||
          !Number.isFinite(next) ||
          next < least ||
          next > most ||
          (whole && !Number.isInteger(next))
        )
          throw new Error(words.kit.writeFromTo(whole ? "a whole number" : "a number", least, most));
        return put(next);
      }}
    />
  );
}

/** A temperature, or with `apart` a difference of two, shown and typed in the kitchen's own degrees. */
export function DegreesField({
  label,
  value,
  least,
  most,
  apart = false,
  put,
}: {
  label: string;
  value: number | null | undefined;
  least: number;
  most: number;
  apart?: boolean;
  put: (celsius: number) => Promise<void> | void;
}) {
  const degrees = useDegrees();
  const size = degrees.sign === "°F" ? 1.8 : 1;
  const shown = (celsius: number) => (apart ? String(Number((celsius * size).toFixed(1))) : degrees.figure(celsius));
  return (
    <TypedField
      label={label.replace("°", degrees.sign)}
      shown={value === null || value === undefined ? "" : shown(value)}
      width="w-full"
      read={(typed) => {
        const number = Number(typed.replace(",", "."));
        const next = apart
          ? typed.trim() && Number.isFinite(number)
            ? number / size
            : undefined
          : degrees.read(typed);
        if (next === undefined || next < least - 1e-6 || next > most + 1e-6)
          throw new Error(words.kit.writeANumberFromTo(shown(least), shown(most)));
        return put(next);
      }}
    />
  );
}
