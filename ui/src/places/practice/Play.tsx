import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import {
  answer,
  type DrillCard,
  http,
  type PracticeAction,
  type PracticeJudgement,
  type PracticeView,
} from "../../api/client";
import { practiceRunsQuery } from "../../api/queries";
import { useDegrees } from "../../kit/degrees";
import { clock, day, time } from "../../kit/format";
import { Peak } from "../../kit/Peak";
import { Caution } from "../../kit/Remarks";
import { Waiting } from "../../kit/States";
import { useKeys } from "../../kit/useKeys";
import { words } from "../../words";
import { Judged } from "./Judged";
import { Vessel } from "./Vessel";

const POLL_MS = 250;
const newSeed = () => Math.floor(Math.random() * 10_000);

/** A run: controls under the keys, what is seen and felt, and afterwards what happened and why. */
export function Play({ drill }: { drill: DrillCard }) {
  const [seed, setSeed] = useState(newSeed);
  const [round, setRound] = useState(0);
  return (
    <Run
      key={`${seed} ${round}`}
      drill={drill}
      seed={seed}
      again={(same) => {
        if (!same) setSeed(newSeed());
        setRound(round + 1);
      }}
      take={(other) => {
        setSeed(other);
        setRound(round + 1);
      }}
    />
  );
}

