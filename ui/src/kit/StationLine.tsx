import type { ReactNode } from "react";
import type { Refused } from "../api/client";
import { words } from "../words";
import { TypedField } from "./Field";
import { useKeys } from "./useKeys";

/** One station of a line: closed a picture with its figure, open the whole of it. */
export interface Stop<K extends string> {
  key: K;
  title: string;
  /** What a closed station is called by one who cannot see it. */
  label: string;
  closed: ReactNode;
  figure?: ReactNode;
  tells: string;
  loud: number;
  open: ReactNode;
  moves?: ReactNode;
}

/** The line of stations, left to right: every vital figure in sight, one station open. Arrows and numbers move along it. */
export function StationLine<K extends string>({
  stops,
  shown,
  show,
  undo,
  narrow,
}: {
  stops: readonly Stop<K>[];
  shown: K;
  show: (key: K) => void;
  undo: () => void;
  narrow: string;
}) {
  const at = stops.findIndex((s) => s.key === shown);
  const move = (to: number) => {
    const key = stops[to]?.key;
    if (key) show(key);
    return Boolean(key);
  };
  useKeys((key, event) => {
    if (event.ctrlKey && key === "z") {
      undo();
      return true;
    }
    if (event.ctrlKey) return false;
    if (key === "ArrowRight") return move(at + 1);
    if (key === "ArrowLeft") return move(at - 1);
    return /^[1-7]$/.test(key) ? move(Number(key) - 1) : false;
  });
  return (
    <div
      className="flex grow flex-col border border-hairline bg-surface lg:min-h-[34rem] lg:flex-row"
      data-testid="line"
    >
      {stops.map((stop) => (
        <section
          key={stop.key}
          aria-labelledby={`station-${stop.key}`}
          data-station={stop.key}
          className={`flex min-w-0 flex-col border-hairline not-last:border-b lg:not-last:border-r lg:not-last:border-b-0 ${stop.key === shown ? "grow basis-0 border-t-4 border-t-deep" : `${narrow} lg:shrink-0`}`}
        >
          {stop.key === shown ? (
            <div className="flex grow flex-col gap-3 p-4">
              <h2 id={`station-${stop.key}`} className="text-m">
                {stop.title}
              </h2>
              {stop.open}
              {stop.moves}
            </div>
          ) : (
            <button
              type="button"
              className="flex min-h-14 grow flex-row items-center gap-3 p-2 text-left lg:flex-col lg:items-stretch"
              onClick={() => show(stop.key)}
              aria-label={words.kit.open(stop.label)}
            >
              <span id={`station-${stop.key}`} className="font-name text-m font-semibold max-lg:w-24">
                {stop.title}
              </span>
              <span className="hidden h-64 items-center justify-center lg:flex" aria-hidden="true">
                {stop.closed}
              </span>
              {stop.figure}
              <span className="text-s text-quiet">{stop.tells}</span>
              {stop.loud > 0 && (
                <b className="text-s">
                  {stop.loud === 1 ? words.kit.n1ThingToLookAt : words.kit.thingsToLookAt(stop.loud)}
                </b>
              )}
              {stop.moves}
            </button>
          )}
        </section>
      ))}
    </div>
  );
}

/** How many remarks ask to be looked at. */
export const loud = (remarks: readonly { severity: string }[]) =>
  remarks.filter((r) => r.severity === "warning" || r.severity === "danger").length;

/** What could not be worked out, over the figures that still stand. */
export function NotWorkedOut({ refused, again }: { refused: Refused; again: () => void }) {
  return (
    <p role="alert" className="border-l-4 border-deep bg-surface p-2 pl-3 text-s">
      <b>{words.kit.notWorkedOut}</b> {refused.errors[0]?.says ?? refused.message}{" "}
      {words.kit.theFiguresBelowAreFromBefore}{" "}
      {refused.offline && (
        <button type="button" className="min-h-11 underline" onClick={again}>
          {words.kit.tryAgain}
        </button>
      )}
    </p>
  );
}

/** Name and notes, and what can be taken out as a file. */
export function NameAndNotes({
  name,
  notes,
  tags = [],
  put,
  children,
}: {
  name: ReactNode;
  notes: string;
  tags?: readonly string[];
  put: (change: { notes: string } | { tags: string[] }) => void;
  children: ReactNode;
}) {
  return (
    <div className="flex flex-wrap gap-4 py-2">
      <div className="flex flex-col gap-2">
        {name}
        <TypedField
          label={words.kit.tags}
          hint={words.kit.tagsHint}
          shown={tags.join(", ")}
          width="w-80 max-w-full"
          read={(typed) => put({ tags: [...new Set(typed.split(",").flatMap((tag) => tag.trim() || []))] })}
        />
      </div>
      <label className="flex grow flex-col text-s text-quiet">
        {words.kit.notes}
        <textarea
          className="min-h-16 w-full text-ink"
          maxLength={4000}
          value={notes}
          onChange={(e) => put({ notes: e.target.value })}
        />
      </label>
      {children}
    </div>
  );
}
