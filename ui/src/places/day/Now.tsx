import { Link } from "react-router";
import type { DayView, PlanView, StepAt } from "../../api/client";
import { useDegrees } from "../../kit/degrees";
import { clock, minutes } from "../../kit/format";
import { words } from "../../words";
import { cooks, type Mine, ovens } from "./hands";
import { threadOf } from "./layout";
import { type DayActions, newMark } from "./useDay";

const HOUR_MS = 3_600_000;

export type Told = {
  plan: PlanView;
  view: DayView;
  clockOf: (at: string | number) => string;
  now: number;
  today: boolean;
  actions: DayActions;
};

/** The top of the day: what each pair of hands does now and next, and each oven. */
export function Now(told: Told) {
  const { plan, now, today } = told;
  const going = today && now < Date.parse(plan.ends) && now > Date.parse(plan.starts) - HOUR_MS;
  const all = cooks(plan, now);
  if (all.every((m) => m.steps.length === 0)) return <p className="mt-2 text-m">{plan.says}</p>;
  return (
    <div className="mt-2 grid gap-3 sm:grid-cols-2 lg:flex lg:flex-wrap">
      {all.map((mine) => (
        <Cook key={mine.who} mine={mine} going={going} told={told} />
      ))}
      <InOvens {...told} />
    </div>
  );
}

function Cook({ mine, going, told }: { mine: Mine; going: boolean; told: Told }) {
  const { plan, clockOf, now, actions } = told;
  const [step, then] = mine.steps;
  const due = going && mine.due && !mine.pause;
  const name = (of: StepAt) => threadOf(plan, of.step)?.name ?? "";
  const begun = step && (step.state !== "to come" || Date.parse(step.start) <= now);
  return (
    <section
      aria-label={mine.who}
      className={`flex min-w-0 flex-col rounded-panel border border-hairline bg-surface p-3 lg:flex-1 lg:basis-64 ${due ? "border-l-8 border-l-bill" : ""}`}
    >
      <p className="text-s text-quiet">
        {mine.who}
        {mine.pause
          ? `, ${words.day.onABreakUntil(clockOf(mine.pause))}`
          : mine.away
            ? `, ${"from" in mine.away ? words.day.hereFrom(clockOf(mine.away.from)) : words.day.leftAt(clockOf(mine.away.since))}`
            : step && going
              ? `, ${begun ? words.day.nowUntil(clockOf(step.end)) : words.day.freeUntil(clockOf(step.start))}`
              : ""}
      </p>
      {step ? (
        <>
          <div className="flex items-start justify-between gap-x-3">
            <div className="min-w-0">
              <h2 className="text-m leading-tight">
                {going && !begun ? `${clockOf(step.start)} ` : ""}
                {step.title}
              </h2>
              <p className="text-s">
                {name(step)}
                {step.until.length > 0 && ` · ${words.day.until(step.until[0] ?? "")}`}
              </p>
            </div>
            {going && (
              <button
                type="button"
                className={`press min-h-14 shrink-0 ${due ? "press-first" : ""}`}
                onClick={() => actions.mark.mutate([newMark("done", step.step, now)])}
                aria-label={words.day.done(step.title, name(step))}
              >
                {words.day.done2}
              </button>
            )}
          </div>
          {then && (
            <p className="mt-1 text-s text-quiet">
              {words.day.thenAt(clockOf(then.start), then.title)}
              {name(then) === name(step) ? "" : `, ${name(then)}`}
            </p>
          )}
        </>
      ) : (
        <p className="text-m">{words.day.nothingMoreToDo}</p>
      )}
    </section>
  );
}

/** What is in each oven, what goes in next, and every timer of the bench with it. */
function InOvens({ plan, view, clockOf, now }: Told) {
  const degrees = useDegrees();
  const rows = ovens(plan, now);
  const started = new Map(view.timers.map((t) => [t.batch_id, t] as const));
  const timerOf = (of: StepAt) => {
    const thread = threadOf(plan, of.step);
    const timer = thread && started.get(view.batches[thread.key] ?? "");
    return timer && of.step.endsWith(`/${timer.step}`) ? timer : undefined;
  };
  const shown = new Set(rows.flatMap((o) => (o.now && timerOf(o.now) ? [timerOf(o.now)] : [])));
  const others = view.timers.filter((t) => !shown.has(t));
  if (rows.length + others.length === 0) return null;
  return (
    <section
      aria-label={words.day.ovens}
      className="min-w-0 rounded-panel border border-hairline bg-surface p-3 lg:flex-1 lg:basis-72"
    >
      <p className="text-s text-quiet">{words.day.ovens}</p>
      <ul className="flex flex-col gap-1">
        {rows.map((oven) => {
          const timer = oven.now && timerOf(oven.now);
          const left = timer
            ? (Date.parse(timer.started) + timer.minutes * 60_000 - now) / 1000
            : oven.now && (Date.parse(oven.now.end) - now) / 1000;
          return (
            <li key={oven.key} className="leading-tight">
              <b className="text-m">{oven.name}</b>
              {oven.celsius !== undefined && (
                <span className="text-s">
                  {" "}
                  {words.day.plannedHeat(degrees.show(oven.celsius, { oven: true, digits: 0 }))}
                </span>
              )}
              <span className="block text-s">
                {oven.now && left !== undefined ? (
                  timer ? (
                    <Link
                      to={`/bench/${timer.batch_id}`}
                      className={`underline ${left <= 60 ? "rounded-k bg-bill px-1 text-[#0F2A30]" : ""}`}
                    >
                      {timer.name}, {left > 0 ? words.day.left(clock(left)) : words.day.lookNow}
                    </Link>
                  ) : (
                    `${threadOf(plan, oven.now.step)?.name}, ${left > 0 ? words.day.left(minutes(left / 60)) : words.day.outNow}`
                  )
                ) : (
                  words.day.empty
                )}
                {oven.next && (
                  <span className="text-quiet">
                    {" · "}
                    {words.day.nextInOven(
                      clockOf(oven.next.start),
                      oven.next.set_c === null || oven.next.set_c === undefined
                        ? words.day.offWord
                        : degrees.show(oven.next.set_c, { oven: true, digits: 0 }),
                      threadOf(plan, oven.next.step)?.name ?? "",
                    )}
                  </span>
                )}
              </span>
            </li>
          );
        })}
        {others.map((t) => {
          const left = (Date.parse(t.started) + t.minutes * 60_000 - now) / 1000;
          return (
            <li key={`${t.batch_id}-${t.step}`} className="text-s leading-tight">
              <Link
                to={`/bench/${t.batch_id}`}
                className={`underline ${left <= 60 ? "rounded-k bg-bill px-1 text-[#0F2A30]" : ""}`}
              >
                {t.name}, {t.title}: {left > 0 ? words.day.left(clock(left)) : words.day.lookNow}
              </Link>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
