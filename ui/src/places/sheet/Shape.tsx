import { memo } from "react";
import { answer, http, type Recipe } from "../../api/client";
import { TrayTop } from "../../food/Kit";
import { Section } from "../../food/Section";
import { Choice, TypedField } from "../../kit/Field";
import { Fig } from "../../kit/Fig";
import { short } from "../../kit/numbers";
import { Remarks } from "../../kit/Remarks";
import { words } from "../../words";
import { Count, Follows } from "./Count";
import type { Pictured, StationProps } from "./station";

/** A tray to scale with its pieces; `filled` of them. */
function TrayDrawing({
  sheet,
  filled,
  className,
}: Pick<StationProps, "sheet"> & { filled: number; className: string }) {
  if (!sheet.shape || !sheet.recipe.shape) return null;
  const { layout } = sheet.shape;
  const [length = 0, width = 0] = layout.tray_mm;
  return (
    <TrayTop
      layout={layout}
      filled={filled}
      material={sheet.material}
      colour={sheet.colour}
      label={words.sheet.aTrayOfByCmWith(length / 10, width / 10, filled, layout.pattern)}
      className={className}
    />
  );
}

export const ShapeClosed = memo(function ShapeClosed({ sheet }: Pictured) {
  if (!sheet.shape) return null;
  const { trays } = sheet.shape;
  const shown = trays.slice(0, 4);
  return (
    <span className={`grid max-h-full w-full content-end gap-1 ${shown.length > 1 ? "grid-cols-2" : ""}`}>
      {shown.map((pieces, i) => (
        <TrayDrawing
          key={`tray-${i + 1}`}
          sheet={sheet}
          filled={pieces}
          className={shown.length > 2 ? "max-h-11 w-full" : "max-h-22 w-full"}
        />
      ))}
      {trays.length > 4 && (
        <span className="col-span-2 text-center text-s">
          {words.sheet.and} {trays.length - 4} {words.sheet.more}
        </span>
      )}
    </span>
  );
});

const NAMES: Record<string, readonly [string, number, number, number]> = {
  diameter_mm: ["Across", 15, 300, 1],
  height_mm: ["High", 5, 100, 1],
  base_mm: ["Floor", 2, 60, 1],
  wall_mm: ["Wall", 6, 90, 1],
  length_mm: ["Length", 50, 600, 5],
  width_mm: ["Width", 50, 500, 5],
  gap_mm: ["Gap", 5, 60, 1],
};
type Shape = NonNullable<Recipe["shape"]>;
type ShapeSheet = NonNullable<StationProps["sheet"]["shape"]>;

export function ShapeOpen(props: StationProps) {
  const station = props.sheet.shape;
  const { shape } = props.recipe;
  return station && shape ? <Pieces {...props} station={station} shape={shape} /> : null;
}

const MARGIN_MM = 8;

/** One slab over the whole of its tray, as high as the amounts make it. */
function fillTheTray(kitchen: StationProps["kitchen"], recipe: Recipe, shape: Shape): Partial<Recipe> {
  const tray = kitchen.trays.find((t) => t.key === recipe.tray) ?? kitchen.trays[0];
  if (!tray) return {};
  const [length_mm, width_mm] = [tray.length_mm - 2 * MARGIN_MM, tray.width_mm - 2 * MARGIN_MM];
  return { shape: { ...shape, length_mm, width_mm }, pieces: 1, size_follows: true };
}

