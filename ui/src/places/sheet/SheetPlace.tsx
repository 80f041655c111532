import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { answer, http, type KitchenRecord, type Larder, type RecipeRecord, Refused, type Sheet } from "../../api/client";
import { kitchenQuery, larderQuery, recipeQuery } from "../../api/queries";
import { Moved } from "../../kit/Fig";
import { Choice, TypedField } from "../../kit/Field";
import { parts, said } from "../../kit/format";
import { Trouble, Waiting } from "../../kit/States";
import { useKeys } from "../../kit/useKeys";
import { DryClosed, DryOpen } from "./Dry";
import { FinishClosed, FinishOpen } from "./Finish";
import { ShapeClosed, ShapeOpen } from "./Shape";
import { SugarClosed, SugarOpen } from "./Sugar";
import type { StationProps } from "./station";
import { useDraft } from "./useDraft";
import { WeighClosed, WeighOpen } from "./Weigh";
import { WhiskClosed, WhiskOpen } from "./Whisk";

const STATIONS = [
  ["weigh", WeighClosed, WeighOpen],
  ["sugar", SugarClosed, SugarOpen],
  ["whisk", WhiskClosed, WhiskOpen],
  ["shape", ShapeClosed, ShapeOpen],
  ["dry", DryClosed, DryOpen],
  ["finish", FinishClosed, FinishOpen],
] as const;
type Key = (typeof STATIONS)[number][0];

/** Figures whose move is worth telling on a closed station, with their short names. */
const TELL: Record<Key, readonly (readonly [string, string])[]> = {
  weigh: [["white", "white"], ["eggs", "eggs"], ["ratio", "ratio"]],
  sugar: [["limit", "limit"], ["smooth", "smooth"]],
  whisk: [["volume", "foam"], ["time", "time"]],
  shape: [["trays", "trays"], ["piece", "a piece"], ["loads", "loads"]],
  dry: [["time", "heat"], ["loss", "loss"], ["core", "core"], ["colour", "ridges"]],
  finish: [["snap", "snap"]],
};

export default function SheetPlace() {
  const { id = "" } = useParams();
  const recipe = useQuery({ ...recipeQuery(id), staleTime: Number.POSITIVE_INFINITY });
  const kitchen = useQuery(kitchenQuery);
  const larder = useQuery(larderQuery);
  const error = recipe.error ?? kitchen.error ?? larder.error;
  if (error) return <Trouble error={error} again={() => void recipe.refetch()} />;
  if (!recipe.data || !kitchen.data || !larder.data) return <Waiting what="the sheet" />;
  return <Line key={`${id}-${recipe.data.version}`} record={recipe.data} kitchen={kitchen.data} larder={larder.data} />;
}

