"""A day written line by line, as it is called across a kitchen: *12 rolls for 12:30, the long table*; *Maren 6 to 14:30, break 9 to 9:20*.

What a line leaves open is asked, never guessed: a name that two dishes answer to, a time that is not there.
"""

import re
from collections.abc import Sequence
from datetime import date, datetime, time, timedelta

from rapidfuzz.distance import DamerauLevenshtein

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.reading.measures import number, spelled
from gullpeak.core.reading.names import words_of
from gullpeak.core.value import Key, Said, Value, WallTime, say

MOST_LINE = 300
MOST_PORTIONS, MOST_LOADS = 2000, 8
"""As the day holds them."""
ALIKE = 0.75
"""As alike every word must be to one of a name for it to be asked about (normalised Damerau-Levenshtein)."""
AFTERNOON = range(1, 6)
"""Hours that an order means after noon, where nothing says otherwise."""
CHOICES = 6

_COUNT = spelled(r"(?:\d+|<dozens>|<hundreds>|<tens>|<teen>|<one>)")
_CLOCK = r"(?:(?P<h>\d{1,2})(?:[:.h](?P<m>\d{2}))?\s?(?P<half>am|pm)?|(?P<noon>noon|midday))"
_LEADS = re.compile(rf"^(?P<n>{_COUNT})(?:\s*[x×])?(?:\s+(?=\S)|$)", re.IGNORECASE)
_READY = re.compile(rf"[,;]?\s*\b(?:ready\s+)?(?:for|at|by)\s+{_CLOCK}(?!\s*(?:people|guests|portions))\b\.?", re.IGNORECASE)
_FOR_N = re.compile(rf"\s+for\s+(?P<n>{_COUNT})(?:\s+(?:people|guests|portions))?\s*$", re.IGNORECASE)
_LOADS = re.compile(rf"[,;]?\s*\bin\s+(?P<n>{_COUNT})\s+batch(?:es)?\b", re.IGNORECASE)
_OVEN = re.compile(r"[,;]?\s*\bin\s+the\s+(?P<name>[^,;]+?)(?=[,;]|\s+(?:for|at|by)\s|$)", re.IGNORECASE)
_SPAN = re.compile(
    rf"{_CLOCK}\s*(?:-|–|to|till|until)\s*{_CLOCK.replace('<h>', '<h2>').replace('<m>', '<m2>').replace('<half>', '<half2>').replace('<noon>', '<noon2>')}",
    re.IGNORECASE,
)


class Dish(Value):
    """Something that can be ordered."""

    id: Key
    name: str


class OrderLine(Value):
    """An order as it was read."""

    of: Key
    name: str
    portions: int
    ready: WallTime
    for_whom: str = ""
    loads: int = 1
    oven: Key | None = None


class ShiftLine(Value):
    """One pair of hands as it was read, with its breaks."""

    who: str
    start: WallTime
    end: WallTime
    pauses: tuple[tuple[WallTime, WallTime], ...] = ()


class DayQuestion(Value):
    """What a line leaves open, and what may be meant."""

    says: Said
    choices: tuple[Dish, ...] = ()


def order(line: str, of: date, book: Sequence[Dish], kitchen: Kitchen, meant: str | None = None) -> OrderLine | DayQuestion:
    """Return the order a line is, or what it leaves open. of: the day; book: what can be ordered, what is meant first comes first;
    meant: the id of the dish, where it was asked."""
    rest = line.strip()[:MOST_LINE]
    times = list(_READY.finditer(rest))
    if not times:
        return DayQuestion(says=say("day-line.when"))
    # A time with its minutes is one; a bare hour behind it is a table for six.
    found = next((t for t in reversed(times) if t["m"] or t["half"] or t["noon"]), times[-1])
    ready = _clock(found, "")
    if ready is None:
        return DayQuestion(says=say("day-line.no-such-time", written=re.sub(r"^\W*(?:ready\s+)?(?:for|at|by)\s+", "", found[0])))
    if ready.hour in AFTERNOON and not found["half"] and not found["h"].startswith("0"):
        ready = ready.replace(hour=ready.hour + 12)
    before, after = rest[: found.start()], rest[found.end() :]
    loads, before, after = _loads(before, after)
    oven, before, after = _oven(before, after, kitchen)
    leads = _LEADS.match(before)
    portions = number(leads["n"]) if leads else None
    what = before[leads.end() :] if leads else before
    if portions is None and (behind := _FOR_N.search(what)):
        portions, what = number(behind["n"]), what[: behind.start()]
    what, _, whom = what.partition(" for ")
    whom = re.sub(r"^(?:for|to)\s+", "", (after.strip(" ,;.") or whom.strip(" ,;.")))
    if portions is None:
        return DayQuestion(says=say("day-line.how-many"))
    if portions != int(portions) or not 1 <= portions <= MOST_PORTIONS:
        return DayQuestion(says=say("day-line.whole-number", most=MOST_PORTIONS))
    dish = next((d for d in book if d.id == meant), None) or _dish(what, book)
    if isinstance(dish, DayQuestion):
        return dish
    return OrderLine(
        of=dish.id,
        name=dish.name,
        portions=int(portions),
        ready=datetime.combine(of, ready),
        for_whom=whom[:120],
        loads=loads,
        oven=oven,
    )


