import { useRef, useState } from "react";
import { type BatchView, Refused, type Step } from "../../api/client";
import { appNow } from "../../api/clock";
import { Box } from "../../kit/Box";
import { useDegrees } from "../../kit/degrees";
import type { event } from "../../kit/event";
import { Choice, Labelled } from "../../kit/Field";
import { TakePicture } from "../../kit/TakePicture";
import { words } from "../../words";

export type Send = (...what: Parameters<typeof event>) => Promise<void>;

export function Answer({ word, save, close }: { word: string; save: () => Promise<void>; close: () => void }) {
  return (
    <div className="flex gap-3">
      <button type="button" className="press press-first min-h-14 grow text-m" onClick={() => void save()}>
        {word}
      </button>
      <button type="button" className="press min-h-14" onClick={close}>
        {words.bench.close}
      </button>
    </div>
  );
}

export const sentence = (failure: unknown) =>
  failure instanceof Refused ? (failure.errors[0]?.says ?? failure.message) : words.bench.thisWasNotKeptTryAgain;

/** A reading so far from what is expected, and in the other unit so near, is asked about. */
const [FAR_K, NEAR_K] = [25, 15];
const ASKED_MS = 120_000;
/** When a reading was taken that is typed just after a step was said to be done; ms before that. */
const TAKEN = [
  ["now", words.bench.justNow],
  ["0", words.bench.asItWasDone],
  ["30000", words.bench.halfAMinuteBeforeItWas],
  ["60000", words.bench.aMinuteBeforeItWasDone],
] as const;
type Taken = "" | (typeof TAKEN)[number][0];

/** What was said to be done in the last two minutes, and when: what is typed now may have been read before it. */
function useJustDone(view: BatchView): { step: Step; at: number } | undefined {
  const entry = view.events.findLast(
    ({ event: e }) => e.kind === "step done" && view.state.done.includes(e.step as string),
  )?.event;
  const step = view.process.steps.find((s) => s.key === entry?.step);
  return entry && step && appNow() - Date.parse(entry.at) < ASKED_MS ? { step, at: Date.parse(entry.at) } : undefined;
}

