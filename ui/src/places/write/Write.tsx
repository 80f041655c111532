import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answer, http, type ReadText, Refused } from "../../api/client";
import { larderQuery } from "../../api/queries";
import { Alert } from "../../kit/Field";
import { words } from "../../words";
import { Asked } from "./Asked";
import { Became, overlaps } from "./Became";
import { Paper } from "./Paper";
import { useWriting } from "./useWriting";
import { Works } from "./Works";

/** A recipe as the cook has it: the words, what is asked about them, what they became, and whether it will work. */
export default function Write() {
  const writing = useWriting();
  const larder = useQuery(larderQuery);
  const [at, setAt] = useState(-1);
  const { found, text } = writing;
  const chosen = found?.phrases.find(({ span }) => at >= span[0] && at < span[1])?.span;
  const looked = found?.recipes.find((r) => r.lines.some((l) => overlaps(chosen, l.span))) ?? found?.recipes[0];
  const { offline } = writing;
  return (
    <div className="mx-auto flex w-full max-w-[1500px] grow flex-col px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1 pb-3">
        <h1 className="text-l">{words.write.asYouHaveIt}</h1>
        <p className="text-s text-quiet">{words.write.pasteItOrTypeIt}</p>
      </div>
      <div className="grid grow items-stretch gap-6 lg:grid-cols-[1.1fr_1.1fr_0.9fr]">
        <div className="flex flex-col gap-3 rounded-panel border border-hairline bg-surface p-5 focus-within:border-deep">
          <Paper
            text={writing.writing.text}
            phrases={text === writing.writing.text ? (found?.phrases ?? []) : []}
            chosen={chosen}
            put={writing.put}
            choose={setAt}
          />
          <Foot writing={writing} />
        </div>
        <div className="flex flex-col gap-5 rounded-panel border border-hairline p-5">
          {offline && <Alert says={words.write.offline} />}
          {!offline && writing.failed && <Alert says={writing.failed.message} />}
          {!found && !offline && (
            <>
              <p className="text-s text-quiet">{words.write.lineByLine}</p>
              <button type="button" className="press self-start" onClick={() => writing.put(words.write.example)}>
                {words.write.tryTheExample}
              </button>
            </>
          )}
          {found && (
            <>
              <Asked questions={found.questions} give={writing.give} />
              {found.questions.length > 0 && <p className="text-s text-quiet">{words.write.unknownWaits}</p>}
              <h2 className="text-m">{words.write.whatItBecame}</h2>
              {larder.data &&
                found.recipes.map((recipe) => (
                  <Became
                    key={`${recipe.name}-${recipe.lines[0]?.span[0]}`}
                    recipe={recipe}
                    larder={larder.data}
                    chosen={chosen}
                    choose={setAt}
                    give={writing.give}
                    forget={writing.forget}
                    answeredAt={writing.answeredAt}
                  />
                ))}
              {found.product && (
                <p className="text-s" data-testid="together">
                  {words.write.togetherAs(found.product.kind)}: {found.product.parts.join(", ")}
                </p>
              )}
              {found.product?.refused && <Alert says={found.product.refused} />}
              <Kept kept={found.kept} />
            </>
          )}
        </div>
        {found && (
          <div className="flex flex-col gap-4 rounded-panel border border-hairline bg-surface p-5 lg:sticky lg:top-4 lg:self-start">
            <h2 className="text-m">{words.write.willItWork}</h2>
            {looked && <Works recipe={looked} />}
            <Keep found={found} writing={writing} />
          </div>
        )}
      </div>
    </div>
  );
}

function Foot({ writing }: { writing: ReturnType<typeof useWriting> }) {
  const phrases = writing.found?.phrases.filter(({ span }) => span[1] - span[0] > 1) ?? [];
  const read = phrases.filter((p) => p.status === "read").length;
  return (
    <p className="flex flex-wrap items-center gap-x-4 text-s text-quiet">
      {phrases.length > 0 && (
        <span>
          {words.write.phrasesRead(read, phrases.length)} · {words.write.placeTheCursor}
        </span>
      )}
      {writing.writing.text && (
        <button type="button" className="min-h-11 underline" onClick={writing.clear}>
          {words.write.startAgain}
        </button>
      )}
      {!writing.writing.text && writing.before?.text && (
        <button type="button" className="min-h-11 underline" onClick={writing.bringBack}>
          {words.write.bringItBack}
        </button>
      )}
    </p>
  );
}

/** Words that were not read: they stay with the recipe as its notes. */
function Kept({ kept }: { kept: readonly string[] }) {
  if (kept.length === 0) return null;
  return (
    <section aria-label={words.write.keptAsWritten}>
      <h3 className="text-s text-quiet">{words.write.keptAsWritten}</h3>
      <ul className="text-s">
        {kept.map((note, i) => (
          <li key={i}>{note}</li>
        ))}
      </ul>
      <p className="text-s text-quiet">{words.write.keptOnNoLabel}</p>
    </section>
  );
}

function Keep({ found, writing }: { found: ReadText; writing: ReturnType<typeof useWriting> }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const keep = useMutation({
    mutationFn: () => answer(http.POST("/api/read/kept", { body: writing.writing })),
    onSuccess: (made) => {
      writing.clear();
      for (const what of ["recipes", "products", "larder"]) void queries.invalidateQueries({ queryKey: [what] });
      sessionStorage.setItem("gullpeak-station", "weigh");
      go(`/${made.place}/${made.id}`);
    },
  });
  const whole = found.product?.product;
  return (
    <div className="flex flex-col gap-2">
      {keep.error && (
        <Alert
          says={keep.error instanceof Refused ? (keep.error.errors[0]?.says ?? keep.error.message) : keep.error.message}
        />
      )}
      <button
        type="button"
        className="press press-first w-full"
        disabled={keep.isPending || !writing.fresh || found.recipes.length === 0}
        onClick={() => keep.mutate()}
      >
        {whole ? words.write.keepAll(found.recipes.length) : words.write.keepIt}
      </button>
    </div>
  );
}
