import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { useNavigate, useParams } from "react-router";
import { type DayView, Refused } from "../../api/client";
import { clockHeard } from "../../api/clock";
import { listen, outbox } from "../../api/outbox";
import { dayQuery, daysQuery } from "../../api/queries";
import { Room, Rooms, RoomTabs } from "../../kit/Rooms";
import { Empty, Trouble, Waiting } from "../../kit/States";
import { useKeys } from "../../kit/useKeys";
import { useNow } from "../../kit/useNow";
import { useWidth } from "../../kit/useWidth";
import { words } from "../../words";
import { type Drag, Drawing } from "./Drawing";
import { Lists } from "./Lists";
import { inOrder, roomFor, threadOf } from "./layout";
import { Next } from "./Next";
import { Orders } from "./Orders";
import { looking, Search } from "./Search";
import { StepPanel } from "./StepPanel";
import { ahead, clockIn, ownZone, useDay } from "./useDay";

const ROOMS = [
  ["plan", words.day.plan],
  ["orders", words.day.ordersAndHands],
  ["list", words.day.weighAndBuy],
] as const;
type RoomKey = (typeof ROOMS)[number][0];
const HOUR_PX = 3.4;
const STEP_MIN = 5;

const isoDay = (ms: number) => new Intl.DateTimeFormat("sv-SE").format(new Date(ms));
const longDay = (of: string) =>
  new Intl.DateTimeFormat("en-GB", { weekday: "long", day: "numeric", month: "long", timeZone: "UTC" }).format(
    new Date(`${of}T12:00:00Z`),
  );

