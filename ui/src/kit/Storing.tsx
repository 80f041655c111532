import { useState } from "react";
import { Refused, type StockEntry, type Storable } from "../api/client";
import { words } from "../words";
import { DateField } from "./DateField";
import { Alert, Choice, Labelled } from "./Field";
import { stamp } from "./format";
import { short } from "./numbers";

const HOUR_MS = 3_600_000;
const long = (hours: number) =>
  hours < 48 ? words.stock.hours(short(hours, 1)) : words.stock.days(Math.round(hours / 24));

/** What is stored, as it is written down: so much, in which place, until when. */
export function useStoring(says: Storable | undefined) {
  const [id] = useState(() => crypto.randomUUID());
  const [typed, setTyped] = useState<{ amount?: string; where?: Storable["where"]; until?: string; made?: string }>({});
  const amount = Number((typed.amount ?? String(says?.amount ?? "")).replace(",", "."));
  const entry: StockEntry | undefined = says && {
    id,
    lot: `lot-${id.slice(0, 8)}`,
    what: "in",
    of: says.of,
    name: says.name,
    unit: says.unit,
    amount,
    where: typed.where ?? says.where,
    row: says.row,
    at: typed.made ? new Date(typed.made).toISOString() : says.made,
    keep_until: typed.until ? new Date(`${typed.until}T23:59:00`).toISOString() : null,
    batch: says.batch,
    why: "",
    cook: localStorage.getItem("gullpeak-cook") ?? "",
  };
  const good = entry !== undefined && amount > 0 && (entry.unit === "g" || Number.isInteger(amount));
  return { typed, put: (change: typeof typed) => setTyped((now) => ({ ...now, ...change })), entry, good };
}

/** refused: why the app would not take it, said where it is about. */
export function StoringFields({
  says,
  of,
  refused,
}: {
  says: Storable;
  of: ReturnType<typeof useStoring>;
  refused?: Error | null;
}) {
  const { typed, put, entry, good } = of;
  const hours = says.places.find((place) => place.where === entry?.where)?.hours;
  const made = Date.parse(entry?.at ?? says.made);
  const at = (field: string) => (refused instanceof Refused ? refused.at(`0.${field}`) : undefined);
  const elsewhere = refused && !["amount", "at", "keep_until"].some(at) ? refused.message : undefined;
  return (
    <div className="flex flex-wrap items-start gap-3">
      <Labelled
        label={words.stock.howMany(says.unit)}
        error={good ? at("amount") : words.stock.writeTheAmount(says.unit)}
      >
        {(ids) => (
          <input
            {...ids}
            inputMode="decimal"
            className="w-28"
            maxLength={8}
            value={typed.amount ?? String(says.amount)}
            onChange={(e) => put({ amount: e.target.value })}
          />
        )}
      </Labelled>
      <Choice
        label={words.stock.where}
        value={entry?.where ?? says.where}
        options={says.places.map((place) => [place.where, place.name] as const)}
        onChange={(where) => put({ where })}
      />
      <DateField
        label={words.stock.madeAt(stamp(says.made))}
        error={at("at")}
        value={typed.made ?? ""}
        withTime
        put={(made) => put({ made })}
      />
      <DateField
        label={words.stock.keepUntil}
        error={at("keep_until")}
        value={typed.until ?? ""}
        put={(until) => put({ until })}
      />
      {!typed.until && (
        <p className="w-full text-s text-quiet">
          {hours
            ? words.stock.keepsFor(long(hours), stamp(new Date(made + hours * HOUR_MS).toISOString()))
            : words.stock.keepsNotKnown}
        </p>
      )}
      {says.says && <p className="w-full text-s">{says.says}</p>}
      <Alert says={elsewhere} />
    </div>
  );
}
