import { useId } from "react";
import type { Patch } from "../api/client";
import { words } from "../words";
import { FOOD, TOAST } from "./colours";

type Material = Patch["material"];

/** How each material is drawn: in its own colour, a grain over what has one. */
const LOOKS: Record<Material, { fill: string; grain?: keyof typeof HATCH }> = {
  foam: { fill: FOOD.meringue },
  shell: { fill: FOOD.meringue, grain: "dots" },
  sheet: { fill: TOAST.ivory ?? FOOD.meringue, grain: "dots" },
  cream: { fill: FOOD.cream },
  curd: { fill: FOOD.curd },
  fruit: { fill: FOOD.berry, grain: "bits" },
  sauce: { fill: FOOD.syrup },
  pastry: { fill: FOOD.pastry, grain: "lines" },
  sponge: { fill: FOOD.sponge, grain: "cross" },
  ice: { fill: FOOD.ice },
  bits: { fill: FOOD.nuts, grain: "bits" },
  vessel: { fill: "none" },
};

const HATCH = {
  dots: <circle cx="2" cy="2" r="0.55" fill={FOOD.line} />,
  lines: <path d="M0 4L4 0" stroke={FOOD.line} strokeWidth="0.5" />,
  cross: <path d="M0 4L4 0M0 0L4 4" stroke={FOOD.line} strokeWidth="0.35" />,
  bits: <path d="M0.6 0.8h1.2M2.4 2.6l0.8 0.8M0.8 3.2l0.7-0.7" stroke={FOOD.line} strokeWidth="0.6" />,
} as const;

const materials = (patches: readonly Patch[]) => [...new Map(patches.map((p) => [p.what + p.material, p])).values()];

function bounds(patches: readonly Patch[]) {
  const xs = patches.flatMap((p) => p.points.map((at) => at[0] ?? 0));
  const ys = patches.flatMap((p) => p.points.map((at) => at[1] ?? 0));
  return { left: Math.min(...xs), right: Math.max(...xs), bottom: Math.min(0, ...ys), top: Math.max(...ys) };
}

/** The round length that a scale bar shows, mm. */
const ruler = (width: number) => [200, 100, 50, 20, 10].find((mm) => mm < width * 0.6) ?? 5;

/** A product cut through, to scale, each part in the colour of what it is. */
export function Cut({
  patches,
  label,
  className,
  scale = false,
}: {
  patches: readonly Patch[];
  label: string;
  className?: string;
  scale?: boolean;
}) {
  const id = useId();
  if (patches.length === 0) return null;
  const { left, right, bottom, top } = bounds(patches);
  const [width, height] = [right - left, top - bottom];
  const pad = Math.max(width, height) * 0.03;
  const bar = ruler(width);
  const text = Math.max(width, height) * 0.045;
  const grain = Math.max(width, height) / 200;
  return (
    <svg
      viewBox={`${left - pad} ${-top - pad} ${width + 2 * pad} ${height + 2 * pad + (scale ? text * 2.2 : 0)}`}
      className={className}
      {...(label ? { role: "img", "aria-label": label } : { "aria-hidden": true })}
    >
      <defs>
        {(Object.keys(HATCH) as (keyof typeof HATCH)[]).map((key) => (
          <pattern
            key={key}
            id={`${id}${key}`}
            width="4"
            height="4"
            patternUnits="userSpaceOnUse"
            patternTransform={`scale(${grain})`}
          >
            {HATCH[key]}
          </pattern>
        ))}
      </defs>
      {patches.map((patch, i) => {
        const look = LOOKS[patch.material];
        const points = patch.points.map(([x = 0, y = 0]) => `${x},${-y}`).join(" ");
        return (
          <g key={`${patch.what}-${i + 1}`}>
            <polygon points={points} fill={look.fill} />
            {look.grain && <polygon points={points} fill={`url(#${id}${look.grain})`} opacity="0.4" />}
            <polygon
              points={points}
              fill="none"
              stroke={patch.material === "vessel" ? "currentColor" : FOOD.line}
              strokeWidth="1.5"
              strokeLinejoin="round"
              vectorEffect="non-scaling-stroke"
            />
          </g>
        );
      })}
      {scale && (
        <g>
          <path
            d={`M${left} ${-bottom + text * 0.5}v${text * 0.4}h${bar}v${-text * 0.4}`}
            fill="none"
            stroke="currentColor"
            strokeWidth="1.5"
            vectorEffect="non-scaling-stroke"
          />
          <text x={left + bar + text * 0.4} y={-bottom + text * 1.1} fontSize={text} fill="currentColor">
            {bar >= 10 ? `${bar / 10} cm` : `${bar} mm`}
          </text>
        </g>
      )}
    </svg>
  );
}

/** What each colour is. */
export function Legend({ patches }: { patches: readonly Patch[] }) {
  return (
    <ul className="flex flex-wrap gap-x-5 gap-y-1 text-s" aria-label={words.kit.whatIsDrawn}>
      {materials(patches).map((patch) => (
        <li key={patch.what + patch.material} className="flex items-center gap-2">
          <Cut
            patches={[
              {
                ...patch,
                points: [
                  [0, 0],
                  [30, 0],
                  [30, 18],
                  [0, 18],
                ],
              },
            ]}
            label=""
            className="h-4 w-7 shrink-0"
          />
          {patch.what}
        </li>
      ))}
    </ul>
  );
}
