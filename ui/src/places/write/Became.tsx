import type { Larder, ReadLine, ReadOven, ReadRecipe } from "../../api/client";
import { useDegrees } from "../../kit/degrees";
import { Choice, TypedField } from "../../kit/Field";
import { minutes } from "../../kit/format";
import { IngredientField } from "../../kit/IngredientField";
import { fixed, short } from "../../kit/numbers";
import { words } from "../../words";

type Span = readonly [number, number];
interface Changing {
  larder: Larder;
  chosen: Span | undefined;
  choose: (at: number) => void;
  give: (span: Span, key: string) => void;
  forget: (span: Span) => void;
  answeredAt: (span: Span) => boolean;
}

const grams = (g: number) => (g >= 20 ? fixed(g) : short(g, 1));
export const overlaps = (one: Span | undefined, two: Span) => Boolean(one && one[0] < two[1] && two[0] < one[1]);

function amount(line: ReadLine): string {
  if (line.grams !== null && line.grams !== undefined) return words.write.g(grams(line.grams));
  if (line.low && line.high) return words.write.range(grams(line.low), grams(line.high));
  return words.write.notKnown;
}

/** One recipe of the text: each line with its amount, its moment and how it was taken; then oven, heat and yield. */
export function Became({ recipe, ...changing }: { recipe: ReadRecipe } & Changing) {
  const degrees = useDegrees();
  const school = changing.larder.schools.find((s) => s.school === recipe.way);
  const made = [
    recipe.pieces ? words.write.makes(recipe.pieces) : "",
    recipe.portions ? words.write.serves(recipe.portions) : "",
  ].filter(Boolean);
  return (
    <section aria-label={recipe.name} data-testid="became">
      <h3 className="text-m">{recipe.name}</h3>
      <p className="text-s text-quiet">
        <b className="text-ink">{school?.name ?? recipe.way}.</b> {recipe.why} {made.join(", ")}
      </p>
      <ul className="mt-1 divide-y divide-hairline">
        {recipe.lines.map((line) => (
          <Line key={`${line.span[0]}-${line.ingredient}`} line={line} recipe={recipe} {...changing} />
        ))}
        {recipe.target_c && (
          <li className="grid grid-cols-[6.5rem_1fr] items-baseline gap-x-4 py-2">
            <span className="font-name text-m font-semibold">{degrees.show(recipe.target_c[1])}</span>
            <span className="text-s">
              {recipe.target_c[0] === recipe.target_c[1]
                ? ""
                : words.write.to(`${degrees.figure(recipe.target_c[0])}–${degrees.show(recipe.target_c[1])}`)}
            </span>
          </li>
        )}
        {recipe.oven.map((step) => (
          <Oven key={step.span[0]} step={step} />
        ))}
      </ul>
      {recipe.by_habit.map((says) => (
        <p key={says} className="text-s text-quiet">
          {says}
        </p>
      ))}
      {recipe.refused && (
        <p role="alert" className="border-l-4 border-deep pl-3 text-s">
          {recipe.refused}
        </p>
      )}
    </section>
  );
}

function Line({ line, recipe, ...changing }: { line: ReadLine; recipe: ReadRecipe } & Changing) {
  const open = overlaps(changing.chosen, line.span);
  const said = new Map<string, string>([
    ...changing.larder.choices.moments,
    ...(changing.larder.ingredients.find((i) => i.key === line.ingredient)?.role === "sugar"
      ? changing.larder.choices.sugar_moments
      : []),
  ]);
  return (
    <li className={open ? "bg-question" : ""}>
      <button
        type="button"
        className="grid min-h-11 w-full grid-cols-[6.5rem_1fr] items-baseline gap-x-4 py-1 text-left"
        aria-expanded={open}
        aria-label={words.write.change(line.name)}
        onClick={() => changing.choose(open ? -1 : line.span[0])}
      >
        <span className={`font-name text-m font-semibold ${line.status === "read" ? "" : "text-water"}`}>
          {amount(line)}
        </span>
        <span className="text-s">
          {line.name}
          <span className="text-quiet">, {said.get(line.moment) ?? line.moment}</span>
          {open && line.how.length > 0 && <span className="block text-quiet">{line.how.join(" ")}</span>}
        </span>
      </button>
      {open && <Change line={line} recipe={recipe} said={said} {...changing} />}
    </li>
  );
}

/** What one phrase became, open to be put otherwise. */
function Change({
  line,
  recipe,
  said,
  larder,
  give,
  forget,
  answeredAt,
}: { line: ReadLine; recipe: ReadRecipe; said: Map<string, string> } & Changing) {
  const moments = larder.schools.find((s) => s.school === recipe.way)?.moments ?? [];
  return (
    <div className="flex flex-wrap items-end gap-3 pb-3 pl-2">
      <TypedField
        label={words.write.grams}
        shown={line.grams === null || line.grams === undefined ? "" : grams(line.grams)}
        width="w-24"
        read={(typed) => {
          const g = Number(typed.replace(",", ".").replace(/\s*g$/i, ""));
          if (!typed.trim() || !Number.isFinite(g) || g < 0) throw new Error(words.write.writeGrams);
          give(line.span, `g:${g}`);
        }}
      />
      <Choice
        label={words.write.goesIn}
        value={line.moment}
        options={[...new Set([...moments, line.moment])].map((m) => [m, said.get(m) ?? m] as const)}
        onChange={(moment) => give(line.span, `moment:${moment}`)}
      />
      <IngredientField
        label={words.write.itIs}
        items={larder.ingredients}
        begun={line.name}
        put={(item) => {
          if (item && item.key !== line.ingredient) give(line.span, `is:${item.key}`);
        }}
      />
      {answeredAt(line.span) && (
        <button type="button" className="press" onClick={() => forget(line.span)}>
          {words.write.undo}
        </button>
      )}
    </div>
  );
}

function Oven({ step }: { step: ReadOven }) {
  const degrees = useDegrees();
  const off = step.set_c === null || step.set_c === undefined;
  return (
    <li className="grid grid-cols-[6.5rem_1fr] items-baseline gap-x-4 py-2" data-testid="oven">
      <span className="font-name text-m font-semibold">
        {off ? words.write.ovenOff : degrees.show(step.set_c as number, { oven: true })}
      </span>
      <span className="text-s">
        {step.minutes ? minutes(step.minutes) : off ? "" : words.write.atOnce}
        {off ? ` ${step.door === "ajar" ? words.write.ajar : words.write.shut}` : ""}
        {!off && (
          <span className="text-quiet">
            {" "}
            {`${step.fan ? words.sheet.fan : words.sheet.still}${step.air_said ? "" : `, ${words.write.airByHabit}`}`}
          </span>
        )}
      </span>
    </li>
  );
}
