import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import { onTrouble, Refused } from "../api/client";
import { dropRefused, idOf, listen, type NotTaken, outbox, sendAgain } from "../api/outbox";
import { healthQuery } from "../api/queries";
import { words } from "../words";

const says = (entry: NotTaken) =>
  "event" in entry
    ? entry.event.text || (entry.event.value ?? entry.event.kind)
    : "mark" in entry
      ? `${entry.mark.kind} ${entry.mark.step.split("/").at(-1)}`
      : entry.ledger === "eggs"
        ? `${entry.entry.mass_g} g ${entry.entry.side}`
        : `${words.stock.amount(entry.entry.amount, entry.entry.unit)} ${entry.entry.name}`;

/** What stands in the way of keeping what is typed, under the places: the app's own word on its disk, and entries it would not take. */
export function Standing() {
  const queries = useQueryClient();
  const { refused } = useSyncExternalStore((tell) => listen(() => tell()), outbox);
  const { error } = useQuery(healthQuery);
  useEffect(() => onTrouble(() => void queries.invalidateQueries({ queryKey: healthQuery.queryKey })), [queries]);
  if (!error && refused.length === 0) return null;
  return (
    <div className="border-b border-hairline bg-surface px-4 py-2 md:px-6 print:hidden">
      {error && (
        <p role="alert" className="border-l-4 border-deep pl-3 text-s">
          <b>
            {error instanceof Refused && error.offline
              ? words.kit.gullPeakDoesNotAnswer
              : words.kit.nothingCanBeKeptJustNow}
          </b>{" "}
          {error instanceof Refused && error.offline ? words.kit.goOnWorkingWhatYouEnter : error.message}
        </p>
      )}
      {refused.map((entry) => (
        <p
          key={idOf(entry)}
          role="alert"
          className="flex flex-wrap items-center gap-x-3 border-l-4 border-deep pl-3 text-s"
        >
          <span>
            <b>
              {words.kit.notTaken} {says(entry)}.
            </b>{" "}
            {entry.says}
          </span>
          <button type="button" className="min-h-11 underline" onClick={() => sendAgain(entry)}>
            {words.kit.sendItAgain}
          </button>
          <button type="button" className="min-h-11 underline" onClick={() => dropRefused(entry)}>
            {words.kit.discardIt}
          </button>
        </p>
      ))}
    </div>
  );
}
