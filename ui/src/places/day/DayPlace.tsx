import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { DayView, PlanView } from "../../api/client";
import { clockHeard } from "../../api/clock";
import { listen, outbox } from "../../api/outbox";
import { dayQuery, daysQuery } from "../../api/queries";
import { CalendarUnder } from "../../kit/DateField";
import { isoDay, longDay, shortDay, timeOf } from "../../kit/dates";
import { Room, Rooms, RoomTabs } from "../../kit/Rooms";
import { Empty, Trouble, Waiting } from "../../kit/States";
import { useNow } from "../../kit/useNow";
import { words } from "../../words";
import { Lists } from "./Lists";
import { Now } from "./Now";
import { Orders } from "./Orders";
import { Planned, type Seen, Zoom } from "./Planned";
import { looking, Search } from "./Search";
import { ahead, clockIn, ownZone, useDay } from "./useDay";

const ROOMS = [
  ["plan", words.day.plan],
  ["orders", words.day.ordersAndHands],
  ["list", words.day.weighAndBuy],
] as const;
type RoomKey = (typeof ROOMS)[number][0];

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
  const head = (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
      <h1 className="text-l">
        {longDay(of)}
        {of === today && <Clock of={of} now={now} />}
      </h1>
      <CalendarUnder
        value={of}
        marked={days.map((d) => d.date)}
        put={(date) => go(`/day/${date}`)}
        trigger={
          <button type="button" className="press min-h-11">
            {words.day.otherDays}
          </button>
        }
      >
        <ul className="mt-2 border-t border-hairline pt-2">
          {days.slice(0, 8).map((d) => (
            <li key={d.date}>
              <Link
                to={`/day/${d.date}`}
                className={`flex min-h-11 items-center ${d.date === of ? "font-bold" : "underline"}`}
              >
                {d.date === today ? `${words.day.todayWord}, ` : ""}
                {shortDay(d.date)}, {words.day.orders(d.orders.length)}
              </Link>
            </li>
          ))}
        </ul>
      </CalendarUnder>
    </div>
  );
  return (
    <div className="flex min-w-0 grow flex-col px-4 py-3 md:px-6">
      <OneDay key={of} of={of} known={days.some((d) => d.date === of)} today={today} head={head} />
    </div>
  );
}

/** What the clock shows where the day is. */
function Clock({ of, now }: { of: string; now: number }) {
  const { data } = useQuery({ ...dayQuery(of), enabled: false });
  return data ? `, ${timeOf(now, data.record.day.zone)}` : "";
}

function OneDay({ of, known, today, head }: { of: string; known: boolean; today: string; head: ReactNode }) {
  const { data, error, refetch } = useQuery({ ...dayQuery(of), enabled: known });
  const actions = useDay(of);
  const { waiting, sent } = useSyncExternalStore((tell) => listen(() => tell()), outbox);
  if (!known)
    return (
      <>
        {head}
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
  return (
    <Written of={of} view={ahead(data, of, [...sent, ...waiting])} actions={actions} today={of === today} head={head} />
  );
}

function Written({
  of,
  view,
  actions,
  today,
  head,
}: {
  of: string;
  view: DayView;
  actions: ReturnType<typeof useDay>;
  today: boolean;
  head: ReactNode;
}) {
  const { day } = view.record;
  const [seen, see] = useState<Seen>({ near: false, whole: false, toggled: {} });
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
      <div className="flex flex-wrap items-start justify-between gap-x-6 gap-y-1">
        {head}
        {plan && <Standing plan={plan} clockOf={clockOf} now={now} />}
      </div>
      <div className="flex flex-wrap items-end justify-between gap-x-5 border-b border-hairline">
        <RoomTabs label={words.day.roomsOfTheDay} rooms={ROOMS} />
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
      {plan && room === "plan" && (
        <Now plan={view.plan ?? plan} view={view} clockOf={clockOf} now={now} today={today} actions={actions} />
      )}
      <Search view={view} actions={actions} clockOf={clockOf} toOrders={() => setRoom("orders")}>
        {room === "plan" && plan && <Zoom plan={plan} seen={seen} see={see} now={now} today={today} />}
      </Search>
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
          <Lists of={of} view={view} clockOf={clockOf} now={now} actions={actions} />
        ) : (
          <Empty title={words.day.notPlannedYet}>{words.day.whatIsWeighedWhenFollowsFrom}</Empty>
        )}
      </Room>
      <Room of="plan">
        {plan ? (
          <Planned view={view} actions={actions} clockOf={clockOf} now={now} today={today} seen={seen} see={see} />
        ) : day.orders.length ? null : (
          <Empty title={words.day.nothingIsOrderedYet}>{words.day.writeDownWhatIsWantedBy}</Empty>
        )}
      </Room>
    </Rooms>
  );
}

/** How the day stands: how many orders, the next, whether all are in time, and where there is the least room. */
function Standing({ plan, clockOf, now }: { plan: PlanView; clockOf: (at: string | number) => string; now: number }) {
  const open = plan.orders.filter((o) => o.state !== "done");
  const next = open
    .filter((o) => o.ready_by && Date.parse(o.ready_by) > now)
    .sort((a, b) => (a.ready_by ?? "").localeCompare(b.ready_by ?? ""))[0];
  const late = open.filter((o) => o.late_min > 0);
  const least = [...open].sort((a, b) => a.room_min - b.room_min)[0];
  if (open.length === 0) return null;
  return (
    <p className="max-w-160 text-s md:pt-2 md:text-right">
      <b>
        {words.day.orders(open.length)}
        {next?.ready_by && `, ${words.day.nextAt(clockOf(next.ready_by))}`}.
      </b>{" "}
      {late.length > 0 ? (
        <b className="text-spot">{late.map((o) => words.day.byMin(o.name, o.late_min)).join("; ")}.</b>
      ) : (
        <>
          {words.day.allInTime}
          {least && ` ${words.day.leastRoom(least.room_min, least.name)}`}
        </>
      )}
    </p>
  );
}
