import { scaleLog } from "d3-scale";
import { memo } from "react";
import { answer, http } from "../../api/client";
import { Held } from "../../food/Held";
import { Tin } from "../../food/Kit";
import { Section, sizeOf } from "../../food/Section";
import { useDegrees } from "../../kit/degrees";
import { Fig } from "../../kit/Fig";
import { fixed } from "../../kit/numbers";
import { Caution, Remarks } from "../../kit/Remarks";
import { words } from "../../words";
import { Cooks } from "./Cooks";
import type { Pictured, StationProps } from "./station";
import { changesOf } from "./useDraft";

/** What keeps dry, in its tin; what is portioned, in what it stands in. */
export const FinishClosed = memo(function FinishClosed({ sheet }: Pictured) {
  const look = { material: sheet.material ?? "foam", colour: sheet.colour, toast: sheet.dry?.colour };
  if (!sheet.shape) return <Held {...look} className="h-full" />;
  if (!sheet.dry)
    return (
      <Section
        parts={sheet.shape.section}
        {...look}
        label={words.sheet.theFinishedPiece}
        className="max-h-full w-full"
      />
    );
  const { width, height } = sizeOf(sheet.shape.section);
  return <Tin wide_mm={width} high_mm={height} toast={look.toast} colour={look.colour} className="h-full" />;
});

const longest = 24 * 60;
const said = (hours: number | null | undefined) =>
  hours === null || hours === undefined
    ? words.sheet.keepsWhileTheAirStaysThis
    : hours === 0
      ? words.sheet.softFromTheStart
      : hours < 1
        ? words.sheet.min(fixed(60 * hours))
        : hours < 48
          ? `${hours < 10 ? fixed(hours, 1) : fixed(hours)} h`
          : words.sheet.days(fixed(hours / 24));

export function FinishOpen({ sheet, kitchen, recipe, larder, edit, refused }: StationProps) {
  const degrees = useDegrees();
  const { figures, remarks, keeping, label, because, cautions } = sheet.finish;
  const x = scaleLog([0.5, longest], [0, 100]).clamp(true);
  return (
    <div className="grid gap-6 @xl:grid-cols-[minmax(0,1.2fr)_1fr]">
      <div className="flex min-w-0 flex-col gap-4">
        {keeping.length === 0 && (
          <div className="flex flex-wrap items-start gap-8">
            <Held material={sheet.material} colour={sheet.colour} className="h-28 w-32" />
            <div className="max-w-52">
              <Fig figure={figures.holds} label={words.sheet.holds} large note={figures.holds?.rule} />
            </div>
            <Fig figure={figures.volume} label={words.sheet.inAll} large />
            <Fig figure={figures.portion} label={words.sheet.aPortion} large />
            {figures.set && <Fig figure={figures.set} label={words.sheet.onceCold} large />}
            {figures.alcohol && <Fig figure={figures.alcohol} label={words.sheet.alcoholInAPortion} large />}
          </div>
        )}
        {keeping.length > 0 && (
          <>
            <h3 className="text-m">
              {words.sheet.hoursOfSnapInThisRoom} {degrees.show(kitchen.room_c)}, {kitchen.room_rh_pct}{" "}
              {words.sheet.humidity}
            </h3>
            <ul className="flex flex-col gap-3">
              {keeping.map((k) => (
                <li key={k.container}>
                  <div className="flex justify-between gap-4">
                    <span>{k.container}</span>
                    <b>{said(k.hours)}</b>
                  </div>
                  <div className="h-3 border border-quiet" aria-hidden="true">
                    <div
                      className="h-full bg-water"
                      style={{
                        width: `${k.hours === null || k.hours === undefined ? 100 : k.hours <= 0.5 ? 0 : x(k.hours)}%`,
                      }}
                    />
                  </div>
                  <p className="text-s text-quiet">
                    {words.sheet.airInside} {fixed(k.air_rh_pct)} {words.sheet.humidity}
                  </p>
                </li>
              ))}
            </ul>
            <p className="text-s text-quiet">{words.sheet.barsRunFromHalfAnHour}</p>
            <div className="flex gap-8">
              <Fig figure={figures.snap} label={words.sheet.openTray} large />
              <Fig figure={figures.cooling} label={words.sheet.coolsInTheOven} large />
            </div>
          </>
        )}
        <Cooks {...{ sheet, recipe, edit, refused }} />
      </div>
      <div className="flex min-w-0 flex-col gap-4">
        <div>
          <p className="text-s text-quiet">{words.sheet.itsEggIs}</p>
          <p className="text-l font-bold">{label}</p>
          <p className="text-s">{because}.</p>
        </div>
        {cautions.map((says) => (
          <Caution key={says} says={says} />
        ))}
        {larder.ingredients.some(
          (i) => (i.role === "wine" || i.role === "spirit") && recipe.lines.some((line) => line.ingredient === i.key),
        ) && (
          <button
            type="button"
            className="press self-start"
            onClick={async () => {
              const made = await answer(http.POST("/api/sheet/without-spirit", { body: recipe }));
              edit("without spirit", changesOf(recipe, made));
            }}
          >
            {words.sheet.withoutWineOrSpiritJuiceOr}
          </button>
        )}
        <Remarks remarks={remarks} />
      </div>
    </div>
  );
}
