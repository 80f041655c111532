import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useParams } from "react-router";
import {
  answer,
  http,
  type Ingredient,
  type Recipe,
  type RecipeLine,
  Refused,
  type Sheet,
  type WentIn,
} from "../../api/client";
import { pouredQuery } from "../../api/queries";
import { Choice, Labelled, TypedField } from "../../kit/Field";
import { day, shownMass } from "../../kit/format";
import { IngredientField } from "../../kit/IngredientField";
import { chosenFrom, itemOf } from "../../kit/larder";
import { words } from "../../words";
import { Describe } from "./Describe";
import { type StationProps, swap } from "./station";

type Moment = RecipeLine["moment"];
type Reads = Pick<StationProps, "recipe" | "edit" | "larder" | "refused">;

/** So many of the latest amounts stand at a line. */
const LAST = 3;

/** An amount is being read: until it is in, the recipe is not what was typed. */
export const READING = ["reading an amount"];
const useReading = () => useMutation({ mutationKey: READING, mutationFn: read });

/** What an amount as it is written comes to, of a line. */
async function read({ written, ingredient, own }: { written: string } & Pick<RecipeLine, "ingredient" | "own">) {
  const amount = await answer(http.POST("/api/read/amount", { body: { written, ingredient, own } }));
  return {
    line: { mass_g: amount.mass_g, or_g: amount.or_g ?? null, written: written.trim() },
    how: amount.how.join("; "),
  };
}

/** Words that say the grams themselves need nothing beside them. */
const inGrams = (written: string) => !written || /^[\d.,]+\s*g$/i.test(written);

/** A recipe's lines as the cook wrote them, each with its amount and its moment; beside them what this batch takes. */
export function Lines({ recipe, edit, larder, refused, sheet }: Reads & { sheet?: Sheet }) {
  const scaled = sheet !== undefined && !(recipe.scale.by === "factor" && recipe.scale.amount === 1);
  const school = larder.schools.find((s) => s.school === recipe.school);
  const { id = "" } = useParams();
  const { data: poured = [] } = useQuery(pouredQuery(id));
  return (
    <>
      {scaled && (
        <p className="flex max-w-4xl justify-end text-s text-quiet" aria-hidden="true">
          <span className="w-32">{words.sheet.thisBatch}</span>
        </p>
      )}
      <ul aria-label={words.sheet.whatToWeigh} className="@container flex max-w-4xl flex-col border-t border-deep">
        {recipe.lines.map((line, i) => (
          <LineRow
            key={`${line.ingredient}-${i}`}
            at={i}
            line={line}
            batch_g={scaled ? (sheet.weigh.lines.find((l) => l.at === i)?.mass_g ?? null) : undefined}
            item={itemOf(larder, line)}
            poured={poured.filter((p) => p.ingredient === line.ingredient && p.moment === line.moment)}
            {...{ recipe, edit, larder, refused }}
          />
        ))}
      </ul>
      <AddLine
        larder={larder}
        usual={(item) => school?.at[item.role] ?? "start"}
        add={(line) => edit(`add-${line.ingredient}`, (now) => ({ lines: [...now.lines, line] }))}
      />
    </>
  );
}

/** The moments there are for a line: those of its way, and the one it was written with. */
export function moments(larder: Reads["larder"], recipe: Recipe, line: RecipeLine) {
  const role = itemOf(larder, line)?.role;
  const said = new Map<Moment, string>([
    ...larder.choices.moments,
    ...(role === "sugar" ? larder.choices.sugar_moments : []),
  ]);
  const open = larder.schools.find((s) => s.school === recipe.school)?.moments ?? [];
  return [...new Set([...open, line.moment])].map((m) => [m, said.get(m) ?? m] as const);
}

