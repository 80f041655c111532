import type { Shift } from "../../api/client";
import { Alert } from "../../kit/Field";
import { fresh, MomentField, TextField } from "../../kit/fields";
import { words } from "../../words";
import { type Row, rows, type Writing } from "./Orders";

const BREAK_MIN = 20;

/** Who is there from when to when, with the breaks. */
export function Hands({ day, write, at, kitchen }: Writing) {
  const cooks = kitchen?.cooks ?? [];
  const add = () =>
    write({
      shifts: [
        ...day.shifts,
        {
          key: fresh("shift"),
          who: cooks[day.shifts.length % Math.max(1, cooks.length)] ?? words.day.aCook,
          start: `${day.date}T07:00:00`,
          end: `${day.date}T15:00:00`,
          pauses: [],
        },
      ],
    });
  return (
    <>
      <h2 id="hands" className="text-m">
        {words.day.whoIsThere}
      </h2>
      <ul className="divide-y divide-hairline border-y border-hairline">
        {rows(day.shifts, "shifts", at, (shifts) => write({ shifts })).map(([shift, row]) => (
          <ShiftRow key={shift.key} shift={shift} row={row} cooks={cooks} />
        ))}
      </ul>
      <button type="button" className="press mt-2" onClick={add}>
        {words.day.addAPairOfHands}
      </button>
      <Alert says={at("shifts")} />
    </>
  );
}

function ShiftRow({
  shift,
  row: { put, remove, at },
  cooks,
}: {
  shift: Shift;
  row: Row<Shift>;
  cooks: readonly string[];
}) {
  const { start, end, pauses } = shift;
  const pause = () => {
    const middle = (Date.parse(`${start}Z`) + Date.parse(`${end}Z`)) / 2;
    const text = (ms: number) => new Date(ms).toISOString().slice(0, 19);
    put({ pauses: [...pauses, { start: text(middle), end: text(middle + BREAK_MIN * 60_000) }] });
  };
  return (
    <li className="flex flex-wrap items-end gap-3 py-2">
      <TextField
        label={words.day.who}
        value={shift.who}
        most={120}
        width="w-44"
        list={cooks}
        put={(who) => put({ who })}
      />
      <MomentField label={words.day.from} error={at("start")} value={start} put={(next) => put({ start: next })} />
      <MomentField label={words.day.till} error={at("end") ?? at("")} value={end} put={(next) => put({ end: next })} />
      {pauses.map((p) => (
        <span key={p.start} className="text-s">
          {words.day.breakWord} {p.start.slice(11, 16)} {words.day.to} {p.end.slice(11, 16)}{" "}
          <button
            type="button"
            className="min-h-11 underline"
            onClick={() => put({ pauses: pauses.filter((other) => other !== p) })}
          >
            {words.day.without}
          </button>
        </span>
      ))}
      <button type="button" className="min-h-11 text-s underline" onClick={pause}>
        {words.day.addABreak}
      </button>
      <button type="button" className="min-h-11 text-s underline" onClick={remove}>
        {words.day.remove}
      </button>
    </li>
  );
}
