import { scaleLinear } from "d3-scale";
import type { PlanView, StepAt, ThreadAt } from "../../api/client";
import { words } from "../../words";

/** Where everything of a day stands in its drawing, px. Pure: plan and widths in, places out. */

const QUIET_MS = 110 * 60_000; // nobody's hands on anything for so long: the axis is cut
const CUT_PX = 34;
const LANES_PX = [17, 14] as const; // between threads; closer where there are many
const MANY = 22;
const FOLDED = 16;
const LEAST_GUTTER = 132;
export const SIDES = { times: 52, hands: 92, oven: 84 };
const EDGE_MS = 12 * 60_000;

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

/** Time down the page; long spells in which nothing is touched are cut short. */
export function axis(plan: PlanView, perMin: number): Axis {
  const busy = plan.threads
    .flatMap((t) => t.steps)
    .filter((s) => s.hands > 0 || s.oven)
    .map((s) => [ms(s.start), ms(s.end)] as const)
    .concat(plan.chores.map((c) => [ms(c.at), ms(c.at) + c.minutes * 60_000] as const))
    .concat(plan.threads.flatMap((t) => (t.ready_by ? [[ms(t.ready_by), ms(t.ready_by)] as const] : [])))
    .sort((a, b) => a[0] - b[0]);
  const spans: [number, number][] = [];
  for (const [from, to] of busy) {
    const last = spans.at(-1);
    if (last && from - last[1] < QUIET_MS) last[1] = Math.max(last[1], to);
    else spans.push([from, to]);
  }
  if (spans.length === 0) spans.push([ms(plan.starts), ms(plan.ends)]);
  const domain: number[] = [];
  const range: number[] = [];
  const cuts: Cut[] = [];
  let y = 8;
  for (const [i, [from, to]] of spans.entries()) {
    const [a, z] = [from - EDGE_MS, to + EDGE_MS];
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
  order: string;
  name: string;
  says: string;
  ready: string | null;
  whom: string;
  x: number;
  width: number;
  open: boolean;
  over: boolean;
  lanes: Lane[];
  gutter: number;
};

const laneOf = (plan: PlanView) => LANES_PX[plan.threads.length > MANY ? 1 : 0];
const left = (plan: PlanView, width: number) => width - SIDES.times - SIDES.hands - 32 - plan.ovens.length * SIDES.oven;

/** How many orders can stand open with room for their words. */
export function roomFor(plan: PlanView, width: number): number {
  const orders = new Set(plan.threads.map((t) => t.order)).size;
  const free = left(plan, width) - plan.threads.length * laneOf(plan) - orders * (FOLDED + 6);
  return Math.max(1, Math.floor(free / LEAST_GUTTER));
}

/** Orders side by side, each with its threads as lanes; an open one has room for words, one that is over is a single thread. */
export function columns(plan: PlanView, width: number, open: ReadonlySet<string>): Column[] {
  const orders = [...new Set(plan.threads.map((t) => t.order))];
  const made = orders.map((order) => {
    const threads = plan.threads.filter((t) => t.order === order);
    const main = threads.find((t) => t.depth === 0) ?? threads[0];
    const over = threads.every((t) => t.steps.every((s) => s.state === "done"));
    const lanes = over && !open.has(order) ? threads.slice(0, 1) : threads;
    return { order, main, over, lanes };
  });
  const lane = laneOf(plan);
  const least = made.map((m) => FOLDED + m.lanes.length * lane);
  const free = width - least.reduce((a, b) => a + b, 0) - made.length * 6;
  const opened = made.filter((m) => open.has(m.order)).length;
  const gutter = Math.max(LEAST_GUTTER, opened ? free / opened : 0);
  let x = 0;
  return made.map((m, i) => {
    const isOpen = open.has(m.order);
    const room = isOpen ? gutter : opened ? 0 : free / made.length;
    const w = (least[i] as number) + room;
    const column: Column = {
      order: m.order,
      name: m.main?.order_name ?? m.order,
      says: m.main?.says ?? "",
      ready: m.main?.ready_by ?? null,
      whom: m.main?.for_whom ?? "",
      x,
      width: w,
      open: isOpen,
      over: m.over,
      lanes: m.lanes.map((thread, k) => ({ thread, x: x + 10 + k * lane })),
      gutter: x + 8 + m.lanes.length * lane,
    };
    x += w + 6;
    return column;
  });
}

export type Words = { step: StepAt; x: number; y: number; at: number; text: string };

/** Words beside an open order's threads, one for each run of steps, pushed apart so that none stands on another. */
export function captions(column: Column, a: Axis): Words[] {
  const all: Words[] = [];
  for (const lane of column.lanes) {
    let run: StepAt[] = [];
    const flush = () => {
      const first = run[0];
      if (first) {
        const oven = run.find((s) => s.oven && s.set_c !== null);
        const text =
          oven && run.length === 1
            ? first.title
            : first.title + (oven && oven !== first ? words.day.oven2(oven.set_c) : "");
        all.push({ step: first, x: lane.x, y: a.y(first.start), at: a.y(first.start), text });
      }
      run = [];
    };
    for (const step of lane.thread.steps) {
      if (!step.at_once) flush();
      run.push(step);
    }
    flush();
  }
  all.sort((p, q) => p.y - q.y);
  let last = Number.NEGATIVE_INFINITY;
  for (const one of all) {
    one.at = Math.max(one.y + 5, last + 17);
    last = one.at;
  }
  return all;
}

/** Every step in the order of the day. */
export const inOrder = (plan: PlanView): StepAt[] =>
  plan.threads.flatMap((t) => t.steps).sort((a, b) => ms(a.start) - ms(b.start) || a.step.localeCompare(b.step));

export const threadOf = (plan: PlanView, step: string): ThreadAt | undefined =>
  plan.threads.find((t) => t.steps.some((s) => s.step === step));
