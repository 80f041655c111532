import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import type { BatchView, EventRecord, Picture } from "../../api/client";
import { batchQuery } from "../../api/queries";
import { Section } from "../../food/Section";
import { DryingChart } from "../../kit/charts/DryingChart";
import { Fig } from "../../kit/Fig";
import { day, minutes, restsOn, time } from "../../kit/format";
import { fixed } from "../../kit/numbers";
import { Pictures } from "../../kit/Pictures";
import { Trouble, Waiting } from "../../kit/States";
import { words } from "../../words";
import { Diagnosis } from "./Diagnosis";
import { Strips } from "./Strips";
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
      <div className="flex flex-wrap justify-between gap-x-8 gap-y-3">
        <div className="min-w-0">
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
                {outcome.pieces_good !== null &&
                  outcome.pieces_good !== undefined &&
                  words.log.good(outcome.pieces_good)}
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
        </div>
        <div>
          <Pictures batch={data.id} named={(picture) => called(data, picture)} />
        </div>
      </div>
      <Diagnosis view={data} />
      <div className="mt-3">
        <Strips batches={[data]} named={false} />
      </div>
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
              {words.log.theWeighedTrayLost} <b>{fixed(state.loss.lost_g)} g</b>; {fixed(state.loss.predicted_g)}{" "}
              {words.log.gWerePredicted}
              {fixed(100 * state.loss.ratio)} %).
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
