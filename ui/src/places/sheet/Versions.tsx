import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, http, type Recipe, type RecipeRecord } from "../../api/client";
import { Compared } from "../../kit/Compared";
import { stamp } from "../../kit/format";
import { words } from "../../words";
import type { Edit } from "./useDraft";

/** Every version of a recipe; one is looked at on the sheet, beside the newest, and kept only by saving it. */
export function Versions({ record, recipe, edit }: { record: RecipeRecord; recipe: Recipe; edit: Edit }) {
  const [open, setOpen] = useState(false);
  const [beside, setBeside] = useState<number>();
  const { data } = useQuery({
    queryKey: ["recipes", record.id, "versions", record.version],
    queryFn: () =>
      answer(http.GET("/api/recipes/{recipe_id}/versions", { params: { path: { recipe_id: record.id } } })),
    enabled: open,
  });
  return (
    <div className="flex w-full flex-col">
      <button
        type="button"
        className="min-h-11 self-start underline"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        {words.sheet.versions}
      </button>
      {open && (
        <ul aria-label={words.sheet.versions} className="divide-y divide-hairline">
          {(data ?? []).map((v) => (
            <li key={v.version} className="flex flex-wrap items-center gap-4 py-1">
              <span>
                {words.sheet.version(v.version)} · {stamp(v.saved_at)}
                {v.recipe.name !== record.recipe.name && ` · ${v.recipe.name}`}
              </span>
              <button
                type="button"
                className="press"
                aria-expanded={beside === v.version}
                aria-label={words.sheet.compareVersion(v.version)}
                onClick={() => setBeside(beside === v.version ? undefined : v.version)}
              >
                {words.sheet.compare}
              </button>
              {v.version !== record.version && (
                <button
                  type="button"
                  className="press"
                  aria-label={words.sheet.lookAtVersion(v.version)}
                  onClick={() => edit(`version-${v.version}`, v.recipe)}
                >
                  {words.sheet.lookAtIt}
                </button>
              )}
              {beside === v.version && (
                <div className="w-full">
                  <Compared
                    two={{ recipes: [v.recipe, recipe] }}
                    names={[words.sheet.version(v.version), words.sheet.asItStandsHere]}
                  />
                </div>
              )}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
