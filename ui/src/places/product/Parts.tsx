import { useMutation, useQueryClient } from "@tanstack/react-query";
import { memo, useState } from "react";
import { Link, useNavigate } from "react-router";
import { answer, http, type PartLine, type ProductSheet, type Recipe } from "../../api/client";
import { Held } from "../../food/Held";
import { Choice, TypedField } from "../../kit/Field";
import { minutes, shownMass } from "../../kit/format";
import { AtHand } from "../../kit/InStock";
import { fixed, short, weight } from "../../kit/numbers";
import { Remarks } from "../../kit/Remarks";
import { useWidth } from "../../kit/useWidth";
import { words } from "../../words";
import { Lines, ROW } from "./Lines";
import { amount, type StationProps, set } from "./station";

const MOST_DRAWN = 6;

/** Each part in what it is kept in. */
export const PartsClosed = memo(function PartsClosed({ sheet }: { sheet: ProductSheet }) {
  return (
    <span className="grid max-h-full w-full grid-cols-3 items-end gap-1">
      {sheet.parts
        .filter((part) => part.depth === 0)
        .slice(0, MOST_DRAWN)
        .map((part) => (
          <Held key={part.path} {...lookOf(part)} className="max-h-11 w-full" />
        ))}
    </span>
  );
});

const lookOf = (part: PartLine) => ({ material: part.material ?? "foam", colour: part.colour, toast: part.toast });

export function PartsOpen(props: StationProps) {
  const { sheet, product, take } = props;
  const [chosen, setChosen] = useState<number>();
  const [drawing, width] = useWidth<HTMLDivElement>(540);
  const own = chosen === undefined ? undefined : sheet.parts[chosen];
  return (
    <div className="flex min-w-0 flex-col gap-4">
      <div className="grid gap-x-3 @md:grid-cols-[minmax(12rem,19rem)_minmax(0,1fr)]" data-testid="lines">
        <ul className="flex flex-col">
          {sheet.parts.map((part, i) => (
            <li key={`${part.key}-${part.inside.join("-")}-${i}`} style={{ height: ROW }}>
              <button
                type="button"
                aria-expanded={chosen === i}
                className={`grid h-full w-full grid-cols-[2.75rem_1fr] content-center items-center gap-x-2 border-l-4 pl-2 text-left ${chosen === i ? "border-deep" : "border-hairline"}`}
                onClick={() => setChosen(chosen === i ? undefined : i)}
              >
                <Held {...lookOf(part)} className="row-span-2 max-h-10 w-full" />
                <b className="leading-tight" style={{ paddingLeft: `${part.depth * 0.8}rem` }}>
                  {part.name}
                </b>
                <span className="text-s leading-tight text-quiet" style={{ paddingLeft: `${part.depth * 0.8}rem` }}>
                  {amount(part.wants, part.unit)}
                  {typeof part.made === "number" && (
                    <b className="text-ink">
                      , {amount(part.made, part.unit)} {words.product.made}
                    </b>
                  )}
                  {part.depth === 0 && part.covers < product.portions && (
                    <b className="text-ink">{words.product.shortFor(part.covers, product.portions)}</b>
                  )}{" "}
                  · {minutes(part.minutes)}
                </span>
              </button>
            </li>
          ))}
          <li className="flex h-12 items-center pl-3 text-s text-quiet">{words.product.putTogether2}</li>
        </ul>
        <div className="hidden min-w-0 overflow-hidden @md:block" ref={drawing}>
          <Lines sheet={sheet} width={width} {...(chosen === undefined ? {} : { chosen })} />
        </div>
      </div>
      <p className="hidden text-s text-quiet @md:block">{words.product.thickHandsHollowAMachineDoubled}</p>
      <div className="grid gap-6 @xl:grid-cols-[minmax(0,1.4fr)_minmax(0,1fr)]">
        <div className="flex min-w-0 flex-col gap-4">
          {own && (
            <PartDetail
              key={chosen}
              {...props}
              part={own}
              index={product.parts.findIndex((p) => p.key === own.key && own.depth === 0)}
            />
          )}
          <Splits sheet={sheet} />
        </div>
        <div className="flex min-w-0 flex-col gap-4">
          <Remarks remarks={sheet.remarks} take={take} />
          <Left sheet={sheet} />
          <AddPart {...props} />
        </div>
      </div>
    </div>
  );
}

