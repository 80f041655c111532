import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { answer, http, type StarterEntry } from "../../api/client";
import { firstQuery } from "../../api/queries";
import { Alert } from "../../kit/Field";
import { Trouble, Waiting } from "../../kit/States";
import { words } from "../../words";

/** The book one may begin from: each entry is copied with all it is made of. */
export function StarterBook() {
  const client = useQueryClient();
  const { data, error, refetch } = useQuery(firstQuery);
  const copy = useMutation({
    mutationFn: (keys: string[]) => answer(http.POST("/api/first/book", { body: { keys } })),
    onSuccess: () => client.invalidateQueries(),
  });
  if (error) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.start.theStarterBook} />;
  const left = data.starters.filter((entry) => entry.here === null);
  return (
    <section aria-labelledby="starter-book" className="rounded-panel border border-hairline p-5">
      <div className="flex flex-wrap items-start justify-between gap-3">
        <div className="min-w-0">
          <h2 id="starter-book" className="font-name text-m">
            {words.start.starterBook}
          </h2>
          <p className="text-s text-quiet">{words.start.toCopyFrom}</p>
        </div>
        {left.length > 0 && (
          <button
            type="button"
            className="press"
            disabled={copy.isPending}
            onClick={() => copy.mutate(left.map((entry) => entry.key))}
          >
            {words.start.copyAll(left.length)}
          </button>
        )}
      </div>
      {copy.error && <Alert says={copy.error.message} />}
      <div className="grid gap-x-8 gap-y-3 [grid-template-columns:repeat(auto-fit,minmax(min(24rem,100%),1fr))]">
        {(["product", "recipe"] as const).map((kind) => (
          <div key={kind} className="mt-3">
            <h3 className="border-b border-deep text-s text-quiet">
              {kind === "product" ? words.start.dishes : words.start.recipes}
            </h3>
            <ul className="divide-y divide-hairline">
              {data.starters
                .filter((entry) => entry.kind === kind)
                .map((entry) => (
                  <Entry key={entry.key} entry={entry} busy={copy.isPending} copy={() => copy.mutate([entry.key])} />
                ))}
            </ul>
          </div>
        ))}
      </div>
    </section>
  );
}

function Entry({ entry, busy, copy }: { entry: StarterEntry; busy: boolean; copy: () => void }) {
  return (
    <li className="flex items-center justify-between gap-4 py-2">
      <div className="min-w-0">
        <p className="font-name">{entry.name}</p>
        <p className="text-s text-quiet">{entry.parts?.length ? entry.parts.join(", ") : entry.way}</p>
      </div>
      {entry.here ? (
        <Link
          className="press shrink-0"
          to={`/${entry.kind}s/${entry.here}`}
          aria-label={words.start.openThis(entry.name)}
        >
          {words.start.open}
        </Link>
      ) : (
        <button
          type="button"
          className="press shrink-0"
          disabled={busy}
          aria-label={words.start.copyThis(entry.name)}
          onClick={copy}
        >
          {words.start.copy}
        </button>
      )}
    </li>
  );
}
