import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { DrillCard, PracticeJudgement, PracticeView } from "../../api/client";
import { practiceRunsQuery } from "../../api/queries";
import { Peak } from "../../food/Peak";
import { Vessel } from "../../food/Vessel";
import { useDegrees } from "../../kit/degrees";
import { clock, day, time } from "../../kit/format";
import { Caution } from "../../kit/Remarks";
import { Waiting } from "../../kit/States";
import { useKeys } from "../../kit/useKeys";
import { words } from "../../words";
import { Controls } from "./Controls";
import { Judged } from "./Judged";
import { nextAsk, type Running, useRun } from "./useRun";

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
  const [asked, setAsked] = useState(false);
  const [beside, setBeside] = useState<PracticeJudgement>();
  const run = useRun(drill, seed, asked);
  const { view, problem, still, ended } = run;
  useRunKeys(run, { again, ask: () => setAsked(!asked) });
  if (!view)
    return problem ? (
      <p role="alert" className="p-6">
        {problem}
      </p>
    ) : (
      <Waiting what={words.practice.theDrill} />
    );
  const { setup } = view;
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
          <Seen view={view} asked={asked} still={still} />
          <Controls view={view} run={run} />
        </div>
      )}
      <Before drill={drill} take={take} lay={ended ? setBeside : undefined} />
    </div>
  );
}

/** What is seen and felt, and the figures for who asks for them. */
function Seen({
  view: { setup, look, figures },
  asked,
  still,
}: {
  view: PracticeView;
  asked: boolean;
  still: boolean;
}) {
  const degrees = useDegrees();
  return (
    <section
      aria-label={words.practice.whatIsToBeSeen}
      className="flex flex-col gap-2 rounded-panel border border-hairline bg-surface p-4"
    >
      <div className="flex items-center justify-center gap-6">
        <Vessel drawn={setup.drawn} look={look} className={still ? "h-52 w-72" : "h-80 w-full"} />
        {setup.drawn === "pan" && (look.levels?.whites ?? 0) > 0 && (
          <Peak stage={look.stage} className="h-28 w-40 shrink-0" decorative />
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
          {figures.map((f) => (
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
  );
}

/** Space begins and holds, letters are the controls, digits the answers. */
function useRunKeys(run: Running, { again, ask }: { again: (same: boolean) => void; ask: () => void }) {
  const { view, going, still, ended, start, pause, act, step } = run;
  useKeys((key) => {
    if (!view) return false;
    if (key === " " && !ended && !still) going ? pause() : start();
    else if (key === "i") ask();
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
}

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
            <b>{run.judgement.passed ? words.practice.goodEnoughToServe2 : words.practice.notYet2}</b>
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
