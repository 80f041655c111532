import type { ReadQuestion } from "../../api/client";
import { words } from "../../words";

/** What only the cook can say, with answers to press; the phrase it is about stands first. */
export function Asked({
  questions,
  give,
}: {
  questions: readonly ReadQuestion[];
  give: (span: readonly [number, number], key: string) => void;
}) {
  const n = questions.length;
  return (
    <section aria-label={words.write.thingsToAsk(n)} className="flex flex-col gap-3">
      <h2 className="text-m">
        {n === 0 ? words.write.nothingToAsk : n === 1 ? words.write.oneThingToAsk : words.write.thingsToAsk(n)}
      </h2>
      <ul className="flex flex-col gap-4">
        {questions.map((question) => (
          <li key={question.span[0]} className="border-l-4 border-water pl-3" data-testid="question">
            <p className="text-s">
              <b>{question.written.trim()}</b>: {question.asks}
            </p>
            <div className="mt-1 flex flex-wrap gap-2">
              {question.answers.map((answer) => (
                <button
                  key={answer.key}
                  type="button"
                  className="press"
                  onClick={() => give(question.span, answer.key)}
                >
                  {answer.says}
                </button>
              ))}
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
