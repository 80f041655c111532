import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import {
  answer,
  http,
  type Kitchen,
  type KitchenRecord,
  Refused,
  type TrayOfKisses,
  type TraysView,
  type WeighedTray,
} from "../../api/client";
import { appNow } from "../../api/clock";
import { kitchenQuery, traysQuery } from "../../api/queries";
import { useDegrees } from "../../kit/degrees";
import { TypedField } from "../../kit/Field";
import { DegreesField, fresh, NumberField } from "../../kit/fields";
import { minutes } from "../../kit/format";
import { fixed, short } from "../../kit/numbers";
import { words } from "../../words";
import { TrayCourse } from "./TrayCourse";

type Oven = Kitchen["ovens"][number];
type Next = (tray: TrayOfKisses) => Partial<TrayOfKisses>;
const ENOUGH = 3;
const said = (failure: unknown) =>
  failure instanceof Refused
    ? (failure.errors[0]?.says ?? failure.message)
    : failure instanceof Error
      ? failure.message
      : words.kitchen.itCouldNotBeSavedTry;
const asNumber = (typed: string, least: number, most: number) => {
  const value = Number(typed.replace(",", "."));
  if (!typed.trim() || !Number.isFinite(value) || value < least || value > most)
    throw new Error(words.kitchen.writeANumberFromTo(least, most));
  return value;
};

/** One tray of kisses, weighed as it dries, tells how fast an oven dries against the model. */
export function Calibrate({ oven, tare }: { oven: Oven; tare: number }) {
  const { data } = useQuery(traysQuery);
  const degrees = useDegrees();
  const queries = useQueryClient();
  const done = (made: WeighedTray) => {
    queries.setQueryData<TraysView>(
      traysQuery.queryKey,
      (before) => before && { ...before, trays: [made, ...before.trays.filter((t) => t.id !== made.id)] },
    );
    void queries.invalidateQueries({ queryKey: traysQuery.queryKey });
  };
  const put = useMutation({
    mutationFn: ({ id, version, tray }: { id: string; version: number; tray: TrayOfKisses }) =>
      answer<WeighedTray>(
        http.PUT("/api/kitchen/trays/{tray_id}", {
          params: { path: { tray_id: id }, header: { "if-match": `"${version}"` } },
          body: tray,
        }),
      ),
    onSuccess: done,
    onError: () => void queries.invalidateQueries({ queryKey: traysQuery.queryKey }),
  });
  const line = useRef<Promise<unknown>>(Promise.resolve());
  /** One change after the other, each on top of what the one before it came to. */
  const save = (id: string, next: Next) => {
    const made = line.current.then(() => {
      const now = queries.getQueryData<TraysView>(traysQuery.queryKey)?.trays.find((t) => t.id === id);
      if (!now) throw new Error(words.kitchen.thisTrayIsGoneOpenThe);
      return put.mutateAsync({ id, version: now.version, tray: { ...now.tray, ...next(now.tray) } });
    });
    line.current = made.catch(() => undefined);
    return made;
  };
  const [trouble, setTrouble] = useState<string>(); // of beginning a tray
  if (!data) return null;
  const mine = data.trays.filter((t) => t.tray.oven === oven.key);
  const current =
    mine.find((t) => !t.tray.left_out && t.tray.weighings.length < ENOUGH) ?? mine.find((t) => !t.tray.left_out);
  const next = data.plan.find((p) => !p.done);
  const begin = () =>
    void put
      .mutateAsync({
        id: fresh("tray"),
        version: 0,
        tray: {
          oven: oven.key,
          set_c: next?.set_c ?? 95,
          diameter_mm: next?.diameter_mm ?? 35,
          height_mm: next?.height_mm ?? 25,
          sugar_ratio: next?.sugar_ratio ?? 2,
          tare_g: tare,
          in_g: null,
          in_at: null,
          weighings: [],
          left_out: false,
        },
      })
      .then(
        () => setTrouble(undefined),
        (failure: unknown) => setTrouble(said(failure)),
      );
  return (
    <div className="flex flex-col gap-3 border-l-4 border-deep py-2 pl-3 text-s">
      <p>{words.kitchen.pipeOneTrayOfKissesOf}</p>
      <p className="text-quiet">{words.kitchen.setRunsHotByFirstA}</p>
      {!current && next && (
        <p>
          {words.kitchen.toBeginWith} {degrees.show(next.set_c, { oven: true })}
          {words.kitchen.kisses} {next.diameter_mm} {words.kitchen.mmAcrossAnd} {next.height_mm} {words.kitchen.mmHigh}{" "}
          {next.sugar_ratio} {words.kitchen.partsOfSugarWeighAfter} {next.minutes.join(", ")} {words.kitchen.min}
        </p>
      )}
      {current ? (
        <Tray
          key={current.id}
          one={current}
          minutesOf={
            data.plan.find((p) => p.set_c === current.tray.set_c && p.diameter_mm === current.tray.diameter_mm)?.minutes
          }
          save={(next) => save(current.id, next)}
        />
      ) : null}
      <Says view={data} oven={oven} />
      <Earlier trays={mine.filter((t) => t !== current)} save={save} />
      {(!current || current.tray.weighings.length >= ENOUGH) && (
        <button type="button" className="press self-start" disabled={put.isPending} onClick={begin}>
          {current ? words.kitchen.weighAnotherTray : words.kitchen.beginATray}
        </button>
      )}
      {trouble && <p role="alert">{trouble}</p>}
      <Plan view={data} />
    </div>
  );
}

