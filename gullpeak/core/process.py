"""A sheet as a graph of steps: what is done, by whom, until which sign, and what may not wait."""

from gullpeak.core import step_rows
from gullpeak.core.sheet import Sheet
from gullpeak.core.step import Link, Step
from gullpeak.core.value import Value


class Process(Value):
    """The steps of a batch in the order one cook does them."""

    name: str
    steps: tuple[Step, ...]

    def step(self, key: str) -> Step | None:
        """Return a step by its key, or None."""
        return next((s for s in self.steps if s.key == key), None)


def steps(sheet: Sheet) -> Process:
    """Return the steps of a sheet, the oven on early enough and the foam never waiting.

    >>> from gullpeak.core.kitchen import Kitchen, Mixer, Oven, Tray
    >>> from gullpeak.core.recipe import OvenStep, Programme, Recipe, Scale, Shape, SugarPart
    >>> from gullpeak.core.sheet import work_out
    >>> kitchen = Kitchen(name="Quay", ovens=(Oven(key="o", name="Oven"),), mixers=(Mixer(key="m", name="Mixer"),),
    ...                   trays=(Tray(key="t", name="Tray"),))
    >>> kisses = Recipe(name="Kisses", sugars=(SugarPart(kind="caster", ratio=1.6),), shape=Shape(kind="kiss", diameter_mm=30, height_mm=25),
    ...                 programme=Programme(steps=(OvenStep(kind="heat", set_c=90),)), scale=Scale(by="pieces", amount=40))
    >>> steps(work_out(kisses, kitchen)).steps[-1].key
    'finish'
    """
    early = [step_rows.kit(sheet), step_rows.white(sheet), step_rows.trays(sheet), step_rows.dry_goods(sheet)]
    if sheet.recipe.whites.temp_c >= 15 and sheet.recipe.whites.kind == "fresh":
        early.append(
            Step(
                key="temper",
                station="weigh",
                title="Let the whites come to room temperature",
                says=("Covered. Warm whites rise faster and higher.",),
                kind="wait",
                hands=0,
                low_min=15,
                high_min=40,
                timer_min=30,
                after=(Link(step="separate", kind="after"),),
            )
        )
    line = [*early, *step_rows.whisking(sheet), *step_rows.shaping(sheet), *step_rows.drying(sheet), step_rows.finish(sheet)]
    return Process(name=sheet.name, steps=tuple(_chain(_place_oven(sheet, line))))


def _place_oven(sheet: Sheet, line: list[Step]) -> list[Step]:
    """Put switching on before the last step from which the oven still comes to heat in time."""
    if sheet.recipe.programme.start == "cold":
        return line
    heat = sheet.dry.figures["heat-up"].value or 0.0
    first = sheet.recipe.programme.steps[0]
    on = Step(
        key="oven-on",
        station="dry",
        title=f"Oven on: {first.set_c:g} °C{' fan' if sheet.recipe.programme.fan else ''}",
        says=(f"{sheet.oven} takes {heat:.0f} min to heat; the foam will not wait for it.",),
        kind="hands",
        hands=0.2,
        low_min=0.5,
        high_min=1,
        lead_min=heat,
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
        if step.key == "shape":
            links.append(Link(step="trays", kind="ready before"))
        out.append(step.model_copy(update={"after": tuple(links)}))
    return out
