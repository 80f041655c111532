import { scaleLinear } from "d3-scale";
import { memo } from "react";
import { answer, http, type Recipe, type Sheet } from "../../api/client";
import { foodColour } from "../../food/colours";
import { BathBowl, SyrupPan } from "../../food/Kit";
import { Across, Course, Level, points, Up } from "../../kit/charts/charts";
import { type Degrees, useDegrees } from "../../kit/degrees";
import { Choice, TypedField } from "../../kit/Field";
import { Fig } from "../../kit/Fig";
import { clock, moments } from "../../kit/format";
import { fixed, short } from "../../kit/numbers";
import { Remarks } from "../../kit/Remarks";
import { words } from "../../words";
import { Climb, type Pan } from "./HeatClimb";
import type { Pictured, StationProps } from "./station";

type HeatSheet = NonNullable<Sheet["heat"]>;
type Bowl = NonNullable<HeatSheet["bath"]>;

/** The pan with its syrup as it is when it is poured; or the bowl over its bath. */
export const HeatClosed = memo(function HeatClosed({ sheet }: Pictured) {
  if (sheet.heat?.syrup) return <SyrupPan reads_c={sheet.heat.syrup.cook.target_c} className="h-full" />;
  return sheet.heat ? <BathBowl fill={foodColour(sheet.material ?? "foam", sheet.colour)} className="h-full" /> : null;
});

export function HeatOpen(props: StationProps) {
  const { heat } = props.sheet;
  const set = props.recipe.heat;
  if (!heat || !set) return null;
  const put = (of: string, change: Partial<typeof set>) =>
    props.edit(`heat-${of}`, (now) => ({ heat: { ...(now.heat ?? set), ...change } }));
  if (heat.syrup) return <Syrup {...props} heat={heat} pan={heat.syrup} set={set} put={put} />;
  return heat.bath ? <Bath {...props} heat={heat} bowl={heat.bath} set={set} put={put} /> : null;
}

type Set = NonNullable<Recipe["heat"]>;
type Open<T> = StationProps & { heat: HeatSheet; set: Set; put: (of: string, change: Partial<Set>) => void } & T;

function Target({ set, put, refused, hint }: Pick<Open<unknown>, "set" | "put" | "refused"> & { hint: string }) {
  const degrees = useDegrees();
  return (
    <TypedField
      label={words.sheet.target}
      shown={degrees.show(set.target_c)}
      width="w-full"
      hint={hint}
      error={refused?.at("heat.target_c") ?? refused?.at("heat") ?? refused?.at("recipe")}
      read={async (typed) => {
        const target_c = degrees.read(typed);
        if (target_c === undefined) throw new Error(words.sheet.writeATemperatureSuchAs(degrees.show(118)));
        put("target", { target_c });
      }}
    />
  );
}

const starts = (degrees: Degrees) =>
  [
    ["meet", words.sheet.toMeetTheSyrup],
    ["at 100", `at ${degrees.show(100)}`],
    ["at 112", `at ${degrees.figure(110)}–${degrees.show(115)}`],
    ["together", words.sheet.togetherWithThePan],
  ] as const;

