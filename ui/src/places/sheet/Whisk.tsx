import { scaleLinear } from "d3-scale";
import { memo } from "react";
import type { Sheet } from "../../api/client";
import { FoamBowl } from "../../food/Kit";
import { Peak } from "../../food/Peak";
import { Across } from "../../kit/charts/charts";
import { Choice } from "../../kit/Field";
import { Fig } from "../../kit/Fig";
import { minutes } from "../../kit/format";
import { fixed, short, weight } from "../../kit/numbers";
import { Remarks } from "../../kit/Remarks";
import { words } from "../../words";
import type { Pictured, StationProps } from "./station";

type WhiskSheet = NonNullable<StationProps["sheet"]["whisk"]>;

/** The bowl with the foam in it, and the line it should stay under. */
function Bowl({ whisk, colour, className }: { whisk: WhiskSheet; colour: Sheet["colour"]; className: string }) {
  const { bowl_l, safe_l, foam_l, whisking } = whisk;
  const [low, high] = foam_l as [number, number];
  return (
    <FoamBowl
      foam_l={(low + high) / 2}
      bowl_l={bowl_l}
      safe_l={safe_l}
      stage={whisking.stages.at(-1)?.name ?? "soft peak"}
      colour={colour}
      label={words.sheet.toLitresOfFoamInA(
        fixed(low, 1),
        fixed(high, 1),
        short(bowl_l),
        fixed(safe_l, 1),
        high > safe_l ? words.sheet.itOverflows : "It fits.",
      )}
      className={className}
    />
  );
}

export const WhiskClosed = memo(function WhiskClosed({ sheet }: Pictured) {
  return sheet.whisk ? <Bowl whisk={sheet.whisk} colour={sheet.colour} className="h-full" /> : null;
});

export function WhiskOpen({ sheet, recipe, edit, kitchen }: StationProps) {
  const whisk = sheet.whisk;
  if (!whisk) return null;
  const { figures, remarks, whisking, pours } = whisk;
  return (
    <div className="grid gap-6 @xl:grid-cols-[minmax(0,1.9fr)_minmax(0,1fr)]">
      <div className="flex min-w-0 flex-col gap-4">
        <Timeline whisk={whisk} />
        <div className="flex flex-wrap items-start gap-x-7 gap-y-2">
          <Fig
            figure={figures.time}
            label={words.sheet.toStiff}
            large
            note={band(whisking.stages.at(-1) ?? { low_min: 0, high_min: 0 })}
          />
          <Fig
            figure={figures.volume}
            label={words.sheet.foam}
            large
            note={words.sheet.safeToL(fixed(whisk.safe_l, 1))}
          />
          <Fig figure={figures.window} label={words.sheet.staysAtItsBest} large />
          <Fig figure={figures.density} label={words.sheet.density} large />
        </div>
        {pours.length > 0 && (
          <ol className="divide-y divide-hairline border-y border-hairline">
            {pours.map((pour) => (
              <li key={`${pour.name}-${pour.moment}`} className="grid grid-cols-[8rem_1fr] gap-3 py-1.5 text-s">
                <span className="text-quiet">
                  {pour.moment === "folded last"
                    ? words.sheet.lastByHand
                    : pour.from_min === 0
                      ? words.sheet.atTheStart
                      : words.sheet.from3(minutes(pour.from_min))}
                </span>
                <span>
                  <b>
                    {pour.name}
                    {pour.mass_g !== null && `, ${weight(pour.mass_g)} g`}
                  </b>
                  : {pour.how}
                </span>
              </li>
            ))}
          </ol>
        )}
      </div>
      <div className="flex min-w-0 flex-col gap-4">
        <div className="flex flex-wrap items-end gap-4">
          <Bowl whisk={whisk} colour={sheet.colour} className="h-32 shrink-0" />
          <div className="w-full min-w-0">
            <Choice
              label={words.sheet.mixer}
              value={recipe.mixer ?? kitchen.mixers[0]?.key ?? ""}
              options={kitchen.mixers.map((m) => [m.key, `${m.name}, ${short(m.bowl_l)} l`] as const)}
              onChange={(mixer) => edit("mixer", { mixer })}
            />
            <p className="mt-2 text-s text-quiet">{whisking.says}</p>
          </div>
        </div>
        <Remarks remarks={remarks} />
      </div>
    </div>
  );
}

const tenth = (min: number) => short(min, min < 10 ? 1 : 0);
const band = (stage: { low_min: number; high_min: number }) =>
  words.sheet.toMin(tenth(stage.low_min), tenth(stage.high_min));

/** Stages as bands on a line of minutes, each with its outline; what goes in below. */
function Timeline({ whisk }: { whisk: WhiskSheet }) {
  const { whisking, pours } = whisk;
  const end = (whisking.stages.at(-1)?.high_min ?? 10) + 1;
  const [w, h] = [460, 196];
  const x = scaleLinear([0, end], [22, w - 22]);
  const poured = pours.filter((p) => p.until_min > p.from_min && p.moment !== "folded last");
  return (
    <div className="min-w-0">
      <div className="grid" style={{ gridTemplateColumns: `repeat(${whisking.stages.length}, 1fr)` }}>
        {whisking.stages.map((stage) => (
          <div key={stage.name} className="min-w-0 pr-2">
            <Peak stage={stage.name} className="h-12 w-full max-w-24" decorative />
            <b className="block text-s">{stage.name}</b>
            <span className="block text-s text-quiet">{band(stage)}</span>
          </div>
        ))}
      </div>
      <svg
        viewBox={`0 0 ${w} ${h - 70}`}
        className="mt-2 w-full"
        role="img"
        aria-label={words.sheet.stagesByMinutes(
          whisking.stages
            .map((s) => words.sheet.stageFromTo(s.name, minutes(s.low_min), minutes(s.high_min)))
            .join(", "),
        )}
      >
        {whisking.stages.map((stage, i) => (
          <g key={stage.name}>
            <rect
              x={x(stage.low_min)}
              y={10 + i * 14}
              width={Math.max(4, x(stage.high_min) - x(stage.low_min))}
              height="10"
              fill="var(--color-deep)"
              opacity={0.35 + 0.16 * i}
            />
          </g>
        ))}
        {poured.map((pour) => (
          <g key={pour.name}>
            <rect
              x={x(pour.from_min)}
              y="84"
              width={Math.max(4, x(pour.until_min) - x(pour.from_min))}
              height="12"
              fill="none"
              stroke="currentColor"
              strokeWidth="2"
            />
            <text x={x(pour.until_min) + 8} y="95" fontSize="14" fill="currentColor">
              {pour.name.toLowerCase()} {words.sheet.rainsIn}
            </text>
          </g>
        ))}
        <line x1="22" x2={w - 22} y1="102" y2="102" stroke="currentColor" strokeWidth="1.5" />
        <Across at={x.ticks(5)} x={x} y={120} told={(t) => `${t} ${words.sheet.min2}`} />
      </svg>
    </div>
  );
}
