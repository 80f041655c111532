import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import type { BatchView, BenchEvent } from "../../api/client";
import { listen, outbox, record } from "../../api/outbox";
import { batchQuery } from "../../api/queries";

/** A batch as the server has it, followed live, with what this device has not yet sent laid over it. */
export function useBatch(id: string) {
  const queries = useQueryClient();
  const query = useQuery({ ...batchQuery(id), refetchInterval: 30_000 });
  const { waiting, sent } = useSyncExternalStore((tell) => listen(() => tell()), outbox);
  const mine = [...sent, ...waiting].flatMap((w) => ("event" in w && w.batch === id ? [w.event] : []));
  // Only what is there can be asked for again: what happens while the first answer is on its way is seen by the stream's `ready`.
  const there = query.data !== undefined;
  useEffect(() => {
    if (!there) return;
    const again = () => {
      void queries.invalidateQueries({ queryKey: ["batch", id] });
      void queries.invalidateQueries({ queryKey: ["batches"] });
      void queries.invalidateQueries({ queryKey: ["log"] });
      void queries.invalidateQueries({ queryKey: ["traces", id] });
    };
    const stream = new EventSource(`/api/batches/${id}/stream`);
    stream.addEventListener("entry", again);
    stream.addEventListener("ready", again);
    stream.addEventListener("trace", () => void queries.invalidateQueries({ queryKey: ["traces", id] }));
    const stop = listen((sent) => sent && "event" in sent && sent.batch === id && again());
    return () => {
      stream.close();
      stop();
    };
  }, [id, queries, there]);
  const view = query.data && ahead(query.data, mine);
  return {
    ...query,
    view,
    unsent: waiting.filter((w) => "event" in w && w.batch === id).length,
    put: (what: BenchEvent) => record({ batch: id, event: what }),
  };
}

/** Where the batch will stand once this device's steps are in: enough to go on working while the network is away. */
function ahead(view: BatchView, ours: readonly BenchEvent[]): BatchView {
  const unheard = ours.filter((e) => !view.events.some((known) => known.event.id === e.id));
  if (unheard.length === 0) return view;
  const taken = new Set(unheard.map((e) => e.takes_back));
  const mine = unheard.filter((e) => e.kind !== "taken back" && !taken.has(e.id));
  const done = [...view.state.done];
  for (const e of mine) if (e.kind === "step done" && e.step && !done.includes(e.step)) done.push(e.step);
  const current =
    view.state.finished || view.state.abandoned
      ? null
      : (view.process.steps.find((s) => !done.includes(s.key))?.key ?? null);
  const started = mine.flatMap((e) => {
    const step = view.process.steps.find((s) => s.key === e.step);
    return e.kind === "timer started" && step && e.minutes
      ? [{ step: step.key, title: step.title, started: e.at, minutes: e.minutes }]
      : [];
  });
  const timers = [...view.state.timers, ...started].filter((t) => !done.includes(t.step));
  return {
    ...view,
    state: { ...view.state, done, current, timers, last_event: mine.at(-1)?.id ?? view.state.last_event },
  };
}
