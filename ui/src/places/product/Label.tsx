import { useQuery } from "@tanstack/react-query";
import { memo, useState } from "react";
import type { LabelSheet, ProductSheet } from "../../api/client";
import { madeQuery } from "../../api/queries";
import { Cut } from "../../food/Cut";
import { Choice } from "../../kit/Field";
import { day, time } from "../../kit/format";
import { fixed, short } from "../../kit/numbers";
import { Caution } from "../../kit/Remarks";
import { words } from "../../words";
import type { StationProps } from "./station";

export const LabelClosed = memo(function LabelClosed({ sheet }: { sheet: ProductSheet }) {
  return (
    <span className="flex w-full flex-col gap-1 border border-quiet p-2 text-left text-s">
      <b>{sheet.label.allergens.map((a) => a.name).join(", ") || words.product.noneNamed}</b>
      <span>
        {fixed(sheet.label.energy_kj)} {words.product.kj}
      </span>
    </span>
  );
});

export const keeps = (hours: number | null) =>
  hours === null
    ? words.product.notKnown
    : hours < 1
      ? words.product.min(Math.round(hours * 60))
      : hours < 48
        ? `${short(hours, 1)} h`
        : words.product.days(Math.round(hours / 24));

export const alcohol = (grams: number | null) =>
  grams === null ? words.product.containsItAmountNotKnown : `${fixed(grams, 1)} g`;

/** Which batch a part with egg was made in: its readings decide what the label says. */
function MadeIn({
  part,
  batch,
  choose,
}: {
  part: ProductSheet["parts"][number];
  batch: string;
  choose: (batch: string) => void;
}) {
  const { data } = useQuery(madeQuery(part.of));
  const made = data ?? [];
  return (
    <Choice
      label={part.name}
      value={batch}
      options={[
        ["", made.length > 0 ? words.product.asExpected : words.product.asExpectedNoneLogged],
        ...made.map((b) => [b.id, words.product.egg2(day(b.started_at), time(b.started_at), b.egg.label)] as const),
      ]}
      onChange={choose}
    />
  );
}

