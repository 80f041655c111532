import { useMutation, useQueryClient } from "@tanstack/react-query";
import { answer, type BatchTraces, type BatchView, http, Refused, type Timer } from "../../api/client";
import { Section } from "../../food/Section";
import { DryingChart } from "../../kit/charts/DryingChart";
import { clock, minutes, time } from "../../kit/format";
import { fixed, weight } from "../../kit/numbers";
import { useNow } from "../../kit/useNow";
import { words } from "../../words";
import { Live } from "./Live";

/** Beside the one thing: timers, the picture that belongs to the step, what comes after, what was recorded. */
export function Side({ view, traces }: { view: BatchView; traces: BatchTraces | undefined }) {
  const now = useNow();
  const { state, process, sheet } = view;
  const at = process.steps.findIndex((s) => s.key === state.current);
  const step = process.steps[at];
  const next = at < 0 ? [] : process.steps.slice(at + 1, at + 4);
  const dry = step?.station === "dry" && step.key !== "oven-on" ? sheet.dry : null;
  const trays = trayMinutes(view, now);
  const amounts = state.readings.filter(
    (r, i) => r.name.startsWith("amount-") && state.readings.findLastIndex((o) => o.name === r.name) === i,
  );
  const followed = step?.watch && step.watch !== "oven" ? step : undefined;
  return (
    <section
      className="flex min-w-0 flex-col gap-5 border-l border-hairline p-4 md:p-7"
      aria-label={words.bench.timersPictureAndWhatComesAfter}
    >
      {state.timers.length > 0 && (
        <ul className="flex flex-col gap-2">
          {state.timers.map((timer) => (
            <TimerLine key={timer.step} timer={timer} now={now} />
          ))}
        </ul>
      )}
      {followed ? (
        <Live view={view} step={followed} traces={traces} />
      ) : dry ? (
        <div className="flex flex-col gap-2">
          <p className="text-s text-quiet">
            {words.bench.whatThePiecesShouldBeNow}
            {trays === null ? words.bench.asPlanned : ""}
            {state.loss && (
              <b className="text-ink">
                {" "}
                {words.bench.theWeighedTrayLost} {fixed(state.loss.lost_g)} g, {fixed(state.loss.predicted_g)}{" "}
                {words.bench.gPredicted}
              </b>
            )}
          </p>
          <Section
            parts={dry.section}
            profiles={dry.drying.profiles}
            row={rowAt(dry.drying.times_min, trays ?? dry.drying.heat_end_min)}
            label={words.bench.onePieceCutThroughAsIt}
            className="max-h-32 w-full"
          />
          <DryingChart
            width={600}
            drying={dry.drying}
            bars={dry.bars}
            at={Math.min(trays ?? dry.drying.heat_end_min, dry.drying.end_min)}
          />
          {step?.watch === "oven" && <Live view={view} step={step} traces={traces} />}
        </div>
      ) : (
        <Weights view={view} />
      )}
      {next.length > 0 && (
        <ol className="grid gap-4 border-t border-hairline pt-3 md:grid-cols-3">
          {next.map((s, i) => (
            <li key={s.key} className="min-w-0">
              <span className="text-s text-quiet">{i === 0 ? "then" : words.bench.afterThat}</span>
              <b className="block text-m">{s.title}</b>
              <span className="text-s text-quiet">
                {s.low_min === s.high_min ? minutes(s.low_min) : `${minutes(s.low_min)} to ${minutes(s.high_min)}`}
              </span>
            </li>
          ))}
        </ol>
      )}
      {state.must_be_ready.length > 0 && (
        <p className="text-m">
          <span className="text-s text-quiet">{words.bench.haveReadyNext} </span>
          <b>{state.must_be_ready.join(", ")}</b>
        </p>
      )}
      {amounts.map((used) => (
        <Used key={used.name} view={view} used={used} />
      ))}
      <Recorded view={view} />
    </section>
  );
}

const rowAt = (times: readonly number[], to: number) =>
  times.reduce((best, t, i) => (Math.abs(t - to) < Math.abs((times[best] as number) - to) ? i : best), 0);

/** Minutes the trays have been in, or null before. */
function trayMinutes(view: BatchView, now: number): number | null {
  const heats = view.process.steps.filter((s) => s.key.startsWith("oven-") && s.key !== "oven-on");
  const first = heats[0]?.key;
  const began =
    view.events.find((e) => e.event.step === first && e.event.kind === "timer started") ??
    view.events.find((e) => e.event.step === "shape" && e.event.kind === "step done");
  return began ? Math.max(0, (now - Date.parse(began.event.at)) / 60_000) : null;
}

