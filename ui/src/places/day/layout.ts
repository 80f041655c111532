import { scaleLinear } from "d3-scale";
import type { OrderAt, PlanView, Spell, StepAt, ThreadAt } from "../../api/client";
import { wrapped } from "../../kit/wrapped";
import { words } from "../../words";

/** Where everything of a day stands in its drawing, px. Pure: plan and widths in, places out. */

const QUIET_MS = 110 * 60_000; // nobody's hands on anything for so long: the axis is cut
const CUT_PX = 34;
const LANE = 14;
/** An order seen from far off, and opened into its steps: no narrower than this; and its words. */
const LEAST = { far: 92, near: 300, words: 70 };
const GAP = 8;
export const SIDES = { times: 54, hands: 48, oven: 58 };
export const LINE = 17;
const FONT = '14px "Atkinson Hyperlegible Next Variable"';
const EDGE_MS = 12 * 60_000;
/** A bar at least this high has its words beside its middle, unless hands begin it. */
const TALL = 44;

type Cut = { y: number; hours: number };
export type Axis = {
  y: (at: string | number) => number;
  at: (y: number) => number;
  height: number;
  ticks: number[];
  cuts: Cut[];
  starts: number;
  ends: number;
};

const ms = (at: string | number) => (typeof at === "number" ? at : Date.parse(at));

/** Time down the page, from a moment on where one is given; long spells in which nothing is touched are cut short. */
function axis(plan: PlanView, perMin: number, from = Number.NEGATIVE_INFINITY): Axis {
  const busy = plan.threads
    .flatMap((t) => t.steps)
    .filter((s) => s.hands > 0 || s.oven)
    .map((s) => [ms(s.start), ms(s.end)] as const)
    .concat(plan.chores.map((c) => [ms(c.at), ms(c.at) + c.minutes * 60_000] as const))
    .concat(plan.threads.flatMap((t) => (t.ready_by ? [[ms(t.ready_by), ms(t.ready_by)] as const] : [])))
    .filter(([, to]) => to > from)
    .map(([start, to]) => [Math.max(start, from), to] as const)
    .sort((a, b) => a[0] - b[0]);
  const spans: [number, number][] = [];
  for (const [start, to] of busy) {
    const last = spans.at(-1);
    if (last && start - last[1] < QUIET_MS) last[1] = Math.max(last[1], to);
    else spans.push([start, to]);
  }
  if (spans.length === 0) spans.push([ms(plan.starts), ms(plan.ends)]);
  const domain: number[] = [];
  const range: number[] = [];
  const cuts: Cut[] = [];
  let y = 8;
  for (const [i, [start, to]] of spans.entries()) {
    const [a, z] = [start - EDGE_MS, to + EDGE_MS];
    if (i > 0) {
      cuts.push({ y: y + CUT_PX / 2, hours: Math.round((a - (domain.at(-1) ?? a)) / 3_600_000) });
      y += CUT_PX;
    }
    domain.push(a, z);
    range.push(y, y + ((z - a) / 60_000) * perMin);
    y = range.at(-1) as number;
  }
  const scale = scaleLinear(domain, range).clamp(true);
  const every = perMin * 30 >= 60 ? 30 : 60;
  const ticks: number[] = [];
  for (let i = 0; i < domain.length; i += 2) {
    const step = every * 60_000;
    for (let t = Math.ceil((domain[i] as number) / step) * step; t <= (domain[i + 1] as number); t += step)
      ticks.push(t);
  }
  return {
    y: (at) => scale(ms(at)),
    at: (py) => scale.invert(py),
    height: y + 10,
    ticks,
    cuts,
    starts: domain[0] as number,
    ends: domain.at(-1) as number,
  };
}

type Lane = { thread: ThreadAt; x: number };
export type Column = {
  order: OrderAt;
  x: number;
  width: number;
  open: boolean;
  lanes: Lane[];
  spells: Spell[];
  /** Where its words begin, and how wide they may be */
  words: number;
  room: number;
};

/** Orders side by side, those that are done left out; each with its threads as lanes, one lane for several that follow one another. */
function columns(plan: PlanView, a: Axis, width: number, open: ReadonlySet<string>): Column[] {
  const made = plan.orders
    .filter((order) => order.state !== "done" || open.has(order.key))
    .map((order) => {
      const spells = plan.spells.filter((s) => s.order === order.key && ms(s.end) > a.starts);
      return { order, spells, ...lanesOf(plan, order.key, spells) };
    });
  const least = made.map((m) => Math.max(open.has(m.order.key) ? LEAST.near : LEAST.far, m.count * LANE + LEAST.words));
  const free = Math.max(0, width - least.reduce((sum, w) => sum + w + GAP, 0));
  // What has more to say has more of the room that is left.
  const much = made.map((m) => 2 + m.spells.length);
  const all = much.reduce((sum, n) => sum + n, 0);
  let x = 0;
  return made.map((m, i) => {
    const w = (least[i] as number) + (free * (much[i] as number)) / all;
    const words = x + m.count * LANE + 6;
    const column: Column = {
      order: m.order,
      x,
      width: w,
      open: open.has(m.order.key),
      lanes: m.lanes.map(([thread, lane]) => ({ thread, x: x + lane * LANE + LANE / 2 })),
      spells: m.spells,
      words,
      room: x + w - words - 4,
    };
    x += w + GAP;
    return column;
  });
}

