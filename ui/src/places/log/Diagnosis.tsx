import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import {
  answer,
  type BatchView,
  type DiagnosisView,
  type Finding,
  http,
  type Question,
  type Trial,
} from "../../api/client";
import { record } from "../../api/outbox";
import { diagnosisQuery } from "../../api/queries";
import { event } from "../../kit/event";
import { day } from "../../kit/format";
import { words } from "../../words";

const SHOWN = 3;

/** What may have gone wrong, with the evidence on a scale; what would help to know; and what to try next time. */
export function Diagnosis({ view }: { view: BatchView }) {
  const { data } = useQuery({ ...diagnosisQuery(view.id), enabled: view.state.finished !== null });
  const [more, setMore] = useState(false);
  const queries = useQueryClient();
  const accept = useMutation({
    mutationFn: (finding: Finding) =>
      answer(
        http.POST("/api/batches/{batch_id}/trials", {
          params: { path: { batch_id: view.id } },
          body: {
            id: crypto.randomUUID(),
            cause: finding.cause,
            says: "",
            cook: localStorage.getItem("gullpeak-cook") ?? "",
          },
        }),
      ),
    onSuccess: (made) => {
      queries.setQueryData(diagnosisQuery(view.id).queryKey, made);
      void queries.invalidateQueries({ queryKey: ["trials"] });
    },
  });
  if (!data || (data.diagnosis.signs.length === 0 && data.tried.length === 0)) return null;
  const { diagnosis } = data;
  const alive = diagnosis.findings.filter((f) => f.word !== "ruled out");
  const out = diagnosis.findings.filter((f) => f.word === "ruled out");
  const accepted = new Set(data.accepted.map((t) => t.cause));
  return (
    <section
      aria-label={diagnosis.signs.length > 0 ? `Why: ${diagnosis.signs.join(", ")}` : words.log.changesTried}
      className="mt-4 flex flex-col gap-3"
    >
      <Tried view={view} data={data} />
      {diagnosis.signs.length > 0 && (
        <>
          <h2 className="border-b border-deep text-m">
            {words.log.why} {diagnosis.signs.join(", ")}
          </h2>
          {alive.length === 0 && <p>{words.log.theRecordRulesOutEveryCause}</p>}
          <ol className="grid gap-x-8 gap-y-4 lg:grid-cols-3">
            {alive.slice(0, more ? undefined : SHOWN).map((finding) => (
              <Cause key={finding.cause} finding={finding}>
                {accepted.has(finding.cause) ? (
                  <p className="text-s font-bold">{words.log.toBeTriedTheNextBatch}</p>
                ) : (
                  diagnosis.changes.includes(finding.cause) &&
                  view.recipe_id && (
                    <button
                      type="button"
                      className="press press-first self-start"
                      disabled={accept.isPending}
                      onClick={() => accept.mutate(finding)}
                    >
                      {words.log.tryThisNextTime}
                    </button>
                  )
                )}
              </Cause>
            ))}
          </ol>
          {accept.error && <p role="alert">{accept.error.message}</p>}
          <div className="flex flex-wrap gap-x-6">
            {alive.length > SHOWN && (
              <button type="button" className="min-h-11 underline" aria-expanded={more} onClick={() => setMore(!more)}>
                {more ? words.log.theLikeliestOnly : words.log.lessLikely(alive.length - SHOWN)}
              </button>
            )}
            {out.length > 0 && (
              <p className="flex min-h-11 items-center text-s text-quiet">
                <span>
                  {words.log.ruledOut}{" "}
                  {out.map((f) => `${f.name.toLowerCase()} (${f.speaks_against[0] ?? ""})`).join("; ")}.
                </span>
              </p>
            )}
          </div>
          <Questions view={view} questions={data.questions} />
        </>
      )}
    </section>
  );
}

