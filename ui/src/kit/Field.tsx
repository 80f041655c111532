import { type ReactNode, useEffect, useId, useRef, useState } from "react";
import { Refused } from "../api/client";
import { short } from "./numbers";

/** A label over its control, with the sentence that says what to do when it will not do. */
export function Labelled({
  label,
  error,
  hint,
  quiet,
  children,
}: {
  label: string;
  error?: string;
  hint?: string;
  quiet?: boolean;
  children: (ids: { id: string; "aria-describedby"?: string; "aria-invalid"?: boolean }) => ReactNode;
}) {
  const id = useId();
  const below = error ?? hint;
  return (
    <div className="flex min-w-0 flex-col gap-0.5">
      <label htmlFor={id} className={quiet ? "sr-only" : "text-s text-quiet"}>
        {label}
      </label>
      {children({
        id,
        ...(below ? { "aria-describedby": `${id}-below` } : {}),
        ...(error ? { "aria-invalid": true } : {}),
      })}
      {below && (
        <p
          id={`${id}-below`}
          role={error ? "alert" : undefined}
          className={`text-s ${error ? "text-spot" : "text-quiet"}`}
        >
          {below}
        </p>
      )}
    </div>
  );
}

/** What is wrong, under what it is about; nothing where nothing is. */
export function Alert({ says }: { says?: string }) {
  return (
    says && (
      <p role="alert" className="text-s text-spot">
        {says}
      </p>
    )
  );
}

/**
 * Text that is read by the app when the cook leaves the field or presses Enter.
 * What was typed stays while there is an error.
 */
export function TypedField({
  label,
  shown,
  read,
  hint,
  error,
  quiet,
  width = "w-32",
}: {
  label: string;
  shown: string;
  read: (typed: string) => Promise<void> | void;
  hint?: string;
  error?: string;
  quiet?: boolean;
  width?: string;
}) {
  const [typed, setTyped] = useState(shown);
  const [problem, setProblem] = useState<string>();
  const editing = useRef(false);
  const reading = useRef<string>(undefined); // Enter and then leaving the field read it once
  const turn = useRef<Promise<void>>(undefined); // one reading at a time: a slow answer is not the last word
  const stands = useRef(shown);
  useEffect(() => {
    stands.current = shown;
    if (!editing.current && reading.current === undefined && !problem) setTyped(shown);
  }, [shown, problem]);
  const take = async () => {
    editing.current = false;
    if (typed === shown && turn.current === undefined) {
      setProblem(undefined);
      return;
    }
    if (reading.current === typed) return;
    reading.current = typed;
    const mine = after(turn.current, typed);
    turn.current = mine;
    await mine;
    if (turn.current === mine) turn.current = undefined;
  };
  const after = async (before: Promise<void> | undefined, typed: string) => {
    if (before) await before;
    if (reading.current !== typed) return;
    let problem: string | undefined;
    const stood = stands.current;
    try {
      await read(typed);
    } catch (failure) {
      problem =
        failure instanceof Refused
          ? (failure.errors[0]?.says ?? failure.message)
          : failure instanceof Error
            ? failure.message
            : "it cannot be read";
    }
    if (reading.current !== typed) return;
    reading.current = undefined;
    setProblem(problem);
    if (!problem && !editing.current && stands.current !== stood) setTyped(stands.current);
  };
  return (
    <Labelled label={label} error={problem ?? error} hint={hint} quiet={quiet}>
      {(ids) => (
        <input
          {...ids}
          className={width}
          value={typed}
          data-settled={typed === shown ? "yes" : undefined}
          maxLength={80}
          autoComplete="off"
          onChange={(e) => {
            editing.current = true;
            setTyped(e.target.value);
          }}
          onBlur={take}
          onKeyDown={(e) => {
            if (e.key === "Enter") void take();
            if (e.key === "Escape") {
              editing.current = false;
              setTyped(shown);
              setProblem(undefined);
            }
          }}
        />
      )}
    </Labelled>
  );
}

/** A number with a slider under it: drag, arrow keys, or type. */
export function Slider({
  label,
  value,
  unit,
  min,
  max,
  step,
  onChange,
  error,
}: {
  label: string;
  value: number;
  unit: string;
  min: number;
  max: number;
  step: number;
  onChange: (value: number) => void;
  error?: string;
}) {
  return (
    <Labelled label={`${label}: ${short(value, 2)} ${unit}`} error={error}>
      {(ids) => (
        <input
          {...ids}
          type="range"
          className="w-full min-w-28"
          min={min}
          max={max}
          step={step}
          value={value}
          aria-valuetext={`${value} ${unit}`}
          onChange={(e) => onChange(Number(e.target.value))}
        />
      )}
    </Labelled>
  );
}

/** A choice of a few words. */
export function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
  hint,
  quiet,
  inFull,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
  hint?: string;
  quiet?: boolean;
  /** Its name for those who hear it apart from what stands round it */
  inFull?: string;
}) {
  return (
    <Labelled label={label} hint={hint} quiet={quiet}>
      {(ids) => (
        <select
          {...ids}
          aria-label={inFull}
          className="w-full"
          value={value}
          onChange={(e) => onChange(e.target.value as T)}
        >
          {options.map(([key, word]) => (
            <option key={key} value={key}>
              {word}
            </option>
          ))}
        </select>
      )}
    </Labelled>
  );
}