function Pieces({
  sheet,
  station,
  shape,
  recipe,
  edit,
  kitchen,
  larder,
  refused,
}: StationProps & { station: ShapeSheet; shape: Shape }) {
  const { figures, remarks, trays, section } = station;
  const kind = larder.shapes.find((s) => s.kind === shape.kind);
  const follows = recipe.pieces != null && recipe.size_follows ? kind?.follows : undefined;
  const put = (of: string, change: Partial<Shape>) =>
    edit(`shape-${of}`, (now) => ({
      shape: { ...(now.shape ?? shape), ...change },
      ...(of === kind?.follows ? { size_follows: false } : {}),
    }));
  return (
    <div className="grid gap-6 @xl:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)]">
      <div className="flex min-w-0 flex-col gap-4">
        <div className="grid grid-cols-2 gap-3">
          {trays.slice(0, 4).map((pieces, i) => (
            <figure key={`tray-${i + 1}`} className="min-w-0">
              <TrayDrawing sheet={sheet} filled={pieces} className="max-h-40 w-full" />
              <figcaption className="text-s text-quiet">
                {words.sheet.tray} {i + 1}: {pieces}
                {i >= trays.length / station.loads ? words.sheet.nextLoad : ""}
              </figcaption>
            </figure>
          ))}
        </div>
        {trays.length > 4 && (
          <p className="text-s text-quiet">
            {words.sheet.and} {trays.length - 4} {words.sheet.moreTraysLikeThese}
          </p>
        )}
        <div className="grid grid-cols-3 gap-x-6 gap-y-2">
          <Count label={words.sheet.pieces} {...{ sheet, recipe, edit, refused }} />
          <Fig figure={figures.piece} label={words.sheet.each} large />
          <Fig figure={figures.trays} label={words.sheet.on} large />
          <Fig figure={figures["tray-mass"]} label={words.sheet.foamOnTheFullest} />
          <Fig figure={figures.bags} label={words.sheet.pipingBag} />
          <Fig figure={figures.left} label={words.sheet.foamLeftOver} />
        </div>
      </div>
      <div className="flex min-w-0 flex-col gap-3">
        <div className="flex flex-col gap-2">
          <Choice
            label={words.sheet.shape}
            value={shape.kind}
            hint={kind?.says}
            options={larder.shapes.map((s) => [s.kind, s.name] as const)}
            onChange={(next) => put("kind", { kind: next })}
          />
          <Choice
            label={words.sheet.tray2}
            value={recipe.tray ?? kitchen.trays[0]?.key ?? ""}
            options={kitchen.trays.map(
              (t) => [t.key, `${t.name}, ${t.length_mm / 10} × ${t.width_mm / 10} cm`] as const,
            )}
            onChange={(tray) => edit("tray", { tray })}
          />
        </div>
        <Section
          parts={section}
          material={sheet.material}
          colour={sheet.colour}
          label={words.sheet.oneCutThroughAsPiped(kind?.name ?? "piece")}
          className="max-h-24 w-full"
        />
        {[...(kind?.lengths ?? []), "gap_mm"].map((name) => {
          const [word, min, max, step] = NAMES[name] ?? [name, 1, 100, 1];
          const key = name as keyof typeof shape;
          const value = (name === follows ? (sheet.recipe.shape ?? shape) : shape)[key] as number;
          return (
            <div key={name} className="grid grid-cols-[3.2rem_minmax(0,1fr)_5.2rem] items-center gap-2">
              <span className="text-s">
                {word}
                {name === follows && <span className="block text-quiet">{words.sheet.followsShort}</span>}
              </span>
              <input
                type="range"
                aria-label={word}
                aria-valuetext={`${value} mm`}
                className="w-full"
                min={min}
                max={Math.max(max, value)}
                step={step}
                value={value}
                onChange={(e) => put(name, { [name]: Number(e.target.value) })}
              />
              <TypedField
                quiet
                label={words.sheet.typed(word)}
                shown={`${short(value / 10, 1)} cm`}
                width="w-full"
                error={refused?.at(`shape.${name}`)}
                read={async (typed) => {
                  const { mm } = await answer(http.POST("/api/read/length", { body: { written: typed } }));
                  put(name, { [name]: mm });
                }}
              />
            </div>
          );
        })}
        <div className="flex flex-wrap items-center gap-4">
          <Follows recipe={recipe} edit={edit} />
          {shape.kind === "slab" && (
            <button
              type="button"
              className="press"
              onClick={() => edit("fill the tray", fillTheTray(kitchen, recipe, shape))}
            >
              {words.sheet.fillTheTray}
            </button>
          )}
        </div>
        {refused?.at("shape") && (
          <p role="alert" className="text-s text-spot">
            {refused.at("shape")}
          </p>
        )}
        <Remarks remarks={remarks} />
      </div>
    </div>
  );
}
