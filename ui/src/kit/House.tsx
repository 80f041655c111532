import { useQuery } from "@tanstack/react-query";
import { DropdownMenu } from "radix-ui";
import { type ReactNode, useEffect, useRef, useState, useSyncExternalStore } from "react";
import { Link, NavLink, useLocation, useNavigate } from "react-router";
import { clockHeard } from "../api/clock";
import { listen, outbox } from "../api/outbox";
import { kitchenQuery, underWayQuery } from "../api/queries";
import { Mark } from "../food/Peak";
import { words } from "../words";
import { Box } from "./Box";
import { setSound, soundOn } from "./beep";
import { clock } from "./format";
import { writeFor } from "./locale";
import { Contained } from "./Place";
import { Standing } from "./Standing";
import { useArrival } from "./useArrival";
import { useKeys } from "./useKeys";
import { useNow } from "./useNow";
import { useRing } from "./useRing";

/** Each place: its path, its name, the key that goes there after `g`. */
const PLACES = [
  ["/day", words.kit.today, "t"],
  ["/recipes", words.kit.book, "r"],
  ["/bench", words.kit.bench, "b"],
  ["/log", words.kit.log, "l"],
  ["/eggs", words.kit.eggs, "e"],
  ["/stock", words.kit.stock, "s"],
  ["/practice", words.kit.practice, "p"],
  ["/kitchen", words.kit.kitchen, "k"],
] as const;
/** What stands in the book has addresses of its own. */
const within = (path: string, at: string) => path === "/recipes" && /^\/(products|write)\b/.test(at);
/** What a phone shows along its foot; the rest under one press. */
const AT_FOOT = ["/day", "/bench", "/recipes", "/eggs"];

const KEYS = [
  [
    `g ${words.kit.andThen} ${PLACES.map(([, , letter]) => letter).join(", ")}`,
    words.kit.goTo(PLACES.map(([, name]) => name).join(", ")),
  ],
  [words.kit.arrowsOr1To7, words.kit.inASheetMoveBetweenStations],
  [words.kit.ctrlZ, words.kit.inASheetUndo],
  ["Space", words.kit.atTheBenchDoneHoldIt],
  ["R, C, N", words.kit.atTheBenchReadingCheckNote],
  ["U", words.kit.atTheBenchTakeBackThe],
  ["↑ ↓ ← →", words.kit.onADayToTheNext],
  ["− +", words.kit.onADayHoldTheStep],
  [words.kit.spaceI, words.kit.inPractice],
  ["?", words.kit.thisList],
] as const;

