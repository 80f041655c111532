import { type PointerEvent, useMemo } from "react";
import type { PlanView, StepAt } from "../../api/client";
import { words } from "../../words";
import { type Axis, axis, type Column, captions, columns, SIDES } from "./layout";
import { Eggs, Hands, Heads, Oven } from "./Sides";

const { times: TIMES, hands: HANDS, oven: OVEN } = SIDES;
const THICK = 11;
export type Drag = { step: string; start: number };

/** The day down the page: hands to the left, threads in the middle, ovens to the right, now across everything. */
export function Drawing(props: {
  plan: PlanView;
  ghost?: PlanView | null;
  width: number;
  perMin: number;
  open: ReadonlySet<string>;
  chosen?: string;
  now: number;
  clockOf: (at: string | number) => string;
  choose: (step: string) => void;
  toggle: (order: string) => void;
  drag?: Drag;
  onDrag: (drag: Drag | undefined, done: boolean) => void;
}) {
  const { plan, width, perMin, open, now, clockOf } = props;
  const a = useMemo(() => axis(plan, perMin), [plan, perMin]);
  const ovensAt = width - plan.ovens.length * OVEN;
  const left = TIMES + HANDS + 18;
  const middle = useMemo(() => columns(plan, ovensAt - left - 14, open), [plan, ovensAt, left, open]);
  const wide = Math.max(width, left + 14 + middle.reduce((w, c) => w + c.width + 6, 0) + plan.ovens.length * OVEN);
  const shift = wide - plan.ovens.length * OVEN;
  const nowIn = now >= a.starts && now <= a.ends;
  return (
    <div className="min-w-0 overflow-x-auto border border-hairline bg-surface">
      <div style={{ width: wide }}>
        <Heads columns={middle} left={left} ovens={plan.ovens} at={shift} clockOf={clockOf} toggle={props.toggle} />
        <svg
          width={wide}
          height={a.height}
          className="block select-none"
          role="img"
          aria-label={words.day.theDayFromTo(clockOf(a.starts), clockOf(a.ends))}
        >
          {a.ticks.map((t) => (
            <g key={t}>
              {!(nowIn && Math.abs(a.y(t) - a.y(now) + 5) < 18) && (
                <text x={TIMES - 8} y={a.y(t) + 5} textAnchor="end" fontSize="15" fill="var(--color-quiet)">
                  {clockOf(t)}
                </text>
              )}
              <line x1={TIMES} x2={TIMES + 5} y1={a.y(t)} y2={a.y(t)} stroke="var(--color-quiet)" />
            </g>
          ))}
          {a.cuts.map((cut) => (
            <g key={cut.y}>
              <path
                d={`M0 ${cut.y - 5}h${wide}M0 ${cut.y + 5}h${wide}`}
                stroke="var(--color-hairline)"
                strokeDasharray="2 6"
                fill="none"
              />
              <text
                x={left + 4}
                y={cut.y + 5}
                fontSize="14"
                fill="var(--color-quiet)"
                stroke="var(--color-surface)"
                strokeWidth="4"
                paintOrder="stroke"
              >
                {cut.hours} {words.day.hInWhichNothingIsTouched}
              </text>
            </g>
          ))}
          <Hands plan={plan} a={a} x={TIMES + 12} />
          <g transform={`translate(${left} 0)`}>
            <Eggs plan={plan} columns={middle} a={a} />
            {middle.map((column) => (
              <Order key={column.order} column={column} a={a} props={props} />
            ))}
          </g>
          {plan.ovens.map((oven, i) => (
            <Oven key={oven.key} oven={oven} a={a} x={shift + i * OVEN + 8} />
          ))}
          {nowIn && (
            <g pointerEvents="none">
              <line x1={TIMES - 4} x2={wide} y1={a.y(now)} y2={a.y(now)} stroke="var(--color-ink)" strokeWidth="2" />
              <text x="2" y={a.y(now) - 5} fontSize="15" fontWeight="700" fill="currentColor">
                {clockOf(now)}
              </text>
            </g>
          )}
        </svg>
      </div>
    </div>
  );
}

