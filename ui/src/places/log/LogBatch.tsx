import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import type { BatchView, EventRecord, Picture } from "../../api/client";
import { batchQuery } from "../../api/queries";
import { Section } from "../../food/Section";
import { DryingChart } from "../../kit/charts/DryingChart";
import { Fig } from "../../kit/Fig";
import { day, minutes, restsOn, time } from "../../kit/format";
import { Pictures } from "../../kit/Pictures";
import { Trouble, Waiting } from "../../kit/States";
import { words } from "../../words";
import { Diagnosis } from "./Diagnosis";
import { Traces } from "./Traces";

/** One batch with everything in it. */
export default function LogBatch() {
  const { id = "" } = useParams();
  const { data, error, refetch } = useQuery(batchQuery(id));
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.log.theBatch} />;
  const { sheet, state } = data;
  const outcome = state.finished;
  const taken = new Set(data.events.flatMap((e) => (e.event.takes_back ? [e.event.takes_back] : [])));
  return (
    <div className="mx-auto w-full max-w-[1500px] px-4 py-4 md:px-6">
      <p className="text-s text-quiet">
        <Link className="underline" to="/log">
          {words.log.log}
        </Link>{" "}
        · {day(data.started_at)}, {time(data.started_at)}
        {data.recipe_id && (
          <>
            {" "}
            ·{" "}
            <Link className="underline" to={`/recipes/${data.recipe_id}`}>
              {words.log.recipe2}
            </Link>{" "}
            {words.log.asItWasAtVersion} {data.recipe_version}
          </>
        )}
      </p>
      <div className="flex flex-wrap items-baseline justify-between gap-4">
        <h1 className="text-l">{data.name}</h1>
        <span className="flex gap-4 text-s">
          <a
            className="inline-flex min-h-11 items-center underline"
            href={`/api/files/batches/${data.id}/record`}
            target="_blank"
            rel="noreferrer"
          >
            {words.log.recordAsPdf}
          </a>
          <a className="inline-flex min-h-11 items-center underline" href={`/api/files/batches/${data.id}/record.csv`}>
            {words.log.asCsv}
          </a>
        </span>
        {!outcome && (
          <Link className="press press-first" to={`/bench/${data.id}`}>
            {words.log.stillUnderWayToTheBench}
          </Link>
        )}
      </div>
      <p className="text-m">
        {sheet.says}
        {outcome && (
          <>
            {" "}
            {words.log.cameOut} <b>{outcome.texture}</b>
            {outcome.colour && `, ${outcome.colour}`},{" "}
            <b>
              {outcome.score} {words.log.of5}
            </b>
            {outcome.pieces_good !== null && outcome.pieces_good !== undefined && words.log.good(outcome.pieces_good)}
            {outcome.keep && words.log.keptIn(outcome.keep)}
            {outcome.faults.length > 0 && (
              <>
                {" "}
                · <b>{outcome.faults.join(", ")}</b>
              </>
            )}
          </>
        )}
      </p>
      {outcome?.next_time && (
        <p className="mt-1 border-l-4 border-deep pl-3 text-m">
          <b>{words.log.nextTime}</b> {outcome.next_time}
        </p>
      )}
      <div className="mt-3">
        <Pictures batch={data.id} named={(picture) => called(data, picture)} />
      </div>
      <Diagnosis view={data} />
      <Strip view={data} />
      <div className="mt-4 grid gap-8 lg:grid-cols-2">
        <section aria-label={words.log.whatWasPlannedAndMeasured} className="flex min-w-0 flex-col gap-4">
          <div className="grid grid-cols-3 gap-x-6 gap-y-2">
            <Fig figure={sheet.weigh.figures.base} label={sheet.weigh.lines[0]?.name ?? ""} />
            <Fig figure={sheet.weigh.figures.ratio} label={words.log.sugarTo(restsOn(sheet))} />
            {sheet.dry ? (
              <Fig figure={sheet.dry.figures.time} label={words.log.ovenPlanned} />
            ) : (
              sheet.heat && <Fig figure={sheet.heat.figures.target} label={words.log.heatedToPlanned} />
            )}
          </div>
          {state.loss && (
            <p className="text-m">
              {words.log.theWeighedTrayLost} <b>{state.loss.lost_g.toFixed(0)} g</b>;{" "}
              {state.loss.predicted_g.toFixed(0)} {words.log.gWerePredicted}
              {(100 * state.loss.ratio).toFixed(0)} %).
            </p>
          )}
          <Traces id={data.id} />
          {sheet.dry && (
            <>
              <Section
                parts={sheet.dry.section}
                profiles={sheet.dry.drying.profiles}
                row={sheet.dry.drying.times_min.length - 1}
                label={words.log.onePieceCutThroughAsWorked}
                className="max-h-32 w-full"
              />
              <DryingChart
                width={600}
                drying={sheet.dry.drying}
                bars={sheet.dry.bars}
                at={sheet.dry.drying.heat_end_min}
                points={weighedPoints(data)}
              />
              {weighedPoints(data).length > 0 && (
                <p className="text-s text-quiet">{words.log.theCircleIsTheWeighedTray}</p>
              )}
            </>
          )}
        </section>
        <section aria-labelledby="entries" className="min-w-0">
          <h2 id="entries" className="text-m">
            {data.events.length} {words.log.entriesAsTheyWereMade}
          </h2>
          <ol className="mt-2 divide-y divide-hairline border-y border-hairline">
            {data.events.map((entry) => (
              <Entry key={entry.seq} entry={entry} view={data} taken={taken.has(entry.event.id)} />
            ))}
          </ol>
        </section>
      </div>
    </div>
  );
}

