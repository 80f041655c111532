import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { Refused, type StockEntry, type StockHouse, type StockLot } from "../../api/client";
import { appNow } from "../../api/clock";
import { record } from "../../api/outbox";
import { productsQuery, recipesQuery, stockQuery, storableQuery } from "../../api/queries";
import { Alert, Choice, Labelled, TypedField } from "../../kit/Field";
import { day, stamp } from "../../kit/format";
import { Looks } from "../../kit/Looks";
import { short } from "../../kit/numbers";
import { Empty, Trouble, Waiting } from "../../kit/States";
import { StoringFields, useStoring } from "../../kit/Storing";
import { words } from "../../words";

const LATELY = 12;

/** What was made and stored: what to use first first, what is done with it, what was written down. */
export default function Stock() {
  const { data, error, refetch } = useQuery(stockQuery);
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.stock.theStock} />;
  return (
    <div className="mx-auto w-full max-w-[1500px] px-4 py-4 md:px-6">
      <h1 className="text-l">{words.stock.stock}</h1>
      <div className="mt-2 grid items-start gap-8 xl:grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)]">
        {data.lots.length === 0 ? (
          <Empty title={words.stock.nothingInStock}>{words.stock.storeAtTheEnd}</Empty>
        ) : (
          <ul className="divide-y divide-hairline border-y border-deep">
            {data.lots.map((lot) => (
              <Lot key={lot.lot} lot={lot} />
            ))}
          </ul>
        )}
        <div className="flex min-w-0 flex-col gap-6">
          <Made />
          <WrittenDown house={data} />
        </div>
      </div>
    </div>
  );
}

/** Something is written down of what is in stock. */
const useWrite = () => useMutation({ mutationFn: (entry: StockEntry) => record({ ledger: "stock", entry }) });

const says = (error: Error | null) =>
  error instanceof Refused ? (error.errors[0]?.says ?? error.message) : error?.message;

const of = (lot: StockLot, what: StockEntry["what"], change: Partial<StockEntry>): StockEntry => ({
  id: crypto.randomUUID(),
  lot: lot.lot,
  what,
  of: lot.of,
  name: lot.name,
  unit: lot.unit,
  amount: 0,
  where: lot.where,
  row: lot.row,
  at: new Date(appNow()).toISOString(),
  keep_until: null,
  batch: lot.batch,
  why: "",
  cook: localStorage.getItem("gullpeak-cook") ?? "",
  ...change,
});

function Lot({ lot }: { lot: StockLot }) {
  const write = useWrite();
  const [typed, setTyped] = useState("");
  const { data: could } = useQuery(storableQuery("entry", lot.of));
  const amount = Number(typed.replace(",", "."));
  const good = typed.trim() !== "" && amount > 0;
  const go = (what: "drawn" | "lost") => write.mutate(of(lot, what, { amount }), { onSuccess: () => setTyped("") });
  return (
    <li className="grid grid-cols-[7.5rem_minmax(0,1fr)] gap-4 py-3">
      <div>
        <Looks of={lot.of} wide={112} high={60} />
        <b className="text-m">{words.stock.amount(lot.amount, lot.unit)}</b>
      </div>
      <div className="min-w-0">
        <p className="font-name">{lot.name}</p>
        <p className="text-s">
          {lot.over && lot.keep_until ? (
            <b className="text-spot">{words.stock.pastItsDate(stamp(lot.keep_until))}</b>
          ) : lot.keep_until ? (
            words.stock.goodUntil(stamp(lot.keep_until))
          ) : (
            words.stock.notKnown
          )}
          {lot.soon && <b> · {words.stock.withinADay}</b>}
        </p>
        <p className="text-s text-quiet">
          {[
            lot.place,
            words.stock.made(stamp(lot.made)),
            lot.thaws_until && words.stock.thaws(stamp(lot.thaws_until)),
            lot.thawed && words.stock.thawed,
            lot.by,
          ]
            .filter(Boolean)
            .join(" · ")}
        </p>
        <div className="mt-1 flex flex-wrap items-end gap-3">
          <Labelled label={words.stock.howMany(lot.unit)}>
            {(ids) => (
              <input
                {...ids}
                aria-label={words.stock.howMuchOf(lot.name)}
                inputMode="decimal"
                className="w-24"
                maxLength={8}
                value={typed}
                onChange={(e) => setTyped(e.target.value)}
              />
            )}
          </Labelled>
          {(["drawn", "lost"] as const).map((what) => (
            <button
              key={what}
              type="button"
              className="press"
              disabled={!good || write.isPending}
              aria-label={what === "drawn" ? words.stock.takeOf(lot.name) : words.stock.lostOf(lot.name)}
              onClick={() => go(what)}
            >
              {what === "drawn" ? words.stock.take : words.stock.lost}
            </button>
          ))}
          {could && (
            <Choice
              label={words.stock.where}
              inFull={words.stock.moveIt(lot.name)}
              value={lot.where}
              options={[
                ...(could.places.some((p) => p.where === lot.where) ? [] : ([[lot.where, lot.place]] as const)),
                ...could.places.map((p) => [p.where, p.name] as const),
              ]}
              onChange={(where) => where !== lot.where && write.mutate(of(lot, "moved", { where }))}
            />
          )}
          <a
            className="press"
            href={`/api/files/stock/${lot.lot}/label`}
            target="_blank"
            rel="noreferrer"
            aria-label={words.stock.labelOf(lot.name)}
          >
            {words.stock.label}
          </a>
          {lot.batch && (
            <Link className="min-h-11 content-center text-s underline" to={`/log/${lot.batch}`}>
              {words.stock.itsBatch}
            </Link>
          )}
        </div>
        <Alert says={says(write.error)} />
      </div>
    </li>
  );
}

