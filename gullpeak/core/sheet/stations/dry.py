"""Drying."""

from typing import Literal

from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.physics import glass
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.recipe import Programme, Recipe
from gullpeak.core.sheet import dryness, oven
from gullpeak.core.sheet.batch import Batch, Equipment
from gullpeak.core.sheet.stations.base import CRAFT, MODEL, Station, clock, dimensions, figure
from gullpeak.core.value import Remark, Value


class Bar(Value):
    """A stretch of the oven programme, to draw."""

    says: str
    from_min: float
    until_min: float
    kind: Literal["heat", "turn", "off"]


class Dry(Station):
    """The oven."""

    drying: dryness.Drying
    bars: tuple[Bar, ...]
    section: tuple[shapes.SectionPart, ...]


def run(recipe: Recipe, kitchen: Kitchen, tools: Equipment, batch: Batch) -> dryness.Drying | None:
    """Return the drying run of a batch: one oven load of its pieces, the load to the nearest 50 g. None without an oven."""
    if recipe.shape is None or recipe.programme is None or recipe.base != "white":
        return None
    load_kg = round(20 * batch.foam_g / 1000 / batch.loads) / 20
    return dryness.work_out(
        recipe.shape,
        recipe.texture,
        recipe.programme,
        tools.oven,
        kitchen,
        round(batch.density, 6),
        round(batch.water_fraction, 6),
        load_kg,
        round(
            glass.dry_c(
                (x.key, x.mass_g * INGREDIENTS[x.key].sugar, x.mass_g * INGREDIENTS[x.key].starch)
                for x in batch.lines
                if x.mass_g
            ),
            1,
        ),
    )


