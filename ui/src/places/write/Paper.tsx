import { useEffect, useRef } from "react";
import type { ReadText } from "../../api/client";
import { words } from "../../words";
import { letters, stretch } from "./useWriting";

const MARKS = {
  read: "border-b-2 border-water/50",
  asked: "border-b-2 border-dashed border-water bg-question",
  unknown: "border-b-2 border-dotted border-water bg-question",
  kept: "",
} as const;

/** A cook's own words, each phrase marked with what came of it. The marks lie under the text, letter on letter. */
export function Paper({
  text,
  phrases,
  chosen,
  put,
  choose,
}: {
  text: string;
  phrases: ReadText["phrases"];
  /** The phrase whose meaning is looked at */
  chosen: readonly [number, number] | undefined;
  put: (text: string) => void;
  /** The letter at which the cursor stands */
  choose: (at: number) => void;
}) {
  const field = useRef<HTMLTextAreaElement>(null);
  useEffect(() => field.current?.focus(), []);
  const cursor = () => {
    const at = field.current?.selectionStart ?? 0;
    choose(letters(text.slice(0, at)).length);
  };
  return (
    <div className="grid grow [&>*]:[grid-area:1/1]">
      <div aria-hidden className="writing text-clear select-none" data-testid="marks">
        {phrases.map(({ span, status }) => {
          const said = stretch(text, span);
          const [, lead = "", body = "", tail = ""] = said.match(/^(\s*)([\s\S]*?)(\s*)$/) ?? [];
          const on = chosen && chosen[0] < span[1] && span[0] < chosen[1];
          return (
            <span key={span[0]}>
              {lead}
              <span data-status={status} className={`${MARKS[status]} ${on ? "bg-hairline" : ""}`}>
                {body}
              </span>
              {tail}
            </span>
          );
        })}
      </div>
      <textarea
        ref={field}
        aria-label={words.write.yourWords}
        className="writing min-h-72 resize-none overflow-hidden outline-none"
        spellCheck={false}
        maxLength={12000}
        placeholder={words.write.example}
        value={text}
        onChange={(e) => put(e.target.value)}
        onKeyUp={cursor}
        onClick={cursor}
      />
    </div>
  );
}