function Syrup({ sheet, heat, pan, set, put, kitchen, larder, refused }: Open<{ pan: Pan }>) {
  const degrees = useDegrees();
  const { figures, remarks } = heat;
  const { cook } = pan;
  return (
    <div className="grid grow gap-x-6 gap-y-3 @xl:grid-cols-[minmax(0,1fr)_12rem]">
      <div className="flex min-w-0 flex-col gap-3">
        <Climb pan={pan} />
        <section aria-label={words.sheet.fourWaysToJudgeIt}>
          <h3 className="text-s text-quiet">{words.sheet.fourWaysToJudgeItThe}</h3>
          <ul className="grid grid-cols-2 gap-x-5 gap-y-2 border-y border-hairline py-2 @lg:grid-cols-[1fr_1.7fr_1fr_1.1fr]">
            <li className="min-w-0">
              <Fig
                figure={figures.target}
                label={words.sheet.thermometer}
                large
                note={pan.altitude_m ? words.sheet.atSeaLevel(cook.target_c) : undefined}
              />
            </li>
            <li className="min-w-0">
              <span className="text-s text-quiet">{words.sheet.dropInColdWater}</span>
              <b className="block text-m">{cook.stage}</b>
              <span className="block text-s">{cook.drop}</span>
            </li>
            <li className="min-w-0">
              <Fig
                figure={figures.lost}
                label={words.sheet.scaleThePanLoses}
                large
                note={words.sheet.toGGWaterLeft(
                  fixed(pan.on_scale_g),
                  fixed(pan.target_scale_g),
                  fixed(cook.water_left_g),
                )}
              />
            </li>
            <li className="min-w-0">
              <Fig
                figure={figures.time}
                label={words.sheet.minutesARoughGuide}
                large
                note={words.sheet.toNotScaled(fixed(figures.time?.low ?? 0, 1), fixed(figures.time?.high ?? 0, 1))}
              />
            </li>
          </ul>
        </section>
        <div className="grid gap-x-6 gap-y-3 @lg:grid-cols-2">
          <Poured heat={heat} pan={pan} />
          <div className="min-w-0 text-s">
            <h3 className="text-s text-quiet">{words.sheet.whenEachSchoolStartsTheWhites}</h3>
            <ul>
              {pan.starts.map((start) => (
                <li key={start.key} className={start.key === pan.chosen ? "font-bold" : ""}>
                  {start.says}: {start.verdict}
                </li>
              ))}
            </ul>
            <h3 className="mt-2 text-s text-quiet">{words.sheet.ifItRunsPast}</h3>
            <ul>
              {pan.overshoots.map((over) => (
                <li key={over.reads_c}>
                  {degrees.show(over.reads_c, { digits: 0 })}, {over.stage}:{" "}
                  {over.back ? words.sheet.stirInGOfHotWater(fixed(over.water_g)) : words.sheet.nothingBringsItBack}
                </li>
              ))}
            </ul>
          </div>
        </div>
      </div>
      <div className="grid content-start @xs:grid-cols-2 gap-x-4 gap-y-2 @xl:flex @xl:flex-col">
        <Target set={set} put={put} refused={refused} hint={words.sheet.asAtSeaLevel(cook.stage)} />
        <Choice
          label={words.sheet.whitesStart}
          value={set.start_whites}
          options={starts(degrees)}
          onChange={(start_whites) => put("start", { start_whites })}
        />
        <Choice
          label={words.sheet.whitesAtThePour}
          value={set.peak}
          options={larder.choices.peaks}
          onChange={(peak) => put("peak", { peak })}
        />
        <Choice
          label={words.sheet.burner}
          value={set.hob ?? kitchen.hobs[0]?.key ?? ""}
          options={kitchen.hobs.map((h) => [h.key, `${h.name}, ${h.power_w} W`] as const)}
          onChange={(hob) => put("hob", { hob })}
        />
        <Choice
          label={words.sheet.pan}
          value={set.pan ?? kitchen.pans[0]?.key ?? ""}
          options={kitchen.pans.map((p) => [p.key, `${p.name}, ${p.mass_g} g`] as const)}
          onChange={(next) => put("pan", { pan: next })}
        />
        <Fig
          figure={figures["start-at"]}
          label={words.sheet.startTheWhitesAt}
          note={words.sheet.afterThePan(clock(pan.starts.find((s) => s.key === pan.chosen)?.meeting.start_s ?? 0))}
        />
        <Fig figure={figures.apart} label={words.sheet.timingError} />
        <Fig figure={figures["hand-warm"]} label={words.sheet.handWarmIn(sheet.mixer)} />
        <Fig figure={figures.wall} label={words.sheet.leftOnTheWalls} />
        <Fig figure={figures.risk} label={words.sheet.graining} />
        <Remarks remarks={remarks} />
      </div>
    </div>
  );
}

