import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answer, type Day, type DayMark, type DayView, http } from "../../api/client";
import { listen, record, type Waiting } from "../../api/outbox";
import { timeOf } from "../../kit/dates";

/** Times of a day in its own zone, wherever this tablet thinks it is. */
export const clockIn = (zone: string) => (at: string | number) => timeOf(at, zone);

/** A line of a day as it is typed, read by the kitchen's book, ovens and cooks. */
export const readLine = (of: string, what: "order" | "hands") => (text: string, meant?: string) =>
  answer(http.POST("/api/days/{of}/read", { params: { path: { of } }, body: { what, text, of: meant ?? null } }));

export const ownZone = () => Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";

/** Everything that can be done to a day; each answer is the day as it then stands, or has it asked for again. */
export function useDay(of: string) {
  const client = useQueryClient();
  const path = { params: { path: { of } } };
  const here = () => client.invalidateQueries({ queryKey: ["day", of] });
  const lists = () =>
    Promise.all([
      client.invalidateQueries({ queryKey: ["days"] }),
      client.invalidateQueries({ queryKey: ["day-list", of] }),
    ]);
  const again = () => Promise.all([here(), lists()]);
  const show = (made: DayView) => {
    client.setQueryData(["day", of], made);
    void client.invalidateQueries({ queryKey: ["day-list", of] });
  };
  // A mark may be sent long after it was made, when the app is back.
  useEffect(() => listen((sent) => sent && "mark" in sent && sent.day === of && void again()));
  return {
    /** Have the day as it stands by now; the lists that show it follow. */
    newest: () => {
      void lists();
      return here();
    },
    plan: useMutation({
      mutationFn: (ask: { seconds: number; near: boolean }) =>
        answer(http.POST("/api/days/{of}/plan", { ...path, body: ask })),
      onSuccess: again,
    }),
    stop: useMutation({ mutationFn: () => http.DELETE("/api/days/{of}/plan/search", path), onSuccess: again }),
    take: useMutation({ mutationFn: () => answer(http.POST("/api/days/{of}/plan/take", path)), onSuccess: show }),
    leave: useMutation({ mutationFn: () => http.DELETE("/api/days/{of}/plan/beside", path), onSuccess: again }),
    mark: useMutation({
      mutationFn: (marks: DayMark[]) => Promise.all(marks.map((mark) => record({ day: of, mark }))),
    }),
    move: useMutation({
      mutationFn: (ask: { step: string; start: string }) =>
        answer(http.POST("/api/days/{of}/move", { ...path, body: ask })),
    }),
    put: useMutation({
      mutationFn: ({ day, version }: { day: Day; version: number }) =>
        answer(
          http.PUT("/api/days/{of}", { params: { path: { of }, header: { "if-match": `"${version}"` } }, body: day }),
        ),
      onSuccess: again,
    }),
    copy: useMutation({
      mutationFn: (to: string) => answer(http.POST("/api/days/{of}/copy", { ...path, body: { to } })),
      onSuccess: (made) => {
        void client.invalidateQueries({ queryKey: ["day", made.day.date] });
        void client.invalidateQueries({ queryKey: ["days"] });
      },
    }),
    bench: useMutation({
      mutationFn: (thread: string) =>
        answer(http.POST("/api/days/{of}/threads", { ...path, body: { thread, id: crypto.randomUUID() } })),
      onSuccess: again,
    }),
  };
}

export type DayActions = ReturnType<typeof useDay>;

/** A day with what this device has not yet sent laid over it. */
export function ahead(view: DayView, of: string, waiting: readonly Waiting[]): DayView {
  const mine = waiting.flatMap((w) =>
    "mark" in w && w.day === of && !view.marks.some((m) => m.id === w.mark.id) ? [w.mark] : [],
  );
  if (mine.length === 0) return view;
  const said = new Map(mine.map((m) => [m.step, m.kind]));
  const done = new Set(
    view.plan?.threads.flatMap((t) => t.steps.flatMap((s) => (s.state === "done" ? [s.step] : []))) ?? [],
  );
  const laid = <T extends NonNullable<DayView["plan"]>>(plan: T): T => ({
    ...plan,
    spells: plan.spells.map((spell) =>
      spell.steps.every((step) => said.get(step) === "done" || done.has(step))
        ? { ...spell, state: "done" as const }
        : spell,
    ),
    threads: plan.threads.map((t) => ({
      ...t,
      steps: t.steps.map((s) => {
        const kind = said.get(s.step);
        return kind === "done"
          ? { ...s, state: "done" as const }
          : kind === "started"
            ? { ...s, state: "under way" as const }
            : s;
      }),
    })),
  });
  return { ...view, plan: view.plan && laid(view.plan), marks: [...view.marks, ...mine] };
}

export const newMark = (kind: DayMark["kind"], step: string, at: number, more?: Partial<DayMark>): DayMark => ({
  id: crypto.randomUUID(),
  kind,
  step,
  at: new Date(at).toISOString(),
  minutes: null,
  cook: "",
  takes_back: null,
  ...more,
});
