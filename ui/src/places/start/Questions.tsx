import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect, useId, useState } from "react";
import { answer, type FirstAnswers, type FirstHour, http, Refused } from "../../api/client";
import { Alert } from "../../kit/Field";
import { fresh, TextField } from "../../kit/fields";
import { words } from "../../words";

type Told = Omit<FirstAnswers, "ovens" | "bowl_l"> & { ovens: Oven[]; bowl: string };
type Oven = { id: string; name: string; fan: boolean; trays: string };

const NOTHING: Told = { ovens: [], bowl: "", height: "" };
const DEGREES = [
  ["C", "°C"],
  ["F", "°F"],
] as const;

const KEPT = "gullpeak-first-told";
/** What was answered before the page was taken anew. */
const kept = (): Told => ({ ...NOTHING, ...JSON.parse(sessionStorage.getItem(KEPT) ?? "{}") });

/** Five things about a kitchen, each answered or left. */
export function Questions({ choices, later }: { choices: FirstHour["choices"]; later: () => void }) {
  const client = useQueryClient();
  const [told, setTold] = useState<Told>(kept);
  const put = (change: Partial<Told>) => setTold((now) => ({ ...now, ...change }));
  useEffect(() => sessionStorage.setItem(KEPT, JSON.stringify(told)), [told]);
  const send = useMutation({
    mutationFn: (body: FirstAnswers) => answer(http.POST("/api/first/kitchen", { body })),
    onSuccess: () => client.invalidateQueries(),
  });
  const bowl = read(told.bowl, 0.3, 200);
  const trays = told.ovens.map((oven) => (/^\d+$/.test(oven.trays.trim()) ? read(oven.trays, 1, 40) : undefined));
  const wrong = bowl === undefined || trays.some((n) => n === undefined || n === null);
  const refused = send.error instanceof Refused ? send.error : undefined;
  const heightRefused = refused?.errors.find((e) => e.field === "height")?.says;
  const go = () => {
    if (wrong) return;
    const { ovens, bowl: _, ...rest } = told;
    const named = ovens.map(({ name, fan }, i) => ({ name: name.trim() || called(fan, i), fan, trays: trays[i] ?? 1 }));
    send.mutate({ ...rest, ovens: named, bowl_l: bowl });
  };
  return (
    <section aria-labelledby="your-kitchen" className="rounded-panel border border-hairline bg-surface p-5">
      <h2 id="your-kitchen" className="font-name text-m">
        {words.start.yourKitchen}
      </h2>
      <p className="text-s text-quiet">{words.start.answerOrLeave}</p>
      <ol className="mt-2 divide-y divide-hairline">
        <Asked says={words.start.howYouMeasure}>
          <OneOf options={choices.measures} value={told.measures} put={(measures) => put({ measures })} />
          <OneOf
            label={words.start.degrees}
            options={DEGREES}
            value={told.degrees}
            put={(degrees) => put({ degrees })}
          />
          <p className="w-full text-s text-quiet">{words.start.measuresHint}</p>
        </Asked>
        <Asked says={words.start.whichEggs}>
          <OneOf
            options={choices.egg_sizes.map((size) => [size, size] as const)}
            value={told.egg_size}
            put={(egg_size) => put({ egg_size })}
          />
        </Asked>
        <Asked says={words.start.whichOvens}>
          <Ovens
            ovens={told.ovens}
            bad={trays.map((n) => n === undefined || n === null)}
            put={(ovens) => put({ ovens })}
          />
        </Asked>
        <Asked says={words.start.whatWhisks}>
          <OneOf options={choices.mixers} value={told.mixer} put={(mixer) => put({ mixer })} />
          <TextField
            label={words.start.bowlHolds}
            value={told.bowl}
            most={6}
            width="w-24"
            hint={bowl === undefined ? words.start.bowlFromTo : undefined}
            put={(typed) => put({ bowl: typed })}
          />
        </Asked>
        <Asked says={words.start.howHigh}>
          <TextField
            label={words.start.heightOrBoiling}
            value={told.height ?? ""}
            most={40}
            width="w-40"
            hint={words.start.heightHint}
            put={(height) => put({ height })}
          />
          <Alert says={heightRefused} />
        </Asked>
      </ol>
      {refused && !heightRefused && <Alert says={refused.errors[0]?.says ?? refused.message} />}
      {send.error && !refused && <Alert says={send.error.message} />}
      <div className="mt-3 flex gap-3">
        <button type="button" className="press press-first" disabled={wrong || send.isPending} onClick={go}>
          {words.start.thatIsMyKitchen}
        </button>
        <button type="button" className="press" onClick={later}>
          {words.start.later}
        </button>
      </div>
    </section>
  );
}

