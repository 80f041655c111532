import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { underWayQuery } from "../../api/queries";
import { clock, day, time } from "../../kit/format";
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
      {data.length === 0 && <Empty title={words.bench.nothingUnderWay}>{words.bench.openARecipesSheetAndStart}</Empty>}
      <ul className="mt-3 divide-y divide-hairline border-y border-hairline">
        {data.map((batch) => (
          <li key={batch.id}>
            <Link
              to={`/bench/${batch.id}`}
              className="grid min-h-20 items-center gap-x-6 gap-y-1 py-3 md:grid-cols-[1.2fr_1.4fr_auto]"
            >
              <span className="min-w-0">
                <b className="text-m leading-tight">{batch.name}</b>
                <span className="block text-s text-quiet">
                  {batch.says} {words.bench.since} {time(batch.started_at)}, {day(batch.started_at)}
                </span>
              </span>
              <span className="min-w-0">
                {batch.calls && <b className="block border-l-8 border-bill pl-2 text-m">{batch.calls}</b>}
                <span className="block text-m">{batch.current ?? words.bench.allStepsDoneSayHowIt}</span>
                <span
                  className="mt-1 flex gap-0.5"
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
              </span>
              <span className="text-m font-bold">
                {batch.timers.map((t) => {
                  const left = (Date.parse(t.started) + t.minutes * 60_000 - now) / 1000;
                  return <span key={t.step}>{left > 0 ? clock(left) : words.bench.lookNow}</span>;
                })}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </div>
  );
}
