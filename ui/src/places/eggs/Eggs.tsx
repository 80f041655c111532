import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, type EggEntry, type EggView, http, type Lot, type ReadEggLine, Refused } from "../../api/client";
import { appNow } from "../../api/clock";
import { record } from "../../api/outbox";
import { eggsQuery } from "../../api/queries";
import { EggLot } from "../../food/Eggs";
import { DateField } from "../../kit/DateField";
import { fieldDay, isoDay, readDay } from "../../kit/dates";
import { Choice, Labelled, TypedField } from "../../kit/Field";
import { day, overCups, time } from "../../kit/format";
import { fixed, short } from "../../kit/numbers";
import { QuickLine } from "../../kit/QuickLine";
import { Empty, Trouble, Waiting } from "../../kit/States";
import { words } from "../../words";

const SIDES = [
  ["white", words.eggs.whites],
  ["yolk", words.eggs.yolks],
  ["whole egg", words.eggs.inTheShell],
] as const;
const KINDS = [
  ["fresh", words.eggs.fresh],
  ["carton", words.eggs.carton],
  ["frozen", words.eggs.frozen],
  ["dried", words.eggs.dried],
] as const;
const WHATS = [
  ["in", words.eggs.cameIn],
  ["freed", words.eggs.wereFreed],
  ["drawn", words.eggs.wereUsed],
  ["lost", words.eggs.wereLost],
  ["counted", words.eggs.areThereAsWeighed],
] as const;
type What = (typeof WHATS)[number][0];

/** Both sides of the egg: what is there, for how long, what the days take of it, what would be lost. */
export default function Eggs() {
  const { data, error, refetch } = useQuery(eggsQuery);
  if (error && !data) return <Trouble error={error} again={refetch} />;
  if (!data) return <Waiting what={words.eggs.theEggs} />;
  const { house } = data;
  return (
    <div className="mx-auto w-full max-w-[1500px] px-4 py-4 md:px-6">
      <h1 className="text-l">{words.eggs.eggs}</h1>
      <CameIn />
      <div className="mt-4 grid gap-8 xl:grid-cols-[minmax(0,1.15fr)_minmax(0,1fr)]">
        <div className="flex min-w-0 flex-col gap-6">
          {SIDES.map(([side, name]) => {
            const stock = house.sides.find((s) => s.side === side);
            const each = data.egg_g[side] ?? 0;
            return (
              <section key={side} aria-label={name}>
                <h2 className="text-m">
                  {name}{" "}
                  <span className="font-normal text-quiet">
                    {stock && stock.mass_g > 0 ? words.eggs.toUse(fixed(stock.mass_g), count(stock.mass_g, each)) : ""}
                  </span>
                </h2>
                {stock?.lots.length ? (
                  <ul className="mt-1 grid gap-3 sm:grid-cols-2">
                    {[...stock.lots].sort(byDate).map((lot) => (
                      <LotCard key={lot.lot} lot={lot} each={each} />
                    ))}
                  </ul>
                ) : (
                  <p className="text-s text-quiet">{words.eggs.noneInTheHouse}</p>
                )}
              </section>
            );
          })}
        </div>
        <div className="flex min-w-0 flex-col gap-6">
          <Enter view={data} />
          <WrittenDown view={data} />
          {house.pairs.length > 0 && (
            <section aria-labelledby="becomes">
              <h2 id="becomes" className="border-b border-deep text-m">
                {words.eggs.whatWouldBeLostByTomorrow}
              </h2>
              <ul className="divide-y divide-hairline">
                {house.pairs.map((p) => (
                  <li key={`${p.recipe}-${p.side}`} className="flex min-h-12 items-center justify-between gap-3">
                    <span>
                      <b>{p.portions} ×</b> {p.name}{" "}
                      <span className="text-s text-quiet">
                        {words.eggs.leaves} {fixed(p.leaves_g)} {words.eggs.gOf} {p.side}
                      </span>
                    </span>
                    <Link className="press" to={`/recipes/${p.recipe}`}>
                      {words.eggs.open}
                    </Link>
                  </li>
                ))}
              </ul>
            </section>
          )}
          <Days view={data} />
        </div>
      </div>
    </div>
  );
}

/** What is used first stands first, what has no date behind it, what may not be used last. */
const byDate = (a: Lot, b: Lot) =>
  Number(a.over) - Number(b.over) || (a.keep_until ?? "9").localeCompare(b.keep_until ?? "9");
/** Grams as eggs, to a half where few. */
const count = (grams: number, each: number) => {
  const eggs = each > 0 ? grams / each : 0;
  return eggs < 10 ? short(Math.round(eggs * 2) / 2) : fixed(eggs);
};

