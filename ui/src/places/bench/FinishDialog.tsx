import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { BatchView, Outcome } from "../../api/client";
import { record } from "../../api/outbox";
import { larderQuery, storableQuery } from "../../api/queries";
import { Box } from "../../kit/Box";
import { Choice, Labelled } from "../../kit/Field";
import { StoringFields, useStoring } from "../../kit/Storing";
import { TakePicture } from "../../kit/TakePicture";
import { words } from "../../words";
import { Answer, type Send, sentence } from "./Dialogs";

const SCORES = [
  ["5", words.bench.n5AsItShouldBe],
  ["4", words.bench.n4Good],
  ["3", words.bench.n3Served],
  ["2", words.bench.n2Poor],
  ["1", words.bench.n1ThrownAway],
] as const;

/** How it came out, for the one who reads this next month. */
export function FinishDialog({ view, close, send }: { view: BatchView; close: () => void; send: Send }) {
  const [outcome, setOutcome] = useState<Outcome>({
    texture: view.sheet.dry
      ? view.sheet.recipe.texture
      : view.sheet.recipe.school === "sabayon"
        ? "holds a ribbon"
        : view.sheet.recipe.school === "curd"
          ? "set"
          : view.sheet.whisk
            ? "glossy, stands"
            : "other",
    colour: view.sheet.dry ? (view.sheet.dry.colour ?? "white") : null,
    score: 4,
    faults: [],
    pieces_good: view.sheet.pieces,
    keep: "",
    next_time: "",
  });
  const { data: larder } = useQuery(larderQuery);
  const choices = larder?.choices;
  const [good, setGood] = useState(String(view.sheet.pieces));
  const [problem, setProblem] = useState<string>();
  const { data: says, error: unsaid } = useQuery(storableQuery("batch", view.id));
  const [some, setSome] = useState(false);
  const [notStored, setNotStored] = useState<Error>();
  const by = useStoring(says);
  const put = (change: Partial<Outcome>) => setOutcome((now) => ({ ...now, ...change }));
  const save = async () => {
    const pieces = good.trim() === "" ? null : Number(good);
    if (pieces !== null && !(Number.isInteger(pieces) && pieces >= 0 && pieces <= 5000))
      return setProblem(words.bench.writeHowManyGoodPiecesAs);
    if (some && by.entry) {
      if (!by.good) return;
      try {
        await record({ ledger: "stock", entry: by.entry });
      } catch (failure) {
        return setNotStored(failure as Error);
      }
    }
    try {
      const left = view.process.steps.find((s) => s.key === "finish" && !view.state.done.includes(s.key));
      if (left && view.state.current === "finish") await send("step done", { step: left.key });
      await send("finished", { outcome: { ...outcome, pieces_good: pieces } });
      close();
    } catch (failure) {
      setProblem(sentence(failure));
    }
  };
  return (
    <Box wet title={words.bench.howItCameOut} close={close}>
      <div className="grid grid-cols-2 gap-3">
        <Choice
          label={words.bench.texture}
          value={outcome.texture}
          options={(view.sheet.dry ? choices?.outcomes_dried : choices?.outcomes_moist) ?? []}
          onChange={(texture) => put({ texture })}
        />
        {outcome.colour && (
          <Choice
            label={words.bench.colourOfTheRidges}
            value={outcome.colour}
            options={choices?.colours ?? []}
            onChange={(colour) => put({ colour })}
          />
        )}
        <Choice
          label={words.bench.inAll}
          value={String(outcome.score) as "1" | "2" | "3" | "4" | "5"}
          options={SCORES}
          onChange={(score) => put({ score: Number(score) })}
        />
        <Labelled
          label={words.bench.goodOf(view.sheet.shape ? "pieces" : "portions", view.sheet.pieces)}
          error={problem}
        >
          {(ids) => (
            <input {...ids} inputMode="numeric" value={good} maxLength={5} onChange={(e) => setGood(e.target.value)} />
          )}
        </Labelled>
      </div>
      <fieldset>
        <legend className="text-s text-quiet">{words.bench.faultsSeen}</legend>
        <div className="grid grid-cols-3 gap-x-3">
          {view.faults.map((fault) => (
            <label key={fault} className="flex min-h-12 items-center gap-2">
              <input
                type="checkbox"
                checked={outcome.faults.includes(fault)}
                onChange={(e) =>
                  put({
                    faults: e.target.checked ? [...outcome.faults, fault] : outcome.faults.filter((f) => f !== fault),
                  })
                }
              />
              {fault}
            </label>
          ))}
        </div>
      </fieldset>
      <TakePicture batch={view.id} of={words.pictures.atTheEnd} />
      <fieldset>
        <label className="flex min-h-12 items-center gap-2">
          <input type="checkbox" disabled={!says} checked={some} onChange={(e) => setSome(e.target.checked)} />
          {words.stock.storeSome}
          {unsaid && <span className="text-s text-quiet">{sentence(unsaid)}</span>}
        </label>
        {some && says && <StoringFields says={says} of={by} refused={notStored} />}
      </fieldset>
      <Labelled label={words.bench.keptIn}>
        {(ids) => (
          <input {...ids} value={outcome.keep} maxLength={200} onChange={(e) => put({ keep: e.target.value })} />
        )}
      </Labelled>
      <Labelled label={words.bench.nextTime}>
        {(ids) => (
          <input
            {...ids}
            value={outcome.next_time}
            maxLength={400}
            onChange={(e) => put({ next_time: e.target.value })}
          />
        )}
      </Labelled>
      <Answer word={words.bench.finishTheBatch} save={save} close={close} />
    </Box>
  );
}
