import { scaleLinear } from "d3-scale";
import { area } from "d3-shape";
import type { Sheet } from "../../api/client";
import { FOOD, TOAST } from "../../food/colours";
import { words } from "../../words";
import { minutes } from "../format";
import { fixed } from "../numbers";
import { Across, points as along, Course, Ring, Up } from "./charts";

type Dry = NonNullable<Sheet["dry"]>;
type Drying = Dry["drying"];

/** Water gone over time with its spread, the bands where each texture is there, and the oven programme below. */
export function DryingChart({
  drying,
  bars,
  at,
  points = [],
  width: w = 460,
}: {
  drying: Drying;
  bars: Dry["bars"];
  at: number;
  points?: readonly { min: number; pct: number }[];
  width?: number;
}) {
  const h = 214;
  const end = drying.times_min.at(-1) ?? 1;
  const x = scaleLinear([0, end], [4, w - 4]);
  const most = Math.max(...drying.loss_high_pct, 5) * 1.12;
  const y = scaleLinear([0, most], [150, 22]);
  const index = drying.times_min.map((_, i) => i);
  const time = (i: number) => x(drying.times_min[i] as number);
  const band = area<number>()
    .x(time)
    .y0((i) => y(drying.loss_low_pct[i] as number))
    .y1((i) => y(drying.loss_high_pct[i] as number));
  const from = drying.wanted.from_min;
  const until = Math.min(drying.wanted.until_min ?? end, end);
  // Beside the span of the texture, where there is room: before it, after it, or inside one that fills the chart.
  const [textX, side] =
    from === null || from === undefined || x(from) > w * 0.5
      ? ([x(from ?? end) - 6, "end"] as const)
      : ([x(x(until) < w * 0.75 ? until : from) + 6, "start"] as const);
  const near = drying.times_min.reduce(
    (best, t, i) => (Math.abs(t - at) < Math.abs((drying.times_min[best] as number) - at) ? i : best),
    0,
  );
  return (
    <svg
      viewBox={`0 0 ${w} ${h}`}
      className="w-full"
      role="img"
      aria-label={words.kit.waterGoneOverTime(
        fixed(drying.loss_pct.at(-1) ?? 0),
        from === null || from === undefined
          ? words.kit.itNeverGets(drying.wanted.texture)
          : words.kit.from(drying.wanted.texture, minutes(from)),
      )}
    >
      {from !== null && from !== undefined && from < end && (
        <>
          <rect
            x={x(from)}
            y="14"
            width={Math.max(2, x(until) - x(from))}
            height="136"
            fill="var(--color-hairline)"
            opacity="0.7"
          />
          <text x={textX} y="33" textAnchor={side} fontSize="14" fontWeight="700" fill="currentColor">
            {drying.wanted.texture}
          </text>
        </>
      )}
      <path d={band(index) ?? ""} fill="var(--color-water)" opacity="0.22" />
      <Course points={along(drying.times_min, drying.loss_pct)} x={x} y={y} />
      <text x="6" y="12" fontSize="14" fill="var(--color-quiet)">
        {words.kit.waterGoneOfThePiece}
      </text>
      <Up at={y.ticks(3).slice(1)} y={y} x={22} />
      <line x1={x(at)} x2={x(at)} y1="14" y2="150" stroke="currentColor" strokeWidth="2" />
      <circle cx={x(at)} cy={y(drying.loss_pct[near] as number)} r="7" fill="currentColor" />
      {points.map((p) => (
        <Ring key={p.min} at={[x(Math.min(p.min, end)), y(p.pct)]} r={7} />
      ))}
      {bars.map((bar) => {
        const width = x(Math.min(bar.until_min, end)) - x(bar.from_min);
        return (
          <g key={`${bar.from_min}`}>
            <rect
              x={x(bar.from_min) + 1}
              y="156"
              width={Math.max(1, width - 2)}
              height="28"
              fill={bar.kind === "heat" ? TOAST.ivory : "var(--color-paper)"}
            />
            <rect
              x={x(bar.from_min) + 1}
              y="182"
              width={Math.max(1, width - 2)}
              height="3"
              fill="var(--color-deep)"
              opacity={bar.kind === "off" ? 0.35 : 1}
            />
            {width > bar.says.length * 7.4 ? (
              <text
                x={x(bar.from_min) + 8}
                y="175"
                fontSize="14"
                fill={bar.kind === "heat" ? FOOD.ink : "currentColor"}
              >
                {bar.says}
              </text>
            ) : (
              width > 60 && (
                <text x={x(bar.from_min) + 6} y="175" fontSize="14" fill="currentColor">
                  {bar.says.split(",")[0]}
                </text>
              )
            )}
          </g>
        );
      })}
      <Across
        at={x.ticks(w / 90)}
        x={x}
        y={204}
        within={[16, w - 18]}
        told={(t) => `${Math.floor(t / 60)}:${String(Math.round(t % 60)).padStart(2, "0")}`}
      />
    </svg>
  );
}
