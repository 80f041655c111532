import { useQuery } from "@tanstack/react-query";
import { scaleLinear } from "d3-scale";
import { Link, useSearchParams } from "react-router";
import type { LaidBatch, OverlayView } from "../../api/client";
import { overlayQuery, picturesQuery } from "../../api/queries";
import { Across, Course, Up } from "../../kit/charts/charts";
import { clock, day, minutes } from "../../kit/format";
import { Pictures } from "../../kit/Pictures";
import { Empty, Trouble, Waiting } from "../../kit/States";
import { useWidth } from "../../kit/useWidth";
import { words } from "../../words";
import { LETTERS, Strips, stretches } from "./Strips";

type Pair = [number, number];
const pairs = (points: readonly (readonly number[])[]) => points as unknown as Pair[];

const DASHES = ["", "9 4", "2 4", "12 3 2 3", "5 2", "1 3"];

/** Batches compared: their steps on one line of minutes, their traces, and what differed. */
export default function Overlay() {
  const [params] = useSearchParams();
  const ids = params.getAll("ids").slice(0, 12);
  const { data, error, refetch } = useQuery({ ...overlayQuery(ids), enabled: ids.length > 0 });
  const [room, width] = useWidth<HTMLDivElement>(1100);
  if (ids.length === 0) return <Empty title={words.log.nothingToCompareYet}>{words.log.tickSomeBatchesInTheLog}</Empty>;
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.log.theBatches} />;
  return (
    <div className="mx-auto w-full max-w-[1500px] px-4 py-3 md:px-6" ref={room}>
      <p className="text-s text-quiet">
        <Link className="underline" to="/log">
          {words.log.log}
        </Link>{" "}
        {words.log.compared}
      </p>
      <h1 className="text-l">
        {new Set(data.batches.map((b) => b.name)).size === 1
          ? data.batches[0]?.name
          : words.log.batches2(data.batches.length)}
      </h1>
      <Strips batches={data.batches} named />
      <Lines view={data} width={width} />
      <Side batches={data.batches} />
      <Differs view={data} />
    </div>
  );
}

/** What was photographed of each, side by side. */
function Side({ batches }: { batches: readonly LaidBatch[] }) {
  const { data } = useQuery(picturesQuery(batches.map((b) => b.id)));
  if (!data?.length) return null;
  const titles = (b: LaidBatch) => new Map(stretches(b).map((s) => [s.step, s.title]));
  return (
    <div className="mt-4 flex flex-wrap gap-6">
      {batches.map((b, i) => (
        <div key={b.id}>
          <p className="text-s">
            <b>{LETTERS[i]}</b> <span className="text-quiet">{day(b.started_at)}</span>
          </p>
          <Pictures
            batch={b.id}
            of={LETTERS[i]}
            named={({ step }) => titles(b).get(step ?? "") ?? words.pictures.atTheEnd}
          />
        </div>
      ))}
    </div>
  );
}