/** A number as typed: null where nothing is, undefined where it will not do. */
function read(typed: string, least: number, most: number): number | null | undefined {
  if (!typed.trim()) return null;
  const number = Number(typed.replace(",", "."));
  return number >= least && number <= most ? number : undefined;
}

const called = (fan: boolean, at: number) => (fan ? words.start.fanOven(at + 1) : words.start.stillOven(at + 1));

function Asked({ says, children }: { says: string; children: ReactNode }) {
  const id = useId();
  return (
    <li className="py-2">
      <fieldset aria-labelledby={id} className="grid gap-x-4 gap-y-1 md:grid-cols-[7.5rem_minmax(0,1fr)]">
        <h3 id={id} className="pt-2 text-s">
          {says}
        </h3>
        <div className="flex flex-wrap items-end gap-x-4 gap-y-2">{children}</div>
      </fieldset>
    </li>
  );
}

/** One of these, or none: pressed again it is left open. */
function OneOf<T extends string>({
  label,
  options,
  value,
  put,
}: {
  label?: string;
  options: readonly (readonly [T, string])[];
  value: T | null | undefined;
  put: (value: T | undefined) => void;
}) {
  return (
    <fieldset className="flex flex-wrap gap-2" aria-label={label}>
      {options.map(([key, says]) => (
        <button
          key={key}
          type="button"
          className="press"
          aria-pressed={value === key}
          onClick={() => put(value === key ? undefined : key)}
        >
          {says}
        </button>
      ))}
    </fieldset>
  );
}

function Ovens({ ovens, bad, put }: { ovens: readonly Oven[]; bad: readonly boolean[]; put: (ovens: Oven[]) => void }) {
  const change = (at: number, to: Partial<Oven>) => put(ovens.map((oven, i) => (i === at ? { ...oven, ...to } : oven)));
  const add = (fan: boolean) =>
    put([...ovens, { id: fresh("oven"), name: called(fan, ovens.length), fan, trays: "2" }]);
  return (
    <>
      {ovens.map((oven, i) => (
        <div key={oven.id} className="flex w-full flex-wrap items-end gap-3">
          <TextField
            label={words.start.nameOf(i + 1)}
            value={oven.name}
            most={60}
            width="w-44"
            put={(name) => change(i, { name })}
          />
          <TextField
            label={words.start.traysOf(i + 1)}
            value={oven.trays}
            most={3}
            width="w-20"
            hint={bad[i] ? words.start.traysFromTo : undefined}
            put={(trays) => change(i, { trays })}
          />
          <button
            type="button"
            className="press"
            aria-label={words.start.withoutOven(oven.name)}
            onClick={() => put(ovens.filter((_, k) => k !== i))}
          >
            {words.start.takeAway}
          </button>
        </div>
      ))}
      {ovens.length < 8 && (
        <>
          <button type="button" className="press" onClick={() => add(true)}>
            {words.start.withAFan}
          </button>
          <button type="button" className="press" onClick={() => add(false)}>
            {words.start.withoutAFan}
          </button>
        </>
      )}
    </>
  );
}
