import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, http, type ReadRecipe, Refused, type Sheet } from "../../api/client";
import { Held } from "../../food/Held";
import { Section } from "../../food/Section";
import { parts } from "../../kit/format";
import { Remarks } from "../../kit/Remarks";
import { words } from "../../words";

const MOST_REMARKS = 2;
const VITALS: Partial<Record<Sheet["weigh"]["key"], string>> = {
  sugar: words.recipes.sugarToWhite,
  heat: words.recipes.heatedTo,
  whisk: words.recipes.whisking,
  dry: words.recipes.inTheOven,
  finish: words.write.keeps,
};

/** Whether a recipe that is being written will work, drawn and in the figures that decide it. */
export function Works({ recipe }: { recipe: ReadRecipe }) {
  const tried = recipe.at_middle ?? recipe.recipe;
  const worked = useQuery({
    queryKey: ["read", "sheet", tried],
    queryFn: () =>
      answer(
        http.POST("/api/sheet", {
          body: { recipe: tried as NonNullable<ReadRecipe["recipe"]>, weighed: null },
        }),
      ) as Promise<Sheet>,
    enabled: Boolean(tried),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const sheet = worked.isError ? undefined : worked.data;
  if (!recipe.recipe || worked.isError)
    return (
      <p role="status" className="text-s text-quiet">
        {recipe.refused ?? (worked.error instanceof Refused ? worked.error.problem.detail : words.write.cannotYet)}
      </p>
    );
  if (!sheet) return null;
  const stations = [sheet.weigh, sheet.sugar, sheet.heat, sheet.whisk, sheet.shape, sheet.dry, sheet.finish];
  const there = stations.flatMap((s) => (s ? [s] : []));
  const weighty = there
    .flatMap((s) => s.remarks)
    .filter((r) => r.severity !== "good" && r.severity !== "note")
    .slice(0, MOST_REMARKS);
  return (
    <div className="flex flex-col gap-4" data-testid="works">
      {sheet.shape ? (
        <Section
          parts={sheet.shape.section}
          material={sheet.material}
          colour={sheet.colour}
          toast={sheet.dry?.colour}
          label={words.write.cutThrough(recipe.name)}
          className="max-h-28 w-full"
        />
      ) : (
        <Held material={sheet.material} colour={sheet.colour} className="h-24 w-full" />
      )}
      <p className="text-s text-quiet">
        {sheet.says}
        {recipe.at_middle && <span className="block">{words.write.triedAtMiddle}</span>}
      </p>
      <dl className="grid grid-cols-2 gap-x-4 gap-y-3">
        {there.map((station) => {
          const figure = station.figures[station.vital];
          const label = VITALS[station.key];
          if (!figure || !label) return null;
          const { number, unit } = parts(figure);
          return (
            <div key={station.key}>
              <dd>
                <span className="font-name text-l font-semibold">{number}</span> <span className="text-s">{unit}</span>
              </dd>
              <dt className="text-s text-quiet">{label}</dt>
            </div>
          );
        })}
      </dl>
      <Remarks remarks={weighty} />
    </div>
  );
}