/** The tray in hand: what it is, and its weights as they come. */
function Tray({
  one,
  minutesOf,
  save,
}: {
  one: WeighedTray;
  minutesOf?: readonly number[];
  save: (next: Next) => Promise<WeighedTray>;
}) {
  const { tray, fit } = one;
  const change = async (next: Partial<TrayOfKisses> | Next) =>
    void (await save(typeof next === "function" ? next : () => next));
  const [trouble, setTrouble] = useState<string>(); // of a button: a field says its own
  const press = (next: Partial<TrayOfKisses> | Next) =>
    void change(next).then(
      () => setTrouble(undefined),
      (failure: unknown) => setTrouble(said(failure)),
    );
  const [minute, setMinute] = useState<number>();
  const since = tray.in_at ? (appNow() - Date.parse(tray.in_at)) / 60_000 : undefined;
  const due = minutesOf?.[tray.weighings.length];
  const weigh = async (typed: string) => {
    const grams = asNumber(typed, 1, 60000);
    const at = minute ?? (since === undefined ? due : Math.round(since));
    if (at === undefined || at <= 0) throw new Error(words.kitchen.sayFirstHowManyMinutesIt);
    await change((now) => ({ weighings: [...now.weighings, { minute: at, grams }] }));
    setMinute(undefined);
  };
  return (
    <>
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
        <DegreesField
          label={words.kitchen.setTo}
          value={tray.set_c}
          least={60}
          most={160}
          put={(set_c) => change({ set_c })}
        />
        <NumberField
          label={words.kitchen.kissesMmAcross}
          value={tray.diameter_mm}
          least={15}
          most={80}
          put={(diameter_mm) => change({ diameter_mm })}
        />
        <NumberField
          label={words.kitchen.kissesMmHigh}
          value={tray.height_mm}
          least={8}
          most={60}
          put={(height_mm) => change({ height_mm })}
        />
        <NumberField
          label={words.kitchen.sugarTo1OfWhite}
          value={tray.sugar_ratio}
          least={1}
          most={2.5}
          put={(sugar_ratio) => change({ sugar_ratio })}
        />
        <NumberField
          label={words.kitchen.emptyTrayG}
          value={tray.tare_g}
          least={0}
          most={20000}
          put={(tare_g) => change({ tare_g })}
        />
        <TypedField
          label={words.kitchen.trayGoingInG}
          shown={tray.in_g === null || tray.in_g === undefined ? "" : short(tray.in_g)}
          width="w-full"
          read={(typed) =>
            change({ in_g: asNumber(typed, 1, 60000), in_at: tray.in_at ?? new Date(appNow()).toISOString() })
          }
        />
        {tray.in_g !== null && tray.weighings.length < 12 && (
          <>
            <NumberField
              label={words.kitchen.minutesInTheOven}
              value={minute ?? Math.max(1, Math.round(since ?? due ?? tray.weighings.at(-1)?.minute ?? 1))}
              least={1}
              most={1440}
              put={setMinute}
            />
            <TypedField
              key={tray.weighings.length}
              label={words.kitchen.weightThenG}
              shown=""
              width="w-full"
              read={weigh}
              hint={due === undefined ? undefined : words.kitchen.aboutMinIn(due)}
            />
          </>
        )}
      </div>
      {tray.weighings.length > 0 && (
        <ol className="flex flex-wrap gap-x-5" aria-label={words.kitchen.weightsSoFar}>
          {tray.weighings.map((w) => (
            <li key={w.minute} className="flex items-center gap-2">
              {minutes(w.minute)}: <b>{w.grams} g</b>
              <button
                type="button"
                className="min-h-11 underline"
                aria-label={words.kitchen.takeBackTheWeightAfterMin(w.minute)}
                onClick={() =>
                  press((now) => ({ weighings: now.weighings.filter((other) => other.minute !== w.minute) }))
                }
              >
                {words.kitchen.takeBack}
              </button>
            </li>
          ))}
        </ol>
      )}
      {fit && <TrayCourse fit={fit} />}
      {tray.weighings.length > 0 && (
        <button type="button" className="min-h-11 self-start underline" onClick={() => press({ left_out: true })}>
          {words.kitchen.leaveThisTrayOut}
        </button>
      )}
      {trouble && <p role="alert">{trouble}</p>}
    </>
  );
}

