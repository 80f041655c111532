import { line } from "d3-shape";
import type { OvenAt, PlanView } from "../../api/client";
import { FOOD, ovenColour } from "../../food/colours";
import { useDegrees } from "../../kit/degrees";
import { Looks } from "../../kit/Looks";
import { fixed } from "../../kit/numbers";
import { words } from "../../words";
import { type Axis, type Column, SIDES } from "./layout";

const { hands: HANDS, oven: OVEN } = SIDES;

/** The heads of all columns: an order's says what is asked for and what room it has, and opens it into its steps. */
export function Heads({
  columns: cols,
  left,
  ovens,
  at,
  clockOf,
  asked,
  dish,
  toggle,
}: {
  columns: Column[];
  left: number;
  ovens: readonly OvenAt[];
  at: number;
  clockOf: (at: string) => string;
  asked: (order: string) => string;
  dish: (order: string) => string | undefined;
  toggle: (order: string) => void;
}) {
  const degrees = useDegrees();
  const last = cols.at(-1);
  return (
    <div className="flex items-end border-b border-hairline py-2">
      <p className="shrink-0 pl-3 text-s leading-tight" style={{ width: left }}>
        <b>{words.day.hands}</b>
        <span className="block text-quiet">{words.day.pairsOfHands}</span>
      </p>
      {cols.map(({ order, width, open }) => (
        <button
          key={order.key}
          type="button"
          aria-expanded={open}
          data-order={order.key}
          className="mr-2 flex min-h-11 shrink-0 flex-col items-start text-left text-s leading-tight"
          style={{ width }}
          onClick={() => toggle(order.key)}
        >
          <Looks of={dish(order.key)} wide={84} high={44} />
          <b className="underline decoration-hairline decoration-2 underline-offset-3">{order.name}</b>
          <span className="text-quiet">
            {asked(order.key)}
            {order.ready_by && ` ${words.day.forTime(clockOf(order.ready_by))}`}
          </span>
          {order.late_min > 0 ? (
            <span className="font-bold text-spot">{words.day.minLate(order.late_min)}</span>
          ) : (
            <span>{order.state === "done" ? words.day.done3 : words.day.minRoom(order.room_min)}</span>
          )}
        </button>
      ))}
      <span className="shrink-0" style={{ width: Math.max(0, at - left - (last ? last.x + last.width + 8 : 0)) }} />
      {ovens.map((oven) => (
        <p key={oven.key} className="shrink-0 pl-2 text-s leading-tight" style={{ width: OVEN }}>
          <b>{oven.name}</b>
          <span className="block text-quiet">{oven.temps.length ? degrees.sign : words.day.notUsed}</span>
        </p>
      ))}
    </div>
  );
}

/** How many pairs of hands are needed, and the spells in which none are. */
export function Hands({ plan, a, x }: { plan: PlanView; a: Axis; x: number }) {
  const most = Math.max(2, ...plan.hands.map((h) => h.pairs));
  const px = (pairs: number) => x + HANDS - (pairs / most) * HANDS;
  const corners = plan.hands.flatMap((h, i) => {
    const next = plan.hands[i + 1];
    return next ? [`L${px(h.pairs)} ${a.y(h.at)}`, `L${px(h.pairs)} ${a.y(next.at)}`] : [];
  });
  const first = plan.hands[0];
  return (
    <g>
      <title>{plan.free.length ? words.day.handsFreeTimes(plan.free.length) : words.day.noTimeWithAllHandsFree}</title>
      {Array.from({ length: Math.ceil(most) }, (_, i) => (
        <line
          key={`pair-${i + 1}`}
          x1={px(i + 1)}
          x2={px(i + 1)}
          y1="18"
          y2={a.height - 6}
          stroke="var(--color-hairline)"
        />
      ))}
      {first && (
        <path
          d={`M${x + HANDS} ${a.y(first.at)}${corners.join("")}L${x + HANDS} ${a.y(plan.hands.at(-1)?.at ?? first.at)}Z`}
          fill="var(--color-deep)"
          fillOpacity="0.82"
        />
      )}
      {Array.from({ length: Math.ceil(most) }, (_, i) => (
        <text
          key={`pair-${i + 1}`}
          x={px(i + 1)}
          y="14"
          textAnchor="middle"
          fontSize="14"
          fill="var(--color-quiet)"
          stroke="var(--color-surface)"
          strokeWidth="5"
          paintOrder="stroke"
        >
          {i + 1}
        </text>
      ))}
      <line x1={x + HANDS} x2={x + HANDS} y1="4" y2={a.height - 6} stroke="currentColor" />
      {plan.free.map((f) => {
        const [y0, y1] = [a.y(f.start), a.y(f.end)];
        const min = Math.round((Date.parse(f.end) - Date.parse(f.start)) / 60_000);
        const said = [
          min < 100 ? words.day.min2(min) : `${Math.floor(min / 60)} h ${String(min % 60).padStart(2, "0")}`,
          ...(y1 - y0 > 34 ? [words.day.free] : []),
        ];
        return (
          y1 - y0 > 15 &&
          said.map((line, i) => (
            <text
              key={`${f.start}-${line}`}
              x={x + HANDS - 4}
              y={(y0 + y1) / 2 + 5 + (i - (said.length - 1) / 2) * 16}
              textAnchor="end"
              fontSize="14"
              fill="var(--color-deep)"
              fontWeight="700"
            >
              {line}
              <title>{f.fits.join("; ")}</title>
            </text>
          ))
        );
      })}
    </g>
  );
}