function Run({
  drill,
  seed,
  again,
  take,
}: {
  drill: DrillCard;
  seed: number;
  again: (same: boolean) => void;
  take: (seed: number) => void;
}) {
  const degrees = useDegrees();
  const queries = useQueryClient();
  const [view, setView] = useState<PracticeView>();
  const [asked, setAsked] = useState(false);
  const [problem, setProblem] = useState<string>();
  const [going, setGoing] = useState(false);
  const [saved, setSaved] = useState(false);
  const [beside, setBeside] = useState<PracticeJudgement>();
  const actions = useRef<PracticeAction[]>([]);
  const began = useRef(0);
  const gone = useRef(0);
  const turn = useRef(0);
  const at = useCallback(
    () => gone.current + (going ? ((Date.now() - began.current) / 1000) * (view?.setup.speed ?? 1) : 0),
    [going, view?.setup.speed],
  );
  const fetchView = useCallback(
    async (until: number) => {
      const mine = ++turn.current;
      try {
        const found = await answer(
          http.POST("/api/practice/play", {
            body: { drill: drill.key, seed, actions: actions.current, until_s: until, asked },
          }),
        );
        if (mine !== turn.current) return;
        setView(found);
        setProblem(undefined);
        if (found.ended) setGoing(false);
      } catch (failure) {
        setProblem(failure instanceof Error ? failure.message : String(failure));
      }
    },
    [drill.key, seed, asked],
  );
  useEffect(() => void fetchView(gone.current), [fetchView]);
  useEffect(() => {
    if (!going) return;
    const timer = setInterval(() => void fetchView(at()), POLL_MS);
    return () => clearInterval(timer);
  }, [going, fetchView, at]);
  const ended = view?.ended ?? false;
  const still = view?.setup.drawn === "peak";
  const start = () => {
    began.current = Date.now();
    setGoing(true);
  };
  const pause = () => {
    gone.current = at();
    setGoing(false);
  };
  const act = (what: string, value = 1) => {
    if (ended || (!going && !still)) return;
    const now = still ? actions.current.length : at();
    actions.current = [...actions.current, { at_s: now, what, value }];
    void fetchView(now);
  };
  const step = (what: string, levels: number, by: number) => {
    // The last press counts, though the picture has not caught up with it.
    const is = actions.current.findLast((a) => a.what === what)?.value ?? view?.look.levels?.[what] ?? 0;
    const to = Math.max(0, Math.min(levels - 1, is + by));
    if (to !== is) act(what, to);
  };
  const [pick, setPick] = useState<Record<string, number>>({});
  useKeys((key) => {
    if (!view) return false;
    if (key === " " && !ended && !still) going ? pause() : start();
    else if (key === "i") setAsked(!asked);
    else if (ended && key === "n") again(false);
    else if (ended && key === "r") again(true);
    else {
      const control = view.setup.controls.find((c) => c.key.toLowerCase() === key.toLowerCase());
      if (control?.levels && control.levels.length > 0 && !still)
        step(control.what, control.levels.length, key === key.toUpperCase() && key !== key.toLowerCase() ? -1 : 1);
      else if (control && !still) act(control.what);
      else if (still && /^[1-9]$/.test(key)) {
        const next = view.setup.controls.find((c) => c.what === (nextAsk(view) ? "name" : "do"));
        if (next && Number(key) <= (next.levels?.length ?? 0)) act(next.what, Number(key) - 1);
      } else return false;
    }
    return true;
  });
  useEffect(() => {
    if (!ended || saved || !view) return;
    setSaved(true);
    const keep = answer(
      http.POST("/api/practice/runs", {
        body: {
          id: crypto.randomUUID(),
          drill: drill.key,
          seed,
          actions: actions.current,
          cook: localStorage.getItem("gullpeak-cook") ?? "",
        },
      }),
    );
    keep.then(
      () => {
        void queries.invalidateQueries({ queryKey: ["practice"] });
      },
      (failure: Error) => setProblem(failure.message),
    );
  }, [ended, saved, view, drill.key, seed, queries]);
  if (!view)
    return problem ? (
      <p role="alert" className="p-6">
        {problem}
      </p>
    ) : (
      <Waiting what={words.practice.theDrill} />
    );
  const { setup, look } = view;
  return (
    <div className="mx-auto w-full max-w-[1300px] px-4 py-3 md:px-6">
      <p className="text-s text-quiet">
        <Link className="underline" to="/practice">
          {words.practice.practice}
        </Link>{" "}
        · {setup.title} {words.practice.level} {drill.level} {words.practice.seed} {seed}
      </p>
      <div className="flex flex-wrap items-end gap-4">
        <h1 className="grow text-l">{drill.title}</h1>
        {!still && !ended && <p className="text-l tabular-nums">{clock(view.at_s)}</p>}
        {!ended && (
          <button type="button" className="press" aria-pressed={asked} onClick={() => setAsked(!asked)}>
            {asked ? words.practice.hideTheFiguresI : words.practice.showTheFiguresI}
          </button>
        )}
      </div>
      <p className="mt-1 text-m text-quiet">{setup.says.join(" ")}</p>
      {setup.drawn === "pan" && <Caution says={words.practice.atARealStoveBoilingSugar} />}
      {problem && (
        <p role="alert" className="mt-2 border-l-4 border-deep pl-3 text-s">
          {problem}
        </p>
      )}
      {ended && view.judgement ? (
        <Judged view={view} judgement={view.judgement} again={again} beside={beside} />
      ) : (
        <div className="mt-3 grid gap-6 lg:grid-cols-[minmax(0,1.1fr)_minmax(0,1fr)]">
          <section aria-label={words.practice.whatIsToBeSeen} className="flex flex-col gap-2 bg-surface p-4">
            <div className="flex items-center justify-center gap-6">
              <Vessel drawn={setup.drawn} look={look} className={still ? "h-52 w-72" : "h-60 w-72"} />
              {setup.drawn === "bowl" && look.stage !== "loose" && (
                <Peak stage={look.stage} className="h-24 w-36" decorative />
              )}
            </div>
            <p role="status" aria-live="polite" className="min-h-14 text-m">
              {look.says.join(" ")}
            </p>
            <p role="status" aria-live="polite" className="min-h-7 text-m font-bold">
              {look.felt}
            </p>
            {asked && (
              <dl className="grid grid-cols-2 gap-x-4 text-s sm:grid-cols-3">
                {view.figures.map((f) => (
                  <div key={f.name}>
                    <dt className="text-quiet">{f.name}</dt>
                    <dd>
                      <b>{degrees.of(f.value, f.unit, f.digits).number}</b> {degrees.of(f.value, f.unit).unit}
                    </dd>
                  </div>
                ))}
              </dl>
            )}
          </section>
          <section aria-label={words.practice.whatYouCanDo} className="flex flex-col gap-3">
            {!still && (
              <button
                type="button"
                className={`press min-h-14 text-m ${going ? "" : "press-first"}`}
                onClick={going ? pause : start}
              >
                {going
                  ? words.practice.holdTheTimeSpace
                  : view.at_s === 0
                    ? words.practice.beginSpaceSecondsInOne(setup.speed)
                    : words.practice.goOnSpace}
              </button>
            )}
            {setup.controls.map((c) =>
              (c.levels ?? []).length > 0 && !still ? (
                <fieldset key={c.what} className="flex flex-wrap items-center gap-2">
                  <legend className="text-s text-quiet">
                    {c.name} ({c.key.toUpperCase()} {words.practice.upShiftDown}
                  </legend>
                  {(c.levels ?? []).map((name, i) => {
                    const on = (look.levels?.[c.what] ?? 0) === i;
                    return (
                      <button
                        key={name}
                        type="button"
                        className={`press min-h-14 ${on ? "border-ink bg-deep text-paper" : ""}`}
                        aria-pressed={on}
                        style={on ? { color: "var(--color-paper)" } : undefined}
                        disabled={!going}
                        onClick={() => act(c.what, i)}
                      >
                        {name}
                      </button>
                    );
                  })}
                </fieldset>
              ) : still && (c.levels ?? []).length > 0 ? (
                <fieldset key={c.what} className="grid grid-cols-2 gap-2">
                  <legend className="text-s text-quiet">{c.name} …</legend>
                  {(c.levels ?? []).map((name, i) => (
                    <button
                      key={name}
                      type="button"
                      className={`press min-h-12 justify-start ${pick[c.what] === i ? "border-ink" : ""}`}
                      disabled={nextAsk(view) !== (c.what === "name")}
                      onClick={() => {
                        setPick({ ...pick, [c.what]: i });
                        act(c.what, i);
                      }}
                    >
                      {i + 1}. {name}
                    </button>
                  ))}
                </fieldset>
              ) : (
                !(still && c.ends) && (
                  <button
                    key={c.what}
                    type="button"
                    className={`press min-h-14 text-m ${c.ends ? "press-first" : ""}`}
                    disabled={!going && !still}
                    onClick={() => act(c.what)}
                  >
                    {c.name} ({c.key})
                  </button>
                )
              ),
            )}
          </section>
        </div>
      )}
      <Before drill={drill} take={take} lay={ended ? setBeside : undefined} />
    </div>
  );
}

/** Whether the name is asked next, or what to do. */
const nextAsk = (view: PracticeView) => view.look.asks === "name";

/** Runs kept of this drill, to compare; any may be tried again from its seed. */
function Before({
  drill,
  take,
  lay,
}: {
  drill: DrillCard;
  take: (seed: number) => void;
  lay?: (run: PracticeJudgement) => void;
}) {
  const { data } = useQuery(practiceRunsQuery(drill.key));
  if (!data || data.length === 0) return null;
  return (
    <section aria-labelledby="before" className="mt-5">
      <h2 id="before" className="border-b border-deep text-m">
        {words.practice.runsBefore}
      </h2>
      <ul className="divide-y divide-hairline">
        {data.slice(0, 8).map((run) => (
          <li
            key={run.id}
            className="grid items-center gap-x-4 py-1.5 text-s sm:grid-cols-[9rem_7rem_minmax(0,1fr)_auto_auto]"
          >
            <span className="text-quiet">
              {day(run.at)}, {time(run.at)}
            </span>
            <b>{run.judgement.passed ? "good enough to serve" : "not yet"}</b>
            <span className="min-w-0">{run.judgement.points.map((p) => `${p.name}: ${p.says}`).join(" · ")}</span>
            {lay && run.judgement.lines.length > 0 ? (
              <button type="button" className="min-h-11 underline" onClick={() => lay(run.judgement)}>
                {words.practice.compare}
              </button>
            ) : (
              <span />
            )}
            <button type="button" className="min-h-11 underline" onClick={() => take(run.seed)}>
              {words.practice.seed2} {run.seed} {words.practice.again}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
