import { memo, useState } from "react";
import { answer, http, type Line, type Recipe } from "../../api/client";
import { useDegrees } from "../../kit/degrees";
import { Choice, Labelled, TypedField } from "../../kit/Field";
import { Fig } from "../../kit/Fig";
import { restsOn } from "../../kit/format";
import { Remarks } from "../../kit/Remarks";
import { words } from "../../words";
import { type Pictured, type StationProps, swap } from "./station";

/** Eggs stacked, or the jug where no eggs are cracked; sugar beside it at the same scale of mass. */
export const WeighClosed = memo(function WeighClosed({ sheet }: Pictured) {
  const eggs = sheet.weigh.eggs?.count ?? 0;
  const columns = eggs > 40 ? 8 : eggs > 18 ? 6 : 4;
  const size = 88 / columns;
  if (eggs === 0)
    return (
      <svg viewBox="0 0 96 160" className="h-48 w-full" aria-hidden="true">
        <path d="M26 60H70V150H26ZM70 75c14 0 14 40 0 40" fill="none" stroke="currentColor" strokeWidth="2.5" />
        <rect x="28" y="92" width="40" height="56" fill="var(--color-hairline)" />
      </svg>
    );
  return (
    <svg viewBox="0 0 96 160" className="h-56 w-full" aria-hidden="true">
      {Array.from({ length: Math.min(eggs, columns * 16) }, (_, i) => (
        <ellipse
          key={`egg-${i + 1}`}
          cx={4 + size * ((i % columns) + 0.5)}
          cy={154 - size * 1.18 * (Math.floor(i / columns) + 0.5)}
          rx={size * 0.4}
          ry={size * 0.52}
          fill="var(--color-surface)"
          stroke="currentColor"
          strokeWidth="2"
        />
      ))}
      <line x1="2" x2="94" y1="156" y2="156" stroke="currentColor" strokeWidth="2.5" />
    </svg>
  );
});

