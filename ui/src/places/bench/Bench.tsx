import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { type BatchTraces, type BatchView, Refused, type Step } from "../../api/client";
import { kitchenQuery } from "../../api/queries";
import { Peak } from "../../food/Peak";
import { useDegrees } from "../../kit/degrees";
import { event } from "../../kit/event";
import { Labelled } from "../../kit/Field";
import { minutes } from "../../kit/format";
import { HoldButton } from "../../kit/HoldButton";
import { Caution } from "../../kit/Remarks";
import { Trouble, Waiting } from "../../kit/States";
import { useKeys } from "../../kit/useKeys";
import { askToNotify } from "../../kit/useRing";
import { words } from "../../words";
import { CheckDialog, NoteDialog, ReadingDialog } from "./Dialogs";
import { FinishDialog } from "./FinishDialog";
import { Alarms, Egg, useTraces } from "./Live";
import { Side } from "./Side";
import { useBatch } from "./useBatch";

type Sheeted = "reading" | "check" | "note" | "finish" | "abandoned";

/** One thing to do, what ends it, and what must be ready next. */
export default function Bench() {
  const { id = "" } = useParams();
  const { view, error, refetch, put, unsent } = useBatch(id);
  if (error && !view) return <Trouble error={error} again={refetch} />;
  if (!view) return <Waiting what={words.bench.theBatch} />;
  return <AtBench view={view} put={put} unsent={unsent} offline={Boolean(error)} />;
}

