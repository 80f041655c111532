import { useEffect, useMemo, useState } from "react";
import { type DayView, type PlanView, Refused } from "../../api/client";
import { useKeys } from "../../kit/useKeys";
import { useWidth } from "../../kit/useWidth";
import { words } from "../../words";
import { type Drag, Drawing } from "./Drawing";
import { inOrder, threadOf } from "./layout";
import { MyList } from "./Mine";
import { StepPanel } from "./StepPanel";
import type { useDay } from "./useDay";

const NEAR_PX = 3.4;
const STEP_MIN = 5;
/** So much of what is past is drawn. */
const BEHIND_MS = 40 * 60_000;

/** How the day is looked at: near or far, with what is past, which orders are opened or folded by hand. */
export type Seen = { near: boolean; whole: boolean; toggled: Record<string, boolean> };

/** The orders that stand open: near, the one that hands come to next, unless the cook has said otherwise. */
function openOf(plan: PlanView, seen: Seen): Set<string> {
  const coming = plan.spells.find((s) => s.kind === "hands" && s.state !== "done")?.order;
  return new Set(plan.orders.map((o) => o.key).filter((o) => seen.toggled[o] ?? (seen.near && o === coming)));
}

/** The moment from which a day under way is drawn. */
function pastOf(plan: PlanView, now: number, today: boolean): number {
  const past = now - BEHIND_MS;
  const under = today && past > Date.parse(plan.starts) && now < Date.parse(plan.ends);
  return under ? Math.floor(past / 600_000) * 600_000 : Number.NEGATIVE_INFINITY;
}

/** Near or far, orders opened or folded, what is past. */
export function Zoom({
  plan,
  seen,
  see,
  now,
  today,
}: {
  plan: PlanView;
  seen: Seen;
  see: (seen: Seen) => void;
  now: number;
  today: boolean;
}) {
  const orders = plan.orders.map((o) => o.key);
  const open = openOf(plan, seen);
  const from = pastOf(plan, now, today);
  const behind = plan.spells.filter((s) => Date.parse(s.end) <= from).length;
  return (
    <span className="flex flex-wrap gap-x-4 max-md:hidden">
      <button
        type="button"
        className="min-h-11 underline"
        aria-pressed={seen.near}
        onClick={() => see({ ...seen, near: !seen.near })}
      >
        {seen.near ? words.day.wholeDay : words.day.zoomIn}
      </button>
      <button
        type="button"
        className="min-h-11 underline"
        onClick={() => see({ ...seen, toggled: Object.fromEntries(orders.map((o) => [o, open.size < orders.length])) })}
      >
        {open.size < orders.length ? words.day.openEveryOrder : words.day.foldEveryOrder}
      </button>
      {behind > 0 && (
        <button
          type="button"
          className="min-h-11 underline"
          aria-pressed={seen.whole}
          onClick={() => see({ ...seen, whole: !seen.whole })}
        >
          {seen.whole ? words.day.hideWhatIsPast : words.day.showWhatIsPast(behind)}
        </button>
      )}
    </span>
  );
}

