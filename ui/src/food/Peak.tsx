import { useId } from "react";
import { words } from "../words";
import { Browned } from "./Browned";
import { FOOD } from "./colours";

/** How far the tip stands, 0 (runs) to 1 (straight); and how dull, for what has gone too far. */
const STAND: Record<string, number> = {
  loose: 0,
  frothy: 0.15,
  "soft peak": 0.4,
  "medium peak": 0.62,
  "firm peak": 0.82,
  "stiff glossy peak": 1,
  "over-whisked": 0.9,
};

/** The surface of a foam at a stage, 112 wide, standing on y = 66. */
export function surface(stage: string): string {
  const s = STAND[stage] ?? 0.5;
  if (stage === "frothy")
    return "M4 66a9 9 0 0 1 18 0a12 12 0 0 1 24 0a8 8 0 0 1 16 0a11 11 0 0 1 22 0a9 9 0 0 1 18 0a7 7 0 0 1 14-2";
  if (s < 0.1) return "M4 66 C30 60 70 60 116 66";
  const top = 62 - 52 * s;
  const lean = (1 - s) * 26; // the tip folds over the lower it stands
  const hook = Math.max(0, 1 - Math.abs(s - 0.55) * 2.2) * 10;
  return (
    `M4 66 C28 64 40 ${top + 22} 52 ${top + 6} C56 ${top - 1} 62 ${top - 2} ${66 + lean * 0.5} ${top + 3}` +
    ` C${72 + lean} ${top + 6} ${76 + lean} ${top + 14 + hook} ${72 + lean} ${top + 16 + hook} C${68 + lean * 0.6} ${top + 12 + hook * 0.4} ${66 + lean * 0.2} ${top + 18} 72 ${Math.min(60, top + 34)} C80 62 96 65 116 66`
  );
}

/** The gloss on the shoulder of a foam: only where it has one. */
function gloss(stage: string): string | undefined {
  const s = STAND[stage] ?? 0.5;
  if (stage === "over-whisked" || s < 0.35) return undefined;
  const top = 62 - 52 * s;
  return `M38 ${top + 26}C44 ${top + 18} 50 ${top + 12} 55 ${top + 6}`;
}

/** A foam peak at a stage: the recurring glyph. */
export function Peak({
  stage,
  className = "h-20",
  decorative = false,
}: {
  stage: string;
  className?: string;
  decorative?: boolean;
}) {
  const id = useId();
  const shine = gloss(stage);
  return (
    <svg
      viewBox="0 0 120 72"
      className={className}
      {...(decorative ? { "aria-hidden": true } : { role: "img", "aria-label": words.kit.outlineOfA(stage) })}
    >
      <defs>
        <Browned id={id} />
      </defs>
      <path
        d={`${surface(stage)}V70H4Z`}
        fill={`url(#${id})`}
        stroke={FOOD.line}
        strokeWidth={2.5}
        strokeLinejoin="round"
        strokeLinecap="round"
        strokeDasharray={stage === "over-whisked" ? "5 4" : undefined}
      />
      {stage === "frothy" && (
        <path d="M22 54a6 6 0 0 1 12-2M62 57a7 7 0 0 1 13-3" fill="none" stroke={FOOD.line} strokeWidth="2" />
      )}
      {shine && (
        <path d={shine} fill="none" stroke="var(--food-gloss)" strokeWidth="5" strokeLinecap="round" opacity="0.9" />
      )}
    </svg>
  );
}

/** The mark: a foam peak whose tip hooks like a gull's bill. */
export function Mark() {
  return (
    <svg viewBox="0 0 36 28" className="h-7 w-9" aria-hidden="true">
      <path
        d="M1 26H35M4 26C10 25 10 4 18 4c4 0 7 3 6 7-2-2-5-1-5 2 0 6 4 11 12 13"
        fill="none"
        stroke="currentColor"
        strokeWidth="2.4"
        strokeLinejoin="round"
        strokeLinecap="round"
      />
      <path d="M24 11l-3-3" stroke="#B8321F" strokeWidth="2.4" strokeLinecap="round" />
    </svg>
  );
}
