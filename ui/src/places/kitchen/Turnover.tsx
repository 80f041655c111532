import { fresh } from "../../kit/fields";
import { words } from "../../words";

interface Thing {
  key: string;
  name: string;
}

/** The next name that none of them has: Tray, Tray 2, Tray 3. */
function nextName(name: string, all: readonly Thing[]): string {
  const stem = name.replace(/ \d+$/, "");
  for (let n = 2; ; n++) if (!all.some((one) => one.name === `${stem} ${n}`)) return `${stem} ${n}`;
}

/** One of a kitchen's things once more, or sent away; the last of its kind stays. */
export function Turnover<T extends Thing>({
  all,
  at,
  prefix,
  least = 1,
  put,
}: {
  all: readonly T[];
  at: number;
  prefix: string;
  least?: number;
  put: (all: T[]) => void;
}) {
  const one = all[at] as T;
  return (
    <span className="-mt-1 flex justify-end gap-2">
      <button
        type="button"
        className="min-h-11 px-2 text-s underline disabled:no-underline disabled:opacity-50"
        aria-label={words.kitchen.copyOf(one.name)}
        onClick={() =>
          put([
            ...all.slice(0, at + 1),
            { ...one, key: fresh(prefix), name: nextName(one.name, all) },
            ...all.slice(at + 1),
          ])
        }
      >
        {words.kitchen.copy}
      </button>
      <button
        type="button"
        className="min-h-11 px-2 text-s underline disabled:no-underline disabled:opacity-50"
        aria-label={words.kitchen.retireIt(one.name)}
        disabled={all.length <= least}
        onClick={() => put(all.filter((_, i) => i !== at))}
      >
        {words.kitchen.retire}
      </button>
    </span>
  );
}
