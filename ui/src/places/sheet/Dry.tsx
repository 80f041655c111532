import { memo, useState } from "react";
import { answer, http, type Recipe } from "../../api/client";
import { type Toast, waterColour } from "../../food/colours";
import { Section } from "../../food/Section";
import { DryingChart } from "../../kit/charts/DryingChart";
import { useDegrees } from "../../kit/degrees";
import { Choice, Labelled, TypedField } from "../../kit/Field";
import { Fig } from "../../kit/Fig";
import { minutes } from "../../kit/format";
import { fixed } from "../../kit/numbers";
import { Remarks } from "../../kit/Remarks";
import { words } from "../../words";
import { type Pictured, type StationProps, swap } from "./station";

const nearest = (times: readonly number[], to: number) =>
  times.reduce((best, t, i) => (Math.abs(t - to) < Math.abs((times[best] as number) - to) ? i : best), 0);

export const DryClosed = memo(function DryClosed({ sheet }: Pictured) {
  if (!sheet.dry) return null;
  const { drying, section } = sheet.dry;
  return (
    <Section
      parts={section}
      profiles={drying.profiles}
      row={nearest(drying.times_min, drying.heat_end_min)}
      toast={sheet.dry.colour}
      label={words.sheet.onePieceCutThroughWhenThe}
      className="max-h-full w-full"
    />
  );
});

type Dry = NonNullable<StationProps["sheet"]["dry"]>;
type Programme = NonNullable<Recipe["programme"]>;

export function DryOpen(props: StationProps) {
  const { dry } = props.sheet;
  const { programme } = props.recipe;
  return dry && programme ? <Oven {...props} dry={dry} programme={programme} /> : null;
}