export function WeighOpen({ sheet, recipe, weighed, edit, larder, refused }: StationProps) {
  const degrees = useDegrees();
  const { figures, lines, remarks, eggs } = sheet.weigh;
  const on = restsOn(sheet);
  const egg = recipe.base !== "other";
  const named = (key: string) => larder.ingredients.find((i) => i.key === key)?.name ?? key;
  return (
    <div className="grid gap-6 xl:grid-cols-[minmax(0,1.65fr)_minmax(0,1fr)]">
      <div className="flex min-w-0 flex-col gap-4">
        <div className="flex flex-wrap items-start gap-3">
          <Choice
            label={words.sheet.from}
            value={recipe.scale.by}
            options={larder.choices.scales
              .filter(([by]) => (by !== "trays" || sheet.shape) && (by !== "bowl" || sheet.whisk))
              .map(
                ([by, says]) =>
                  [
                    by,
                    by === "pieces" && !sheet.shape
                      ? words.sheet.portionsWanted
                      : by === "base"
                        ? words.sheet.atHandG(on)
                        : says,
                  ] as const,
              )}
            onChange={(by) =>
              edit("scale.by", {
                scale: {
                  by,
                  amount: amountFor(
                    by,
                    sheet.pieces,
                    sheet.base_g,
                    figures.ratio?.value ?? 1,
                    sheet.shape?.trays.length ?? 1,
                    eggs?.count ?? 6,
                  ),
                },
              })
            }
          />
          <TypedField
            label={words.sheet.howMuch}
            shown={String(Number(recipe.scale.amount.toFixed(recipe.scale.by === "bowl" ? 2 : 1)))}
            width="w-24"
            error={refused?.at("scale") ?? refused?.at("scale.amount")}
            read={(typed) => {
              const amount = Number(typed.replace(",", "."));
              if (!Number.isFinite(amount) || amount <= 0) throw new Error(words.sheet.writeANumberAbove0);
              edit("scale", { scale: { ...recipe.scale, amount } });
            }}
          />
          <Fig figure={figures.base as NonNullable<typeof figures.base>} label={lines[0]?.name ?? ""} large />
          {figures.ratio && <Fig figure={figures.ratio} label={words.sheet.sugarTo(on)} large />}
        </div>
        <EggOnScale base={on} weighed={weighed} edit={edit} />
        <table className="w-full border-collapse text-left">
          <caption className="sr-only">{words.sheet.whatToWeigh}</caption>
          <thead>
            <tr className="border-b border-deep text-s text-quiet">
              <th className="py-1 font-normal">{words.sheet.toWeigh}</th>
              <th className="font-normal">{words.sheet.amountAsYouWriteIt}</th>
              <th className="font-normal">
                <span className="sr-only">{words.sheet.remove}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {lines.slice(1).map((line, i) => (
              <LineRow
                key={`${line.key}-${line.moment}`}
                line={line}
                index={i}
                sugars={recipe.sugars.length}
                white={sheet.base_g}
                on={on}
                recipe={recipe}
                edit={edit}
                larder={larder}
                error={refused?.at(
                  i < recipe.sugars.length ? `sugars.${i}.ratio` : `additions.${i - recipe.sugars.length}.ratio`,
                )}
              />
            ))}
          </tbody>
        </table>
        <AddLine
          larder={larder}
          named={named}
          sugars={!egg}
          add={(ingredient) =>
            larder.ingredients.find((i) => i.key === ingredient)?.role === "sugar"
              ? edit("add", {
                  sugars: [
                    ...recipe.sugars,
                    { kind: ingredient as Recipe["sugars"][number]["kind"], ratio: null, moment: "start", written: "" },
                  ],
                })
              : edit("add", {
                  additions: [
                    ...recipe.additions,
                    {
                      ingredient,
                      ratio: null,
                      moment: egg ? goesIn(larder, ingredient, Boolean(sheet.heat?.bath)) : "start",
                      written: "",
                    },
                  ],
                })
          }
        />
      </div>
      <div className="flex min-w-0 flex-col gap-4">
        {egg && (
          <div className="grid grid-cols-2 gap-3">
            <Choice
              label={words.sheet.from2(recipe.base === "white" ? "White" : recipe.base === "yolk" ? "Yolk" : "Egg")}
              value={recipe.egg.kind}
              options={larder.choices.eggs}
              onChange={(kind) => edit("egg.kind", { egg: { ...recipe.egg, kind } })}
            />
            <TypedField
              label={words.sheet.startsAt(degrees.sign)}
              shown={degrees.figure(recipe.egg.temp_c)}
              width="w-20"
              error={refused?.at("egg.temp_c")}
              read={(typed) => {
                const temp_c = degrees.read(typed);
                if (temp_c === undefined || temp_c < 0 || temp_c > 40)
                  throw new Error(words.sheet.writeTo(degrees.figure(0), degrees.show(40)));
                edit("egg.temp", { egg: { ...recipe.egg, temp_c } });
              }}
            />
          </div>
        )}
        <div className="flex flex-wrap gap-x-5 gap-y-2">
          {figures.eggs && <Fig figure={figures.eggs} label={words.sheet.toCrack} />}
          {figures.freed && (
            <Fig figure={figures.freed} label={words.sheet.freed(eggs?.frees === "white" ? "Whites" : "Yolks")} />
          )}
          {figures.over && (
            <Fig figure={figures.over} label={words.sheet.over(on.replace(/^./, (c) => c.toUpperCase()))} />
          )}
          {figures.powder && <Fig figure={figures.powder} label={words.sheet.powder} />}
          {figures["powder-water"] && <Fig figure={figures["powder-water"]} label={words.sheet.waterToIt} />}
        </div>
        <Remarks remarks={remarks} />
      </div>
    </div>
  );
}

/** The amount that leaves the batch as large as it is when the cook changes what fixes it. */
function amountFor(
  by: Recipe["scale"]["by"],
  pieces: number,
  white: number,
  ratio: number,
  trays: number,
  eggs: number,
): number {
  const now = { pieces, base: Math.round(white), eggs, sugar: Math.round(white * ratio), bowl: 1, trays };
  return now[by];
}

function EggOnScale({ base, weighed, edit }: Pick<StationProps, "weighed" | "edit"> & { base: string }) {
  const [keep, setKeep] = useState<"ratio" | "sugar">("sugar");
  return (
    <div className="flex flex-wrap items-end gap-4 border-y border-hairline py-2">
      <TypedField
        label={words.sheet.onTheScaleG(base.replace(/^./, (c) => c.toUpperCase()))}
        shown={weighed ? String(weighed.base_g) : ""}
        width="w-28"
        hint={weighed ? words.sheet.replacesTheCount : words.sheet.weighWhatYouCracked}
        read={(typed) => {
          if (!typed.trim()) return edit("weighed", {}, null);
          const base_g = Number(typed.replace(",", ".").replace(/\s*g$/i, ""));
          if (!Number.isFinite(base_g) || base_g <= 0) throw new Error(words.sheet.writeTheGramsSuchAs412);
          edit("weighed", {}, { base_g, keep });
        }}
      />
      <Labelled
        label={words.sheet.and}
        hint={(weighed?.keep ?? keep) === "sugar" ? words.sheet.itIsWeighedTheRatioFollows : words.sheet.allElseFollows}
      >
        {(ids) => (
          <select
            {...ids}
            value={weighed?.keep ?? keep}
            onChange={(e) => {
              const next = e.target.value as "ratio" | "sugar";
              setKeep(next);
              if (weighed) edit("weighed", {}, { ...weighed, keep: next });
            }}
          >
            <option value="sugar">{words.sheet.keepTheSugar}</option>
            <option value="ratio">{words.sheet.keepTheRatio}</option>
          </select>
        )}
      </Labelled>
    </div>
  );
}

