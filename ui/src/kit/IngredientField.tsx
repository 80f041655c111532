import { useState } from "react";
import type { Ingredient } from "../api/client";
import { words } from "../words";
import { Labelled } from "./Field";

/** What a cook calls it, to what the larder has: its name or any other it goes by, whole or as far as only one begins so. */
function found(items: readonly Ingredient[], typed: string): Ingredient | undefined {
  const low = typed.trim().toLowerCase();
  if (!low) return undefined;
  const names = (i: Ingredient) => [i.name, ...i.also].map((n) => n.toLowerCase());
  const whole = items.find((i) => names(i).includes(low));
  const begun = items.filter((i) => names(i).some((n) => n.startsWith(low)));
  return whole ?? (begun.length === 1 ? begun[0] : undefined);
}

/** An ingredient by its name, typed or picked from those there are. */
export function IngredientField({
  label,
  items,
  begun = "",
  put,
}: {
  label: string;
  items: readonly Ingredient[];
  /** What stands in it at first */
  begun?: string;
  put: (item: Ingredient | undefined, typed: string) => void;
}) {
  const [typed, setTyped] = useState(begun);
  const [left, setLeft] = useState(false);
  const item = found(items, typed);
  return (
    <Labelled
      label={label}
      error={left && typed.trim() && !item ? words.kit.notInTheLarder(typed.trim()) : undefined}
      hint={item && item.name.toLowerCase() !== typed.trim().toLowerCase() ? item.name : item?.does || undefined}
    >
      {(ids) => (
        <>
          <input
            {...ids}
            className="w-64 max-w-full"
            list={`${ids.id}-list`}
            maxLength={60}
            autoComplete="off"
            value={typed}
            onBlur={() => setLeft(true)}
            onChange={(e) => {
              setTyped(e.target.value);
              setLeft(false);
              put(found(items, e.target.value), e.target.value);
            }}
          />
          <datalist id={`${ids.id}-list`}>
            {items.map((i) => (
              <option key={i.key} value={i.name}>
                {i.also.join(", ")}
              </option>
            ))}
          </datalist>
        </>
      )}
    </Labelled>
  );
}
