import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { underWayQuery } from "../../api/queries";
import { clock, day, time } from "../../kit/format";
import { Looks } from "../../kit/Looks";
import { Empty, Trouble, Waiting } from "../../kit/States";
import { useNow } from "../../kit/useNow";
import { words } from "../../words";

/** The batches under way. */
export default function BenchList() {
  const { data, error, refetch } = useQuery(underWayQuery);
  const now = useNow();
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.bench.theBench} />;
  return (
    <div className="mx-auto w-full max-w-[1200px] px-4 py-4 md:px-6">
      <h1 className="text-l">{words.bench.bench}</h1>
      {data.length === 0 && (
        <Empty title={words.bench.nothingUnderWay}>
          <p>{words.bench.openARecipesSheetAndStart}</p>
          <Link className="press press-first mt-3" to="/recipes">
            {words.bench.toTheBook}
          </Link>
        </Empty>
      )}
      <ul className="mt-3 grid gap-4 md:grid-cols-2">
        {data.map((batch) => {
          const left = batch.timers.map((t) => (Date.parse(t.started) + t.minutes * 60_000 - now) / 1000);
          const due = Boolean(batch.calls) || left.some((seconds) => seconds <= 60);
          return (
            <li key={batch.id}>
              <Link
                to={`/bench/${batch.id}`}
                className={`flex h-full flex-col gap-2 rounded-panel border border-hairline bg-surface p-4 ${due ? "border-l-8 border-l-bill" : ""}`}
              >
                <span className="flex flex-wrap items-baseline justify-between gap-x-4">
                  <b className="font-name text-[1.4rem] leading-tight font-semibold">{batch.name}</b>
                  <span className="text-s text-quiet">
                    {words.bench.startedAt(time(batch.started_at), day(batch.started_at))}
                  </span>
                </span>
                <span className="flex items-end gap-4">
                  <Looks of={batch.recipe_id ?? undefined} wide={150} high={64} />
                  {batch.says && <span className="min-w-0 text-s text-quiet">{batch.says}</span>}
                </span>
                {batch.calls && <b className="text-m">{batch.calls}</b>}
                <span className="mt-auto flex flex-wrap items-end justify-between gap-x-4">
                  <span className="min-w-0 text-m">{batch.current ?? words.bench.allStepsDoneSayHowIt}</span>
                  {left.map((seconds, i) => (
                    <b key={batch.timers[i]?.step} className="text-l font-semibold">
                      {seconds > 0 ? clock(seconds) : words.bench.lookNow}
                    </b>
                  ))}
                </span>
                <span
                  className="flex gap-0.5"
                  role="img"
                  aria-label={words.bench.ofStepsDone(batch.steps_done, batch.steps)}
                >
                  {Array.from({ length: batch.steps }, (_, i) => (
                    <span
                      key={`step-${i + 1}`}
                      className={`h-1.5 grow ${i < batch.steps_done ? "bg-deep" : "bg-hairline"}`}
                    />
                  ))}
                </span>
              </Link>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
