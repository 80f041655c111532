import { type PointerEvent, useMemo } from "react";
import type { PlanView, Spell, StepAt } from "../../api/client";
import { ovenColour } from "../../food/colours";
import { useFonts } from "../../kit/wrapped";
import { words } from "../../words";
import { type Axis, type Column, type Label, LINE, placed, SIDES } from "./layout";
import { Eggs, Hands, Heads, Oven } from "./Sides";

const { times: TIMES, hands: HANDS, oven: OVEN } = SIDES;
const THICK = 11;
const LEFT = TIMES + HANDS + 20;
export type Drag = { step: string; start: number };

/** The day down the page: hands to the left, orders in the middle, ovens to the right, now across everything. */
export function Drawing(props: {
  plan: PlanView;
  ghost?: PlanView | null;
  width: number;
  perMin: number;
  open: ReadonlySet<string>;
  chosen?: string;
  now: number;
  /** What is before it is not drawn */
  from: number;
  /** What of an order is asked for, in words */
  asked: (order: string) => string;
  /** What of the book an order is of */
  dish: (order: string) => string | undefined;
  clockOf: (at: string | number) => string;
  choose: (step: string) => void;
  toggle: (order: string) => void;
  drag?: Drag;
  onDrag: (drag: Drag | undefined, done: boolean) => void;
}) {
  const { plan, width, perMin, open, now, from, clockOf } = props;
  const fonts = useFonts();
  const sides = LEFT + 8 + plan.ovens.length * OVEN;
  // biome-ignore lint/correctness/useExhaustiveDependencies: words are measured anew once their font is there
  const { a, middle, said, high } = useMemo(
    () => placed(plan, perMin, from, width - 2 - sides, open),
    [plan, perMin, from, width, sides, open, fonts],
  );
  const wide = Math.max(width - 2, sides + middle.reduce((w, c) => w + c.width + 8, 0));
  const ovensAt = wide - plan.ovens.length * OVEN;
  const nowIn = now >= a.starts && now <= a.ends;
  return (
    <div className="min-w-0 overflow-x-auto rounded-panel border border-hairline bg-surface" data-scroll>
      <div style={{ width: wide }}>
        <Heads
          columns={middle}
          left={LEFT}
          ovens={plan.ovens}
          at={ovensAt}
          clockOf={clockOf}
          asked={props.asked}
          dish={props.dish}
          toggle={props.toggle}
        />
        <div className="relative">
          <svg width={wide} height={high} className="block select-none" aria-hidden="true">
            {a.ticks.map((t) => (
              <g key={t}>
                {!(nowIn && Math.abs(a.y(t) - a.y(now)) < 18) && (
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
                <text x="6" y={cut.y + 5} fontSize="14" fill="var(--color-quiet)">
                  {words.day.hoursUntouched(cut.hours)}
                </text>
              </g>
            ))}
            <Hands plan={plan} a={a} x={TIMES + 12} />
            <g transform={`translate(${LEFT} 0)`}>
              <Eggs plan={plan} columns={middle} a={a} />
              {middle.map((column, i) => (
                <Order key={column.order.key} column={column} a={a} props={props} said={said[i] ?? []} />
              ))}
            </g>
            {plan.ovens.map((oven, i) => (
              <Oven key={oven.key} oven={oven} a={a} x={ovensAt + i * OVEN + 8} />
            ))}
            {nowIn && (
              <g pointerEvents="none">
                <line x1={TIMES - 4} x2={wide} y1={a.y(now)} y2={a.y(now)} stroke="var(--color-ink)" strokeWidth="2" />
                <text
                  x={TIMES - 8}
                  y={a.y(now) + 5}
                  textAnchor="end"
                  fontSize="15"
                  fontWeight="700"
                  fill="currentColor"
                >
                  {clockOf(now)}
                </text>
              </g>
            )}
          </svg>
          <Words said={said} columns={middle} props={props} />
        </div>
      </div>
    </div>
  );
}

type DrawingProps = Parameters<typeof Drawing>[0];

/** What stands beside the bars, in the order of the day: the list that is walked where the drawing cannot be seen. */
function Words({ said, columns: middle, props }: { said: Label[][]; columns: Column[]; props: DrawingProps }) {
  const { clockOf, chosen, choose } = props;
  const all = said
    .flatMap((list, i) => list.map((label) => ({ label, column: middle[i] as Column })))
    .sort((p, q) => Date.parse(p.label.spell.start) - Date.parse(q.label.spell.start) || p.label.at - q.label.at);
  const first = all.find(({ label }) => label.spell.state !== "done")?.label.key;
  const held = all.some(({ label }) => holds(label, chosen)) ? chosen : undefined;
  return (
    <ol aria-label={words.day.everySpell}>
      {all.map(({ label, column }) => {
        const { spell } = label;
        const on = holds(label, held);
        const busy = spell.kind === "hands";
        return (
          <li
            key={label.key}
            className="absolute"
            style={{
              left: LEFT + column.words,
              top: label.at - 2,
              width: column.room,
              fontSize: 14,
              lineHeight: `${LINE}px`,
            }}
          >
            <button
              type="button"
              data-spell={label.key}
              tabIndex={on || (held === undefined && label.key === first) ? 0 : -1}
              aria-pressed={on}
              className={`block w-full text-left ${spell.state === "done" ? "text-quiet" : ""} ${on ? "underline" : ""}`}
              onClick={() => choose(nextOf(label, props))}
            >
              <span className="sr-only">
                {words.day.spellIs(clockOf(spell.start), clockOf(spell.end), column.order.name, spell.state)}{" "}
              </span>
              <Lines of={label.of} look="text-quiet" />
              <Lines of={label.title} look={busy ? "font-bold" : ""} />
              <Lines of={label.waits} look="" />
              <Lines of={label.room} look="italic text-quiet" />
              <span className="sr-only">
                {spell.oven ? `, ${spell.oven}` : ""}
                {spell.who.length ? `, ${spell.who.join(", ")}` : ""}
              </span>
            </button>
          </li>
        );
      })}
    </ol>
  );
}

const holds = (label: Label, chosen: string | undefined) =>
  chosen !== undefined &&
  (label.step === chosen || (label.key === label.spell.steps[0] && label.spell.steps.includes(chosen)));

/** Where a spell is pressed: the first of its steps that is not done. */
function nextOf(label: Label, { plan, open }: DrawingProps): string {
  if (open.has(label.spell.order)) return label.step;
  const steps = plan.threads.find((t) => t.key === label.spell.thread)?.steps ?? [];
  return label.spell.steps.find((key) => steps.find((s) => s.step === key)?.state !== "done") ?? label.step;
}

const Lines = ({ of, look }: { of: string[]; look: string }) =>
  of.map((line, i) => (
    <span key={i} className={`block bg-surface whitespace-nowrap ${look}`}>
      {`${line} `}
    </span>
  ));

function Order({ column, a, props, said }: { column: Column; a: Axis; props: DrawingProps; said: Label[] }) {
  const { plan, ghost, chosen } = props;
  const lanes = new Map(column.lanes.map((l) => [l.thread.key, l] as const));
  const was = new Map((ghost?.spells ?? []).map((s) => [s.steps[0], s] as const));
  const ready = column.order.ready_by;
  const height = (from: string, to: string) => Math.max(2, a.y(to) - a.y(from));
  return (
    <g>
      {ready && Date.parse(ready) >= a.starts && (
        <path
          d={`M${column.x} ${a.y(ready)}h${column.width}`}
          stroke="currentColor"
          strokeWidth="1.5"
          strokeDasharray="1 3"
        />
      )}
      {column.lanes.map(({ thread, x }) => {
        const own = column.spells.filter((s) => s.thread === thread.key);
        const [first, last] = [own[0], own.at(-1)];
        const into = plan.threads.find((t) => t.steps.some((s) => s.step === thread.joins));
        const joins = into && lanes.get(into.key);
        const at = into?.steps.find((s) => s.step === thread.joins);
        return (
          first &&
          last && (
            <g key={thread.key} stroke="var(--metal-line)" fill="none">
              <path d={`M${x} ${a.y(first.start)}V${a.y(last.end)}`} />
              {joins && at && (
                <path
                  d={`M${x} ${a.y(last.end)}C${x} ${a.y(at.start)} ${x} ${a.y(at.start)} ${joins.x} ${a.y(at.start) + 2}`}
                />
              )}
            </g>
          )
        );
      })}
      {column.spells.map((spell) => {
        const before = was.get(spell.steps[0]);
        const lane = lanes.get(spell.thread);
        return before && lane && before.start !== spell.start && spell.kind === "hands" ? (
          <rect
            key={`was-${spell.steps[0]}`}
            x={lane.x - THICK / 2 - 2}
            y={a.y(before.start)}
            width={THICK + 4}
            height={height(before.start, before.end)}
            fill="none"
            stroke="var(--color-quiet)"
            strokeDasharray="3 3"
          />
        ) : null;
      })}
      {column.spells.map((spell) => {
        const lane = lanes.get(spell.thread);
        const steps = lane?.thread.steps.filter((s) => spell.steps.includes(s.step)) ?? [];
        if (!lane) return null;
        return column.open ? (
          steps.map((s) => <StepMark key={s.step} step={s} spell={spell} x={lane.x} a={a} props={props} />)
        ) : (
          <SpellMark key={spell.steps[0]} spell={spell} steps={steps} x={lane.x} a={a} props={props} />
        );
      })}
      {plan.windows.map((w) => {
        const lane = column.lanes.find((l) => l.thread.steps.some((s) => s.step === w.later));
        const [y0, y1] = [a.y(w.opens), a.y(w.closes)];
        return lane && y1 - y0 <= 120 && y1 - y0 > 1 ? (
          <path
            key={`${w.earlier}-${w.later}`}
            d={`M${lane.x - 4} ${y0}h-5v${y1 - y0}h5`}
            fill="none"
            stroke="var(--color-deep)"
            strokeWidth="2"
          >
            <title>{w.says}</title>
          </path>
        ) : null;
      })}
      {said.map((l) => (
        <path
          key={l.key}
          d={`M${l.x + THICK / 2 + 1} ${l.y + 3}L${column.words - 3} ${l.at + 7}`}
          stroke={chosen && holds(l, chosen) ? "var(--color-deep)" : "var(--color-hairline)"}
          fill="none"
        />
      ))}
    </g>
  );
}

const wantedNow = (of: { state: string; start: string; end: string }, now: number) =>
  of.state !== "done" && Date.parse(of.start) <= now && now < Date.parse(of.end) + 60_000;

/** How a stretch looks: hands in ink, what needs them now in the signal colour, the oven by its heat, the cold in its own. */
function looks(kind: Spell["kind"], step: StepAt, wanted: boolean) {
  if (kind === "hands")
    return {
      fill: wanted ? "var(--color-bill)" : "var(--color-deep)",
      stroke: "var(--color-surface)",
      half: THICK / 2,
    };
  if (kind === "oven")
    return {
      fill: step.set_c === null ? "var(--color-surface)" : ovenColour(step.set_c ?? 0),
      stroke: "var(--food-edge)",
      half: THICK / 2,
      dash: step.ajar || step.set_c === null ? "3 3" : undefined,
    };
  if (kind === "cold") return { fill: "var(--food-cold)", stroke: "var(--color-water)", half: THICK / 2 };
  return { fill: "var(--color-hairline)", stroke: "none", half: 2 };
}

/** A spell in one piece; in the oven each of its heats. */
function SpellMark({
  spell,
  steps,
  x,
  a,
  props,
}: {
  spell: Spell;
  steps: StepAt[];
  x: number;
  a: Axis;
  props: DrawingProps;
}) {
  const wanted = spell.kind === "hands" && wantedNow(spell, props.now);
  const first = steps[0];
  const on = steps.some((s) => s.step === props.chosen);
  const heats = steps.filter((s) => s.kind === "oven");
  const parts: { key: string; start: string; end: string; step: StepAt }[] =
    spell.kind === "oven" && heats.length
      ? heats.map((step, i) => ({
          key: step.step,
          start: i === 0 ? spell.start : step.start,
          end: heats[i + 1]?.start ?? spell.end,
          step,
        }))
      : first
        ? [{ key: first.step, start: spell.start, end: spell.end, step: first }]
        : [];
  const high = Math.max(3, a.y(spell.end) - a.y(spell.start));
  return (
    <g
      className="cursor-pointer"
      data-bar={spell.steps[0]}
      opacity={spell.state === "done" ? 0.4 : 1}
      onPointerUp={() => props.choose(steps.find((s) => s.state !== "done")?.step ?? spell.steps[0] ?? "")}
    >
      <rect x={x - 9} y={a.y(spell.start)} width="18" height={Math.max(high, 8)} fill="transparent" />
      {parts.map(({ key, start, end, step }) => {
        const { half, dash, ...look } = looks(spell.kind, step, wanted);
        return (
          <rect
            key={key}
            x={x - half}
            y={a.y(start)}
            width={2 * half}
            height={Math.max(3, a.y(end) - a.y(start))}
            rx={spell.kind === "wait" ? 2 : 1.5}
            strokeDasharray={dash}
            {...look}
          />
        );
      })}
      {spell.kind !== "wait" && Date.parse(spell.high_end) - Date.parse(spell.end) >= 4 * 60_000 && (
        <Longer x={x} from={a.y(spell.end)} to={a.y(spell.high_end)} cold={spell.kind === "cold"} />
      )}
      {on && <Ring x={x} y={a.y(spell.start)} high={high} />}
    </g>
  );
}

/** One step of an order that is open: pressed and drawn to another time. */
function StepMark({
  step,
  spell,
  x,
  a,
  props,
}: {
  step: StepAt;
  spell: Spell;
  x: number;
  a: Axis;
  props: DrawingProps;
}) {
  const dragged = props.drag?.step === step.step ? a.y(props.drag.start) - a.y(step.start) : 0;
  const y = a.y(step.start) + dragged;
  const h = Math.max(2, a.y(step.end) - a.y(step.start));
  if (Date.parse(step.end) < a.starts) return null;
  const kind = step.oven ? "oven" : step.hands > 0 ? "hands" : step.cold ? "cold" : "wait";
  const { half, dash, ...look } = looks(kind, step, kind === "hands" && wantedNow(step, props.now));
  const eye = kind === "hands" && step.hands < 0.75;
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
      <rect x={x - 9} y={y} width={18} height={Math.max(h, 6)} fill="transparent" />
      <rect
        x={x - half}
        y={y}
        width={2 * half}
        height={h}
        strokeDasharray={dash}
        {...look}
        fillOpacity={eye ? 0.55 : 1}
        strokeWidth={h > 6 ? 1 : 0.5}
      />
      {spell.kind !== "wait" && Date.parse(step.high_end) - Date.parse(step.end) >= 4 * 60_000 && (
        <Longer x={x} from={y + h} to={a.y(step.high_end) + dragged} cold={step.cold} />
      )}
      {step.locked && <path d={`M${x - 10} ${y}h20`} stroke="var(--color-deep)" strokeWidth="3" />}
      {props.chosen === step.step && <Ring x={x} y={y} high={h} />}
    </g>
  );
}

/** How much longer it may take. */
const Longer = ({ x, from, to, cold }: { x: number; from: number; to: number; cold: boolean }) => (
  <path
    d={`M${x} ${from}V${to}`}
    stroke={cold ? "var(--color-water)" : "var(--color-quiet)"}
    strokeWidth="5"
    strokeDasharray="1 3"
    opacity="0.55"
  />
);

const Ring = ({ x, y, high }: { x: number; y: number; high: number }) => (
  <rect
    x={x - THICK / 2 - 3}
    y={y - 2}
    width={THICK + 6}
    height={high + 4}
    fill="none"
    stroke="var(--color-ink)"
    strokeWidth="2.5"
  />
);
