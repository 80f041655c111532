import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { scaleLinear } from "d3-scale";
import { useState } from "react";
import { answer, type Fit, http, type KitchenRecord, Refused } from "../../api/client";
import { fitsQuery, kitchenQuery } from "../../api/queries";
import { useDegrees } from "../../kit/degrees";
import { day } from "../../kit/format";
import { fixed } from "../../kit/numbers";
import { words } from "../../words";

/** How the figures of a fit are said: temperatures, and how far apart they are, in the kitchen's degrees. */
function useFigures() {
  const degrees = useDegrees();
  const bare = (fit: Fit, value: number) =>
    fit.unit !== "°C"
      ? fixed(value, fit.digits)
      : fit.what === "room_c"
        ? degrees.of(value, "°C", fit.digits).number
        : degrees.sign === "°F"
          ? fixed(1.8 * value, fit.digits)
          : fixed(value, fit.digits);
  return {
    bare,
    figure: (fit: Fit, value: number) => `${bare(fit, value)} ${fit.unit === "°C" ? degrees.sign : fit.unit}`.trim(),
    apart: (fit: Fit, value: number) =>
      fit.unit === "°C" && !fit.what.endsWith("_per_min")
        ? degrees.apart(value)
        : fit.what.endsWith("rh_pct")
          ? `${fixed(value, 1)}\u00a0%`
          : `${fixed(value)}\u00a0%`,
  };
}