/** A course of temperatures from a moment on. */
function courseFrom(temps: [string, number][], from: number): [string, number][] {
  const after = temps.findIndex(([at]) => Date.parse(at) >= from);
  const [b, c] = [temps[after - 1], temps[after]];
  if (after < 0) return [];
  if (!b || !c) return temps;
  const share = (from - Date.parse(b[0])) / Math.max(1, Date.parse(c[0]) - Date.parse(b[0]));
  return [[new Date(from).toISOString(), b[1] + share * (c[1] - b[1])], ...temps.slice(after)];
}

export function Oven({ oven, a, x }: { oven: OvenAt; a: Axis; x: number }) {
  const degrees = useDegrees();
  const px = (c: number) => x + (Math.min(c, 250) / 250) * (OVEN - 18);
  const temps = courseFrom(oven.temps as [string, number][], a.starts);
  if (temps.length < 2) return null;
  const edge = line<[string, number]>()
    .x(([, c]) => px(c))
    .y(([at]) => a.y(at));
  const [first, last] = [temps[0] as [string, number], temps.at(-1) as [string, number]];
  const tops = temps.filter(
    ([, c], i) =>
      c > 60 &&
      c >= (temps[i - 1]?.[1] ?? 0) &&
      c >= (temps[i + 1]?.[1] ?? 0) &&
      Math.abs(c - (temps[i - 1]?.[1] ?? 0)) > 4,
  );
  return (
    <g>
      <title>{`${oven.name}: ${tops.map(([, c]) => degrees.show(c, { oven: true, digits: 0 })).join(", ")}`}</title>
      <path
        d={`M${x} ${a.y(first[0])}L${(edge(temps) ?? "").slice(1)}L${x} ${a.y(last[0])}Z`}
        fill={ovenColour(Math.max(...tops.map(([, c]) => c), 0))}
        fillOpacity="0.8"
      />
      <path d={edge(temps) ?? ""} fill="none" stroke="var(--food-gold)" strokeWidth="2.5" />
      {tops.map(([at, c], i) =>
        i > 0 &&
        (a.y(at) - a.y((tops[i - 1] as [string, number])[0]) < 18 ||
          Math.abs(c - (tops[i - 1] as [string, number])[1]) < 3) ? null : (
          <text
            key={at}
            x={x + 3}
            y={a.y(at) + 16}
            fontSize="14"
            fill="currentColor"
            stroke="var(--color-surface)"
            strokeWidth="4"
            paintOrder="stroke"
          >
            {degrees.figure(c, { oven: true, digits: 0 })}°
          </text>
        ),
      )}
    </g>
  );
}

/** Egg that one thread frees and another takes. */
export function Eggs({ plan, columns: cols, a }: { plan: PlanView; columns: Column[]; a: Axis }) {
  const at = new Map(
    cols.flatMap((c) =>
      c.lanes.flatMap((l) =>
        l.thread.steps
          .filter((s) => Date.parse(s.end) > a.starts)
          .map((s) => [s.step, { x: l.x, y: a.y(s.start) }] as const),
      ),
    ),
  );
  return plan.eggs.draws.map((d) => {
    const from = d.from_step ? at.get(d.from_step) : undefined;
    const to = at.get(d.step);
    if (!from || !to || from.x === to.x) return null;
    const mid = (from.y + to.y) / 2;
    return (
      <path
        key={`${d.from_step}-${d.step}-${d.side}`}
        d={`M${from.x} ${from.y + 4}C${from.x} ${mid} ${to.x} ${mid} ${to.x} ${to.y}`}
        fill="none"
        stroke={FOOD.yolk}
        strokeWidth="2.5"
        strokeDasharray="1 6"
        strokeLinecap="round"
      >
        <title>{words.day.gFreedFor(fixed(d.grams), d.side, d.thread)}</title>
      </path>
    );
  });
}
