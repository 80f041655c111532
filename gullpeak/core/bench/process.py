"""A sheet as a graph of steps: what is done, by whom, until which sign, and what may not wait."""

from collections.abc import Mapping, Sequence

from gullpeak.core.bench import step_heat, step_parts, step_rows, watches
from gullpeak.core.bench.watch import Watch
from gullpeak.core.kitchen.kitchen import Kitchen, Probe
from gullpeak.core.recipe.step import Link, Step, Takes
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.value import Value, say

TAKES: dict[str, tuple[Takes, ...]] = {
    **dict.fromkeys(("froth", "soft", "rain", "stiff", "whisk", "cool-whisk", "fold", "shape"), ("mixer",)),
    **dict.fromkeys(("whites", "pour"), ("mixer", "ring")),
    **dict.fromkeys(("pan-on", "climb", "bath-on", "warm", "thicken"), ("ring",)),
    **dict.fromkeys(("chill", "thaw"), ("cold",)),
}
"""What of the kitchen a step of a foam or a heated egg holds. A foam holds its bowl until it is shaped."""


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
    >>> from gullpeak.core.recipe.recipe import OvenStep, Programme, Recipe, Scale, Shape, SugarPart
    >>> from gullpeak.core.sheet.sheet import work_out
    >>> kitchen = Kitchen(name="Quay", ovens=(Oven(key="o", name="Oven"),), mixers=(Mixer(key="m", name="Mixer"),),
    ...                   trays=(Tray(key="t", name="Tray"),))
    >>> kisses = Recipe(name="Kisses", sugars=(SugarPart(kind="caster", ratio=1.6),), shape=Shape(kind="kiss", diameter_mm=30, height_mm=25),
    ...                 programme=Programme(steps=(OvenStep(kind="heat", set_c=90),)), scale=Scale(by="pieces", amount=40))
    >>> steps(work_out(kisses, kitchen)).steps[-1].key
    'finish'
    """
    early = [step_rows.kit(sheet)] if sheet.recipe.base == "white" else []
    early.append(step_rows.egg_ready(sheet))
    if sheet.shape is not None and sheet.recipe.shape is not None and sheet.whisk is not None:
        early.append(step_rows.trays(sheet, sheet.shape, sheet.recipe.shape))
    early.append(step_rows.dry_goods(sheet))
    if sheet.recipe.hot_water:
        early.append(step_rows.kettle())
    elif sheet.recipe.base == "white" and sheet.recipe.egg.temp_c >= 15 and sheet.recipe.egg.kind == "fresh":
        early.append(
            Step(
                key="temper",
                station="weigh",
                title=say("process.temper.title"),
                says=(say("process.temper.says"),),
                kind="wait",
                hands=0,
                low_min=15,
                high_min=40,
                timer_min=30,
                after=(Link(step="separate", kind="after"),),
            )
        )
    if sheet.recipe.base != "other" and sheet.recipe.egg.kind == "frozen":
        early.insert(0, step_rows.thaw(sheet))
    line = [*early, *_made(sheet)]
    if sheet.shape is not None and sheet.recipe.shape is not None and sheet.whisk is not None:
        line += step_rows.shaping(sheet, sheet.shape, sheet.recipe.shape)
    if sheet.dry is not None and sheet.recipe.programme is not None:
        line += step_rows.drying(sheet.dry, sheet.recipe.programme)
    line.append(step_rows.finish(sheet))
    if paces:
        line = [_paced(s, paces.get(s.key, 1.0)) for s in line]
    watched = () if sheet.heat is None else watches.watches(sheet, sheet.heat, probes)
    if sheet.dry is not None and sheet.recipe.programme is not None:
        watched += (watches.oven_watch(sheet.recipe.programme.steps[0].set_c or 0.0),)
    return Process(name=sheet.name, steps=tuple(_chain(_place_oven(sheet, line))), watches=watched)


def _made(sheet: Sheet) -> list[Step]:
    """The heating and whisking, by what the school heats."""
    if sheet.heat is not None and sheet.heat.syrup is not None and sheet.whisk is not None:
        return step_heat.syrup_steps(sheet, sheet.heat, sheet.whisk)
    if sheet.heat is not None and sheet.whisk is not None:
        return step_heat.swiss_steps(sheet.heat, sheet.whisk)
    if sheet.heat is not None:
        return step_heat.egg_steps(sheet, sheet.heat)
    if sheet.whisk is not None:
        return step_rows.whisking(sheet, sheet.whisk)
    return step_parts.made(sheet)


def _place_oven(sheet: Sheet, line: list[Step]) -> list[Step]:
    """Put switching on before the last step from which the oven still comes to heat in time."""
    programme = sheet.recipe.programme
    if programme is None or sheet.dry is None or programme.start == "cold":
        return line
    heat = sheet.dry.figures["heat-up"].value or 0.0
    first = programme.steps[0]
    on = Step(
        key="oven-on",
        station="dry",
        title=say("process.oven-on.fan", set_c=first.set_c) if programme.fan else say("process.oven-on.still", set_c=first.set_c),
        says=(say("process.oven-on.says", oven=sheet.oven, heat_min=heat),),
        kind="hands",
        hands=0.2,
        low_min=0.5,
        high_min=1,
        lead_min=heat,
        set_c=first.set_c,
    )
    load = next(i for i, s in enumerate(line) if s.key == "oven-0")
    ahead, i = 0.0, load
    # Never amid the foam: the oven goes on before the whisk starts, however quick it is to heat.
    while i > 0 and (ahead < heat or line[i].key in step_rows.FOAMY):
        i -= 1
        ahead += line[i].low_min
    return [*line[:i], on, *line[i:]]


def _chain(line: list[Step]) -> list[Step]:
    """Hang each step on the one before; foam goes on without waiting; oven and trays are ready before they are needed."""
    out: list[Step] = []
    for i, step in enumerate(line):
        links = list(step.after)
        if i and not links:
            before = line[i - 1].key
            links.append(
                Link(step=before, kind="no wait" if step.key in step_rows.FOAMY and before in step_rows.FOAMY else "after")
            )
        if step.key == "oven-0" and any(s.key == "oven-on" for s in line):
            links.append(Link(step="oven-on", kind="ready before"))
        if step.key in step_rows.FOAMY and not any(s.key in step_rows.FOAMY for s in out):
            ready = [s.key for s in out if s.key in ("kit", "weigh-dry", "kettle") and s.key not in {link.step for link in links}]
            links += [Link(step=key, kind="ready before") for key in ready]
        if step.key == "shape":
            links.append(Link(step="trays", kind="ready before"))
        out.append(step.model_copy(update={"after": tuple(links), "takes": step.takes or TAKES.get(step.key, ())}))
    return out


def _paced(step: Step, factor: float) -> Step:
    if factor == 1.0 or step.kind != "hands":
        return step
    return step.model_copy(update={"low_min": step.low_min * factor, "high_min": step.high_min * factor})
