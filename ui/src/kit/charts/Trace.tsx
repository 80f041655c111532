import { scaleLinear } from "d3-scale";
import type { Watching } from "../../api/client";
import { words } from "../../words";
import { type Degrees, useDegrees } from "../degrees";
import { clock, moments } from "../format";
import { Across, apart, Course, Level, type Point, Ring, Up } from "./charts";

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
  const trace = w.trace as unknown as Point[];
  const ahead = w.ahead as unknown as Point[];
  const target = w.milestones.find((m) => m.key === "target");
  const end = Math.max(w.now_s, ahead.at(-1)?.[0] ?? 0, target?.high_s ?? 0, 60) * 1.02;
  const levels = [w.target_c, ...(w.over_c ? [w.over_c] : []), ...(w.thickens_c ? [w.thickens_c] : [])];
  const seen = trace.map(([, c]) => c);
  const low = Math.min(w.start_c, ...seen, ...levels) - 3;
  const high = Math.max(w.start_c, ...seen, ...levels) + 6;
  const right = width - 172;
  const x = scaleLinear([0, end], [40, right]);
  const y = scaleLinear([low, high], [height - 30, 12]);
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
      <Up at={y.ticks(5)} y={y} x={34} until={right} told={(t) => degrees.figure(t, { digits: 0 })} />
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
      <Level from={40} until={right} at={y(w.target_c)} />
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
      {ahead.length > 1 && !w.ended && <Course points={now ? [now, ...ahead] : ahead} x={x} y={y} look="ahead" />}
      <Course points={trace} x={x} y={y} />
      {w.milestones
        .filter((m) => m.passed_s !== null && m.passed_s !== undefined && m.reads_c > low)
        .map((m) => (
          <Ring key={m.key} at={[x(m.passed_s as number), y(m.reads_c)]} r={m.key === "target" ? 6 : 4} />
        ))}
      {now && <circle cx={x(now[0])} cy={y(now[1])} r="7" fill="var(--color-water)" />}
      <Across at={moments(end, 5)} x={x} y={height - 8} told={clock} />
    </svg>
  );
}

function said(w: Watching, degrees: Degrees): string {
  const at = w.milestones.find((m) => m.key === "target");
  const passed = w.milestones
    .filter((m) => m.passed_s !== null && m.passed_s !== undefined)
    .map((m) => `${m.name} at ${clock(m.passed_s as number)}`);
  const ahead = at?.at_s !== null && at?.at_s !== undefined ? words.kit.targetPredictedAt(clock(at.at_s)) : "";
  return `${w.title}: ${w.latest_c === null || w.latest_c === undefined ? words.kit.noReadingYet : degrees.show(w.latest_c)}, target ${degrees.figure(w.target_c, { digits: 0 })}. ${passed.length > 0 ? words.kit.passed(passed.join(", ")) : ""}${ahead}`;
}
