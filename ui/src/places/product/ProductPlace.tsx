import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { useParams } from "react-router";
import {
  answer,
  http,
  type Product,
  type ProductRecord,
  type ProductSheet,
  type RecipeCard,
  Refused,
} from "../../api/client";
import { kitchenQuery, productQuery, productsQuery, recipesQuery } from "../../api/queries";
import { BookEntry } from "../../kit/BookEntry";
import { Compared } from "../../kit/Compared";
import { draftOf, draftsQuery, keep } from "../../kit/drafts";
import { TypedField } from "../../kit/Field";
import { minutes, said } from "../../kit/format";
import { InStock } from "../../kit/InStock";
import { fixed } from "../../kit/numbers";
import { Outgoing } from "../../kit/Outgoing";
import { Trouble, Waiting } from "../../kit/States";
import { loud, NameAndNotes, NameOf, NotWorkedOut, StationLine, type StopLine } from "../../kit/StationLine";
import { Meanwhile, useSave } from "../../kit/useSave";
import { useWorked } from "../../kit/useWorked";
import { words } from "../../words";
import { AssembleClosed, AssembleOpen } from "./Assemble";
import { EggsClosed, EggsOpen } from "./Eggs";
import { keeps, LabelClosed, LabelOpen } from "./Label";
import { PartsClosed, PartsOpen } from "./Parts";
import { amount, type StationProps, set } from "./station";

const STATIONS = [
  ["parts", "Parts", PartsClosed, PartsOpen],
  ["assemble", "Assemble", AssembleClosed, AssembleOpen],
  ["eggs", "Eggs", EggsClosed, EggsOpen],
  ["label", "Label", LabelClosed, LabelOpen],
] as const;
type Key = (typeof STATIONS)[number][0];

export default function ProductPlace() {
  const { id = "" } = useParams();
  const product = useQuery({ ...productQuery(id), staleTime: Number.POSITIVE_INFINITY });
  const recipes = useQuery(recipesQuery);
  const products = useQuery(productsQuery);
  const kitchen = useQuery(kitchenQuery);
  const drafts = useQuery(draftsQuery);
  const error = product.error ?? recipes.error ?? products.error ?? kitchen.error;
  if (error) return <Trouble error={error} again={() => void product.refetch()} />;
  if (!product.data || !recipes.data || !products.data || !kitchen.data || drafts.isPending)
    return <Waiting what={words.product.theProduct} />;
  const others = products.data.filter((p) => p.id !== id).map((p) => ({ id: p.id, name: p.product.name }));
  return (
    <Line
      key={`${id}-${product.data.version}`}
      record={product.data}
      recipes={recipes.data}
      products={others}
      kitchen={kitchen.data.version}
      elsewhere={drafts.data}
    />
  );
}

/** The stations of a product: its parts as lines that meet, put together, both sides of the egg, the label. */
function Line({
  record,
  recipes,
  products,
  kitchen,
  elsewhere,
}: {
  record: ProductRecord;
  recipes: readonly RecipeCard[];
  products: StationProps["products"];
  kitchen: number;
  elsewhere?: Parameters<typeof draftOf>[1];
}) {
  const [kept] = useState(() => draftOf<Product>(record.id, elsewhere));
  const [batches, setBatches] = useState<Record<string, string>>({});
  const workOut = useCallback(
    (product: Product, signal: AbortSignal) =>
      answer(http.POST("/api/product-sheet", { body: { product, id: record.id, batches }, signal })),
    [record.id, batches],
  );
  const {
    draft: product,
    made: sheet,
    refused,
    change,
    undo,
    canUndo,
    again,
  } = useWorked(record.product, workOut, kept?.draft);
  const changed = JSON.stringify(product) !== JSON.stringify(record.product);
  const [onTop, setOnTop] = useState(kept?.version ?? record.version);
  useEffect(
    () => keep(record.id, changed ? { version: onTop, draft: product } : undefined),
    [record.id, changed, onTop, product],
  );
  const workedIn = useRef({ kitchen, batches });
  useEffect(() => {
    // The kitchen was changed meanwhile, or a part was made in another batch: the same draft, worked out anew.
    if (workedIn.current.kitchen !== kitchen || workedIn.current.batches !== batches) again();
    workedIn.current = { kitchen, batches };
  }, [kitchen, batches, again]);
  const madeIn = useCallback(
    (path: string, batch: string) =>
      setBatches((now) =>
        batch ? { ...now, [path]: batch } : Object.fromEntries(Object.entries(now).filter(([key]) => key !== path)),
      ),
    [],
  );
  const [open, setOpen] = useState<Key>(
    () => STATIONS.find(([key]) => key === sessionStorage.getItem("gullpeak-product-station"))?.[0] ?? "parts",
  );
  useEffect(() => sessionStorage.setItem("gullpeak-product-station", open), [open]);
  const props: StationProps | undefined = sheet && {
    id: record.id,
    changed,
    sheet,
    product,
    change,
    take: (remedy) => change(`remedy-${remedy.field}`, (now) => set(now, remedy.field, remedy.value)),
    refused,
    recipes,
    products,
    batches,
    madeIn,
  };
  return (
    <div className="mx-auto flex w-full max-w-[1900px] grow flex-col gap-3 px-4 py-3 md:px-6">
      <Head
        record={record}
        onTop={onTop}
        discard={() => {
          setOnTop(record.version);
          change("discard", () => record.product);
        }}
        product={product}
        sheet={sheet}
        change={change}
        undo={undo}
        canUndo={canUndo}
        refused={refused}
      />
      {refused && <NotWorkedOut refused={refused} again={again} />}
      {!props && !refused && <Waiting what={words.product.theFigures} />}
      {!props && refused && <Mend product={product} change={change} recipes={recipes} />}
      {props && (
        <StationLine
          shown={open}
          show={setOpen}
          undo={undo}
          stops={STATIONS.map(([key, title, Closed, Open]) => ({
            key,
            title,
            label: `${title}: ${TELLS[key](props.sheet)}`,
            closed: <Closed sheet={props.sheet} />,
            tells: TELLS[key](props.sheet),
            lines: LINES[key](props.sheet),
            loud: LOUD[key](props.sheet),
            open: <Open {...props} />,
          }))}
        />
      )}
    </div>
  );
}