function AtBench({
  view,
  put,
  unsent,
  offline,
}: {
  view: BatchView;
  put: ReturnType<typeof useBatch>["put"];
  unsent: number;
  offline: boolean;
}) {
  const [box, setBox] = useState<Sheeted>();
  const [problem, setProblem] = useState<string>();
  const { state, process } = view;
  const at = process.steps.findIndex((s) => s.key === state.current);
  const step = process.steps[at];
  const traces = useTraces(view);
  const degrees = useDegrees();
  const watching = step?.watch ? traces?.watchings.find((w) => w.watch === step.watch) : undefined;
  const open = step?.opens === "start" ? Boolean(watching?.starts || watching?.reached) : Boolean(watching?.reached);
  const held = step?.opens ? !open : Boolean(step?.caution && step.key !== "finish");
  const runs = step ? state.timers.find((t) => t.step === step.key) : undefined;
  const send = async (...what: Parameters<typeof event>) => {
    try {
      await put(event(...what));
      setProblem(undefined);
    } catch (failure) {
      setProblem(failure instanceof Refused ? (failure.errors[0]?.says ?? failure.message) : String(failure));
      throw failure;
    }
  };
  const ended = Boolean(state.finished || state.abandoned);
  const quiet = (sent: Promise<void>) => void sent.catch(() => undefined);
  const done = () => {
    if (!step) return setBox("finish");
    if (step.key === "finish") return setBox("finish");
    quiet(send("step done", { step: step.key }));
  };
  const takeBack = () => state.last_event && quiet(send("taken back", { takes_back: state.last_event }));
  useKeys((key, e) => {
    if (box || e.ctrlKey) return false;
    if (key === "r" && step) setBox("reading");
    else if (key === "c" && step && step.checks.length > 0) setBox("check");
    else if (key === "n") setBox("note");
    else if (key === "u") takeBack();
    else if (key === " " && step && !held && !ended) done();
    else return false;
    return true;
  });
  useWakeLock(!ended);
  const label =
    !step || step.key === "finish"
      ? words.bench.sayHowItCameOut
      : step.opens === "start"
        ? words.bench.whitesStarted
        : step.key === "whites"
          ? words.bench.readyToPour
          : step.kind === "oven" || step.kind === "wait"
            ? words.bench.itIsThere
            : "Done";
  return (
    <div className="grid grow lg:grid-cols-[minmax(0,1fr)_minmax(0,1.15fr)]">
      <section
        className="flex flex-col bg-surface p-4 md:px-7 md:py-5 lg:sticky lg:top-0 lg:h-[calc(100dvh-3.6rem)]"
        aria-label={words.bench.theOneThingToDo}
      >
        <p className="text-s text-quiet">
          <Link className="underline" to="/bench">
            {words.bench.bench}
          </Link>{" "}
          · {view.name} ·{" "}
          {ended
            ? state.finished
              ? "finished"
              : words.bench.abandoned
            : step
              ? words.bench.stepOf(at + 1, process.steps.length)
              : words.bench.allStepsDone}
          {(unsent > 0 || offline) && (
            <b role="status">
              {" "}
              · {unsent > 0 ? words.bench.waitingToBeSent(unsent) : words.bench.notReached}
              {words.bench.goOnWorking}
            </b>
          )}
        </p>
        <div
          className="mt-1 flex gap-1"
          role="img"
          aria-label={words.bench.ofStepsDone(state.done.length, process.steps.length)}
        >
          {process.steps.map((s) => (
            <span
              key={s.key}
              className={`h-1.5 grow ${state.done.includes(s.key) ? "bg-deep" : s.key === state.current ? "bg-bill" : "bg-hairline"}`}
            />
          ))}
        </div>
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so a key has to reach it */}
        <div className="min-h-0 lg:overflow-y-auto" tabIndex={0}>
          {watching?.latest_c !== null && watching?.latest_c !== undefined && (
            <p className="mt-3 text-m lg:hidden">
              <b className="text-l">{degrees.figure(watching.latest_c)}</b> {degrees.sign} {words.bench.ofWord}{" "}
              {degrees.figure(watching.target_c, { digits: 0 })}
            </p>
          )}
          <Alarms watching={watching} />
          {state.finished ? (
            <Finished view={view} traces={traces} />
          ) : state.abandoned ? (
            <div className="mt-5 flex flex-col gap-2">
              <h1 className="text-l">{words.bench.abandonedBecause}</h1>
              <p className="text-m">{state.abandoned}</p>
              <p className="text-s text-quiet">{words.bench.takeItBackToGoOn}</p>
            </div>
          ) : step ? (
            <TheStep step={step} view={view} again={() => setBox("check")} />
          ) : (
            <h1 className="mt-5 text-l">{words.bench.allStepsAreDone}</h1>
          )}
          {problem && (
            <p role="alert" className="mt-3 border-l-4 border-spot pl-3 text-s">
              {problem}
            </p>
          )}
        </div>
        <div className="mt-auto flex flex-col gap-3 pt-5">
          {step?.timer_min && !ended && (
            <button
              type="button"
              className="press min-h-14 w-full text-m"
              onClick={() => {
                askToNotify();
                quiet(
                  runs
                    ? send("timer stopped", { step: step.key })
                    : send("timer started", { step: step.key, minutes: step.timer_min as number }),
                );
              }}
            >
              {runs ? words.bench.stopTheTimer : words.bench.startTheTimer(minutes(step.timer_min))}
            </button>
          )}
          {!ended && (
            <div className="grid grid-cols-2 gap-3 sm:grid-cols-[2fr_1fr_1fr_1fr]">
              {held ? (
                <HoldButton className="press press-first min-h-20 flex-col text-m" onHeld={done}>
                  {label}
                  <span className="text-s font-normal">{step?.opens ? words.bench.holdTheSignIsNotThere : "hold"}</span>
                </HoldButton>
              ) : (
                <button
                  type="button"
                  className="press press-first min-h-20 flex-col gap-0 text-m font-bold"
                  onClick={done}
                >
                  {label}
                  <span className="text-s font-normal">{words.bench.space}</span>
                </button>
              )}
              <Tool name="Reading" letter="R" disabled={!step} onClick={() => setBox("reading")} />
              <Tool
                name="Check"
                letter="C"
                disabled={!step || step.checks.length === 0}
                onClick={() => setBox("check")}
              />
              <Tool name="Note" letter="N" onClick={() => setBox("note")} />
            </div>
          )}
          <div className="flex flex-wrap items-end justify-between gap-3">
            <button type="button" className="press min-h-14" disabled={!state.last_event} onClick={takeBack}>
              {words.bench.takeBackTheLastU}
            </button>
            {!ended && (
              <button type="button" className="press min-h-14" onClick={() => setBox("abandoned")}>
                {words.bench.abandon}
              </button>
            )}
            <Cook />
          </div>
        </div>
      </section>
      <Side view={view} traces={traces} />
      {box === "reading" && step && (
        <ReadingDialog step={step} view={view} close={() => setBox(undefined)} send={send} />
      )}
      {box === "check" && step && <CheckDialog step={step} view={view} close={() => setBox(undefined)} send={send} />}
      {(box === "note" || box === "abandoned") && (
        <NoteDialog kind={box} step={step} close={() => setBox(undefined)} send={send} />
      )}
      {box === "finish" && <FinishDialog view={view} close={() => setBox(undefined)} send={send} />}
    </div>
  );
}

function Tool({
  name,
  letter,
  onClick,
  disabled,
}: {
  name: string;
  letter: string;
  onClick: () => void;
  disabled?: boolean;
}) {
  return (
    <button type="button" className="press min-h-20 flex-col gap-0 px-2 text-m" onClick={onClick} disabled={disabled}>
      {name}
      <span className="text-s">{letter}</span>
    </button>
  );
}

