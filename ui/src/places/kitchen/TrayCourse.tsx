import { scaleLinear } from "d3-scale";
import type { Calibration } from "../../api/client";
import { Course, points, Ring, Up } from "../../kit/charts/charts";
import { minutes } from "../../kit/format";
import { fixed } from "../../kit/numbers";
import { words } from "../../words";

const W = 460;
const H = 170;

/** Water gone from a tray: as predicted (dashed), as its weights say (line), each weight a dot. */
export function TrayCourse({ fit }: { fit: Calibration }) {
  const end = fit.times_min.at(-1) ?? 1;
  const most = Math.max(...fit.predicted_pct, ...fit.fitted_pct, ...fit.points.map((p) => p.weighed_pct)) * 1.15;
  const x = scaleLinear([0, end], [34, W - 12]);
  const y = scaleLinear([0, most], [H - 26, 22]);
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
              words.kitchen.afterPredicted(minutes(p.minute), fixed(p.weighed_pct, 1), fixed(p.predicted_pct, 1)),
            )
            .join("; "),
        )}
      >
        <Up at={y.ticks(4)} y={y} x={28} until={W - 12} />
        <text x="34" y="14" fontSize="13" fill="var(--color-quiet)">
          {words.kitchen.waterGoneOfTheFoam}
        </text>
        <Course points={points(fit.times_min, fit.predicted_pct)} x={x} y={y} look="predicted" />
        <Course points={points(fit.times_min, fit.fitted_pct)} x={x} y={y} />
        {fit.points.map((p) => (
          <g key={p.minute}>
            <Ring at={[x(p.minute), y(p.weighed_pct)]} />
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
        {words.kitchen.dotsWeighedDashedPredictedWith} {fixed(fit.now, 2)}
        {words.kitchen.lineAsTheseWeightsHaveIt}
        {fit.tells ? "" : words.kitchen.thatIsNotEnoughToGo}
      </figcaption>
    </figure>
  );
}
