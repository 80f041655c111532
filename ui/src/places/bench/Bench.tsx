import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { type BatchTraces, type BatchView, Refused } from "../../api/client";
import { kitchenQuery } from "../../api/queries";
import { useDegrees } from "../../kit/degrees";
import { event } from "../../kit/event";
import { Labelled } from "../../kit/Field";
import { minutes } from "../../kit/format";
import { HoldButton } from "../../kit/HoldButton";
import { Trouble, Waiting } from "../../kit/States";
import { useKeys } from "../../kit/useKeys";
import { askToNotify } from "../../kit/useRing";
import { useWakeLock } from "../../kit/useWakeLock";
import { words } from "../../words";
import { CheckDialog, NoteDialog, ReadingDialog } from "./Dialogs";
import { FinishDialog } from "./FinishDialog";
import { Alarms, Egg, useTraces } from "./Live";
import { Side } from "./Side";
import { Sign, signOf, TheStep, Vital } from "./TheStep";
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
  const label = signOf(step);
  const sign = watching?.milestones.find((m) => m.key === (step?.opens === "start" ? "start" : "target"));
  const latest = watching?.latest_c;
  const far =
    sign && step?.opens && latest !== null && latest !== undefined
      ? Math.min(1, Math.max(0, (latest - 20) / Math.max(1, sign.reads_c - 20)))
      : undefined;
  return (
    <div className="wet-hands grid grow lg:grid-cols-[minmax(0,1fr)_minmax(0,1.15fr)]">
      <section
        className="flex flex-col bg-surface px-4 pt-4 md:px-7 md:pt-5 lg:sticky lg:top-0 lg:h-[calc(100dvh-3.6rem)] lg:overflow-y-auto"
        aria-label={words.bench.theOneThingToDo}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, so a key has to reach it
        tabIndex={0}
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
          <div className="mt-4 flex flex-col gap-3">
            <h1 className="text-[2.4rem] leading-[1.08] max-md:text-l" aria-live="polite">
              {step.title}
            </h1>
            <Vital watching={watching} timer={runs} />
            <Sign step={step} view={view} />
          </div>
        ) : (
          <h1 className="mt-5 text-l">{words.bench.allStepsAreDone}</h1>
        )}
        {step && !ended && (
          <div className="mt-3 max-lg:order-2">
            <TheStep step={step} view={view} again={() => setBox("check")} />
          </div>
        )}
        <div className="flex flex-col gap-3 bg-surface py-4 max-lg:contents lg:sticky lg:bottom-0 lg:mt-auto">
          <div className="flex flex-col gap-3 max-lg:order-1 max-lg:pt-3">
            {problem && (
              <p role="alert" className="border-l-4 border-spot pl-3 text-s">
                {problem}
              </p>
            )}
            {step?.timer_min && !ended && (
              <button
                type="button"
                className="press min-h-14 w-full text-m max-lg:order-2"
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
              <div className="grid grid-cols-3 gap-3 sm:grid-cols-[2fr_1fr_1fr_1fr]">
                {held ? (
                  <HoldButton
                    className="press press-first min-h-20 flex-col px-2 max-sm:col-span-3 text-m leading-tight font-bold"
                    onHeld={done}
                  >
                    {far !== undefined && (
                      <span
                        aria-hidden="true"
                        className="absolute inset-y-0 right-0 bg-paper opacity-15"
                        style={{ width: `${100 * (1 - far)}%` }}
                      />
                    )}
                    {label}
                    <span className="text-s font-normal">
                      {step?.opens
                        ? sign
                          ? words.bench.opensAtOrHold(degrees.show(sign.reads_c, { digits: 0 }))
                          : words.bench.holdTheSignIsNotThere
                        : words.bench.hold}
                    </span>
                  </HoldButton>
                ) : (
                  <button
                    type="button"
                    data-main="press"
                    className="press press-first min-h-20 flex-col gap-0 px-2 max-sm:col-span-3 text-m leading-tight font-bold"
                    onClick={done}
                  >
                    {label}
                    <span className="text-s font-normal max-md:hidden">{words.bench.space}</span>
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
          </div>
          <div className="flex flex-wrap items-end justify-between gap-3 max-lg:order-3 max-lg:py-4">
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
    <button
      type="button"
      className="press min-h-14 flex-col gap-0 px-2 text-m md:min-h-20"
      onClick={onClick}
      disabled={disabled}
    >
      {name}
      <span className="text-s max-md:hidden">{letter}</span>
    </button>
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