const LOUD: Record<Key, (sheet: ProductSheet) => number> = {
  parts: (s) => loud(s.remarks),
  assemble: (s) => loud(s.assembled.remarks),
  eggs: () => 0,
  label: () => 0,
};

/** The line under each closed station. */
const TELLS: Record<Key, (sheet: ProductSheet) => string> = {
  parts: (s) =>
    `${s.parts.length} ${s.parts.length === 1 ? "part" : "parts"}${s.left.length ? words.product.leftOver2(s.left.length) : ""}`,
  assemble: (s) => {
    const vital = s.assembled.figures[s.assembled.vital];
    return vital ? `${s.assembled.titles[s.assembled.vital]?.toLowerCase()} ${said(vital)}` : "";
  },
  eggs: (s) => s.eggs.says,
  label: (s) => words.product.egg4(s.label.egg),
};

const MOST_LINES = 7;

/** What each closed station is read by. */
const LINES: Record<Key, (sheet: ProductSheet) => StopLine[]> = {
  parts: (s) =>
    s.parts
      .filter((part) => part.depth === 0)
      .map((part) => ({ name: part.name, says: amount(part.wants, part.unit) })),
  assemble: (s) =>
    Object.entries(s.assembled.figures)
      .filter(([key]) => key !== s.assembled.vital)
      .slice(0, MOST_LINES)
      .map(([key, figure]) => ({ name: s.assembled.titles[key] ?? key, says: said(figure) })),
  eggs: (s) => [
    { name: words.product.toCrack, says: String(s.eggs.cracked) },
    { name: words.product.whites, says: mass(s.eggs.white_g) },
    { name: words.product.yolks, says: mass(s.eggs.yolk_g) },
  ],
  label: (s) => [
    { name: words.product.onePortion, says: mass(s.label.portion_g) },
    { name: words.product.energy, says: `${fixed(s.label.energy_kj)} ${words.product.kj}` },
    ...s.label.keeps
      .slice(0, MOST_LINES - 2)
      .map((line) => ({ name: [line.what, line.where].filter(Boolean).join(", "), says: keeps(line.hours) })),
  ],
};

const mass = (grams: number) => `${fixed(grams)} g`;

