"""A row of `steps.toml` filled in with what a sheet has: the step that is done."""

from collections.abc import Iterable
from functools import cache

from gullpeak.core.bench.names import Names
from gullpeak.core.recipe.recipe import OwnStep
from gullpeak.core.recipe.step import Ask, Check, Step
from gullpeak.core.recipe.steps import ROWS, AskRow, Line, Row
from gullpeak.core.value import NOTHING, Said, known, perhaps, say, written

KILO_G = 1000.0
LEAST_KILO, MOST_KILO = 0.15, 6.0
"""Beyond these the minutes of hands and machines grow or shrink no more."""


def _fitting(lines: Iterable[Line], names: Names) -> list[Line]:
    return [line for line in lines if line.when <= names.tags]


def _says(lines: Iterable[Line], names: Names) -> tuple[Said, ...]:
    found: list[Said] = []
    for line in _fitting(lines, names):
        if line.listed:
            found += names.lists[line.key]
        elif not line.facts:
            found.append(line.said)
        else:
            found.append(say(line.key, **{name: names.facts[source] for name, source in line.facts}))
    return tuple(found)


def _first(lines: Iterable[Line], names: Names) -> Said | None:
    """What the first that fits says."""
    return next(iter(_says(_fitting(lines, names)[:1], names)), None)


def _number(value: float | str, names: Names) -> float:
    found = names.facts[value] if isinstance(value, str) else value
    assert isinstance(found, int | float)
    return found


def _perhaps(value: float | str | None, names: Names) -> float | None:
    return None if value is None or (isinstance(value, str) and names.facts[value] is None) else _number(value, names)


@cache
def _check(key: str) -> Check:
    fails = tuple(
        say(f"check.{key}.on-fail" if i == 0 else f"check.{key}.on-fail-{i + 1}") for i in range(ROWS.checks[key].fails)
    )
    return Check(key=key, asks=say(f"check.{key}.asks"), passes=say(f"check.{key}.passes"), on_fail=fails)


def _checks(lines: Iterable[Line], names: Names) -> tuple[Check, ...]:
    found = []
    for line in _fitting(lines, names):
        row, made = ROWS.checks[line.key], _check(line.key)
        found.append(made.model_copy(update={"passes": _says(row.passes, names)[0]}) if row.passes else made)
    return tuple(found)


def _ask(row: AskRow, names: Names) -> Ask:
    expected, low, high = (None, None, None) if row.band is None else names.aims[row.band]
    return Ask(
        key=row.key.format_map(names.facts),
        asks=_says(row.asks, names)[0],
        unit=row.unit,
        expected=expected,
        low=low,
        high=high,
        least=_number(row.least, names),
        most=_number(row.most, names),
        trace=row.trace,
    )


def _asks(lines: Iterable[Line], names: Names) -> tuple[Ask, ...]:
    found: list[Ask] = []
    for line in _fitting(lines, names):
        found += names.amounts if line.listed else [_ask(ROWS.asks[line.key], names)]
    return tuple(found)


def _minutes(row: Row, names: Names) -> tuple[float, float]:
    """Its band; of what grows with the mass, from a batch of a kilogram."""
    low, high = names.bands[row.minutes] if isinstance(row.minutes, str) else row.minutes
    if not row.grows:
        return low, high
    batch_g = _number("batch_g", names)
    grows = 1 - row.grows + row.grows * min(max(batch_g / KILO_G, LEAST_KILO), MOST_KILO)
    return round(low * grows, 1), round(high * grows, 1)


def fill(row: Row, names: Names) -> Step:
    """Return the step of a row. Raises KeyError for a name that the sheet does not have."""
    low, high = _minutes(row, names)
    timer = round(low, 1) if row.timer == "low" else _perhaps(row.timer, names)
    peak = perhaps(lambda p: str(names.facts.get(p, p)), row.peak)
    step = Step(
        key=row.key.format_map(names.facts),
        station=row.station,
        title=_first(row.title, names) or NOTHING,
        says=_says(row.says, names),
        kind=row.kind,
        hands=_number(row.hands, names),
        low_min=low,
        high_min=high,
        until=_says(row.until, names),
        peak=peak,
        checks=_checks(row.checks, names),
        asks=_asks(row.asks, names),
        timer_min=timer,
        ready_next=_says(row.ready_next, names),
        caution=_first(row.caution, names),
        watch=row.watch,
        opens=row.opens,
        lead_min=_perhaps(row.lead, names),
        takes=row.takes,
        set_c=_perhaps(row.set_c, names),
        ajar=row.ajar in names.tags,
    )
    cook = next((c for c in names.cooks if c.step == row.key), None)
    return step if cook is None else _as_the_cook_has_it(step, cook)


SPREAD = 1.15
"""A cook's minutes are the least of them: it is done by its sign."""


def _as_the_cook_has_it(step: Step, cook: OwnStep) -> Step:
    """A step at the cook's own heat, for the cook's own minutes, until the cook's own sign; what the table has is told beside it."""
    usual = say("method.own.usual", low_min=step.low_min, high_min=step.high_min)
    if step.set_c is not None:
        usual = say("method.own.usual-oven", low_min=step.low_min, high_min=step.high_min, set_c=step.set_c)
    low, high = (step.low_min, step.high_min) if cook.minutes is None else (cook.minutes, cook.minutes * SPREAD)
    set_c = known(cook.set_c, step.set_c)
    says = step.says if cook.set_c is None else (say("method.own.oven", set_c=cook.set_c),)
    return step.model_copy(
        update={
            "low_min": low,
            "high_min": high,
            "timer_min": perhaps(lambda _: round(low, 1), known(cook.minutes, step.timer_min)),
            "set_c": set_c,
            "says": (*says, usual),
            "until": (written(cook.until),) if cook.until else step.until,
        }
    )
