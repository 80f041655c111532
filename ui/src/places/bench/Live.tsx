import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { answer, type BatchTraces, type BatchView, http, type Step, type Watching } from "../../api/client";
import { record } from "../../api/outbox";
import { devicesQuery, tracesQuery } from "../../api/queries";
import { speak } from "../../kit/aloud";
import { beep } from "../../kit/beep";
import { Trace } from "../../kit/charts/Trace";
import { useDegrees } from "../../kit/degrees";
import { event } from "../../kit/event";
import { Choice } from "../../kit/Field";
import { clock } from "../../kit/format";
import { fixed } from "../../kit/numbers";
import { words } from "../../words";

/** The traces of a batch, kept up while something is followed. */
export function useTraces(view: BatchView): BatchTraces | undefined {
  const followed = view.process.watches.length > 0 && !view.state.finished && !view.state.abandoned;
  return useQuery({ ...tracesQuery(view.id), refetchInterval: followed ? 1500 : false }).data;
}

/** What is followed at a step: the figure now, what is predicted, and what needs hands. */
export function Live({ view, step, traces }: { view: BatchView; step: Step; traces: BatchTraces | undefined }) {
  const watch = view.process.watches.find((w) => w.key === step.watch);
  const watching = traces?.watchings.find((w) => w.watch === step.watch);
  if (!watch) return null;
  return (
    <section aria-label={watch.title} className="flex min-w-0 flex-col gap-3">
      {/* As high with a reading as without, and what is pressed above what grows: nothing moves from under a finger. */}
      <div className="min-h-22">
        {watching && watching.readings > 0 ? (
          <Now watching={watching} />
        ) : (
          <p className="text-m">
            <b>{words.bench.noReadingYet}</b> {words.bench.attachAProbeOrTypeWhat}
          </p>
        )}
      </div>
      <Attach view={view} step={step} traces={traces} />
      {watching && <Trace watching={watching} />}
      {watching?.treatment && traces && <Treated watching={watching} egg={traces.egg} />}
      {watching && !watching.ended && <SetAside view={view} step={step} watching={watching} />}
      {watching?.cooling && <p className="text-m">{watching.cooling.says}</p>}
    </section>
  );
}

/** A rate of less than a tenth of a degree is none. */
const rate = (kelvin: number) => (Math.abs(kelvin) < 0.05 ? 0 : kelvin);

function Now({ watching: w }: { watching: Watching }) {
  const degrees = useDegrees();
  const target = w.milestones.find((m) => m.key === "target");
  const half =
    target?.low_s !== null && target?.low_s !== undefined && target.high_s !== null && target.high_s !== undefined
      ? (target.high_s - target.low_s) / 2
      : null;
  const bits = [
    w.brix_pct !== null && w.brix_pct !== undefined && words.bench.sugar(fixed(w.brix_pct)),
    w.water_to_go_g !== null &&
      w.water_to_go_g !== undefined &&
      !w.reached &&
      words.bench.gWaterToGo(fixed(w.water_to_go_g)),
    w.power_w &&
      words.bench.thisBurnerGivesThePanAbout(
        fixed(w.power_w[0] as number),
        fixed(w.power_w[1] as number),
        fixed(w.power_w[2] as number),
      ),
    w.rate_k_min !== null &&
      w.rate_k_min !== undefined &&
      w.kind !== "syrup" &&
      words.bench.aMinute(rate(w.rate_k_min) > 0 ? "+" : "", degrees.apart(rate(w.rate_k_min))),
    w.offset_says,
  ].filter(Boolean);
  return (
    <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
      <p>
        <span className="font-name text-[4rem] leading-none font-semibold" data-testid="now">
          {w.latest_c === null || w.latest_c === undefined
            ? "–"
            : degrees.sign === "°C"
              ? fixed(w.latest_c, 1)
              : degrees.figure(w.latest_c)}
        </span>
        <span className="text-m"> {degrees.sign}</span>
        {w.latest_g !== null && w.latest_g !== undefined && (
          <span className="ml-4 text-m font-bold">
            {fixed(w.latest_g)} {words.bench.gOnTheScale}
          </span>
        )}
      </p>
      {target?.at_s !== null && target?.at_s !== undefined && !w.reached && !w.ended && (
        <p className="text-m">
          {words.bench.reachedIn} <b>{clock(target.at_s - w.now_s)}</b>
          {half !== null && (
            <span className="text-quiet"> ± {half < 90 ? `${fixed(half)} s` : words.bench.min(fixed(half / 60))}</span>
          )}
        </p>
      )}
      <p className="w-full text-s text-quiet">{bits.join(" · ")}</p>
    </div>
  );
}

/** What may be said of a batch's egg. */
export function Egg({ egg, soFar }: { egg: BatchTraces["egg"]; soFar?: boolean }) {
  return (
    <>
      <b>
        {words.bench.egg}
        {soFar ? words.bench.soFar : ""}: {egg.label}.
      </b>{" "}
      {egg.because}.
    </>
  );
}

function Treated({ watching, egg }: { watching: Watching; egg: BatchTraces["egg"] }) {
  const degrees = useDegrees();
  const t = watching.treatment;
  if (!t) return null;
  return (
    <p className="border-t border-hairline pt-2 text-s">
      <Egg egg={egg} soFar /> {egg.because !== t.because && words.bench.inTheBowl(t.label, t.because)}
      {words.bench.worth}{" "}
      {t.equivalent_min < 0.01 ? "0" : t.equivalent_min > 99 ? "over 99" : t.equivalent_min.toPrecision(2)}{" "}
      {words.bench.minAt} {degrees.show(t.reference_c)} ({t.reference})
      {t.hold_left_min !== null &&
        t.hold_left_min !== undefined &&
        t.hold_left_min > 0 &&
        t.hold_left_min < 600 &&
        words.bench.minStillToHoldAtThis(fixed(t.hold_left_min, 1))}
      .{" "}
      {t.code_kept
        ? words.bench.for17SWasRead(degrees.show(68))
        : t.code_served
          ? words.bench.for15SWasReadFor(degrees.show(63))
          : ""}{" "}
      {words.bench.localFoodSafetyRulesComeFirst}
      {t.unknown_s > 0 && words.bench.withoutReadingsDoNotCount(clock(t.unknown_s))}
    </p>
  );
}

