import { useQuery } from "@tanstack/react-query";
import { extent, median } from "d3-array";
import { scaleLinear, scaleTime } from "d3-scale";
import { useNavigate } from "react-router";
import type { LogAsked, TrendPoint } from "../../api/client";
import { trendQuery } from "../../api/queries";
import { Across, Course, Level, Up } from "../../kit/charts/charts";
import { day } from "../../kit/format";
import { fixed } from "../../kit/numbers";
import { Empty, Trouble, Waiting } from "../../kit/States";
import { useWidth } from "../../kit/useWidth";
import { words } from "../../words";

type Of = (p: TrendPoint) => number | null;
const LINES: readonly { name: string; unit: string; of: Of; aim?: number; floor?: number; top?: number }[] = [
  { name: "Score", unit: "of 5", of: (p) => p.score, floor: 1, top: 5 },
  {
    name: words.log.weightLostAgainstWhatWasPredicted,
    unit: "%",
    of: (p) => (p.loss_share === null ? null : 100 * p.loss_share),
    aim: 100,
  },
  { name: words.log.wholeBatch, unit: "min", of: (p) => p.took_min, floor: 0 },
  { name: words.log.inTheOven, unit: "min", of: (p) => p.heat_min, floor: 0 },
  { name: words.log.piecesNotGood, unit: "%", of: (p) => (p.waste === null ? null : 100 * p.waste), floor: 0 },
  { name: "Eggs", unit: "", of: (p) => p.eggs, floor: 0 },
];
const SPAN = 7;

/** How the batches asked for went over time: each a dot, with the middle of seven about it as a line. */
export function Trend({ asked }: { asked: LogAsked }) {
  const { data, error, refetch } = useQuery(trendQuery(asked));
  const [room, width] = useWidth<HTMLDivElement>(900);
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.log.theTrend} />;
  if (data.length < 2) return <Empty title={words.log.tooFewBatchesForATrend}>{words.log.twoMakeOneAskForLess}</Empty>;
  const w = Math.max(300, width > 900 ? (width - 32) / 2 : width);
  return (
    <div ref={room} className="mt-3 grid gap-x-8 gap-y-4 lg:grid-cols-2">
      {LINES.map((line) => (
        <One key={line.name} line={line} points={data} width={w} />
      ))}
    </div>
  );
}

function One({ line, points, width }: { line: (typeof LINES)[number]; points: readonly TrendPoint[]; width: number }) {
  const go = useNavigate();
  const known = points.flatMap((p) => {
    const v = line.of(p);
    return v === null ? [] : [{ id: p.id, at: new Date(p.at), v }];
  });
  if (known.length < 2) return null;
  const h = 176;
  const [first, last] = extent(points, (p) => new Date(p.at)) as [Date, Date];
  const [low, high] = extent([...known.map((k) => k.v), ...(line.aim === undefined ? [] : [line.aim])]) as [
    number,
    number,
  ];
  const x = scaleTime([first, last], [44, width - 12]);
  const y = scaleLinear([line.floor ?? low, line.top ?? high], [h - 26, 12]).nice(4);
  const middle = known.map((k, i) => ({
    at: k.at,
    v: median(known.slice(Math.max(0, i - (SPAN - 1) / 2), i + (SPAN + 1) / 2), (n) => n.v) ?? k.v,
  }));
  return (
    <figure>
      <figcaption className="text-s font-bold">
        {line.name}
        {line.unit && <span className="font-normal text-quiet">, {line.unit}</span>}
      </figcaption>
      <svg
        viewBox={`0 0 ${width} ${h}`}
        className="w-full"
        role="img"
        aria-label={words.log.batchesFromToMiddleOfThe(
          line.name,
          known.length,
          fixed(known[0]?.v),
          fixed(known.at(-1)?.v),
          line.unit,
          fixed(middle.at(-1)?.v, 1),
        )}
      >
        <Up at={y.ticks(4)} y={y} x={38} until={width - 12} />
        {line.aim !== undefined && <Level from={44} until={width - 12} at={y(line.aim)} dashes="5 4" />}
        <Course points={middle.map((m) => [m.at.getTime(), m.v])} x={x} y={y} />
        {known.map((k) => (
          // biome-ignore lint/a11y/noStaticElementInteractions: the list holds the same batches for the keyboard
          <circle
            key={k.id}
            cx={x(k.at)}
            cy={y(k.v)}
            r={known.length > 200 ? 2.5 : 5}
            fill="var(--color-surface)"
            stroke="currentColor"
            strokeWidth="2"
            className="cursor-pointer"
            onClick={() => go(`/log/${k.id}`)}
          >
            <title>
              {day(k.at.toISOString())}: {fixed(k.v, line.top ? 0 : 1)} {line.unit}
            </title>
          </circle>
        ))}
        <Across at={x.ticks(5).map((t) => t.getTime())} x={x} y={h - 6} told={(t) => day(new Date(t).toISOString())} />
      </svg>
    </figure>
  );
}