/** The plan as it is drawn, with the step that is chosen: moved by hand, marked, started at the bench. */
export function Planned({
  view,
  actions,
  clockOf,
  now,
  today,
  seen,
  see,
}: {
  view: DayView;
  actions: ReturnType<typeof useDay>;
  clockOf: (at: string | number) => string;
  now: number;
  today: boolean;
  seen: Seen;
  see: (seen: Seen) => void;
}) {
  const plan = (view.beside ?? view.plan) as NonNullable<DayView["plan"]>;
  const steps = useMemo(() => inOrder(plan), [plan]);
  const next = steps.find((s) => s.state !== "done" && s.hands > 0) ?? steps[0];
  const [chosen, choose] = useState<string>();
  const [drawn, setDrawn] = useState(false);
  const [drag, setDrag] = useState<Drag>();
  const [room, width] = useWidth<HTMLDivElement>(900);
  const open = openOf(plan, seen);
  const from = seen.whole ? Number.NEGATIVE_INFINITY : pastOf(plan, now, today);
  const long = (Date.parse(plan.ends) - Math.max(from, Date.parse(plan.starts))) / 60_000;
  const perMin = seen.near ? NEAR_PX : Math.max(1.5, Math.min(2.4, 620 / Math.max(60, Math.min(long, 640))));
  const portions = new Map(view.record.day.orders.map((o) => [o.key, o.portions] as const));
  const step = steps.find((s) => s.step === chosen);
  const { mutate: look, data: moved, reset: unlook, isPending } = actions.move;
  useEffect(() => {
    if (!drag) return;
    const wait = setTimeout(() => look({ step: drag.step, start: new Date(drag.start).toISOString() }), 120);
    return () => clearTimeout(wait);
  }, [drag, look]);
  const shift = (minutes: number) => {
    if (!step) return;
    setDrag({
      step: step.step,
      start: (drag?.step === step.step ? drag.start : Date.parse(step.start)) + minutes * 60_000,
    });
  };
  const leave = () => {
    setDrag(undefined);
    unlook();
  };
  const letGo = () => {
    if (!drag) return;
    const { day, version } = view.record;
    const locks = [
      ...day.locks.filter((l) => l.step !== drag.step),
      { step: drag.step, start: new Date(drag.start).toISOString() },
    ];
    actions.put.mutate(
      { day: { ...day, locks }, version },
      {
        onSuccess: () => {
          leave();
          actions.plan.mutate({ seconds: 5, near: true });
        },
      },
    );
  };
  const beside = (by: number) => {
    const lane = plan.threads.findIndex((t) => t.steps.some((s) => s.step === chosen));
    const other = plan.threads[(lane + by + plan.threads.length) % plan.threads.length];
    const at = step ? Date.parse(step.start) : now;
    const near = other
      ? [...other.steps].sort((p, q) => Math.abs(Date.parse(p.start) - at) - Math.abs(Date.parse(q.start) - at))[0]
      : undefined;
    choose(near?.step ?? next?.step);
  };
  useKeys((key) => {
    const lane = chosen ? threadOf(plan, chosen)?.steps : undefined;
    const i = lane?.findIndex((s) => s.step === chosen) ?? -1;
    if (key === "ArrowDown" || key === "ArrowUp")
      choose(chosen && lane ? (lane[i + (key === "ArrowDown" ? 1 : -1)]?.step ?? chosen) : next?.step);
    else if (key === "ArrowRight" || key === "ArrowLeft") beside(key === "ArrowRight" ? 1 : -1);
    else if ((key === "+" || key === "=") && step) shift(STEP_MIN);
    else if (key === "-" && step) shift(-STEP_MIN);
    else if (key === "Enter" && drag) letGo();
    else if (key === "Escape" && (drag || chosen)) drag ? leave() : choose(undefined);
    else return false;
    return true;
  });
  const stale = actions.put.error instanceof Refused && actions.put.error.problem.status === 412;
  return (
    <div className="flex min-w-0 flex-col gap-3 xl:flex-row">
      <div ref={room} className="min-w-0 grow">
        <div className="md:hidden">
          <MyList plan={plan} view={view} clockOf={clockOf} now={now} today={today} actions={actions} choose={choose} />
          <button type="button" className="press mt-3" aria-pressed={drawn} onClick={() => setDrawn(!drawn)}>
            {words.day.showTheDrawing}
          </button>
        </div>
        <div className={drawn ? "" : "max-md:hidden"}>
          <Drawing
            plan={plan}
            ghost={view.beside ? view.plan : null}
            width={width}
            perMin={perMin}
            open={open}
            chosen={chosen}
            now={now}
            from={from}
            dish={(order) => view.record.day.orders.find((o) => o.key === order)?.of}
            asked={(order) => String(portions.get(order) ?? "")}
            clockOf={clockOf}
            choose={(s) => choose(s)}
            toggle={(o) => see({ ...seen, toggled: { ...seen.toggled, [o]: !open.has(o) } })}
            drag={drag}
            onDrag={(d) => setDrag(d)}
          />
          <Done plan={plan} toggle={(o) => see({ ...seen, toggled: { ...seen.toggled, [o]: true } })} open={open} />
          <Legend />
        </div>
      </div>
      {step && (
        <StepPanel
          plan={plan}
          step={step}
          view={view}
          actions={actions}
          clockOf={clockOf}
          now={now}
          close={() => choose(undefined)}
          moving={
            drag
              ? {
                  start: drag.start,
                  breaks: isPending ? undefined : moved,
                  letGo,
                  leave,
                  stale,
                  meanwhile: () => void actions.newest().then(() => actions.put.reset()),
                }
              : undefined
          }
          shift={shift}
          unlock={() => {
            const { day, version } = view.record;
            actions.put.mutate(
              { day: { ...day, locks: day.locks.filter((l) => l.step !== step.step) }, version },
              { onSuccess: () => actions.plan.mutate({ seconds: 3, near: true }) },
            );
          }}
        />
      )}
    </div>
  );
}

/** Orders that are done and no longer drawn. */
function Done({ plan, open, toggle }: { plan: PlanView; open: ReadonlySet<string>; toggle: (order: string) => void }) {
  const done = plan.orders.filter((o) => o.state === "done" && !open.has(o.key));
  if (done.length === 0) return null;
  return (
    <p className="flex flex-wrap items-center gap-x-4 text-s">
      <span className="text-quiet">{words.day.doneOrders}</span>
      {done.map((o) => (
        <button key={o.key} type="button" className="min-h-11 underline" onClick={() => toggle(o.key)}>
          {o.name}
        </button>
      ))}
    </p>
  );
}

const LEGEND = [
  [words.day.hands, "var(--color-deep)", "none"],
  [words.day.handsNow, "var(--color-bill)", "none"],
  [words.day.oven, "var(--food-straw)", "var(--food-edge)"],
  [words.day.cold, "var(--food-cold)", "var(--color-water)"],
  [words.day.waiting, "var(--color-hairline)", "none"],
] as const;

function Legend() {
  return (
    <p className="flex flex-wrap gap-x-4 py-2 text-s text-quiet" aria-hidden="true">
      {LEGEND.map(([name, fill, stroke]) => (
        <span key={name} className="flex items-center gap-1">
          <svg viewBox="0 0 14 20" className="h-5 w-3.5">
            <rect x="2" y="2" width="10" height="16" rx="1.5" fill={fill} stroke={stroke} />
          </svg>
          {name.toLowerCase()}
        </span>
      ))}
      <span className="flex items-center gap-1">
        <svg viewBox="0 0 14 20" className="h-5 w-3.5">
          <path d="M7 3v14" stroke="currentColor" strokeWidth="5" strokeDasharray="1 3" />
        </svg>
        {words.day.mayTakeLonger}
      </span>
    </p>
  );
}