function TimerLine({ timer, now }: { timer: Timer; now: number }) {
  const left = (Date.parse(timer.started) + timer.minutes * 60_000 - now) / 1000;
  const due = left <= 60;
  return (
    <li className={`border-l-8 py-1 pl-4 ${due ? "border-bill" : "border-hairline"}`}>
      <div
        className="flex flex-wrap items-baseline justify-between gap-x-4"
        role="timer"
        aria-label={`${timer.title}: ${left > 0 ? words.bench.minutesLeft(Math.ceil(left / 60)) : words.bench.lookNow}`}
      >
        <span className="min-w-0 text-m">{timer.title}</span>
        <span className="text-l font-bold">
          {left > 0 ? clock(left) : words.bench.lookNowLate(minutes(-left / 60))}
        </span>
        <span className="w-full text-s text-quiet">
          {words.bench.started} {time(timer.started)}, {minutes(timer.minutes)} {words.bench.inAll2}
        </span>
      </div>
    </li>
  );
}

/** The list to weigh, in large type, while it is being weighed and whisked. */
function Weights({ view }: { view: BatchView }) {
  return (
    <table className="w-full text-left">
      <caption className="mb-1 text-left text-s text-quiet">
        {view.sheet.says} · {view.sheet.mixer}, {view.sheet.oven}
      </caption>
      <tbody>
        {view.sheet.weigh.lines.map((line) => (
          <tr key={`${line.key}-${line.moment}`} className="border-b border-hairline">
            <th scope="row" className="py-1.5 text-m font-normal">
              {line.name}
              {line.moment === "folded last" && <span className="text-s text-quiet"> {words.bench.foldedLast}</span>}
            </th>
            <td className="text-right">
              <span className="text-l font-bold">{line.mass_g === null ? "?" : weight(line.mass_g)}</span>
              <span className="text-s">
                {" "}
                {line.mass_g === null ? words.bench.recordWhatYouUse(line.written || words.bench.notKnown) : "g"}
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** An amount the recipe did not know, as it was used; kept in the recipe on a word. */
function Used({ view, used }: { view: BatchView; used: BatchView["state"]["readings"][number] }) {
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: () =>
      answer(
        http.POST("/api/batches/{batch_id}/amount", {
          params: { path: { batch_id: view.id } },
          body: { name: used.name },
        }),
      ),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["recipes"] }),
  });
  return (
    <p className="flex flex-wrap items-center gap-x-4 border-t border-hairline pt-3">
      <span className="text-m">
        {used.asks}: <b>{used.value} g</b>
      </span>
      {keep.data ? (
        <span role="status" className="text-s">
          {words.bench.keptInVersion} {keep.data.version} {words.bench.ofTheRecipe}
        </span>
      ) : (
        view.recipe_id && (
          <button type="button" className="press min-h-14" disabled={keep.isPending} onClick={() => keep.mutate()}>
            {words.bench.keepInTheRecipe}
          </button>
        )
      )}
      {keep.error && (
        <span role="alert" className="w-full text-s">
          {keep.error instanceof Refused ? (keep.error.errors[0]?.says ?? keep.error.message) : keep.error.message}
        </span>
      )}
    </p>
  );
}

/** What was recorded, newest first. */
function Recorded({ view }: { view: BatchView }) {
  const { readings, checks, notes } = view.state;
  if (readings.length + checks.length + notes.length === 0) return null;
  return (
    <div className="border-t border-hairline pt-3">
      <h2 className="text-s text-quiet">{words.bench.recorded}</h2>
      <ul className="flex flex-col gap-1 text-s">
        {[...readings]
          .reverse()
          .slice(0, 5)
          .map((r) => (
            <li key={r.event}>
              {time(r.at)} {r.asks}:{" "}
              <b>
                {r.value} {r.unit}
              </b>
              {r.expected !== null && r.expected !== undefined && words.bench.expected(Math.round(r.expected))}
              {r.within === false && <b> {words.bench.outsideItsBand}</b>}
            </li>
          ))}
        {[...checks]
          .reverse()
          .slice(0, 4)
          .map((c) => (
            <li key={c.event}>
              {time(c.at)} {c.asks} <b>{c.passed ? "passed" : words.bench.notYet4}</b>
            </li>
          ))}
        {notes.slice(-3).map((note) => (
          <li key={note}>“{note}”</li>
        ))}
      </ul>
    </div>
  );
}