/** The label, as it is printed; and the ones of the portions held back and of the batch without spirit. */
export function LabelOpen({ sheet, product, id, changed, batches, madeIn }: StationProps) {
  const kinds: readonly (readonly [string, string, LabelSheet])[] = [
    ["as made", "as it is made", sheet.label],
    ...sheet.held.map((h) => [words.product.without(h.part), words.product.heldBackFor(h.why), h.label] as const),
    ...(sheet.spirit_free
      ? [["without spirit", "juice for wine, water for spirit, the same liquid and sugar", sheet.spirit_free] as const]
      : []),
  ];
  const [kind, setKind] = useState("as made");
  const [, says, label] = kinds.find(([k]) => k === kind) ?? (kinds[0] as (typeof kinds)[number]);
  const asked = new URLSearchParams([
    ...(kind === "as made" ? [] : [["without", kind.replace("without ", "")]]),
    ...Object.entries(batches).map(([path, batch]) => ["batch", `${path}:${batch}`]),
  ]);
  const least = (what: LabelSheet["at_least"][number]) => (label.at_least.includes(what) ? words.product.atLeast : "");
  const withEgg = sheet.parts.filter((p) => p.egg && p.egg.label !== "no egg");
  return (
    <div className="grid gap-6 @xl:grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)]">
      <article
        className="printed flex min-w-0 flex-col gap-3 border border-ink bg-surface p-4"
        aria-label={words.product.label}
      >
        {label.missing.length > 0 && (
          <p role="alert" className="border-l-4 border-spot pl-3 text-m font-bold">
            {words.product.notComplete} {label.missing.join(" and ")} {words.product.isMissingItsAllergensAreNot}
          </p>
        )}
        <header className="flex flex-wrap items-baseline justify-between gap-x-6 border-b border-ink pb-1">
          <h3 className="text-l">{product.name}</h3>
          <p>
            {least("mass")}
            {fixed(label.portion_g)} {words.product.gAPortion} {product.portions} {words.product.portions}
          </p>
          {kind !== "as made" && <p className="w-full font-bold">{says}</p>}
        </header>
        {kind === "as made" && <Cut patches={sheet.assembled.section} label="" className="max-h-24 self-start" />}
        <div>
          <p className="text-s text-quiet">{words.product.contains}</p>
          <p className="text-m font-bold">
            {[...label.allergens.map((a) => a.name), ...(label.gelatine ? ["gelatine"] : [])].join(", ") ||
              words.product.noneOfTheNamedAllergens}
          </p>
          <ul className="text-s">
            {label.allergens.map((a) => (
              <li key={a.name}>
                {a.name}: {a.within.join("; ")}
              </li>
            ))}
          </ul>
        </div>
        <p>
          <b>
            {words.product.egg3} {label.egg}.
          </b>{" "}
          <span className="text-s">
            {label.egg_because}.{" "}
            {label.egg !== "no egg" &&
              (label.egg_as_made ? words.product.byTheBatchesItWasMade : words.product.asExpectedTheBatchesItIs)}
          </span>
        </p>
        <dl className="grid grid-cols-4 gap-x-4 border-y border-hairline py-2">
          {(
            [
              ["energy", words.product.kjKcal(least("energy"), fixed(label.energy_kj), fixed(label.energy_kcal))],
              ["sugar", `${least("sugar")}${fixed(label.sugar_g)} g`],
              ["fat", `${least("fat")}${fixed(label.fat_g)} g`],
              ["alcohol", alcohol(label.alcohol_g)],
            ] as const
          ).map(([name, value]) => (
            <div key={name}>
              <dt className="text-s text-quiet">{name}</dt>
              <dd className="font-bold">{value}</dd>
            </div>
          ))}
        </dl>
        {label.unknown.length > 0 && (
          <p className="text-s">
            <b>{words.product.amountNotKnown}</b> {label.unknown.join("; ")}
            {words.product.weighItWhenItIsUsed}
          </p>
        )}
        {label.alcohol_how.length > 0 && <p className="text-s">{label.alcohol_how.join("; ")}.</p>}
        <ul className="text-s">
          {label.cautions.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
        <p className="text-s text-quiet">{words.product.calculatedFromRecipesAndTablesNot}</p>
      </article>
      <div className="flex min-w-0 flex-col gap-4">
        <div className="flex flex-wrap items-end gap-3">
          <Choice
            label={words.product.labelOf}
            value={kind}
            options={kinds.map(([k]) => [k, k] as const)}
            onChange={setKind}
          />
          <a
            className="press press-first"
            href={`/api/files/products/${id}/label?${asked}`}
            target="_blank"
            rel="noreferrer"
          >
            {label.missing.length > 0 ? words.product.draftAsPdf : words.product.labelAsPdf}
          </a>
          <button type="button" className="press" disabled={label.missing.length > 0} onClick={() => window.print()}>
            {words.product.print}
          </button>
          {changed && <p className="w-full text-s text-quiet">{words.product.thePdfShowsTheSavedVersion}</p>}
        </div>
        {withEgg.length > 0 && (
          <section aria-labelledby="made-in">
            <h3 id="made-in" className="border-b border-hairline text-m">
              {words.product.madeIn}
            </h3>
            {withEgg.map((part) => (
              <MadeIn
                key={part.path}
                part={part}
                batch={batches[part.path] ?? ""}
                choose={(batch) => madeIn(part.path, batch)}
              />
            ))}
            <p className="text-s text-quiet">{words.product.theLabelThenSaysWhatThat}</p>
          </section>
        )}
        <section aria-labelledby="keeps">
          <h3 id="keeps" className="border-b border-hairline text-m">
            {words.product.keeps}
          </h3>
          <ul className="divide-y divide-hairline">
            {label.keeps.map((k) => (
              <li key={k.what} className="flex justify-between gap-4 py-1">
                <span>
                  {k.what === "whole" ? <b>{words.product.putTogether}</b> : k.what}{" "}
                  <span className="text-s text-quiet">{k.where}</span>
                </span>
                <b className="whitespace-nowrap" title={k.source}>
                  {keeps(k.hours)}
                </b>
              </li>
            ))}
          </ul>
          <p className="text-s text-quiet">{words.product.fromTheKeepingTableInKitchen}</p>
        </section>
        {typeof label.cost === "number" && typeof label.cost_batch === "number" && (
          <p>
            {words.product.costs}{" "}
            <b>
              {fixed(label.cost, 2)} {label.currency}
            </b>{" "}
            {words.product.aPortion} {fixed(label.cost_batch, 2)} {label.currency} {words.product.inAll}
            {label.cost_missing.length > 0 && (
              <span className="block text-s text-quiet">
                {words.product.withoutAPriceFor} {label.cost_missing.join(", ")}
              </span>
            )}
          </p>
        )}
        {label.honey && <Caution says={words.product.honeyIsNotForInfantsUnder} />}
        <section aria-labelledby="contains">
          <h3 id="contains" className="border-b border-hairline text-m">
            {words.product.inAPortion}
          </h3>
          <ul className="columns-2 gap-6 text-s">
            {label.contains.map(({ name, grams: g }) => (
              <li key={name} className="flex justify-between gap-2">
                <span>{name}</span>
                <b>{g >= 10 ? fixed(g) : fixed(g, 1)} g</b>
              </li>
            ))}
          </ul>
          {label.unknown.length > 0 && (
            <p className="text-s">
              {words.product.andAmountNotKnown} {label.unknown.join("; ")}
            </p>
          )}
        </section>
      </div>
    </div>
  );
}