def work_out(recipe: Recipe, kitchen: Kitchen, tools: Equipment, batch: Batch, d: dryness.Drying | None) -> Dry | None:
    """Return the station: the oven: what a drying run means at the bench. None without an oven."""
    if d is None or recipe.shape is None or recipe.programme is None:
        return None
    shape, programme = recipe.shape, recipe.programme
    i = min(range(len(d.times_min)), key=lambda k: abs(d.times_min[k] - d.heat_end_min))
    tray_g = max(batch.trays) * batch.piece_g
    loss = d.loss_pct[-1]
    ridge = dryness.colour(d.ridge_browning[i])
    piece = (
        ("piece", dimensions(shape)),
        ("foam", f"{batch.density:.2f} g/ml, {100 * batch.water_fraction:.0f} % water"),
        ("oven", f"{tools.oven.name}, {'fan' if programme.fan else 'still'}"),
    )
    figures = {
        "time": figure(
            d.heat_end_min,
            "min",
            "modelled",
            f"Heat and water followed to the core until it is {recipe.texture}: {dryness.TEXTURES[recipe.texture].says}. The band is where eighty of a hundred kitchens like this one are as dry.",
            MODEL,
            *piece,
            low=d.early_min,
            high=d.late_min,
        ),
        "loss": figure(
            tray_g * loss / 100,
            "g",
            "modelled",
            "Water gone from the fullest tray, oven and cooling.",
            MODEL,
            ("of the piece", f"{loss:.1f} %"),
            ("tray in", f"{tray_g:.0f} g of foam"),
            low=tray_g * d.loss_low_pct[-1] / 100,
            high=tray_g * d.loss_high_pct[-1] / 100,
        ),
        "out": figure(
            tools.tray.tare_g + tray_g * (1 - loss / 100),
            "g",
            "modelled",
            "Tray, paper and pieces when they come out.",
            MODEL,
            ("tray empty", f"{tools.tray.tare_g:g} g"),
        ),
        "shell": figure(
            d.shell_mm[-1],
            "mm",
            "modelled",
            f"How deep the crumb holds {d.snaps_pct:.1f} % water or less, where it snaps (Gordon–Taylor); the thinnest part.",
            MODEL,
            *piece,
        ),
        "core": figure(
            d.core_pct[-1],
            "%",
            "modelled",
            "Water at the innermost point of the part that dries last, once cooled.",
            MODEL,
            *piece,
        ),
        "colour": figure(
            None,
            "",
            "modelled",
            "Browning of a 1.5 mm ridge, Arrhenius with 100 kJ/mol, minutes at 150 °C.",
            MODEL,
            ("ridge", f"{d.ridge_browning[i]:.1f}"),
            ("flat", f"{d.flat_browning[i]:.1f} ({dryness.colour(d.flat_browning[i])})"),
            text=ridge,
        ),
        "whole": figure(d.end_min, "min", "modelled", "Oven and cooling together.", MODEL),
        "heat-up": figure(
            oven.heat_up_min(programme, tools.oven, kitchen.room_c),
            "min",
            "craft rule",
            "From switching on to the first setting, and five for the walls.",
            CRAFT,
            ("oven", f"{tools.oven.heat_c_per_min:g} °C a minute"),
        ),
    }
    if tools.oven.true_offset_c:
        figures["true"] = figure(
            oven.true_c(programme.steps[0].set_c or 0, tools.oven),
            "°C",
            "measured",
            "What this oven holds when set so.",
            "This kitchen's own oven",
            ("set", f"{programme.steps[0].set_c:g} °C"),
            ("offset", f"{tools.oven.true_offset_c:+g} °C"),
        )
    remarks: list[Remark] = []
    if not d.reached:
        if d.open_ended:
            remarks.append(
                Remark(
                    severity="warning",
                    says=f"It does not get {recipe.texture} at this heat, however long it stays in.",
                    do=("raise the oven by 10 °C", "make it thinner", "ask for a softer centre"),
                )
            )
        else:
            remarks.append(
                Remark(
                    severity="warning",
                    says=f"Too short: it is not {recipe.texture} when the heat ends at {clock(d.heat_end_min)}.",
                    do=("let the last heating step run until the texture is there",),
                )
            )
    elif not d.open_ended and d.wanted.until_min is not None and d.heat_end_min > d.wanted.until_min:
        remarks.append(
            Remark(
                severity="warning",
                says=f"Too long: past {recipe.texture} after {clock(d.wanted.until_min)}; it goes dry through.",
                do=("end the heat sooner",),
            )
        )
    if ridge not in ("white", "ivory") and not (recipe.texture == "soft sheet" and ridge == "straw"):
        remarks.append(
            Remark(
                severity="warning",
                says=f"Ridges turn {ridge} before it is dry.",
                do=("lower the oven", "step it down after the first quarter of an hour"),
            )
        )
    worst_set = all(p.set_core[i] for p in d.profiles)
    if recipe.texture != "crisp" and not worst_set:
        remarks.append(
            Remark(
                severity="warning",
                says="The core never passes 75 °C: it stays raw foam, not marshmallow.",
                do=("a hotter start", "longer"),
            )
        )
    if programme.fan and not tools.oven.fan:
        remarks.append(
            Remark(
                severity="warning",
                says=f"{tools.oven.name} has no fan.",
                do=(f"choose still and set {(programme.steps[0].set_c or 0) + tools.oven.fan_drop_c:.0f} °C",),
            )
        )
    if max(d.vapour_kpa) > 12:
        remarks.append(
            Remark(
                severity="note",
                says="The oven fills with steam from this load and dries more slowly for it.",
                do=("fewer trays", "open the door a crack once the pieces have a skin"),
            )
        )
    return Dry(
        key="dry",
        title="Dry",
        vital="time",
        figures=figures,
        remarks=tuple(remarks),
        drying=d,
        bars=_bars(programme, d.heat_end_min),
        section=shapes.KINDS[shape.kind].section(shape),
    )


def _bars(programme: Programme, heat_end: float) -> tuple[Bar, ...]:
    bars, t = [], 0.0
    fan = "fan" if programme.fan else "still"
    fixed = sum(s.minutes or 0.0 for s in programme.steps if s.kind != "off")
    for step in programme.steps:
        lasts = step.minutes if step.minutes is not None else heat_end - fixed
        says = {"heat": f"{step.set_c or 0:g} °C {fan}", "turn": "turn the tray", "off": "off"}[step.kind]
        if step.kind != "turn":
            says += ", door ajar" if step.door == "ajar" else ", door shut"
        bars.append(Bar(says=says, from_min=t, until_min=t + lasts, kind=step.kind))
        t += lasts
    return tuple(bars)