/** The station line: every vital figure in sight, one station open. */
function Line({ record, kitchen, larder }: { record: RecipeRecord; kitchen: KitchenRecord; larder: Larder }) {
  const draft = useDraft(record.recipe);
  const { sheet, refused, recipe, edit, undo, canUndo } = draft;
  const baseline = useQuery({
    queryKey: ["sheet", record.id, record.version, kitchen.version],
    queryFn: () => answer(http.POST("/api/sheet", { body: { recipe: record.recipe, weighed: null } })),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const [open, setOpen] = useState<Key>(() => (sessionStorage.getItem("gullpeak-station") as Key) || "dry");
  useEffect(() => sessionStorage.setItem("gullpeak-station", open), [open]);
  const at = STATIONS.findIndex(([key]) => key === open);
  const move = (to: number) => {
    const key = STATIONS[to]?.[0];
    if (key) setOpen(key);
    return Boolean(key);
  };
  useKeys((key, event) => {
    if (event.ctrlKey && key === "z") {
      undo();
      return true;
    }
    if (event.ctrlKey) return false;
    if (key === "ArrowRight") return move(at + 1);
    if (key === "ArrowLeft") return move(at - 1);
    return /^[1-6]$/.test(key) ? move(Number(key) - 1) : false;
  });
  const props: StationProps | undefined = sheet && { sheet, recipe, weighed: draft.weighed, edit, kitchen: kitchen.kitchen, larder, refused };
  return (
    <div className="mx-auto flex w-full max-w-[1900px] grow flex-col gap-3 px-4 py-3 md:px-6">
      <Head record={record} draft={draft} sheet={sheet} canUndo={canUndo} />
      {refused && (
        <p role="alert" className="border-l-4 border-deep bg-surface p-2 pl-3 text-s">
          <b>Not worked out:</b> {refused.errors[0]?.says ?? refused.message} The figures below are those before.{" "}
          {refused.offline && (
            <button type="button" className="min-h-11 underline" onClick={draft.again}>
              Try again
            </button>
          )}
        </p>
      )}
      {!props && !refused && <Waiting what="the figures" />}
      {props && (
        <div className="flex grow flex-col border border-hairline bg-surface lg:min-h-[34rem] lg:flex-row" data-testid="line">
          {STATIONS.map(([key, Closed, Open]) => {
            const station = props.sheet[key];
            const vital = station.figures[station.vital];
            const loud = station.remarks.filter((r) => r.severity === "warning" || r.severity === "danger").length;
            const before = baseline.data?.[key].figures;
            const isOpen = key === open;
            return (
              <section key={key} aria-labelledby={`station-${key}`} data-station={key} className={`flex min-w-0 flex-col border-hairline not-last:border-b lg:not-last:border-r lg:not-last:border-b-0 ${isOpen ? "grow basis-0 border-t-4 border-t-deep" : "lg:w-[6.5rem] lg:shrink-0"}`}>
                {isOpen ? (
                  <div className="flex grow flex-col gap-3 p-4">
                    <h2 id={`station-${key}`} className="text-m">
                      {station.title}
                    </h2>
                    <Open {...props} />
                    <Moves before={before} after={station.figures} tell={TELL[key]} />
                  </div>
                ) : (
                  <button type="button" className="flex min-h-14 grow flex-row items-center gap-3 p-2 text-left lg:flex-col lg:items-stretch" onClick={() => setOpen(key)} aria-label={`${station.title}${vital ? `: ${said(vital)}` : ""}. Open`}>
                    <span id={`station-${key}`} className="text-m font-bold max-lg:w-20">
                      {station.title}
                    </span>
                    <span className="hidden h-64 items-center justify-center lg:flex" aria-hidden="true">
                      <Closed sheet={props.sheet} />
                    </span>
                    {vital && <Vital number={parts(vital).number} unit={parts(vital).unit} />}
                    <span className="text-s text-quiet">{TELLS[key](props.sheet)}</span>
                    {loud > 0 && <b className="text-s">{loud === 1 ? "1 thing to look at" : `${loud} things to look at`}</b>}
                    <Moves before={before} after={station.figures} tell={TELL[key]} />
                  </button>
                )}
              </section>
            );
          })}
        </div>
      )}
    </div>
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

const mostFoam = (s: Sheet) => s.whisk.foam_l[1] ?? 0;

/** The line under each closed station's figure. */
const TELLS: Record<Key, (sheet: Sheet) => string> = {
  weigh: (s) => (s.weigh.eggs ? `white, ${s.weigh.eggs.count} eggs` : `white, ${s.weigh.white_kind}`),
  sugar: (s) => `${s.sugar.dissolving.verdict}; limit ${s.sugar.dissolving.limit.toFixed(2)}`,
  whisk: (s) => `${mostFoam(s).toFixed(1)} l in a ${s.whisk.bowl_l} l bowl${mostFoam(s) > s.whisk.safe_l ? ": overflows" : ""}`,
  shape: (s) => `${s.shape.trays.join(" + ")}, ${s.shape.loads === 1 ? "one load" : `${s.shape.loads} loads`}`,
  dry: (s) => `to ${s.recipe.texture}`,
  finish: (s) => (s.finish.figures.snap?.value === null ? "in this room" : "of snap on an open tray"),
};

function Moves({ before, after, tell }: { before?: Sheet["weigh"]["figures"]; after: Sheet["weigh"]["figures"]; tell: readonly (readonly [string, string])[] }) {
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

const SCHOOLS = [
  ["french", "French"],
  ["all-in-one", "Hot water"],
] as const;

/** Name, size of the batch, school; save, undo, start. */
function Head({ record, draft, sheet, canUndo }: { record: RecipeRecord; draft: ReturnType<typeof useDraft>; sheet: Sheet | undefined; canUndo: boolean }) {
  const { recipe, edit, undo } = draft;
  const queries = useQueryClient();
  const go = useNavigate();
  const dirty = JSON.stringify(recipe) !== JSON.stringify(record.recipe);
  const [naming, setNaming] = useState(false);
  const [onTop, setOnTop] = useState<number>();
  const save = useMutation({
    mutationFn: () => answer(http.PUT("/api/recipes/{recipe_id}", { params: { path: { recipe_id: record.id }, header: { "if-match": `"${onTop ?? record.version}"` } }, body: recipe })),
    onSuccess: (made) => {
      queries.setQueryData(recipeQuery(record.id).queryKey, made);
      void queries.invalidateQueries({ queryKey: ["recipes"] });
    },
  });
  const start = useMutation({
    mutationFn: () =>
      answer(
        http.POST("/api/batches", {
          body: { id: crypto.randomUUID(), recipe, weighed: draft.weighed, recipe_id: record.id, recipe_version: record.version, cook: localStorage.getItem("gullpeak-cook") ?? "" },
        }),
      ),
    onSuccess: (batch) => {
      void queries.invalidateQueries({ queryKey: ["batches"] });
      go(`/bench/${batch.id}`);
    },
  });
  const stale = save.error instanceof Refused && save.error.problem.status === 412 ? save.error : undefined;
  const newer = stale?.problem.current as unknown as RecipeRecord | undefined;
  const failure = (stale ? undefined : save.error) ?? start.error;
  return (
    <div>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <div className="min-w-0 grow">
          <h1 className="line-clamp-2 text-l">{recipe.name}</h1>
          <p className="text-s text-quiet">
            {sheet?.says}
            {sheet && ` · ${sheet.oven}, ${sheet.mixer} · version ${record.version}${dirty ? ", changed" : ""}`}
            <button type="button" className="ml-3 min-h-8 underline" aria-expanded={naming} onClick={() => setNaming(!naming)}>
              Name and notes
            </button>
          </p>
        </div>
        <Choice label="School" value={recipe.school} options={SCHOOLS} onChange={(school) => edit("school", (now) => ({ school, ...(school === "all-in-one" ? hotWater(now) : {}) }))} />
        <button type="button" className="press" disabled={!canUndo} onClick={undo}>
          Undo
        </button>
        <button type="button" className="press" disabled={!dirty || save.isPending} onClick={() => save.mutate()}>
          Save
        </button>
        <button type="button" className="press press-first" disabled={!sheet || Boolean(draft.refused) || start.isPending} onClick={() => start.mutate()}>
          Start the batch
        </button>
      </div>
      {stale && newer && (
        <div role="alert" className="mt-2 flex flex-wrap items-center gap-3 border-l-4 border-deep pl-3">
          <p className="text-s">
            Somebody saved version {newer.version} meanwhile{newer.recipe.name !== recipe.name ? ` (“${newer.recipe.name}”)` : ""}. Yours is still here.
          </p>
          <button
            type="button"
            className="press"
            onClick={() => {
              setOnTop(newer.version);
              save.reset();
            }}
          >
            Keep mine on top
          </button>
          <button type="button" className="press" onClick={() => queries.setQueryData(recipeQuery(record.id).queryKey, newer)}>
            Take theirs
          </button>
        </div>
      )}
      {failure && (
        <p role="alert" className="mt-2 border-l-4 border-deep pl-3 text-s">
          {failure instanceof Refused ? (failure.errors[0]?.says ?? failure.message) : failure.message}
        </p>
      )}
      {naming && (
        <div className="flex flex-wrap gap-4 py-2">
          <TypedField
            label="Name"
            shown={recipe.name}
            width="w-80 max-w-full"
            read={(name) => {
              if (!name.trim()) throw new Error("It needs a name: write one");
              edit("name", { name: name.trim() });
            }}
          />
          <label className="flex grow flex-col text-s text-quiet">
            Notes
            <textarea className="min-h-16 w-full text-ink" maxLength={4000} value={recipe.notes} onChange={(e) => edit("notes", { notes: e.target.value })} />
          </label>
        </div>
      )}
    </div>
  );
}

/** All in one needs its hot water: bring it where there is none. */
function hotWater(recipe: RecipeRecord["recipe"]) {
  const sugars = recipe.sugars.map((s) => (s.moment === "folded last" ? s : { ...s, moment: "start" as const }));
  if (recipe.additions.some((a) => a.ingredient === "water")) return { sugars };
  return { sugars, additions: [...recipe.additions, { ingredient: "water", ratio: 0.3, moment: "start" as const, written: "" }] };
}
