import { useQuery } from "@tanstack/react-query";
import { kitchenQuery } from "../api/queries";
import { fixed, short } from "./numbers";

/** How this kitchen says temperatures: inside the app all are in °C, and this is the one place that shows and reads them. */
export interface Degrees {
  sign: "°C" | "°F";
  /** The figure alone; °F to 5 for an oven, else to 1, °C to so many digits. */
  figure: (celsius: number, how?: { oven?: boolean; digits?: number }) => string;
  /** The figure with its unit. */
  show: (celsius: number, how?: { oven?: boolean; digits?: number }) => string;
  /** A difference of temperatures. */
  apart: (kelvin: number, digits?: number) => string;
  /** What was typed, with its unit or in the kitchen's own, in °C; undefined where it is no temperature. */
  read: (typed: string) => number | undefined;
  /** A figure of any unit: what is told in °C comes in the kitchen's. */
  of: (value: number, unit: string, digits?: number) => { number: string; unit: string };
}

const TYPED = /^([−-]?\d+(?:[.,]\d+)?)\s*°?\s*([cf])?$/i;
const toF = (celsius: number) => celsius * 1.8 + 32;
const toC = (fahrenheit: number) => (fahrenheit - 32) / 1.8;

function of(unit: "C" | "F"): Degrees {
  const f = unit === "F";
  const sign = f ? "°F" : "°C";
  const figure: Degrees["figure"] = (celsius, { oven = false, digits = 1 } = {}) => {
    if (!f) return short(celsius, digits);
    const step = oven ? 5 : 1;
    return String(step * Math.round(toF(celsius) / step));
  };
  return {
    sign,
    figure,
    show: (celsius, how) => `${figure(celsius, how)} ${sign}`,
    apart: (kelvin, digits = 1) => (f ? `${fixed(1.8 * kelvin)} °F` : `${fixed(kelvin, digits)} °C`),
    read: (typed) => {
      const found = typed.trim().match(TYPED);
      if (!found) return undefined;
      const value = Number((found[1] as string).replace(",", ".").replace("−", "-"));
      return (found[2]?.toUpperCase() ?? unit) === "F" ? toC(value) : value;
    },
    of: (value, unit, digits = 0) =>
      unit === "°C" && f ? { number: figure(value), unit: sign } : { number: fixed(value, digits), unit },
  };
}
const IN = { C: of("C"), F: of("F") };

/** The kitchen's own way with temperatures. */
export function useDegrees(): Degrees {
  const { data } = useQuery({ ...kitchenQuery, staleTime: Number.POSITIVE_INFINITY });
  return IN[data?.kitchen.habits.bare_degrees ?? "C"];
}