/** A day: chosen by its date, today's where there is one. */
export default function DayPlace() {
  const { of } = useParams();
  const now = useNow();
  const today = isoDay(now);
  const heard = clockHeard();
  const { data: days, error, refetch } = useQuery(daysQuery);
  const go = useNavigate();
  useEffect(() => {
    if (!of && days && heard)
      go(
        `/day/${days.find((d) => d.date === today)?.date ?? days.findLast((d) => d.date > today)?.date ?? days[0]?.date ?? today}`,
        { replace: true },
      );
  }, [of, days, today, heard, go]);
  if (error && !days) return <Trouble error={error} again={refetch} />;
  if (!of || !days) return <Waiting what={words.day.theDays} />;
  const picker = (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
      <label className="flex items-center gap-2">
        <span className="sr-only">{words.day.day}</span>
        <select className="max-w-96 text-m font-bold" value={of} onChange={(e) => go(`/day/${e.target.value}`)}>
          {!days.some((d) => d.date === of) && (
            <option value={of}>
              {longDay(of)}
              {words.day.newWord}
            </option>
          )}
          {[...days].reverse().map((d) => (
            <option key={d.date} value={d.date}>
              {d.date === today ? "Today, " : ""}
              {longDay(d.date)} · {d.orders.length} {d.orders.length === 1 ? "order" : "orders"}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2 text-s text-quiet">
        {words.day.or}
        <input
          type="date"
          aria-label={words.day.anotherDate}
          className="w-36 text-s"
          value={of}
          onChange={(e) => e.target.value && go(`/day/${e.target.value}`)}
        />
      </label>
    </div>
  );
  return (
    <div className="flex min-w-0 grow flex-col px-4 py-2 md:px-6">
      <h1 className="sr-only">{longDay(of)}</h1>
      <OneDay key={of} of={of} known={days.some((d) => d.date === of)} today={today} picker={picker} />
    </div>
  );
}

function OneDay({ of, known, today, picker }: { of: string; known: boolean; today: string; picker: ReactNode }) {
  const { data, error, refetch } = useQuery({ ...dayQuery(of), enabled: known });
  const actions = useDay(of);
  const { waiting } = useSyncExternalStore((tell) => listen(() => tell()), outbox);
  if (!known)
    return (
      <>
        {picker}
        <Empty title={words.day.nothingIsWrittenDownFor(longDay(of))}>
          <p>{words.day.beginWithWhatIsOrderedThe}</p>
          <button
            type="button"
            className="press press-first mt-3"
            onClick={() =>
              actions.put.mutate({
                day: { date: of, zone: ownZone(), orders: [], shifts: [], out: [], locks: [], spare_min: 5, notes: "" },
                version: 0,
              })
            }
          >
            {words.day.writeThisDayDown}
          </button>
        </Empty>
      </>
    );
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.day.theDay} />;
  return <Written of={of} view={ahead(data, of, waiting)} actions={actions} today={of === today} picker={picker} />;
}

function Written({
  of,
  view,
  actions,
  today,
  picker,
}: {
  of: string;
  view: DayView;
  actions: ReturnType<typeof useDay>;
  today: boolean;
  picker: ReactNode;
}) {
  const { day } = view.record;
  const [room, setRoom] = useState<RoomKey>(day.orders.length ? "plan" : "orders");
  const clockOf = useMemo(() => clockIn(day.zone), [day.zone]);
  const now = useNow();
  const plan = view.beside ?? view.plan;
  // A day that has drifted from its plan is planned anew, near the plan it has; the cook takes it or leaves it.
  const drift = view.drift && !view.beside && !looking(view) ? `${view.drift.step} ${view.drift.minutes}` : undefined;
  const [answered, setAnswered] = useState<string>();
  const { mutate: ask } = actions.plan;
  useEffect(() => {
    if (drift && drift !== answered) {
      setAnswered(drift);
      ask({ seconds: 3, near: true });
    }
  }, [drift, answered, ask]);
  return (
    <Rooms open={room} go={setRoom}>
      <div className="flex flex-wrap items-end gap-x-5 gap-y-1 border-b border-hairline">
        {picker}
        <RoomTabs label={words.day.roomsOfTheDay} rooms={ROOMS} />
        <span className="grow" />
        {view.plan && (
          <span className="flex flex-wrap gap-x-4 text-s">
            <a
              className="inline-flex min-h-11 items-center underline"
              href={`/api/files/days/${of}/run-sheet`}
              target="_blank"
              rel="noreferrer"
            >
              {words.day.runSheet}
            </a>
            <a className="inline-flex min-h-11 items-center underline" href={`/api/files/days/${of}/calendar.ics`}>
              {words.day.calendar}
            </a>
            <a className="inline-flex min-h-11 items-center underline" href={`/api/files/days/${of}/plan.csv`}>
              {words.day.table}
            </a>
          </span>
        )}
      </div>
      {view.damaged && (
        <p role="alert" className="mt-2 border-l-4 border-deep pl-3">
          {view.damaged}
        </p>
      )}
      {plan && (
        <Next plan={view.plan ?? plan} view={view} clockOf={clockOf} now={now} today={today} actions={actions} />
      )}
      <Search view={view} actions={actions} clockOf={clockOf} toOrders={() => setRoom("orders")} />
      <Room of="orders">
        <Orders
          key={view.record.version}
          record={view.record}
          trouble={view.trouble}
          actions={actions}
          planned={() => setRoom("plan")}
          stock={view.stock ?? []}
        />
      </Room>
      <Room of="list">
        {view.plan ? (
          <Lists of={of} clockOf={clockOf} />
        ) : (
          <Empty title={words.day.notPlannedYet}>{words.day.whatIsWeighedWhenFollowsFrom}</Empty>
        )}
      </Room>
      <Room of="plan">
        {plan ? (
          <Planned view={view} actions={actions} clockOf={clockOf} now={now} />
        ) : day.orders.length ? null : (
          <Empty title={words.day.nothingIsOrderedYet}>{words.day.writeDownWhatIsWantedBy}</Empty>
        )}
      </Room>
    </Rooms>
  );
}

function Planned({
  view,
  actions,
  clockOf,
  now,
}: {
  view: DayView;
  actions: ReturnType<typeof useDay>;
  clockOf: (at: string | number) => string;
  now: number;
}) {
  const plan = (view.beside ?? view.plan) as NonNullable<DayView["plan"]>;
  const steps = useMemo(() => inOrder(plan), [plan]);
  const next = steps.find((s) => s.state !== "done" && s.hands > 0) ?? steps[0];
  const [chosen, choose] = useState<string>();
  const [toggled, setToggled] = useState<Record<string, boolean>>({});
  const [hours, setHours] = useState(false);
  const [drag, setDrag] = useState<Drag>();
  const [room, width] = useWidth<HTMLDivElement>(900);
  const orders = [...new Set(plan.threads.map((t) => t.order))];
  // Open to begin with: the orders that hands come to next, as many as have room for their words.
  const coming = [
    ...new Set(steps.filter((s) => s.state !== "done" && s.hands > 0).map((s) => threadOf(plan, s.step)?.order)),
  ].filter((o): o is string => o !== undefined);
  const fits = coming.slice(0, roomFor(plan, width));
  const open = new Set(orders.filter((o) => toggled[o] ?? fits.includes(o)));
  const long = (Date.parse(plan.ends) - Date.parse(plan.starts)) / 60_000;
  const perMin = hours ? HOUR_PX : Math.max(0.9, Math.min(2.2, 620 / Math.max(60, Math.min(long, 640))));
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
        <div className="flex flex-wrap items-center gap-x-4 text-s">
          <button type="button" className="min-h-11 underline" aria-pressed={hours} onClick={() => setHours(!hours)}>
            {hours ? words.day.wholeDay : words.day.zoomIn}
          </button>
          <button
            type="button"
            className="min-h-11 underline"
            onClick={() => setToggled(Object.fromEntries(orders.map((o) => [o, open.size < orders.length])))}
          >
            {open.size < orders.length ? words.day.openEveryOrder : words.day.foldEveryOrder}
          </button>
          <Legend />
        </div>
        <Drawing
          plan={plan}
          ghost={view.beside ? view.plan : null}
          width={width}
          perMin={perMin}
          open={open}
          chosen={chosen}
          now={now}
          clockOf={clockOf}
          choose={(s) => choose(s)}
          toggle={(o) => setToggled({ ...toggled, [o]: !open.has(o) })}
          drag={drag}
          onDrag={(d) => setDrag(d)}
        />
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
                  meanwhile: () => void actions.again().then(() => actions.put.reset()),
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

const LEGEND: readonly (readonly [string, string])[] = [
  ["hands", "M2 3h10v14h-10z"],
  ["watched", "M2 3h10v14h-10z"],
  ["oven", "M3 3v14M11 3v14"],
  ["off or ajar", "M3 3v14M11 3v14"],
  ["cold", "M4 3v14M10 3v14"],
  ["may take longer", "M7 3v14"],
];

function Legend() {
  return (
    <span className="flex flex-wrap gap-x-4 text-quiet" aria-hidden="true">
      {LEGEND.map(([name, d], i) => (
        <span key={name} className="flex items-center gap-1">
          <svg viewBox="0 0 14 20" className="h-5 w-3.5">
            <path
              d={d}
              fill={i === 0 ? "currentColor" : "none"}
              stroke={i === 4 ? "var(--color-water)" : "currentColor"}
              strokeWidth={i === 5 ? 5 : 2}
              strokeDasharray={i === 3 ? "1 4" : i === 5 ? "1 3" : undefined}
            />
          </svg>
          {name}
        </span>
      ))}
    </span>
  );
}
