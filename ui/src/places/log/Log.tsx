import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { scaleLinear } from "d3-scale";
import { useDeferredValue, useState } from "react";
import { Link } from "react-router";
import type { BatchSummary, LogAsked, LogChoices, Picture } from "../../api/client";
import { logChoicesQuery, logQuery, picturesQuery } from "../../api/queries";
import { DateField } from "../../kit/DateField";
import { Choice, Labelled } from "../../kit/Field";
import { day, minutes } from "../../kit/format";
import { Looks } from "../../kit/Looks";
import { fixed } from "../../kit/numbers";
import { Room, Rooms, RoomTabs } from "../../kit/Rooms";
import { Empty, Trouble, Waiting } from "../../kit/States";
import { words } from "../../words";
import { Trend } from "./Trend";

const LONGEST_MIN = 240;
const MOST = 12;
/** Batches whose pictures are asked for at once. */
const MOST_PICTURES = 200;
type Card = Omit<BatchSummary, "steps_done" | "steps" | "current" | "timers" | "calls" | "now">;

const ROOMS = [
  ["list", words.log.batches3],
  ["trend", words.log.trend],
] as const;

/** Finished batches as thin strips, planned against done; some compared; or as a trend. */
export default function Log() {
  const [asked, setAsked] = useState<LogAsked>({});
  const [room, setRoom] = useState<(typeof ROOMS)[number][0]>("list");
  const wanted = useDeferredValue(asked);
  const { data, error, refetch, fetchNextPage, hasNextPage, isFetchingNextPage } = useInfiniteQuery(logQuery(wanted));
  const { data: choices } = useQuery(logChoicesQuery);
  const put = (change: LogAsked) => setAsked({ ...asked, ...change });
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.log.theLog} />;
  const batches = data.pages.flatMap((p) => p.batches);
  const count = data.pages[0]?.count ?? 0;
  return (
    <div className="mx-auto w-full max-w-[1500px] px-4 py-3 md:px-6">
      <Rooms open={room} go={setRoom}>
        <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
          <h1 className="text-l">{words.log.log}</h1>
          <RoomTabs label={words.log.roomsOfTheLog} rooms={ROOMS} />
          <span className="grow" />
          {choices && <Filters asked={asked} choices={choices} put={put} />}
        </div>
        <Room of="trend">
          <Trend asked={wanted} />
        </Room>
        <Room of="list">
          {count === 0 ? (
            <Empty title={words.log.noFinishedBatchHere}>
              {Object.values(asked).some(Boolean)
                ? words.log.nothingInTheLogFitsWhat
                : words.log.aBatchComesHereWhenYou}
            </Empty>
          ) : (
            <>
              <Found batches={batches} />
              <p className="flex items-center gap-4 py-2 text-s text-quiet">
                {batches.length} {words.log.ofWord} {count}
                {hasNextPage && (
                  <button
                    type="button"
                    className="press"
                    disabled={isFetchingNextPage}
                    onClick={() => void fetchNextPage()}
                  >
                    {words.log.more}
                  </button>
                )}
              </p>
            </>
          )}
        </Room>
      </Rooms>
    </div>
  );
}

function Filters({ asked, choices, put }: { asked: LogAsked; choices: LogChoices; put: (change: LogAsked) => void }) {
  const any = (word: string) => [["", words.log.any(word)] as const];
  return (
    <>
      <Labelled label={words.log.findWords}>
        {(ids) => (
          <input
            {...ids}
            type="search"
            className="w-44"
            maxLength={200}
            value={asked.words ?? ""}
            onChange={(e) => put({ words: e.target.value })}
          />
        )}
      </Labelled>

      <span className="w-44">
        <Choice
          label={words.log.recipe}
          value={asked.recipe ?? ""}
          options={[...any("recipe"), ...Object.entries(choices.recipes).map(([id, name]) => [id, name] as const)]}
          onChange={(recipe) => put({ recipe })}
        />
      </span>
      <span className="w-36">
        <Choice
          label={words.log.fault}
          value={asked.fault ?? ""}
          options={[
            ["", words.log.anyOrNone] as const,
            ...Object.entries(choices.faults).map(([f, n]) => [f, `${f} (${n})`] as const),
          ]}
          onChange={(fault) => put({ fault })}
        />
      </span>
      <span className="w-32">
        <Choice
          label={words.log.cook}
          value={asked.cook ?? ""}
          options={[...any("cook"), ...choices.cooks.map((c) => [c, c] as const)]}
          onChange={(cook) => put({ cook })}
        />
      </span>
      <span className="w-32">
        <Choice
          label={words.log.oven}
          value={asked.oven ?? ""}
          options={[...any("oven"), ...Object.entries(choices.ovens)]}
          onChange={(oven) => put({ oven })}
        />
      </span>
      <span className="w-28">
        <Choice
          label={words.log.score}
          value={String(asked.most ?? asked.least ?? "")}
          options={
            [
              ["", words.log.any2],
              ["2", words.log.n2OrLess],
              ["3", words.log.n3OrLess],
              ["4", words.log.n4OrMore],
            ] as const
          }
          onChange={(s) =>
            put({ most: s === "2" || s === "3" ? Number(s) : undefined, least: s === "4" ? 4 : undefined })
          }
        />
      </span>
    </>
  );
}

