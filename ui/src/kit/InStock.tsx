import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { stockQuery } from "../api/queries";
import { words } from "../words";
import { stamp } from "./format";

/** The lots of an entry of the book that can be used. */
function useLots(of: string) {
  const { data } = useQuery(stockQuery);
  return (data?.lots ?? []).filter((lot) => lot.of === of && !lot.over);
}

/** What of a part is in stock, counted as the part is, to be used as what is at hand; nothing where nothing is. */
export function AtHand({ of, unit, use }: { of: string; unit: string; use: (amount: number) => void }) {
  const lots = useLots(of).filter((lot) => lot.unit === unit);
  const amount = lots.reduce((sum, lot) => sum + lot.amount, 0);
  const [first] = lots;
  if (!first) return null;
  return (
    <button type="button" className="press" onClick={() => use(amount)}>
      {words.stock.takeAtHand(words.stock.amount(amount, first.unit))}
    </button>
  );
}

/** What of an entry of the book is in stock; nothing where nothing is. */
export function InStock({ of }: { of: string }) {
  const lots = useLots(of);
  if (lots.length === 0) return null;
  return (
    <p className="text-s">
      <Link className="underline" to="/stock">
        {words.stock.inStock}
      </Link>
      :{" "}
      {lots
        .map(
          (lot) =>
            `${words.stock.amount(lot.amount, lot.unit)} ${lot.place}${lot.keep_until ? words.stock.until(stamp(lot.keep_until)) : ""}`,
        )
        .join("; ")}
    </p>
  );
}