/** The other trays of this oven: what each says, and whether it counts. */
function Earlier({
  trays,
  save,
}: {
  trays: readonly WeighedTray[];
  save: (id: string, next: Next) => Promise<WeighedTray>;
}) {
  const degrees = useDegrees();
  const [trouble, setTrouble] = useState<string>();
  if (trays.length === 0) return null;
  return (
    <section aria-label={words.kitchen.earlierTrays}>
      <ul className="divide-y divide-hairline">
        {trays.map(({ id, tray, fit }) => (
          <li key={id} className="flex flex-wrap items-center justify-between gap-x-3">
            <span className={tray.left_out ? "text-quiet" : ""}>
              {degrees.show(tray.set_c, { oven: true })}, {tray.diameter_mm} {words.kitchen.mm}{" "}
              {tray.left_out
                ? words.kitchen.leftOut
                : fit?.tells
                  ? words.kitchen.timesAsFastAsTheModel(fixed(fit.scale, 2))
                  : words.kitchen.notEnoughToGoBy}
            </span>
            <button
              type="button"
              className="min-h-11 underline"
              onClick={() =>
                void save(id, () => ({ left_out: !tray.left_out })).then(
                  () => setTrouble(undefined),
                  (failure: unknown) => setTrouble(said(failure)),
                )
              }
            >
              {tray.left_out ? words.kitchen.countItAgain : words.kitchen.leaveItOut}
            </button>
          </li>
        ))}
      </ul>
      {trouble && <p role="alert">{trouble}</p>}
    </section>
  );
}