function LineRow({
  at,
  line,
  batch_g,
  item,
  poured,
  recipe,
  edit,
  larder,
  refused,
}: Reads & { poured: readonly WentIn[] } & {
  at: number;
  line: RecipeLine;
  batch_g: number | null | undefined;
  item: ReturnType<typeof itemOf>;
}) {
  const [how, setHow] = useState<string>();
  const reading = useReading();
  const name = item?.name ?? line.ingredient;
  const put = (of: string, change: Partial<RecipeLine>) =>
    // read while a line above it went, or itself: it stands elsewhere now, or nowhere
    edit(`${of}-${at}`, (now) => {
      const stays = now.lines.length === recipe.lines.length && now.lines[at]?.ingredient === line.ingredient;
      return { lines: swap(now.lines, stays ? at : now.lines.indexOf(line), change) };
    });
  useReadLater(line, refused, (made) => put("line", made));
  const base = at === baseAt(recipe);
  const open = moments(larder, recipe, line);
  const unknown = line.mass_g === null;
  return (
    <li
      className={`grid grid-cols-[minmax(5rem,1fr)_10rem] items-start gap-x-3 border-b border-hairline py-1.5 ${
        batch_g === undefined
          ? "@min-[38rem]:grid-cols-[minmax(6rem,1fr)_12rem_12.5rem_4.5rem]"
          : "@min-[38rem]:grid-cols-[minmax(6rem,1fr)_9.5rem_12.5rem_8rem]"
      }`}
    >
      <b className="min-w-0 py-2">{name}</b>
      <TypedField
        quiet
        label={words.sheet.amountOf(name.toLowerCase())}
        shown={line.written || shownMass(line.mass_g)}
        width="w-full"
        read={async (typed) => {
          try {
            const made = await reading.mutateAsync({ written: typed, ingredient: line.ingredient, own: line.own });
            setHow(made.how);
            put("line", made.line);
          } catch (failure) {
            if (!(failure instanceof Refused && failure.offline)) throw failure;
            // nobody can read it now: the words stay, and are read when the app is back
            put("line", { mass_g: null, or_g: null, written: typed.trim() });
          }
        }}
        error={
          refused?.at(`lines.${at}.mass_g`) ??
          (unknown && line.written && refused?.offline ? refused.message : undefined)
        }
        hint={
          unknown
            ? words.sheet.notKnownNotScaled
            : inGrams(line.written)
              ? undefined
              : words.sheet.is(shownMass(line.mass_g))
        }
      />
      {base ? (
        <span />
      ) : (
        <Choice
          quiet
          label={words.sheet.whenGoesIn(name.toLowerCase())}
          value={line.moment}
          options={open}
          onChange={(moment) => put("moment", { moment: moment as Moment })}
        />
      )}
      <span className={`flex items-center gap-2 ${batch_g === undefined ? "justify-end" : "justify-between"}`}>
        {batch_g !== undefined && (
          <b className="py-2">
            <span className="sr-only">{words.sheet.thisBatch} </span>
            {shownMass(batch_g)}
          </b>
        )}
        {!base && (
          <button
            type="button"
            className="min-h-11 text-s whitespace-nowrap underline"
            aria-label={words.sheet.remove2(name)}
            onClick={() => edit("remove", (now) => ({ lines: now.lines.filter((_, i) => i !== at) }))}
          >
            {words.sheet.remove3}
          </button>
        )}
      </span>
      {line.or_g != null && (
        <p className="col-span-full flex flex-wrap items-center gap-3 border-b-2 border-dashed border-water bg-question px-2 py-1">
          {words.sheet.whichIsIt}
          {[line.mass_g, line.or_g].map((mass_g) => (
            <button
              key={mass_g}
              type="button"
              className="press"
              onClick={() => {
                setHow(undefined);
                put("chosen", { mass_g, or_g: null });
              }}
            >
              {shownMass(mass_g)}
            </button>
          ))}
        </p>
      )}
      {poured.length > 0 && (
        <p className="col-span-full text-s text-quiet">
          {words.sheet.wentIn}{" "}
          {poured
            .slice(0, LAST)
            .map((p) => words.sheet.onDay(shownMass(p.mass_g), day(p.on)))
            .join(", ")}
          {unknown && poured[0] && (
            <button
              type="button"
              className="press ml-3"
              aria-label={words.sheet.countThisAs(name, shownMass(poured[0].mass_g))}
              onClick={() => put("chosen", { mass_g: poured[0]?.mass_g, or_g: null })}
            >
              {words.sheet.countAs(shownMass(poured[0].mass_g))}
            </button>
          )}
        </p>
      )}
      {how && <p className="col-span-full text-s text-quiet">{how}</p>}
    </li>
  );
}

