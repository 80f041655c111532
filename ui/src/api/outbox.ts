import { answer, type BenchEvent, http, Refused } from "./client";

/**
 * What was done at the bench, kept on this device until the server has it on its disk.
 * Entries go out one at a time and in order; each has an id, so that sending one twice changes nothing.
 */
const KEY = "gullpeak-outbox";
const REFUSED = "gullpeak-not-taken";
const RETRY_MS = 2000;

export interface Waiting {
  batch: string;
  event: BenchEvent;
}
/** Something the server would not have when it came to it, kept with its sentence until the cook has read it. */
export interface NotTaken extends Waiting {
  says: string;
}
/** What waits, and what was sent lately: a page lays both over what it last heard from the server. */
interface Box {
  waiting: readonly Waiting[];
  sent: readonly Waiting[];
  refused: readonly NotTaken[];
}
type Listener = (sentTo: string | null) => void;

function load<T>(key: string): T[] {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "[]") as T[];
  } catch {
    return [];
  }
}
let box: Box = { waiting: load(KEY), sent: [], refused: load(REFUSED) };
let sending = false;
/** Those on this page who wait to hear what became of their entry. */
const asking = new Map<string, { kept: () => void; refused: (why: Refused) => void }>();
const listeners = new Set<Listener>();

function keep(waiting: readonly Waiting[], sent?: Waiting) {
  box = { ...box, waiting, sent: sent ? [...box.sent.slice(-49), sent] : box.sent };
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
  const heard = new Promise<void>((kept, refused) => asking.set(event.id, { kept, refused }));
  void flush();
  await heard;
}

function setRefused(refused: readonly NotTaken[]) {
  box = { ...box, refused };
  localStorage.setItem(REFUSED, JSON.stringify(refused));
  for (const tell of listeners) tell(null);
}

/** The cook has read what was not taken. */
export const readRefused = () => setRefused([]);

/** Send what waits, in order. A refusal goes to whoever asked; when nobody is left to hear it, it is kept to be read. */
export async function flush(): Promise<void> {
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
        asking.get(event.id)?.kept();
      } catch (failure) {
        if (!(failure instanceof Refused) || failure.offline || failure.problem.status >= 500) {
          for (const one of asking.values()) one.kept();
          asking.clear();
          setTimeout(() => void flush(), RETRY_MS);
          return;
        }
        keep(box.waiting.slice(1));
        const asker = asking.get(event.id);
        if (asker) asker.refused(failure);
        else setRefused([...box.refused, { ...next, says: failure.errors[0]?.says ?? failure.message }]);
      }
      asking.delete(event.id);
    }
  } finally {
    sending = false;
  }
}

window.addEventListener("online", () => void flush());
window.addEventListener("storage", (change) => {
  if (change.key === KEY) {
    box = { ...box, waiting: load(KEY), refused: load(REFUSED) };
    for (const tell of listeners) tell(null);
  }
});
void flush();
