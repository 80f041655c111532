import { useId } from "react";
import type { Patch, SectionPart } from "../api/client";
import { Browned, edge } from "./Browned";
import { edgeOf, foodColour, type Toast, waterColour } from "./colours";

interface Profile {
  body: string;
  exponent: number;
  thickness_mm: number;
  depth_mm: number[];
  fraction: number[][];
}

const RINGS = 14;

/** An outline of a part, shrunk by a share of its way to the core. 0 is the surface. */
function outline(part: SectionPart, share: number): string {
  const { x, y, width: w, height: h } = part;
  if (part.outline === "block") {
    const top = h * (1 - share);
    const r = Math.min(4, top / 2);
    return `M${x - w / 2} ${-y}V${-(y + top - r)}Q${x - w / 2} ${-(y + top)} ${x - w / 2 + r} ${-(y + top)}H${x + w / 2 - r}Q${x + w / 2} ${-(y + top)} ${x + w / 2} ${-(y + top - r)}V${-y}Z`;
  }
  const k = 1 - share;
  if (part.outline === "round") {
    // A piped ring cut through: flat on the paper, round on top.
    const [half, low, high] = [(w / 2) * k, y + (h / 2) * share, y + h - (h / 2) * share];
    const shoulder = Math.max(low, high - Math.min(half, high - low));
    return `M${x - half * 0.86} ${-low}Q${x - half} ${-low} ${x - half} ${-(low + (shoulder - low) * 0.3)}V${-shoulder}A${half} ${high - shoulder} 0 0 1 ${x + half} ${-shoulder}V${-(low + (shoulder - low) * 0.3)}Q${x + half} ${-low} ${x + half * 0.86} ${-low}Z`;
  }
  // A dome with a drawn tip, shrinking towards a point a third of the way up.
  const core = h * 0.33;
  const at = (px: number, py: number) => `${x + px * k} ${-(y + core + (py - core) * k)}`;
  return `M${at(-w / 2, 0)}C${at(-w * 0.57, h * 0.38)} ${at(-w * 0.3, h * 0.6)} ${at(-w * 0.12, h * 0.78)}Q${at(-w * 0.04, h * 0.88)} ${at(0, h)}Q${at(w * 0.04, h * 0.88)} ${at(w * 0.12, h * 0.78)}C${at(w * 0.3, h * 0.6)} ${at(w * 0.57, h * 0.38)} ${at(w / 2, 0)}Z`;
}

/** Water fraction of a profile at a depth (share of thickness) and time. */
function waterAt(profile: Profile, row: number, share: number): number {
  const depth = share * profile.thickness_mm;
  const fractions = profile.fraction[row] ?? [];
  // depth_mm falls from the core (index 0) to the surface.
  for (let i = profile.depth_mm.length - 1; i > 0; i--) {
    const [outer, inner] = [profile.depth_mm[i] as number, profile.depth_mm[i - 1] as number];
    if (depth <= inner) {
      const t = Math.max(0, (depth - outer) / (inner - outer));
      return (fractions[i] as number) * (1 - t) + (fractions[i - 1] as number) * t;
    }
  }
  return fractions[0] ?? 0;
}

/** The ropes of a piped piece, seen from outside: what was drawn up in one turn. */
function ropes({ x, y, width: w, height: h, outline: kind }: SectionPart): string | undefined {
  if (kind !== "dome") return undefined;
  const at = (px: number, py: number) => `${x + px * w} ${-(y + py * h)}`;
  return `M${at(-0.47, 0.3)}Q${at(0.05, 0.12)} ${at(0.44, 0.36)}M${at(-0.33, 0.55)}Q${at(0.05, 0.36)} ${at(0.28, 0.6)}M${at(-0.16, 0.74)}Q${at(0.02, 0.62)} ${at(0.13, 0.77)}`;
}

export interface Piece {
  parts: readonly SectionPart[];
  profiles?: readonly Profile[];
  row?: number;
  material?: Patch["material"];
  colour?: Patch["colour"];
  toast?: Toast | null;
}

/** How wide and high a piece is, mm. */
export function sizeOf(parts: readonly SectionPart[]) {
  const left = Math.min(...parts.map((p) => p.x - p.width / 2));
  const right = Math.max(...parts.map((p) => p.x + p.width / 2));
  return { left, right, width: right - left, height: Math.max(...parts.map((p) => p.y + p.height)) };
}

/** One piece, mm, standing on y = 0: cut open from wet to dry where its profiles are given, else in its colour, browned. */
export function Pieces({ parts, profiles, row = 0, material = "shell", colour = "", toast }: Piece) {
  const id = useId();
  const fill = foodColour(material, colour);
  const rounds = parts.filter((p) => p.outline === "round").map((p) => p.width);
  const bleed = rounds.length > 0 ? Math.min(...rounds) / 2 : 0;
  const drawn = parts.map((p) => (p.outline === "block" && bleed ? { ...p, width: p.width + bleed } : p));
  const line = material === "shell" || material === "foam" || material === "sheet" ? edge(toast) : edgeOf(fill);
  return (
    <>
      <defs>
        <Browned id={id} toast={toast} colour={fill} />
      </defs>
      {drawn.map((part) => {
        const profile = profiles?.find((p) => p.body === part.body);
        const rope = profile ? undefined : ropes(part);
        return (
          <g key={`${part.body}${part.x}`}>
            {profile ? (
              Array.from({ length: RINGS }, (_, i) => i / RINGS).map((share) => (
                <path
                  key={share}
                  d={outline(part, share)}
                  fill={waterColour(waterAt(profile, row, share + 0.5 / RINGS))}
                />
              ))
            ) : (
              <path d={outline(part, 0)} fill={`url(#${id})`} />
            )}
            {rope && (
              <path
                d={rope}
                fill="none"
                stroke={line}
                strokeWidth="1.2"
                opacity="0.7"
                vectorEffect="non-scaling-stroke"
              />
            )}
            <path d={outline(part, 0)} fill="none" stroke={line} strokeWidth="2" vectorEffect="non-scaling-stroke" />
          </g>
        );
      })}
    </>
  );
}

/** One piece cut open, to scale, on the paper it stands on. */
export function Section({ label, className, ...piece }: Piece & { label: string; className?: string }) {
  const { left, right, width, height: top } = sizeOf(piece.parts);
  const pad = width * 0.02;
  return (
    <svg
      viewBox={`${left - pad} ${-top - pad} ${width + 2 * pad} ${top + 2 * pad}`}
      className={className}
      role="img"
      aria-label={label}
    >
      <Pieces {...piece} />
      <line
        x1={left - pad}
        x2={right + pad}
        y1={0}
        y2={0}
        stroke="currentColor"
        strokeWidth="2"
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}
