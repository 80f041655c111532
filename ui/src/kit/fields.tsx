import { useState } from "react";
import { words } from "../words";
import { useDegrees } from "./degrees";
import { Labelled, TypedField } from "./Field";
import { short } from "./numbers";

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
      shown={short(value, 6)}
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
          throw new Error(words.kit.writeFromTo(whole ? words.kit.aWholeNumber : "a number", least, most));
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
  const shown = (celsius: number) => (apart ? short(celsius * size, 1) : degrees.figure(celsius));
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

/** A line of text, there as it is typed. */
export function TextField({
  label,
  value,
  most,
  width,
  list,
  hint,
  put,
}: {
  label: string;
  hint?: string;
  value: string;
  most: number;
  width: string;
  list?: readonly string[];
  put: (value: string) => void;
}) {
  return (
    <Labelled label={label} hint={hint}>
      {(ids) => (
        <>
          <input
            {...ids}
            className={`${width} max-w-full`}
            maxLength={most}
            value={value}
            list={list && `${ids.id}-list`}
            onChange={(e) => put(e.target.value)}
          />
          {list && (
            <datalist id={`${ids.id}-list`}>
              {list.map((one) => (
                <option key={one} value={one} />
              ))}
            </datalist>
          )}
        </>
      )}
    </Labelled>
  );
}

const wholeIn = (typed: string) => (typed.trim() === "" ? Number.NaN : Number(typed));

/** A whole number, there as it is typed: what will not do is refused at the field by whoever keeps it, never changed here. */
export function WholeField({
  label,
  error,
  value,
  least,
  most,
  width,
  put,
}: {
  label: string;
  error?: string;
  value: number;
  least: number;
  most: number;
  width: string;
  put: (value: number) => void;
}) {
  const [typed, setTyped] = useState(String(value));
  const shown = Object.is(wholeIn(typed), value) ? typed : Number.isFinite(value) ? String(value) : "";
  return (
    <Labelled label={label} error={error}>
      {(ids) => (
        <input
          {...ids}
          type="number"
          min={least}
          max={most}
          className={width}
          value={shown}
          onChange={(e) => {
            setTyped(e.target.value);
            put(wholeIn(e.target.value));
          }}
        />
      )}
    </Labelled>
  );
}
