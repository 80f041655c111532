import { TypedField } from "./Field";

export const fresh = (what: string) => `${what}-${crypto.randomUUID().slice(0, 8)}`;

export function named(typed: string): string {
  if (!typed.trim()) throw new Error("It needs a name: write one");
  return typed.trim();
}

export function NumberField({ label, value, least, most, whole = false, put }: { label: string; value: number; least: number; most: number; whole?: boolean; put: (value: number) => void }) {
  return (
    <TypedField
      label={label}
      shown={String(value)}
      width="w-full"
      read={(typed) => {
        const next = Number(typed.replace(",", "."));
        if (!typed.trim() || !Number.isFinite(next) || next < least || next > most || (whole && !Number.isInteger(next))) throw new Error(`Write ${whole ? "a whole number" : "a number"} from ${least} to ${most}`);
        put(next);
      }}
    />
  );
}
