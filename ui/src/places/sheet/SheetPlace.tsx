import { useIsMutating, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import {
  answer,
  http,
  type KitchenRecord,
  type Larder,
  type Recipe,
  type RecipeRecord,
  Refused,
  type Sheet,
} from "../../api/client";
import { kitchenQuery, larderQuery, recipeQuery, trialsQuery } from "../../api/queries";
import { BookEntry } from "../../kit/BookEntry";
import { type Degrees, useDegrees } from "../../kit/degrees";
import { Choice, TypedField } from "../../kit/Field";
import { Moved } from "../../kit/Fig";
import { parts, restsOn, said } from "../../kit/format";
import { Outgoing } from "../../kit/Outgoing";
import { Trouble, Waiting } from "../../kit/States";
import { loud, NameAndNotes, NotWorkedOut, StationLine } from "../../kit/StationLine";
import { Meanwhile, useSave } from "../../kit/useSave";
import { words } from "../../words";
import { AsWritten } from "./AsWritten";
import { DryClosed, DryOpen } from "./Dry";
import { FinishClosed, FinishOpen } from "./Finish";
import { bySchool, HeatClosed, HeatOpen } from "./Heat";
import { baseAt, READING } from "./Lines";
import { Schools } from "./Schools";
import { ShapeClosed, ShapeOpen } from "./Shape";
import { SugarClosed, SugarOpen } from "./Sugar";
import { type StationProps, swap } from "./station";
import { type Edit, keptQuery, useDraft } from "./useDraft";
import { Versions } from "./Versions";
import { WeighClosed, WeighOpen } from "./Weigh";
import { WhiskClosed, WhiskOpen } from "./Whisk";

const STATIONS = [
  ["weigh", WeighClosed, WeighOpen],
  ["sugar", SugarClosed, SugarOpen],
  ["heat", HeatClosed, HeatOpen],
  ["whisk", WhiskClosed, WhiskOpen],
  ["shape", ShapeClosed, ShapeOpen],
  ["dry", DryClosed, DryOpen],
  ["finish", FinishClosed, FinishOpen],
] as const;
type Key = (typeof STATIONS)[number][0];

/** Figures whose move is worth telling on a closed station, with their short names. */
const TELL: Record<Key, readonly (readonly [string, string])[]> = {
  weigh: [
    ["base", words.sheet.egg],
    ["eggs", words.sheet.eggs2],
    ["ratio", words.sheet.ratio],
  ],
  sugar: [
    ["limit", words.sheet.limit2],
    ["smooth", words.sheet.smooth],
  ],
  heat: [
    ["target", words.sheet.target2],
    ["time", words.sheet.time2],
    ["lost", words.sheet.panLoses],
    ["mixed", words.sheet.bowl],
  ],
  whisk: [
    ["volume", words.sheet.foam2],
    ["time", words.sheet.time2],
  ],
  shape: [
    ["trays", words.sheet.trays],
    ["piece", words.sheet.aPiece],
    ["loads", words.sheet.loads2],
  ],
  dry: [
    ["time", words.sheet.heat],
    ["loss", words.sheet.loss],
    ["core", words.sheet.core2],
    ["colour", words.sheet.ridges2],
  ],
  finish: [
    ["snap", words.sheet.snap],
    ["holds", words.sheet.holds2],
  ],
};

export default function SheetPlace() {
  const { id = "" } = useParams();
  const recipe = useQuery({ ...recipeQuery(id), staleTime: Number.POSITIVE_INFINITY });
  const kitchen = useQuery(kitchenQuery);
  const larder = useQuery(larderQuery);
  const error = recipe.error ?? kitchen.error ?? larder.error;
  if (error) return <Trouble error={error} again={() => void recipe.refetch()} />;
  if (!recipe.data || !kitchen.data || !larder.data) return <Waiting what={words.sheet.theSheet} />;
  return <Line key={`${id}-${recipe.data.version}`} record={recipe.data} kitchen={kitchen.data} larder={larder.data} />;
}

/** The station line: every vital figure in sight, one station open. */
function Line({ record, kitchen, larder }: { record: RecipeRecord; kitchen: KitchenRecord; larder: Larder }) {
  const degrees = useDegrees();
  const draft = useDraft(record, kitchen.version);
  const { sheet, refused, recipe, edit, undo, canUndo } = draft;
  const baseline = useQuery(keptQuery(record, kitchen.version));
  const [open, setOpen] = useState<Key>(() => (sessionStorage.getItem("gullpeak-station") as Key) || "dry");
  useEffect(() => sessionStorage.setItem("gullpeak-station", open), [open]);
  const here = STATIONS.filter(([key]) => !sheet || sheet[key]);
  const shown = here.some(([key]) => key === open) ? open : (here.find(([key]) => key === "heat")?.[0] ?? "weigh");
  const props: StationProps | undefined = sheet && {
    sheet,
    recipe,
    weighed: draft.weighed,
    edit,
    kitchen: kitchen.kitchen,
    larder,
    refused,
  };
  return (
    <div className="mx-auto flex w-full max-w-[1900px] grow flex-col gap-3 px-4 py-3 md:px-6">
      <Head record={record} draft={draft} sheet={sheet} canUndo={canUndo} larder={larder} />
      {refused && <NotWorkedOut refused={refused} again={draft.again} />}
      {!props && !refused && <Waiting what={words.sheet.theFigures} />}
      {!props && refused && <AsWritten {...{ recipe, larder, edit, refused }} />}
      {sheet?.weigh.balance && !refused && <Balanced balance={sheet.weigh.balance} edit={edit} />}
      {props && (
        <StationLine
          shown={shown}
          show={setOpen}
          undo={undo}
          narrow="lg:w-[6.5rem]"
          stops={here.flatMap(([key, Closed, Open]) => {
            const station = props.sheet[key];
            if (!station) return [];
            const vital = station.figures[station.vital];
            return {
              key,
              title: station.title,
              label: `${station.title}${vital ? `: ${said(vital)}` : ""}`,
              closed: <Closed sheet={props.sheet} />,
              figure: vital && <Vital number={parts(vital).number} unit={parts(vital).unit} />,
              tells: TELLS[key](props.sheet, degrees),
              loud: loud(station.remarks),
              open: (
                <>
                  <OnTrial recipeId={record.id} station={key} />
                  <Open {...props} />
                </>
              ),
              moves: <Moves before={baseline.data?.[key]?.figures} after={station.figures} tell={TELL[key]} />,
            };
          })}
        />
      )}
    </div>
  );
}

/** What is short or left over of what was typed, and the ways out, a press each. */
function Balanced({ balance, edit }: { balance: NonNullable<Sheet["weigh"]["balance"]>; edit: Edit }) {
  return (
    <div role="status" data-testid="balance" className="flex flex-wrap items-center gap-3 border-l-4 border-deep pl-3">
      <span>{balance.says}</span>
      {balance.ways.map((way) => (
        <button key={way.says} type="button" className="press" onClick={() => edit("balance", way.recipe)}>
          {way.says.replace(/^./, (c) => c.toUpperCase())}
        </button>
      ))}
    </div>
  );
}

/** Changes on trial that the next batch meets at this station. */
function OnTrial({ recipeId, station }: { recipeId: string; station: Key }) {
  const { data } = useQuery(trialsQuery(recipeId));
  const mine = (data ?? []).filter((t) => t.station === station && !t.verdict);
  if (mine.length === 0) return null;
  return (
    <ul className="mb-2 flex flex-col gap-1" aria-label={words.sheet.onTrial}>
      {mine.map((t) => (
        <li key={t.id} className="border-l-4 border-deep pl-3 text-s">
          <b>
            {words.sheet.onTrialAgainst} {t.signs.join(", ")}:
          </b>{" "}
          {t.says}{" "}
          <Link className="underline" to={`/log/${t.batch_id}`}>
            {words.sheet.why}
          </Link>
        </li>
      ))}
    </ul>
  );
}

function Vital({ number, unit }: { number: string; unit: string }) {
  return (
    <span>
      <span className={`${number.length > 5 ? "text-m" : "text-l"} font-bold`}>{number}</span>
      <span className="text-s"> {unit}</span>
    </span>
  );
}

const mostFoam = (s: Sheet) => s.whisk?.foam_l[1] ?? 0;

/** The line under each closed station's figure. */
const TELLS: Record<Key, (sheet: Sheet, degrees: Degrees) => string> = {
  weigh: (s) =>
    s.weigh.eggs
      ? words.sheet.eggs(restsOn(s), s.weigh.eggs.count)
      : s.recipe.base === "other"
        ? restsOn(s)
        : `${s.recipe.base}, ${s.weigh.egg_kind}`,
  sugar: (s) => (s.sugar ? words.sheet.limit(s.sugar.dissolving.verdict, s.sugar.dissolving.limit.toFixed(2)) : ""),
  heat: (s, d) =>
    s.heat?.syrup
      ? words.sheet.inTheBowl(s.heat.syrup.cook.stage, d.show(s.heat.expected_c, { digits: 0 }))
      : s.heat?.bath
        ? s.recipe.school === "swiss"
          ? words.sheet.whitesAndSugar
          : words.sheet.thickensFrom2(d.show(s.heat.bath.window.thickens_c, { digits: 0 }))
        : "",
  whisk: (s) =>
    words.sheet.ofFoamInALBowl(
      s.whisk?.figures.volume ? said(s.whisk.figures.volume) : "",
      s.whisk?.bowl_l,
      s.whisk && mostFoam(s) > s.whisk.safe_l ? ": overflows" : "",
    ),
  shape: (s) =>
    s.shape
      ? `${s.shape.trays.join(" + ")}, ${s.shape.loads === 1 ? words.sheet.oneLoad : words.sheet.loads(s.shape.loads)}`
      : "",
  dry: (s) => `to ${s.recipe.texture}`,
  finish: (s) =>
    !s.dry
      ? words.sheet.beforeItIsUsed
      : s.finish.figures.snap?.value === null
        ? words.sheet.inThisRoom
        : "of snap on an open tray",
};

function Moves({
  before,
  after,
  tell,
}: {
  before?: Sheet["weigh"]["figures"];
  after: Sheet["weigh"]["figures"];
  tell: readonly (readonly [string, string])[];
}) {
  if (!before) return null;
  return (
    <span className="flex flex-col gap-2" data-testid="moves">
      {tell.map(([key, name]) => {
        const now = after[key];
        return now ? <Moved key={key} before={before[key]} after={now} label={name} /> : null;
      })}
    </span>
  );
}

/** A recipe whose amounts go by another of its lines, or by another thing in that line's place. */
function resting(recipe: Recipe, on: string): Partial<Recipe> {
  const there = recipe.lines.some((line) => line.ingredient === on);
  return { on, lines: there ? recipe.lines : swap(recipe.lines, baseAt(recipe), { ingredient: on }) };
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
            return { school, ...resting(now, (kept ?? inIt ?? fits[0])?.key ?? now.on ?? "") };
          })
        }
      />
      <Choice
        label={words.sheet.amountsGoBy}
        value={recipe.on ?? ""}
        options={on.map((i) => [i.key, i.name] as const)}
        onChange={(key) => edit("on", (now) => resting(now, key))}
      />
    </>
  );
}

