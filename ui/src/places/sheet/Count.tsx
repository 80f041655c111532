import { TypedField } from "../../kit/Field";
import { words } from "../../words";
import type { StationProps } from "./station";

type Props = Pick<StationProps, "sheet" | "recipe" | "edit" | "refused">;

/** How many pieces or portions: as many as was typed, or as the amounts fill. */
export function Count({ label, sheet, recipe, edit, refused }: Props & { label: string }) {
  const typed = recipe.pieces != null;
  return (
    <div className="flex flex-col items-start">
      <TypedField
        label={recipe.scale.by === "factor" && recipe.scale.amount === 1 ? label : words.sheet.asWrittenOf(label)}
        shown={String(recipe.pieces ?? sheet.pieces)}
        width="w-20"
        error={refused?.at("pieces")}
        hint={typed ? undefined : words.sheet.followsFromTheAmounts}
        read={(text) => {
          const pieces = Number(text);
          if (!Number.isInteger(pieces) || pieces < 1) throw new Error(words.sheet.writeAWholeNumber);
          edit("pieces", { pieces });
        }}
      />
      {typed && (
        <button type="button" className="min-h-11 text-s underline" onClick={() => edit("pieces", { pieces: null })}>
          {words.sheet.letItFollow}
        </button>
      )}
    </div>
  );
}

/** Whether the size of a piece follows, where their number was typed; a press lets it. */
export function Follows({ recipe, edit }: Pick<StationProps, "recipe" | "edit">) {
  if (recipe.pieces == null) return null;
  return recipe.size_follows ? (
    <span className="self-center text-s text-quiet">{words.sheet.sizeFollows}</span>
  ) : (
    <button
      type="button"
      className="min-h-11 self-end text-s underline"
      onClick={() => edit("size", { size_follows: true })}
    >
      {words.sheet.letTheSizeFollow}
    </button>
  );
}