function lanesOf(
  plan: PlanView,
  order: string,
  spells: readonly Spell[],
): { lanes: [ThreadAt, number][]; count: number } {
  const spans = plan.threads
    .filter((t) => t.order === order)
    .flatMap((thread) => {
      const own = spells.filter((s) => s.thread === thread.key);
      return own.length
        ? [{ thread, from: Math.min(...own.map((s) => ms(s.start))), to: Math.max(...own.map((s) => ms(s.end))) }]
        : [];
    })
    .sort((p, q) => p.from - q.from || q.to - p.to);
  const ends: number[] = [];
  const lanes = spans.map(({ thread, from, to }): [ThreadAt, number] => {
    const found = ends.findIndex((end) => end <= from);
    const lane = found < 0 ? ends.length : found;
    ends[lane] = to;
    return [thread, lane];
  });
  return { lanes, count: Math.max(1, ends.length) };
}

/** Words beside a bar: of what part, what is done, what it then waits for, what is said of it. `step`: the one they choose. */
export type Label = {
  key: string;
  step: string;
  spell: Spell;
  x: number;
  y: number;
  /** Where they stand, pushed apart so that none stands on another */
  at: number;
  of: string[];
  title: string[];
  waits: string[];
  room: string[];
};

const linesOf = (l: Label) => l.of.length + l.title.length + l.waits.length + l.room.length;
const upper = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
const resting = (spell: Spell) => spell.kind === "cold" || spell.kind === "wait";

/** The words of an order: by spell from far off, with the wait that follows it; by step where it is open. */
function labels(column: Column, a: Axis): Label[] {
  const all = column.lanes.flatMap((lane) => {
    const own = column.spells.filter((s) => s.thread === lane.thread.key);
    return column.open
      ? own.flatMap((s) => near(column, a, lane, s))
      : own.flatMap((s, i) => far(column, a, lane, own, s, i));
  });
  all.sort((p, q) => p.y - q.y);
  let free = Number.NEGATIVE_INFINITY;
  let said = "";
  for (const one of all) {
    const of = one.spell.thread;
    if (of === said) one.of = [];
    said = of;
    one.at = Math.max(one.y, free);
    free = one.at + linesOf(one) * LINE + 5;
  }
  return all;
}

const wrap = (column: Column, text: string) => (text ? wrapped(text, column.room, FONT) : []);
const partOf = (column: Column, { thread }: Lane) => wrap(column, thread.depth > 0 ? thread.name : "");
const least = (column: Column, steps: readonly string[]) =>
  wrap(column, steps.includes(column.order.decides ?? "") ? words.day.leastRoomHere : "");

function near(column: Column, a: Axis, lane: Lane, spell: Spell): Label[] {
  return lane.thread.steps
    .filter((s) => spell.steps.includes(s.step) && ms(s.end) > a.starts)
    .map((step) => {
      const [top, bottom] = [a.y(step.start), a.y(step.end)];
      const y = bottom - top > TALL && spell.kind !== "hands" ? (top + bottom) / 2 - LINE : top;
      return {
        key: step.step,
        step: step.step,
        spell,
        x: lane.x,
        y,
        at: y,
        of: partOf(column, lane),
        title: wrap(column, step.title),
        waits: [],
        room: least(column, [step.step]),
      };
    });
}

function far(column: Column, a: Axis, lane: Lane, own: Spell[], spell: Spell, i: number): Label[] {
  const [before, next] = [own[i - 1], own[i + 1]];
  const follows = (one: Spell | undefined, two: Spell | undefined) =>
    one && two && resting(two) && !resting(one) && ms(two.start) - ms(one.end) <= 60_000;
  if (spell.state === "done" || (before?.state !== "done" && follows(before, spell))) return [];
  const then = next && follows(spell, next) ? next : undefined;
  const [top, bottom] = [a.y(spell.start), a.y(spell.end)];
  const y = bottom - top > TALL && spell.kind !== "hands" ? (top + bottom) / 2 - LINE : top;
  return [
    {
      key: spell.steps[0] ?? spell.start,
      step: spell.steps[0] ?? "",
      spell,
      x: lane.x,
      y,
      at: y,
      of: partOf(column, lane),
      title: wrap(column, upper(spell.title)),
      waits: wrap(column, then ? words.day.thenWaits(then.title) : ""),
      room: least(column, spell.steps),
    },
  ];
}

const MOST_STRETCH = 1.7;

/** The whole of a day in places. Where words need more room than their times have, time is drawn longer, so that they stay by their bars. */
export function placed(plan: PlanView, perMin: number, from: number, width: number, open: ReadonlySet<string>) {
  const lay = (scale: number) => {
    const a = axis(plan, scale, from);
    const middle = columns(plan, a, width, open);
    const said = middle.map((column) => labels(column, a));
    return { a, middle, said, high: Math.max(a.height, ...said.flat().map((l) => l.at + linesOf(l) * LINE + 8)) };
  };
  const first = lay(perMin);
  const longer = Math.min(MOST_STRETCH, first.high / first.a.height);
  return longer > 1.05 ? lay(perMin * longer) : first;
}

/** Every step in the order of the day. */
export const inOrder = (plan: PlanView): StepAt[] =>
  plan.threads.flatMap((t) => t.steps).sort((a, b) => ms(a.start) - ms(b.start) || a.step.localeCompare(b.step));

export const threadOf = (plan: PlanView, step: string): ThreadAt | undefined =>
  plan.threads.find((t) => t.steps.some((s) => s.step === step));
