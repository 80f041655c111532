import { useId } from "react";
import type { PracticeLook } from "../api/client";
import { FOOD } from "./colours";
import { Peak } from "./Peak";

const GROUND = { bowl: FOOD.meringue, bath: FOOD.curd, pan: "var(--color-water)" } as const;

/** Bowl, pan or bath as a cook sees it: how full, how hard it boils, how pale, what shows in it. Drawn from the model, no figure in it. */
export function Vessel({
  drawn,
  look,
  className,
}: {
  drawn: "bowl" | "pan" | "bath" | "peak";
  look: PracticeLook;
  className: string;
}) {
  const clip = useId();
  if (drawn === "peak") return <Peak stage={look.stage} className={className} decorative />;
  const round = drawn !== "pan";
  const inside = round
    ? "M24 30C26 112 62 138 110 138S194 112 196 30Z"
    : "M34 44V128Q34 138 44 138H176Q186 138 186 128V44Z";
  const top = 138 - look.fill * (round ? 104 : 90);
  const bubbles = Array.from({ length: Math.round(look.bubbles * 26) }, (_, i) => ({
    x: 40 + ((i * 53) % 140),
    y: top + 4 + ((i * 29) % 24),
    r: 2 + ((i * 7) % 5) * (drawn === "pan" ? 1.3 : 1),
  }));
  const flecks = Array.from({ length: Math.round(look.flecks * 30) }, (_, i) => ({
    x: 36 + ((i * 67) % 148),
    y: top + 8 + ((i * 41) % Math.max(12, 128 - top)),
  }));
  const steam = look.steam ?? 0;
  return (
    <svg viewBox="0 0 220 190" className={className} aria-hidden="true">
      {steam > 0.1 &&
        [60, 104, 148].map((x) => (
          <path
            key={x}
            d={`M${x} 26q8 -8 0 -14t0 -12`}
            fill="none"
            stroke="var(--color-quiet)"
            strokeWidth="2.5"
            opacity={0.2 + 0.5 * steam}
          />
        ))}
      <clipPath id={clip}>
        <path d={inside} />
      </clipPath>
      <g clipPath={`url(#${clip})`}>
        <rect x="0" y={top} width="220" height="150" fill={GROUND[drawn]} opacity={drawn === "pan" ? 0.25 : 1} />
        {drawn !== "pan" && (
          <rect
            x="0"
            y={top}
            width="220"
            height="150"
            fill={FOOD.meringue}
            opacity={look.tone * (drawn === "bath" ? 0.62 : 1)}
          />
        )}
        {drawn === "pan" && look.tone > 0 && (
          <rect x="0" y={top} width="220" height="150" fill={FOOD.syrup} opacity={look.tone * 0.7} />
        )}
        <line x1="0" x2="220" y1={top} y2={top} stroke="currentColor" strokeWidth="2" />
        {bubbles.map((b) => (
          <circle
            key={`${b.x} ${b.y}`}
            cx={b.x}
            cy={b.y}
            r={b.r}
            fill="none"
            stroke="currentColor"
            strokeWidth="1.2"
            opacity="0.6"
          />
        ))}
        {flecks.map((f) => (
          <rect
            key={`${f.x} ${f.y}`}
            x={f.x}
            y={f.y}
            width="4"
            height="4"
            fill="currentColor"
            opacity="0.75"
            transform={`rotate(30 ${f.x} ${f.y})`}
          />
        ))}
      </g>
      <path d={inside} fill="none" stroke="currentColor" strokeWidth="3.5" />
      {drawn === "pan" && <path d="M186 64H216" stroke="currentColor" strokeWidth="6" />}
      {drawn === "bath" && (
        <path d="M10 96V168Q10 178 20 178H200Q210 178 210 168V96" fill="none" stroke="currentColor" strokeWidth="3" />
      )}
      {drawn === "bath" && (
        <path
          d="M14 152H206"
          stroke="var(--color-water)"
          strokeWidth="2.5"
          strokeDasharray={(look.levels?.heat ?? 0) > 1 ? "6 5" : undefined}
        />
      )}
      {drawn === "pan" && (look.levels?.heat ?? 0) > 0 && (
        <path
          d="M60 156H160M72 166H148"
          stroke="currentColor"
          strokeWidth={1 + (look.levels?.heat ?? 0)}
          opacity="0.7"
        />
      )}
    </svg>
  );
}
