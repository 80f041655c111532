import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { Watching } from "../api/client";
import { words } from "../words";
import { type Degrees, useDegrees } from "./degrees";
import { clock, moments } from "./format";

type Pair = [number, number];

/** Where lines of a trace are named, so that no two names stand on each other. */
function apart(
  lines: { y: number; text: string; strong: boolean }[],
  least: number,
): { y: number; at: number; text: string; strong: boolean }[] {
  let last = Number.NEGATIVE_INFINITY;
  return [...lines]
    .sort((a, b) => a.y - b.y)
    .map((one) => {
      last = Math.max(one.y, last + least);
      return { ...one, at: last };
    });
}

/** A trace of readings: what was read, what is predicted with its interval, and the lines it has to meet. */
export function Trace({
  watching: w,
  width = 600,
  height = 300,
}: {
  watching: Watching;
  width?: number;
  height?: number;
}) {
  const degrees = useDegrees();
  const trace = w.trace as Pair[];
  const ahead = w.ahead as Pair[];
  const target = w.milestones.find((m) => m.key === "target");
  const end = Math.max(w.now_s, ahead.at(-1)?.[0] ?? 0, target?.high_s ?? 0, 60) * 1.02;
  const levels = [w.target_c, ...(w.over_c ? [w.over_c] : []), ...(w.thickens_c ? [w.thickens_c] : [])];
  const seen = trace.map(([, c]) => c);
  const low = Math.min(w.start_c, ...seen, ...levels) - 3;
  const high = Math.max(w.start_c, ...seen, ...levels) + 6;
  const right = width - 172;
  const x = scaleLinear([0, end], [40, right]);
  const y = scaleLinear([low, high], [height - 30, 12]);
  const path = line<Pair>()
    .x(([s]) => x(s))
    .y(([, c]) => y(c));
  const names = apart(
    [
      { y: y(w.target_c), text: words.kit.target(degrees.figure(w.target_c, { digits: 0 })), strong: true },
      ...(w.over_c
        ? [{ y: y(w.over_c), text: words.kit.tooFar(degrees.figure(w.over_c, { digits: 0 })), strong: false }]
        : []),
      ...w.milestones
        .filter(
          (m) => m.key !== "target" && m.reads_c > low && m.reads_c < high && (m.key !== "start" || m.at_s !== null),
        )
        .map((m) => ({
          y: y(m.reads_c),
          text: `${degrees.figure(m.reads_c, { digits: 0 })} ${m.name}`,
          strong: m.key === "start",
        })),
    ],
    17,
  );
  const now = trace.at(-1);
  return (
    <svg viewBox={`0 0 ${width} ${height}`} className="w-full" role="img" aria-label={said(w, degrees)}>
      {y.ticks(5).map((t) => (
        <g key={t}>
          <line x1="40" x2={right} y1={y(t)} y2={y(t)} stroke="var(--color-hairline)" />
          <text x="34" y={y(t) + 5} textAnchor="end" fontSize="14" fill="var(--color-quiet)">
            {degrees.figure(t, { digits: 0 })}
          </text>
        </g>
      ))}
      {w.over_c !== null && w.over_c !== undefined && (
        <rect
          x="40"
          y="12"
          width={right - 40}
          height={Math.max(0, y(w.over_c) - 12)}
          fill="var(--color-spot)"
          opacity="0.1"
        />
      )}
      {target?.low_s !== null &&
        target?.low_s !== undefined &&
        target.high_s !== null &&
        target.high_s !== undefined &&
        !w.ended && (
          <rect
            x={x(target.low_s)}
            y={y(w.target_c) - 9}
            width={Math.max(3, x(target.high_s) - x(target.low_s))}
            height="18"
            fill="var(--color-water)"
            opacity="0.28"
          />
        )}
      <line x1="40" x2={right} y1={y(w.target_c)} y2={y(w.target_c)} stroke="currentColor" strokeWidth="2" />
      {names.map((n) => (
        <g key={n.text}>
          <path d={`M${right} ${n.y}L${right + 10} ${n.at}`} stroke="var(--color-quiet)" fill="none" />
          <text
            x={right + 14}
            y={n.at + 5}
            fontSize="15"
            fontWeight={n.strong ? 700 : 400}
            fill={n.strong ? "currentColor" : "var(--color-quiet)"}
          >
            {n.text}
          </text>
        </g>
      ))}
      {ahead.length > 1 && !w.ended && (
        <path
          d={path(now ? [now, ...ahead] : ahead) ?? ""}
          fill="none"
          stroke="var(--color-water)"
          strokeWidth="2.5"
          strokeDasharray="2 6"
          strokeLinecap="round"
        />
      )}
      <path d={path(trace) ?? ""} fill="none" stroke="var(--color-water)" strokeWidth="3" />
      {w.milestones
        .filter((m) => m.passed_s !== null && m.passed_s !== undefined && m.reads_c > low)
        .map((m) => (
          <circle
            key={m.name}
            cx={x(m.passed_s as number)}
            cy={y(m.reads_c)}
            r={m.name === "target" ? 6 : 4}
            fill="var(--color-surface)"
            stroke="currentColor"
            strokeWidth="2"
          />
        ))}
      {now && <circle cx={x(now[0])} cy={y(now[1])} r="7" fill="var(--color-water)" />}
      {moments(end, 5).map((t) => (
        <text key={t} x={x(t)} y={height - 8} textAnchor="middle" fontSize="14" fill="var(--color-quiet)">
          {clock(t)}
        </text>
      ))}
    </svg>
  );
}

function said(w: Watching, degrees: Degrees): string {
  const at = w.milestones.find((m) => m.key === "target");
  const passed = w.milestones
    .filter((m) => m.passed_s !== null && m.passed_s !== undefined)
    .map((m) => `${m.name} at ${clock(m.passed_s as number)}`);
  const ahead = at?.at_s !== null && at?.at_s !== undefined ? words.kit.targetPredictedAt(clock(at.at_s)) : "";
  return `${w.title}: ${w.latest_c === null || w.latest_c === undefined ? "no reading yet" : degrees.show(w.latest_c)}, target ${degrees.figure(w.target_c, { digits: 0 })}. ${passed.length > 0 ? words.kit.passed(passed.join(", ")) : ""}${ahead}`;
}