/** A figure typed by hand: always as good as a device. */
export function ReadingDialog({
  step,
  view,
  close,
  send,
}: {
  step: Step;
  view: BatchView;
  close: () => void;
  send: Send;
}) {
  const [just] = useState(useJustDone(view));
  const degrees = useDegrees();
  const owed = view.process.steps.flatMap((s) =>
    view.state.done.includes(s.key)
      ? s.asks
          .filter((a) => a.key.startsWith("amount-") && !view.state.readings.some((r) => r.name === a.key))
          .map((a) => ({ ...a, of: s }))
      : [],
  );
  const asks = [
    ...step.asks.map((a) => ({ ...a, of: step })),
    ...owed.filter((a) => a.expected == null),
    ...(just?.step.asks ?? []).filter((a) => a.trace).map((a) => ({ ...a, of: just?.step as Step })),
    ...owed.filter((a) => a.expected != null), // what was poured otherwise than written can be told whenever it is poured
  ];
  const id = (a: (typeof asks)[number]) => (a.of.key === step.key ? a.key : `${a.of.key}/${a.key}`);
  const [at, setAt] = useState(asks[0] && id(asks[0]));
  const [taken, setTaken] = useState<Taken>("now");
  const [thermometer, setThermometer] = useState(() => localStorage.getItem("gullpeak-thermometer") ?? "");
  const [coldest, setColdest] = useState(false);
  const [typed, setTyped] = useState("");
  const [problem, setProblem] = useState<string>();
  const ask = asks.find((a) => id(a) === at);
  if (!ask)
    return (
      <Box wet title={words.bench.reading} close={close}>
        <p className="text-m">{words.bench.noFigureIsRecordedAtThis}</p>
        <button type="button" className="press min-h-14" onClick={close}>
          {words.bench.close}
        </button>
      </Box>
    );
  const watch = view.process.watches.find((w) => w.key === ask.of.watch);
  const thermometers = watch?.probes ?? [];
  const heat = ask.unit === "°C";
  const unit = heat ? degrees.sign : ask.unit;
  const inUnit = (figure: number) => (heat ? degrees.figure(figure, { digits: 0 }) : String(Math.round(figure)));
  const temperature = ask.trace && ask.unit === "°C";
  const named = temperature && thermometers.length > 0;
  const chosen = thermometers.some((t) => t.key === thermometer) ? thermometer : "";
  const choose = (chosen: string) => {
    localStorage.setItem("gullpeak-thermometer", chosen);
    setThermometer(chosen);
  };
  const which = (next: string) => {
    setAt(next);
    setTaken(next.includes("/") ? "" : "now");
  };
  const save = async () => {
    const value = heat
      ? degrees.read(typed)
      : typed.trim()
        ? Number(typed.replace(",", ".").replace(/\s*g$/i, ""))
        : undefined;
    if (value === undefined || !Number.isFinite(value))
      return setProblem(words.bench.writeTheAsANumberSuch(unit, ask.expected ? inUnit(ask.expected) : 100));
    const other =
      heat && /\d\s*°?\s*$/.test(typed) ? degrees.read(`${typed} ${degrees.sign === "°C" ? "F" : "C"}`) : undefined;
    const near = ask.expected ?? watch?.target_c;
    if (
      other !== undefined &&
      near !== undefined &&
      Math.abs(value - near) > FAR_K &&
      Math.abs(other - near) < NEAR_K
    ) {
      const [ours, theirs] = degrees.sign === "°C" ? ["C", "F"] : ["F", "C"];
      return setProblem(
        words.bench.isFarFromTheExpectedWrite(
          typed.trim(),
          degrees.sign,
          degrees.show(near, { digits: 0 }),
          typed.trim(),
          theirs,
          theirs,
          typed.trim(),
          ours,
        ),
      );
    }
    if (taken === "") return setProblem(words.bench.sayBelowWhenItWasTaken);
    const when = just && taken !== "now" ? { at: new Date(just.at - Number(taken)).toISOString() } : {};
    try {
      await send("reading", {
        step: ask.of.key,
        name: ask.key,
        value,
        ...when,
        ...(named ? { thermometer: chosen } : {}),
      });
      if (temperature && coldest) await send("check", { step: ask.of.key, name: "coldest", passed: true, ...when });
      close();
    } catch (failure) {
      setProblem(sentence(failure));
    }
  };
  return (
    <Box wet title={ask.asks} close={close}>
      {asks.length > 1 && (
        <Choice
          label={words.bench.which}
          value={id(ask)}
          options={asks.map((a) => [id(a), a.of.key === step.key ? a.asks : `${a.asks}, at “${a.of.title}”`] as const)}
          onChange={which}
        />
      )}
      <Labelled
        label={`In ${unit}`}
        error={problem}
        hint={
          ask.expected
            ? `about ${inUnit(ask.expected)} ${unit} is expected${ask.low && ask.high ? words.bench.toIsAsItShouldBe(inUnit(ask.low), inUnit(ask.high)) : ""}`
            : undefined
        }
      >
        {(ids) => (
          <input
            {...ids}
            autoFocus
            inputMode="decimal"
            className="min-h-16 text-l"
            value={typed}
            maxLength={12}
            onChange={(e) => setTyped(e.target.value)}
            onKeyDown={(e) => e.key === "Enter" && void save()}
          />
        )}
      </Labelled>
      {just && ask.trace && (
        <Choice
          label={words.bench.taken}
          value={taken}
          options={[...(taken === "" ? ([["", words.bench.choose]] as const) : []), ...TAKEN]}
          onChange={setTaken}
          hint={words.bench.wasJustSaidToBeDone(just.step.title)}
        />
      )}
      {named && (
        <Choice
          label={words.bench.thermometer}
          value={chosen}
          options={[["", words.bench.anotherNotInKitchen], ...thermometers.map((t) => [t.key, t.name] as const)]}
          onChange={choose}
        />
      )}
      {temperature && ask.of.checks.some((c) => c.key === "coldest") && (
        <label className="flex min-h-14 items-center gap-3 text-m">
          <input type="checkbox" className="size-6" checked={coldest} onChange={(e) => setColdest(e.target.checked)} />
          {words.bench.stirredAndTheColdestOfThree}
        </label>
      )}
      <Answer word={words.bench.record} save={save} close={close} />
    </Box>
  );
}

