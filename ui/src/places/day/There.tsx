import type { Order, StockLot, StockOffer } from "../../api/client";
import { Alert } from "../../kit/Field";
import { stamp } from "../../kit/format";
import { words } from "../../words";
import type { Row } from "./Orders";

/** What of an order is in stock: pressed, it is taken from there and not made. */
export function There({
  order,
  row: { put, at },
  offers,
}: {
  order: Order;
  row: Row<Order>;
  offers: readonly StockOffer[];
}) {
  const taken = order.from_stock ?? [];
  const says = taken.flatMap((_, i) => ["lot", "amount", "part"].map((field) => at(`from_stock.${i}.${field}`)));
  const gone = taken.filter((t) => !offers.some((o) => o.part === t.part && o.lots.some((lot) => lot.lot === t.lot)));
  if (offers.length + taken.length === 0) return null;
  const toggle = (part: string, lot: string, amount: number, on: boolean) => {
    const others = taken.filter((t) => t.part !== part);
    put({ from_stock: on ? [...others, { part, lot, amount }] : others });
  };
  return (
    <div className="flex flex-wrap items-center gap-x-4 pt-1">
      <span className="text-s text-quiet">{words.stock.fromStock}</span>
      {offers.flatMap((offer) =>
        offer.lots.map((lot) => {
          const amount = takes(offer, lot, order);
          const on = taken.some((t) => t.part === offer.part && t.lot === lot.lot);
          return (
            <label key={`${offer.part}/${lot.lot}`} className="flex min-h-11 items-center gap-2 text-s">
              <input
                type="checkbox"
                checked={on}
                disabled={!on && amount === undefined}
                onChange={(e) => toggle(offer.part, lot.lot, amount ?? lot.amount, e.target.checked)}
              />
              {words.stock.takeFromStock(
                words.stock.amount(lot.amount, lot.unit),
                offer.name,
                lot.place,
                lot.keep_until ? words.stock.until(stamp(lot.keep_until)) : "",
              )}
              {amount === undefined && (
                <span className="text-quiet">{words.stock.moreAsked(words.stock.amount(offer.wants, offer.unit))}</span>
              )}
            </label>
          );
        }),
      )}
      {gone.map((t) => (
        <button
          key={t.part}
          type="button"
          className="press"
          onClick={() => put({ from_stock: taken.filter((other) => other !== t) })}
        >
          {words.stock.leaveOut}
        </button>
      ))}
      <Alert says={says.find((sentence) => sentence !== undefined)} />
    </div>
  );
}

/** How much is taken of a lot: all that is asked of a part or nothing, and of the whole as much as there is. */
function takes(offer: StockOffer, lot: StockLot, order: Order): number | undefined {
  if (offer.part === "") return Math.min(Math.floor(lot.amount), order.portions);
  return lot.amount >= offer.wants ? offer.wants : undefined;
}
