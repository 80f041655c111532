import { useId } from "react";
import type { PracticeLook } from "../api/client";
import { edgeOf, FOOD, waterColour } from "./colours";
import { Peak, surface } from "./Peak";

const METAL = "var(--metal-line)";
/** The inside of bowl and pan, px of the drawing; from rim to bottom. */
const BOWL = { path: "M40 40C42 140 84 172 150 172S258 140 260 40Z", top: 40, bottom: 170, left: 40, right: 260 };
const PAN = { path: "M46 64V152Q46 166 60 166H212Q226 166 226 152V64Z", top: 64, bottom: 164, left: 46, right: 226 };
/** Even a little is seen. */
const LEAST_FILL = 0.13;

const spread = (n: number, from: number, wide: number, step: number) =>
  Array.from({ length: n }, (_, i) => from + ((i * step) % wide));

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
  const shape = drawn === "pan" ? PAN : BOWL;
  const fill = Math.max(LEAST_FILL, look.fill);
  const top = shape.bottom - fill * (shape.bottom - shape.top);
  const colour =
    drawn === "bowl"
      ? `color-mix(in srgb, ${FOOD.meringue} ${Math.round(40 + 60 * look.tone)}%, ${FOOD.syrup} ${Math.round(14 * (1 - look.tone))}%)`
      : drawn === "pan"
        ? `color-mix(in srgb, ${FOOD.syrup} ${Math.round(14 + 76 * look.tone)}%, ${waterColour(0.04)})`
        : `color-mix(in srgb, ${FOOD.meringue} ${Math.round(62 * look.tone)}%, ${FOOD.yolk})`;
  const line = drawn === "bowl" ? FOOD.line : edgeOf(colour);
  const wide = shape.right - shape.left;
  const foamed = drawn === "bowl" && look.stage !== "" && look.stage !== "loose";
  const whisking = drawn !== "pan" && ((look.levels?.speed ?? 0) > 0 || (look.levels?.whisk ?? 0) > 0);
  const ribbon = drawn === "bath" && look.tone > 0.55;
  const thick = drawn === "pan" ? look.tone : 0;
  const count = Math.round(look.bubbles * 26);
  const xs = spread(count, shape.left + 16, wide - 32, 53);
  const bubbles = xs.map((x, i) => ({
    x,
    y: top + 6 + ((i * 29) % 26),
    r: 2.5 + ((i * 7) % 5) * (1 + 1.6 * thick) * 0.7,
  }));
  const flecks = spread(Math.round(look.flecks * 30), shape.left + 14, wide - 28, 67).map((x, i) => ({
    x,
    y: top + 8 + ((i * 41) % Math.max(12, shape.bottom - top - 10)),
  }));
  const heat = look.levels?.heat ?? 0;
  return (
    <svg viewBox="0 0 300 230" className={className} aria-hidden="true">
      {(look.steam ?? 0) > 0.1 &&
        [96, 150, 204].map((x) => (
          <path
            key={x}
            className="steam"
            d={`M${x} 34q9 -8 0 -16t0 -14`}
            fill="none"
            stroke="var(--color-water)"
            strokeWidth="3"
            strokeLinecap="round"
            opacity={0.25 + 0.6 * (look.steam ?? 0)}
          />
        ))}
      {drawn === "bath" && (
        <g>
          <path d="M22 140V206Q22 220 36 220H264Q278 220 278 206V140" fill={waterColour(0.12)} />
          {heat > 1 &&
            spread(9, 44, 212, 41).map((x) => (
              <circle
                key={x}
                cx={x}
                cy={196 - (x % 13)}
                r="4"
                fill="none"
                stroke={edgeOf(waterColour(0.2))}
                strokeWidth="1.4"
              />
            ))}
          <path d="M22 140V206Q22 220 36 220H264Q278 220 278 206V140" fill="none" stroke={METAL} strokeWidth="4" />
        </g>
      )}
      <clipPath id={clip}>
        <path d={drawn === "bowl" ? `M0 0H300V60H0Z ${BOWL.path}` : shape.path} />
      </clipPath>
      <path d={shape.path} fill="var(--metal)" />
      <g clipPath={`url(#${clip})`}>
        {foamed ? (
          <g
            transform={`translate(${shape.left - 8} ${top - 64 * (wide / 116)}) scale(${(wide + 16) / 120} ${wide / 116})`}
          >
            <path d={`${surface(look.stage)}V200H4Z`} fill={colour} stroke={line} strokeWidth="1.2" />
          </g>
        ) : (
          <>
            <rect x="0" y={top} width="300" height="240" fill={colour} />
            <path d={`M0 ${top}H300`} stroke={line} strokeWidth="2" />
          </>
        )}
        {bubbles.map((b) => (
          <circle
            key={`${b.x} ${b.y}`}
            className="bubble"
            cx={b.x}
            cy={b.y}
            r={b.r}
            fill={drawn === "pan" ? "none" : FOOD.meringue}
            fillOpacity="0.7"
            stroke={line}
            strokeWidth="1.4"
          />
        ))}
        {flecks.map((f) => (
          <rect
            key={`${f.x} ${f.y}`}
            x={f.x}
            y={f.y}
            width="4.5"
            height="4.5"
            fill={drawn === "bath" ? FOOD.yolk : FOOD.sugar}
            stroke={line}
            strokeWidth="0.8"
            transform={`rotate(30 ${f.x} ${f.y})`}
          />
        ))}
      </g>
      {ribbon && (
        <path
          className="ribbon"
          d={`M150 26C148 50 153 ${top - 26} 150 ${top - 4}C132 ${top + 2} 168 ${top + 6} 150 ${top + 10}C130 ${top + 14} 172 ${top + 17} 146 ${top + 21}`}
          fill="none"
          stroke={line}
          strokeWidth="7"
          strokeLinecap="round"
        />
      )}
      {whisking && (
        <Whisk x={ribbon ? 196 : 150} top={top} fast={(look.levels?.speed ?? look.levels?.whisk ?? 1) > 1} />
      )}
      <path d={shape.path} fill="none" stroke={METAL} strokeWidth="4" strokeLinejoin="round" />
      {drawn !== "pan" && <path d="M30 40H270" stroke={METAL} strokeWidth="5" strokeLinecap="round" />}
      {drawn === "pan" && (
        <>
          <path d="M226 84H288" stroke={METAL} strokeWidth="9" strokeLinecap="round" />
          {heat > 0 &&
            spread(7, 70, 150, 22).map((x) => (
              <path
                key={x}
                className="flame"
                d={`M${x} 206q-5 -${6 + 5 * heat} 0 -${12 + 7 * heat}q5 ${7 + 2 * heat} 0 ${12 + 7 * heat}`}
                fill="var(--color-water)"
                opacity="0.8"
              />
            ))}
          <path d="M40 210H232" stroke={METAL} strokeWidth="4" strokeLinecap="round" />
        </>
      )}
    </svg>
  );
}

/** A whisk at work: its wires in the mixture, the handle above the rim. */
function Whisk({ x, top, fast }: { x: number; top: number; fast: boolean }) {
  const low = Math.min(164, top + 46);
  return (
    <g className={fast ? "whisk-fast" : "whisk"} stroke={METAL} fill="none" strokeWidth="2.4" strokeLinecap="round">
      <path d={`M${x} 2V34`} strokeWidth="8" />
      {[-26, -13, 0, 13, 26].map((w) => (
        <path key={w} d={`M${x} 34C${x + w * 1.5} ${(34 + low) / 2} ${x + w} ${low - 8} ${x + w * 0.25} ${low}`} />
      ))}
    </g>
  );
}
