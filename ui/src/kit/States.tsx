import type { ReactNode } from "react";
import { Peak } from "../food/Peak";
import { words } from "../words";

export function Waiting({ what }: { what: string }) {
  return (
    <p role="status" className="p-6 text-m text-quiet">
      {words.kit.fetching} {what}
    </p>
  );
}

export function Trouble({ error, again }: { error: Error; again?: () => void }) {
  return (
    <div role="alert" className="m-6 max-w-xl border-l-4 border-deep pl-4">
      <h2 className="text-m">{words.kit.thisCouldNotBeShown}</h2>
      <p>{error.message}</p>
      {again && (
        <button type="button" className="press mt-3" onClick={again}>
          {words.kit.tryAgain}
        </button>
      )}
    </div>
  );
}

export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="flex max-w-xl items-center gap-6 p-8">
      <Peak stage="soft peak" className="h-24 shrink-0 text-quiet" decorative />
      <div>
        <h2 className="text-m">{title}</h2>
        <div className="text-quiet">{children}</div>
      </div>
    </div>
  );
}
