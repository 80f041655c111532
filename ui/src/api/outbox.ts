import { answer, type BenchEvent, type DayMark, type EggEntry, http, Refused, type StockEntry } from "./client";

/**
 * What was done at the bench, on a day, and to egg and stock, kept on this device until the server has it on its disk.
 * Entries go out one at a time, in order; each has an id, so that sending one twice changes nothing.
 * One that the server refuses is set aside with its sentence; one it fails on waits; neither holds up those behind it.
 */
const KEY = "gullpeak-outbox";
const REFUSED = "gullpeak-not-taken";
const RETRY_MS = 2000;
const CONFLICT = 409;

/** Something that happened to egg or to stock. */
type Happened = { ledger: "eggs"; entry: EggEntry } | { ledger: "stock"; entry: StockEntry };
export type Waiting = { batch: string; event: BenchEvent } | { day: string; mark: DayMark } | Happened;
/** Something the server would not have when it came to it, kept with its sentence until the cook has dealt with it. */
export type NotTaken = Waiting & { says: string };
/** What waits, and what was sent lately: a page lays both over what it last heard from the server. */
interface Box {
  waiting: readonly Waiting[];
  sent: readonly Waiting[];
  refused: readonly NotTaken[];
}
type Listener = (sent: Waiting | null) => void;

export const idOf = (entry: Waiting): string =>
  "event" in entry ? entry.event.id : "mark" in entry ? entry.mark.id : entry.entry.id;

function load<T>(key: string): T[] {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "[]") as T[];
  } catch {
    return [];
  }
}
function store(key: string, entries: readonly unknown[]) {
  try {
    localStorage.setItem(key, JSON.stringify(entries));
  } catch {
    // No room on the device: this page still holds them and goes on sending.
  }
}

let box: Box = { waiting: load<Waiting>(KEY), sent: [], refused: load<NotTaken>(REFUSED) };
let sending = false;
/** Those on this page who wait to hear what became of their entry. */
const asking = new Map<string, { kept: () => void; refused: (why: Refused) => void }>();
const listeners = new Set<Listener>();

export const outbox = () => box;

export function listen(listener: Listener): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Change what waits and what was refused. Another page of this device may have added to them since: theirs stay. */
function change(
  edit: (waiting: Waiting[], refused: NotTaken[]) => [Waiting[], NotTaken[]],
  sent: Waiting | null = null,
) {
  const theirs = load<Waiting>(KEY).filter(
    (w) => !box.waiting.some((mine) => idOf(mine) === idOf(w)) && !box.sent.some((s) => idOf(s) === idOf(w)),
  );
  const [waiting, refused] = edit([...box.waiting, ...theirs], [...box.refused]);
  box = { waiting, refused, sent: sent ? [...box.sent.slice(-199), sent] : box.sent };
  store(KEY, waiting);
  store(REFUSED, refused);
  for (const tell of listeners) tell(sent);
}

const without = <T extends Waiting>(entries: T[], id: string) => entries.filter((w) => idOf(w) !== id);

/** Keep an entry and send it. Resolves when sent or kept for later; rejects with Refused where the server will not have it. */
export async function record(entry: Waiting): Promise<void> {
  change((waiting, refused) => [[...waiting, entry], refused]);
  const heard = new Promise<void>((kept, refused) => asking.set(idOf(entry), { kept, refused }));
  void flush();
  await heard;
}

/** What was not taken goes out once more, as a new entry. */
export function sendAgain(entry: NotTaken) {
  const id = crypto.randomUUID();
  const again: Waiting =
    "event" in entry
      ? { batch: entry.batch, event: { ...entry.event, id } }
      : "mark" in entry
        ? { day: entry.day, mark: { ...entry.mark, id } }
        : entry.ledger === "eggs"
          ? { ledger: entry.ledger, entry: { ...entry.entry, id } }
          : { ledger: entry.ledger, entry: { ...entry.entry, id } };
  change((waiting, refused) => [[...waiting, again], without(refused, idOf(entry))]);
  void flush();
}

/** The cook has read what was not taken, and lets it go. */
export const dropRefused = (entry: NotTaken) => change((waiting, refused) => [waiting, without(refused, idOf(entry))]);

function send(entry: Waiting): Promise<unknown> {
  if ("event" in entry)
    return answer(
      http.POST("/api/batches/{batch_id}/events", { params: { path: { batch_id: entry.batch } }, body: [entry.event] }),
    );
  if ("mark" in entry)
    return answer(http.POST("/api/days/{of}/marks", { params: { path: { of: entry.day } }, body: [entry.mark] }));
  if (entry.ledger === "eggs") return answer(http.POST("/api/eggs", { body: [entry.entry] }));
  return answer(http.POST("/api/stock", { body: [entry.entry] }));
}

/** A refusal goes to whoever asked; when nobody is left to hear it, or the entry would be lost with it, it is kept to be read. */
function refuse(entry: Waiting, failure: Refused) {
  const id = idOf(entry);
  const asker = asking.get(id);
  const keep = !asker || failure.problem.status === CONFLICT;
  const said: NotTaken = { ...entry, says: failure.errors[0]?.says ?? failure.message };
  change((waiting, refused) => [without(waiting, id), keep ? [...refused, said] : refused]);
  asker?.refused(failure);
}

/** Send what waits, in order; what the server fails on is tried again later, after those behind it. */
async function flush(): Promise<void> {
  if (sending) return;
  sending = true;
  let again = false;
  const tried = new Set<string>();
  try {
    for (;;) {
      const next = box.waiting.find((w) => !tried.has(idOf(w)));
      if (!next) break;
      const id = idOf(next);
      tried.add(id);
      try {
        await send(next);
        change((waiting, refused) => [without(waiting, id), refused], next);
        asking.get(id)?.kept();
      } catch (failure) {
        const away = failure instanceof Refused && failure.offline;
        if (failure instanceof Refused && !away && failure.problem.status < 500) refuse(next, failure);
        else {
          again = true;
          asking.get(id)?.kept();
          if (away) {
            for (const one of asking.values()) one.kept();
            asking.clear();
            break;
          }
        }
      }
      asking.delete(id);
    }
  } finally {
    sending = false;
    if (again) setTimeout(() => void flush(), RETRY_MS);
  }
}

window.addEventListener("online", () => void flush());
window.addEventListener("storage", (changed) => {
  if (changed.key === KEY || changed.key === REFUSED) {
    box = { ...box, waiting: load<Waiting>(KEY), refused: load<NotTaken>(REFUSED) };
    for (const tell of listeners) tell(null);
  }
});
void flush();
