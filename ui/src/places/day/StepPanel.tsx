import { useNavigate } from "react-router";
import type { DayView, MoveView, PlanView, StepAt } from "../../api/client";
import { useDegrees } from "../../kit/degrees";
import { minutes } from "../../kit/format";
import { fixed } from "../../kit/numbers";
import { Caution } from "../../kit/Remarks";
import { words } from "../../words";
import { threadOf } from "./layout";
import { type DayActions, newMark } from "./useDay";

type Moving = {
  start: number;
  breaks: MoveView | undefined;
  letGo: () => void;
  leave: () => void;
  stale: boolean;
  meanwhile: () => void;
};

/** One step: when, who, until what; what moving it would break; what happened to it. */
export function StepPanel(props: {
  plan: PlanView;
  step: StepAt;
  view: DayView;
  actions: DayActions;
  clockOf: (at: string | number) => string;
  now: number;
  close: () => void;
  moving?: Moving;
  shift: (minutes: number) => void;
  unlock: () => void;
}) {
  const degrees = useDegrees();
  const { plan, step, view, actions, clockOf, now, moving } = props;
  const go = useNavigate();
  const thread = threadOf(plan, step.step);
  const weak = plan.weak.find((w) => w.step === step.step);
  const windows = plan.windows.filter(
    (w) =>
      (w.later === step.step || w.earlier === step.step) && Date.parse(w.closes) - Date.parse(w.opens) < 4 * 3_600_000,
  );
  const eggs = plan.eggs.draws.filter((d) => d.from_step && (d.from_step === step.step || d.step === step.step));
  const running = thread ? view.batches[thread.key] : undefined;
  const lasts = (Date.parse(step.end) - Date.parse(step.start)) / 60_000;
  const [low, high] = [
    (Date.parse(step.low_end) - Date.parse(step.start)) / 60_000,
    (Date.parse(step.high_end) - Date.parse(step.start)) / 60_000,
  ];
  return (
    <section
      aria-label={words.day.theChosenStep}
      className="flex w-full shrink-0 flex-col gap-2 rounded-panel border border-hairline bg-surface p-4 max-xl:fixed max-xl:inset-x-0 max-xl:bottom-0 max-xl:z-20 max-xl:max-h-[60dvh] max-xl:overflow-y-auto max-xl:border-deep xl:w-88"
    >
      <div className="flex items-start justify-between gap-2">
        <div className="min-w-0">
          <h2 className="text-m leading-tight">{step.title}</h2>
          <p className="text-s text-quiet">
            {thread?.name}
            {thread && thread.depth > 0 ? words.day.forWord3(thread.order_name) : ""}
          </p>
        </div>
        <button
          type="button"
          className="min-h-11 shrink-0 px-2 text-s whitespace-nowrap underline"
          onClick={props.close}
        >
          {words.day.close}
        </button>
      </div>
      <p className="text-m">
        <b>
          {clockOf(step.start)} {words.day.to} {clockOf(step.end)}
        </b>
        <span className="block text-s">
          {minutes(lasts)}
          {high > low && `, ${minutes(low)} to ${minutes(high)}`}
          {step.oven &&
            ` · ${step.oven}${typeof step.set_c === "number" ? ` at ${degrees.show(step.set_c, { oven: true })}` : ", off"}${step.ajar ? words.day.doorAjar : ""}`}
          {step.mixer && ` · ${step.mixer}`}
          {step.who.length > 0 && ` · ${step.who.join(" and ")}`}
        </span>
        <span className="block text-s text-quiet">
          {step.slack_min > 0
            ? words.day.itCanStartLateBeforeAn(minutes(step.slack_min))
            : words.day.noSlackALateStartMakes}
        </span>
      </p>
      {step.says.map((s) => (
        <p key={s} className="text-s">
          {s}
        </p>
      ))}
      {step.until.length > 0 && (
        <p className="text-s">
          {words.day.until2} <b>{step.until.join("; ")}</b>.
        </p>
      )}
      {step.caution && <Caution says={step.caution} />}
      {eggs.map((d) => (
        <p key={`${d.from_step}-${d.step}-${d.side}`} className="text-s">
          {d.from_step === step.step
            ? words.day.gFreedFor(fixed(d.grams), d.side, d.thread)
            : words.day.gFreedBy(fixed(d.grams), d.side, threadOf(plan, d.from_step ?? "")?.name ?? "")}
          .
        </p>
      ))}
      {windows.map((w) => (
        <p key={`${w.earlier}-${w.later}`} className="border-l-4 border-deep pl-3 text-s">
          {w.says}: {clockOf(w.opens)} {words.day.to} {clockOf(w.closes)}.
        </p>
      ))}
      {weak && (
        <p className="border-l-4 border-deep pl-3 text-s">
          {weak.by_min} {words.day.min} {weak.end}: {weak.says}.
        </p>
      )}
      {moving && <Held moving={moving} clockOf={clockOf} />}
      {step.state !== "done" && (
        <div className="flex flex-wrap gap-2">
          <button type="button" className="press" onClick={() => props.shift(-5)}>
            {words.day.n5MinEarlier}
          </button>
          <button type="button" className="press" onClick={() => props.shift(5)}>
            {words.day.n5MinLater}
          </button>
          {step.locked && (
            <button type="button" className="press" onClick={props.unlock}>
              {words.day.unlock}
            </button>
          )}
        </div>
      )}
      <div className="mt-1 flex flex-wrap gap-2 border-t border-hairline pt-3">
        {thread?.recipe && (
          <button
            type="button"
            className="press"
            onClick={() =>
              running
                ? go(`/bench/${running}`)
                : actions.bench.mutate(thread.key, { onSuccess: (batch) => go(`/bench/${batch.id}`) })
            }
          >
            {running ? words.day.openAtTheBench : words.day.startAtTheBench}
          </button>
        )}
        <Happened step={step} view={view} actions={actions} now={now} />
      </div>
      {(actions.mark.error ?? actions.bench.error) && (
        <p role="alert" className="text-s">
          {(actions.mark.error ?? actions.bench.error)?.message}
        </p>
      )}
    </section>
  );
}

