import { answer, type BenchEvent, http, Refused } from "./client";

/**
 * What was done at the bench, kept on this device until the server has it on its disk.
 * Entries go out one at a time and in order; each has an id, so that sending one twice changes nothing.
 */
const KEY = "gullpeak-outbox";
const RETRY_MS = 2000;

export interface Waiting {
  batch: string;
  event: BenchEvent;
}
type Listener = (waiting: readonly Waiting[], sent: string | null) => void;

const load = (): Waiting[] => {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "[]") as Waiting[];
  } catch {
    return [];
  }
};
let queue: Waiting[] = load();
let sending = false;
const listeners = new Set<Listener>();

function keep(next: Waiting[], sent: string | null = null) {
  queue = next;
  localStorage.setItem(KEY, JSON.stringify(queue));
  for (const tell of listeners) tell(queue, sent);
}

export const waiting = () => queue;

export function listen(listener: Listener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Keep an event and send it. Resolves when sent or kept for later; rejects with Refused where the server will not have it. */
export async function record(batch: string, event: BenchEvent): Promise<void> {
  keep([...queue, { batch, event }]);
  await flush(event.id);
}

/** Send what waits, in order. `mine`: the entry whose refusal is thrown rather than dropped silently. */
export async function flush(mine?: string): Promise<void> {
  if (sending) return;
  sending = true;
  try {
    while (queue[0]) {
      const { batch, event } = queue[0];
      try {
        await answer(
          http.POST("/api/batches/{batch_id}/events", { params: { path: { batch_id: batch } }, body: [event] }),
        );
        keep(queue.slice(1), batch);
      } catch (failure) {
        if (!(failure instanceof Refused) || failure.offline || failure.problem.status >= 500) {
          setTimeout(() => void flush(), RETRY_MS);
          return;
        }
        keep(queue.slice(1), batch);
        if (event.id === mine) throw failure;
      }
    }
  } finally {
    sending = false;
  }
}

window.addEventListener("online", () => void flush());
window.addEventListener("storage", (change) => {
  if (change.key === KEY) {
    queue = load();
    for (const tell of listeners) tell(queue, null);
  }
});
void flush();