/** The batches found: ticked to be compared, or taken out as the record of a day. */
function Found({ batches }: { batches: readonly Card[] }) {
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [until, setUntil] = useState("");
  const { data: pictures } = useQuery(picturesQuery(batches.slice(0, MOST_PICTURES).map((b) => b.id)));
  const choose = (id: string, on: boolean) =>
    setChosen(on ? [...chosen, id].slice(-MOST) : chosen.filter((c) => c !== id));
  return (
    <>
      <div className="mt-2 flex flex-wrap items-center gap-x-6 gap-y-1 text-s text-quiet">
        <span>
          <span className="inline-block h-3 w-6 border-2 border-deep align-middle" />{" "}
          {words.log.heatAsPlannedOrTheWhole}
        </span>
        <span>
          <span className="inline-block h-2 w-6 bg-deep align-middle" /> {words.log.asItWas}
        </span>
        <span>
          <span className="inline-block h-2 w-6 bg-water align-middle" /> {words.log.waterLostTheTickIsWhat}
        </span>
        <span className="grow" />
        <DateField label={words.log.theRecordOf} value={until} put={setUntil} />
        {until && (
          <span className="flex gap-4">
            <a
              className="inline-flex min-h-11 items-center underline"
              href={`/api/files/log/${until}/record`}
              target="_blank"
              rel="noreferrer"
            >
              {words.log.pdf}
            </a>
            <a className="inline-flex min-h-11 items-center underline" href={`/api/files/log/${until}/record.csv`}>
              {words.log.csv}
            </a>
          </span>
        )}
        {chosen.length > 0 ? (
          <Link
            className="press press-first text-m"
            to={`/log/over?${chosen.map((id) => `ids=${encodeURIComponent(id)}`).join("&")}`}
          >
            {words.log.compare} {chosen.length} {words.log.batches}
          </Link>
        ) : (
          <span>{words.log.tickBatchesToCompareThem}</span>
        )}
      </div>
      <ul className="mt-1 divide-y divide-hairline border-y border-hairline">
        {batches.map((batch) => (
          <li key={batch.id} className="flex items-center gap-3">
            <label className="flex min-h-11 min-w-8 items-center justify-center">
              <span className="sr-only">
                {words.log.compare} {batch.name} {words.log.ofWord} {day(batch.started_at)}
              </span>
              <input
                type="checkbox"
                checked={chosen.includes(batch.id)}
                onChange={(e) => choose(batch.id, e.target.checked)}
              />
            </label>
            <Strip batch={batch} picture={pictures?.findLast((p) => p.batch === batch.id)} />
          </li>
        ))}
      </ul>
    </>
  );
}

/** What came out of a batch, small: photographed, or its piece in the colour its oven gave it. */
function Came({ batch, picture }: { batch: Card; picture?: Picture }) {
  if (picture)
    return (
      <img
        src={`/api/pictures/${picture.id}`}
        alt=""
        loading="lazy"
        width={picture.width}
        height={picture.height}
        className="h-11 w-16 rounded-k border border-hairline object-cover"
      />
    );
  return <Looks of={batch.recipe_id ?? undefined} wide={60} high={40} toast={batch.outcome?.colour ?? null} />;
}

function Strip({ batch, picture }: { batch: Card; picture?: Picture }) {
  const x = scaleLinear([0, LONGEST_MIN], [0, 320]).clamp(true);
  const { outcome } = batch;
  const planned = batch.planned_heat_min ?? batch.planned_min;
  const heat = batch.planned_heat_min === null ? batch.took_min : batch.actual_heat_min;
  const most = Math.max(batch.lost_g ?? 0, batch.predicted_loss_g ?? 0) * 1.1;
  const loss = scaleLinear([0, most || 1], [0, 110]);
  return (
    <Link
      to={`/log/${batch.id}`}
      className="grid min-h-14 min-w-0 grow items-center gap-x-5 gap-y-1 py-1.5 sm:grid-cols-[4rem_minmax(0,1fr)] lg:grid-cols-[4rem_5.5rem_minmax(11rem,1.4fr)_minmax(15rem,1.4fr)_minmax(9rem,1fr)]"
    >
      <Came batch={batch} picture={picture} />
      <span className="text-s text-quiet">{day(batch.started_at)}</span>
      <span className="min-w-0">
        <b className="text-m leading-tight">{batch.name}</b>
        <span className="block text-s text-quiet">
          {batch.says} · {batch.cook}
        </span>
      </span>
      <svg
        viewBox="0 0 460 34"
        className="w-full"
        role="img"
        aria-label={`${(batch.planned_heat_min === null ? words.log.plannedInAll : words.log.plannedOfHeat)(minutes(planned), heat === null || heat === undefined ? words.log.tookNotRecorded : words.log.took(minutes(heat)))} ${batch.lost_g === null || batch.lost_g === undefined ? words.log.notWeighed : words.log.lostGGPredicted(fixed(batch.lost_g), fixed(batch.predicted_loss_g ?? 0))}`}
      >
        <rect x="1" y="4" width={x(planned)} height="26" fill="none" stroke="var(--color-deep)" strokeWidth="2" />
        {heat !== null && heat !== undefined && (
          <rect x="1" y="11" width={x(heat)} height="12" fill="var(--color-deep)" />
        )}
        {batch.lost_g !== null && batch.lost_g !== undefined && (
          <>
            <rect x="340" y="11" width={loss(batch.lost_g)} height="12" fill="var(--color-water)" />
            <line
              x1={340 + loss(batch.predicted_loss_g ?? 0)}
              x2={340 + loss(batch.predicted_loss_g ?? 0)}
              y1="4"
              y2="30"
              stroke="currentColor"
              strokeWidth="2.5"
            />
          </>
        )}
      </svg>
      <span className="min-w-0">
        {outcome && (
          <>
            <span className="flex items-center gap-2">
              <b>
                {outcome.score} {words.log.of5}
              </b>
              <span className="text-s">
                {outcome.texture}
                {outcome.colour && `, ${outcome.colour}`}
              </span>
            </span>
            {outcome.faults.length > 0 && <span className="block text-s font-bold">{outcome.faults.join(", ")}</span>}
          </>
        )}
      </span>
    </Link>
  );
}
