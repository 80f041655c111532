"""A sheet as a graph of steps: what is done, by whom, until which sign, and what may not wait."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from gullpeak.core.bench import watches
from gullpeak.core.bench.names import Names, of_programme
from gullpeak.core.bench.names import of as names_of
from gullpeak.core.bench.rows import fill
from gullpeak.core.bench.watch import Watch
from gullpeak.core.kitchen.kitchen import Kitchen, Probe
from gullpeak.core.recipe.step import Link, LinkKind, Step
from gullpeak.core.recipe.steps import ROWS, Row
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.value import Value

PROGRAMME, FIRST_IN, SWITCHED_ON = "oven", "oven-0", "oven-on"
"""The place of the oven's programme in the table, its first step, and the step that switches it on ahead."""
SHAPED = "shape"
"""The step after which trays go in."""


class Process(Value):
    """The steps of a batch in the order one cook does them."""

    name: str
    steps: tuple[Step, ...]
    watches: tuple[Watch, ...] = ()

    def step(self, key: str) -> Step | None:
        """Return a step by its key, or None."""
        return next((s for s in self.steps if s.key == key), None)

    def watch(self, key: str) -> Watch | None:
        """Return a watch by its key, or None."""
        return next((w for w in self.watches if w.key == key), None)

    def thermometer(self, said: str) -> str:
        """Return a thermometer's name by its key, as the kitchen had it when the batch began; what was said where it had none of it."""
        return next((p.name for w in self.watches for p in w.probes if p.key == said), said)


def in_kitchen(sheet: Sheet, kitchen: Kitchen) -> Process:
    """Return the steps of a sheet as this kitchen does them: with its probe, and at the pace of its hands."""
    return steps(sheet, kitchen.probes, {p.step: p.factor for p in kitchen.paces})


def steps(sheet: Sheet, probes: Sequence[Probe] = (), paces: Mapping[str, float] | None = None) -> Process:
    """Return the steps of a sheet, the oven on early enough and the foam never waiting; `probes` bring their lag and their checks.

    paces: what a step takes these hands, against the table.

    >>> from gullpeak.core.kitchen.kitchen import Kitchen, Mixer, Oven, Tray
    >>> from gullpeak.core.recipe.programme import OvenStep, Programme
    >>> from gullpeak.core.recipe.recipe import Recipe, RecipeLine
    >>> from gullpeak.core.recipe.shapes import Shape
    >>> from gullpeak.core.sheet.sheet import work_out
    >>> kitchen = Kitchen(name="Quay", ovens=(Oven(key="o", name="Oven"),), mixers=(Mixer(key="m", name="Mixer"),),
    ...                   trays=(Tray(key="t", name="Tray"),))
    >>> kisses = Recipe(name="Kisses", lines=(RecipeLine(ingredient="egg-white", mass_g=120),
    ...                 RecipeLine(ingredient="caster", mass_g=190, moment="soft")), shape=Shape(kind="kiss", diameter_mm=30, height_mm=25),
    ...                 programme=Programme(steps=(OvenStep(kind="heat", set_c=90),)))
    >>> steps(work_out(kisses, kitchen)).steps[-1].key
    'finish'
    """
    made = _line(sheet)
    if paces:
        made = [(row, _paced(step, paces.get(step.key, 1.0))) for row, step in made]
    watched = () if sheet.heat is None else watches.watches(sheet, sheet.heat, probes)
    if sheet.dry is not None and sheet.recipe.programme is not None:
        watched += (watches.oven_watch(sheet.recipe.programme.steps[0].set_c or 0.0),)
    return Process(name=sheet.name, steps=tuple(_chain(_place_oven(sheet, made))), watches=watched)


@dataclass(frozen=True)
class _Tags:
    """How a step hangs on the others, by its row."""

    row: Row
    foam: bool


Line = list[tuple[_Tags, Step]]


def _filled(row: Row, names: Names) -> tuple[_Tags, Step]:
    return _Tags(row, row.foam is True or row.foam in names.tags), fill(row, names)


def _line(sheet: Sheet) -> Line:
    """The steps of a sheet with their rows, in the order one cook does them."""
    found, names = [], names_of(sheet)
    for name in (*ROWS.before, *sheet.recipe.way.steps, *ROWS.after):
        if name == PROGRAMME and sheet.dry is not None and sheet.recipe.programme is not None:
            parts = of_programme(sheet.dry, sheet.recipe.programme)
            found += [_filled(ROWS.rows[f"{PROGRAMME}-{kind}"], names | more) for kind, more in parts]
        elif name != PROGRAMME and ROWS.rows[name].when <= names.tags:
            found.append(_filled(ROWS.rows[name], names))
    return found


def _place_oven(sheet: Sheet, line: Line) -> Line:
    """Put switching on before the last step from which the oven still comes to heat in time."""
    programme = sheet.recipe.programme
    if programme is None or sheet.dry is None or programme.start == "cold":
        return line
    heat = sheet.dry.figures["heat-up"].value or 0.0
    names = Names(
        tags=frozenset({"fan"} if programme.fan else ()),
        facts={"first_c": programme.steps[0].set_c, "oven": sheet.oven, "heat_min": heat},
    )
    i = next(i for i, (_, step) in enumerate(line) if step.key == FIRST_IN)
    ahead = 0.0
    # Never amid the foam: the oven goes on before the whisk starts, however quick it is to heat.
    while i > 0 and (ahead < heat or line[i][0].foam):
        i -= 1
        ahead += line[i][1].low_min
    return [*line[:i], _filled(ROWS.rows[SWITCHED_ON], names), *line[i:]]


def _chain(line: Line) -> list[Step]:
    """Hang each step on the one before; foam goes on without waiting; oven and trays are ready before they are needed."""
    out: list[Step] = []
    for i, (tags, step) in enumerate(line):
        before = line[:i]
        links: dict[str, LinkKind] = {} if not before else {tags.row.hangs_on or before[-1][1].key: "after"}
        if before and (tags.row.no_wait or (tags.foam and before[-1][0].foam)):
            links = {before[-1][1].key: "no wait"}
        keys = [s.key for _, s in before]
        ready = [SWITCHED_ON] if step.key == FIRST_IN else []
        if tags.foam and not any(t.foam for t, _ in before):
            ready += [s.key for t, s in before if t.row.ready]
        for key in (*ready, *tags.row.hangs_ready):
            if key in keys:
                links.setdefault(key, "ready before")
        out.append(step.model_copy(update={"after": tuple(Link(step=key, kind=kind) for key, kind in links.items())}))
    return out


def _paced(step: Step, factor: float) -> Step:
    if factor == 1.0 or step.kind != "hands":
        return step
    return step.model_copy(update={"low_min": step.low_min * factor, "high_min": step.high_min * factor})
