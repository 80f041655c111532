import { useDegrees } from "../../kit/degrees";
import { TypedField } from "../../kit/Field";
import { short } from "../../kit/numbers";
import { words } from "../../words";
import type { StationProps } from "./station";

type CookStep = NonNullable<StationProps["sheet"]["finish"]["cooks"]>[number];
type Cook = NonNullable<StationProps["recipe"]["cooks"]>[number];

/** Steps whose oven heat, minutes or sign are the cook's own; what is usual stands beside them. */
export function Cooks({ sheet, recipe, edit, refused }: Pick<StationProps, "sheet" | "recipe" | "edit" | "refused">) {
  const steps = sheet.finish.cooks ?? [];
  if (steps.length === 0) return null;
  return (
    <section aria-label={words.sheet.yourWay} className="flex flex-col gap-2 border-t border-hairline pt-2">
      <h3 className="text-m">{words.sheet.yourWay}</h3>
      {refused?.at("cooks") && (
        <p role="alert" className="text-s text-spot">
          {refused.at("cooks")}
        </p>
      )}
      {steps.map((step) => (
        <Step
          key={step.step}
          step={step}
          cook={recipe.cooks?.find((c) => c.step === step.step)}
          put={(change) => edit(`cook-${step.step}`, (now) => ({ cooks: cooked(now.cooks ?? [], step.step, change) }))}
        />
      ))}
    </section>
  );
}

/** The cook's own steps with one changed; one that is as usual again is none of them. */
function cooked(cooks: readonly Cook[], step: string, change: Partial<Cook>): Cook[] {
  const was = cooks.find((c) => c.step === step) ?? { step, set_c: null, minutes: null, until: "" };
  const now = { ...was, ...change };
  const others = cooks.filter((c) => c.step !== step);
  return now.set_c == null && now.minutes == null && !now.until ? others : [...others, now];
}

function Step({ step, cook, put }: { step: CookStep; cook: Cook | undefined; put: (change: Partial<Cook>) => void }) {
  const degrees = useDegrees();
  const number = (typed: string) => Number(typed.replace(",", ".").replace(/\s*min$/i, ""));
  return (
    <fieldset className="flex flex-wrap items-start gap-3">
      <legend className="text-s">{step.title}</legend>
      {step.set_c != null && (
        <TypedField
          label={words.sheet.ovenDegrees(degrees.sign)}
          shown={cook?.set_c == null ? "" : degrees.figure(cook.set_c)}
          width="w-20"
          hint={words.sheet.usuallyIs(degrees.show(step.set_c, { digits: 0 }))}
          read={(typed) => {
            const set_c = typed.trim() ? degrees.read(typed) : null;
            if (set_c === undefined || (set_c !== null && (set_c < 30 || set_c > 260)))
              throw new Error(words.sheet.writeTo(degrees.figure(30), degrees.show(260)));
            put({ set_c });
          }}
        />
      )}
      <TypedField
        label={words.sheet.minutes}
        shown={cook?.minutes == null ? "" : short(cook.minutes)}
        width="w-20"
        hint={words.sheet.usuallyIs(`${step.low_min}–${step.high_min}`)}
        read={(typed) => {
          const minutes = typed.trim() ? number(typed) : null;
          if (minutes !== null && !(minutes >= 0.5 && minutes <= 600)) throw new Error(words.sheet.writeMinutes);
          put({ minutes });
        }}
      />
      <TypedField
        label={words.sheet.until}
        shown={cook?.until ?? ""}
        width="w-56 max-w-full"
        read={(until) => put({ until: until.trim() })}
      />
    </fieldset>
  );
}