function Cause({ finding, children }: { finding: Finding; children: ReactNode }) {
  return (
    <li className="flex min-w-0 flex-col gap-1.5">
      <h3 className="text-m">
        {finding.name} <span className="font-normal">· {finding.word}</span>
      </h3>
      <Scale finding={finding} />
      <p className="text-s">{finding.why}</p>
      <Says word={words.log.forWord} items={finding.speaks_for} />
      <Says word={words.log.against} items={finding.speaks_against} />
      <Says word={words.log.notRecorded} items={finding.not_recorded} quiet />
      <p className="border-l-4 border-deep pl-3 text-s">
        <b>{words.log.nextTime}</b> {finding.change.says}
      </p>
      {children}
    </li>
  );
}

/** A beam with the evidence on its two arms: each fact a weight, for on the right, against on the left; what is not known stays hollow. */
function Scale({ finding }: { finding: Finding }) {
  const right = finding.speaks_for.length;
  const left = finding.speaks_against.length;
  const tilt = Math.max(-7, Math.min(7, (right - left) * 2.4));
  const weights = (n: number, sign: 1 | -1) =>
    Array.from({ length: n }, (_, i) => (
      <rect key={`${sign}${i}`} x={100 + sign * (26 + i * 17) - 6} y={14} width="12" height="14" fill="currentColor" />
    ));
  return (
    <svg
      viewBox="0 0 200 46"
      className="h-11 w-full max-w-72"
      role="img"
      aria-label={words.log.forAgainstNotRecordedAbout(
        right,
        left,
        finding.not_recorded.length,
        Math.round(finding.share * 100),
      )}
    >
      <g transform={`rotate(${tilt} 100 30)`}>
        <path d="M14 29H186" stroke="currentColor" strokeWidth="2.5" />
        {weights(left, -1)}
        {weights(right, 1)}
        {finding.not_recorded.slice(0, 4).map((what, i) => (
          <rect
            key={what}
            x={100 + 26 + (right + i) * 17 - 6}
            y={14}
            width="12"
            height="14"
            fill="none"
            stroke="currentColor"
            strokeDasharray="2 3"
            opacity="0.7"
          />
        ))}
      </g>
      <path d="M100 30l-7 14h14z" fill="currentColor" />
      <text x="4" y="12" fontSize="11" fill="var(--color-quiet)">
        {words.log.against2}
      </text>
      <text x="196" y="12" fontSize="11" textAnchor="end" fill="var(--color-quiet)">
        {words.log.forWord2}
      </text>
    </svg>
  );
}

function Says({ word, items, quiet = false }: { word: string; items: readonly string[]; quiet?: boolean }) {
  if (items.length === 0) return null;
  return (
    <p className={`text-s ${quiet ? "text-quiet" : ""}`}>
      <b>{word}:</b> {items.join("; ")}
    </p>
  );
}

