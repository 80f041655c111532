import { type ReactNode, useState } from "react";
import type { DayView, PlanView } from "../../api/client";
import { minutes } from "../../kit/format";
import { fixed } from "../../kit/numbers";
import { words } from "../../words";
import type { DayActions } from "./useDay";

const TERMS: Record<string, string> = {
  waits: "waiting, most for what keeps least",
  presence: "hands from first to last step",
  "second pair": "work beyond the first pair of hands",
  ovens: "ovens on",
  washes: "bowls washed",
};

/** Whether a plan is being looked for, or waits for its turn. */
export const looking = (view: DayView) => view.search?.state === "searching" || view.search?.state === "waiting";

/** How the plan came about: the search while it runs, what clashes and what would free it, a plan beside, what it cannot stand. */
export function Search({
  view,
  actions,
  clockOf,
  toOrders,
  children,
}: {
  view: DayView;
  actions: DayActions;
  clockOf: (at: string | number) => string;
  toOrders: () => void;
  /** What stands beside it */
  children?: ReactNode;
}) {
  const { search, plan, beside, trouble, stale } = view;
  const planning = looking(view) ? search : null;
  const clash = plan && !beside ? undefined : search?.clash;
  const asked = (near: boolean, seconds = near ? 3 : 10) => actions.plan.mutate({ seconds, near });
  if (trouble)
    return (
      <p role="alert" className="mt-2 border-l-4 border-deep pl-3">
        <b>{words.day.itCannotBePlannedYet}</b> {trouble.says}.{" "}
        <button type="button" className="min-h-11 underline" onClick={toOrders}>
          {words.day.ordersAndHands}
        </button>
      </p>
    );
  return (
    <div className="my-2 flex flex-col gap-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1 text-s" aria-live="polite">
        {planning ? (
          <>
            <span>
              {planning.state === "waiting"
                ? words.day.waitingAnotherDayIsBeingPlanned
                : planning.clash || planning.clashing
                  ? words.day.findingWhatClashesAndWhatWould
                  : words.day.planningOfS(
                      planning.stage || "setting out",
                      fixed(planning.seconds, 1),
                      planning.of_seconds,
                    )}
              {planning.aim_min !== null &&
                planning.aim_min !== undefined &&
                words.day.soFarNoPlanCanScore(fixed(planning.aim_min), fixed(planning.bound_min ?? 0))}
            </span>
            <button type="button" className="press" onClick={() => actions.stop.mutate()}>
              {words.day.stopKeepTheBest}
            </button>
          </>
        ) : (
          <>
            {!plan && (
              <button type="button" className="press press-first" onClick={() => asked(false)}>
                {words.day.planTheDay}
              </button>
            )}
            {plan && !beside && (
              <button type="button" className={`press ${stale ? "press-first" : ""}`} onClick={() => asked(view.begun)}>
                {stale ? words.day.theDayWasChangedPlanIt : words.day.lookForABetterPlan}
              </button>
            )}
            {plan && !beside && search?.state === "none" && (
              <span role="alert">{words.day.noPlanWasFoundThatKeeps}</span>
            )}
            {search?.state === "failed" && (
              <span role="alert">
                {words.day.thereIsNoNewPlan} {search.says}.
              </span>
            )}
            {(plan || beside) && <Worth plan={(beside ?? plan) as PlanView} />}
          </>
        )}
        {children}
      </div>
      {view.drift && !beside && (
        <p className="border-l-4 border-deep pl-3 text-s">
          <b>{view.drift.says}.</b>{" "}
          {planning ? words.day.planningTheRestAgainCloseTo : words.day.theRestStillWorksAsPlanned}
        </p>
      )}
      {clash && (
        <section aria-label={words.day.whatClashes} className="border-l-4 border-deep pl-3">
          <p className="text-m">
            <b>{words.day.thisPlanDoesNotWork}</b> {clash.says}
          </p>
          {!clash.proven && <p className="text-s text-quiet">{words.day.noPlanWasFoundInThe}</p>}
          {clash.offers.length > 0 && <p className="mt-1 text-s">{words.day.changesThatMakeItWorkThe}</p>}
          <div className="mt-1 flex flex-wrap gap-2">
            {clash.offers.map((offer) => (
              <button
                key={offer.says}
                type="button"
                className="press"
                onClick={() => {
                  actions.stop.mutate();
                  actions.put.mutate(
                    { day: offer.day, version: view.record.version },
                    { onSuccess: () => asked(false) },
                  );
                }}
              >
                {offer.says}
              </button>
            ))}
          </div>
          {!planning && clash.offers.length === 0 && <p className="text-s">{words.day.noSingleChangeWasFoundThat}</p>}
        </section>
      )}
      {beside && !planning && <Beside view={view} plan={beside} actions={actions} clockOf={clockOf} />}
      {!beside && plan && Object.keys(plan.late).length > 0 && (
        <p role="alert" className="border-l-4 border-spot pl-3 text-s">
          <b className="text-spot">{words.day.late}</b> {lateSays(plan)}
        </p>
      )}
    </div>
  );
}

