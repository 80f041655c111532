import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import {
  type Day,
  type DayRecord,
  type DayView,
  type Kitchen,
  type Order,
  Refused,
  type StockOffer,
} from "../../api/client";
import { kitchenQuery, productsQuery, recipesQuery } from "../../api/queries";
import { DateField } from "../../kit/DateField";
import { longDay, timeOf } from "../../kit/dates";
import { draftOf, keep } from "../../kit/drafts";
import { Alert, Labelled } from "../../kit/Field";
import { fresh, TextField, WholeField } from "../../kit/fields";
import { QuickLine, unread } from "../../kit/QuickLine";
import { Meanwhile } from "../../kit/useSave";
import { words } from "../../words";
import { Hands } from "./Hands";
import { There } from "./There";
import { type DayActions, readLine } from "./useDay";

/** What can be ordered. */
type Entry = { id: string; name: string; kind: "products" | "recipes" };

/** A row of the day that is being written, and how it is changed or taken away. */
export type Row<T> = {
  put: (change: Partial<T>) => void;
  remove: () => void;
  at: (field: string) => string | undefined;
};

/** What a part of the day is written with: the day so far, how it is changed, what is said at a field. */
export type Writing = {
  day: Day;
  write: (change: Partial<Day>) => void;
  at: (field: string) => string | undefined;
  kitchen?: Kitchen;
};

/** The rows of a list in the day, each with what changes it and what is said at its fields. */
export function rows<T extends { key: string }>(
  of: readonly T[],
  name: string,
  at: Writing["at"],
  write: (rows: T[]) => void,
): (readonly [T, Row<T>])[] {
  return of.map((row, i) => [
    row,
    {
      put: (change) => write(of.map((o) => (o === row ? { ...o, ...change } : o))),
      remove: () => write(of.filter((o) => o !== row)),
      at: (field) => at([name, i, field].filter((part) => part !== "").join(".")),
    },
  ]);
}

/** What is ordered by when, who is there from when to when, what is out of use: the day as it is written down. */
export function Orders({
  record,
  trouble,
  actions,
  planned,
  stock,
}: {
  record: DayRecord;
  trouble: DayView["trouble"];
  actions: DayActions;
  planned: () => void;
  stock: readonly StockOffer[];
}) {
  const id = `day-${record.day.date}`;
  const [kept] = useState(() => draftOf<Day>(id));
  const [day, setDay] = useState<Day>(kept?.draft ?? record.day);
  const [version, setVersion] = useState(kept?.version ?? record.version);
  const dirty = JSON.stringify(day) !== JSON.stringify(record.day);
  // What is written and not saved outlives a look at the plan, a link and a reload.
  useEffect(() => keep(id, dirty ? { version, draft: day } : undefined), [id, dirty, version, day]);
  const { data: kitchen } = useQuery(kitchenQuery);
  const refused = actions.put.error instanceof Refused ? actions.put.error : undefined;
  const theirs = refused?.problem.status === 412 ? (refused.problem.current as unknown as DayRecord) : undefined;
  const writing: Writing = {
    day,
    write: (change) => setDay({ ...day, ...change }),
    at: (field) => refused?.at(field) ?? (trouble?.field === field ? trouble.says : undefined),
    kitchen: kitchen?.kitchen,
  };
  const [waits, setWaits] = useState(false);
  const save = (plan: boolean) => {
    // A line that is written and not added would be missing from what is saved.
    const waiting = unread(`orders ${day.date}`) || unread(`hands ${day.date}`);
    setWaits(waiting);
    if (waiting) return;
    actions.put.mutate(
      { day, version },
      {
        onSuccess: () => {
          keep(id, undefined);
          if (!plan) return;
          planned();
          actions.plan.mutate({ seconds: 10, near: false });
        },
      },
    );
  };
  return (
    <div className="mt-3 grid min-w-0 gap-8 lg:grid-cols-[minmax(0,1.3fr)_minmax(0,1fr)]">
      <Ordered {...writing} stock={stock} />
      <section aria-labelledby="hands" className="min-w-0">
        <Hands {...writing} />
        <OutOfUse {...writing} />
        <div className="mt-3 flex flex-wrap items-end gap-3">
          <WholeField
            label={words.day.toSpareBeforeEachOrderMin}
            error={writing.at("spare_min")}
            value={day.spare_min}
            least={0}
            most={120}
            width="w-24"
            put={(spare_min) => writing.write({ spare_min })}
          />
          <TextField
            label={words.day.notesForTheDay}
            value={day.notes}
            most={4000}
            width="w-72"
            put={(notes) => writing.write({ notes })}
          />
        </div>
      </section>
      <div className="sticky bottom-0 flex flex-wrap items-center gap-3 border-t border-hairline bg-paper py-3 lg:col-span-2">
        <button type="button" className="press press-first" onClick={() => save(true)}>
          {words.day.saveAndPlan}
        </button>
        <button type="button" className="press" onClick={() => save(false)}>
          {words.day.save}
        </button>
        {record.version > 0 && <CopyDay actions={actions} dirty={dirty} />}
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
        <Alert says={waits ? words.day.lineNotAdded : undefined} />
        {refused && !theirs && (
          <p role="alert" className="text-s">
            {refused.errors[0]?.says ?? refused.message}
          </p>
        )}
      </div>
    </div>
  );
}