/** Name, size of the batch, school; save, undo, start. */
function Head({
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
    mutationFn: (school: Recipe["school"]) => bySchool(recipe, school),
    onSuccess: (made) => edit("school", made),
  });
  const {
    save,
    newer,
    failure: notSaved,
    keepMine,
  } = useSave<RecipeRecord>(
    record.version,
    (onTop) =>
      answer(
        http.PUT("/api/recipes/{recipe_id}", {
          params: { path: { recipe_id: record.id }, header: { "if-match": `"${onTop}"` } },
          body: recipe,
        }),
      ),
    (made) => {
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
  const failure = notSaved ?? start.error ?? take.error;
  return (
    <div>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <div className="min-w-0 grow">
          <h1 className="line-clamp-2 text-l">{recipe.name}</h1>
          <p className="text-s text-quiet">
            {sheet?.says}
            {sheet &&
              ` · ${sheet.dry ? `${sheet.oven}, ` : ""}${sheet.mixer} · version ${record.version}${dirty ? ", changed" : ""}`}
            <button
              type="button"
              className="ml-3 min-h-8 underline"
              aria-expanded={naming}
              onClick={() => setNaming(!naming)}
            >
              {words.sheet.nameNotesFiles}
            </button>
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
              onChange={(school) => take.mutate(school)}
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
          {words.sheet.save}
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
          takeTheirs={() => queries.setQueryData(recipeQuery(record.id).queryKey, newer)}
        />
      )}
      {failure && (
        <p role="alert" className="mt-2 border-l-4 border-deep pl-3 text-s">
          {failure instanceof Refused ? (failure.errors[0]?.says ?? failure.message) : failure.message}
        </p>
      )}
      {comparing && (
        <div className="pt-2">
          <Schools recipe={recipe} take={(school) => take.mutate(school)} />
        </div>
      )}
      {naming && (
        <NameAndNotes
          notes={recipe.notes}
          put={(notes) => edit("notes", { notes })}
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
              ["schema.org Recipe", `/api/files/recipes/${record.id}/schema-org`],
            ]}
          />
          <BookEntry id={record.id} />
          <Versions record={record} edit={edit} />
        </NameAndNotes>
      )}
    </div>
  );
}