/** When something new usually goes in; a syrup’s water into the pan is the school’s own. */
function goesIn(larder: StationProps["larder"], key: string, overBath: boolean): Recipe["additions"][number]["moment"] {
  if (!overBath) return "froth";
  const role = larder.ingredients.find((i) => i.key === key)?.role;
  return role === "cream" ? "cooled" : role === "fat" || role === "gelatine" ? "off heat" : "bath";
}

const shownMass = (grams: number) => `${grams >= 20 ? grams.toFixed(0) : Number(grams.toFixed(1))} g`;

/** One line to weigh: its amount can be typed as people write it, and how it was read is said below. */
function LineRow({
  line,
  index,
  sugars,
  white,
  on,
  recipe,
  edit,
  larder,
  error,
}: {
  line: Line;
  index: number;
  sugars: number;
  white: number;
  on: string;
  recipe: Recipe;
  edit: StationProps["edit"];
  larder: StationProps["larder"];
  error?: string;
}) {
  const [how, setHow] = useState<string>();
  const sugar = index < sugars;
  const at = sugar ? index : index - sugars;
  const put = (ratio: number | null, written: string) =>
    sugar
      ? edit(`sugar-${at}`, { sugars: swap(recipe.sugars, at, { ratio, written }) })
      : edit(`addition-${at}`, { additions: swap(recipe.additions, at, { ratio, written }) });
  const read = async (typed: string) => {
    const amount = await answer(http.POST("/api/read/amount", { body: { written: typed, ingredient: line.key } }));
    setHow(amount.how.join("; "));
    put(amount.mass_g === null ? null : amount.mass_g / white, typed);
  };
  const part = sugar ? recipe.sugars[at] : recipe.additions[at];
  const grams = part?.ratio === null ? null : line.mass_g; // the figures may still be those before
  const last = sugar && sugars === 1 && recipe.base !== "other";
  return (
    <tr className="border-b border-hairline align-top">
      <th scope="row" className="py-2 pr-3 font-normal">
        <b>{line.name}</b>
        <span className="block text-s text-quiet">
          {larder.choices.moments.find(([moment]) => moment === line.moment)?.[1]}
          {line.ratio !== null && ` · ${Number(line.ratio.toPrecision(3))} × ${on}`}
        </span>
      </th>
      <td className="py-1">
        <TypedField
          quiet
          label={words.sheet.amountOf(line.name.toLowerCase())}
          shown={grams === null ? (part?.written ?? line.written) : shownMass(grams)}
          read={read}
          error={error}
          hint={how || (grams === null ? words.sheet.notKnownNotScaled : undefined)}
        />
      </td>
      <td className="py-1 text-right">
        <button
          type="button"
          className="min-h-11 px-2 text-s whitespace-nowrap underline disabled:invisible"
          disabled={last}
          aria-label={words.sheet.remove2(line.name)}
          onClick={() =>
            sugar
              ? edit("remove", { sugars: recipe.sugars.filter((_, i) => i !== at) })
              : edit("remove", { additions: recipe.additions.filter((_, i) => i !== at) })
          }
        >
          {words.sheet.remove3}
        </button>
      </td>
    </tr>
  );
}

function AddLine({
  larder,
  add,
  named,
  sugars,
}: {
  larder: StationProps["larder"];
  add: (key: string) => void;
  named: (key: string) => string;
  sugars: boolean;
}) {
  return (
    <Labelled label={words.sheet.addSomething}>
      {(ids) => (
        <select {...ids} className="w-64 max-w-full" value="" onChange={(e) => e.target.value && add(e.target.value)}>
          <option value="">{words.sheet.chooseFromTheLarder}</option>
          {larder.ingredients
            .filter((i) => i.role !== "white" && (sugars || i.role !== "sugar"))
            .map((i) => (
              <option key={i.key} value={i.key}>
                {named(i.key)}
                {i.does ? `: ${i.does}` : ""}
              </option>
            ))}
        </select>
      )}
    </Labelled>
  );
}
