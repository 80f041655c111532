import type { ProductSheet } from "../../api/client";
import { edgeOf, foodColour, TOAST } from "../../food/colours";
import { minutes } from "../../kit/format";
import { words } from "../../words";

export const ROW = 66;
const TRUNK = 64;
/** The room that the word at the end of the axis takes, and half of the next. */
const BESIDE_SERVED = 72;

/** The row a part joins: the product it follows, being inside of it, or the last row, where all is put together. */
function joinsRow(sheet: ProductSheet, row: number): number {
  const part = sheet.parts[row];
  if (part && part.depth > 0)
    for (let above = row - 1; above >= 0; above--) {
      const other = sheet.parts[above];
      if (other && other.depth === part.depth - 1) return above;
    }
  return sheet.parts.length;
}

/** The parts as lines that meet: hands in deep ink, a machine hollow, the oven in its toast, the cold thin; each joins in its own colour. */
export function Lines({ sheet, chosen, width }: { sheet: ProductSheet; chosen?: number; width: number }) {
  const { steps } = sheet.assembled;
  const lasts = steps.map((s) => (s.low_min + s.high_min) / 2);
  const until = steps.map((_, i) => lasts.slice(i).reduce((a, b) => a + b, 0));
  const longest = Math.max(1, until[0] ?? 0, ...sheet.parts.map((p) => p.before_min + p.minutes));
  const x = (before: number) => width - 14 - (before / longest) * (width - 28);
  const trunk = sheet.parts.length * ROW + 24;
  const height = sheet.parts.length * ROW + TRUNK;
  const hours = Math.ceil(longest / 60);
  const every = hours > 8 ? 2 : 1;
  const hoursShown = Array.from({ length: Math.floor(hours / every) + 1 }, (_, i) => i * every).filter(
    (h) => h === 0 || x(0) - x(h * 60) > BESIDE_SERVED,
  );
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width={width}
      height={height}
      role="img"
      aria-label={words.product.linesThatMeet(sheet.parts.map((p) => `${p.name} ${minutes(p.minutes)}`).join(", "))}
    >
      {hoursShown.map((h) => (
        <g key={h}>
          <line x1={x(h * 60)} x2={x(h * 60)} y1="0" y2={trunk + 14} stroke="var(--color-hairline)" />
          <text
            x={x(h * 60)}
            y={trunk + 32}
            fontSize="15"
            textAnchor={h === 0 ? "end" : "middle"}
            fill="var(--color-quiet)"
          >
            {h === 0 ? "served" : `−${h} h`}
          </text>
        </g>
      ))}
      {sheet.parts.map((part, row) => {
        const y = row * ROW + ROW / 2;
        const to = joinsRow(sheet, row);
        const joint = to === sheet.parts.length ? trunk : to * ROW + ROW / 2;
        const end = x(part.before_min);
        let before = part.before_min + part.minutes;
        const on = chosen === row;
        const colour = foodColour(part.material ?? "foam", part.colour);
        const join = `M${end} ${y}C${end + 10} ${y} ${end - 6} ${joint} ${end + 4} ${joint}`;
        return (
          <g key={`${part.key}-${part.inside.join("-")}-${row}`} opacity={chosen !== undefined && !on ? 0.5 : 1}>
            {part.segments.map((segment, i) => {
              const from = x(before);
              before -= segment.minutes;
              return (
                <Stretch
                  key={`${segment.title}-${i + 1}`}
                  from={from}
                  to={x(before)}
                  y={y}
                  kind={segment.kind}
                  hands={segment.hands}
                />
              );
            })}
            <path d={join} fill="none" stroke={edgeOf(colour)} strokeWidth={on ? 8 : 6} />
            <path
              d={join}
              fill="none"
              stroke={colour}
              strokeWidth={on ? 6 : 4}
              strokeDasharray={part.covers < sheet.product.portions ? "5 4" : undefined}
            />
            <circle cx={end + 3} cy={joint} r="6" fill={colour} stroke={edgeOf(colour)} strokeWidth="1.5" />
          </g>
        );
      })}
      {steps.map((step, i) => (
        <Stretch
          key={step.key}
          from={x(until[i] ?? 0)}
          to={x(until[i + 1] ?? 0)}
          y={trunk}
          kind={step.kind}
          hands={step.hands}
        />
      ))}
    </svg>
  );
}

/** How high a stretch is drawn, filled and edged, by what works in it. */
const STRETCHES = {
  oven: { high: 12, fill: TOAST.straw, edge: edgeOf(TOAST.straw) },
  wait: { high: 4, fill: "var(--food-cold)", edge: "var(--metal-line)" },
  machine: { high: 10, fill: "var(--color-surface)", edge: "var(--color-deep)" },
  hands: { high: 12, fill: "var(--color-deep)", edge: "none" },
  watched: { high: 7, fill: "var(--color-deep)", edge: "none" },
} as const;

function Stretch({ from, to, y, kind, hands }: { from: number; to: number; y: number; kind: string; hands: number }) {
  const by = kind === "oven" || kind === "wait" || kind === "machine" ? kind : hands >= 0.7 ? "hands" : "watched";
  const { high, fill, edge } = STRETCHES[by];
  return (
    <rect
      x={from}
      y={y - high / 2}
      width={Math.max(to - from, 1)}
      height={high}
      fill={fill}
      stroke={edge}
      strokeWidth="1.2"
    />
  );
}
