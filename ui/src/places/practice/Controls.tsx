import { useState } from "react";
import type { PracticeView } from "../../api/client";
import { words } from "../../words";
import { nextAsk, type Running } from "./useRun";

/** What can be done in a run, each under its key. */
export function Controls({ view, run: { going, still, start, pause, act } }: { view: PracticeView; run: Running }) {
  const { setup, look } = view;
  return (
    <section aria-label={words.practice.whatYouCanDo} className="flex flex-col gap-3">
      {!still && (
        <button
          type="button"
          className={`press min-h-14 text-m ${going ? "" : "press-first"}`}
          onClick={going ? pause : start}
        >
          {going
            ? words.practice.holdTheTimeSpace
            : view.at_s === 0
              ? words.practice.beginSpaceSecondsInOne(setup.speed)
              : words.practice.goOnSpace}
        </button>
      )}
      {setup.controls.map((c) => {
        const levels = c.levels ?? [];
        if (levels.length > 0 && still)
          return (
            <Answers
              key={c.what}
              name={c.name}
              levels={levels}
              disabled={nextAsk(view) !== (c.what === "name")}
              pick={(i) => act(c.what, i)}
            />
          );
        if (levels.length > 0)
          return (
            <Levels
              key={c.what}
              legend={`${c.name} (${c.key.toUpperCase()} ${words.practice.upShiftDown}`}
              levels={levels}
              at={look.levels?.[c.what] ?? 0}
              disabled={!going}
              put={(i) => act(c.what, i)}
            />
          );
        return (
          !(still && c.ends) && (
            <button
              key={c.what}
              type="button"
              className={`press min-h-14 text-m ${c.ends ? "press-first" : ""}`}
              disabled={!going && !still}
              onClick={() => act(c.what)}
            >
              {c.name} ({c.key})
            </button>
          )
        );
      })}
    </section>
  );
}

/** A knob with its levels. */
function Levels({
  legend,
  levels,
  at,
  disabled,
  put,
}: {
  legend: string;
  levels: readonly string[];
  at: number;
  disabled: boolean;
  put: (level: number) => void;
}) {
  return (
    <fieldset className="flex flex-wrap items-center gap-2">
      <legend className="text-s text-quiet">{legend}</legend>
      {levels.map((name, i) => (
        <button
          key={name}
          type="button"
          className={`press min-h-14 ${at === i ? "font-bold" : ""}`}
          aria-pressed={at === i}
          disabled={disabled}
          onClick={() => put(i)}
        >
          {name}
        </button>
      ))}
    </fieldset>
  );
}

/** A question with its answers, numbered as their keys. */
function Answers({
  name,
  levels,
  disabled,
  pick,
}: {
  name: string;
  levels: readonly string[];
  disabled: boolean;
  pick: (answer: number) => void;
}) {
  const [picked, setPicked] = useState<number>();
  return (
    <fieldset className="grid grid-cols-2 gap-2">
      <legend className="text-s text-quiet">{name}</legend>
      {levels.map((level, i) => (
        <button
          key={level}
          type="button"
          className={`press min-h-12 justify-start ${picked === i ? "border-ink" : ""}`}
          disabled={disabled}
          onClick={() => {
            setPicked(i);
            pick(i);
          }}
        >
          {i + 1}. {level}
        </button>
      ))}
    </fieldset>
  );
}