/** The frame round every place: the mark, the places, and what needs hands now. */
export function House({ children }: { children: ReactNode }) {
  const [help, setHelp] = useState(false);
  const [going, setGoing] = useState(false);
  const [sound, setSoundOn] = useState(soundOn);
  const [dim, setDim] = useState(() => localStorage.getItem("gullpeak-dim") === "yes");
  const main = useRef<HTMLElement>(null);
  const { pathname } = useLocation();
  const go = useNavigate();
  writeFor(useQuery(kitchenQuery).data?.kitchen.habits);
  useArrival(main, pathname);
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
  const switches = [
    [
      `${words.kit.sound} ${sound ? words.kit.on : words.kit.off}`,
      () => {
        setSoundOn(!sound);
        setSound(!sound);
      },
      sound,
    ],
    [words.kit.dim, () => setDim(!dim), dim],
    [words.kit.keys, () => setHelp(true), undefined],
  ] as const;
  return (
    <>
      <a
        href="#place"
        className="sr-only focus:not-sr-only focus:fixed focus:top-2 focus:left-2 focus:z-40 focus:bg-surface focus:p-3"
      >
        {words.kit.skip}
      </a>
      <header className="flex min-h-14 flex-wrap items-center gap-x-6 gap-y-1 border-b border-hairline bg-bar px-4 md:px-6 xl:flex-nowrap print:hidden">
        <Link
          to="/recipes"
          className="flex min-h-11 shrink-0 items-center gap-3 font-name text-m font-semibold whitespace-nowrap"
        >
          <Mark /> {words.kit.gullPeak}
        </Link>
        <nav aria-label={words.kit.places} className="hidden flex-wrap md:flex xl:shrink-0 xl:flex-nowrap">
          {PLACES.map(([path, name]) => (
            <NavLink
              key={path}
              to={path}
              className={({ isActive }) =>
                `flex min-h-14 items-center border-b-3 px-3 text-m ${isActive || within(path, pathname) ? "border-ink font-bold" : "border-clear text-quiet"}`
              }
            >
              {name}
            </NavLink>
          ))}
        </nav>
        <div className="ml-auto flex min-w-0 items-center gap-3">
          <Signal />
          <span className="hidden items-center gap-3 md:flex">
            {switches.map(([name, press, pressed]) => (
              <button
                key={name}
                type="button"
                className="min-h-11 px-2 text-s whitespace-nowrap text-quiet underline"
                aria-pressed={pressed}
                onClick={press}
              >
                {name}
              </button>
            ))}
          </span>
        </div>
      </header>
      <Standing />
      <main ref={main} id="place" tabIndex={-1} className="flex grow flex-col outline-none max-md:pb-16">
        <Contained at={pathname}>{children}</Contained>
      </main>
      <Foot at={pathname} switches={switches} />
      {help && (
        <Box title={words.kit.keys} close={() => setHelp(false)}>
          <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-2">
            {KEYS.map(([keys, does]) => (
              <div key={keys} className="contents">
                <dt className="font-bold">{keys}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
          <button type="button" className="press self-start" onClick={() => setHelp(false)}>
            {words.kit.close}
          </button>
        </Box>
      )}
    </>
  );
}

/** On a phone: the places a cook is in and out of along the foot of the screen, the others and the switches under More. */
function Foot({
  at,
  switches,
}: {
  at: string;
  switches: readonly (readonly [string, () => void, boolean | undefined])[];
}) {
  const look = (on: boolean) =>
    `flex min-h-14 grow items-center justify-center border-t-3 px-2 text-s ${on ? "border-ink font-bold" : "border-clear text-quiet"}`;
  const rest = PLACES.filter(([path]) => !AT_FOOT.includes(path));
  return (
    <nav
      aria-label={words.kit.places}
      className="fixed inset-x-0 bottom-0 z-10 flex border-t border-hairline bg-bar md:hidden print:hidden"
    >
      {AT_FOOT.map((path) => (
        <NavLink key={path} to={path} className={({ isActive }) => look(isActive || within(path, at))}>
          {PLACES.find(([of]) => of === path)?.[1]}
        </NavLink>
      ))}
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className={look(rest.some(([path]) => at.startsWith(path)))}>
          {words.kit.more}
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            collisionPadding={8}
            sideOffset={6}
            className="z-30 min-w-52 rounded-panel border border-deep bg-surface p-2"
          >
            {rest.map(([path, name]) => (
              <DropdownMenu.Item key={path} asChild>
                <Link to={path} className="flex min-h-12 items-center px-3">
                  {name}
                </Link>
              </DropdownMenu.Item>
            ))}
            <DropdownMenu.Separator className="my-1 h-px bg-hairline" />
            {switches.map(([name, press]) => (
              <DropdownMenu.Item key={name} className="flex min-h-12 items-center px-3 text-quiet" onSelect={press}>
                {name}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </nav>
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
          className="flex min-h-11 min-w-0 max-w-100 items-center rounded-k bg-bill px-3 text-s leading-tight text-[#0F2A30]"
        >
          <span>
            <b>{batch.name}</b>: {batch.calls}
          </span>
        </Link>
      ))}
      {next && (
        <Link
          to={`/bench/${next.id}`}
          className={`flex min-h-11 min-w-0 max-w-100 items-center rounded-k px-3 text-s leading-tight ${next.left <= 60 ? "bg-bill text-[#0F2A30]" : "border border-hairline"}`}
        >
          <span>
            <b className={calls.length > 0 ? "sr-only" : ""}>{next.name}:</b>{" "}
            {next.left <= 0 ? words.kit.lookNow3 : clock(next.left)}
          </span>
        </Link>
      )}
    </>
  );
}
