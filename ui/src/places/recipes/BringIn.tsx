import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { answer, http, type Incoming, type IncomingEntry, Refused, readFile } from "../../api/client";
import { kitchenQuery, larderQuery } from "../../api/queries";
import { words } from "../../words";

type Use = "new" | "here" | "leave";

/** Files in and out: a brought file is read, shown with what it would bring, and kept only when the cook says so. */
export function BringIn() {
  const picker = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();
  const [uses, setUses] = useState<Record<string, Use>>({});
  const [withKitchen, setWithKitchen] = useState(false);
  const read = useMutation({
    mutationFn: readFile,
    onSuccess: (found) => setUses(Object.fromEntries(found.entries.map((e) => [e.id, e.near?.same ? "here" : "new"]))),
  });
  const take = useMutation({
    mutationFn: async (found: Incoming) => {
      const wanted = found.entries.filter((e) => uses[e.id] !== "leave");
      const kept = await answer(
        http.POST("/api/files/take", {
          body: {
            entries: wanted.map((e) => ({
              id: e.id,
              recipe: e.recipe,
              product: e.product,
              use: uses[e.id] === "here" ? ("here" as const) : ("new" as const),
              here: uses[e.id] === "here" ? (e.near?.id ?? null) : null,
            })),
          },
        }),
      );
      if (withKitchen && found.kitchen) {
        const now = await answer(http.GET("/api/kitchen"));
        await answer(
          http.PUT("/api/kitchen", { params: { header: { "if-match": `"${now.version}"` } }, body: found.kitchen }),
        );
        void queries.invalidateQueries({ queryKey: kitchenQuery.queryKey });
      }
      return kept;
    },
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: larderQuery.queryKey });
      void queries.invalidateQueries({ queryKey: ["recipes"] });
      void queries.invalidateQueries({ queryKey: ["products"] });
    },
  });
  const found = take.data ? undefined : read.data;
  const refused = read.error instanceof Refused ? read.error : undefined;
  const names = new Map((read.data?.entries ?? []).map((e) => [e.id, e]));
  return (
    <section aria-label={words.recipes.files} className="contents">
      <div className="flex flex-wrap items-center gap-x-5">
        <input
          ref={picker}
          type="file"
          accept=".json,.jsonld,.html,.htm,.txt,application/json,application/ld+json,text/html,text/plain"
          aria-label={words.recipes.fileToImport}
          className="sr-only"
          tabIndex={-1}
          onChange={(e) => {
            const file = e.target.files?.[0];
            take.reset();
            if (file) read.mutate(file);
            e.target.value = "";
          }}
        />
        <button type="button" className="min-h-11 underline" onClick={() => picker.current?.click()}>
          {words.recipes.importAFile}
        </button>
        <a className="inline-flex min-h-11 items-center underline" href="/api/files/archive" download="gull-peak.json">
          {words.recipes.exportTheWholeBook}
        </a>
        {read.isPending && <span role="status">{words.recipes.reading}</span>}
      </div>
      {read.error && (
        <div role="alert" className="order-1 basis-full border-l-4 text-ink border-deep pl-3">
          <b>{refused?.problem.title ?? words.recipes.theFileCannotBeRead}.</b> {words.recipes.nothingOfItWasKept}
          <ul className="text-s">
            {(refused?.errors.length ? refused.errors : [{ field: "file", says: read.error.message }]).map((t) => (
              <li key={t.field + t.says}>
                <b>{t.field}</b>: {t.says}
              </li>
            ))}
          </ul>
        </div>
      )}
      {found && (
        <div className="order-1 basis-full border-y border-deep py-3 text-ink" data-testid="incoming">
          <h2 className="text-m">{words.recipes.inThisFileNothingIsKept}</h2>
          <ul className="divide-y divide-hairline">
            {found.entries.map((entry) => (
              <Row
                key={entry.id}
                entry={entry}
                use={uses[entry.id] ?? "new"}
                put={(use) => setUses({ ...uses, [entry.id]: use })}
              />
            ))}
          </ul>
          {found.kitchen && (
            <label className="flex min-h-11 items-center gap-3">
              <input type="checkbox" checked={withKitchen} onChange={(e) => setWithKitchen(e.target.checked)} />
              {words.recipes.useItsKitchenToo}
              {found.kitchen.name}
              {words.recipes.inPlaceOfThisOneThe}
            </label>
          )}
          <div className="flex flex-wrap items-center gap-3 pt-2">
            <button
              type="button"
              className="press press-first"
              disabled={take.isPending || found.entries.every((e) => uses[e.id] === "leave")}
              onClick={() => take.mutate(found)}
            >
              {words.recipes.keepThese}
            </button>
            <button type="button" className="press" onClick={() => read.reset()}>
              {words.recipes.cancel}
            </button>
            {take.error && (
              <p role="alert" className="text-s">
                {take.error instanceof Refused
                  ? (take.error.errors[0]?.says ?? take.error.message)
                  : take.error.message}{" "}
                {words.recipes.nothingWasKept}
              </p>
            )}
          </div>
        </div>
      )}
      {take.data && (
        <p role="status" className="order-1 basis-full border-l-4 text-ink border-deep pl-3">
          {words.recipes.kept}{" "}
          {Object.entries(take.data.ids).map(([was, now]) => {
            const entry = names.get(was);
            return (
              <Link key={was} className="mr-4 underline" to={entry?.product ? `/products/${now}` : `/recipes/${now}`}>
                {(entry?.product ?? entry?.recipe)?.name}
              </Link>
            );
          })}
        </p>
      )}
    </section>
  );
}

function Row({ entry, use, put }: { entry: IncomingEntry; use: Use; put: (use: Use) => void }) {
  const name = (entry.product ?? entry.recipe)?.name ?? entry.id;
  return (
    <li className="flex flex-wrap items-start gap-x-6 gap-y-1 py-2">
      <div className="min-w-0 grow basis-80">
        <b>{name}</b> <span className="text-s text-quiet">{entry.product ? "product" : "recipe"}</span>
        {entry.taken.map((says) => (
          <p key={says} className="text-s text-quiet">
            {says}
          </p>
        ))}
        {entry.questions.map((q) => (
          <p key={q.field} className="text-s">
            <b>{q.asks}</b> {words.recipes.itIsKeptAsNotKnown}
          </p>
        ))}
        {entry.near && (
          <p className="text-s">
            {entry.near.same ? words.recipes.theSameIsHereAlready : words.recipes.nearlyTheSameIsHere}
            <b>{entry.near.name}</b>
            {entry.near.differences.map((d) => (
              <span key={`${d.what}-${d.one}-${d.other}`} className="block text-quiet">
                {words.recipes.differsHereAndInTheFile(d.what, d.one, d.other)}
              </span>
            ))}
          </p>
        )}
      </div>
      <select aria-label={words.recipes.whatToDoWith(name)} value={use} onChange={(e) => put(e.target.value as Use)}>
        <option value="new">{words.recipes.keepItAsNew}</option>
        {entry.near && <option value="here">{words.recipes.useTheOneThatIsHere}</option>}
        <option value="leave">{words.recipes.leaveItOut}</option>
      </select>
    </li>
  );
}