/** The bowl after the pour: how hot, how long, against 71 °C. */
function Poured({ heat, pan }: { heat: HeatSheet; pan: Pan }) {
  const { poured } = pan;
  const [w, h] = [300, 150];
  const x = scaleLinear([0, poured.times_s.at(-1) ?? 1], [30, w - 8]);
  const y = scaleLinear([15, Math.max(80, poured.highest_c + 4)], [h - 24, 8]);
  return (
    <figure className="min-w-0">
      <figcaption className="flex flex-wrap items-baseline gap-x-4">
        <Fig
          figure={heat.figures.mixed}
          label={words.sheet.inTheBowlAfterThePour}
          large
          note={heat.could_reach ? words.sheet.couldReach71Confirm : words.sheet.notTreated}
        />
      </figcaption>
      <svg
        viewBox={`0 0 ${w} ${h}`}
        className="w-full"
        role="img"
        aria-label={words.sheet.handWarmAfter(
          heat.treatment,
          poured.hand_warm_s ? clock(poured.hand_warm_s) : "no time",
        )}
      >
        <Level from={30} until={w - 8} at={y(71)} dashes="5 4" />
        <text x={w - 10} y={y(71) - 5} textAnchor="end" fontSize="14" fill="currentColor">
          {words.sheet.n71TreatedIfMeasured}
        </text>
        <Level from={30} until={w - 8} at={y(33)} dashes="2 4" quiet />
        <text x={w - 10} y={y(33) - 5} textAnchor="end" fontSize="14" fill="var(--color-quiet)">
          {words.sheet.handWarm}
        </text>
        <Course points={points(poured.times_s, poured.temps_c)} x={x} y={y} />
        <Across at={moments(poured.times_s.at(-1) ?? 1, 4)} x={x} y={h - 6} told={clock} within={[18, w - 20]} />
      </svg>
    </figure>
  );
}

function Bath({ sheet, heat, bowl, set, put, kitchen, refused }: Open<{ bowl: Bowl }>) {
  const { figures, remarks } = heat;
  return (
    <div className="grid grow gap-x-6 gap-y-3 @xl:grid-cols-[minmax(0,1fr)_13rem]">
      <div className="flex min-w-0 flex-col gap-3">
        <Warming heat={heat} bowl={bowl} />
        <div className="flex flex-wrap items-start gap-x-8 gap-y-2 border-t border-hairline pt-3">
          <Fig
            figure={figures.time}
            label={words.sheet.toTheTarget}
            large
            note={words.sheet.toMin(fixed(figures.time?.low ?? 0, 1), fixed(figures.time?.high ?? 0, 1))}
          />
          <Fig figure={figures.thickens} label={words.sheet.thickensFrom} large />
          <Fig
            figure={figures.sets}
            label={sheet.recipe.base === "white" ? words.sheet.clotsFrom : words.sheet.scramblesFrom}
            large
          />
          <Fig figure={figures.window} label={words.sheet.timeToTakeItOff} large />
          {figures.smooth && <Fig figure={figures.smooth} label={words.sheet.noGrainFeltAfter} large />}
        </div>
        <Spread heat={heat} />
      </div>
      <div className="grid content-start @xs:grid-cols-2 gap-x-4 gap-y-2 @xl:flex @xl:flex-col">
        <Target
          set={set}
          put={put}
          refused={refused}
          hint={
            sheet.recipe.school === "swiss" ? words.sheet.n50Dissolves72MayTreat : words.sheet.ribbonSpoonAndProbeAgree
          }
        />
        {sheet.recipe.base !== "white" && (
          <Choice
            label={words.sheet.heated}
            value={set.source}
            options={
              [
                ["bath", words.sheet.overABath],
                ["direct", words.sheet.inThePanLowFlame],
              ] as const
            }
            onChange={(source) => put("source", { source })}
          />
        )}
        <TypedField
          label={words.sheet.holdMin}
          shown={short(set.hold_min ?? 0)}
          width="w-20"
          error={refused?.at("heat.hold_min")}
          read={(typed) => {
            const hold_min = Number(typed.replace(",", ".").replace(/\s*min$/i, ""));
            if (!(typed.trim() && hold_min >= 0 && hold_min <= 60)) throw new Error(words.sheet.writeHold);
            put("hold", { hold_min });
          }}
        />
        {set.source === "direct" && (
          <Choice
            label={words.sheet.pan}
            value={set.pan ?? kitchen.pans[0]?.key ?? ""}
            options={kitchen.pans.map((p) => [p.key, p.name] as const)}
            onChange={(pan) => put("pan", { pan })}
          />
        )}
        <Remarks remarks={remarks} />
      </div>
    </div>
  );
}

