import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { scaleLinear } from "d3-scale";
import { answer, type Fit, http, type KitchenRecord, Refused } from "../../api/client";
import { fitsQuery, kitchenQuery } from "../../api/queries";
import { useDegrees } from "../../kit/degrees";
import { day } from "../../kit/format";
import { words } from "../../words";

/** How the figures of a fit are said: temperatures, and how far apart they are, in the kitchen's degrees. */
function useFigures() {
  const degrees = useDegrees();
  const bare = (fit: Fit, value: number) =>
    fit.unit !== "°C"
      ? value.toFixed(fit.digits)
      : fit.what === "room_c"
        ? degrees.of(value, "°C", fit.digits).number
        : degrees.sign === "°F"
          ? (1.8 * value).toFixed(fit.digits)
          : value.toFixed(fit.digits);
  return {
    bare,
    figure: (fit: Fit, value: number) => `${bare(fit, value)} ${fit.unit === "°C" ? degrees.sign : fit.unit}`.trim(),
    apart: (fit: Fit, value: number) =>
      fit.unit === "°C" && !fit.what.endsWith("_per_min")
        ? degrees.apart(value)
        : fit.what.endsWith("rh_pct")
          ? `${value.toFixed(1)}\u00a0%`
          : `${value.toFixed(0)}\u00a0%`,
  };
}

/** What the log has learned of this kitchen: offered, used, put back; never applied by itself. */
export function Learned() {
  const { bare, figure, apart } = useFigures();
  const queries = useQueryClient();
  const { data } = useQuery(fitsQuery);
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
  return (
    <section aria-labelledby="learned" className="mt-2 min-w-0">
      <h2 id="learned" className="border-b border-deep text-m">
        {words.kitchen.whatTheLogSaysOfThis}
      </h2>
      {data.pending > 0 && (
        <p role="status" className="py-1 text-s text-quiet">
          {data.pending} {words.kitchen.moreBatchesAreBeingLookedAt}
        </p>
      )}
      {refused && (
        <p role="alert" className="my-2 border-l-4 border-deep pl-3 text-s">
          {refused.errors[0]?.says ?? refused.message}
        </p>
      )}
      {data.fits.length === 0 && data.pending === 0 && (
        <p className="py-2 text-s">{words.kitchen.nothingYetItTakesThreeBatches}</p>
      )}
      <ul className="grid gap-x-10 lg:grid-cols-2">
        {[...offered, ...taken].map((fit) => (
          <li
            key={fit.what}
            className="grid items-center gap-x-3 gap-y-1 border-b border-hairline py-1.5 sm:grid-cols-[minmax(0,1fr)_8.5rem_6.6rem]"
          >
            <div className="min-w-0">
              <h3 className="text-s font-bold">{fit.name}</h3>
              <p className="text-s">
                {typeof fit.sets === "string" ? (
                  <>
                    {figure(fit, fit.value)}
                    {words.kitchen.like} <b>{fit.sets}</b>
                  </>
                ) : fit.learned ? (
                  <>
                    <s className="text-quiet">{bare(fit, Number(fit.learned.before))}</s> →{" "}
                    <b>{figure(fit, Number(fit.learned.now))}</b>
                    {words.kitchen.inUseSince} {day(fit.learned.at)}
                  </>
                ) : (
                  <>
                    {figure(fit, fit.now)} → <b>{figure(fit, fit.value)}</b>
                  </>
                )}{" "}
              </p>
              <p className="text-s text-quiet">
                {bare(fit, fit.low)} {words.kitchen.to} {bare(fit, fit.high)} {words.kitchen.by3} {fit.batches.length}{" "}
                {words.kitchen.batches}
                {fit.left_out.length > 0 && words.kitchen.farOff(fit.left_out.length)}
                {words.kitchen.predictionsWere} {apart(fit, fit.error_before)} {words.kitchen.offWithThisTheyWouldBe}{" "}
                {apart(fit, fit.error_after)} {words.kitchen.off}
              </p>
            </div>
            <Dots fit={fit} />
            {fit.learned ? (
              <button
                type="button"
                className="press"
                disabled={act.isPending}
                onClick={() => act.mutate({ way: "undo", what: fit.what })}
              >
                {words.kitchen.putBack}
              </button>
            ) : (
              <button
                type="button"
                className="press press-first"
                disabled={act.isPending}
                onClick={() => act.mutate({ way: "accept", what: fit.what })}
              >
                {words.kitchen.useThis}
              </button>
            )}
          </li>
        ))}
      </ul>
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
    </section>
  );
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
