import type { Larder, Recipe } from "../../api/client";
import { NumberField } from "../../kit/fields";
import { words } from "../../words";
import type { Edit } from "./useDraft";

const MOST = 6;

/** The recipe as it is kept, where it cannot be worked out: each amount can be changed or left out, and the figures follow when they can. */
export function AsWritten({ recipe, larder, edit }: { recipe: Recipe; larder: Larder; edit: Edit }) {
  const name = (key: string) => larder.ingredients.find((i) => i.key === key)?.name ?? key;
  const lines = [
    ...recipe.sugars.map((s, i) => ({
      key: `sugars-${i}`,
      name: name(s.kind),
      ratio: s.ratio,
      put: (ratio: number) =>
        edit(`sugars-${i}`, (now) => ({
          sugars: now.sugars.map((x, k) => (k === i ? { ...x, ratio, written: "" } : x)),
        })),
      leave: () => edit(`sugars-${i}-out`, (now) => ({ sugars: now.sugars.filter((_, k) => k !== i) })),
    })),
    ...recipe.additions.map((a, i) => ({
      key: `additions-${i}`,
      name: name(a.ingredient),
      ratio: a.ratio,
      put: (ratio: number) =>
        edit(`additions-${i}`, (now) => ({
          additions: now.additions.map((x, k) => (k === i ? { ...x, ratio, written: "" } : x)),
        })),
      leave: () => edit(`additions-${i}-out`, (now) => ({ additions: now.additions.filter((_, k) => k !== i) })),
    })),
  ];
  return (
    <section aria-label={words.sheet.asWritten} className="max-w-2xl">
      <h2 className="border-b border-deep text-m">{words.sheet.asWritten}</h2>
      <p className="py-2 text-s text-quiet">{words.sheet.changeAnAmountOrLeaveSomething}</p>
      <ul>
        {lines.map((line) => (
          <li key={line.key} className="flex flex-wrap items-end gap-3 border-b border-hairline py-2">
            <NumberField
              label={words.sheet.gPerGOfEgg(line.name)}
              value={line.ratio ?? 0}
              least={0}
              most={MOST}
              put={line.put}
            />
            <button type="button" className="press" onClick={line.leave}>
              {words.sheet.leaveItOut}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