function TheStep({ step, view, again }: { step: Step; view: BatchView; again: () => void }) {
  const fails = view.state.checks
    .filter((c) => c.step === step.key && view.state.open_fails.includes(c.name))
    .slice(-1);
  return (
    <div className="mt-5 flex flex-col gap-4">
      <h1 className="text-l">{step.title}</h1>
      {(view.trials[step.key] ?? []).map((trial) => (
        <p key={trial.id} className="border-l-4 border-deep pl-3 text-m">
          <b>
            {words.bench.onTrialAgainst} {trial.signs.join(", ")}:
          </b>{" "}
          {trial.says}
        </p>
      ))}
      {step.says.length > 0 && (
        <ul className="flex flex-col gap-1 text-m">
          {step.says.map((says) => (
            <li key={says}>{says}</li>
          ))}
        </ul>
      )}
      {step.until.length > 0 && (
        <div className="flex items-center gap-5 border-y border-ink py-3">
          {step.peak && <Peak stage={step.peak} className="h-20 w-32 shrink-0" />}
          <p className="text-m">
            <b>{words.bench.until}</b> {step.until.join(", and ")}
            <span className="block text-s text-quiet">
              {step.low_min === step.high_min
                ? minutes(step.low_min)
                : `${minutes(step.low_min)} to ${minutes(step.high_min)}`}
              {words.bench.asAGuide}
            </span>
          </p>
        </div>
      )}
      {fails.map((fail) => (
        <div key={fail.event} role="status" className="border-l-4 border-bill pl-3">
          <p className="text-m font-bold">
            {fail.asks} {words.bench.notYet}
          </p>
          <ol className="list-inside list-decimal text-m">
            {fail.remedies.map((way) => (
              <li key={way}>{way}</li>
            ))}
          </ol>
          <button type="button" className="press mt-2 min-h-14" onClick={again}>
            {words.bench.lookAgain}
          </button>
        </div>
      ))}
      {step.checks.length > 0 && (
        <ul className="flex flex-col gap-1 text-m">
          {step.checks.map((check) => {
            const passed = view.state.checks.findLast((c) => c.step === step.key && c.name === check.key)?.passed;
            return (
              <li key={check.key} className="grid grid-cols-[5.5rem_1fr] gap-3">
                <b>{passed === undefined ? words.bench.toCheck : passed ? "passed" : words.bench.notYet4}</b>
                <span>
                  {check.asks} <span className="text-s text-quiet">{check.passes}</span>
                </span>
              </li>
            );
          })}
        </ul>
      )}
      {step.caution && <Caution says={step.caution} />}
    </div>
  );
}

function Finished({ view, traces }: { view: BatchView; traces: BatchTraces | undefined }) {
  const outcome = view.state.finished;
  return (
    <div className="mt-5 flex flex-col gap-3">
      <h1 className="text-l">
        {words.bench.finished} {outcome?.texture}
        {outcome?.colour && `, ${outcome.colour}`}
      </h1>
      {traces && (
        <p className="text-m">
          <Egg egg={traces.egg} />
        </p>
      )}
      <p className="text-m">{words.bench.itIsInTheLogWith}</p>
      <Link className="press self-start" to={`/log/${view.id}`}>
        {words.bench.openItInTheLog}
      </Link>
    </div>
  );
}

/** Who is at this tablet; each entry says so. */
function Cook() {
  const kitchen = useQuery(kitchenQuery);
  const [cook, setCook] = useState(() => localStorage.getItem("gullpeak-cook") ?? "");
  const names = [...new Set([...(kitchen.data?.kitchen.cooks ?? []), ...(cook ? [cook] : [])])];
  return (
    <Labelled label={words.bench.atThisTablet}>
      {(ids) => (
        <select
          {...ids}
          className="min-h-14"
          value={cook}
          onChange={(e) => {
            setCook(e.target.value);
            localStorage.setItem("gullpeak-cook", e.target.value);
          }}
        >
          <option value="">{words.bench.nobodyNamed}</option>
          {names.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      )}
    </Labelled>
  );
}

/** Keep the screen awake while a batch is under way, where the device can: taken again whenever the page comes back to the front. */
function useWakeLock(wanted: boolean) {
  useEffect(() => {
    if (!wanted || !("wakeLock" in navigator)) return;
    let lock: WakeLockSentinel | undefined;
    let over = false;
    const take = () => {
      if (over || document.visibilityState !== "visible" || (lock && !lock.released)) return;
      navigator.wakeLock
        .request("screen")
        .then((got) => {
          if (over) void got.release();
          else lock = got;
        })
        .catch(() => undefined);
    };
    take();
    document.addEventListener("visibilitychange", take);
    return () => {
      over = true;
      document.removeEventListener("visibilitychange", take);
      void lock?.release();
    };
  }, [wanted]);
}