function Oven({
  dry,
  programme,
  recipe,
  edit,
  kitchen,
  larder,
  refused,
}: StationProps & { dry: Dry; programme: Programme }) {
  const { figures, remarks, drying, section, bars } = dry;
  const [picked, setPicked] = useState<number>();
  const end = drying.times_min.at(-1) ?? drying.end_min;
  const at = Math.min(picked ?? drying.heat_end_min, end);
  const row = nearest(drying.times_min, at);
  const set = drying.profiles.every((p) => p.set_core[row]);
  const colour =
    (larder.colours as [number, string][]).find(([most]) => (drying.ridge_browning[row] ?? 0) < most)?.[1] ??
    "scorched";
  return (
    <div className="grid grow gap-x-6 gap-y-3 @xl:grid-cols-[minmax(0,1fr)_10.5rem]">
      <div className="flex min-w-0 flex-col gap-2">
        <div className="flex items-start justify-between gap-4">
          <Fig figure={figures.time} label={words.sheet.heatTo(recipe.texture)} large note={spread(figures.time)} />
          <p className="max-w-72 text-s text-quiet">
            {words.sheet.after} <b className="text-ink">{minutes(drying.times_min[row] ?? 0)}</b>
            {words.sheet.dryShell} {fixed(drying.shell_mm[row] ?? 0, 1)} {words.sheet.mm} {set ? "set" : "raw"}{" "}
            {words.sheet.core}
            {fixed(drying.core_pct[row] ?? 0)} {words.sheet.water} {colour}
            <span className="flex items-center gap-2">
              {words.sheet.dry}
              <svg viewBox="0 0 80 12" className="h-3 w-12" aria-hidden="true">
                {[0, 1, 2, 3, 4, 5, 6, 7].map((i) => (
                  <rect key={i} x={i * 10} width="10" height="12" fill={waterColour((i / 7) * 0.33)} />
                ))}
                <rect width="80" height="12" fill="none" stroke="var(--color-quiet)" />
              </svg>
              {words.sheet.wet}
            </span>
          </p>
        </div>
        <Section
          parts={section}
          profiles={drying.profiles}
          row={row}
          label={words.sheet.onePieceCutThroughAtWater(
            minutes(drying.times_min[row] ?? 0),
            fixed(drying.core_pct[row] ?? 0),
            fixed(drying.shell_mm[row] ?? 0, 1),
          )}
          toast={colour as Toast}
          className="max-h-28 w-full"
        />
        <DryingChart drying={drying} bars={bars} at={at} />
        <Labelled label={words.sheet.lookAtAnotherMoment} quiet>
          {(ids) => (
            <input
              {...ids}
              type="range"
              className="w-full"
              min={0}
              max={Math.floor(end)}
              step={1}
              value={Math.round(at)}
              aria-valuetext={minutes(at)}
              onChange={(e) => setPicked(Number(e.target.value))}
            />
          )}
        </Labelled>
        <ProgrammeEditor programme={programme} offered={larder.oven_steps} edit={edit} refused={refused} />
      </div>
      <div className="grid grid-cols-2 content-start gap-x-4 gap-y-2 @xl:flex @xl:flex-col">
        <Choice
          label={words.sheet.texture}
          value={recipe.texture}
          options={larder.choices.textures}
          onChange={(texture) => {
            setPicked(undefined);
            edit("texture", { texture });
          }}
        />
        <div className="col-span-2 grid grid-cols-2 gap-2 @xl:grid-cols-1">
          <Choice
            label={words.sheet.oven}
            value={recipe.oven ?? kitchen.ovens[0]?.key ?? ""}
            options={kitchen.ovens.map((o) => [o.key, o.name] as const)}
            onChange={(oven) => edit("oven", { oven })}
          />
          <Choice
            label={words.sheet.air}
            value={programme.fan ? "fan" : "still"}
            options={
              [
                ["fan", words.sheet.fan],
                ["still", words.sheet.still],
              ] as const
            }
            onChange={(air) =>
              edit("programme-fan", (now) => ({ programme: { ...(now.programme ?? programme), fan: air === "fan" } }))
            }
          />
        </div>
        <Fig figure={figures.loss} label={words.sheet.lostByTheFullestTray} note={spread(figures.loss)} />
        <Fig figure={figures.out} label={words.sheet.trayWeighsOut} />
        <Fig figure={figures.core} label={words.sheet.coreCooled} />
        <Fig figure={figures.colour} label={words.sheet.ridges} />
        <Fig figure={figures["heat-up"]} label={words.sheet.ovenOnBefore} />
        {figures.true && <Fig figure={figures.true} label={words.sheet.thisOvenThenHolds} />}
        <Remarks remarks={remarks} />
      </div>
    </div>
  );
}

function spread(figure: Dry["figures"][string] | undefined): string | undefined {
  if (!figure || figure.low === null || figure.low === undefined || figure.high === null || figure.high === undefined)
    return undefined;
  if (figure.unit === "min") return `${minutes(figure.low)} to ${minutes(figure.high)}`;
  return `${fixed(figure.low)} to ${fixed(figure.high)} ${figure.unit}`;
}

type Steps = Programme["steps"];
type Offered = StationProps["larder"]["oven_steps"][number];

