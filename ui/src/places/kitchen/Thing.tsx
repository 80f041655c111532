import type { ReactNode } from "react";
import { words } from "../../words";

/** A thing of the kitchen: drawn, what it does in a line, its few settings, and those for experts folded away. */
export function Thing({
  drawing,
  name,
  says,
  beside,
  experts,
  children,
}: {
  drawing: ReactNode;
  name: string;
  says?: ReactNode;
  beside?: ReactNode;
  experts?: ReactNode;
  children: ReactNode;
}) {
  return (
    <article aria-label={name} className="mt-3 rounded-panel border border-hairline bg-surface p-3">
      <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] gap-x-4">
        <div className="h-20 w-22">{drawing}</div>
        <div className="min-w-0">
          <div className="flex flex-wrap items-start justify-between gap-x-4">
            <h3 className="text-m">{name}</h3>
            {beside}
          </div>
          {says && <p className="text-s text-quiet">{says}</p>}
        </div>
      </div>
      <div className="mt-2 grid grid-cols-2 items-end gap-3 sm:grid-cols-4">{children}</div>
      {experts && (
        <details className="mt-1">
          <summary className="min-h-11 cursor-pointer content-center text-s underline">
            {words.kitchen.forExperts}
          </summary>
          <div className="grid grid-cols-2 items-end gap-3 sm:grid-cols-4">{experts}</div>
        </details>
      )}
    </article>
  );
}