const UNITS = [
  ["geometry", words.product.asMuchAsTheAssemblyNeeds],
  ["pieces", words.product.pieces],
  ["g", "g"],
  ["ml", words.product.ml],
] as const;

/** One part: how much, what there is, what it is weighed from, and its own sheet. */
function PartDetail({
  part,
  index,
  product,
  change,
  refused,
  recipes,
  products,
}: StationProps & { part: PartLine; index: number }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const recipe = part.recipe;
  const start = useMutation({
    mutationFn: (made: Recipe) =>
      answer(
        http.POST("/api/batches", {
          body: {
            id: crypto.randomUUID(),
            recipe: made,
            weighed: null,
            recipe_id: part.of,
            recipe_version: null,
            cook: localStorage.getItem("gullpeak-cook") ?? "",
          },
        }),
      ),
    onSuccess: (batch) => {
      void queries.invalidateQueries({ queryKey: ["batches"] });
      go(`/bench/${batch.id}`);
    },
  });
  const mine = index >= 0 ? product.parts[index] : undefined;
  const put = (field: string, value: unknown) =>
    change(`parts.${index}.${field}`, (now) => set(now, `parts.${index}.${field}`, value));
  const number = (typed: string): number => {
    const value = Number(typed.replace(",", "."));
    if (!Number.isFinite(value) || value < 0) throw new Error(words.product.writeANumber);
    return value;
  };
  return (
    <section aria-label={part.name} className="flex flex-col gap-3 border-y border-deep py-3">
      <div className="flex flex-wrap items-center gap-3">
        <h3 className="grow text-m">{part.name}</h3>
        <Link className="press" to={recipe ? `/recipes/${part.of}` : `/products/${part.of}`}>
          {words.product.itsOwnSheet}
        </Link>
        {recipe && (
          <button
            type="button"
            className="press press-first"
            disabled={start.isPending}
            onClick={() => start.mutate(recipe)}
          >
            {words.product.startThisPart}
          </button>
        )}
      </div>
      {start.error && (
        <p role="alert" className="border-l-4 border-deep pl-3 text-s">
          {start.error.message}
        </p>
      )}
      {mine && (
        <div className="flex flex-wrap items-start gap-3">
          <Choice
            label={words.product.itIs}
            value={mine.of}
            options={[
              ...recipes.map((r) => [r.id, r.recipe.name] as const),
              ...products.map((p) => [p.id, p.name] as const),
            ]}
            onChange={(of) => put("of", of)}
          />
          <Choice
            label={words.product.role}
            value={mine.role}
            options={ROLES.map((r) => [r, r] as const)}
            onChange={(role) => put("role", role)}
          />
          <Choice
            label={words.product.howMuch}
            value={mine.amount === null ? "geometry" : mine.unit}
            options={UNITS}
            onChange={(unit) =>
              change(`parts.${index}.unit`, (now) =>
                set(now, `parts.${index}`, {
                  ...mine,
                  unit: unit === "geometry" ? mine.unit : unit,
                  amount:
                    unit === "geometry"
                      ? null
                      : (mine.amount ?? Math.round((part.wants / Math.max(product.portions, 1)) * 10) / 10),
                  per: unit === "geometry" ? mine.per : mine.amount === null ? "portion" : mine.per,
                }),
              )
            }
          />
          {mine.amount != null && (
            <>
              <TypedField
                label={words.product.amount(mine.unit)}
                shown={short(mine.amount)}
                width="w-24"
                error={refused?.at(`parts.${index}.amount`)}
                read={(typed) => put("amount", number(typed))}
              />
              <Choice
                label={words.product.per}
                value={mine.per}
                options={
                  [
                    ["portion", words.product.portion],
                    ["whole", words.product.whole],
                  ] as const
                }
                onChange={(per) => put("per", per)}
              />
            </>
          )}
          <TypedField
            label={words.product.madeOrAtHand(part.unit)}
            shown={mine.made == null ? "" : short(mine.made)}
            width="w-28"
            hint={
              mine.made === null
                ? words.product.wanted(amount(part.wants, part.unit))
                : words.product.enoughFor(part.covers)
            }
            error={refused?.at(`parts.${index}.made`)}
            read={(typed) => put("made", typed.trim() ? number(typed) : null)}
          />
          <AtHand of={part.of} unit={part.unit} use={(made) => put("made", made)} />
          {part.recipe && (
            <Choice
              label={words.product.madeAt}
              value={mine.batch ?? "needed"}
              options={
                [
                  ["needed", words.product.asLargeAsNeeded],
                  ["own", words.product.theSizeItIsWrittenAt],
                ] as const
              }
              onChange={(batch) => put("batch", batch)}
            />
          )}
          {product.parts.length > 1 && (
            <button
              type="button"
              className="min-h-11 self-end px-2 text-s underline"
              onClick={() =>
                change("remove", (now) => ({
                  ...now,
                  parts: now.parts.filter((_, i) => i !== index),
                  held: now.held.filter((h) => h.part !== mine.key),
                }))
              }
            >
              {words.product.removeThisPart}
            </button>
          )}
        </div>
      )}
      <ul className="flex flex-wrap gap-x-6 gap-y-1 text-s">
        {part.lines.map((line) => (
          <li key={`${line.key}-${line.moment}`}>
            {line.name} <b>{line.mass_g === null ? words.product.notKnown : `${weight(line.mass_g)} g`}</b>
          </li>
        ))}
      </ul>
      <p className="text-s text-quiet">
        {part.egg && `Egg: ${part.egg.label}. `}
        {words.product.keeps}{" "}
        {typeof part.keeps?.hours === "number"
          ? `${part.keeps.hours < 48 ? `${part.keeps.hours} h` : words.product.days(Math.round(part.keeps.hours / 24))}, ${part.keeps.where}`
          : words.product.notKnown}
        .
      </p>
    </section>
  );
}