/** Something made stored without a batch at the bench. */
function Made() {
  const { data: recipes } = useQuery(recipesQuery);
  const { data: products } = useQuery(productsQuery);
  const [what, setWhat] = useState("");
  const { data: could, error } = useQuery(storableQuery("entry", what));
  const book = [
    ...(products ?? []).map(({ id, product }) => [id, product.name] as const),
    ...(recipes ?? []).map(({ id, recipe }) => [id, recipe.name] as const),
  ];
  return (
    <section aria-labelledby="made">
      <h2 id="made" className="border-b border-deep text-m">
        {words.stock.writeDown}
      </h2>
      <div className="mt-2 flex flex-col gap-3">
        <Choice
          label={words.stock.what}
          value={what}
          options={[["", words.stock.choose] as const, ...book]}
          onChange={setWhat}
        />
        {could && <MadeOf key={what} could={could} done={() => setWhat("")} />}
        <Alert says={says(error)} />
      </div>
    </section>
  );
}

function MadeOf({ could, done }: { could: Parameters<typeof StoringFields>[0]["says"]; done: () => void }) {
  const write = useWrite();
  const by = useStoring(could);
  return (
    <>
      <StoringFields says={could} of={by} refused={write.error} />
      <button
        type="button"
        className="press press-first self-start"
        disabled={!by.good || write.isPending}
        onClick={() => by.entry && write.mutate(by.entry, { onSuccess: done })}
      >
        {words.stock.writeItDown}
      </button>
    </>
  );
}

/** What was written down lately; a wrong figure is put right where it stands. */
function WrittenDown({ house }: { house: StockHouse }) {
  const write = useWrite();
  const entries = house.entries.slice(-LATELY).reverse();
  if (entries.length === 0) return null;
  return (
    <section aria-labelledby="written">
      <h2 id="written" className="border-b border-deep text-m">
        {words.stock.writtenDownLately}
      </h2>
      <p className="pt-1 text-s text-quiet">{words.stock.writeOver}</p>
      <ul className="divide-y divide-hairline">
        {entries.map((entry) => (
          <li key={entry.id} className="grid grid-cols-[8rem_minmax(0,1fr)_7rem] items-start gap-3 py-1">
            <span className="py-2 text-s text-quiet">{stamp(entry.at)}</span>
            <span className="min-w-0 py-2">
              {entry.name}: {words.stock.whats[entry.what]}
              {entry.why && `, ${entry.why}`}
            </span>
            {entry.what !== "moved" && (
              <TypedField
                quiet
                label={words.stock.amountOf(entry.name, day(entry.at))}
                shown={short(entry.amount)}
                width="w-full"
                read={async (typed) => {
                  const amount = Number(typed.replace(/\s*g$/i, "").replace(",", "."));
                  if (!typed.trim() || !(amount >= 0)) throw new Error(words.stock.writeANumber);
                  const id = crypto.randomUUID();
                  const at = new Date(appNow()).toISOString();
                  await write.mutateAsync({ ...entry, id, at, what: "corrected", corrects: entry.id, amount, why: "" });
                }}
              />
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
