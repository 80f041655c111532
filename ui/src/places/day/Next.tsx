import { Link } from "react-router";
import type { DayView, PlanView } from "../../api/client";
import { clock } from "../../kit/format";
import { words } from "../../words";
import { inOrder, threadOf } from "./layout";
import { type DayActions, newMark } from "./useDay";

const SOON_MS = 3 * 60_000;

/** What is next, for each pair of hands, and every timer that runs: the top of the day. */
export function Next({
  plan,
  view,
  clockOf,
  now,
  today,
  actions,
}: {
  plan: PlanView;
  view: DayView;
  clockOf: (at: string | number) => string;
  now: number;
  today: boolean;
  actions: DayActions;
}) {
  const steps = inOrder(plan);
  const going = now < Date.parse(plan.ends) && now > Date.parse(plan.starts) - 3_600_000;
  const people = plan.people.filter((p) => p.next_step);
  const named = [...new Map(people.map((p) => [p.who, p])).values()];
  return (
    <div className="mt-1 flex flex-wrap items-stretch gap-x-6 gap-y-2">
      {named.map((p) => {
        const step = steps.find((s) => s.step === p.next_step);
        if (!step) return null;
        const thread = threadOf(plan, step.step);
        const at = Date.parse(step.start);
        const due = going && today && at <= now + SOON_MS;
        return (
          <div
            key={p.key}
            className={`flex min-w-0 items-center gap-3 border-l-4 pl-3 ${due ? "border-bill" : "border-hairline"}`}
          >
            <p className="min-w-0">
              <span className="block text-s text-quiet">
                {p.who},{" "}
                {step.state === "under way" || step.state === "late"
                  ? words.day.until(clockOf(step.end))
                  : clockOf(step.start)}
              </span>
              <b className="line-clamp-2 text-m leading-tight">{step.title}</b>
              <span className="line-clamp-1 text-s">{thread?.name}</span>
            </p>
            {going && (
              <button
                type="button"
                className={`press min-h-14 shrink-0 ${due ? "press-first" : ""}`}
                onClick={() => actions.mark.mutate([newMark("done", step.step, now)])}
                aria-label={words.day.done(step.title, thread?.name ?? "")}
              >
                {words.day.done2}
              </button>
            )}
          </div>
        );
      })}
      {view.timers.map((t) => {
        const left = (Date.parse(t.started) + t.minutes * 60_000 - now) / 1000;
        return (
          <Link
            key={`${t.batch_id}-${t.step}`}
            to={`/bench/${t.batch_id}`}
            className={`flex min-w-0 flex-col justify-center border-l-4 pl-3 ${left <= 60 ? "border-bill" : "border-hairline"}`}
          >
            <span className="text-s text-quiet">{t.name}</span>
            <b className="text-m">{left > 0 ? clock(left) : words.day.lookNow}</b>
            <span className="line-clamp-1 text-s">{t.title}</span>
          </Link>
        );
      })}
      {named.length === 0 && <p className="text-m">{plan.says}</p>}
    </div>
  );
}
