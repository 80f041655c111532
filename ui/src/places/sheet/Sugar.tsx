import { scaleLinear } from "d3-scale";
import { area } from "d3-shape";
import { memo } from "react";
import { SugarGlass } from "../../food/Kit";
import { Across, points as along, Course, type Point, Up } from "../../kit/charts/charts";
import { useDegrees } from "../../kit/degrees";
import { Choice, Slider } from "../../kit/Field";
import { Fig } from "../../kit/Fig";
import { chosenFrom } from "../../kit/larder";
import { fixed } from "../../kit/numbers";
import { Remarks } from "../../kit/Remarks";
import { words } from "../../words";
import { baseAt, moments } from "./Lines";
import { type Pictured, type StationProps, swap } from "./station";

/** A glass of sugar against the line of what the water holds. */
export const SugarClosed = memo(function SugarClosed({ sheet }: Pictured) {
  if (!sheet.sugar) return null;
  const { ratio, limit } = sheet.sugar.dissolving;
  return <SugarGlass ratio={ratio} limit={limit} grain_um={sheet.sugar.grain_um ?? 0} className="h-full" />;
});

type SugarSheet = NonNullable<StationProps["sheet"]["sugar"]>;

export function SugarOpen({ sheet, recipe, edit, larder, refused }: StationProps) {
  const degrees = useDegrees();
  const sugar = sheet.sugar;
  if (!sugar) return null;
  const { figures, remarks, dissolving } = sugar;
  const names = new Map(larder.ingredients.map((i) => [i.key, i]));
  const sugars = recipe.lines
    .map((line, at) => [line, at] as const)
    .filter(([line]) => names.get(line.ingredient)?.role === "sugar");
  const white_g = recipe.lines[baseAt(recipe)]?.mass_g ?? sheet.base_g;
  const put = (at: number, of: string, change: Partial<Lines[number]>) =>
    edit(of, (now) => ({ lines: swap(now.lines, at, change) }));
  return (
    <div className="grid gap-6 @xl:grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)]">
      <div className="flex min-w-0 flex-col gap-4">
        <Limit sugar={sugar} />
        <div className="flex flex-wrap items-start gap-x-7 gap-y-2">
          <Fig figure={figures.ratio} label={words.sheet.sugarToWhite} large />
          <Fig figure={figures.limit} label={words.sheet.limitAt(degrees.show(sugar.temp_c, { digits: 0 }))} large />
          <Fig
            figure={figures.smooth}
            label={words.sheet.smoothAfterTheLastSpoonful}
            large
            note={
              dissolving.smooth_min === null || dissolving.smooth_min === undefined
                ? words.sheet.neverWhileItWhisks
                : undefined
            }
          />
          {dissolving.undissolved_ratio > 0 && (
            <Fig figure={figures.undissolved} label={words.sheet.willNotDissolve} large />
          )}
        </div>
        <Grit sugar={sugar} />
      </div>
      <div className="flex min-w-0 flex-col gap-4">
        {sugars.map(([line, at]) => (
          <fieldset key={`${at}-${sugars.length}`} className="flex flex-col gap-2 border-b border-hairline pb-3">
            <legend className="sr-only">
              {words.sheet.sugar} {at}
            </legend>
            <Slider
              label={words.sheet.toWhite(names.get(line.ingredient)?.name.toLowerCase())}
              value={(line.mass_g ?? 0) / white_g}
              unit="×"
              min={0.05}
              max={3}
              step={0.05}
              error={refused?.at(`lines.${at}.mass_g`)}
              onChange={(ratio) =>
                put(at, `sugar-${at}`, { mass_g: asWeighed(ratio * white_g), written: "", or_g: null })
              }
            />
            <div className="grid gap-2">
              <Choice
                label={words.sheet.kind}
                value={line.ingredient}
                options={larder.choices.sugars}
                onChange={(ingredient) => put(at, `kind-${at}`, chosenFrom(larder, ingredient))}
              />
              <Choice
                label={words.sheet.whenItGoesIn}
                value={line.moment}
                options={moments(larder, recipe, line)}
                onChange={(moment) => put(at, `moment-${at}`, { moment })}
              />
            </div>
            <p className="text-s text-quiet">{larder.moments[line.moment]?.says}</p>
          </fieldset>
        ))}
        <button
          type="button"
          className="press self-start"
          disabled={sugars.length >= 4}
          onClick={() => edit("split", (now) => ({ lines: split(now.lines, sugars[0]?.[1]) }))}
        >
          {words.sheet.splitOffAPartAsIcing}
        </button>
        <Remarks remarks={remarks} />
      </div>
    </div>
  );
}

type Lines = StationProps["recipe"]["lines"];

