import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import { Refused } from "../api/client";
import { words } from "../words";

interface Question {
  says: string;
  choices?: readonly { id: string; name: string }[];
}

const keyOf = (keepAs: string) => `gullpeak-line:${keepAs}`;

/** Whether lines are written there that are not read yet. */
export const unread = (keepAs: string): boolean => Boolean(sessionStorage.getItem(keyOf(keepAs))?.trim());

/** Lines as a cook calls them out, read on Enter; what is asked about a line is answered with a press, and the line stays till then. */
export function QuickLine<T extends { asks?: Question | null }>({
  label,
  example,
  keepAs,
  read,
  take,
}: {
  /** Under what the lines are kept on this tablet until they are read */
  keepAs: string;
  label: string;
  example: string;
  /** meant: which of the choices, where it was asked */
  read: (line: string, meant?: string) => Promise<T>;
  take: (read: T[]) => Promise<void> | void;
}) {
  const id = useId();
  const key = keyOf(keepAs);
  const [typed, show] = useState(() => sessionStorage.getItem(key) ?? "");
  const setTyped = (text: string) => {
    show(text);
    if (text) sessionStorage.setItem(key, text);
    else sessionStorage.removeItem(key);
  };
  const reading = useMutation({
    mutationFn: async ({ lines, meant }: { lines: string[]; meant?: string }) => {
      const found: { line: string; read: T }[] = [];
      for (const [i, line] of lines.entries())
        found.push({ line, read: await read(line, i === 0 ? meant : undefined) });
      const good = found.filter((one) => !one.read.asks).map((one) => one.read);
      if (good.length > 0) await take(good);
      return found;
    },
    onSuccess: (found) =>
      setTyped(
        found
          .filter((one) => one.read.asks)
          .map((one) => one.line)
          .join("\n"),
      ),
  });
  const lines = typed
    .split("\n")
    .map((line) => line.trim())
    .filter((line) => line);
  const go = (meant?: string) => lines.length > 0 && !reading.isPending && reading.mutate({ lines, meant });
  const asks = reading.data?.find(({ read: { asks }, line }) => asks && line === lines[0])?.read.asks;
  const failure = reading.error;
  const says = asks?.says ?? (failure instanceof Refused ? failure.errors[0]?.says : undefined) ?? failure?.message;
  return (
    <div className="mt-1 flex flex-col gap-1">
      <label htmlFor={id} className="text-s text-quiet">
        {label}
      </label>
      <div className="flex flex-wrap items-start gap-2">
        <textarea
          id={id}
          className="min-h-12 min-w-0 grow basis-72 resize-none text-m"
          rows={Math.min(8, Math.max(1, typed.split("\n").length))}
          maxLength={4000}
          placeholder={example}
          aria-describedby={says ? `${id}-asks` : undefined}
          aria-invalid={says ? true : undefined}
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
          onKeyDown={(e) => {
            if (e.key !== "Enter" || e.shiftKey) return;
            e.preventDefault();
            go();
          }}
        />
        <button type="button" className="press min-h-12" disabled={lines.length === 0} onClick={() => go()}>
          {words.kit.add}
        </button>
      </div>
      {says && (
        <div id={`${id}-asks`} role="alert" className="rounded-k bg-question px-3 py-2 text-s">
          {lines.length > 1 && <b className="block">{lines[0]}</b>}
          {says}
          {asks?.choices && asks.choices.length > 0 && (
            <span className="mt-1 flex flex-wrap gap-2">
              {asks.choices.map((choice) => (
                <button key={choice.id} type="button" className="press" onClick={() => go(choice.id)}>
                  {choice.name}
                </button>
              ))}
            </span>
          )}
        </div>
      )}
    </div>
  );
}