/** The oven programme as a row of steps, each with its figure and minutes. */
function ProgrammeEditor({
  programme,
  offered,
  edit,
  refused,
}: Pick<StationProps, "edit" | "refused"> & { programme: Programme; offered: Offered[] }) {
  const { steps } = programme;
  const degrees = useDegrees();
  const [how, setHow] = useState<string>();
  const put = (of: string, next: Partial<Programme>) =>
    edit(`programme-${of}`, (now) => ({ programme: { ...(now.programme ?? programme), ...next } }));
  const open = steps.findIndex((s) => s.kind === "heat" && s.minutes === null);
  const lastHeat = steps.map((s) => s.kind).lastIndexOf("heat");
  return (
    <div className="flex flex-wrap items-end gap-x-3 gap-y-2 border-t border-hairline pt-2">
      {steps.map((step, i) => (
        <div
          key={`${step.kind}-${i + 1}`}
          className="flex items-end gap-1.5 not-first:border-l not-first:border-hairline not-first:pl-2.5"
        >
          {step.kind === "heat" && (
            <TypedField
              label={i === 0 ? "Set" : words.sheet.thenSet}
              shown={degrees.show(step.set_c ?? 0, { oven: true })}
              width="w-19"
              error={refused?.at(`programme.steps.${i}.set_c`)}
              read={async (typed) => {
                const figure = await answer(http.POST("/api/read/oven", { body: { written: typed } }));
                const said = figure.air_said;
                const stays = words.sheet.noFanGivenItStays(programme.fan ? "fan" : "conventional");
                setHow([...figure.how, ...(said ? [] : [stays])].join("; "));
                put(`set-${i}`, {
                  steps: swap(steps, i, { set_c: figure.set_c }),
                  ...(said ? { fan: figure.fan } : {}),
                });
              }}
            />
          )}
          {step.kind === "heat" ? (
            <TypedField
              label={words.sheet.time}
              shown={
                step.minutes === null || step.minutes === undefined
                  ? words.sheet.untilDone
                  : words.sheet.min(step.minutes)
              }
              width="w-24"
              read={(typed) => {
                if (/done|auto|^$/i.test(typed.trim())) {
                  if (i !== lastHeat) throw new Error(words.sheet.onlyTheLastHeatingStepCan);
                  return put(`min-${i}`, { steps: swap(steps, i, { minutes: null }) });
                }
                put(`min-${i}`, { steps: swap(steps, i, { minutes: readMinutes(typed) }) });
              }}
            />
          ) : (
            <TypedField
              label={offered.find((o) => o.kind === step.kind && o.door === step.door)?.name ?? step.kind}
              shown={`${step.minutes} min`}
              width="w-17"
              read={(typed) => put(`min-${i}`, { steps: swap(steps, i, { minutes: readMinutes(typed) }) })}
            />
          )}
          {i > 0 && (
            <button
              type="button"
              className="min-h-11 px-1 text-s underline"
              aria-label={words.sheet.removeStep(i + 1)}
              onClick={() => put("remove", { steps: steps.filter((_, k) => k !== i) })}
            >
              ×<span className="sr-only"> {words.sheet.remove}</span>
            </button>
          )}
        </div>
      ))}
      {how && (
        <p role="status" className="w-full text-s text-quiet">
          {words.sheet.readAs} {how}
        </p>
      )}
      <Labelled label={words.sheet.addAStep}>
        {(ids) => (
          <select
            {...ids}
            value=""
            onChange={(e) => {
              const what = offered.find((o) => `${o.kind}-${o.door}` === e.target.value);
              if (what) put("add", { steps: added(steps, what, open === -1 ? lastHeat : open) });
            }}
          >
            <option value="">{words.sheet.choose}</option>
            {offered.map((o) => (
              <option key={o.adds} value={`${o.kind}-${o.door}`}>
                {o.adds}
              </option>
            ))}
          </select>
        )}
      </Labelled>
    </div>
  );
}

/** Minutes as written: 90, 90 min, 1 h 30. */
function readMinutes(typed: string): number {
  const match = typed.trim().match(/^(?:(\d+(?:[.,]\d+)?)\s*h)?\s*(?:(\d+(?:[.,]\d+)?)\s*(?:min|m)?)?$/i);
  const number = (text: string | undefined) => Number((text ?? "0").replace(",", "."));
  const total = match ? number(match[1]) * 60 + number(match[2]) : Number.NaN;
  if (!(total >= 0.5 && total <= 1440)) throw new Error(words.sheet.writeMinutesSuchAs45Or);
  return total;
}

/** The steps with one more: with the heat on before the last heat, and off at the end. */
function added(steps: Steps, what: Offered, beforeHeat: number): Steps {
  const heat = steps[beforeHeat];
  const step = {
    kind: what.kind,
    set_c: what.sets ? (heat?.set_c ?? 100) + 10 : null,
    minutes: what.minutes,
    door: what.door,
  };
  if (!what.heated) return [...steps, step];
  // What has no setting of its own needs one before it.
  const first = !what.sets && beforeHeat === 0 && heat ? [{ ...heat, minutes: 40 }] : [];
  return [...steps.slice(0, beforeHeat), ...first, step, ...steps.slice(beforeHeat)];
}
