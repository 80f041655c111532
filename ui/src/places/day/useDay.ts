import { useMutation, useQueryClient } from "@tanstack/react-query";
import { answer, type Day, type DayMark, type DayView, http } from "../../api/client";

/** Times of a day in its own zone, wherever this tablet thinks it is. */
export function clockIn(zone: string): (at: string | number) => string {
  let format: Intl.DateTimeFormat;
  try {
    format = new Intl.DateTimeFormat("en-GB", { hour: "numeric", minute: "2-digit", timeZone: zone });
  } catch {
    format = new Intl.DateTimeFormat("en-GB", { hour: "numeric", minute: "2-digit" });
  }
  return (at) => format.format(new Date(at));
}

export const ownZone = () => Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";

/** Everything that can be done to a day; each answer is the day as it then stands, or has it asked for again. */
export function useDay(of: string) {
  const client = useQueryClient();
  const path = { params: { path: { of } } };
  const again = () => Promise.all([client.invalidateQueries({ queryKey: ["day", of] }), client.invalidateQueries({ queryKey: ["days"] }), client.invalidateQueries({ queryKey: ["day-list", of] })]);
  const show = (made: DayView) => {
    client.setQueryData(["day", of], made);
    void client.invalidateQueries({ queryKey: ["day-list", of] });
  };
  return {
    again,
    plan: useMutation({ mutationFn: (ask: { seconds: number; near: boolean }) => answer(http.POST("/api/days/{of}/plan", { ...path, body: ask })), onSuccess: again }),
    stop: useMutation({ mutationFn: () => http.DELETE("/api/days/{of}/plan/search", path), onSuccess: again }),
    take: useMutation({ mutationFn: () => answer(http.POST("/api/days/{of}/plan/take", path)), onSuccess: show }),
    leave: useMutation({ mutationFn: () => http.DELETE("/api/days/{of}/plan/beside", path), onSuccess: again }),
    mark: useMutation({ mutationFn: (marks: DayMark[]) => answer(http.POST("/api/days/{of}/marks", { ...path, body: marks as never })), onSuccess: show }),
    move: useMutation({ mutationFn: (ask: { step: string; start: string }) => answer(http.POST("/api/days/{of}/move", { ...path, body: ask })) }),
    put: useMutation({
      mutationFn: ({ day, version }: { day: Day; version: number }) => answer(http.PUT("/api/days/{of}", { ...path, headers: { "If-Match": `"${version}"` }, body: day as never } as never)),
      onSuccess: again,
    }),
    bench: useMutation({ mutationFn: (thread: string) => answer(http.POST("/api/days/{of}/threads", { ...path, body: { thread, id: crypto.randomUUID() } })), onSuccess: again }),
  };
}

export type DayActions = ReturnType<typeof useDay>;

export const newMark = (kind: DayMark["kind"], step: string, at: number, more?: Partial<DayMark>): DayMark => ({ id: crypto.randomUUID(), kind, step, at: new Date(at).toISOString(), minutes: null, cook: "", takes_back: null, ...more });
