import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { Calibration } from "../../api/client";
import { minutes } from "../../kit/format";
import { words } from "../../words";

const W = 460;
const H = 170;

/** Water gone from a tray: as predicted (dashed), as its weights say (line), each weight a dot. */
export function TrayCourse({ fit }: { fit: Calibration }) {
  const end = fit.times_min.at(-1) ?? 1;
  const most = Math.max(...fit.predicted_pct, ...fit.fitted_pct, ...fit.points.map((p) => p.weighed_pct)) * 1.15;
  const x = scaleLinear([0, end], [34, W - 12]);
  const y = scaleLinear([0, most], [H - 26, 22]);
  const path = (of: readonly number[]) =>
    line<number>()
      .x((_, i) => x(fit.times_min[i] as number))
      .y((v) => y(v))([...of]) ?? "";
  const last = fit.points.at(-1);
  return (
    <figure className="m-0">
      <svg
        viewBox={`0 0 ${W} ${H}`}
        className="w-full max-w-xl"
        role="img"
        aria-label={words.kitchen.waterGone(
          fit.points
            .map((p) =>
              words.kitchen.afterPredicted(minutes(p.minute), p.weighed_pct.toFixed(1), p.predicted_pct.toFixed(1)),
            )
            .join("; "),
        )}
      >
        {y.ticks(4).map((v) => (
          <g key={v}>
            <line x1={x(0)} x2={W - 12} y1={y(v)} y2={y(v)} stroke="var(--color-hairline)" />
            <text x="28" y={y(v) + 5} textAnchor="end" fontSize="13" fill="var(--color-quiet)">
              {v}
            </text>
          </g>
        ))}
        <text x="34" y="14" fontSize="13" fill="var(--color-quiet)">
          {words.kitchen.waterGoneOfTheFoam}
        </text>
        <path d={path(fit.predicted_pct)} fill="none" stroke="currentColor" strokeWidth="2" strokeDasharray="6 5" />
        <path d={path(fit.fitted_pct)} fill="none" stroke="var(--color-water)" strokeWidth="3" />
        {fit.points.map((p) => (
          <g key={p.minute}>
            <circle
              cx={x(p.minute)}
              cy={y(p.weighed_pct)}
              r="6"
              fill="var(--color-paper)"
              stroke="currentColor"
              strokeWidth="3"
            />
            <text
              x={x(p.minute)}
              y={H - 6}
              textAnchor={p === last ? "end" : "middle"}
              fontSize="13"
              fill="var(--color-quiet)"
            >
              {minutes(p.minute)}
            </text>
          </g>
        ))}
      </svg>
      <figcaption className="text-s text-quiet">
        {words.kitchen.dotsWeighedDashedPredictedWith} {fit.now.toFixed(2)}
        {words.kitchen.lineAsTheseWeightsHaveIt}
        {fit.tells ? "" : " That is not enough to go by: weigh it again later in its drying, or another tray."}
      </figcaption>
    </figure>
  );
}