/** The orders as they are saved, written for another date. */
function CopyDay({ actions, dirty }: { actions: DayActions; dirty: boolean }) {
  const go = useNavigate();
  const [to, setTo] = useState("");
  const refused = actions.copy.error instanceof Refused ? actions.copy.error : undefined;
  return (
    <form
      className="ml-auto flex flex-wrap items-end gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        actions.copy.mutate(to, { onSuccess: (made) => go(`/day/${made.day.date}`) });
      }}
    >
      <DateField
        label={words.day.copyTheseOrdersTo}
        error={refused?.errors[0]?.says ?? refused?.message}
        hint={dirty ? words.day.saveThemFirst : undefined}
        value={to}
        put={setTo}
      />
      <button type="submit" className="press" disabled={!to || dirty || actions.copy.isPending}>
        {words.day.copyThem}
      </button>
    </form>
  );
}

function Ordered({ day, write, at, kitchen, stock }: Writing & { stock: readonly StockOffer[] }) {
  const { data: products } = useQuery(productsQuery);
  const { data: recipes } = useQuery(recipesQuery);
  const book: Entry[] = [
    ...(products ?? []).map(({ id, product: { name } }): Entry => ({ id, name, kind: "products" })),
    ...(recipes ?? []).map(({ id, recipe: { name } }): Entry => ({ id, name, kind: "recipes" })),
  ];
  return (
    <section aria-labelledby="ordered" className="min-w-0">
      <h2 id="ordered" className="text-m">
        {words.day.whatIsOrdered}
      </h2>
      <QuickLine
        keepAs={`orders ${day.date}`}
        label={words.day.writeAnOrder}
        example={words.day.orderExample}
        read={readLine(day.date, "order")}
        take={(read) =>
          write({
            orders: [
              ...day.orders,
              ...read.flatMap(({ order }): Order[] =>
                order
                  ? [
                      {
                        key: fresh("order"),
                        of: order.of,
                        portions: order.portions,
                        ready: order.ready,
                        for_whom: order.for_whom,
                        loads: order.loads,
                        oven: order.oven ?? null,
                        from_stock: [],
                      },
                    ]
                  : [],
              ),
            ],
          })
        }
      />
      <ul className="mt-3 divide-y divide-hairline border-y border-hairline">
        {rows(day.orders, "orders", at, (orders) => write({ orders })).map(([order, row]) => (
          <li key={order.key} className="py-1">
            <OrderRow order={order} row={row} book={book} ovens={kitchen?.ovens ?? []} date={day.date} />
            <There order={order} row={row} offers={stock.filter((offer) => offer.order === order.key)} />
          </li>
        ))}
      </ul>
      <Alert says={at("orders")} />
    </section>
  );
}