/** A step moved by hand: where it is held, what that breaks, put or left. */
function Held({ moving, clockOf }: { moving: Moving; clockOf: (at: string | number) => string }) {
  return (
    <div className="border-l-4 border-deep pl-3">
      <p className="text-m">
        {words.day.heldAt} <b>{clockOf(moving.start)}</b>
      </p>
      <div aria-live="polite" className="text-s">
        {moving.breaks === undefined && <p className="text-quiet">{words.day.checkingWhatThisBreaks}</p>}
        {moving.breaks && moving.breaks.breaks.length === 0 && (
          <p>
            {words.day.itBreaksNothing}
            {moving.breaks.shifts.length ? words.day.laterStepsShiftWithIt(moving.breaks.shifts.length) : ""}.
          </p>
        )}
        {moving.breaks?.breaks.slice(0, 5).map((b) => (
          <p key={b.says}>{b.says}.</p>
        ))}
        {moving.breaks && moving.breaks.breaks.length > 0 && (
          <p className="text-quiet">{words.day.putItHereAndTheRest}</p>
        )}
      </div>
      {moving.stale && (
        <p role="alert" className="text-s">
          {words.day.anotherTabletHasChangedThisDay}{" "}
          <button type="button" className="min-h-11 underline" onClick={moving.meanwhile}>
            {words.day.loadTheirChangeKeepMineHeld}
          </button>
        </p>
      )}
      <div className="mt-1 flex flex-wrap gap-2">
        <button
          type="button"
          className="press press-first"
          onClick={moving.letGo}
          disabled={moving.breaks === undefined}
        >
          {words.day.putItHere}
        </button>
        <button type="button" className="press" onClick={moving.leave}>
          {words.day.leaveItWhereItWas}
        </button>
      </div>
    </div>
  );
}

/** What is said of the step: started, done, late, failed; the last of it can be taken back. */
function Happened({ step, view, actions, now }: { step: StepAt; view: DayView; actions: DayActions; now: number }) {
  const say = (kind: "started" | "done" | "late" | "failed", more?: number) =>
    actions.mark.mutate([newMark(kind, step.step, now, more === undefined ? {} : { minutes: more })]);
  const marks = view.marks.filter(
    (m) => m.step === step.step && m.kind !== "taken back" && !view.marks.some((other) => other.takes_back === m.id),
  );
  const last = marks.at(-1);
  return (
    <>
      {step.state !== "done" ? (
        <>
          {step.state === "to come" && (
            <button type="button" className="press" onClick={() => say("started")}>
              {words.day.started}
            </button>
          )}
          <button type="button" className="press press-first" onClick={() => say("done")}>
            {words.day.done2}
          </button>
          <button type="button" className="press" onClick={() => say("late", 5)}>
            {words.day.n5MinMore}
          </button>
          <button type="button" className="press" onClick={() => say("late", 15)}>
            {words.day.n15MinMore}
          </button>
          <button type="button" className="press" onClick={() => say("failed")}>
            {words.day.failedAgain}
          </button>
        </>
      ) : (
        <span className="text-s">{words.day.done3}</span>
      )}
      {last && (
        <button
          type="button"
          className="press"
          onClick={() => actions.mark.mutate([newMark("taken back", step.step, now, { takes_back: last.id })])}
        >
          {words.day.takeBack}
          {last.kind}”
        </button>
      )}
    </>
  );
}
