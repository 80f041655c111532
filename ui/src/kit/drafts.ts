import { queryOptions } from "@tanstack/react-query";
import { answer, http } from "../api/client";
import { tablet } from "./device";

/**
 * What is written and not saved: kept on this tablet with every change, and by the server under this tablet's name, where no other
 * sees it. It survives a reload, a link away, and a server that is gone; it goes when it is saved or discarded.
 */
export interface Kept<D> {
  /** Of the entry, that it was begun on */
  version: number;
  draft: D;
}
interface Stored {
  version: number;
  /** JSON of the draft */
  doc: string;
  at: string;
}

/** Counts up when a draft is written that an older page would not understand: what is of another count is left alone. */
const SHAPE = "1:";
const KEY = `gullpeak-draft:${SHAPE}`;
const SEND_MS = 800;
const RETRY_MS = 5000;

const waiting = new Map<string, Stored | null>();
/** Entries that were kept or forgotten since the page was opened: of them this tablet knows best. */
const touched = new Set<string>();
let timer: ReturnType<typeof setTimeout> | undefined;

function send(after: number) {
  clearTimeout(timer);
  timer = setTimeout(async () => {
    for (const [entry_id, stored] of [...waiting]) {
      const path = { tablet: tablet(), entry_id };
      const call = stored
        ? http.PUT("/api/drafts/{tablet}/{entry_id}", {
            params: { path },
            body: { version: stored.version, doc: SHAPE + stored.doc },
          })
        : http.DELETE("/api/drafts/{tablet}/{entry_id}", { params: { path } });
      try {
        const { response } = await call;
        if (response.status >= 500) throw new Error(response.statusText);
      } catch {
        return send(RETRY_MS); // it stays on this tablet meanwhile
      }
      if (waiting.get(entry_id) === stored) {
        waiting.delete(entry_id);
        if (!stored) mark(entry_id, false);
      }
    }
  }, after);
}

/** What was saved or discarded is marked until the server knows: a page that is left at once must not find the old draft again. */
const GONE = "gullpeak-gone:";
function mark(id: string, gone: boolean) {
  try {
    if (gone) localStorage.setItem(GONE + id, "yes");
    else localStorage.removeItem(GONE + id);
  } catch {
    // No room on the tablet: the server is told in a moment.
  }
}
for (const key of Object.keys(localStorage)) if (key.startsWith(GONE)) waiting.set(key.slice(GONE.length), null);
if (waiting.size > 0) send(SEND_MS);

function stored(id: string): Stored | undefined {
  try {
    const found = localStorage.getItem(KEY + id);
    return found ? (JSON.parse(found) as Stored) : undefined;
  } catch {
    return undefined;
  }
}

/** Keep what is written of an entry; nothing: it is as it is saved, and there is nothing to keep. */
export function keep<D>(id: string, kept: Kept<D> | undefined): void {
  const doc = kept && JSON.stringify(kept.draft);
  if (kept || stored(id)) touched.add(id);
  if (doc === stored(id)?.doc) return;
  const entry = kept && doc ? { version: kept.version, doc, at: new Date().toISOString() } : null;
  try {
    if (entry) localStorage.setItem(KEY + id, JSON.stringify(entry));
    else localStorage.removeItem(KEY + id);
  } catch {
    // No room on the tablet: the server has it.
  }
  mark(id, !entry);
  waiting.set(id, entry);
  send(SEND_MS);
}

/** What this tablet holds of an entry that is not saved. */
export function draftOf<D>(id: string, elsewhere: readonly { entry_id: string; version: number; doc: string }[] = []) {
  const own = stored(id);
  const known = touched.has(id) || localStorage.getItem(GONE + id) !== null;
  const there = elsewhere.find((d) => d.entry_id === id && !known && d.doc.startsWith(SHAPE));
  const found = own ?? (there && { version: there.version, doc: there.doc.slice(SHAPE.length), at: "" });
  return found && ({ version: found.version, draft: JSON.parse(found.doc) as D } satisfies Kept<D>);
}

/** The entries of which this tablet holds something that is not saved. */
export const unsaved = (): string[] =>
  Object.keys(localStorage).flatMap((key) => (key.startsWith(KEY) ? [key.slice(KEY.length)] : []));

/** What the server keeps for this tablet, for the day its browser has lost it. */
export const draftsQuery = queryOptions({
  queryKey: ["drafts"],
  queryFn: () => answer(http.GET("/api/drafts/{tablet}", { params: { path: { tablet: tablet() } } }), true),
  staleTime: Number.POSITIVE_INFINITY,
  retry: false,
});
