import { line } from "d3-shape";
import type { OvenAt, PlanView } from "../../api/client";
import { useDegrees } from "../../kit/degrees";
import { words } from "../../words";
import { type Axis, type Column, SIDES } from "./layout";

const { hands: HANDS, oven: OVEN } = SIDES;

export function Heads({
  columns: cols,
  left,
  ovens,
  at,
  clockOf,
  toggle,
}: {
  columns: Column[];
  left: number;
  ovens: readonly OvenAt[];
  at: number;
  clockOf: (at: string) => string;
  toggle: (order: string) => void;
}) {
  const degrees = useDegrees();
  return (
    <div className="relative h-18 border-b border-hairline">
      <p className="absolute left-3 top-2 text-s font-bold">
        {words.day.hands}
        <span className="block font-normal text-quiet">{words.day.pairsOfHands}</span>
      </p>
      {cols.map((c) => (
        <button
          key={c.order}
          type="button"
          aria-expanded={c.open}
          title={c.name}
          className="absolute top-1 flex h-16 flex-col items-start justify-start overflow-hidden text-left"
          style={{ left: left + c.x, width: Math.max(44, c.width) }}
          onClick={() => toggle(c.order)}
        >
          <span
            className={`text-s leading-tight ${c.open ? "line-clamp-2 font-bold" : "line-clamp-2"} ${c.over ? "text-quiet line-through" : ""}`}
          >
            {c.name}
          </span>
          <span className="line-clamp-1 text-s text-quiet">
            {c.over ? "done" : c.ready ? clockOf(c.ready) : ""}
            {c.open && c.says ? ` · ${c.says}` : ""}
          </span>
        </button>
      ))}
      {ovens.map((oven, i) => (
        <p
          key={oven.key}
          className="absolute top-2 line-clamp-2 text-s font-bold leading-tight"
          style={{ left: at + i * OVEN + 8, width: OVEN - 10 }}
        >
          {oven.name}
          <span className="block font-normal text-quiet">
            {oven.temps.length ? `to ${degrees.show(250, { oven: true })}` : words.day.notUsed}
          </span>
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
        <g key={`pair-${i + 1}`}>
          <line x1={px(i + 1)} x2={px(i + 1)} y1="18" y2={a.height - 6} stroke="var(--color-hairline)" />
          <text x={px(i + 1)} y="14" textAnchor="middle" fontSize="14" fill="var(--color-quiet)">
            {i + 1}
          </text>
        </g>
      ))}
      {first && (
        <path
          d={`M${x + HANDS} ${a.y(first.at)}${corners.join("")}L${x + HANDS} ${a.y(plan.hands.at(-1)?.at ?? first.at)}Z`}
          fill="var(--color-deep)"
          fillOpacity="0.82"
        />
      )}
      <line x1={x + HANDS} x2={x + HANDS} y1="4" y2={a.height - 6} stroke="currentColor" />
      {plan.free.map((f) => {
        const [y0, y1] = [a.y(f.start), a.y(f.end)];
        const min = Math.round((Date.parse(f.end) - Date.parse(f.start)) / 60_000);
        return (
          y1 - y0 > 13 && (
            <text
              key={f.start}
              x={x + HANDS - 6}
              y={(y0 + y1) / 2 + 5}
              textAnchor="end"
              fontSize="14"
              fill="var(--color-deep)"
              fontWeight="700"
              stroke="var(--color-surface)"
              strokeWidth="3"
              paintOrder="stroke"
            >
              {min < 100 ? words.day.min2(min) : `${Math.floor(min / 60)} h ${String(min % 60).padStart(2, "0")}`}{" "}
              {words.day.free}
              <title>{f.fits.join("; ")}</title>
            </text>
          )
        );
      })}
    </g>
  );
}

export function Oven({ oven, a, x }: { oven: OvenAt; a: Axis; x: number }) {
  const degrees = useDegrees();
  const px = (c: number) => x + (Math.min(c, 250) / 250) * (OVEN - 18);
  const temps = oven.temps as [string, number][];
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
        fill="var(--color-hairline)"
        fillOpacity="0.75"
      />
      <path d={edge(temps) ?? ""} fill="none" stroke="currentColor" strokeWidth="2" />
      {tops.map(([at, c], i) =>
        i > 0 &&
        (a.y(at) - a.y((tops[i - 1] as [string, number])[0]) < 18 ||
          Math.abs(c - (tops[i - 1] as [string, number])[1]) < 3) ? null : (
          <text key={at} x={x + 3} y={a.y(at) + 16} fontSize="14" fill="currentColor">
            {Math.round(c)}°
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
      c.lanes.flatMap((l) => l.thread.steps.map((s) => [s.step, { x: l.x, y: a.y(s.start), open: c.open }] as const)),
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
        stroke="var(--color-quiet)"
        strokeOpacity="0.7"
        strokeWidth="1.4"
        strokeDasharray="1 6"
        strokeLinecap="round"
      >
        <title>{words.day.gFreedFor(d.grams.toFixed(0), d.side, d.thread)}</title>
      </path>
    );
  });
}
