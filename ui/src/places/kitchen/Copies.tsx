import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, http } from "../../api/client";
import { copiesQuery } from "../../api/queries";
import { fullDayOf } from "../../kit/dates";
import { fixed } from "../../kit/numbers";
import { words } from "../../words";

const megabytes = (size: number) => `${fixed(size / 1e6, size < 1e6 ? 2 : 1)} MB`;

/** Full copies of everything that is kept: made each day, or now; downloaded; how one is put back. */
export function Copies() {
  const queries = useQueryClient();
  const { data, error } = useQuery(copiesQuery);
  const make = useMutation({
    mutationFn: () => answer(http.POST("/api/copies")),
    onSettled: () => void queries.invalidateQueries({ queryKey: copiesQuery.queryKey }),
  });
  const trouble = make.error?.message ?? error?.message ?? data?.trouble;
  return (
    <section aria-labelledby="copies">
      <h2 id="copies" className="border-b border-deep text-m">
        {words.kitchen.copiesOfEverything}
      </h2>
      <p className="py-2 text-s text-quiet">{words.kitchen.bookLogDaysEggsDevicesAnd}</p>
      {trouble && (
        <p role="alert" className="mb-2 border-l-4 border-deep pl-3 text-s">
          {trouble}
        </p>
      )}
      <button type="button" className="press" disabled={make.isPending} onClick={() => make.mutate()}>
        {make.isPending ? "Copying" : words.kitchen.makeACopyNow}
      </button>
      {data && data.copies.length > 0 && (
        <ul className="mt-2 max-h-72 overflow-y-auto">
          {data.copies.map((copy) => (
            <li key={copy.name} className="flex flex-wrap items-center gap-x-4 border-b border-hairline text-s">
              <span className="grow">
                {fullDayOf(copy.made_at)}{" "}
                <span className="text-quiet">{copy.by === "day" ? "daily" : words.kitchen.byHand}</span>
              </span>
              <span className="text-quiet">{megabytes(copy.size)}</span>
              <a
                className="inline-flex min-h-11 items-center underline"
                href={`/api/copies/${copy.name}`}
                download
                aria-label={words.kitchen.downloadTheCopyOf(fullDayOf(copy.made_at))}
              >
                {words.kitchen.download}
              </a>
            </li>
          ))}
        </ul>
      )}
      {data?.copies.length === 0 && <p className="mt-2 text-s text-quiet">{words.kitchen.thereIsNoCopyYet}</p>}
      <p className="mt-2 text-s text-quiet">
        {words.kitchen.toPutOneBackStopGull} <code>{words.kitchen.gullpeakRestoreFile}</code>
        {words.kitchen.whatIsThereThenIsKept}
      </p>
    </section>
  );
}