type DrawingProps = Parameters<typeof Drawing>[0];

function Order({ column, a, props }: { column: Column; a: Axis; props: DrawingProps }) {
  const { plan, ghost, chosen } = props;
  const lanes = new Map(column.lanes.flatMap((l) => l.thread.steps.map((s) => [s.step, l] as const)));
  const was = new Map(
    (ghost?.threads ?? [])
      .filter((t) => t.order === column.order)
      .flatMap((t) => t.steps.map((s) => [s.step, s] as const)),
  );
  const said = column.open ? captions(column, a) : [];
  const room = Math.max(8, Math.floor((column.x + column.width - column.gutter - 2) / 6.9));
  return (
    <g>
      <rect x={column.x} y="0" width={column.width} height={a.height} fill="transparent" />
      {column.ready && (
        <path
          d={`M${column.x + 2} ${a.y(column.ready)}h${Math.min(column.width, 40)}`}
          stroke="currentColor"
          strokeWidth="2"
        />
      )}
      {column.lanes.map((lane) => {
        const steps = lane.thread.steps;
        const first = steps[0];
        const last = steps.at(-1);
        if (!first || !last) return null;
        const joins = lane.thread.joins ? lanes.get(lane.thread.joins) : undefined;
        const into = joins?.thread.steps.find((s) => s.step === lane.thread.joins);
        const end = a.y(last.end);
        return (
          <g key={lane.thread.key}>
            <line x1={lane.x} x2={lane.x} y1={a.y(first.start)} y2={end} stroke="currentColor" strokeWidth="1" />
            {joins && into && (
              <path
                d={`M${lane.x} ${end}C${lane.x} ${a.y(into.start)} ${lane.x} ${a.y(into.start)} ${joins.x + THICK / 2} ${a.y(into.start) + 2}`}
                fill="none"
                stroke="currentColor"
                strokeWidth="1"
              />
            )}
            {steps.map((s) => {
              const before = was.get(s.step);
              return before && before.start !== s.start && s.hands > 0 ? (
                <rect
                  key={`was-${s.step}`}
                  x={lane.x - THICK / 2 - 2}
                  y={a.y(before.start)}
                  width={THICK + 4}
                  height={Math.max(2, a.y(before.end) - a.y(before.start))}
                  fill="none"
                  stroke="var(--color-quiet)"
                  strokeDasharray="3 3"
                />
              ) : null;
            })}
            {steps.map((s) => (
              <StepMark key={s.step} step={s} x={lane.x} a={a} props={props} />
            ))}
          </g>
        );
      })}
      {plan.windows
        .filter((w) => lanes.has(w.later))
        .map((w) => {
          const lane = lanes.get(w.later);
          const [y0, y1] = [a.y(w.opens), a.y(w.closes)];
          if (!lane || y1 - y0 > 120) return null;
          return (
            <path
              key={`${w.earlier}-${w.later}`}
              d={`M${lane.x - 4} ${y0}h-6v${y1 - y0}h6`}
              fill="none"
              stroke="var(--color-deep)"
              strokeWidth="2"
            >
              <title>{w.says}</title>
            </path>
          );
        })}
      {said.map((w) => (
        <g key={w.step.step} pointerEvents="none" opacity={w.step.state === "done" ? 0.55 : 1}>
          <path d={`M${w.x + 8} ${w.y + 1}L${column.gutter} ${w.at - 4}`} stroke="var(--color-hairline)" fill="none" />
          <text
            x={column.gutter + 4}
            y={w.at}
            fontSize="14"
            stroke="var(--color-surface)"
            strokeWidth="3"
            paintOrder="stroke"
            fontWeight={chosen === w.step.step ? 700 : 400}
            fill="currentColor"
          >
            {w.text.length > room ? `${w.text.slice(0, room - 1)}…` : w.text}
          </text>
        </g>
      ))}
    </g>
  );
}

