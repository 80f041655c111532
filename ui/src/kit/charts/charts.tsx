import { line } from "d3-shape";
import { short } from "../numbers";

/** What every chart is drawn with: the numbers of its axes, the courses in it, what was read, how far one can tell. */
export type Point = readonly [number, number];

/** A scale: a figure to its place, px. */
type Place = (value: number) => number;

const QUIET = { fontSize: 14, fill: "var(--color-quiet)" } as const;

/** Numbers under the axis that runs across, the outer ones kept inside the drawing. */
export function Across({
  at,
  x,
  y,
  told,
  within = [0, Number.POSITIVE_INFINITY],
}: {
  at: readonly number[];
  x: Place;
  y: number;
  told: (value: number) => string;
  within?: readonly [number, number];
}) {
  return at.map((value) => (
    <text key={value} x={Math.min(Math.max(x(value), within[0]), within[1])} y={y} textAnchor="middle" {...QUIET}>
      {told(value)}
    </text>
  ));
}

/** Numbers left of the axis that runs up, ending at `x`, each with its line across as far as `until`. */
export function Up({
  at,
  y,
  x,
  until,
  told = short,
}: {
  at: readonly number[];
  y: Place;
  x: number;
  until?: number;
  told?: (value: number) => string;
}) {
  return at.map((value) => (
    <g key={value}>
      {until !== undefined && <line x1={x + 6} x2={until} y1={y(value)} y2={y(value)} stroke="var(--color-hairline)" />}
      <text x={x} y={y(value) + 5} textAnchor="end" {...QUIET}>
        {told(value)}
      </text>
    </g>
  ));
}

const LOOKS = {
  /** what was read, or what the model has it do */
  read: { stroke: "var(--color-water)", strokeWidth: 3 },
  /** what is to come */
  ahead: { stroke: "var(--color-water)", strokeWidth: 2.5, strokeDasharray: "2 6", strokeLinecap: "round" },
  /** another one beside it */
  beside: { stroke: "var(--color-water)", strokeWidth: 2, strokeDasharray: "6 4" },
  /** what was predicted before */
  predicted: { stroke: "currentColor", strokeWidth: 2, strokeDasharray: "6 5" },
  /** a limit */
  limit: { stroke: "currentColor", strokeWidth: 2.5 },
} as const;

/** A course through points. */
export function Course({
  points,
  x,
  y,
  look = "read",
  dashes,
}: {
  points: readonly Point[];
  x: Place;
  y: Place;
  look?: keyof typeof LOOKS;
  dashes?: string;
}) {
  const path = line<Point>()
    .x((p) => x(p[0]))
    .y((p) => y(p[1]));
  return (
    <path
      d={path([...points]) ?? ""}
      fill="none"
      {...LOOKS[look]}
      {...(dashes === undefined ? {} : { strokeDasharray: dashes })}
    />
  );
}

/** A level to be met, or one that was. */
export function Level({
  from,
  until,
  at,
  dashes,
  quiet = false,
}: {
  from: number;
  until: number;
  at: number;
  dashes?: string;
  quiet?: boolean;
}) {
  return (
    <line
      x1={from}
      x2={until}
      y1={at}
      y2={at}
      stroke={quiet ? "var(--color-quiet)" : "currentColor"}
      strokeWidth={dashes ? 1.5 : 2}
      strokeDasharray={dashes}
    />
  );
}

/** One thing that was weighed, read or passed: a ring. */
export function Ring({ at: [cx, cy], r = 6 }: { at: Point; r?: number }) {
  return <circle cx={cx} cy={cy} r={r} fill="var(--color-surface)" stroke="currentColor" strokeWidth={r > 5 ? 3 : 2} />;
}

/** Figures beside each other as points. */
export const points = (across: readonly number[], up: readonly number[]): Point[] =>
  across.map((value, i) => [value, up[i] as number]);

/** Names at the right of a chart, moved down until no two stand on each other. */
export function apart<T extends { y: number }>(names: readonly T[], least: number): (T & { at: number })[] {
  let last = Number.NEGATIVE_INFINITY;
  return [...names]
    .sort((a, b) => a.y - b.y)
    .map((one) => {
      last = Math.max(one.y, last + least);
      return { ...one, at: last };
    });
}