/** A row as it is said across a kitchen, with its fields behind one press; open where something in it will not do. */
export function SaidRow({
  says,
  name,
  wrong,
  remove,
  children,
}: {
  says: ReactNode;
  /** What it is, for its buttons */
  name: string;
  wrong: boolean;
  remove: () => void;
  children: ReactNode;
}) {
  const [asked, setAsked] = useState(false);
  const open = asked || wrong;
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-4">
        <p className="min-w-0 grow text-m">{says}</p>
        <button
          type="button"
          className="min-h-11 px-1 text-s underline"
          aria-expanded={open}
          aria-label={words.day.change(name)}
          onClick={() => setAsked(!open)}
        >
          {words.day.changeWord}
        </button>
        <button
          type="button"
          className="min-h-11 px-1 text-s underline"
          aria-label={words.day.removeNamed(name)}
          onClick={remove}
        >
          {words.day.remove}
        </button>
      </div>
      {open && <div className="flex flex-wrap items-end gap-3 pb-3">{children}</div>}
    </>
  );
}

function OrderRow({
  order,
  row: { put, remove, at },
  book,
  ovens,
  date,
}: {
  order: Order;
  row: Row<Order>;
  book: readonly Entry[];
  ovens: Kitchen["ovens"];
  date: string;
}) {
  const name = book.find((b) => b.id === order.of)?.name ?? order.of;
  const oven = ovens.find((o) => o.key === order.oven)?.name;
  const elsewhen = order.ready.slice(0, 10) !== date ? longDay(order.ready.slice(0, 10)) : undefined;
  const more = [
    elsewhen,
    order.for_whom,
    order.loads > 1 ? words.day.inBatches(order.loads) : undefined,
    oven && words.day.inTheOven(oven),
  ].filter((said) => said);
  return (
    <SaidRow
      name={name}
      wrong={["portions", "of", "ready", "loads", "oven", ""].some((field) => at(field))}
      remove={remove}
      says={
        <>
          <b>{order.portions}</b> {name}, <b>{timeOf(order.ready)}</b>
          {more.length > 0 && <span className="block text-s text-quiet">{more.join(" · ")}</span>}
        </>
      }
    >
      <WholeField
        label={words.day.howMany}
        error={at("portions")}
        value={order.portions}
        least={1}
        most={2000}
        width="w-20"
        put={(portions) => put({ portions })}
      />
      <Labelled label={words.day.ofWord} error={at("of")}>
        {(ids) => (
          <select {...ids} className="w-72 max-w-full" value={order.of} onChange={(e) => put({ of: e.target.value })}>
            {!book.some((b) => b.id === order.of) && <option value={order.of}>{order.of}</option>}
            {(["products", "recipes"] as const).map((kind) => (
              <optgroup key={kind} label={words.day[kind]}>
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
      <DateField
        label={words.day.ready}
        error={at("ready")}
        value={order.ready}
        withTime
        put={(ready) => ready && put({ ready: `${ready}:00` })}
      />
      <TextField
        label={words.day.forWord2}
        value={order.for_whom}
        most={120}
        width="w-40"
        put={(for_whom) => put({ for_whom })}
      />
      <WholeField
        label={words.day.batches}
        error={at("loads")}
        value={order.loads}
        least={1}
        most={8}
        width="w-16"
        put={(loads) => put({ loads })}
      />
      <Labelled label={words.day.oven} error={at("oven")}>
        {(ids) => (
          <select
            {...ids}
            className="w-40"
            value={order.oven ?? ""}
            onChange={(e) => put({ oven: e.target.value || null })}
          >
            <option value="">{words.day.asItsRecipeSays}</option>
            {ovens.map((v) => (
              <option key={v.key} value={v.key}>
                {v.name}
              </option>
            ))}
          </select>
        )}
      </Labelled>
    </SaidRow>
  );
}

function OutOfUse({ day, write, at, kitchen }: Writing) {
  return (
    <>
      <h2 className="mt-5 text-m">{words.day.outOfUseOnThisDay}</h2>
      <div className="flex flex-wrap gap-x-5">
        {[...(kitchen?.ovens ?? []), ...(kitchen?.mixers ?? [])].map((tool) => (
          <label key={tool.key} className="flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              checked={day.out.includes(tool.key)}
              onChange={(e) =>
                write({ out: e.target.checked ? [...day.out, tool.key] : day.out.filter((k) => k !== tool.key) })
              }
            />
            {tool.name}
          </label>
        ))}
      </div>
      <Alert says={at("out")} />
    </>
  );
}
