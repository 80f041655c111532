import { memo } from "react";
import type { Product, ProductSheet } from "../../api/client";
import { Cut, Legend } from "../../food/Cut";
import { Choice, TypedField } from "../../kit/Field";
import { Fig } from "../../kit/Fig";
import { minutes } from "../../kit/format";
import { fixed, short } from "../../kit/numbers";
import { Caution, Remarks } from "../../kit/Remarks";
import { words } from "../../words";
import { alcohol } from "./Label";
import { type StationProps, set } from "./station";

export const AssembleClosed = memo(function AssembleClosed({ sheet }: { sheet: ProductSheet }) {
  return <Cut patches={sheet.assembled.section} label="" className="max-h-full w-full" />;
});

type Kind = Product["assembly"]["kind"];
type Role = Product["parts"][number]["role"];
const KINDS = (["filled shell", "roll", "pie", "jacket", "mould", "horn", "glass", "plate"] as const).map(
  (k) => [k, k] as const,
);
const FAMILIES = (
  ["rolls", "pies", "mousse pies", "jackets", "filled shells", "parfaits", "horns", "glasses", "menus"] as const
).map((f) => [f, f] as const);
/** The role of what holds the rest, by kind; none where a vessel does. */
const HOLDER: Record<Kind, Role | null> = {
  "filled shell": "shell",
  roll: "sheet",
  pie: "case",
  jacket: "base",
  horn: "case",
  mould: null,
  glass: null,
  plate: null,
};

/** The product put together another way: its sizes begin anew, what held the rest takes the new kind's role. */
function rebuilt(now: Product, kind: Kind): Product {
  const holders: readonly (Role | null)[] = Object.values(HOLDER);
  const role = HOLDER[kind];
  return {
    ...now,
    assembly: { kind } as Product["assembly"],
    parts: now.parts.map((p) =>
      !holders.includes(p.role)
        ? p
        : role
          ? { ...p, role, amount: null }
          : { ...p, amount: p.amount ?? 20, per: "portion" as const },
    ),
  };
}

/** Put together, cut through, to scale; what can be set on it, what it says, and who gets it without a part. */
export function AssembleOpen({ sheet, product, change, take, refused }: StationProps) {
  const { assembled } = sheet;
  const put = (name: string, value: unknown) =>
    change(`assembly.${name}`, (now) => set(now, `assembly.${name}`, value));
  return (
    <div className="grid gap-6 @xl:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)]">
      <div className="flex min-w-0 flex-col gap-3">
        <Cut
          patches={assembled.section}
          label={words.product.cutThroughToScale(product.name)}
          className="max-h-80 w-full"
          scale
        />
        <Legend patches={assembled.section} />
        <div className="flex flex-wrap gap-x-7 gap-y-3" data-testid="assembled">
          {Object.entries(assembled.figures).map(([key, figure]) => (
            <Fig key={key} figure={figure} label={assembled.titles[key] ?? key} large={key === assembled.vital} />
          ))}
        </div>
        <ol
          className="mt-1 divide-y divide-hairline border-t border-hairline text-s"
          aria-label={words.product.howItIsPutTogether}
        >
          {assembled.steps.map((step, i) => (
            <li key={step.key} className="flex gap-3 py-1">
              <span className="w-5 text-quiet">{i + 1}</span>
              <span className="grow">
                <b>{step.title}</b> {step.says.join(" ")}
                {step.until.length > 0 && (
                  <span className="text-quiet">
                    {" "}
                    {words.product.until} {step.until.join(", ")}.
                  </span>
                )}
              </span>
              <span className="whitespace-nowrap text-quiet">{minutes((step.low_min + step.high_min) / 2)}</span>
            </li>
          ))}
        </ol>
      </div>
      <div className="flex min-w-0 flex-col gap-4">
        <Remarks remarks={assembled.remarks} take={take} />
        <div className="grid grid-cols-2 gap-x-4 gap-y-2">
          <Choice
            label={words.product.assembledAs}
            value={product.assembly.kind}
            options={KINDS}
            onChange={(kind) => change("kind", (now) => rebuilt(now, kind))}
          />
          <Choice
            label={words.product.groupInTheBook}
            value={product.family}
            options={FAMILIES}
            onChange={(family) => change("family", (now) => ({ ...now, family }))}
          />
          {assembled.fields.map((field) =>
            field.options.length > 0 ? (
              <Choice
                key={field.name}
                label={field.label}
                value={String(field.value)}
                options={field.options.map((o) => [o, o] as const)}
                onChange={(value) => put(field.name, value)}
              />
            ) : (
              <TypedField
                key={field.name}
                label={field.unit ? `${field.label}, ${field.unit}` : field.label}
                shown={typeof field.value === "number" ? short(field.value) : String(field.value)}
                width="w-24"
                error={
                  refused?.at(`assembly.${assembled.kind}.${field.name}`) ??
                  refused?.at(`product.assembly.${assembled.kind}.${field.name}`)
                }
                read={(typed) => {
                  const value = Number(typed.replace(",", ".").replace(/\s*[a-z°]+$/i, ""));
                  const [least, most] = [field.least ?? 0, field.most ?? Number.POSITIVE_INFINITY];
                  if (!Number.isFinite(value) || value < least || value > most)
                    throw new Error(words.product.writeTo(least, most));
                  put(field.name, value);
                }}
              />
            ),
          )}
        </div>
        {product.assembly.kind === "roll" && (
          <TypedField
            label={words.product.thicknessReadMmBackLeftBack}
            shown={(product.assembly.readings_mm ?? []).join("  ")}
            width="w-full"
            read={(typed) => {
              const read = typed.trim()
                ? typed
                    .trim()
                    .split(/[\s;]+/)
                    .map((t) => Number(t.replace(",", ".")))
                : [];
              if (read.length > 5 || read.some((mm) => !Number.isFinite(mm) || mm < 1 || mm > 80))
                throw new Error(words.product.writeUpToFive1To);
              put("readings_mm", read);
            }}
          />
        )}
        <HoldBack sheet={sheet} product={product} change={change} />
        {assembled.cautions.map((says) => (
          <Caution key={says} says={says} />
        ))}
      </div>
    </div>
  );
}

