import type { BatchView, Step, Timer, Watching } from "../../api/client";
import { useDegrees } from "../../kit/degrees";
import { clock, minutes } from "../../kit/format";
import { Caution } from "../../kit/Remarks";
import { useNow } from "../../kit/useNow";
import { words } from "../../words";
import { Aloud } from "./Aloud";
import { StateToReach } from "./StateToReach";

/** Letters of a sign that a button has room for. */
const MOST_SIGN = 48;

/** What the one large button says: the sign to look for, where there is one in few words. */
export function signOf(step: Step | undefined): string {
  if (!step || step.key === "finish") return words.bench.sayHowItCameOut;
  if (step.opens === "start") return words.bench.whitesStarted;
  if (step.key === "whites") return words.bench.readyToPour;
  const sign = step.until[0];
  return sign && sign.length <= MOST_SIGN ? sign.charAt(0).toUpperCase() + sign.slice(1) : words.bench.done;
}

/** On a phone, where the picture is below: what the thermometer reads, or what the timer has left. */
export function Vital({ watching, timer }: { watching: Watching | undefined; timer: Timer | undefined }) {
  const degrees = useDegrees();
  const now = useNow();
  const read = watching?.latest_c;
  const left = timer && (Date.parse(timer.started) + timer.minutes * 60_000 - now) / 1000;
  const target = watching?.milestones.find((m) => m.key === "target");
  if (left !== undefined)
    return (
      <p
        className={`font-name text-[3.4rem] leading-none font-semibold lg:hidden ${left <= 60 ? "bg-bill px-2 text-[#0F2A30]" : ""}`}
      >
        {left > 0 ? clock(left) : words.bench.lookNow}
      </p>
    );
  if (read === null || read === undefined) return null;
  return (
    <p className="lg:hidden">
      <span className="font-name text-[3.4rem] leading-none font-semibold">{degrees.figure(read)}</span>
      <span className="text-m"> {degrees.sign}</span>
      <span className="block text-m">
        {target?.at_s !== null && target?.at_s !== undefined && watching && !watching.reached
          ? words.bench.toReach(clock(target.at_s - watching.now_s), degrees.show(watching.target_c, { digits: 0 }))
          : words.bench.target(degrees.show(watching?.target_c ?? 0, { digits: 0 }))}
      </span>
    </p>
  );
}

/** The state to reach, drawn and in words, with how long it takes as a guide. */
export function Sign({ step, view }: { step: Step; view: BatchView }) {
  const picture = <StateToReach step={step} sheet={view.sheet} />;
  const [first, ...more] = step.until;
  return (
    <div className="flex items-center gap-5 border-y border-hairline py-2">
      <div className="grid h-24 w-36 shrink-0 place-items-center max-md:h-20 max-md:w-24">{picture}</div>
      <p className="min-w-0 text-m">
        {first && (
          <b className="block text-[1.35rem] leading-tight">
            {words.bench.until} {first}
          </b>
        )}
        {more.length > 0 && <span className="block">{words.bench.andMore(more.join(", "))}</span>}
        <span className="block text-s text-quiet">
          {step.low_min === step.high_min
            ? minutes(step.low_min)
            : `${minutes(step.low_min)} to ${minutes(step.high_min)}`}
          {words.bench.asAGuide}
        </span>
      </p>
    </div>
  );
}

/** What to do in this step, and what to do where a check failed. */
export function TheStep({ step, view, again }: { step: Step; view: BatchView; again: () => void }) {
  const fails = view.state.checks
    .filter((c) => c.step === step.key && view.state.open_fails.includes(c.name))
    .slice(-1);
  const says = [step.title, ...step.says, ...step.until.map((sign) => `${words.bench.until} ${sign}`)].join(". ");
  return (
    <div className="flex flex-col gap-3">
      {step.caution && <Caution says={step.caution} />}
      {(view.trials[step.key] ?? []).map((trial) => (
        <p key={trial.id} className="border-l-4 border-deep pl-3 text-m">
          <b>
            {words.bench.onTrialAgainst} {trial.signs.join(", ")}:
          </b>{" "}
          {trial.says}
        </p>
      ))}
      {step.says.length > 0 && (
        <ul className="flex flex-col gap-1 text-m">
          {step.says.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      )}
      {fails.map((fail) => (
        <div key={fail.event} role="status" className="border-l-4 border-bill pl-3">
          <p className="text-m font-bold">
            {fail.asks} {words.bench.notYet}
          </p>
          <ol className="list-inside list-decimal text-m">
            {fail.remedies.map((way) => (
              <li key={way}>{way}</li>
            ))}
          </ol>
          <button type="button" className="press mt-2 min-h-14" onClick={again}>
            {words.bench.lookAgain}
          </button>
        </div>
      ))}
      {step.checks.length > 0 && (
        <ul className="divide-y divide-hairline border-y border-hairline">
          {step.checks.map((check) => {
            const passed = view.state.checks.findLast((c) => c.step === step.key && c.name === check.key)?.passed;
            return (
              <li key={check.key} className="grid gap-x-3 py-2 sm:grid-cols-[5.5rem_1fr]">
                <b className="text-m">
                  {passed === undefined ? words.bench.toCheck : passed ? words.bench.passed : words.bench.notYet4}
                </b>
                <span>
                  <span className="text-m">{check.asks}</span> <span className="text-s text-quiet">{check.passes}</span>
                  {passed !== true && check.on_fail[0] && (
                    <span className="block text-s">
                      <b>{words.bench.ifNot}</b> {check.on_fail[0]}
                    </span>
                  )}
                </span>
              </li>
            );
          })}
        </ul>
      )}
      <Aloud says={says} />
    </div>
  );
}
