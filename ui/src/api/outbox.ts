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
/** What waits, and what was sent lately: a page lays both over what it last heard from the server. */
interface Box {
  waiting: readonly Waiting[];
  sent: readonly Waiting[];
}
type Listener = (sentTo: string | null) => void;

const load = (): Waiting[] => {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "[]") as Waiting[];
  } catch {
    return [];
  }
};
let box: Box = { waiting: load(), sent: [] };
let sending = false;
const listeners = new Set<Listener>();

function keep(waiting: readonly Waiting[], sent?: Waiting) {
  box = { waiting, sent: sent ? [...box.sent.slice(-49), sent] : box.sent };
  localStorage.setItem(KEY, JSON.stringify(waiting));
  for (const tell of listeners) tell(sent?.batch ?? null);
}

export const outbox = () => box;

export function listen(listener: Listener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Keep an event and send it. Resolves when sent or kept for later; rejects with Refused where the server will not have it. */
export async function record(batch: string, event: BenchEvent): Promise<void> {
  keep([...box.waiting, { batch, event }]);
  await flush(event.id);
}

/** Send what waits, in order. `mine`: the entry whose refusal is thrown rather than dropped silently. */
export async function flush(mine?: string): Promise<void> {
  if (sending) return;
  sending = true;
  try {
    for (let next = box.waiting[0]; next; next = box.waiting[0]) {
      const { batch, event } = next;
      try {
        await answer(
          http.POST("/api/batches/{batch_id}/events", { params: { path: { batch_id: batch } }, body: [event] }),
        );
        keep(box.waiting.slice(1), next);
      } catch (failure) {
        if (!(failure instanceof Refused) || failure.offline || failure.problem.status >= 500) {
          setTimeout(() => void flush(), RETRY_MS);
          return;
        }
        keep(box.waiting.slice(1));
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
    box = { ...box, waiting: load() };
    for (const tell of listeners) tell(null);
  }
});
void flush();
