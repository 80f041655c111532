import type { PlanView, StepAt } from "../../api/client";
import { inOrder } from "./layout";

/** What each pair of hands has to do, and each oven: now and next. */

const SOON_MS = 3 * 60_000;

export type Mine = {
  who: string;
  /** Steps of theirs that are not done, in order */
  steps: StepAt[];
  /** It needs them now, or within some minutes */
  due: boolean;
  /** A break of theirs, while it lasts, until when */
  pause?: string;
  /** They have not come yet, or have gone */
  away?: { from: string } | { since: string };
};

/** Each cook of a plan, those first who are there. */
export function cooks(plan: PlanView, now: number): Mine[] {
  const steps = inOrder(plan).filter((s) => s.state !== "done" && s.hands > 0);
  return [...new Set(plan.people.map((p) => p.who))]
    .map((who): Mine => {
      const shifts = plan.people.filter((p) => p.who === who);
      const there = shifts.find((p) => Date.parse(p.start) <= now && now < Date.parse(p.end));
      const next = shifts.filter((p) => Date.parse(p.start) > now).sort((p, q) => p.start.localeCompare(q.start))[0];
      const pause = (there?.pauses as [string, string][] | undefined)?.find(
        ([from, to]) => Date.parse(from) <= now && now < Date.parse(to),
      );
      const mine = steps.filter((s) => s.who.includes(who));
      const first = mine[0];
      return {
        who,
        steps: mine,
        due: first !== undefined && Date.parse(first.start) <= now + SOON_MS,
        pause: pause?.[1],
        away: there ? undefined : next ? { from: next.start } : { since: shifts.at(-1)?.end ?? plan.ends },
      };
    })
    .filter((m) => m.steps.length > 0 || !m.away || "from" in m.away);
}

export type InOven = { key: string; name: string; celsius?: number; now?: StepAt; next?: StepAt };

/** Each oven of a plan: how hot it is planned to be, what is in it, what goes in next. */
export function ovens(plan: PlanView, now: number): InOven[] {
  const baking = inOrder(plan).filter((s) => s.oven && s.kind === "oven" && s.state !== "done");
  return plan.ovens
    .filter((o) => o.temps.length > 0)
    .map((oven) => {
      const own = baking.filter((s) => s.oven === oven.name);
      const inside = own.find((s) => Date.parse(s.start) <= now);
      const temps = oven.temps as [string, number][];
      const after = temps.findIndex(([at]) => Date.parse(at) > now);
      const [b, c] = [temps[after - 1], temps[after]];
      const share = b && c ? (now - Date.parse(b[0])) / Math.max(1, Date.parse(c[0]) - Date.parse(b[0])) : 0;
      return {
        key: oven.key,
        name: oven.name,
        celsius: b && c ? b[1] + share * (c[1] - b[1]) : undefined,
        now: inside,
        next: own.find((s) => s !== inside && Date.parse(s.start) > now),
      };
    });
}
