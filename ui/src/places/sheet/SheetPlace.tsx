import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import type { KitchenRecord, Larder, Recipe, RecipeRecord, Sheet } from "../../api/client";
import { kitchenQuery, larderQuery, recipeQuery, trialsQuery } from "../../api/queries";
import { type Degrees, useDegrees } from "../../kit/degrees";
import { draftOf, draftsQuery } from "../../kit/drafts";
import { Moved } from "../../kit/Fig";
import { parts, restsOn, said } from "../../kit/format";
import { fixed } from "../../kit/numbers";
import { Trouble, Waiting } from "../../kit/States";
import { loud, NotWorkedOut, StationLine } from "../../kit/StationLine";
import { words } from "../../words";
import { AsWritten } from "./AsWritten";
import { DryClosed, DryOpen } from "./Dry";
import { FinishClosed, FinishOpen } from "./Finish";
import { Head } from "./Head";
import { HeatClosed, HeatOpen } from "./Heat";
import { ShapeClosed, ShapeOpen } from "./Shape";
import { SugarClosed, SugarOpen } from "./Sugar";
import type { StationProps } from "./station";
import { changesOf, type Draft, type Edit, keptQuery, useDraft } from "./useDraft";
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
  const drafts = useQuery(draftsQuery);
  const error = recipe.error ?? kitchen.error ?? larder.error;
  if (error) return <Trouble error={error} again={() => void recipe.refetch()} />;
  if (!recipe.data || !kitchen.data || !larder.data || drafts.isPending) return <Waiting what={words.sheet.theSheet} />;
  return (
    <Line
      key={`${id}-${recipe.data.version}`}
      record={recipe.data}
      kitchen={kitchen.data}
      larder={larder.data}
      elsewhere={drafts.data}
    />
  );
}

/** The station line: every vital figure in sight, one station open. */
function Line({
  record,
  kitchen,
  larder,
  elsewhere,
}: {
  record: RecipeRecord;
  kitchen: KitchenRecord;
  larder: Larder;
  elsewhere?: Parameters<typeof draftOf>[1];
}) {
  const degrees = useDegrees();
  const [kept] = useState(() => draftOf<Draft>(record.id, elsewhere));
  const draft = useDraft(record, kitchen.version, kept);
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
      {props && (
        <StationLine
          shown={shown}
          show={setOpen}
          undo={undo}
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
              lines: props.sheet.essentials?.[key] ?? [],
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
      {sheet && (
        <ul className="hidden text-s print:block">
          {sheet.finish.cautions.map((says) => (
            <li key={says}>
              <b>{words.kit.caution}</b> {says}
            </li>
          ))}
        </ul>
      )}
      {sheet?.weigh.balance && !refused && (
        <Balanced balance={sheet.weigh.balance} of={draft.workedOf ?? recipe} edit={edit} />
      )}
    </div>
  );
}

/** What is short or left over of what was typed, and the ways out, a press each. At the foot: it comes and goes under no finger. */
function Balanced({ balance, of, edit }: { balance: NonNullable<Sheet["weigh"]["balance"]>; of: Recipe; edit: Edit }) {
  return (
    <div
      role="status"
      data-testid="balance"
      className="sticky bottom-0 flex flex-wrap items-center gap-3 border-l-4 border-deep bg-surface p-3"
    >
      <span>{balance.says}</span>
      {balance.ways.map((way) => (
        <button
          key={way.says}
          type="button"
          className="press"
          onClick={() => edit("balance", changesOf(of, way.recipe))}
        >
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
      <span className={`${number.length > 8 ? "text-m" : "text-l"} font-bold`}>{number}</span>
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
  sugar: (s) => (s.sugar ? words.sheet.limit(s.sugar.dissolving.verdict, fixed(s.sugar.dissolving.limit, 2)) : ""),
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
