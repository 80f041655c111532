import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { type ReactNode, useEffect, useState, useSyncExternalStore } from "react";
import { Link, NavLink, useLocation, useNavigate } from "react-router";
import { clockHeard } from "../api/clock";
import { listen, outbox } from "../api/outbox";
import { underWayQuery } from "../api/queries";
import { Mark } from "../food/Peak";
import { words } from "../words";
import { setSound, soundOn } from "./beep";
import { clock } from "./format";
import { Contained } from "./Place";
import { Standing } from "./Standing";
import { useKeys } from "./useKeys";
import { useNow } from "./useNow";
import { useRing } from "./useRing";

const PLACES = [
  ["/day", "Day", "d"],
  ["/recipes", "Recipes", "r"],
  ["/bench", "Bench", "b"],
  ["/log", "Log", "l"],
  ["/eggs", "Eggs", "e"],
  ["/stock", "Stock", "s"],
  ["/practice", "Practice", "p"],
  ["/kitchen", "Kitchen", "k"],
] as const;

const KEYS = [
  ["g then d, r, b, l, e, s, p, k", words.kit.goToDayRecipesBenchLog],
  ["← → or 1 to 7", words.kit.inASheetMoveBetweenStations],
  [words.kit.ctrlZ, "in a sheet: undo the last edit"],
  ["Space", words.kit.atTheBenchDoneHoldIt],
  ["R, C, N", words.kit.atTheBenchReadingCheckNote],
  ["U", words.kit.atTheBenchTakeBackThe],
  ["↑ ↓ ← →", words.kit.onADayToTheNext],
  ["− +", words.kit.onADayHoldTheStep],
  [words.kit.spaceI, "in practice: begin or hold the time; show the figures. Each control names its key"],
  ["?", words.kit.thisList],
] as const;

/** The frame round every place: the mark, the places, and what needs hands now. */
export function House({ children }: { children: ReactNode }) {
  const [help, setHelp] = useState(false);
  const [going, setGoing] = useState(false);
  const [sound, setSoundOn] = useState(soundOn);
  const [dim, setDim] = useState(() => localStorage.getItem("gullpeak-dim") === "yes");
  const go = useNavigate();
  useEffect(() => {
    document.documentElement.dataset.dim = dim ? "yes" : "no";
    localStorage.setItem("gullpeak-dim", dim ? "yes" : "no");
  }, [dim]);
  useKeys((key) => {
    if (key === "?") setHelp(true);
    else if (going) {
      setGoing(false);
      const place = PLACES.find(([, , letter]) => letter === key);
      if (place) go(place[0]);
      return Boolean(place);
    } else if (key === "g") setGoing(true);
    else return false;
    return true;
  }, true);
  return (
    <>
      <header className="flex min-h-14 flex-wrap items-center gap-x-6 gap-y-1 xl:h-14 xl:flex-nowrap border-b border-hairline px-4 md:px-6 print:hidden">
        <Link
          to="/recipes"
          className="flex min-h-11 shrink-0 items-center gap-3 font-name text-m font-semibold whitespace-nowrap"
        >
          <Mark /> {words.kit.gullPeak}
        </Link>
        <nav aria-label={words.kit.places} className="flex flex-wrap xl:shrink-0 xl:flex-nowrap">
          {PLACES.map(([path, name]) => (
            <NavLink
              key={path}
              to={path}
              className={({ isActive }) =>
                `flex min-h-14 items-center border-b-3 px-3 text-m ${isActive ? "border-ink font-bold" : "border-clear text-quiet"}`
              }
            >
              {name}
            </NavLink>
          ))}
        </nav>
        <div className="ml-auto flex min-w-0 items-center gap-3">
          <Signal />
          <button
            type="button"
            className="min-h-11 px-2 text-s whitespace-nowrap text-quiet underline"
            aria-pressed={sound}
            onClick={() => {
              setSound(!sound);
              setSoundOn(!sound);
            }}
          >
            {words.kit.sound} {sound ? "on" : "off"}
          </button>
          <button
            type="button"
            className="min-h-11 px-2 text-s whitespace-nowrap text-quiet underline"
            aria-pressed={dim}
            onClick={() => setDim(!dim)}
          >
            {words.kit.dim}
          </button>
          <button
            type="button"
            className="min-h-11 px-2 text-s whitespace-nowrap text-quiet underline"
            onClick={() => setHelp(true)}
          >
            {words.kit.keys}
          </button>
        </div>
      </header>
      <Standing />
      <main className="flex grow flex-col">
        <Contained at={useLocation().pathname}>{children}</Contained>
      </main>
      <Dialog.Root open={help} onOpenChange={setHelp}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-20 bg-black/40" />
          <Dialog.Content
            aria-describedby={undefined}
            className="fixed top-1/2 left-1/2 z-30 w-120 max-w-[94vw] -translate-1/2 rounded-k border border-deep bg-surface p-6"
          >
            <Dialog.Title className="text-m font-bold">{words.kit.keys}</Dialog.Title>
            <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-2">
              {KEYS.map(([keys, does]) => (
                <div key={keys} className="contents">
                  <dt className="font-bold">{keys}</dt>
                  <dd>{does}</dd>
                </div>
              ))}
            </dl>
            <Dialog.Close className="press mt-4">{words.kit.close}</Dialog.Close>
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}

/** The next timer of any batch, in the signal colour only when hands are needed; and what still waits to be sent. */
function Signal() {
  const { waiting: unsent } = useSyncExternalStore((tell) => listen(() => tell()), outbox);
  const { data } = useQuery(underWayQuery);
  const now = useNow();
  const timers = (clockHeard() && data ? data : [])
    .flatMap((batch) =>
      batch.timers.map((timer) => ({
        id: batch.id,
        key: `${batch.id}/${timer.step}/${timer.started}`,
        name: batch.name,
        title: timer.title,
        left: (Date.parse(timer.started) + timer.minutes * 60_000 - now) / 1000,
      })),
    )
    .sort((a, b) => a.left - b.left);
  const next = timers[0];
  const said = useRing(timers);
  const calls = (data ?? []).filter((batch) => batch.calls);
  return (
    <>
      <span className="sr-only" aria-live="assertive">
        {said}
      </span>
      {unsent.length > 0 && (
        <span role="status" className="text-s">
          {unsent.length} {unsent.length === 1 ? words.kit.entryWaits : words.kit.entriesWait} {words.kit.toBeSent}
        </span>
      )}
      {calls.slice(0, 1).map((batch) => (
        <Link
          key={batch.id}
          to={`/bench/${batch.id}`}
          className="flex max-h-13 min-h-11 min-w-0 max-w-100 items-center rounded-k bg-bill px-3 text-s leading-tight text-[#0F2A30]"
        >
          <span className="line-clamp-2">
            <b>{batch.name}</b>: {batch.calls}
          </span>
        </Link>
      ))}
      {next && (
        <Link
          to={`/bench/${next.id}`}
          className={`flex max-h-13 min-h-11 min-w-0 max-w-100 items-center rounded-k px-3 text-s leading-tight ${next.left <= 60 ? "bg-bill text-[#0F2A30]" : "border border-hairline"}`}
        >
          <span className="line-clamp-2">
            <b>{next.name}</b>: {next.left <= 0 ? words.kit.lookNow3 : clock(next.left)}
          </span>
        </Link>
      )}
    </>
  );
}