def shift(line: str, of: date, cooks: Sequence[str]) -> ShiftLine | DayQuestion:
    """Return the pair of hands a line is, or what it leaves open. cooks: the kitchen's, by whom a first name is known."""
    rest = line.strip()[:MOST_LINE]
    spans = list(_SPAN.finditer(rest))
    if not spans:
        return DayQuestion(says=say("day-line.from-until"))
    made: list[tuple[datetime, datetime]] = []
    for span in spans:
        begins, ends = _clock(span, ""), _clock(span, "2")
        if begins is None or ends is None:
            return DayQuestion(says=say("day-line.no-such-time", written=span[0]))
        later = timedelta(days=1) if not made and ends <= begins else timedelta()
        made.append((datetime.combine(of, begins), datetime.combine(of, ends) + later))
    who = re.sub(r"\b(?:from|is|there|here)\b\s*$", "", rest[: spans[0].start()].strip(" ,;:")).strip(" ,;:")
    if not who:
        return DayQuestion(says=say("day-line.who"))
    (start, end), pauses = made[0], made[1:]
    if any(not start <= a < z <= end for a, z in pauses):
        return DayQuestion(says=say("day-line.break-outside"))
    return ShiftLine(who=_cook(who, cooks), start=start, end=end, pauses=tuple(pauses))


def _clock(found: re.Match[str], which: str) -> time | None:
    if found[f"noon{which}"]:
        return time(12)
    hour, half = int(found[f"h{which}"]), (found[f"half{which}"] or "").lower()
    if half and not 1 <= hour <= 12:
        return None
    hour = hour % 12 + (12 if half == "pm" else 0) if half else hour
    minute = int(found[f"m{which}"] or 0)
    return time(hour, minute) if hour < 24 and minute < 60 else None


def _loads(before: str, after: str) -> tuple[int, str, str]:
    for text in (before, after):
        found = _LOADS.search(text)
        if found and 1 <= (loads := int(number(found["n"]))) <= MOST_LOADS:
            return loads, before.replace(found[0], ""), after.replace(found[0], "")
    return 1, before, after


def _oven(before: str, after: str, kitchen: Kitchen) -> tuple[str | None, str, str]:
    for text in (before, after):
        for found in _OVEN.finditer(text):
            named = set(words_of(found["name"])) - {"oven"}
            fits = [o for o in kitchen.ovens if named and named <= set(words_of(o.name))]
            if len(fits) == 1:
                return fits[0].key, before.replace(found[0], ""), after.replace(found[0], "")
    return None, before, after


def _dish(what: str, book: Sequence[Dish]) -> Dish | DayQuestion:
    """The dish a name means: the only one with all its words, else what may be meant."""
    what = what.strip(" ,;.")
    plain = words_of(what)
    if not plain:
        return DayQuestion(says=say("day-line.what"))
    exact = [d for d in book if words_of(d.name) == plain]
    if exact:
        return exact[0]
    held = [d for d in book if set(plain) <= set(words_of(d.name))]
    if len(held) == 1:
        return held[0]
    if held:
        return DayQuestion(says=say("day-line.which", what=what), choices=tuple(held[:CHOICES]))
    near = sorted(((_likeness(plain, words_of(d.name)), d) for d in book), key=lambda x: -x[0])
    choices = tuple(d for likeness, d in near[:CHOICES] if likeness >= ALIKE)
    return DayQuestion(says=say("day-line.meant" if choices else "day-line.not-in-book", what=what), choices=choices)


def _likeness(words: Sequence[str], name: Sequence[str]) -> float:
    """How alike the least alike of some words is to a word of a name, 0–1."""
    return min(max((DamerauLevenshtein.normalized_similarity(w, n) for n in name), default=0.0) for w in words)


def _cook(who: str, cooks: Sequence[str]) -> str:
    fits = [c for c in cooks if c.casefold() == who.casefold() or c.split()[0].casefold() == who.casefold()]
    return fits[0] if len(fits) == 1 else who[:120]