/** What came in, in one line. */
function CameIn() {
  const keep = async (lines: ReadEggLine[]) => {
    for (const { came } of lines) {
      if (!came) continue;
      const until = came.until ? readDay(came.until, isoDay(appNow())) : undefined;
      const id = crypto.randomUUID();
      await record({
        ledger: "eggs",
        entry: {
          id,
          lot: `lot-${id.slice(0, 8)}`,
          what: "in",
          side: came.side,
          kind: came.kind,
          mass_g: came.mass_g,
          at: new Date(appNow()).toISOString(),
          keep_until: until ? new Date(`${until}T23:59:00`).toISOString() : null,
          why: came.note,
          cook: "",
        },
      });
    }
  };
  const read = async (text: string): Promise<ReadEggLine> => {
    const found = await answer(http.POST("/api/eggs/read", { body: { text } }));
    return found.came?.until && !readDay(found.came.until, isoDay(appNow()))
      ? { came: null, asks: { says: words.kit.writeADate(fieldDay(isoDay(appNow()))) } }
      : found;
  };
  return (
    <QuickLine
      keepAs="eggs"
      label={words.eggs.writeWhatCameIn}
      example={words.eggs.cameInExample}
      read={read}
      take={keep}
    />
  );
}

function LotCard({ lot, each }: { lot: Lot; each: number }) {
  return (
    <li
      className={`grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-3 rounded-panel border bg-surface p-3 ${lot.soon && !lot.over ? "border-l-8 border-deep" : "border-hairline"}`}
    >
      <EggLot
        side={lot.side}
        kind={lot.kind}
        eggs={each > 0 ? lot.mass_g / each : 1}
        faded={lot.over}
        className="h-20 w-22"
      />
      <div className="min-w-0">
        <p className="text-m">
          <b>{fixed(lot.mass_g)} g</b>{" "}
          <span className="text-s text-quiet">{words.eggs.about(count(lot.mass_g, each))}</span>
        </p>
        <p className="text-s">
          {lot.kind}
          {lot.why && `, ${lot.why}`}
        </p>
        {lot.keep_until ? (
          <>
            <p className="text-s">
              {lot.over ? (
                <b className="text-spot">
                  {words.eggs.pastItsDate} {day(lot.keep_until)}
                  {words.eggs.doNotUse}
                </b>
              ) : (
                <>
                  {words.eggs.useBy} <b>{day(lot.keep_until)}</b>, {time(lot.keep_until)}
                  {lot.soon && <b> {words.eggs.withinADay}</b>}
                </>
              )}
            </p>
            <p className="text-s text-quiet">{lot.by}</p>
          </>
        ) : (
          <p className="text-s text-quiet">{words.eggs.howLongItKeepsIsNot}</p>
        )}
      </div>
    </li>
  );
}

/** Something happened to egg: it came in, was freed, used, lost or counted. */
function Enter({ view }: { view: EggView }) {
  const [what, setWhat] = useState<What>("in");
  const [side, setSide] = useState<(typeof SIDES)[number][0]>("white");
  const [kind, setKind] = useState<(typeof KINDS)[number][0]>("fresh");
  const [lot, setLot] = useState("");
  const [mass, setMass] = useState("");
  const [until, setUntil] = useState("");
  const [why, setWhy] = useState("");
  const lots = view.house.sides.flatMap((s) => s.lots);
  const begins = what === "in" || what === "freed";
  const chosen = lots.find((l) => l.lot === lot) ?? lots[0];
  const send = useMutation({
    mutationFn: (entry: EggEntry) => record({ ledger: "eggs", entry }),
    onSuccess: () => {
      setMass("");
      setWhy("");
    },
  });
  const refused = send.error instanceof Refused ? send.error : undefined;
  const at = (name: string) => refused?.errors.find((e) => e.field === name || e.field === `0.${name}`)?.says;
  const go = () => {
    const id = crypto.randomUUID();
    send.mutate({
      id,
      lot: begins ? `lot-${id.slice(0, 8)}` : (chosen?.lot ?? ""),
      what,
      side: begins ? side : (chosen?.side ?? side),
      kind: begins ? kind : (chosen?.kind ?? kind),
      mass_g: Number(mass.replace(",", ".")),
      at: new Date(appNow()).toISOString(),
      keep_until: begins && until ? new Date(`${until}T23:59:00`).toISOString() : null,
      why,
      cook: "",
    });
  };
  const good = Number(mass.replace(",", ".")) >= 0 && mass.trim() !== "" && (begins || chosen);
  return (
    <section aria-labelledby="enter">
      <h2 id="enter" className="border-b border-deep text-m">
        {words.eggs.writeDown}
      </h2>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <Choice label={words.eggs.whatHappened} value={what} options={WHATS} onChange={setWhat} />
        {begins ? (
          <>
            <Choice label={words.eggs.side} value={side} options={SIDES} onChange={setSide} />
            <Choice label={words.eggs.kind} value={kind} options={KINDS} onChange={setKind} />
          </>
        ) : (
          <Labelled label={words.eggs.whichLot} error={at("lot")}>
            {(ids) => (
              <select
                {...ids}
                className="w-64 max-w-full"
                value={chosen?.lot ?? ""}
                onChange={(e) => setLot(e.target.value)}
              >
                {lots.map((l) => (
                  <option key={l.lot} value={l.lot}>
                    {l.side}, {l.kind}, {fixed(l.mass_g)} g{l.why && `, ${l.why}`}
                  </option>
                ))}
              </select>
            )}
          </Labelled>
        )}
        <Labelled label={words.eggs.grams} error={at("mass_g")}>
          {(ids) => (
            <input
              {...ids}
              inputMode="decimal"
              className="w-28"
              value={mass}
              onChange={(e) => setMass(e.target.value)}
            />
          )}
        </Labelled>
        {begins && <DateField label={words.eggs.keepUntilAsPrinted} value={until} put={setUntil} />}
        <Labelled label={words.eggs.note}>
          {(ids) => (
            <input {...ids} className="w-56" maxLength={200} value={why} onChange={(e) => setWhy(e.target.value)} />
          )}
        </Labelled>
        <button type="button" className="press press-first" disabled={!good || send.isPending} onClick={go}>
          {words.eggs.writeItDown}
        </button>
      </div>
      {refused && !at("lot") && !at("mass_g") && (
        <p role="alert" className="text-s">
          {refused.errors[0]?.says ?? refused.message}
        </p>
      )}
    </section>
  );
}

