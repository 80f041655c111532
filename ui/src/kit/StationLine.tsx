import type { ReactNode } from "react";
import type { Refused } from "../api/client";
import { words } from "../words";
import { TypedField } from "./Field";
import { useKeys } from "./useKeys";

/** A line of a closed station: what it is, and how much, how long or how hot. */
export interface StopLine {
  name: string;
  says: string;
  quiet?: boolean;
}

/** One station of a line: closed its picture, its figure and its lines, open the whole of it with its controls. */
export interface Stop<K extends string> {
  key: K;
  title: string;
  /** What a closed station is called by one who cannot see it. */
  label: string;
  closed: ReactNode;
  figure?: ReactNode;
  tells: string;
  lines: readonly StopLine[];
  loud: number;
  open: ReactNode;
  moves?: ReactNode;
}

/** Side by side where there is room for so many, else one under the other. */
const SIDE_BY_SIDE = {
  few: {
    line: "lg:flex-row",
    stop: "lg:sticky lg:top-2 lg:min-h-[calc(100dvh-10.5rem)] print:min-h-0 lg:self-start print:static print:self-auto lg:min-w-32 lg:grow lg:basis-0",
    open: "lg:min-h-[calc(100dvh-10.5rem)] print:min-h-0 lg:grow-[4] lg:basis-0",
    within: "lg:flex lg:flex-col lg:gap-1.5",
    picture: "lg:h-24 lg:w-full",
  },
  many: {
    line: "xl:flex-row",
    stop: "xl:sticky xl:top-2 xl:min-h-[calc(100dvh-10.5rem)] print:min-h-0 xl:self-start print:static print:self-auto xl:min-w-31 xl:grow xl:basis-0",
    open: "xl:min-h-[calc(100dvh-10.5rem)] print:min-h-0 xl:grow-[3.4] xl:basis-0",
    within: "xl:flex xl:flex-col xl:gap-1.5",
    picture: "xl:h-24 xl:w-full",
  },
} as const;

/** The line of stations, left to right: each with its picture, its figure and its lines, one open with its controls. Arrows and numbers move along it. */
export function StationLine<K extends string>({
  stops,
  shown,
  show,
  undo,
}: {
  stops: readonly Stop<K>[];
  shown: K;
  show: (key: K) => void;
  undo: () => void;
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
  const side = SIDE_BY_SIDE[stops.length > 5 ? "many" : "few"];
  return (
    <div className={`flex grow flex-col gap-2 print:grid print:grid-cols-4 ${side.line}`} data-testid="line">
      {stops.map((stop) => (
        <section
          key={stop.key}
          aria-labelledby={`station-${stop.key}`}
          data-station={stop.key}
          className={`relative min-w-0 break-inside-avoid rounded-panel border border-hairline bg-surface ${
            stop.key === shown ? `border-t-4 border-t-deep print:border-t ${side.open}` : side.stop
          }`}
        >
          {stop.key === shown ? (
            <>
              <div className="@container flex flex-col gap-3 p-3.5 print:hidden">
                <h2 id={`station-${stop.key}`} className="text-m">
                  {stop.title}
                </h2>
                {stop.open}
                {stop.moves}
              </div>
              <Closed stop={stop} side={side} printed />
            </>
          ) : (
            <>
              <button
                type="button"
                className="absolute inset-0 z-1 rounded-panel print:hidden"
                onClick={() => show(stop.key)}
                aria-label={words.kit.open(stop.label)}
              />
              <Closed stop={stop} side={side} />
            </>
          )}
        </section>
      ))}
    </div>
  );
}

/** A station as it is read without opening it. printed: only on paper, where the open one is read so as well. */
function Closed<K extends string>({
  stop,
  side,
  printed = false,
}: {
  stop: Stop<K>;
  side: (typeof SIDE_BY_SIDE)["few" | "many"];
  printed?: boolean;
}) {
  return (
    <article
      className={`${printed ? "hidden print:block" : `grid grid-cols-[7rem_1fr] gap-x-4 gap-y-1 sm:grid-cols-[7rem_11rem_1fr] print:block ${side.within}`} p-2.5`}
    >
      <h2 id={printed ? undefined : `station-${stop.key}`} className="col-span-full text-m">
        {stop.title}
      </h2>
      <div className={`flex h-20 items-end justify-center print:h-16 ${side.picture}`} aria-hidden="true">
        {stop.closed}
      </div>
      <div className="min-w-0">
        {stop.figure}
        <p className="text-s leading-snug text-quiet">{stop.tells}</p>
        {stop.loud > 0 && (
          <b className="text-s">{stop.loud === 1 ? words.kit.n1ThingToLookAt : words.kit.thingsToLookAt(stop.loud)}</b>
        )}
        {!printed && stop.moves}
      </div>
      <dl className="col-span-full sm:col-span-1 sm:max-lg:columns-2 sm:max-lg:gap-x-6 print:columns-1">
        {stop.lines.map((line) => (
          <div
            key={line.name + line.says}
            className={`flex flex-wrap break-inside-avoid items-baseline justify-between gap-x-2 border-t border-hairline py-1 text-s leading-snug ${line.quiet ? "text-quiet" : ""}`}
          >
            <dt>{line.name}</dt>
            <dd className="ml-auto text-right font-bold">{line.says}</dd>
          </div>
        ))}
      </dl>
    </article>
  );
}

const LONG_NAME = 56;

/** The name at the head of a sheet: large, a long one smaller. */
export const NameOf = ({ name }: { name: string }) => (
  <h1 className={name.length > LONG_NAME ? "text-m" : "text-l"}>{name}</h1>
);

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
      <div className="flex min-w-0 flex-col gap-2">
        {name}
        <TypedField
          label={words.kit.tags}
          hint={words.kit.tagsHint}
          shown={tags.join(", ")}
          width="w-80 max-w-full"
          read={(typed) => put({ tags: [...new Set(typed.split(",").flatMap((tag) => tag.trim() || []))] })}
        />
      </div>
      <label className="flex min-w-0 grow flex-col text-s text-quiet">
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