/** How it warms, and the window between thick and lost. */
function Warming({ heat, bowl }: { heat: HeatSheet; bowl: Bowl }) {
  const degrees = useDegrees();
  const { warming, window } = bowl;
  const [w, h] = [560, 280];
  const x = scaleLinear([0, warming.times_s.at(-1) ?? 1], [38, w - 130]);
  const top = Math.max(window.sets_c + 6, warming.target_c + 6);
  const y = scaleLinear([Math.min(...warming.temps_c) - 3, top], [h - 28, 8]);
  const shown = points(warming.times_s, warming.temps_c).filter(([, c]) => c <= top);
  return (
    <svg
      viewBox={`0 0 ${w} ${h}`}
      className="w-full"
      role="img"
      aria-label={words.sheet.itReachesInAboutItThickens(
        degrees.show(warming.target_c),
        clock(warming.at_s),
        degrees.figure(window.thickens_c, { digits: 0 }),
        degrees.show(window.sets_c, { digits: 0 }),
        heat.treatment,
      )}
    >
      <rect
        x="38"
        y="8"
        width={w - 168}
        height={Math.max(0, y(window.sets_c) - 8)}
        fill="var(--color-spot)"
        opacity="0.12"
      />
      <rect
        x="38"
        y={y(window.sets_c)}
        width={w - 168}
        height={y(window.thickens_c) - y(window.sets_c)}
        fill="var(--color-hairline)"
        opacity="0.8"
      />
      <Up at={y.ticks(5)} y={y} x={32} told={(t) => degrees.figure(t)} />
      <text x={w - 124} y={y(window.sets_c) - 4} fontSize="14" fill="currentColor">
        {degrees.figure(window.sets_c, { digits: 0 })} {words.sheet.lost}
      </text>
      <text
        x={w - 124}
        y={Math.max(y(window.thickens_c) + 14, y(window.sets_c) + 32)}
        fontSize="14"
        fill="currentColor"
      >
        {degrees.figure(window.thickens_c, { digits: 0 })} {words.sheet.thickens}
      </text>
      <Course points={shown} x={x} y={y} />
      <line
        x1={x(warming.at_s)}
        x2={x(warming.at_s)}
        y1={y(warming.target_c)}
        y2={h - 28}
        stroke="currentColor"
        strokeDasharray="3 4"
        strokeWidth="2"
      />
      <circle cx={x(warming.at_s)} cy={y(warming.target_c)} r="7" fill="currentColor" />
      <text
        x={x(warming.at_s) - 10}
        y={y(warming.target_c) - 10}
        textAnchor="end"
        fontSize="15"
        fontWeight="700"
        fill="currentColor"
      >
        {degrees.show(warming.target_c)}
      </text>
      <Across at={moments(warming.times_s.at(-1) ?? 1)} x={x} y={h - 8} told={clock} />
    </svg>
  );
}

/** Why the table of heat treatment does or does not speak for this mixture. */
function Spread({ heat }: { heat: HeatSheet }) {
  const degrees = useDegrees();
  const { mixture } = heat;
  const outside = [
    mixture.other_fraction > 0.12 && words.sheet.ofItIsNotEgg(fixed(100 * mixture.other_fraction)),
    mixture.acid && "acid",
    (mixture.water_activity ?? 1) < 0.92 && words.sheet.waterActivity(fixed(mixture.water_activity, 2)),
  ].filter(Boolean);
  return (
    <p className="border-t border-hairline pt-2 text-s">
      {outside.length > 0 ? (
        <>
          <b>{words.sheet.outsideTheTableOfHeatTreatment}</b> ({outside.join(", ")}
          {words.sheet.only} {degrees.show(71)} {words.sheet.orMoreMeasuredFor15S}
        </>
      ) : (
        <>
          <b>{words.sheet.insideTheTable}</b>
          {words.sheet.n35MinAtTheReference} {mixture.reference} {words.sheet.countFromReadingsOnly}
        </>
      )}
    </p>
  );
}

/** A recipe by another school, from the core's own rule. */
export const bySchool = (recipe: Recipe, school: Recipe["school"]) =>
  answer(http.POST("/api/sheet/schools/{school}", { params: { path: { school } }, body: recipe }));