const LATELY = 12;

/** What was written down lately; a wrong figure is put right where it stands. */
function WrittenDown({ view }: { view: EggView }) {
  const said = new Map<string, string>(WHATS);
  const entries = view.house.entries.slice(-LATELY).reverse();
  if (entries.length === 0) return null;
  return (
    <section aria-labelledby="written">
      <h2 id="written" className="border-b border-deep text-m">
        {words.eggs.writtenDownLately}
      </h2>
      <p className="pt-1 text-s text-quiet">{words.eggs.writeOverItToPutItRight}</p>
      <ul className="divide-y divide-hairline">
        {entries.map((entry) => (
          <li key={entry.id} className="grid grid-cols-[8rem_minmax(0,1fr)_8rem] items-start gap-3 py-1">
            <span className="py-2 text-s text-quiet">
              {day(entry.at)}, {time(entry.at)}
            </span>
            <span className="min-w-0 py-2">
              {entry.side}, {entry.kind}: {said.get(entry.what)}
              {entry.why && `, ${entry.why}`}
            </span>
            <Right entry={entry} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function Right({ entry }: { entry: EggEntry }) {
  return (
    <TypedField
      quiet
      label={words.eggs.gramsOf(entry.side, day(entry.at))}
      shown={`${short(entry.mass_g, 1)} g`}
      width="w-full"
      read={async (typed) => {
        const mass_g = Number(typed.replace(/\s*g$/i, "").replace(",", "."));
        if (!typed.trim() || !(mass_g >= 0)) throw new Error(words.eggs.writeTheGrams);
        const correction: EggEntry = {
          ...entry,
          id: crypto.randomUUID(),
          what: "corrected",
          corrects: entry.id,
          mass_g,
          at: new Date(appNow()).toISOString(),
          why: "",
        };
        await record({ ledger: "eggs", entry: correction });
      }}
    />
  );
}

/** What each planned day takes and frees. */
function Days({ view }: { view: EggView }) {
  const days = Object.entries(view.days);
  if (days.length === 0) return <Empty title={words.eggs.noDayIsPlanned}>{words.eggs.planOneAndWhatItTakes}</Empty>;
  return (
    <>
      {days.map(([of, eggs]) => (
        <section key={of} aria-label={words.eggs.eggOn(day(of))}>
          <h2 className="border-b border-deep text-m">
            <Link className="underline" to={`/day/${of}`}>
              {day(of)}
            </Link>{" "}
            <span className="font-normal text-quiet">
              {eggs.cracked} {words.eggs.eggsToCrack} {overCups(eggs.breakage)}
            </span>
          </h2>
          <ul className="divide-y divide-hairline text-s">
            {eggs.draws.map((d) => (
              <li
                key={`${d.step}-${d.side}-${d.from_lot ?? d.from_step ?? "shell"}`}
                className="grid grid-cols-[3.5rem_1fr_auto] gap-3 py-1"
              >
                <span>{time(d.at)}</span>
                <span>
                  {d.thread}:{" "}
                  {d.from_lot
                    ? words.eggs.fromTheLot(
                        view.house.sides.flatMap((s) => s.lots).find((l) => l.lot === d.from_lot)?.why || d.from_lot,
                      )
                    : d.from_step
                      ? words.eggs.fromWhatWasFreedBefore
                      : words.eggs.eggsCracked(d.cracked)}
                </span>
                <b>
                  {fixed(d.grams)} g {d.side}
                </b>
              </li>
            ))}
            {eggs.freed.map((f) => (
              <li key={`${f.step}-${f.side}-left`} className="grid grid-cols-[3.5rem_1fr_auto] gap-3 py-1 text-quiet">
                <span>{time(f.at)}</span>
                <span>
                  {f.thread}
                  {words.eggs.freedAndNoRecipeUsesIt}
                </span>
                <b>
                  {fixed(f.grams)} g {f.side}
                </b>
              </li>
            ))}
          </ul>
        </section>
      ))}
    </>
  );
}
