import { useMutation } from "@tanstack/react-query";
import { memo, useState } from "react";
import { answer, http, type Recipe } from "../../api/client";
import { EggPile } from "../../food/Eggs";
import { useDegrees } from "../../kit/degrees";
import { Choice, Labelled, TypedField } from "../../kit/Field";
import { Fig } from "../../kit/Fig";
import { restsOn } from "../../kit/format";
import { short } from "../../kit/numbers";
import { Remarks } from "../../kit/Remarks";
import { words } from "../../words";
import { Count, Follows } from "./Count";
import { baseAt, Lines } from "./Lines";
import type { Pictured, StationProps } from "./station";
import { changesOf } from "./useDraft";

/** The eggs to crack, or the jug where none are. */
export const WeighClosed = memo(function WeighClosed({ sheet }: Pictured) {
  return <EggPile eggs={sheet.weigh.eggs?.count ?? 0} className="max-h-full w-full" />;
});

export function WeighOpen({ sheet, recipe, weighed, edit, larder, refused }: StationProps) {
  const degrees = useDegrees();
  const { figures, lines, remarks, eggs } = sheet.weigh;
  const on = restsOn(sheet);
  const egg = recipe.base !== "other";
  const scaled = !(recipe.scale.by === "factor" && recipe.scale.amount === 1);
  const written_g = recipe.lines[baseAt(recipe)]?.mass_g;
  const rewrite = useMutation({
    mutationFn: (of: Recipe) => answer(http.POST("/api/sheet/at-this-size", { body: of })),
    onSuccess: (anew, of) => edit("rewritten", changesOf(of, anew)),
  });
  return (
    <div className="flex flex-col gap-4">
      <div className="flex min-w-0 flex-col gap-3">
        <div className="flex flex-wrap items-start gap-3">
          <Choice
            label={words.sheet.size}
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
                    written_g ? sheet.base_g / written_g : 1,
                  ),
                },
              })
            }
          />
          <TypedField
            label={words.sheet.howMuch}
            shown={short(recipe.scale.amount, recipe.scale.by === "bowl" || recipe.scale.by === "factor" ? 2 : 1)}
            width="w-24"
            error={refused?.at("scale") ?? refused?.at("scale.amount")}
            read={(typed) => {
              const amount = Number(typed.replace(",", "."));
              if (!Number.isFinite(amount) || amount <= 0) throw new Error(words.sheet.writeANumberAbove0);
              edit("scale", { scale: { ...recipe.scale, amount } });
            }}
          />
          {!sheet.shape && <Portions sheet={sheet} recipe={recipe} edit={edit} refused={refused} />}
          <Fig figure={figures.base as NonNullable<typeof figures.base>} label={lines[0]?.name ?? ""} large />
          {figures.ratio && <Fig figure={figures.ratio} label={words.sheet.sugarTo(on)} large />}
        </div>
        {scaled && (
          <p className="flex flex-wrap items-center gap-3 text-s">
            {words.sheet.youEditItAsWritten}
            <button type="button" className="press" onClick={() => rewrite.mutate(recipe)} disabled={rewrite.isPending}>
              {words.sheet.writeItAtThisSize}
            </button>
          </p>
        )}
        <Lines sheet={sheet} recipe={recipe} edit={edit} larder={larder} refused={refused} />
      </div>
      <div className="grid gap-x-6 gap-y-3 @xl:grid-cols-2">
        <EggOnScale base={on} cracked={egg} weighed={weighed} edit={edit} />
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
      </div>
      <Remarks remarks={remarks} />
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
  factor: number,
): number {
  const now = {
    factor: Number(factor.toFixed(3)),
    pieces,
    base: Math.round(white),
    eggs,
    sugar: Math.round(white * ratio),
    bowl: 1,
    trays,
  };
  return now[by];
}

function EggOnScale({
  base,
  cracked,
  weighed,
  edit,
}: Pick<StationProps, "weighed" | "edit"> & { base: string; cracked: boolean }) {
  const [keep, setKeep] = useState<"ratio" | "sugar">("sugar");
  return (
    <div className="col-span-full flex flex-wrap items-start gap-4 border-b border-hairline pb-2">
      <TypedField
        label={words.sheet.onTheScaleG(base.replace(/^./, (c) => c.toUpperCase()))}
        shown={weighed ? short(weighed.base_g) : ""}
        width="w-28"
        hint={
          weighed
            ? words.sheet.replacesTheCount
            : cracked
              ? words.sheet.weighWhatYouCracked
              : words.sheet.weighWhatYouHave
        }
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

/** How many portions, and of how much each. */
function Portions({ sheet, recipe, edit, refused }: Pick<StationProps, "sheet" | "recipe" | "edit" | "refused">) {
  return (
    <>
      <Count label={words.sheet.portions} {...{ sheet, recipe, edit, refused }} />
      <TypedField
        label={words.sheet.eachG}
        shown={short(sheet.recipe.portion_g, 1)}
        width="w-20"
        error={refused?.at("portion_g")}
        read={(typed) => {
          const portion_g = Number(typed.replace(",", ".").replace(/\s*g$/i, ""));
          if (!Number.isFinite(portion_g) || portion_g < 1) throw new Error(words.sheet.writeTheGramsSuchAs412);
          edit("portion", { portion_g, size_follows: false });
        }}
      />
      <Follows recipe={recipe} edit={edit} />
    </>
  );
}
