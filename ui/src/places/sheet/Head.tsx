import { useIsMutating, useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answer, http, type Larder, type Recipe, type RecipeRecord, Refused, type Sheet } from "../../api/client";
import { recipeQuery } from "../../api/queries";
import { BookEntry } from "../../kit/BookEntry";
import { Compared } from "../../kit/Compared";
import { keep } from "../../kit/drafts";
import { Choice, TypedField } from "../../kit/Field";
import { InStock } from "../../kit/InStock";
import { chosenFrom } from "../../kit/larder";
import { Outgoing } from "../../kit/Outgoing";
import { NameAndNotes, NameOf } from "../../kit/StationLine";
import { Meanwhile, useSave } from "../../kit/useSave";
import { words } from "../../words";
import { bySchool } from "./Heat";
import { baseAt, READING } from "./Lines";
import { Schools } from "./Schools";
import { swap } from "./station";
import { changesOf, type useDraft } from "./useDraft";
import { Versions } from "./Versions";

/** A recipe whose amounts go by another of its lines, or by another thing in that line's place. */
function resting(recipe: Recipe, larder: Larder, on: string): Partial<Recipe> {
  const there = recipe.lines.some((line) => line.ingredient === on);
  return { on, lines: there ? recipe.lines : swap(recipe.lines, baseAt(recipe), chosenFrom(larder, on)) };
}

/** How a part without egg is made, and what its amounts go by. */
function Made({ recipe, larder, edit }: { recipe: Recipe; larder: Larder; edit: ReturnType<typeof useDraft>["edit"] }) {
  const roles = (school: Recipe["school"]) => larder.schools.find((s) => s.school === school)?.rests_on ?? [];
  const on = larder.ingredients.filter((i) => roles(recipe.school).includes(i.role));
  const ways = larder.schools.filter((s) =>
    larder.ingredients.some((i) => s.rests_on.includes(i.role) && !["white", "yolk", "whole egg"].includes(i.role)),
  );
  return (
    <>
      <Choice
        label={words.sheet.madeAs}
        value={recipe.school}
        options={ways.map((s) => [s.school, s.name] as const)}
        onChange={(school) =>
          edit("school", (now) => {
            const fits = larder.ingredients.filter((i) => roles(school).includes(i.role));
            const inIt = fits.find((i) => now.lines.some((line) => line.ingredient === i.key));
            const kept = fits.find((i) => i.key === now.on);
            return { school, ...resting(now, larder, (kept ?? inIt ?? fits[0])?.key ?? now.on ?? "") };
          })
        }
      />
      <Choice
        label={words.sheet.amountsGoBy}
        value={recipe.on ?? ""}
        options={on.map((i) => [i.key, i.name] as const)}
        onChange={(key) => edit("on", (now) => resting(now, larder, key))}
      />
    </>
  );
}