function Left({ sheet }: { sheet: ProductSheet }) {
  if (sheet.left.length === 0) return null;
  return (
    <section aria-labelledby="left-over">
      <h3 id="left-over" className="border-b border-hairline text-m">
        {words.product.leftOver}
      </h3>
      <ul className="divide-y divide-hairline">
        {sheet.left.map((left) => (
          <li key={left.part} className="py-1">
            <b>{amount(left.amount, left.unit)}</b> {left.name}{" "}
            <span className="text-s text-quiet">
              {left.because}
              {typeof left.cost === "number" && words.product.worth(fixed(left.cost, 2), sheet.label.currency)}
            </span>
            {left.uses.length > 0 && <span className="block text-s">{left.uses.join(" · ")}</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Splits({ sheet }: { sheet: ProductSheet }) {
  if (sheet.splits.length === 0) return null;
  return (
    <section aria-labelledby="splits">
      <h3 id="splits" className="border-b border-hairline text-m">
        {words.product.inMoreThanOnePart}
      </h3>
      <ul className="divide-y divide-hairline">
        {sheet.splits.map((split) => (
          <li key={split.name} className="py-1">
            <b>{split.name}</b> {split.buy || words.product.gInAll(fixed(split.total_g))}
            {split.order && <b>; {split.order}</b>}
            <span className="block text-s text-quiet">
              {split.shares
                .map((s) => words.product.takes(s.name, shownMass(s.grams), s.left_g > 0.05 && shownMass(s.left_g)))
                .join(" · ")}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

const ROLES = [
  "base",
  "sheet",
  "shell",
  "case",
  "core",
  "foam",
  "filling",
  "sauce",
  "topping",
  "inside",
  "garnish",
  "dish",
] as const;

function AddPart({ product, change, recipes, products }: StationProps) {
  const [role, setRole] = useState<(typeof ROLES)[number]>("filling");
  return (
    <section aria-labelledby="add-part" className="flex flex-wrap items-end gap-3">
      <h3 id="add-part" className="sr-only">
        {words.product.addAPart}
      </h3>
      <Choice
        label={words.product.roleOfANewPart}
        value={role}
        options={ROLES.map((r) => [r, r] as const)}
        onChange={setRole}
      />
      <Choice
        label={words.product.recipeFromTheBook}
        value=""
        options={[
          ["", words.product.choose] as const,
          ...recipes.map((r) => [r.id, r.recipe.name] as const),
          ...products.map((p) => [p.id, p.name] as const),
        ]}
        onChange={(of) => {
          if (!of) return;
          const piece = products.some((p) => p.id === of);
          let key = `${role}-${product.parts.length + 1}`;
          while (product.parts.some((p) => p.key === key)) key += "x";
          change("add", (now) => ({
            ...now,
            parts: [
              ...now.parts,
              {
                key,
                of,
                role,
                amount: piece ? 1 : 20,
                unit: piece ? "pieces" : "g",
                per: "portion",
                made: null,
                batch: "needed" as const,
              },
            ],
          }));
        }}
      />
    </section>
  );
}
