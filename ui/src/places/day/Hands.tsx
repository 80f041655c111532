import type { Shift } from "../../api/client";
import { DateField } from "../../kit/DateField";
import { shortDay, timeOf } from "../../kit/dates";
import { Alert } from "../../kit/Field";
import { fresh, TextField } from "../../kit/fields";
import { QuickLine } from "../../kit/QuickLine";
import { words } from "../../words";
import { type Row, rows, SaidRow, type Writing } from "./Orders";
import { readLine } from "./useDay";

const BREAK_MIN = 20;

/** Who is there from when to when, with the breaks. */
export function Hands({ day, write, at, kitchen }: Writing) {
  return (
    <>
      <h2 id="hands" className="text-m">
        {words.day.whoIsThere}
      </h2>
      <QuickLine
        keepAs={`hands ${day.date}`}
        label={words.day.writeWhoIsThere}
        example={words.day.handsExample}
        read={readLine(day.date, "hands")}
        take={(read) =>
          write({
            shifts: [
              ...day.shifts,
              ...read.flatMap(({ shift }): Shift[] =>
                shift
                  ? [
                      {
                        key: fresh("shift"),
                        who: shift.who,
                        start: shift.start,
                        end: shift.end,
                        pauses: shift.pauses.map(([start, end]) => ({ start: start as string, end: end as string })),
                      },
                    ]
                  : [],
              ),
            ],
          })
        }
      />
      <ul className="mt-3 divide-y divide-hairline border-y border-hairline">
        {rows(day.shifts, "shifts", at, (shifts) => write({ shifts })).map(([shift, row]) => (
          <li key={shift.key} className="py-1">
            <ShiftRow shift={shift} row={row} cooks={kitchen?.cooks ?? []} date={day.date} />
          </li>
        ))}
      </ul>
      <Alert says={at("shifts")} />
    </>
  );
}

function ShiftRow({
  shift,
  row: { put, remove, at },
  cooks,
  date,
}: {
  shift: Shift;
  row: Row<Shift>;
  cooks: readonly string[];
  date: string;
}) {
  const { start, end, pauses } = shift;
  const pause = () => {
    const middle = (Date.parse(`${start}Z`) + Date.parse(`${end}Z`)) / 2;
    const text = (ms: number) => new Date(ms).toISOString().slice(0, 19);
    put({ pauses: [...pauses, { start: text(middle), end: text(middle + BREAK_MIN * 60_000) }] });
  };
  const on = start.slice(0, 10);
  return (
    <SaidRow
      name={shift.who}
      wrong={["start", "end", "who", ""].some((field) => at(field))}
      remove={remove}
      says={
        <>
          <b>{shift.who}</b> {on === date ? "" : `${shortDay(on)}, `}
          {words.day.fromTo(timeOf(start), timeOf(end))}
          {pauses.length > 0 && (
            <span className="block text-s text-quiet">
              {pauses.map((p) => words.day.breakFromTo(timeOf(p.start), timeOf(p.end))).join(", ")}
            </span>
          )}
        </>
      }
    >
      <TextField
        label={words.day.who}
        value={shift.who}
        most={120}
        width="w-44"
        list={cooks}
        put={(who) => put({ who })}
      />
      <DateField
        label={words.day.from}
        error={at("start")}
        value={start}
        withTime
        put={(next) => next && put({ start: `${next}:00` })}
      />
      <DateField
        label={words.day.until3}
        error={at("end") ?? at("")}
        value={end}
        withTime
        put={(next) => next && put({ end: `${next}:00` })}
      />
      {pauses.map((p) => (
        <button
          key={p.start}
          type="button"
          className="min-h-11 text-s underline"
          onClick={() => put({ pauses: pauses.filter((other) => other !== p) })}
        >
          {words.day.withoutBreak(timeOf(p.start))}
        </button>
      ))}
      <button type="button" className="min-h-11 text-s underline" onClick={pause}>
        {words.day.addABreak}
      </button>
    </SaidRow>
  );
}