const REASONS = [
  "it lost contact",
  "it was out of the mixture",
  "it read the wall of the bowl",
  "it is broken or its battery is flat",
] as const;

/** Several thermometers in one mixture: the coldest counts. One that reads wrong is set aside with its reason, and the others show it anew. */
function SetAside({ view, step, watching }: { view: BatchView; step: Step; watching: Watching }) {
  const queries = useQueryClient();
  const used = watching.treatment?.thermometers ?? [];
  if (used.length < 2) return null;
  const put = async (thermometer: string, text: string) => {
    await record({ batch: view.id, event: event("set aside", { step: step.key, thermometer, text }) });
    await queries.invalidateQueries({ queryKey: ["traces", view.id] });
  };
  return (
    <div className="border-t border-hairline pt-2">
      <p className="text-s">
        {words.bench.theColdestOf} {used.length} {words.bench.thermometersCounts}
      </p>
      {used.map((t) => (
        <Choice
          key={t.key}
          label={words.bench.setAside(t.name || words.bench.theOneNotInKitchen)}
          value=""
          options={[["", words.bench.inUse], ...REASONS.map((r) => [r, r] as const)]}
          onChange={(why: string) => void put(t.key, why)}
        />
      ))}
    </div>
  );
}

/** Alarms in the order of their weight: what burns first. */
export function Alarms({ watching }: { watching: Watching | undefined }) {
  const alarms = watching?.alarms ?? [];
  const heard = useRef("");
  const said = useRef("");
  said.current = alarms.map((a) => [a.says, ...a.do].join(" ")).join(" ");
  const kinds = alarms.map((a) => a.kind).join();
  useEffect(() => {
    if (kinds && kinds !== heard.current) {
      beep(kinds.includes("over target"));
      speak(said.current);
    }
    heard.current = kinds;
  }, [kinds]);
  if (alarms.length === 0) return null;
  return (
    <ul className="mt-3 flex flex-col gap-2" aria-label={words.bench.alarms} aria-live="assertive">
      {alarms.map((alarm) => (
        <li key={alarm.kind} className={`border-l-8 py-1 pl-3 ${alarm.danger ? "border-spot" : "border-bill"}`}>
          <p className={`text-m font-bold ${alarm.danger ? "text-spot" : ""}`}>
            {alarm.danger && "Danger. "}
            {alarm.says}
          </p>
          {alarm.do.map((way) => (
            <p key={way} className="text-m">
              {way}
            </p>
          ))}
        </li>
      ))}
    </ul>
  );
}

/** Put a device to this step, or take it off. */
function Attach({ view, step, traces }: { view: BatchView; step: Step; traces: BatchTraces | undefined }) {
  const queries = useQueryClient();
  const devices = useQuery({ ...devicesQuery, refetchInterval: 4000 });
  const again = () => {
    void queries.invalidateQueries({ queryKey: ["devices"] });
    void queries.invalidateQueries({ queryKey: ["traces", view.id] });
  };
  const attach = useMutation({
    mutationFn: (id: string) =>
      answer(
        http.PUT("/api/devices/{device_id}/attachment", {
          params: { path: { device_id: id } },
          body: { batch_id: view.id, watch: step.watch as string },
        }),
      ),
    onSuccess: again,
  });
  const detach = useMutation({
    mutationFn: async (id: string) => {
      await http.DELETE("/api/devices/{device_id}/attachment", { params: { path: { device_id: id } } });
    },
    onSuccess: again,
  });
  const units = new Set(step.asks.filter((a) => a.trace).map((a) => a.unit));
  const fitting = (devices.data ?? []).filter(
    (d) => units.has(d.unit) && (d.kind === "oven") === (step.watch === "oven"),
  );
  const failure = attach.error ?? detach.error;
  return (
    <div className="border-t border-hairline pt-2">
      {fitting.length === 0 && <p className="text-s text-quiet">{words.bench.noDeviceIsPairedForThis}</p>}
      <ul className="flex flex-wrap gap-3">
        {fitting.map((device) => {
          const here = device.attachment?.batch_id === view.id && device.attachment.watch === step.watch;
          return (
            <li key={device.id}>
              <button
                type="button"
                className="press min-h-14"
                aria-pressed={here}
                disabled={attach.isPending || detach.isPending}
                onClick={() => (here ? detach.mutate(device.id) : attach.mutate(device.id))}
              >
                {here ? words.bench.detach(device.name) : words.bench.attach(device.name)}
              </button>
            </li>
          );
        })}
      </ul>
      {failure && (
        <p role="alert" className="mt-1 text-s text-spot">
          {failure.message}
        </p>
      )}
      {(traces?.doubted.length ?? 0) > 0 && (
        <details className="mt-2 text-s">
          <summary className="min-h-11 cursor-pointer">
            {traces?.doubted.length} {traces?.doubted.length === 1 ? words.bench.readingIs : words.bench.readingsAre}{" "}
            {words.bench.keptButNotCounted}
          </summary>
          <ul>
            {traces?.doubted.slice(-6).map((d) => (
              <li key={`${d.device}-${d.n}`}>
                {d.device}: {d.value} {d.unit}. {d.doubt}
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
