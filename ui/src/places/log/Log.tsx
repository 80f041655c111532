import { useQuery } from "@tanstack/react-query";
import { scaleLinear } from "d3-scale";
import { useDeferredValue, useState } from "react";
import { Link } from "react-router";
import type { BatchSummary } from "../../api/client";
import { logQuery } from "../../api/queries";
import { Choice, Labelled } from "../../kit/Field";
import { day, minutes } from "../../kit/format";
import { TOAST } from "../../kit/scales";
import { Empty, Trouble, Waiting } from "../../kit/States";

const FAULTS = ["weeping", "beads", "grit", "collapse", "spread", "cracks", "sticky", "leathery", "browned", "hollow", "torn", "soft shell"] as const;
const LONGEST_MIN = 240;

/** Finished batches as thin strips, planned against done, all to one scale. */
export default function Log() {
  const [words, setWords] = useState("");
  const [fault, setFault] = useState("");
  const { data, error, refetch } = useQuery(logQuery(useDeferredValue(words), fault));
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what="the log" />;
  return (
    <div className="mx-auto w-full max-w-[1500px] px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-end gap-4">
        <h1 className="grow text-l">Log</h1>
        <Labelled label="Find by name">{(ids) => <input {...ids} type="search" className="w-56" maxLength={200} value={words} onChange={(e) => setWords(e.target.value)} />}</Labelled>
        <Choice label="With the fault" value={fault} options={[["", "any or none"] as const, ...FAULTS.map((f) => [f, f] as const)]} onChange={setFault} />
      </div>
      {data.length === 0 ? (
        <Empty title="No finished batch here">{words || fault ? "Nothing in the log fits what you asked for; ask for less." : "A batch comes here when you say how it came out."}</Empty>
      ) : (
        <>
          <p className="mt-3 flex flex-wrap gap-x-6 text-s text-quiet">
            <span>
              <span className="inline-block h-3 w-6 border-2 border-deep align-middle" /> heat as planned, or the whole where no oven is used
            </span>
            <span>
              <span className="inline-block h-2 w-6 bg-deep align-middle" /> as it was
            </span>
            <span>
              <span className="inline-block h-2 w-6 bg-water align-middle" /> water lost by the weighed tray; the tick is what was foretold
            </span>
          </p>
          <ul className="mt-1 divide-y divide-hairline border-y border-hairline">
            {data.map((batch) => (
              <Strip key={batch.id} batch={batch} />
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

function Strip({ batch }: { batch: BatchSummary }) {
  const x = scaleLinear([0, LONGEST_MIN], [0, 320]).clamp(true);
  const { outcome } = batch;
  const planned = batch.planned_heat_min ?? batch.planned_min;
  const heat = batch.planned_heat_min === null ? batch.took_min : batch.actual_heat_min;
  const most = Math.max(batch.lost_g ?? 0, (batch.predicted_loss_g ?? 0)) * 1.1;
  const loss = scaleLinear([0, most || 1], [0, 110]);
  return (
    <li>
      <Link to={`/log/${batch.id}`} className="grid min-h-16 items-center gap-x-5 gap-y-1 py-2 md:grid-cols-[5.5rem_minmax(12rem,1.1fr)_minmax(16rem,1.6fr)_minmax(9rem,1fr)]">
        <span className="text-s text-quiet">{day(batch.started_at)}</span>
        <span className="min-w-0">
          <b className="line-clamp-1 text-m">{batch.name}</b>
          <span className="block text-s text-quiet">
            {batch.says} · {batch.cook}
          </span>
        </span>
        <svg viewBox="0 0 460 34" className="w-full" role="img" aria-label={`Planned ${minutes(planned)}${batch.planned_heat_min === null ? " in all" : " of heat"}, ${heat === null || heat === undefined ? "not recorded" : `took ${minutes(heat)}`}. ${batch.lost_g === null || batch.lost_g === undefined ? "Not weighed." : `Lost ${batch.lost_g.toFixed(0)} g, ${(batch.predicted_loss_g ?? 0).toFixed(0)} g foretold.`}`}>
          <rect x="1" y="4" width={x(planned)} height="26" fill="none" stroke="var(--color-deep)" strokeWidth="2" />
          {heat !== null && heat !== undefined && <rect x="1" y="11" width={x(heat)} height="12" fill="var(--color-deep)" />}
          {batch.lost_g !== null && batch.lost_g !== undefined && (
            <>
              <rect x="340" y="11" width={loss(batch.lost_g)} height="12" fill="var(--color-water)" />
              <line x1={340 + loss((batch.predicted_loss_g ?? 0))} x2={340 + loss((batch.predicted_loss_g ?? 0))} y1="4" y2="30" stroke="currentColor" strokeWidth="2.5" />
            </>
          )}
        </svg>
        <span className="min-w-0">
          {outcome && (
            <>
              <span className="flex items-center gap-2">
                {outcome.colour && (
                  <svg viewBox="0 0 20 20" className="h-5 w-5 shrink-0" aria-hidden="true">
                    <circle cx="10" cy="10" r="8" fill={TOAST[outcome.colour]} stroke="currentColor" strokeWidth="2" />
                  </svg>
                )}
                <b>{outcome.score} of 5</b>
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
    </li>
  );
}
