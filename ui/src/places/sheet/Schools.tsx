import { useQuery } from "@tanstack/react-query";
import { answer, http, type Recipe, type Side } from "../../api/client";
import { said } from "../../kit/format";
import { fixed } from "../../kit/numbers";
import { words } from "../../words";

const spread = (f: Side["density"], digits: number): string =>
  f && f.low !== null && f.low !== undefined && f.high !== null && f.high !== undefined
    ? `${fixed(f.low, digits)} to ${fixed(f.high, digits)} ${f.unit}`
    : f
      ? said(f)
      : "–";

const ROWS: readonly (readonly [string, (s: Side) => string])[] = [
  ["stands", (s) => s.steady],
  ["density", (s) => spread(s.density, 2)],
  ["foam", (s) => (s.volume ? said(s.volume) : "–")],
  ["whisking", (s) => spread(s.whisking, 0)],
  ["oven", (s) => (s.drying ? said(s.drying) : "none")],
  ["egg", (s) => s.treatment ?? "–"],
  ["hands", (s) => s.hands ?? "–"],
  ["needs", (s) => s.pans ?? "–"],
];

/** One recipe by every school of white, side by side: press one to take it. */
export function Schools({ recipe, take }: { recipe: Recipe; take: (school: Recipe["school"]) => void }) {
  const { data, error } = useQuery({
    queryKey: ["schools", recipe],
    queryFn: () => answer(http.POST("/api/sheet/schools", { body: recipe })),
    placeholderData: (before) => before,
    retry: false,
  });
  if (error) return <p className="text-s text-quiet">{error.message}</p>;
  if (!data)
    return (
      <p role="status" className="text-s text-quiet">
        {words.sheet.workingItOutByEverySchool}
      </p>
    );
  return (
    <section
      data-scroll
      className="overflow-x-auto rounded-panel border border-hairline bg-surface"
      aria-label={words.sheet.schoolsSideBySide}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so a key has to reach it
      tabIndex={0}
    >
      <table className="w-full min-w-[60rem] table-fixed text-left text-s">
        <thead>
          <tr className="border-b border-deep">
            <td className="w-20 p-2" />
            {data.map((side) => (
              <th key={side.school} scope="col" className="p-2">
                <button
                  type="button"
                  className="press min-h-12 w-full"
                  aria-pressed={side.school === recipe.school}
                  disabled={side.school === recipe.school || Boolean(side.trouble)}
                  onClick={() => take(side.school)}
                >
                  {side.school === recipe.school ? (
                    <b>
                      {side.name}
                      {words.sheet.now}
                    </b>
                  ) : (
                    `By ${side.name}`
                  )}
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ROWS.map(([name, cell]) => (
            <tr key={name} className="border-b border-hairline align-top last:border-b-0">
              <th scope="row" className="p-2 font-normal text-quiet">
                {name}
              </th>
              {data.map((side) => (
                <td key={side.school} className={`p-2 ${side.school === recipe.school ? "bg-paper font-bold" : ""}`}>
                  {side.trouble ? (name === "stands" ? side.trouble : "") : cell(side)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