/** A third of the first sugar becomes icing sugar that is folded in last. */
function split(lines: Lines, at: number | undefined): Lines {
  const first = at === undefined ? undefined : lines[at];
  if (at === undefined || first?.mass_g == null) return lines;
  const part = asWeighed(first.mass_g / 3);
  return [
    ...swap(lines, at, { mass_g: first.mass_g - part, written: "", or_g: null }),
    { ingredient: "icing", mass_g: part, moment: "folded last", written: "" },
  ];
}

/** To what a kitchen's scale shows. */
const asWeighed = (grams: number) => Number(grams.toFixed(grams >= 20 ? 0 : 1));

/** The dissolving limit over temperature, and this recipe's point on it. */
function Limit({ sugar }: { sugar: SugarSheet }) {
  const degrees = useDegrees();
  const { curve, temp_c, dissolving } = sugar;
  const [w, h] = [440, 220];
  const points = curve as unknown as Point[];
  const most = Math.max(...points.map(([, r]) => r), dissolving.ratio) * 1.05;
  const x = scaleLinear([0, 60], [36, w - 22]);
  const y = scaleLinear([Math.min(1, dissolving.ratio * 0.9), most], [h - 30, 12]);
  const under = area<Point>()
    .x((d) => x(d[0]))
    .y0(h - 30)
    .y1((d) => y(d[1]));
  const near = points.map(([t, r]): Point => [t, r * 0.92]);
  return (
    <svg
      viewBox={`0 0 ${w} ${h}`}
      className="w-full"
      role="img"
      aria-label={words.sheet.theMostSugarThatDissolvesBy(
        degrees.show(temp_c, { digits: 0 }),
        fixed(dissolving.limit, 2),
        fixed(dissolving.ratio, 2),
        dissolving.verdict,
      )}
    >
      <path d={under(points) ?? ""} fill="var(--color-hairline)" opacity="0.6" />
      <path d={under(near) ?? ""} fill="var(--color-paper)" />
      <Course points={points} x={x} y={y} look="limit" />
      <Across at={[10, 20, 30, 40, 50, 60]} x={x} y={h - 10} told={(t) => degrees.show(t)} />
      <Up at={y.ticks(4)} y={y} x={28} told={(r) => fixed(r, 1)} />
      <text x={x(3)} y={y(most) + 14} fontSize="14" fill="currentColor">
        {words.sheet.staysAsGrains}
      </text>
      <text x={w - 14} y={h - 44} fontSize="14" textAnchor="end" fill="currentColor">
        {words.sheet.dissolves}
      </text>
      <line
        x1={x(temp_c)}
        x2={x(temp_c)}
        y1={y(dissolving.ratio)}
        y2={y(dissolving.limit)}
        stroke="var(--color-water)"
        strokeWidth="2.5"
        strokeDasharray="3 4"
      />
      <circle cx={x(temp_c)} cy={y(dissolving.ratio)} r="8" fill="var(--color-water)" />
      <text x={x(temp_c) + 14} y={y(dissolving.ratio) + 6} fontSize="16" fontWeight="700" fill="currentColor">
        {fixed(dissolving.ratio, 2)}, {dissolving.verdict}
      </text>
    </svg>
  );
}

/** Grains left over the minutes of whisking: the last ones are the slow ones. */
function Grit({ sugar }: { sugar: SugarSheet }) {
  const { times_min, grit_share, smooth_min } = sugar.dissolving;
  const [w, h] = [440, 110];
  const first = Math.min(0, times_min[0] ?? 0);
  const last = Math.max(times_min.at(-1) ?? 1, 1);
  const x = scaleLinear([first, last], [36, w - 22]);
  const y = scaleLinear([0, Math.max(...grit_share, 0.01)], [h - 28, 30]);
  return (
    <svg
      viewBox={`0 0 ${w} ${h}`}
      className="w-full"
      role="img"
      aria-label={words.sheet.sugarInGrains(
        smooth_min === null || smooth_min === undefined
          ? words.sheet.itNeverFeelsSmooth
          : words.sheet.smoothMinutesAfterTheLastSpoonful(fixed(smooth_min)),
      )}
    >
      <line x1="36" x2={w - 22} y1={h - 28} y2={h - 28} stroke="var(--color-hairline)" />
      <Course points={along(times_min, grit_share)} x={x} y={y} />
      <line x1={x(0)} x2={x(0)} y1={12} y2={h - 28} stroke="currentColor" strokeDasharray="3 4" />
      <text x={x(0) + 6} y="24" fontSize="14" fill="var(--color-quiet)">
        {words.sheet.lastSpoonful}
      </text>
      <text x={w - 10} y={h - 10} textAnchor="end" fontSize="14" fill="var(--color-quiet)">
        {fixed(last)} {words.sheet.minAfter}
      </text>
      <text x="36" y={h - 10} fontSize="14" fill="var(--color-quiet)">
        {words.sheet.grainsLeft}
      </text>
    </svg>
  );
}