/** The traces of one watch of all batches, each from its own start. */
function Lines({ view, width }: { view: OverlayView; width: number }) {
  const kinds = new Map<string, string>();
  for (const b of view.batches) for (const l of b.lines) kinds.set(`${l.watch} ${l.unit}`, `${l.title}, ${l.unit}`);
  if (kinds.size === 0) return null;
  const w = Math.max(320, kinds.size > 1 && width > 900 ? (width - 32) / 2 : width);
  return (
    <div className="mt-3 grid gap-x-8 gap-y-3 lg:grid-cols-2">
      {[...kinds].map(([key, name]) => {
        const found = view.batches.flatMap((b, i) =>
          b.lines
            .filter((l) => `${l.watch} ${l.unit}` === key)
            .map((l) => ({
              i,
              b,
              points: pairs(l.points).map(([t, v]): Pair => [t - (pairs(l.points)[0]?.[0] ?? 0), v]),
            })),
        );
        const end = Math.max(1, ...found.flatMap((f) => f.points.map((p) => p[0])));
        const seen = found.flatMap((f) => f.points.map((p) => p[1]));
        const [low, high] = [Math.min(...seen), Math.max(...seen)];
        const h = 220;
        const x = scaleLinear([0, end], [44, w - 40]);
        const y = scaleLinear([low, high], [h - 26, 12]).nice(5);
        const ends = apart(
          found.map((f) => ({
            i: f.i,
            px: x(f.points.at(-1)?.[0] ?? 0) + 4,
            py: y(f.points.at(-1)?.[1] ?? low) + 5,
          })),
        );
        return (
          <figure key={key}>
            <figcaption className="text-s font-bold">{name}</figcaption>
            <svg
              viewBox={`0 0 ${w} ${h}`}
              className="w-full"
              role="img"
              aria-label={`${name}: ${found.map((f) => words.log.fromToIn(LETTERS[f.i], f.points[0]?.[1], f.points.at(-1)?.[1], minutes(f.points.at(-1)?.[0] ?? 0))).join("; ")}`}
            >
              <Up at={y.ticks(5)} y={y} x={38} until={w - 40} />
              {found.map((f) => (
                <g key={`${f.b.id}`}>
                  <Course
                    points={f.points}
                    x={x}
                    y={y}
                    look={f.i % 2 ? "read" : "limit"}
                    dashes={DASHES[Math.floor(f.i / 2) % DASHES.length]}
                  />
                </g>
              ))}
              {ends.map(({ i, px, py }) => (
                <text
                  key={LETTERS[i]}
                  x={px}
                  y={py}
                  fontSize="14"
                  fontWeight="700"
                  fill="currentColor"
                  stroke="var(--color-paper)"
                  strokeWidth="4"
                  paintOrder="stroke"
                >
                  {LETTERS[i]}
                </text>
              ))}
              <Across at={x.ticks(5)} x={x} y={h - 6} told={(t) => clock(t * 60)} />
            </svg>
          </figure>
        );
      })}
    </div>
  );
}

/** Letters at the ends of lines, pushed apart downwards where they would lie on each other. */
function apart(ends: { i: number; px: number; py: number }[]) {
  const out: typeof ends = [];
  for (const one of [...ends].sort((p, q) => p.py - q.py)) {
    const above = out.findLast((o) => Math.abs(o.px - one.px) < 14);
    out.push(above ? { ...one, py: Math.max(one.py, above.py + 15) } : one);
  }
  return out;
}

/** What their records say differently. */
function Differs({ view }: { view: OverlayView }) {
  const rows = Object.entries(view.differs);
  if (view.batches.length < 2) return null;
  return (
    <section aria-labelledby="differs" className="mt-4">
      <h2 id="differs" className="border-b border-deep text-m">
        {words.log.whatDiffered}
      </h2>
      {rows.length === 0 ? (
        <p className="py-2">{words.log.nothingThatWasRecorded}</p>
      ) : (
        <div className="overflow-x-auto" tabIndex={-1}>
          <table className="w-full text-s">
            <thead>
              <tr>
                <th scope="col" className="py-1 pr-4 text-left font-normal text-quiet">
                  {words.log.fromTheRecord}
                </th>
                {view.batches.map((b, i) => (
                  <th key={b.id} scope="col" className="px-2 text-left">
                    <Link className="underline" to={`/log/${b.id}`}>
                      {LETTERS[i]}, {day(b.started_at)}
                    </Link>
                    {b.faults.length > 0 && <span className="block font-normal">{b.faults.join(", ")}</span>}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody className="divide-y divide-hairline border-t border-hairline">
              {rows.map(([fact, name]) => (
                <tr key={fact}>
                  <th scope="row" className="py-1 pr-4 text-left font-normal text-quiet">
                    {name}
                  </th>
                  {view.batches.map((b) => (
                    <td key={b.id} className="px-2">
                      {(b.facts[fact] ?? words.log.tookNotRecorded).replace(`${name}: `, "")}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}
