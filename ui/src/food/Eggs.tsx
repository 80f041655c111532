import { useId } from "react";
import { edgeOf, FOOD } from "./colours";

/** A shell's rounding, for every drawing with an egg in it. */
function ShellShade({ id }: { id: string }) {
  return (
    <radialGradient id={id} cx="0.38" cy="0.32" r="0.75">
      <stop offset="0" stopColor={FOOD.shell} />
      <stop offset="1" stopColor={FOOD.brownShell} />
    </radialGradient>
  );
}

/** One egg standing, its middle at x, y. */
function Egg({ x, y, high, shade }: { x: number; y: number; high: number; shade: string }) {
  const [w, h] = [high * 0.38, high / 2];
  return (
    <path
      d={`M${x} ${y - h}C${x + w * 0.72} ${y - h} ${x + w} ${y - h * 0.1} ${x + w} ${y + h * 0.28}C${x + w} ${y + h * 0.75} ${x + w * 0.55} ${y + h} ${x} ${y + h}S${x - w} ${y + h * 0.75} ${x - w} ${y + h * 0.28}C${x - w} ${y - h * 0.1} ${x - w * 0.72} ${y - h} ${x} ${y - h}Z`}
      fill={`url(#${shade})`}
      stroke={edgeOf(FOOD.brownShell)}
      strokeWidth="1.2"
    />
  );
}

/** As many eggs as are cracked, piled as far as a pile reads; and the jug where none are. */
export function EggPile({ eggs, className }: { eggs: number; className?: string }) {
  const shade = useId();
  if (eggs === 0)
    return (
      <svg viewBox="0 0 120 100" className={className} aria-hidden="true">
        <path
          d="M36 44Q60 50 86 44L81 88Q80 92 75 92H47Q42 92 41 88Z"
          fill={FOOD.meringue}
          stroke={FOOD.line}
          strokeWidth="2"
        />
        <path
          d="M34 26L40 88Q41 94 47 94H75Q81 94 82 88L88 26L98 18H30ZM86 42C108 36 110 66 84 70"
          fill="none"
          stroke="var(--metal-line)"
          strokeWidth="2.5"
          strokeLinejoin="round"
        />
      </svg>
    );
  const most = eggs > 60 ? 13 : eggs > 30 ? 10 : eggs > 14 ? 7 : eggs > 6 ? 5 : eggs > 3 ? 4 : 3;
  const high = Math.min(44, 150 / most);
  const rows: number[] = [];
  for (let left = eggs, wide = most; left > 0; wide = Math.max(most - 1, 1) === wide ? most : most - 1) {
    rows.push(Math.min(wide, left));
    left -= Math.min(wide, left);
  }
  const step = high * 0.8;
  const height = high + (rows.length - 1) * high * 0.72;
  return (
    <svg viewBox={`0 0 120 ${Math.max(height + 4, 60)}`} className={className} aria-hidden="true">
      <defs>
        <ShellShade id={shade} />
      </defs>
      {rows.flatMap((count, row) =>
        Array.from({ length: count }, (_, i) => (
          <Egg
            key={`${row} ${i + 1}`}
            x={60 + (i - (count - 1) / 2) * step}
            y={Math.max(height + 4, 60) - 2 - high / 2 - row * high * 0.72}
            high={high}
            shade={shade}
          />
        )),
      )}
    </svg>
  );
}

const GRID = { wide: 6, most: 36 };

/** A lot of egg as it lies: whites in their bowl, carton or ice, yolks one by one, eggs in the shell piled. eggs: how many it comes to. */
export function EggLot({
  side,
  kind,
  eggs,
  faded = false,
  className,
}: {
  side: "white" | "yolk" | "whole egg";
  kind: "fresh" | "frozen" | "carton" | "dried";
  eggs: number;
  /** It may not be used any more */
  faded?: boolean;
  className?: string;
}) {
  if (side === "whole egg" && kind === "fresh")
    return <EggPile eggs={Math.max(1, Math.round(eggs))} className={`${className} ${faded ? "opacity-45" : ""}`} />;
  const fill = side === "white" ? FOOD.meringue : FOOD.yolk;
  const high = Math.min(46, 12 + eggs * 1.6);
  const yolks = Math.min(GRID.most, Math.max(1, Math.round(eggs)));
  return (
    <svg viewBox="0 0 120 100" className={`${className} ${faded ? "opacity-45" : ""}`} aria-hidden="true">
      {kind === "carton" ? (
        <g stroke="var(--metal-line)" strokeWidth="2.5" strokeLinejoin="round">
          <path d="M36 34L48 16H74L86 34V94H36Z" fill="var(--color-surface)" />
          <rect x="38" y={92 - high} width="46" height={high} fill={fill} stroke="none" />
          <path d="M36 34H86V94H36ZM48 16V10H74V16" fill="none" />
        </g>
      ) : kind === "frozen" ? (
        <g stroke="var(--color-water)" strokeWidth="2">
          <rect
            x="26"
            y={90 - high}
            width="68"
            height={high}
            rx="5"
            fill={`color-mix(in srgb, ${fill} 60%, var(--food-ice))`}
          />
          <path d="M34 22V38M26 30H42M28 24L40 36M40 24L28 36" fill="none" />
        </g>
      ) : kind === "dried" ? (
        <path d="M22 90C34 66 50 58 60 58S86 66 98 90Z" fill={fill} stroke={FOOD.line} strokeWidth="2" />
      ) : side === "yolk" ? (
        <g>
          {Array.from({ length: yolks }, (_, i) => (
            <circle
              key={`yolk-${i + 1}`}
              cx={60 + ((i % GRID.wide) - (Math.min(GRID.wide, yolks) - 1) / 2) * 17}
              cy={84 - Math.floor(i / GRID.wide) * 15}
              r="8"
              fill={fill}
              stroke={edgeOf(FOOD.yolk)}
              strokeWidth="1.2"
            />
          ))}
        </g>
      ) : (
        <g>
          <path
            d={`M28 ${88 - high}C32 86 44 90 60 90S88 86 92 ${88 - high}Z`}
            fill={fill}
            stroke={FOOD.line}
            strokeWidth="1.5"
          />
          <path
            d="M20 40H100M24 40C26 84 40 92 60 92S94 84 96 40"
            fill="none"
            stroke="var(--metal-line)"
            strokeWidth="3"
          />
        </g>
      )}
    </svg>
  );
}