/** Words that nobody could read when they were written, as the app was away, are read when it is back. */
function useReadLater(line: RecipeLine, refused: Reads["refused"], put: (made: Partial<RecipeLine>) => void) {
  const tried = useRef("");
  const waits = line.mass_g === null && line.written !== "" ? `${line.written}, ${refused?.message}` : "";
  useEffect(() => {
    if (waits === "" || tried.current === waits) return;
    tried.current = waits;
    void read({ written: line.written, ingredient: line.ingredient, own: line.own }).then(
      (made) => made.line.mass_g !== null && put(made.line),
      () => undefined,
    );
  }, [waits, line, put]);
}

const BASES = { white: "egg-white", yolk: "egg-yolk", "whole egg": "whole-egg", other: undefined } as const;

/** The place of the line that all the others are taken to. */
export function baseAt(recipe: Recipe): number {
  const on = recipe.on ?? BASES[recipe.base];
  return recipe.lines.findIndex((l) => l.ingredient === on);
}

/** One more line: what, how much, when; all of it taken at once. */
function AddLine({
  larder,
  usual,
  add,
}: {
  larder: Reads["larder"];
  usual: (item: Ingredient) => Moment;
  add: (line: RecipeLine) => void;
}) {
  const [item, setItem] = useState<Ingredient>();
  const [written, setWritten] = useState("");
  const [problem, setProblem] = useState<string>();
  const [round, setRound] = useState({ n: 0, begun: "" });
  const [sought, setSought] = useState("");
  const reading = useReading();
  const begin = (begun: string, found?: Ingredient) => {
    setItem(found);
    setSought(begun);
    setProblem(undefined);
    setRound({ n: round.n + 1, begun });
  };
  const take = async () => {
    if (!item) return setProblem(words.sheet.chooseWhatGoesIn);
    try {
      const made = written.trim()
        ? (await reading.mutateAsync({ written, ...chosenFrom(larder, item.key) })).line
        : { mass_g: null, or_g: null, written: "" };
      add({ ...chosenFrom(larder, item.key), moment: usual(item), ...made });
      setWritten("");
      begin("");
    } catch (failure) {
      setProblem(failure instanceof Error ? failure.message : String(failure));
    }
  };
  return (
    <form
      className="flex flex-wrap items-start gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        void take();
      }}
    >
      <fieldset disabled={reading.isPending} className="contents">
        <IngredientField
          key={round.n}
          label={words.sheet.addSomething}
          items={larder.ingredients}
          begun={round.begun}
          put={(found, typed) => {
            setItem(found);
            setSought(typed);
          }}
        />
        <Labelled
          label={words.sheet.amount}
          error={problem}
          hint={item ? words.sheet.usually(momentSaid(larder, usual(item))) : undefined}
        >
          {(ids) => (
            <input
              {...ids}
              className="w-32"
              maxLength={80}
              autoComplete="off"
              value={written}
              onChange={(e) => setWritten(e.target.value)}
            />
          )}
        </Labelled>
        <button type="submit" className="press mt-6">
          {words.sheet.add}
        </button>
      </fieldset>
      <Describe key={`described-${round.n}`} larder={larder} item={item} sought={sought} kept={begin} />
    </form>
  );
}

const momentSaid = (larder: Reads["larder"], moment: Moment) =>
  larder.choices.moments.find(([m]) => m === moment)?.[1] ?? moment;
