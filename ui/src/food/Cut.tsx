import { useId } from "react";
import type { Patch } from "../api/client";
import { words } from "../words";
import { Browned, edge } from "./Browned";
import { edgeOf, foodColour, shownColour } from "./colours";

/** What has a grain over its colour. */
const GRAIN: Partial<Record<Patch["material"], "lines" | "holes">> = { pastry: "lines", sponge: "holes" };
/** What the oven and the whisk shade from its ridge down. */
const FOAMS: readonly Patch["material"][] = ["foam", "shell"];

const HATCH = {
  lines: <path d="M0 4L4 0" stroke="var(--food-brown)" strokeWidth="0.4" opacity="0.5" />,
  holes: <circle cx="2" cy="2" r="0.5" fill="var(--food-brown)" opacity="0.45" />,
} as const;

const materials = (patches: readonly Patch[]) => [...new Map(patches.map((p) => [p.what + p.material, p])).values()];

/** Where fruit or nuts lie in a patch: a lattice of places over its box, a little out of line, kept by its outline. */
function lies(points: Patch["points"], size: number): readonly (readonly [number, number])[] {
  const { left, right, bottom, top } = bounds([{ points }]);
  const step = size * 4.2;
  return Array.from(
    { length: Math.min(160, Math.ceil((right - left) / step) * Math.ceil((top - bottom) / step)) },
    (_, i) => {
      const columns = Math.max(1, Math.ceil((right - left) / step));
      const [column, row] = [i % columns, Math.floor(i / columns)];
      return [
        left + (column + 0.5 + 0.3 * Math.sin(i * 2.4)) * step,
        bottom + (row + 0.5 + 0.3 * Math.cos(i * 1.7)) * step,
      ];
    },
  );
}

export function bounds(patches: readonly Pick<Patch, "points">[]) {
  const xs = patches.flatMap((p) => p.points.map((at) => at[0] ?? 0));
  const ys = patches.flatMap((p) => p.points.map((at) => at[1] ?? 0));
  return { left: Math.min(...xs), right: Math.max(...xs), bottom: Math.min(...ys), top: Math.max(...ys) };
}

/** The round length that a scale bar shows, mm. */
const ruler = (width: number) => [200, 100, 50, 20, 10].find((mm) => mm < width * 0.6) ?? 5;

/** The patches of a product, mm, each in the colour of what it is. size: its longer side, for the grain. */
export function Patches({ patches, size }: { patches: readonly Patch[]; size: number }) {
  const id = useId();
  const grain = size / 200;
  return (
    <>
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
        {patches.map((patch, i) => (
          <clipPath key={`${patch.what}-${i + 1}`} id={`${id}in${i}`}>
            <polygon points={outline(patch)} />
          </clipPath>
        ))}
        {patches.map((patch, i) => (
          <Browned
            key={`${patch.what}-${i + 1}`}
            id={`${id}foam${i}`}
            toast={patch.toast}
            colour={foodColour(patch.material, patch.colour)}
          />
        ))}
      </defs>
      {patches.map((patch, i) => {
        const fill = foodColour(patch.material, patch.colour);
        const foam = FOAMS.includes(patch.material);
        const points = outline(patch);
        const over = GRAIN[patch.material];
        const stud = Math.max(2.2, size / 70);
        return (
          <g key={`${patch.what}-${i + 1}`}>
            <polygon
              points={points}
              fill={foam ? `url(#${id}foam${i})` : patch.material === "fruit" ? edgeOf(fill) : fill}
            />
            {over && <polygon points={points} fill={`url(#${id}${over})`} />}
            {patch.material === "fruit" && (
              <g clipPath={`url(#${id}in${i})`}>
                {lies(patch.points, stud * 1.5).map(([x, y]) => (
                  <circle
                    key={`${x} ${y}`}
                    cx={x}
                    cy={-y}
                    r={stud * 2.6}
                    fill={fill}
                    stroke={edgeOf(fill)}
                    strokeWidth={stud / 5}
                  />
                ))}
              </g>
            )}
            {patch.studs && (
              <g clipPath={`url(#${id}in${i})`}>
                {lies(patch.points, stud).map(([x, y]) => (
                  <circle key={`${x} ${y}`} cx={x} cy={-y} r={stud} fill={shownColour(patch.studs ?? "")} />
                ))}
              </g>
            )}
            <polygon
              points={points}
              fill="none"
              stroke={patch.material === "vessel" ? "currentColor" : foam ? edge(patch.toast) : edgeOf(fill)}
              strokeWidth="1.5"
              strokeLinejoin="round"
              vectorEffect="non-scaling-stroke"
            />
          </g>
        );
      })}
    </>
  );
}

const outline = (patch: Patch) => patch.points.map(([x = 0, y = 0]) => `${x},${-y}`).join(" ");

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
  if (patches.length === 0) return null;
  const { left, right, bottom, top } = bounds(patches);
  const [width, height] = [right - left, top - bottom];
  const size = Math.max(width, height);
  const pad = size * 0.03;
  const bar = ruler(width);
  const text = size * 0.045;
  return (
    <svg
      viewBox={`${left - pad} ${-top - pad} ${width + 2 * pad} ${height + 2 * pad + (scale ? text * 2.2 : 0)}`}
      className={className}
      {...(label ? { role: "img", "aria-label": label } : { "aria-hidden": true })}
    >
      <Patches patches={patches} size={size} />
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