/** What was not recorded and would help: answered now, it joins the record as told afterwards. */
function Questions({ view, questions }: { view: BatchView; questions: readonly Question[] }) {
  const [open, setOpen] = useState(false);
  const queries = useQueryClient();
  const tell = async (fact: string, what: { passed?: boolean; value?: number; text?: string }) => {
    await record({ batch: view.id, event: event("recalled", { name: fact, ...what }) });
    for (const key of ["diagnosis", "batch"]) await queries.invalidateQueries({ queryKey: [key, view.id] });
  };
  if (questions.length === 0) return null;
  return (
    <div>
      <button type="button" className="min-h-11 underline" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open
          ? words.log.noMoreQuestions
          : words.log.doYouRememberNotRecorded(
              questions.length,
              questions.length === 1 ? words.log.thingWas : words.log.thingsWere,
            )}
      </button>
      {open && (
        <ul className="grid gap-x-8 gap-y-3 md:grid-cols-2 xl:grid-cols-3">
          {questions.map((q) => (
            <li key={q.fact} className="flex flex-wrap items-end gap-2">
              {q.rule.yes ? (
                <>
                  <span className="w-full text-s text-quiet">{q.rule.name}</span>
                  <button type="button" className="press" onClick={() => void tell(q.fact, { passed: true })}>
                    {q.rule.yes}
                  </button>
                  <button type="button" className="press" onClick={() => void tell(q.fact, { passed: false })}>
                    {q.rule.no}
                  </button>
                </>
              ) : q.words.length > 0 ? (
                <>
                  <span className="w-full text-s text-quiet">{q.rule.name}</span>
                  {q.words.map((word) => (
                    <button
                      key={word}
                      type="button"
                      className="press"
                      onClick={() => void tell(q.fact, { text: word })}
                    >
                      {word}
                    </button>
                  ))}
                </>
              ) : (
                <Amount question={q} tell={(value) => tell(q.fact, { value })} />
              )}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

function Amount({ question, tell }: { question: Question; tell: (value: number) => Promise<void> }) {
  const [typed, setTyped] = useState("");
  const [problem, setProblem] = useState("");
  const times = question.rule.times ?? 1;
  return (
    <form
      className="flex flex-wrap items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        const value = Number(typed.replace(",", "."));
        if (typed.trim() === "" || !Number.isFinite(value)) return setProblem(words.log.writeAFigureLike12);
        setProblem("");
        void tell(value / times).catch((failure: Error) => setProblem(failure.message));
      }}
    >
      <label className="text-s text-quiet">
        <span className="block">
          {question.rule.name}, {question.rule.unit}
        </span>
        <input
          className="w-24"
          inputMode="decimal"
          value={typed}
          maxLength={12}
          onChange={(e) => setTyped(e.target.value)}
          aria-invalid={problem !== ""}
        />
      </label>
      <button type="submit" className="press">
        {words.log.tell}
      </button>
      {problem && (
        <span role="alert" className="w-full text-s">
          {problem}
        </span>
      )}
    </form>
  );
}

/** The changes this batch was made with, and whether they helped. */
function Tried({ view, data }: { view: BatchView; data: DiagnosisView }) {
  const queries = useQueryClient();
  const judge = useMutation({
    mutationFn: ({ trial, verdict }: { trial: Trial; verdict: "helped" | "did not help" | "dropped" | null }) =>
      answer(
        http.POST("/api/trials/{trial_id}/verdict", {
          params: { path: { trial_id: trial.id } },
          body: { verdict, batch_id: view.id },
        }),
      ),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["diagnosis"] });
      void queries.invalidateQueries({ queryKey: ["trials"] });
      void queries.invalidateQueries({ queryKey: ["batch"] });
    },
  });
  if (data.tried.length === 0) return null;
  const faults = new Set<string>(view.state.finished?.faults ?? []);
  return (
    <ul className="flex flex-col gap-2">
      {data.tried.map((trial) => {
        const back = trial.signs.filter((s) => faults.has(s));
        return (
          <li key={trial.id} className="flex flex-wrap items-center gap-3 border-l-4 border-deep pl-3">
            <p className="min-w-0 grow text-m">
              <b>
                {words.log.triedAgainst} {trial.signs.join(", ")}:
              </b>{" "}
              {trial.says}{" "}
              <span className="text-s text-quiet">
                {back.length > 0 ? words.log.itCameBack(back.join(", ")) : words.log.itDidNotComeBack} {words.log.from}{" "}
                <Link className="underline" to={`/log/${trial.batch_id}`}>
                  {words.log.theBatchOf} {day(trial.accepted_at)}
                </Link>
                .
              </span>
            </p>
            {trial.verdict ? (
              <span className="flex items-center gap-3">
                <b>{trial.verdict}</b>
                <button
                  type="button"
                  className="min-h-11 underline"
                  onClick={() => judge.mutate({ trial, verdict: null })}
                >
                  {words.log.takeThatBack}
                </button>
              </span>
            ) : (
              <span className="flex flex-wrap gap-2">
                {(["helped", "did not help", "dropped"] as const).map((verdict) => (
                  <button
                    key={verdict}
                    type="button"
                    className="press"
                    disabled={judge.isPending}
                    onClick={() => judge.mutate({ trial, verdict })}
                  >
                    {verdict === "helped"
                      ? words.log.itHelped
                      : verdict === "did not help"
                        ? words.log.itDidNotHelp
                        : words.log.dropIt}
                  </button>
                ))}
              </span>
            )}
          </li>
        );
      })}
    </ul>
  );
}