/** What this oven's trays say together, and the buttons to use it or put it back. */
function Says({ view, oven }: { view: TraysView; oven: Oven }) {
  const queries = useQueryClient();
  const saved = (made: KitchenRecord) => {
    queries.setQueryData(kitchenQuery.queryKey, made);
    for (const key of ["trays", "fits", "recipes", "recipe", "products", "product", "sheet", "worked"])
      void queries.invalidateQueries({ queryKey: [key] });
  };
  const record = queries.getQueryData<KitchenRecord>(kitchenQuery.queryKey);
  const header = { "if-match": `"${Math.max(view.version, record?.version ?? 0)}"` }; // what was saved a moment ago is newer than what is told of the trays
  const use = useMutation({
    mutationFn: () =>
      answer<KitchenRecord>(http.POST("/api/kitchen/trays/use", { params: { header }, body: { oven: oven.key } })),
    onSuccess: saved,
  });
  const back = useMutation({
    mutationFn: () =>
      answer<KitchenRecord>(
        http.POST("/api/kitchen/fits/undo", { params: { header }, body: { what: `ovens/${oven.key}/drying_scale` } }),
      ),
    onSuccess: saved,
  });
  const says = view.ovens.find((o) => o.oven === oven.key);
  const learned = record?.kitchen.learned?.find((l) => l.what === `ovens/${oven.key}/drying_scale`);
  const trouble = use.error ?? back.error;
  const unsure = says && says.low <= says.now && says.now <= says.high;
  return (
    <>
      {says && (
        <p role="status">
          {oven.name} {words.kitchen.dries}{" "}
          <b>
            {fixed(says.scale, 2)} {words.kitchen.times}
          </b>{" "}
          {words.kitchen.asFastAsTheModel}
          {fixed(says.low, 2)} {words.kitchen.to} {fixed(says.high, 2)}
          {words.kitchen.by} {says.trays === 1 ? words.kitchen.oneTray : words.kitchen.trays(says.trays)}
          {words.kitchen.sheetsUse} {fixed(says.now, 2)} {words.kitchen.now}
          {unsure && Math.abs(says.scale - says.now) > 0.005 ? words.kitchen.whichThisTrayDoesNotRule : ""}.
        </p>
      )}
      <div className="flex flex-wrap gap-3">
        {says && Math.abs(says.scale - says.now) > 0.005 && (
          <button
            type="button"
            className={unsure ? "press" : "press press-first"}
            disabled={use.isPending}
            onClick={() => use.mutate()}
          >
            {words.kitchen.use} {fixed(says.scale, 2)}
          </button>
        )}
        {learned && (
          <button type="button" className="press" disabled={back.isPending} onClick={() => back.mutate()}>
            {words.kitchen.putBack} {fixed(Number(learned.before), 2)}
          </button>
        )}
      </div>
      {trouble && <p role="alert">{said(trouble)}</p>}
    </>
  );
}

/** The twenty trays that would replace the model's own constants, and what those that are weighed say of them. */
function Plan({ view }: { view: TraysView }) {
  const degrees = useDegrees();
  const weighed = view.plan.filter((p) => p.done).length;
  const { constants } = view;
  return (
    <details>
      <summary className="min-h-11 cursor-pointer content-center underline">
        {words.kitchen.twentyTraysWouldReplaceTheModels} {weighed} {words.kitchen.weighed}
      </summary>
      <ul className="columns-1 gap-6 sm:columns-2">
        {view.plan.map((p) => (
          <li key={p.key} className={p.done ? "text-quiet" : ""}>
            {p.done ? "✓ " : ""}
            {degrees.show(p.set_c, { oven: true })}, {p.diameter_mm} {words.kitchen.mmAcross} {p.height_mm}{" "}
            {words.kitchen.mmHighSugar} {p.sugar_ratio} {words.kitchen.n1WeighAfter} {p.minutes.join(", ")}{" "}
            {words.kitchen.min2}
          </li>
        ))}
      </ul>
      {constants ? (
        <p>
          {words.kitchen.by2} {constants.trays} {words.kitchen.traysDiffusivityAt} {degrees.show(95)}{" "}
          {fixed(1e9 * (constants.d95_m2_s[0] ?? 0), 1)} ({fixed(1e9 * (constants.d95_m2_s[1] ?? 0), 1)}{" "}
          {words.kitchen.to} {fixed(1e9 * (constants.d95_m2_s[2] ?? 0), 1)}
          {words.kitchen.n10MSTheModelHas} {fixed(1e9 * constants.model_d95_m2_s, 1)}
          {words.kitchen.activationEnergy} {fixed((constants.activation_j_mol[0] ?? 0) / 1000)} (
          {fixed((constants.activation_j_mol[1] ?? 0) / 1000)} {words.kitchen.to}{" "}
          {fixed((constants.activation_j_mol[2] ?? 0) / 1000)}
          {words.kitchen.kjMolTheModelHas} {fixed(constants.model_activation_j_mol / 1000)}.
        </p>
      ) : (
        <p>{words.kitchen.sixTraysAtThreeHeatsOr}</p>
      )}
    </details>
  );
}