const lateSays = (plan: PlanView) =>
  Object.entries(plan.late)
    .map(([order, min]) => words.day.byMin(plan.threads.find((t) => t.order === order)?.order_name ?? order, min))
    .join("; ");

/** A plan beside the one in force: what it moves and why; taken or left. */
function Beside({
  view,
  plan,
  actions,
  clockOf,
}: {
  view: DayView;
  plan: PlanView;
  actions: DayActions;
  clockOf: (at: string | number) => string;
}) {
  const [all, setAll] = useState(false);
  const threads = new Map(plan.threads.flatMap((t) => t.steps.map((s) => [s.step, s] as const)));
  const changes = plan.changes;
  const better = view.plan ? view.plan.aim_min - plan.aim_min : 0;
  return (
    <section aria-label={words.day.aPlanBesideTheOneIn} className="border-l-4 border-deep pl-3">
      <div className="flex flex-wrap items-center gap-3">
        <p className="text-m">
          <b>
            {changes.length
              ? words.day.aNewPlanMoves(changes.length, changes.length === 1 ? "step" : "steps")
              : words.day.anotherPlanDrawnBelow}
          </b>{" "}
          {changes.length === 0 && (better > 1 ? words.day.itIsBetter(fixed(better)) : words.day.itIsNoBetterThanThe)}
          {Object.keys(plan.late).length > 0 && (
            <span className="text-spot">
              {" "}
              {words.day.late2} {lateSays(plan)}.
            </span>
          )}
        </p>
        <button type="button" className="press press-first" onClick={() => actions.take.mutate()}>
          {words.day.useThisPlan}
        </button>
        <button type="button" className="press" onClick={() => actions.leave.mutate()}>
          {words.day.keepTheOldPlan}
        </button>
      </div>
      {changes.length > 0 && (
        <ul className="mt-1 text-s">
          {(all ? changes : changes.slice(0, 4)).map((c) => (
            <li key={c.step}>
              <b>{c.title}</b>, {c.name}:{" "}
              {c.now - c.was > 0 ? words.day.minLater(c.now - c.was) : words.day.minEarlier(c.was - c.now)}
              {words.day.at} {clockOf(threads.get(c.step)?.start ?? plan.starts)}.{" "}
              <span className="text-quiet">{c.because}.</span>
            </li>
          ))}
          {changes.length > 4 && !all && (
            <li>
              <button type="button" className="min-h-11 underline" onClick={() => setAll(true)}>
                {words.day.and} {changes.length - 4} {words.day.more}
              </button>
            </li>
          )}
        </ul>
      )}
    </section>
  );
}

/** What the plan costs, the least any plan could, and the steps with no slack. */
function Worth({ plan }: { plan: PlanView }) {
  return (
    <details className="min-w-0">
      <summary className="flex min-h-11 cursor-pointer items-center text-s underline">
        {plan.breaks.length ? words.day.rulesBroken(plan.breaks.length) : words.day.everyRuleKept} ·{" "}
        {plan.weak.length ? words.day.stepsHaveNoSlack(plan.weak.length) : words.day.everyStepHasSlack}{" "}
        {words.day.ovensOn} {minutes(plan.terms.find((t) => t.name === "ovens")?.minutes ?? 0)}
      </summary>
      <div className="grid gap-4 py-2 md:grid-cols-2">
        <table className="text-left">
          <caption className="text-left text-s text-quiet">{words.day.whatThisPlanCostsAndThe}</caption>
          <tbody>
            {plan.terms.map((t) => (
              <tr key={t.name} className="border-b border-hairline">
                <th scope="row" className="pr-4 font-normal">
                  {TERMS[t.name] ?? t.name}
                </th>
                <td className="pr-4 text-right font-bold">{minutes(t.minutes)}</td>
                <td className="text-right text-quiet">≥ {minutes(t.bound)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <div>
          {plan.breaks.map((b) => (
            <p key={b.says} className="text-spot">
              {b.says}.
            </p>
          ))}
          {plan.weak.length > 0 && <p className="text-quiet">{words.day.ifOneStepTakesItsLongest}</p>}
          <ul className="max-h-52 overflow-y-auto" aria-label={words.day.stepsWithNoSlack}>
            {plan.weak.map((w) => {
              const step = plan.threads.flatMap((t) => t.steps.map((s) => ({ s, t }))).find((x) => x.s.step === w.step);
              return (
                <li key={`${w.step}-${w.end}`}>
                  {step?.s.title}, {step?.t.name}, {w.by_min} {words.day.min} {w.end}: {w.says}.
                </li>
              );
            })}
          </ul>
        </div>
      </div>
    </details>
  );
}
