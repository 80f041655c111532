import type { Remark, Remedy } from "../api/client";
import { words } from "../words";

const WORDS = { good: "Good", note: "Note", warning: words.kit.lookOut, danger: "Danger" } as const;

/** What the cook should know, each with what to do about it. */
export function Remarks({ remarks, take }: { remarks: readonly Remark[]; take?: (remedy: Remedy) => void }) {
  if (remarks.length === 0) return null;
  return (
    <ul className="flex flex-col gap-3" aria-label={words.kit.remarks}>
      {remarks.map((remark) => (
        <li
          key={remark.says}
          className={`border-l-4 pl-3 ${remark.severity === "danger" ? "border-spot" : "border-deep"}`}
        >
          <p className="text-s">
            <b>{WORDS[remark.severity]}.</b> {remark.says}
          </p>
          {remark.do.length > 0 && (
            <ul className="list-inside list-disc text-s text-quiet">
              {remark.do.map((way) => (
                <li key={way}>{way}</li>
              ))}
            </ul>
          )}
          {take && remark.remedies.length > 0 && (
            <div className="mt-1 flex flex-wrap gap-2">
              {remark.remedies.map((remedy) => (
                <button key={remedy.says} type="button" className="press" onClick={() => take(remedy)}>
                  {remedy.says}
                </button>
              ))}
            </div>
          )}
        </li>
      ))}
    </ul>
  );
}

/** A caution: danger's own colour, and a word beside it. */
export function Caution({ says }: { says: string }) {
  return (
    <p className="border-l-4 border-spot pl-3 text-s">
      <b className="text-spot">{words.kit.caution}</b> {says}
    </p>
  );
}
