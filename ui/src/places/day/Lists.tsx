import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import type { DayView } from "../../api/client";
import { dayListQuery } from "../../api/queries";
import { overCups } from "../../kit/format";
import { fixed } from "../../kit/numbers";
import { Trouble, Waiting } from "../../kit/States";
import { words } from "../../words";
import { type DayActions, newMark } from "./useDay";

const grams = (g: number | null | undefined) =>
  g === null || g === undefined
    ? words.day.notKnown
    : g >= 1000
      ? `${fixed(g / 1000, 2)} kg`
      : g >= 20
        ? `${fixed(g)} g`
        : `${fixed(g, 1)} g`;

/** What the day takes, as a list to tick: to buy, in the units things are sold in, and to weigh, moment by moment. */
export function Lists({
  of,
  view,
  clockOf,
  now,
  actions,
}: {
  of: string;
  view: DayView;
  clockOf: (at: string) => string;
  now: number;
  actions: DayActions;
}) {
  const { data, error, refetch } = useQuery(dayListQuery(of));
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.day.theList} />;
  const { list, eggs } = data;
  const back = new Set(view.marks.map((m) => m.takes_back));
  const ticks = new Map(
    view.marks.filter((m) => m.kind === "ticked" && !back.has(m.id)).map((m) => [m.step, m] as const),
  );
  const tick = (key: string) => {
    const there = ticks.get(`buy/${key}`);
    actions.mark.mutate([
      there ? newMark("taken back", there.step, now, { takes_back: there.id }) : newMark("ticked", `buy/${key}`, now),
    ]);
  };
  const steps = new Map(view.plan?.threads.flatMap((t) => t.steps.map((s) => [s.step, s] as const)) ?? []);
  const weighed = (step: string) => {
    const done = view.marks.find((m) => m.step === step && m.kind === "done" && !back.has(m.id));
    actions.mark.mutate([
      done && steps.get(step)?.state === "done"
        ? newMark("taken back", step, now, { takes_back: done.id })
        : newMark("done", step, now),
    ]);
  };
  const done = (step: string) => steps.get(step)?.state === "done";
  const moment = (m: (typeof list.moments)[number]) => (
    <li key={m.step}>
      <Tick on={done(m.step)} press={() => weighed(m.step)}>
        <span className="flex flex-wrap gap-x-3">
          <b>{clockOf(m.at)}</b>
          <b className="min-w-0">{m.thread}</b>
          <span className="text-s text-quiet">
            {[m.order === m.thread ? "" : words.day.forWord(m.order), m.who.join(", ")]
              .filter((said) => said)
              .join(" · ")}
          </span>
        </span>
        <span className="block text-s">
          {m.names.map((name, i) => `${name} ${grams(m.lines[i]?.mass_g)}`).join(" · ")}
        </span>
      </Tick>
    </li>
  );
  const toBuy = [
    { key: "eggs", name: words.day.eggs, amount: String(eggs.cracked), how: [overCups(eggs.breakage)] },
    ...list.items.map((item) => ({
      key: item.key,
      name: item.name,
      amount: `${item.unknown && item.mass_g !== null ? `${words.day.over} ` : ""}${grams(item.mass_g)}`,
      how: [
        item.packs === null || item.packs === undefined ? item.pack : `${item.packs} × ${item.pack}`,
        item.over_g >= 20 ? `${grams(item.over_g)} ${words.day.leftOver}` : "",
        item.unknown && item.mass_g !== null ? words.day.andSomeOfItHasNo : "",
        item.uses.length > 1 ? item.uses.map((u) => `${u.thread} ${grams(u.mass_g)}`).join("; ") : "",
      ],
    })),
  ];
  return (
    <div className="mt-3 grid min-w-0 gap-8 lg:grid-cols-2">
      <section aria-labelledby="buy">
        <h2 id="buy" className="text-m">
          {words.day.toBuyAndFetch}
        </h2>
        <ul className="divide-y divide-hairline border-y border-hairline">
          {toBuy.map(({ key, name, amount, how }) => (
            <li key={key}>
              <Tick on={ticks.has(`buy/${key}`)} press={() => tick(key)}>
                <span className="flex flex-wrap justify-between gap-x-4">
                  <span className="min-w-0">{name}</span>
                  <b className="whitespace-nowrap">{amount}</b>
                </span>
                <span className="block text-s text-quiet">{how.filter((said) => said).join(", ")}</span>
              </Tick>
            </li>
          ))}
        </ul>
        {eggs.lacking.length > 0 && (
          <p className="mt-2 border-l-4 border-deep pl-3 text-s">
            {words.day.notInTheHouse} {eggs.lacking.join("; ")}.
          </p>
        )}
      </section>
      <section aria-labelledby="weigh">
        <h2 id="weigh" className="text-m">
          {words.day.toWeighInTurn}
        </h2>
        <ol className="divide-y divide-hairline border-y border-hairline">
          {list.moments.filter((m) => !done(m.step)).map(moment)}
        </ol>
        {list.moments.some((m) => done(m.step)) && (
          <details className="mt-2">
            <summary className="flex min-h-11 cursor-pointer items-center text-s underline">
              {words.day.weighedAlready(list.moments.filter((m) => done(m.step)).length)}
            </summary>
            <ol className="divide-y divide-hairline border-y border-hairline">
              {list.moments.filter((m) => done(m.step)).map(moment)}
            </ol>
          </details>
        )}
      </section>
    </div>
  );
}

function Tick({ on, press, children }: { on: boolean; press: () => void; children: ReactNode }) {
  return (
    <label className={`flex min-h-14 cursor-pointer items-center gap-3 py-2 ${on ? "text-quiet" : ""}`}>
      <input type="checkbox" className="size-6 min-h-6 shrink-0 accent-deep" checked={on} onChange={press} />
      <span className="min-w-0 grow">{children}</span>
    </label>
  );
}
