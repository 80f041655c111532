"""Drying."""

from gullpeak.core.physics import glass
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.programme import OvenStepKind, Programme
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet import dryness, oven
from gullpeak.core.sheet.batch import Equipment, Making
from gullpeak.core.sheet.stations.base import CRAFT, MODEL, Station, clock, dimensions, figure
from gullpeak.core.value import Figure, Remark, Said, Value, known, say


class Bar(Value):
    """A stretch of the oven programme, to draw."""

    says: Said
    from_min: float
    until_min: float
    kind: OvenStepKind


class Dry(Station):
    """The oven."""

    drying: dryness.Drying
    colour: dryness.ColourWord | None = None
    bars: tuple[Bar, ...]
    section: tuple[shapes.SectionPart, ...]


def run(making: Making) -> dryness.Drying | None:
    """Return the drying run of a batch: one oven load of its pieces, the load to the nearest 50 g. None without an oven."""
    recipe, kitchen, tools, batch = making
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
            glass.dry_c((x.key, x.mass_g * x.item.sugar, x.mass_g * x.item.starch) for x in batch.lines if x.mass_g),
            1,
        ),
    )


def work_out(making: Making, d: dryness.Drying | None) -> Dry | None:
    """Return the station: the oven: what a drying run means at the bench. None without an oven."""
    recipe, _, tools, _ = making
    if d is None or recipe.shape is None or recipe.programme is None:
        return None
    i = min(range(len(d.times_min)), key=lambda k: abs(d.times_min[k] - d.heat_end_min))
    ridge = dryness.colour(d.ridge_browning[i])
    shape, programme = recipe.shape, recipe.programme
    return Dry(
        key="dry",
        title=say("station.dry"),
        vital="time",
        figures=_figures(making, programme, d, i),
        remarks=tuple(_remarks(recipe, programme, tools, d, i)),
        drying=d,
        colour=ridge,
        bars=_bars(programme, d.heat_end_min),
        section=shapes.KINDS[shape.kind].section(shape),
    )


def _figures(making: Making, programme: Programme, d: dryness.Drying, i: int) -> dict[str, Figure]:
    """i: where in the run the heat ends."""
    recipe, kitchen, tools, batch = making
    assert recipe.shape is not None
    tray_g = max(batch.trays) * batch.piece_g
    loss = d.loss_pct[-1]
    piece = (
        ("piece", dimensions(recipe.shape)),
        ("foam", say("dry.time.water", density=batch.density, water_fraction_pct=100 * batch.water_fraction)),
        ("oven", say("dry.time.x", oven_name=tools.oven.name, air=_air(programme))),
    )
    figures = {
        "time": figure(
            d.heat_end_min,
            "min",
            "modelled",
            say("dry.time.rule", texture=recipe.texture, textures_says=dryness.TEXTURES[recipe.texture].says),
            MODEL,
            *piece,
            low=d.early_min,
            high=d.late_min,
        ),
        "loss": figure(
            tray_g * loss / 100,
            "g",
            "modelled",
            say("dry.loss.rule"),
            MODEL,
            ("of-the-piece", say("amount.pct-1f", x=loss)),
            ("tray-in", say("dry.loss.foam", tray_g=tray_g)),
            low=tray_g * d.loss_low_pct[-1] / 100,
            high=tray_g * d.loss_high_pct[-1] / 100,
        ),
        "out": figure(
            tools.tray.tare_g + tray_g * (1 - loss / 100),
            "g",
            "modelled",
            say("dry.out.rule"),
            MODEL,
            ("tray-empty", say("amount.g", x=tools.tray.tare_g)),
        ),
        **_as_it_is(d, i, piece),
        "whole": figure(d.end_min, "min", "modelled", say("dry.whole.rule"), MODEL),
        "heat-up": figure(
            oven.heat_up_min(programme, tools.oven, kitchen.room_c),
            "min",
            "craft rule",
            say("dry.heat-up.rule"),
            CRAFT,
            ("oven", say("dry.heat-up.minute", heat_c_per_c=tools.oven.heat_c_per_min)),
        ),
    }
    if tools.oven.true_offset_c:
        figures["true"] = figure(
            oven.true_c(programme.steps[0].set_c or 0, tools.oven),
            "°C",
            "measured",
            say("dry.true.rule"),
            say("source.kitchens-own-oven"),
            ("set", say("amount.c", x=programme.steps[0].set_c)),
            ("offset", say("amount.c-g", x=tools.oven.true_offset_c)),
        )
    return figures


