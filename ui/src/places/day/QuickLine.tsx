import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import { answer, http, type ReadDayLine } from "../../api/client";
import { words } from "../../words";

/** Lines of a day as a cook calls them out, read on Enter; what is asked about a line is answered with a press, and the line stays till then. */
export function QuickLine({
  of,
  what,
  label,
  example,
  take,
}: {
  of: string;
  what: "order" | "hands";
  label: string;
  example: string;
  take: (read: ReadDayLine[]) => void;
}) {
  const id = useId();
  const [typed, setTyped] = useState("");
  const read = useMutation({
    mutationFn: async ({ lines, meant }: { lines: string[]; meant?: string }) => {
      const found: { line: string; read: ReadDayLine }[] = [];
      for (const [i, line] of lines.entries())
        found.push({
          line,
          read: await answer(
            http.POST("/api/days/{of}/read", {
              params: { path: { of } },
              body: { what, text: line, of: i === 0 ? (meant ?? null) : null },
            }),
          ),
        });
      return found;
    },
    onSuccess: (found) => {
      take(found.filter(({ read }) => !read.asks).map(({ read }) => read));
      setTyped(
        found
          .filter(({ read }) => read.asks)
          .map(({ line }) => line)
          .join("\n"),
      );
    },
  });
  const lines = typed
    .split("\n")
    .map((line) => line.trim())
    .filter((line) => line);
  const go = (meant?: string) => lines.length > 0 && !read.isPending && read.mutate({ lines, meant });
  const asks = read.data?.find(({ read: { asks }, line }) => asks && line === lines[0])?.read.asks;
  const says = asks?.says ?? (read.error ? read.error.message : undefined);
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
          {words.day.add}
        </button>
      </div>
      {says && (
        <div id={`${id}-asks`} role="alert" className="rounded-k bg-question px-3 py-2 text-s">
          {lines.length > 1 && <b className="block">{lines[0]}</b>}
          {says}
          {asks && asks.choices.length > 0 && (
            <span className="mt-1 flex flex-wrap gap-2">
              {asks.choices.map((dish) => (
                <button key={dish.id} type="button" className="press" onClick={() => go(dish.id)}>
                  {dish.name}
                </button>
              ))}
            </span>
          )}
        </div>
      )}
    </div>
  );
}
