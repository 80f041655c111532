import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, http, type Larder, type OwnIngredient, Refused } from "../api/client";
import { words } from "../words";
import { Box } from "./Box";
import { Alert, Choice, Labelled } from "./Field";
import { TextField } from "./fields";
import { Remarks } from "./Remarks";

/** What a packet tells of itself, by the name it has there. */
const SAID = {
  energy_kj: words.kit.energyKj,
  fat: words.kit.fatG,
  carbohydrate: words.kit.carbohydrateG,
  sugars: words.kit.sugarsG,
  fibre: words.kit.fibreG,
  protein: words.kit.proteinG,
  alcohol: words.kit.alcoholVol,
  water: words.kit.waterG,
  density: words.kit.densityGMl,
} as const;
type Figure = keyof typeof SAID;
const FIGURES = Object.keys(SAID) as Figure[];
const TYPED_MOST = 12;

/** What was typed, as a number; nothing typed is not known, and what is no number is NaN. */
const figureOf = (typed: string) => (typed.trim() ? Number(typed.replace(",", ".")) : null);
const shownFigure = (value: number | null | undefined) => (value == null ? "" : String(value));

/** An ingredient as its packet describes it. What is left empty stays not known. */
export function Packet({
  larder,
  begun,
  price,
  keep,
  close,
}: {
  larder: Larder;
  begun: OwnIngredient;
  price?: number;
  keep: (own: OwnIngredient, per_kg: number | null) => Promise<void>;
  close: () => void;
}) {
  const [own, setOwn] = useState(begun);
  const [also, setAlso] = useState((begun.also ?? []).join(", "));
  const [typed, setTyped] = useState(() =>
    Object.fromEntries([...FIGURES.map((f) => [f, shownFigure(begun[f])]), ["per_kg", shownFigure(price)]]),
  );
  const [refused, setRefused] = useState<Refused>();
  const [busy, setBusy] = useState(false);
  const ships = larder.ingredients.some((i) => i.key === own.key && !i.own);
  const put = (change: Partial<OwnIngredient>) => {
    setRefused(undefined);
    setOwn({ ...own, ...change });
  };
  const bad = Object.keys(typed).filter((name) => Number.isNaN(figureOf(typed[name] ?? "")));
  const packet: OwnIngredient = {
    ...own,
    name: own.name.trim(),
    also: also.split(",").flatMap((name) => name.trim() || []),
    ...Object.fromEntries(FIGURES.map((f) => [f, figureOf(typed[f] ?? "")])),
  };
  const read = useQuery({
    queryKey: ["packet", packet],
    queryFn: () => answer(http.POST("/api/read/packet", { body: packet })),
    enabled: bad.length === 0 && packet.name !== "",
    placeholderData: keepPreviousData,
    retry: false,
  });
  const trouble = refused ?? (read.error instanceof Refused ? read.error : undefined);
  const at = (field: string) =>
    bad.includes(field) ? words.kit.writeANumberOrLeaveEmpty : (trouble?.at(`own.${field}`) ?? trouble?.at(field));
  const named = [...FIGURES, "name", "role", "also", "per_kg"];
  const take = async () => {
    if (bad.length > 0 || busy) return;
    setBusy(true);
    try {
      await keep(packet, figureOf(typed.per_kg ?? ""));
    } catch (failure) {
      if (!(failure instanceof Refused)) throw failure;
      setRefused(failure);
    } finally {
      setBusy(false);
    }
  };
  const figure = (name: Figure | "per_kg", label: string) => (
    <Labelled key={name} label={label} error={at(name)}>
      {(ids) => (
        <input
          {...ids}
          className="w-full"
          inputMode="decimal"
          autoComplete="off"
          maxLength={TYPED_MOST}
          value={typed[name] ?? ""}
          onChange={(e) => {
            setRefused(undefined);
            setTyped({ ...typed, [name]: e.target.value });
          }}
        />
      )}
    </Labelled>
  );
  return (
    <Box title={words.kit.asItsPacketSays} wide close={close}>
      <form
        className="flex flex-col gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          e.stopPropagation();
          void take();
        }}
      >
        <div className="grid grid-cols-2 gap-3 sm:grid-cols-4">
          <Labelled label={words.kit.name} error={at("name")}>
            {(ids) => (
              <input {...ids} maxLength={120} value={own.name} onChange={(e) => put({ name: e.target.value })} />
            )}
          </Labelled>
          <TextField label={words.kit.otherNames} value={also} most={200} width="w-full" put={setAlso} />
          {!ships && (
            <Choice
              label={words.kit.kindOfThing}
              value={own.role}
              options={larder.roles}
              onChange={(role) => put({ role })}
            />
          )}
          <Choice
            label={words.kit.itsFiguresAre}
            value={own.per ?? "g"}
            options={[
              ["g", words.kit.per100g],
              ["ml", words.kit.per100ml],
            ]}
            onChange={(per) => put({ per })}
          />
        </div>
        <p className="text-s text-quiet">{words.kit.leaveEmptyWhatItDoesNotSay}</p>
        <div className="grid grid-cols-3 gap-3 sm:grid-cols-6">
          {FIGURES.map((f) => figure(f, SAID[f]))}
          {figure("per_kg", words.kit.priceAKilogram)}
          <div className="col-span-2">
            <Choice
              label={words.kit.drawnIn}
              value={own.colour ?? ""}
              options={[["", words.kit.noColour] as const, ...larder.food_colours]}
              onChange={(colour) => put({ colour: colour as OwnIngredient["colour"] })}
            />
          </div>
        </div>
        <Allergens allergens={own.allergens} all={larder.allergens} put={(allergens) => put({ allergens })} />
        {read.data && !trouble && (
          <div className="text-s" role="status">
            {read.data.how.map((says) => (
              <p key={says}>{says}</p>
            ))}
            <Remarks remarks={read.data.remarks} />
          </div>
        )}
        <Alert
          says={trouble && !named.some((field) => at(field)) ? (trouble.errors[0]?.says ?? trouble.message) : undefined}
        />
        <div className="flex gap-3">
          <button type="submit" className="press press-first" disabled={busy || !packet.name}>
            {words.kit.keepItInTheLarder}
          </button>
          <button type="button" className="press" onClick={close}>
            {words.kit.close}
          </button>
        </div>
      </form>
    </Box>
  );
}

/** What must be named of it: some, none, or not known, which is what it is until somebody has read it. */
function Allergens({
  allergens,
  all,
  put,
}: {
  allergens: OwnIngredient["allergens"];
  all: Larder["allergens"];
  put: (allergens: OwnIngredient["allergens"]) => void;
}) {
  const has = allergens ?? [];
  return (
    <fieldset className="flex flex-wrap gap-x-4">
      <legend className="text-s text-quiet">
        {allergens ? words.kit.allergensItNames : words.kit.allergensNotKnown}
      </legend>
      <label className="flex min-h-11 items-center gap-2">
        <input type="checkbox" checked={allergens?.length === 0} onChange={(e) => put(e.target.checked ? [] : null)} />
        {words.kit.noneNamed}
      </label>
      {all.map(([key, name]) => (
        <label key={key} className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            checked={has.includes(key)}
            onChange={(e) => {
              const next = e.target.checked ? [...has, key] : has.filter((one) => one !== key);
              put(next.length > 0 ? next : null);
            }}
          />
          {name}
        </label>
      ))}
    </fieldset>
  );
}
