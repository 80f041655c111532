import { Popover } from "radix-ui";
import { type ReactNode, useState } from "react";
import { DayPicker } from "react-day-picker";
import { words } from "../words";
import { fieldDay, isoDay, monthOf, readDay, readTime, weekBegins, weekdayOf } from "./dates";
import { Labelled } from "./Field";

const dateOf = (date: string) => new Date(`${date}T12:00:00`);

/** A month to choose a day from, in the kitchen's own order; marked: days at which something is written down. */
function Calendar({
  value,
  marked = [],
  put,
}: {
  value: string;
  marked?: readonly string[];
  put: (date: string) => void;
}) {
  return (
    <DayPicker
      mode="single"
      required
      autoFocus
      showOutsideDays={false}
      selected={value ? dateOf(value) : undefined}
      defaultMonth={value ? dateOf(value) : undefined}
      weekStartsOn={weekBegins()}
      formatters={{ formatCaption: monthOf, formatWeekdayName: weekdayOf }}
      labels={{
        labelNext: () => words.kit.nextMonth,
        labelPrevious: () => words.kit.previousMonth,
        labelDayButton: (day) => fieldDay(isoDay(day)),
      }}
      modifiers={{ marked: marked.map(dateOf) }}
      onSelect={(day) => day && put(isoDay(day))}
      classNames={{
        months: "relative",
        month_caption: "flex h-11 items-center px-2 font-bold",
        nav: "absolute top-0 right-0 flex",
        button_next: "grid size-11 place-items-center",
        button_previous: "grid size-11 place-items-center",
        chevron: "size-5 fill-current",
        weekday: "size-11 text-s font-normal text-quiet",
        day: "p-0 text-center",
        day_button: "size-11 rounded-k",
        selected: "rounded-k bg-deep text-surface",
        today: "underline decoration-2 underline-offset-4",
      }}
      modifiersClassNames={{ marked: "font-bold shadow-[inset_0_-3px_0_var(--color-water)]" }}
    />
  );
}

/** Something that opens a calendar; it closes on what is chosen, and gives the focus back. */
export function CalendarUnder({
  trigger,
  value,
  marked,
  put,
  children,
}: {
  trigger: ReactNode;
  value: string;
  marked?: readonly string[];
  put: (date: string) => void;
  children?: ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>{trigger}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={words.kit.chooseADate}
          sideOffset={6}
          collisionPadding={8}
          className="z-30 max-h-(--radix-popover-content-available-height) max-w-[96vw] overflow-y-auto rounded-panel border border-deep bg-surface p-3"
          onClick={(e) => (e.target as HTMLElement).closest("a") && setOpen(false)}
        >
          <Calendar
            value={value}
            marked={marked}
            put={(date) => {
              setOpen(false);
              put(date);
            }}
          />
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** A date, with `withTime` and a time on it: typed as this kitchen writes it, or chosen. value: empty, 2026-06-20 or 2026-06-20T14:05. */
export function DateField({
  label,
  value,
  error,
  hint,
  withTime = false,
  put,
}: {
  label: string;
  value: string;
  error?: string;
  hint?: string;
  withTime?: boolean;
  put: (value: string) => void;
}) {
  const [date, time] = [value.slice(0, 10), value.slice(11, 16)];
  const shown = date ? fieldDay(date) + (withTime && time ? `, ${time}` : "") : "";
  const [typed, setTyped] = useState<string>();
  const [wrong, setWrong] = useState<string>();
  const reading = (text: string): string | undefined => {
    const split = withTime ? text.match(/^(.*?)[,T\s]*(\d{1,2}[:.h]\d{2}(?:\s?[ap]m)?)?(?::\d{2})?$/i) : [text, text];
    const day = split?.[1] ? readDay(split[1], date || isoDay(Date.now())) : withTime && split?.[2] ? date : undefined;
    const hour = split?.[2] ? readTime(split[2]) : time || "12:00";
    return day && (!withTime || hour) ? (withTime ? `${day}T${hour}` : day) : undefined;
  };
  const read = () => {
    const text = typed?.trim();
    if (text === undefined || text === shown) return setTyped(undefined);
    const found = reading(text);
    const like = fieldDay(isoDay(Date.now()));
    if (text && !found) return setWrong(withTime ? words.kit.writeADateAndTime(like) : words.kit.writeADate(like));
    setWrong(undefined);
    setTyped(undefined);
    put(found ?? "");
  };
  // What can be read is there at once, so that a button that waits for it opens under the finger.
  const type = (text: string) => {
    setTyped(text);
    const found = reading(text.trim());
    if (found) put(found);
  };
  return (
    <Labelled label={label} error={wrong ?? error} hint={hint}>
      {(ids) => (
        <span className="flex items-stretch gap-1">
          <input
            {...ids}
            className={withTime ? "w-60 max-w-full" : "w-44 max-w-full"}
            maxLength={60}
            value={typed ?? shown}
            onChange={(e) => type(e.target.value)}
            onBlur={read}
            onKeyDown={(e) => e.key === "Enter" && read()}
          />
          <CalendarUnder
            value={date}
            put={(day) => {
              setTyped(undefined);
              setWrong(undefined);
              put(withTime ? `${day}T${time || "12:00"}` : day);
            }}
            trigger={
              <button type="button" className="press min-h-11 px-2" aria-label={words.kit.chooseFor(label)}>
                {words.kit.choose}
              </button>
            }
          />
        </span>
      )}
    </Labelled>
  );
}
