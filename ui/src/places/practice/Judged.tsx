import { scaleLinear } from "d3-scale";
import type { PracticeJudgement, PracticeView } from "../../api/client";
import { Across, Course } from "../../kit/charts/charts";
import { useDegrees } from "../../kit/degrees";
import { clock } from "../../kit/format";
import { words } from "../../words";

/** What happened and why, on one picture. */
export function Judged({
  view,
  judgement,
  again,
  beside,
}: {
  view: PracticeView;
  judgement: PracticeJudgement;
  again: (same: boolean) => void;
  beside?: PracticeJudgement;
}) {
  return (
    <div className="mt-3 flex flex-col gap-4">
      <div className="flex flex-wrap items-center gap-4">
        <h2 className="text-l">{judgement.passed ? words.practice.goodEnoughToServe : words.practice.notYet}</h2>
        <button type="button" className="press press-first" onClick={() => again(true)}>
          {words.practice.theSameAgainR}
        </button>
        <button type="button" className="press" onClick={() => again(false)}>
          {words.practice.anotherN}
        </button>
      </div>
      <ul className="grid gap-x-8 gap-y-3 md:grid-cols-2 xl:grid-cols-4">
        {judgement.points.map((p) => (
          <li key={p.name} className={`border-l-4 pl-3 ${p.passed ? "border-deep" : "border-dashed border-ink"}`}>
            <p className="text-m">
              <b>
                {p.name}: {p.passed ? "good" : words.practice.notYet2}
              </b>
            </p>
            <p className="text-s">{p.says}</p>
            <p className="text-s text-quiet">{p.why}</p>
          </li>
        ))}
      </ul>
      {judgement.lines.length > 0 && <Picture judgement={judgement} beside={beside} />}
      {view.setup.drawn !== "peak" && (
        <ol className="flex flex-wrap gap-x-5 gap-y-1 text-s">
          {judgement.marks.map((m) => (
            <li key={`${m.at_s} ${m.says}`} className={m.mine ? "text-quiet" : "font-bold"}>
              {clock(m.at_s)} {m.says}
            </li>
          ))}
        </ol>
      )}
    </div>
  );
}

type Line = { name: string; unit: string; points: [number, number][]; band: [number, number] | null };

/** The hidden figures one under the other on one line of time, the wanted band behind each, what happened across all. */
function Picture({ judgement, beside }: { judgement: PracticeJudgement; beside?: PracticeJudgement }) {
  const degrees = useDegrees();
  const told = (line: Line, value: number) => {
    const { number, unit } = degrees.of(value, line.unit, 1);
    return `${number} ${unit}`;
  };
  const lines = judgement.lines as unknown as Line[];
  const others = (beside?.lines ?? []) as unknown as Line[];
  const w = 1200;
  const row = 92;
  const x = scaleLinear([0, Math.max(judgement.lasted_s, beside?.lasted_s ?? 0, 1)], [150, w - 16]);
  const happened = judgement.marks.filter((m) => !m.mine);
  return (
    <svg
      viewBox={`0 0 ${w} ${lines.length * row + 26}`}
      className="w-full"
      role="img"
      aria-label={`${lines.map((l) => `${l.name} ended at ${told(l, l.points.at(-1)?.[1] ?? 0)}${l.band ? words.practice.wantedTo(told(l, l.band[0]), told(l, l.band[1])) : ""}`).join("; ")}. ${happened.map((m) => `${clock(m.at_s)} ${m.says}`).join("; ")}`}
    >
      {lines.map((l, i) => {
        const other = others.find((o) => o.name === l.name);
        const values = [...l.points, ...(other?.points ?? [])].map((p) => p[1]);
        const low = Math.min(...values, l.band?.[0] ?? Number.POSITIVE_INFINITY);
        const high = Math.max(
          ...values,
          Math.min(l.band?.[1] ?? Number.NEGATIVE_INFINITY, Math.max(...values) * 1.3 + 1),
        );
        const y = scaleLinear([low, high === low ? low + 1 : high], [row - 14, 10]).clamp(true);
        return (
          <g key={l.name} transform={`translate(0 ${i * row})`}>
            {l.band && (
              <rect
                x="150"
                y={y(l.band[1])}
                width={w - 166}
                height={Math.max(2, y(l.band[0]) - y(l.band[1]))}
                fill="var(--color-water)"
                opacity="0.18"
              />
            )}
            <text x="0" y="30" fontSize="16" fontWeight="700" fill="currentColor">
              {l.name}
            </text>
            <text x="0" y="50" fontSize="14" fill="var(--color-quiet)">
              {told(l, l.points.at(-1)?.[1] ?? 0)}
            </text>
            <line x1="150" x2={w - 16} y1={row - 8} y2={row - 8} stroke="var(--color-hairline)" />
            {other && <Course points={other.points} x={x} y={y} look="beside" />}
            <Course points={l.points} x={x} y={y} look="limit" />
          </g>
        );
      })}
      {judgement.marks.map((m) => (
        <line
          key={`${m.at_s} ${m.says}`}
          x1={x(m.at_s)}
          x2={x(m.at_s)}
          y1="4"
          y2={lines.length * row - 6}
          stroke={m.mine ? "var(--color-hairline)" : "currentColor"}
          strokeDasharray={m.mine ? "2 5" : undefined}
          strokeWidth={m.mine ? 1 : 1.5}
        />
      ))}
      <Across at={x.ticks(8)} x={x} y={lines.length * row + 16} told={clock} />
    </svg>
  );
}