/** Name, size of the batch, school; save, undo, start. */
export function Head({
  record,
  draft,
  sheet,
  canUndo,
  larder,
}: {
  record: RecipeRecord;
  draft: ReturnType<typeof useDraft>;
  sheet: Sheet | undefined;
  canUndo: boolean;
  larder: Larder;
}) {
  const { recipe, edit, undo } = draft;
  const queries = useQueryClient();
  const go = useNavigate();
  const dirty = JSON.stringify(recipe) !== JSON.stringify(record.recipe);
  const reading = useIsMutating({ mutationKey: READING }) > 0;
  const [naming, setNaming] = useState(false);
  const [comparing, setComparing] = useState(false);
  const take = useMutation({
    mutationFn: ({ of, school }: { of: Recipe; school: Recipe["school"] }) => bySchool(of, school),
    onSuccess: (made, { of }) => edit("school", changesOf(of, made)),
  });
  const {
    save,
    base,
    newer: refusedFor,
    failure: notSaved,
    keepMine,
  } = useSave<RecipeRecord>(
    draft.onTop,
    (onTop) =>
      answer(
        http.PUT("/api/recipes/{recipe_id}", {
          params: { path: { recipe_id: record.id }, header: { "if-match": `"${onTop}"` } },
          body: recipe,
        }),
      ),
    (made) => {
      keep(record.id, undefined);
      queries.setQueryData(recipeQuery(record.id).queryKey, made);
      void queries.invalidateQueries({ queryKey: ["recipes"] });
    },
  );
  const start = useMutation({
    mutationFn: () =>
      answer(
        http.POST("/api/batches", {
          body: {
            id: crypto.randomUUID(),
            recipe,
            weighed: draft.weighed,
            recipe_id: record.id,
            recipe_version: record.version,
            cook: localStorage.getItem("gullpeak-cook") ?? "",
          },
        }),
      ),
    onSuccess: (batch) => {
      void queries.invalidateQueries({ queryKey: ["batches"] });
      go(`/bench/${batch.id}`);
    },
  });
  const newer = refusedFor ?? (dirty && base < record.version ? record : undefined);
  const failure = notSaved ?? start.error ?? take.error;
  return (
    <div>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2" data-head>
        <div className="min-w-72 flex-1">
          <NameOf name={recipe.name} />
          <InStock of={record.id} />
          <p className="text-s text-quiet">
            {sheet?.says}
            {sheet &&
              ` · ${sheet.dry ? `${sheet.oven}, ` : ""}${sheet.mixer} · version ${record.version}${dirty ? ", changed" : ""}`}
            <button
              type="button"
              className="ml-3 min-h-11 underline"
              aria-expanded={naming}
              onClick={() => setNaming(!naming)}
            >
              {words.sheet.nameNotesFiles}
            </button>
            {draft.changed && (
              <button type="button" className="ml-3 min-h-11 underline" onClick={draft.discard}>
                {words.kit.discardChanges}
              </button>
            )}
          </p>
        </div>
        {recipe.base === "white" && (
          <>
            <Choice
              label={words.sheet.school}
              value={recipe.school}
              options={larder.schools
                .filter((s) => s.rests_on.includes("white"))
                .map((s) => [s.school, s.name] as const)}
              onChange={(school) => take.mutate({ of: recipe, school })}
            />
            <button type="button" className="press" aria-expanded={comparing} onClick={() => setComparing(!comparing)}>
              {words.sheet.sideBySide}
            </button>
          </>
        )}
        {recipe.base === "other" && <Made recipe={recipe} larder={larder} edit={edit} />}
        <button type="button" className="press" disabled={!canUndo} onClick={undo}>
          {words.sheet.undo}
        </button>
        <button
          type="button"
          className="press"
          disabled={!dirty || reading || save.isPending}
          onClick={() => save.mutate()}
        >
          {words.kit.saveVersion((newer ?? record).version + 1)}
        </button>
        <button
          type="button"
          className="press press-first"
          disabled={!sheet || reading || Boolean(draft.refused) || start.isPending}
          onClick={() => start.mutate()}
        >
          {words.sheet.startTheBatch}
        </button>
      </div>
      {newer && (
        <Meanwhile
          version={newer.version}
          name={newer.recipe.name !== recipe.name ? ` (“${newer.recipe.name}”)` : ""}
          keepMine={() => keepMine(newer)}
          takeTheirs={() => {
            keep(record.id, undefined);
            draft.discard();
            queries.setQueryData(recipeQuery(record.id).queryKey, newer);
          }}
        >
          <Compared two={{ recipes: [newer.recipe, recipe] }} names={[words.kit.theirs, words.kit.mine]} />
        </Meanwhile>
      )}
      {failure && (
        <p role="alert" className="mt-2 border-l-4 border-deep pl-3 text-s">
          {failure instanceof Refused ? (failure.errors[0]?.says ?? failure.message) : failure.message}
        </p>
      )}
      {comparing && (
        <div className="pt-2">
          <Schools recipe={recipe} take={(school) => take.mutate({ of: recipe, school })} />
        </div>
      )}
      {naming && (
        <NameAndNotes
          notes={recipe.notes}
          tags={recipe.tags}
          put={(change) => edit(Object.keys(change).join(), change)}
          name={
            <TypedField
              label={words.sheet.name}
              shown={recipe.name}
              width="w-80 max-w-full"
              read={(name) => {
                if (!name.trim()) throw new Error(words.sheet.itNeedsANameWriteOne);
                edit("name", { name: name.trim() });
              }}
            />
          }
        >
          <Outgoing
            dirty={dirty}
            links={[
              [words.sheet.sheetAsPdf, `/api/files/recipes/${record.id}/sheet`],
              ...(recipe.shape
                ? ([[words.sheet.outlineForTheParchmentTrueSize, `/api/files/recipes/${record.id}/template`]] as const)
                : []),
              ["Archive", `/api/files/recipes/${record.id}/archive`],
              [words.sheet.plainText, `/api/files/recipes/${record.id}/text`],
              ["schema.org Recipe", `/api/files/recipes/${record.id}/schema-org`],
            ]}
          />
          <BookEntry id={record.id} />
          <Versions record={record} recipe={recipe} edit={edit} />
        </NameAndNotes>
      )}
    </div>
  );
}