/** What the log has learned of this kitchen: offered, used, put back; never applied by itself. */
export function Learned() {
  const { bare, figure, apart } = useFigures();
  const queries = useQueryClient();
  const { data } = useQuery(fitsQuery);
  const [passed, setPassed] = useState<string[]>([]);
  const act = useMutation({
    mutationFn: ({ way, what }: { way: "accept" | "undo"; what: string }) =>
      answer<KitchenRecord>(
        http.POST(way === "accept" ? "/api/kitchen/fits/accept" : "/api/kitchen/fits/undo", {
          params: { header: { "if-match": `"${data?.version}"` } },
          body: { what },
        }),
      ),
    onSuccess: (made) => {
      queries.setQueryData(kitchenQuery.queryKey, made);
      for (const key of ["fits", "recipes", "recipe", "products", "product", "sheet", "worked"])
        void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  if (!data) return null;
  const offered = data.fits.filter((f) => f.worth && !f.learned);
  const taken = data.fits.filter((f) => f.learned);
  const same = data.fits.filter((f) => !f.worth && !f.learned);
  const refused = act.error instanceof Refused ? act.error : undefined;
  const left = offered.filter((f) => !passed.includes(f.what));
  const shown = left[0] ?? offered[0];
  return (
    <section aria-labelledby="learned" className="mt-3 min-w-0">
      <h2 id="learned" className="sr-only">
        {words.kitchen.whatTheLogSaysOfThis}
      </h2>
      {refused && (
        <p role="alert" className="my-2 border-l-4 border-deep pl-3 text-s">
          {refused.errors[0]?.says ?? refused.message}
        </p>
      )}
      {data.fits.length === 0 && data.pending === 0 && (
        <p className="py-2 text-s">{words.kitchen.nothingYetItTakesThreeBatches}</p>
      )}
      {shown && (
        <article
          aria-label={shown.name}
          className="grid items-center gap-x-8 gap-y-3 rounded-panel border border-hairline bg-surface p-4 md:grid-cols-[minmax(0,1fr)_auto]"
        >
          <div className="min-w-0">
            <p className="text-s text-quiet">{words.kitchen.theLogSuggests}</p>
            <h3 className="text-[1.5rem] leading-tight">{shown.says}</h3>
            <p className="text-m">
              {shown.means} <Changes what={shown.what} version={data.version} />
            </p>
            <p className="text-s text-quiet">
              {bare(shown, shown.low)} {words.kitchen.to} {figure(shown, shown.high)} {words.kitchen.by3}{" "}
              {shown.batches.length} {words.kitchen.batches}
              {shown.left_out.length > 0 && words.kitchen.farOff(shown.left_out.length)}
              {words.kitchen.predictionsWere} {apart(shown, shown.error_before)} {words.kitchen.offWithThisTheyWouldBe}{" "}
              {apart(shown, shown.error_after)} {words.kitchen.off}
            </p>
          </div>
          <div className="flex flex-col gap-2 md:w-72">
            <Dots fit={shown} />
            <div className="flex gap-2">
              <button
                type="button"
                className="press press-first grow"
                disabled={act.isPending}
                onClick={() => act.mutate({ way: "accept", what: shown.what })}
              >
                {words.kitchen.useThis}
              </button>
              <button
                type="button"
                className="press"
                disabled={offered.length < 2}
                onClick={() => setPassed(left.length > 1 ? [...passed, shown.what] : [])}
              >
                {words.kitchen.notNow}
              </button>
            </div>
            <p className="text-s text-quiet">{words.kitchen.moreSuggestions(offered.length - 1)}</p>
          </div>
        </article>
      )}
      <div className="flex flex-wrap items-start gap-x-8 text-s">
        {data.pending > 0 && (
          <p role="status" className="py-3 text-quiet">
            {data.pending} {words.kitchen.moreBatchesAreBeingLookedAt}
          </p>
        )}
        {taken.length > 0 && (
          <details className="min-w-0 py-1">
            <summary className="min-h-11 cursor-pointer content-center underline">
              {words.kitchen.inUseFromTheLog(taken.length)}
            </summary>
            <ul>
              {taken.map((fit) => (
                <li
                  key={fit.what}
                  className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hairline py-2"
                >
                  <span className="min-w-0 grow">
                    <b>{fit.name}</b>{" "}
                    <s className="text-quiet">
                      {typeof fit.learned?.before === "string"
                        ? fit.learned.before
                        : bare(fit, Number(fit.learned?.before))}
                    </s>{" "}
                    →{" "}
                    <b>
                      {typeof fit.learned?.now === "string" ? fit.learned.now : figure(fit, Number(fit.learned?.now))}
                    </b>
                    {words.kitchen.inUseSince} {day(fit.learned?.at ?? "")}
                  </span>
                  <button
                    type="button"
                    className="press"
                    aria-label={words.kitchen.putBackNamed(fit.name)}
                    disabled={act.isPending}
                    onClick={() => act.mutate({ way: "undo", what: fit.what })}
                  >
                    {words.kitchen.putBack}
                  </button>
                </li>
              ))}
            </ul>
          </details>
        )}
        {same.length > 0 && (
          <details className="py-1 text-s">
            <summary className="min-h-11 cursor-pointer content-center underline">
              {words.kitchen.asSetAlreadyOrTooFew} {same.length}
            </summary>
            <ul>
              {same.map((fit) => (
                <li key={fit.what} className="py-1">
                  {fit.name}: {figure(fit, fit.now)}
                  {words.kitchen.theLogHas} {bare(fit, fit.low)} {words.kitchen.to} {bare(fit, fit.high)},{" "}
                  {fit.batches.length} {words.kitchen.batches}
                </li>
              ))}
            </ul>
          </details>
        )}
      </div>
    </section>
  );
}

/** What it would change in a recipe it was learned from. */
function Changes({ what, version }: { what: string; version: number }) {
  const { data } = useQuery({
    queryKey: ["fits", "effect", what, version],
    queryFn: () => answer(http.GET("/api/kitchen/fits/effect", { params: { query: { what } } })),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  return data?.says ? <b>{data.says}</b> : null;
}

/** Each batch a dot on one line, the interval a bar, what is in force a tick. */
function Dots({ fit }: { fit: Fit }) {
  const { bare } = useFigures();
  const all = [...fit.values, fit.now, fit.low, fit.high];
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const x = scaleLinear([low, high === low ? low + 1 : high], [8, 168]);
  const far = new Set(fit.left_out);
  return (
    <svg
      viewBox="0 0 176 38"
      className="h-10 w-full"
      role="img"
      aria-label={words.kitchen.batchesFromToInForce(
        fit.batches.length,
        bare(fit, Math.min(...fit.values)),
        bare(fit, Math.max(...fit.values)),
        bare(fit, fit.now),
      )}
    >
      <line x1="4" x2="172" y1="20" y2="20" stroke="var(--color-hairline)" />
      <rect
        x={x(fit.low)}
        y="13"
        width={Math.max(2, x(fit.high) - x(fit.low))}
        height="14"
        fill="var(--color-water)"
        opacity="0.35"
      />
      {fit.values.map((v, i) => (
        <circle
          key={fit.batches[i]}
          cx={x(v)}
          cy="20"
          r="4"
          fill={far.has(fit.batches[i] ?? "") ? "none" : "currentColor"}
          fillOpacity="0.55"
          stroke="currentColor"
          strokeWidth={far.has(fit.batches[i] ?? "") ? 1.5 : 0}
        />
      ))}
      <line x1={x(fit.now)} x2={x(fit.now)} y1="4" y2="36" stroke="currentColor" strokeWidth="2.5" />
    </svg>
  );
}
