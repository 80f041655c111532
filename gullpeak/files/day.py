"""A day's plan out: the run sheet for the wall as PDF, a calendar (RFC 5545), and a table as CSV."""

import csv
from datetime import datetime, timedelta
from io import StringIO
from zoneinfo import ZoneInfo

from gullpeak.core.plan.shown import StepAt, ThreadAt
from gullpeak.core.plan.view import PlanView
from gullpeak.core.value import NOTHING, Said, Value, say
from gullpeak.core.words import degrees
from gullpeak.files.reader import READER, told

COLUMNS = (
    "start",
    "end",
    "earliest end",
    "latest end",
    "step",
    "what",
    "for",
    "who",
    "hands",
    "oven",
    "set to °C",
    "mixer",
    "state",
)
TOUCHED = ("hands", "machine", "oven")


class Entry(Value):
    """One line of the run sheet: a run of steps that go on without a break, or a chore."""

    key: str
    at: datetime
    until: datetime
    says: Said
    name: Said
    who: tuple[str, ...]
    notes: tuple[Said, ...] = ()
    hands: bool = True


def run_sheet_lines(view: PlanView) -> tuple[Entry, ...]:
    """Return the day line by line: what needs hands, or goes into or out of an oven, in the order of time."""
    out = [
        Entry(
            key=f"{c.what}-{n}",
            at=c.at,
            until=c.at + timedelta(minutes=c.minutes),
            says=c.says,
            name=NOTHING,
            who=(c.who,) if c.who else (),
        )
        for n, c in enumerate(view.chores)
    ]
    for thread in view.threads:
        for run in _runs(thread):
            notes = tuple(dict.fromkeys(n for s in run for n in (*((s.caution,) if s.caution else ()),)))
            ends = [say("run-sheet.until", sign=u) for u in run[-1].until[:1]]
            out.append(
                Entry(
                    key=run[0].step.replace("/", "-"),
                    at=run[0].start,
                    until=run[-1].end,
                    says=say("run-sheet.run", steps=tuple(_words(s) for s in run)),
                    name=thread.name,
                    who=tuple(dict.fromkeys(w for s in run for w in s.who)),
                    notes=(*ends, *notes),
                    hands=any(s.hands > 0 for s in run),
                )
            )
    return tuple(sorted(out, key=lambda e: e.at))


def _runs(thread: ThreadAt) -> list[list[StepAt]]:
    runs: list[list[StepAt]] = []
    for step in thread.steps:
        if runs and step.at_once:
            runs[-1].append(step)
        else:
            runs.append([step])
    return [r for r in runs if any(s.kind in TOUCHED for s in r)]


def _words(step: StepAt) -> Said:
    minutes = round((step.end - step.start).total_seconds() / 60)
    return say("run-sheet.oven", title=step.title, minutes=minutes) if step.kind == "oven" else step.title


def table(view: PlanView, zone: ZoneInfo) -> bytes:
    """Return the plan as CSV (RFC 4180), a step a row, in the order of time; times are the day's own, degrees the kitchen's."""
    out = StringIO()
    writer = csv.writer(out)
    writer.writerow(c.replace("°C", f"°{READER.get().unit}") for c in COLUMNS)
    rows = sorted(((s, t) for t in view.threads for s in t.steps), key=lambda x: (x[0].start, x[0].step))
    for s, t in rows:
        when = [f"{at.astimezone(zone):%Y-%m-%d %H:%M}" for at in (s.start, s.end, s.low_end, s.high_end)]
        set_c = "" if s.set_c is None else f"{degrees.shown(s.set_c, READER.get().unit, oven=True):g}"
        said = [plain(told(x)) for x in (s.title, t.name, ", ".join(s.who))]
        writer.writerow([*when, s.step, *said, f"{s.hands:g}", s.oven or "", set_c, s.mixer or "", s.state])
    return out.getvalue().encode("utf-8-sig")


def plain(text: str) -> str:
    """Text that no spreadsheet takes for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def calendar(view: PlanView, day: str) -> bytes:
    """Return the plan as a calendar: an event for each line of the run sheet, one for each order's time. Times are UTC, degrees the kitchen's."""
    from icalendar import Calendar, Event  # asked for seldom, and slow to begin

    made = Calendar()
    made.add("prodid", "-//Gull Peak//day plan//EN")
    made.add("version", "2.0")
    made.add("x-wr-calname", f"Gull Peak, {day}")
    made.add("refresh-interval", timedelta(minutes=5), parameters={"VALUE": "DURATION"})
    for entry in run_sheet_lines(view):
        event = Event()
        event.add("uid", f"{day}-{entry.key}@gullpeak")
        event.add("dtstamp", view.made_at)
        event.add("dtstart", entry.at)
        event.add("dtend", max(entry.until, entry.at + timedelta(minutes=1)))
        says, *notes = (told(t) for t in (entry.says, *entry.notes))
        event.add("summary", f"{told(entry.name)}: {says}" if entry.name else says)
        event.add("description", "\n".join([*([", ".join(entry.who)] if entry.who else []), *notes]))
        made.add_component(event)
    for thread in view.threads:
        if thread.ready_by is not None:
            event = Event()
            event.add("uid", f"{day}-ready-{thread.key.replace('/', '-')}@gullpeak")
            event.add("dtstamp", view.made_at)
            event.add("dtstart", thread.ready_by)
            event.add("dtend", thread.ready_by + timedelta(minutes=1))
            event.add("summary", f"Ready: {told(thread.name)}" + (f", {thread.for_whom}" if thread.for_whom else ""))
            made.add_component(event)
    return bytes(made.to_ical())