/** One step of a thread: thick where hands are on it, hollow where a machine works under an eye, double in the oven, in water's colour in the cold. */
function StepMark({ step, x, a, props }: { step: StepAt; x: number; a: Axis; props: DrawingProps }) {
  const dragged = props.drag?.step === step.step ? a.y(props.drag.start) - a.y(step.start) : 0;
  const y = a.y(step.start) + dragged;
  const h = Math.max(2, a.y(step.end) - a.y(step.start));
  const hands = step.hands >= 0.75;
  const eye = !hands && step.hands > 0;
  const wanted =
    step.state !== "done" &&
    step.hands > 0 &&
    Date.parse(step.start) <= props.now &&
    props.now < Date.parse(step.end) + 60_000;
  const ink = wanted ? "var(--color-bill)" : "currentColor";
  const chosen = props.chosen === step.step;
  const half = THICK / 2;
  const onMove = (e: PointerEvent<SVGGElement>) => {
    if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
    const from = Number(e.currentTarget.dataset.from);
    if (Math.abs(e.clientY - from) < 4 && !props.drag) return;
    const minutes = Math.round((a.at(a.y(step.start) + e.clientY - from) - Date.parse(step.start)) / 60_000);
    props.onDrag({ step: step.step, start: Date.parse(step.start) + minutes * 60_000 }, false);
  };
  return (
    <g
      data-step={step.step}
      opacity={step.state === "done" ? 0.4 : 1}
      className="cursor-pointer touch-none"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        e.currentTarget.dataset.from = String(e.clientY);
        props.choose(step.step);
      }}
      onPointerMove={onMove}
      onPointerUp={(e) => {
        e.currentTarget.releasePointerCapture(e.pointerId);
        if (props.drag) props.onDrag(props.drag, true);
      }}
    >
      <title>{`${step.title}, ${props.clockOf(step.start)} to ${props.clockOf(step.end)}${step.who.length ? `, ${step.who.join(" and ")}` : ""}`}</title>
      <rect x={x - 9} y={y} width={18} height={Math.max(h, 6)} fill="transparent" />
      {step.oven ? (
        <path
          d={`M${x - 4} ${y}v${h}M${x + 4} ${y}v${h}`}
          stroke={ink}
          strokeWidth={wanted ? 4 : 2}
          strokeDasharray={step.ajar || step.set_c === null ? "1 4" : undefined}
          strokeLinecap={step.ajar ? "round" : undefined}
        />
      ) : hands ? (
        <rect
          x={x - half}
          y={y}
          width={THICK}
          height={h}
          fill={ink}
          stroke="var(--color-surface)"
          strokeWidth={h > 6 ? 1 : 0}
        />
      ) : eye ? (
        <rect
          x={x - half + 1}
          y={y}
          width={THICK - 2}
          height={h}
          fill={wanted ? ink : "var(--color-surface)"}
          stroke="currentColor"
          strokeWidth="1.5"
        />
      ) : step.cold ? (
        <path d={`M${x - 3} ${y}v${h}M${x + 3} ${y}v${h}`} stroke="var(--color-water)" strokeWidth="2.5" />
      ) : (
        <line x1={x} x2={x} y1={y} y2={y + h} stroke="currentColor" strokeWidth="1" />
      )}
      {step.kind !== "wait" && Date.parse(step.high_end) - Date.parse(step.end) >= 4 * 60_000 && (
        <path
          d={`M${x} ${y + h}V${a.y(step.high_end) + dragged}`}
          stroke={step.cold ? "var(--color-water)" : "currentColor"}
          strokeWidth="5"
          strokeDasharray="1 3"
          opacity="0.55"
        />
      )}
      {step.locked && <path d={`M${x - 10} ${y}h20`} stroke="var(--color-deep)" strokeWidth="3" />}
      {chosen && (
        <rect x={x - 10} y={y - 2} width="20" height={h + 4} fill="none" stroke="var(--color-deep)" strokeWidth="2.5" />
      )}
    </g>
  );
}