def _as_it_is(d: dryness.Drying, i: int, piece: tuple[tuple[str, Said], ...]) -> dict[str, Figure]:
    """The piece as it comes out: its shell, its core, its colour."""
    ridge = dryness.colour(d.ridge_browning[i])
    return {
        "shell": figure(
            d.shell_mm[-1],
            "mm",
            "modelled",
            say("dry.shell.rule", snaps_pct=d.snaps_pct),
            MODEL,
            *piece,
        ),
        "core": figure(
            d.core_pct[-1],
            "%",
            "modelled",
            say("dry.core.rule"),
            MODEL,
            *piece,
        ),
        "colour": figure(
            None,
            "",
            "modelled",
            say("dry.colour.rule"),
            MODEL,
            ("ridge", say("amount.number-1f", x=d.ridge_browning[i])),
            ("flat", say("dry.colour.x", flat_browning=d.flat_browning[i], colour=dryness.colour(d.flat_browning[i]))),
            text=say(f"colour.{ridge}"),
        ),
    }


def _remarks(recipe: Recipe, programme: Programme, tools: Equipment, d: dryness.Drying, i: int) -> list[Remark]:
    ridge = dryness.colour(d.ridge_browning[i])
    remarks: list[Remark] = []
    if not d.reached:
        if d.open_ended:
            remarks.append(
                Remark(
                    severity="warning",
                    says=say("dry.does-get-heat-however", texture=recipe.texture),
                    do=(say("dry.raise-oven"), say("dry.make-thinner"), say("dry.ask-softer-centre")),
                )
            )
        else:
            remarks.append(
                Remark(
                    severity="warning",
                    says=say("dry.too-short-when-heat", texture=recipe.texture, clock=clock(d.heat_end_min)),
                    do=(say("dry.let-last-heating-step"),),
                )
            )
    elif not d.open_ended and d.wanted.until_min is not None and d.heat_end_min > d.wanted.until_min:
        remarks.append(
            Remark(
                severity="warning",
                says=say("dry.too-long-past-after", texture=recipe.texture, clock=clock(d.wanted.until_min)),
                do=(say("dry.end-heat-sooner"),),
            )
        )
    if ridge not in ("white", "ivory") and not (recipe.texture == "soft sheet" and ridge == "straw"):
        remarks.append(
            Remark(
                severity="warning",
                says=say("dry.ridges-turn-before-dry", ridge=ridge),
                do=(say("dry.lower-oven"), say("dry.step-down-after-first")),
            )
        )
    worst_set = all(p.set_core[i] for p in d.profiles)
    if recipe.texture != "crisp" and not worst_set:
        remarks.append(
            Remark(
                severity="warning",
                says=say("dry.core-never-passes-stays"),
                do=(say("dry.hotter-start"), say("dry.longer")),
            )
        )
    if programme.fan and not tools.oven.fan:
        remarks.append(
            Remark(
                severity="warning",
                says=say("dry.fan", oven_name=tools.oven.name),
                do=(say("dry.choose-still-set", set_c=(programme.steps[0].set_c or 0) + tools.oven.fan_drop_c),),
            )
        )
    if max(d.vapour_kpa) > 12:
        remarks.append(
            Remark(
                severity="note",
                says=say("dry.oven-fills-steam-load"),
                do=(say("dry.fewer-trays"), say("dry.open-door-crack-once")),
            )
        )
    return remarks


def _air(programme: Programme) -> Said:
    return say("dry.fan-air") if programme.fan else say("dry.still-air")


def _bars(programme: Programme, heat_end: float) -> tuple[Bar, ...]:
    bars, t = [], 0.0
    air = _air(programme)
    fixed = programme.heated_min
    for step in programme.steps:
        lasts = known(step.minutes, heat_end - fixed)
        says = say(f"dry.bar.{step.kind}-{step.door}", set_c=step.set_c or 0, air=air)
        bars.append(Bar(says=says, from_min=t, until_min=t + lasts, kind=step.kind))
        t += lasts
    return tuple(bars)