/** What a photograph is of: its check, its step, or how it came out. */
function called(view: BatchView, { step, check }: Picture): string {
  const at = view.process.steps.find((s) => s.key === step);
  return at?.checks.find((c) => c.key === check)?.asks ?? at?.title ?? words.pictures.atTheEnd;
}

/** The weighed tray as a point on the drying course, % of the foam on it. */
function weighedPoints(view: BatchView): { min: number; pct: number }[] {
  const foam = view.sheet.shape?.figures["tray-mass"]?.value;
  return view.state.loss && foam && view.sheet.dry
    ? [{ min: view.sheet.dry.drying.end_min, pct: (100 * view.state.loss.lost_g) / foam }]
    : [];
}

/** The batch as a strip of its steps, planned above and done below, on one line of minutes. */
function Strip({ view }: { view: BatchView }) {
  const steps = view.process.steps;
  const start = Date.parse(view.started_at);
  const ended = new Map(
    view.events
      .filter((e) => e.event.kind === "step done" && e.event.step)
      .map((e) => [e.event.step as string, (Date.parse(e.event.at) - start) / 60_000]),
  );
  let planned = 0;
  const plan = steps.map((s) => {
    const from = planned;
    planned += (s.low_min + s.high_min) / 2;
    return { key: s.key, title: s.title, from, until: planned, station: s.station };
  });
  let last = 0;
  const done = steps.flatMap((s) => {
    const until = ended.get(s.key);
    if (until === undefined) return [];
    const from = last;
    last = Math.max(last, until);
    return [{ key: s.key, title: s.title, from, until: last, station: s.station }];
  });
  const end = Math.max(planned, last, 1);
  const w = 1200;
  const x = (min: number) => (min / end) * w;
  const tone: Record<string, number> = {
    weigh: 0.35,
    sugar: 0.5,
    heat: 0.95,
    whisk: 0.65,
    shape: 0.8,
    dry: 0.25,
    finish: 0.9,
  };
  return (
    <svg
      viewBox={`0 0 ${w} 78`}
      className="mt-3 w-full"
      role="img"
      aria-label={words.log.plannedFromFirstStepToLast(minutes(planned), minutes(last))}
    >
      {[plan, done].map((row, r) =>
        row.map((s) => (
          <rect
            key={`${r}-${s.key}`}
            x={x(s.from)}
            y={8 + r * 26}
            width={Math.max(1, x(s.until) - x(s.from) - 1)}
            height="20"
            fill={r === 0 ? "none" : s.station === "dry" ? "var(--color-water)" : "var(--color-deep)"}
            fillOpacity={r === 0 ? 0 : (tone[s.station] ?? 0.5) + 0.1}
            stroke="var(--color-deep)"
            strokeWidth="1"
          >
            <title>
              {s.title}: {minutes(s.until - s.from)}
            </title>
          </rect>
        )),
      )}
      <text x="4" y="74" fontSize="15" fill="var(--color-quiet)">
        {words.log.plannedAboveDoneBelow} {minutes(planned)} {words.log.and} {minutes(last)}
      </text>
    </svg>
  );
}

function Entry({ entry, view, taken }: { entry: EventRecord; view: BatchView; taken: boolean }) {
  const { event } = entry;
  const step = view.process.steps.find((s) => s.key === event.step);
  const ask = step?.asks.find((a) => a.key === event.name);
  const check = step?.checks.find((c) => c.key === event.name);
  const known = view.process.watches.flatMap((w) => w.probes).find((p) => p.key === event.thermometer);
  const thermometer = known?.name ?? (event.thermometer || "a thermometer");
  const says: Record<typeof event.kind, string> = {
    "step done": words.log.done(step?.title ?? event.step),
    "timer started": words.log.timer(minutes(event.minutes ?? 0), step?.title ?? ""),
    "timer stopped": words.log.timerStopped(step?.title ?? ""),
    reading: `${ask?.asks ?? event.name}: ${event.value} ${ask?.unit ?? ""}${event.thermometer ? `, ${thermometer}` : ""}`,
    check: `${check?.asks ?? event.name} ${event.passed ? "passed" : words.log.notYet}`,
    note: `“${event.text}”`,
    "set aside": words.log.setAside(thermometer, event.text),
    recalled: words.log.addedAfterwards(
      (event.name ?? "").replaceAll("-", " "),
      event.text || (event.passed ?? event.value),
    ),
    "taken back": "the entry before was taken back",
    finished: "finished",
    abandoned: words.log.abandoned(event.text),
  };
  const late = (Date.parse(entry.received_at) - Date.parse(event.at)) / 60_000;
  return (
    <li className="grid grid-cols-[3.5rem_1fr] gap-3 py-1.5">
      <span className="text-s text-quiet">{time(event.at)}</span>
      <span className="min-w-0">
        <span className={taken ? "line-through" : ""}>{says[event.kind]}</span>
        {taken && <b className="text-s"> {words.log.takenBack}</b>}
        <span className="block text-s text-quiet">
          {[event.cook, event.device].filter(Boolean).join(", ")}
          {late > 2 && late < 60 * 24 && words.log.arrivedLater(minutes(late))}
        </span>
      </span>
    </li>
  );
}