/** Name, portions, save, undo. */
function Head({
  record,
  onTop,
  discard,
  product,
  sheet,
  change,
  undo,
  canUndo,
  refused,
}: {
  record: ProductRecord;
  /** The version it was begun on */
  onTop: number;
  /** Back to what is saved; it can be undone */
  discard: () => void;
  product: Product;
  sheet: ProductSheet | undefined;
  change: StationProps["change"];
  undo: () => void;
  canUndo: boolean;
  refused: Refused | undefined;
}) {
  const queries = useQueryClient();
  const dirty = JSON.stringify(product) !== JSON.stringify(record.product);
  const [naming, setNaming] = useState(false);
  const {
    save,
    base,
    newer: refusedFor,
    failure,
    keepMine,
  } = useSave<ProductRecord>(
    onTop,
    (version) =>
      answer(
        http.PUT("/api/products/{product_id}", {
          params: { path: { product_id: record.id }, header: { "if-match": `"${version}"` } },
          body: product,
        }),
      ),
    (made) => {
      keep(record.id, undefined);
      queries.setQueryData(productQuery(record.id).queryKey, made);
      void queries.invalidateQueries({ queryKey: ["products"] });
    },
  );
  const newer = refusedFor ?? (dirty && base < record.version ? record : undefined);
  const count = (field: "portions" | "serves") => (typed: string) => {
    const value = Number(typed);
    if (!Number.isInteger(value) || value < 1) throw new Error(words.product.writeAWholeNumberAtLeast);
    change(field, (now) => ({ ...now, [field]: value }));
  };
  return (
    <div>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2" data-head>
        <div className="min-w-72 flex-1">
          <NameOf name={product.name} />
          <InStock of={record.id} />
          <p className="text-s text-quiet">
            {sheet &&
              words.product.firstHandToPlateVersion(
                sheet.says,
                minutes(sheet.minutes),
                record.version,
                dirty ? ", changed" : "",
              )}
            <button
              type="button"
              className="ml-3 min-h-11 underline"
              aria-expanded={naming}
              onClick={() => setNaming(!naming)}
            >
              {words.product.nameNotesFiles}
            </button>
            {dirty && (
              <button type="button" className="ml-3 min-h-11 underline" onClick={discard}>
                {words.kit.discardChanges}
              </button>
            )}
          </p>
        </div>
        <TypedField
          label={words.product.portions2}
          shown={String(product.portions)}
          width="w-20"
          error={refused?.at("portions") ?? refused?.at("product.portions")}
          read={count("portions")}
        />
        <TypedField
          label={words.product.eachServes}
          shown={String(product.serves)}
          width="w-16"
          error={refused?.at("product.serves")}
          read={count("serves")}
        />
        <button type="button" className="press" disabled={!canUndo} onClick={undo}>
          {words.product.undo}
        </button>
        <button
          type="button"
          className="press press-first"
          disabled={!dirty || save.isPending}
          onClick={() => save.mutate()}
        >
          {words.kit.saveVersion((newer ?? record).version + 1)}
        </button>
      </div>
      {newer && (
        <Meanwhile
          version={newer.version}
          name=""
          keepMine={() => keepMine(newer)}
          takeTheirs={() => {
            keep(record.id, undefined);
            discard();
            queries.setQueryData(productQuery(record.id).queryKey, newer);
          }}
        >
          <Compared two={{ products: [newer.product, product] }} names={[words.kit.theirs, words.kit.mine]} />
        </Meanwhile>
      )}
      {failure && (
        <p role="alert" className="mt-2 border-l-4 border-deep pl-3 text-s">
          {failure instanceof Refused ? (failure.errors[0]?.says ?? failure.message) : failure.message}
        </p>
      )}
      {naming && (
        <NameAndNotes
          notes={product.notes}
          tags={product.tags}
          put={(next) => change(Object.keys(next).join(), (now) => ({ ...now, ...next }))}
          name={
            <TypedField
              label={words.product.name}
              shown={product.name}
              width="w-80 max-w-full"
              read={(name) => {
                if (!name.trim()) throw new Error(words.product.itNeedsANameWriteOne);
                change("name", (now) => ({ ...now, name: name.trim() }));
              }}
            />
          }
        >
          <Outgoing
            dirty={dirty}
            links={[
              [words.product.sheetAsPdf, `/api/files/products/${record.id}/sheet`],
              ...(["roll", "pie", "jacket"].includes(product.assembly.kind)
                ? ([
                    [words.product.outlineForTheParchmentTrueSize, `/api/files/products/${record.id}/template`],
                  ] as const)
                : []),
              [words.product.archiveWithItsParts, `/api/files/products/${record.id}/archive`],
            ]}
          />
          <BookEntry id={record.id} />
        </NameAndNotes>
      )}
    </div>
  );
}

/** A product that cannot be worked out as it stands: its parts, each to be chosen again or removed. */
function Mend({
  product,
  change,
  recipes,
}: {
  product: Product;
  change: StationProps["change"];
  recipes: readonly RecipeCard[];
}) {
  return (
    <ul className="flex max-w-2xl flex-col gap-2" aria-label={words.product.parts}>
      {product.parts.map((part, i) => (
        <li key={part.key} className="flex flex-wrap items-center gap-3">
          <span className="w-28">{part.key}</span>
          <select
            aria-label={words.product.whatIs(part.key)}
            value={recipes.some((r) => r.id === part.of) ? part.of : ""}
            onChange={(e) => change(`parts.${i}.of`, (now) => set(now, `parts.${i}.of`, e.target.value))}
          >
            <option value="">{words.product.notInTheBookChoose}</option>
            {recipes.map((r) => (
              <option key={r.id} value={r.id}>
                {r.recipe.name}
              </option>
            ))}
          </select>
          {product.parts.length > 1 && (
            <button
              type="button"
              className="min-h-11 underline"
              onClick={() => change("remove", (now) => ({ ...now, parts: now.parts.filter((_, k) => k !== i) }))}
            >
              {words.product.removeThisPart}
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