/** Each check with what a pass looks like. */
export function CheckDialog({
  step,
  view,
  close,
  send,
}: {
  step: Step;
  view: BatchView;
  close: () => void;
  send: Send;
}) {
  // A quick hand answers the next before the last is sent: what is answered is kept outside the drawing.
  const { current: answered } = useRef(
    new Map(view.state.checks.filter((c) => c.step === step.key).map((c) => [c.name, c.passed])),
  );
  const [problem, setProblem] = useState<string>();
  const say = async (name: string, passed: boolean) => {
    try {
      await send("check", { step: step.key, name, passed });
      answered.set(name, passed);
      if (!passed || step.checks.every((c) => answered.get(c.key))) close();
    } catch (failure) {
      setProblem(sentence(failure));
    }
  };
  return (
    <Box wet title={words.bench.check} close={close}>
      {step.checks.map((check) => (
        <div key={check.key} className="border-b border-hairline pb-4">
          <p className="text-m font-bold">{check.asks}</p>
          <p className="text-m">
            {words.bench.aPass} {check.passes}.
            {answered.has(check.key) && (
              <span className="text-quiet">
                {" "}
                {words.bench.lastSaid} {answered.get(check.key) ? "yes" : words.bench.notYet4}.
              </span>
            )}
          </p>
          <div className="mt-2 grid grid-cols-2 gap-3">
            <button
              type="button"
              className="press press-first min-h-14 text-m"
              aria-label={words.bench.itPasses(check.asks)}
              onClick={() => void say(check.key, true)}
            >
              {words.bench.itPasses2}
            </button>
            <button
              type="button"
              className="press min-h-14 text-m"
              aria-label={words.bench.notYet2(check.asks)}
              onClick={() => void say(check.key, false)}
            >
              {words.bench.notYet3}
            </button>
          </div>
          <div className="mt-2">
            <TakePicture batch={view.id} step={step.key} check={check.key} of={check.asks} />
          </div>
        </div>
      ))}
      {problem && <p role="alert">{problem}</p>}
      <button type="button" className="press min-h-14" onClick={close}>
        {words.bench.close}
      </button>
    </Box>
  );
}

/** A note, or why the batch is given up, in the cook's own words. */
export function NoteDialog({
  kind,
  step,
  close,
  send,
}: {
  kind: "note" | "abandoned";
  step: Step | undefined;
  close: () => void;
  send: Send;
}) {
  const [text, setText] = useState("");
  const [problem, setProblem] = useState<string>();
  const save = async () => {
    if (!text.trim()) return setProblem(words.bench.writeAWordOrTwo);
    try {
      await send(kind, { text: text.trim(), step: step?.key ?? null });
      close();
    } catch (failure) {
      setProblem(sentence(failure));
    }
  };
  return (
    <Box wet title={kind === "note" ? words.bench.note : words.bench.abandonTheBatch} close={close}>
      <Labelled label={kind === "note" ? words.bench.whatYouSawOrDid : words.bench.whyItIsGivenUp} error={problem}>
        {(ids) => (
          <textarea
            {...ids}
            autoFocus
            className="min-h-28 text-m"
            maxLength={4000}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        )}
      </Labelled>
      <Answer word={kind === "note" ? words.bench.record : words.bench.abandonIt} save={save} close={close} />
    </Box>
  );
}