/** Portions set aside before a part goes on, for a guest who must not have it; and what is then in them. */
function HoldBack({ sheet, product, change }: Pick<StationProps, "sheet" | "product" | "change">) {
  const own = sheet.parts.filter((p) => p.depth === 0);
  return (
    <section aria-labelledby="hold-back">
      <h3 id="hold-back" className="border-b border-hairline text-m">
        {words.product.holdPortionsBackBeforeAPart}
      </h3>
      <div className="flex flex-wrap items-end gap-3 py-2">
        <Choice
          label={words.product.partToLeaveOut}
          value=""
          options={[
            ["", words.product.chooseAPart] as const,
            ...own.filter((p) => !product.held.some((h) => h.part === p.key)).map((p) => [p.key, p.name] as const),
          ]}
          onChange={(part) =>
            part && change("hold", (now) => ({ ...now, held: [...now.held, { part, portions: 1, why: "guest" }] }))
          }
        />
      </div>
      <ul className="flex flex-col gap-3">
        {product.held.map((held, i) => {
          const label = sheet.held.find((h) => h.part === held.part)?.label;
          return (
            <li key={held.part} className="flex flex-col gap-1 border-l-4 border-deep pl-3">
              <div className="flex flex-wrap items-end gap-3">
                <TypedField
                  label={words.product.portionsWithout(own.find((p) => p.key === held.part)?.name ?? held.part)}
                  shown={String(held.portions)}
                  width="w-16"
                  read={(typed) => {
                    const value = Number(typed);
                    if (!Number.isInteger(value) || value < 1 || value > product.portions)
                      throw new Error(words.product.write1To(product.portions));
                    change(`held.${i}`, (now) => set(now, `held.${i}.portions`, value));
                  }}
                />
                <TypedField
                  label={words.product.guestOrReason}
                  shown={held.why}
                  width="w-64 max-w-full"
                  read={(why) => change(`held.${i}.why`, (now) => set(now, `held.${i}.why`, why.trim() || "guest"))}
                />
                <button
                  type="button"
                  className="min-h-11 px-2 text-s underline"
                  onClick={() => change("unhold", (now) => ({ ...now, held: now.held.filter((_, k) => k !== i) }))}
                >
                  {words.product.remove}
                </button>
              </div>
              {label && (
                <p className="text-s">
                  {words.product.thenInIt}{" "}
                  {label.allergens.length
                    ? label.allergens.map((a) => a.name).join(", ")
                    : words.product.noneOfTheNamedAllergens}
                  {words.product.egg} {label.egg}; {fixed(label.sugar_g)} {words.product.gSugar}{" "}
                  {alcohol(label.alcohol_g)} {words.product.alcohol}
                </p>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
