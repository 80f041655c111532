import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Day, type DayRecord, type DayView, type Order, Refused, type Shift } from "../../api/client";
import { kitchenQuery, productsQuery, recipesQuery } from "../../api/queries";
import { Labelled } from "../../kit/Field";
import { Meanwhile } from "../../kit/useSave";
import { words } from "../../words";
import type { DayActions } from "./useDay";

const fresh = (what: string) => `${what}-${crypto.randomUUID().slice(0, 8)}`;
const cut = (at: string) => at.slice(0, 16);

/** What is ordered by when, who is there from when to when, what is out of use: the day as it is written down. */
export function Orders({
  record,
  trouble,
  actions,
  planned,
}: {
  record: DayRecord;
  trouble: DayView["trouble"];
  actions: DayActions;
  planned: () => void;
}) {
  const [day, setDay] = useState<Day>(record.day);
  const [version, setVersion] = useState(record.version);
  const { data: products } = useQuery(productsQuery);
  const { data: recipes } = useQuery(recipesQuery);
  const { data: kitchen } = useQuery(kitchenQuery);
  const book = [
    ...(products ?? []).map((p) => ({
      id: p.id,
      name: p.product.name,
      portions: p.product.portions,
      kind: "products",
    })),
    ...(recipes ?? []).map((r) => ({ id: r.id, name: r.recipe.name, portions: 12, kind: "recipes" })),
  ];
  const refused = actions.put.error instanceof Refused ? actions.put.error : undefined;
  const theirs = refused?.problem.status === 412 ? (refused.problem.current as unknown as DayRecord) : undefined;
  const at = (field: string) =>
    refused?.errors.find((e) => e.field === field)?.says ?? (trouble?.field === field ? trouble.says : undefined);
  const order = (i: number, change: Partial<Order>) =>
    setDay({ ...day, orders: day.orders.map((o, n) => (n === i ? { ...o, ...change } : o)) });
  const shift = (i: number, change: Partial<Shift>) =>
    setDay({ ...day, shifts: day.shifts.map((s, n) => (n === i ? { ...s, ...change } : s)) });
  const cooks = kitchen?.kitchen.cooks ?? [];
  const save = (plan: boolean) =>
    actions.put.mutate(
      { day, version },
      {
        onSuccess: () => {
          if (!plan) return;
          planned();
          actions.plan.mutate({ seconds: 10, near: false });
        },
      },
    );
  return (
    <div className="mt-3 grid min-w-0 gap-8 xl:grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)]">
      <section aria-labelledby="ordered" className="min-w-0">
        <h2 id="ordered" className="text-m">
          {words.day.whatIsOrdered}
        </h2>
        <ul className="divide-y divide-hairline border-y border-hairline">
          {day.orders.map((o, i) => (
            <li key={o.key} className="flex flex-wrap items-end gap-3 py-2">
              <Labelled label={words.day.howMany} error={at(`orders.${i}.portions`)}>
                {(ids) => (
                  <input
                    {...ids}
                    type="number"
                    min={1}
                    max={2000}
                    className="w-20"
                    value={o.portions}
                    onChange={(e) => order(i, { portions: Math.max(0, Math.round(Number(e.target.value))) })}
                  />
                )}
              </Labelled>
              <Labelled label={words.day.ofWord} error={at(`orders.${i}.of`)}>
                {(ids) => (
                  <select
                    {...ids}
                    className="w-72 max-w-full"
                    value={o.of}
                    onChange={(e) => order(i, { of: e.target.value })}
                  >
                    {!book.some((b) => b.id === o.of) && <option value={o.of}>{o.of}</option>}
                    {["products", "recipes"].map((kind) => (
                      <optgroup key={kind} label={kind === "products" ? "Products" : "Recipes"}>
                        {book
                          .filter((b) => b.kind === kind)
                          .map((b) => (
                            <option key={b.id} value={b.id}>
                              {b.name}
                            </option>
                          ))}
                      </optgroup>
                    ))}
                  </select>
                )}
              </Labelled>
              <Labelled label={words.day.ready} error={at(`orders.${i}.ready`)}>
                {(ids) => (
                  <input
                    {...ids}
                    type="datetime-local"
                    className="w-60"
                    value={cut(o.ready)}
                    onChange={(e) => e.target.value && order(i, { ready: `${e.target.value}:00` })}
                  />
                )}
              </Labelled>
              <Labelled label={words.day.forWord2}>
                {(ids) => (
                  <input
                    {...ids}
                    className="w-40"
                    maxLength={120}
                    value={o.for_whom}
                    onChange={(e) => order(i, { for_whom: e.target.value })}
                  />
                )}
              </Labelled>
              <Labelled label={words.day.batches} error={at(`orders.${i}.loads`)}>
                {(ids) => (
                  <input
                    {...ids}
                    type="number"
                    min={1}
                    max={8}
                    className="w-16"
                    value={o.loads}
                    onChange={(e) => order(i, { loads: Math.max(1, Math.min(8, Math.round(Number(e.target.value)))) })}
                  />
                )}
              </Labelled>
              <Labelled label={words.day.oven} error={at(`orders.${i}.oven`)}>
                {(ids) => (
                  <select
                    {...ids}
                    className="w-40"
                    value={o.oven ?? ""}
                    onChange={(e) => order(i, { oven: e.target.value || null })}
                  >
                    <option value="">{words.day.asItsRecipeSays}</option>
                    {kitchen?.kitchen.ovens.map((v) => (
                      <option key={v.key} value={v.key}>
                        {v.name}
                      </option>
                    ))}
                  </select>
                )}
              </Labelled>
              <button
                type="button"
                className="min-h-11 text-s underline"
                onClick={() => setDay({ ...day, orders: day.orders.filter((_, n) => n !== i) })}
              >
                {words.day.remove}
              </button>
            </li>
          ))}
        </ul>
        <button
          type="button"
          className="press mt-2"
          disabled={!book.length}
          onClick={() => {
            const first = book[0];
            if (first)
              setDay({
                ...day,
                orders: [
                  ...day.orders,
                  {
                    key: fresh("order"),
                    of: first.id,
                    portions: first.portions,
                    ready: day.orders.at(-1)?.ready ?? `${day.date}T12:00:00`,
                    for_whom: "",
                    loads: 1,
                    oven: null,
                  },
                ],
              });
          }}
        >
          {words.day.addAnOrder}
        </button>
        {at("orders") && (
          <p role="alert" className="text-s text-spot">
            {at("orders")}
          </p>
        )}
      </section>
      <section aria-labelledby="hands" className="min-w-0">
        <h2 id="hands" className="text-m">
          {words.day.whoIsThere}
        </h2>
        <ul className="divide-y divide-hairline border-y border-hairline">
          {day.shifts.map((s, i) => (
            <li key={s.key} className="flex flex-wrap items-end gap-3 py-2">
              <Labelled label={words.day.who}>
                {(ids) => (
                  <>
                    <input
                      {...ids}
                      className="w-44"
                      list="cooks"
                      maxLength={120}
                      value={s.who}
                      onChange={(e) => shift(i, { who: e.target.value })}
                    />
                    <datalist id="cooks">
                      {cooks.map((c) => (
                        <option key={c} value={c} />
                      ))}
                    </datalist>
                  </>
                )}
              </Labelled>
              <Labelled label={words.day.from} error={at(`shifts.${i}.start`)}>
                {(ids) => (
                  <input
                    {...ids}
                    type="datetime-local"
                    className="w-60"
                    value={cut(s.start)}
                    onChange={(e) => e.target.value && shift(i, { start: `${e.target.value}:00` })}
                  />
                )}
              </Labelled>
              <Labelled label={words.day.till} error={at(`shifts.${i}.end`) ?? at(`shifts.${i}`)}>
                {(ids) => (
                  <input
                    {...ids}
                    type="datetime-local"
                    className="w-60"
                    value={cut(s.end)}
                    onChange={(e) => e.target.value && shift(i, { end: `${e.target.value}:00` })}
                  />
                )}
              </Labelled>
              {s.pauses.map((p, n) => (
                <span key={p.start} className="text-s">
                  {words.day.breakWord} {p.start.slice(11, 16)} {words.day.to} {p.end.slice(11, 16)}{" "}
                  <button
                    type="button"
                    className="min-h-11 underline"
                    onClick={() => shift(i, { pauses: s.pauses.filter((_, k) => k !== n) })}
                  >
                    {words.day.without}
                  </button>
                </span>
              ))}
              <button
                type="button"
                className="min-h-11 text-s underline"
                onClick={() => {
                  const middle = new Date((Date.parse(`${s.start}Z`) + Date.parse(`${s.end}Z`)) / 2);
                  const text = (d: Date) => d.toISOString().slice(0, 19);
                  shift(i, {
                    pauses: [...s.pauses, { start: text(middle), end: text(new Date(middle.getTime() + 20 * 60_000)) }],
                  });
                }}
              >
                {words.day.addABreak}
              </button>
              <button
                type="button"
                className="min-h-11 text-s underline"
                onClick={() => setDay({ ...day, shifts: day.shifts.filter((_, n) => n !== i) })}
              >
                {words.day.remove}
              </button>
            </li>
          ))}
        </ul>
        <button
          type="button"
          className="press mt-2"
          onClick={() =>
            setDay({
              ...day,
              shifts: [
                ...day.shifts,
                {
                  key: fresh("shift"),
                  who: cooks[day.shifts.length % Math.max(1, cooks.length)] ?? "A cook",
                  start: `${day.date}T07:00:00`,
                  end: `${day.date}T15:00:00`,
                  pauses: [],
                },
              ],
            })
          }
        >
          {words.day.addAPairOfHands}
        </button>
        {at("shifts") && (
          <p role="alert" className="text-s text-spot">
            {at("shifts")}
          </p>
        )}
        <h2 className="mt-5 text-m">{words.day.outOfUseOnThisDay}</h2>
        <div className="flex flex-wrap gap-x-5">
          {[...(kitchen?.kitchen.ovens ?? []), ...(kitchen?.kitchen.mixers ?? [])].map((tool) => (
            <label key={tool.key} className="flex min-h-11 items-center gap-2">
              <input
                type="checkbox"
                checked={day.out.includes(tool.key)}
                onChange={(e) =>
                  setDay({
                    ...day,
                    out: e.target.checked ? [...day.out, tool.key] : day.out.filter((k) => k !== tool.key),
                  })
                }
              />
              {tool.name}
            </label>
          ))}
        </div>
        {at("out") && (
          <p role="alert" className="text-s text-spot">
            {at("out")}
          </p>
        )}
        <div className="mt-3 flex flex-wrap items-end gap-3">
          <Labelled label={words.day.toSpareBeforeEachOrderMin}>
            {(ids) => (
              <input
                {...ids}
                type="number"
                min={0}
                max={120}
                className="w-24"
                value={day.spare_min}
                onChange={(e) =>
                  setDay({ ...day, spare_min: Math.max(0, Math.min(120, Math.round(Number(e.target.value)))) })
                }
              />
            )}
          </Labelled>
          <Labelled label={words.day.notesForTheDay}>
            {(ids) => (
              <input
                {...ids}
                className="w-72 max-w-full"
                maxLength={4000}
                value={day.notes}
                onChange={(e) => setDay({ ...day, notes: e.target.value })}
              />
            )}
          </Labelled>
        </div>
      </section>
      <div className="sticky bottom-0 flex flex-wrap items-center gap-3 border-t border-hairline bg-paper py-3 xl:col-span-2">
        <button type="button" className="press press-first" onClick={() => save(true)}>
          {words.day.saveAndPlan}
        </button>
        <button type="button" className="press" onClick={() => save(false)}>
          {words.day.save}
        </button>
        {theirs && (
          <Meanwhile
            version={theirs.version}
            name=""
            keepMine={() => {
              setVersion(theirs.version);
              actions.put.reset();
            }}
            takeTheirs={() => {
              setDay(theirs.day);
              setVersion(theirs.version);
              actions.put.reset();
            }}
          />
        )}
        {refused && !theirs && (
          <p role="alert" className="text-s">
            {refused.errors[0]?.says ?? refused.message}
          </p>
        )}
      </div>
    </div>
  );
}
