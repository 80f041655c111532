import { useState } from "react";
import { words } from "../../words";
import { cooks } from "./hands";
import { threadOf } from "./layout";
import type { Told } from "./Now";

const FIRST = 8;

/** One cook's own list: what is next for them, in turn. On a phone it stands in place of the drawing. */
export function MyList({ plan, clockOf, now, choose }: Told & { choose: (step: string) => void }) {
  const all = cooks(plan, now).filter((m) => m.steps.length > 0);
  const [who, setWho] = useState(() => localStorage.getItem("gullpeak-cook") ?? "");
  const [whole, setWhole] = useState(false);
  const mine = all.find((m) => m.who === who) ?? all[0];
  if (!mine) return null;
  const pick = (name: string) => {
    setWho(name);
    localStorage.setItem("gullpeak-cook", name);
  };
  const steps = whole ? mine.steps : mine.steps.slice(0, FIRST);
  return (
    <section aria-label={words.day.nextFor(mine.who)} className="mt-3">
      <fieldset className="flex flex-wrap gap-2">
        <legend className="mb-1 text-s text-quiet">{words.day.nextForWhom}</legend>
        {all.map((m) => (
          <button
            key={m.who}
            type="button"
            className="press min-h-11"
            aria-pressed={m.who === mine.who}
            onClick={() => pick(m.who)}
          >
            {m.who}
          </button>
        ))}
      </fieldset>
      <ol className="mt-2 divide-y divide-hairline border-y border-hairline">
        {steps.map((s) => (
          <li key={s.step}>
            <button
              type="button"
              className="grid min-h-14 w-full grid-cols-[4.5rem_1fr] items-start gap-2 py-2 text-left"
              onClick={() => choose(s.step)}
            >
              <b className="text-m">{clockOf(s.start)}</b>
              <span className="min-w-0 leading-tight">
                <b className="text-m leading-tight">{s.title}</b>
                <span className="block text-s text-quiet">
                  {threadOf(plan, s.step)?.name}
                  {s.who.length > 1 && `, ${words.day.with(s.who.filter((w) => w !== mine.who).join(", "))}`}
                  {`, ${words.day.until(clockOf(s.end))}`}
                </span>
              </span>
            </button>
          </li>
        ))}
      </ol>
      {mine.steps.length > steps.length && (
        <button type="button" className="press mt-2" onClick={() => setWhole(true)}>
          {words.day.allOf(mine.steps.length)}
        </button>
      )}
    </section>
  );
}
