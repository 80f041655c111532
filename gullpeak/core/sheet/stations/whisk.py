"""Whisking."""

from math import ceil

from gullpeak.core.kitchen import egg
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.ways import Moment
from gullpeak.core.sheet import foam
from gullpeak.core.sheet.batch import Batch, Equipment, Making
from gullpeak.core.sheet.stations.base import CRAFT, Station, figure
from gullpeak.core.value import NOTHING, Figure, Remark, Said, Value, say

_PER_MINUTE_SPOON_G = 13.0


class Pour(Value):
    """Something that goes into the bowl: when (minutes of whisking) and how fast."""

    name: str
    mass_g: float | None
    moment: Moment
    from_min: float
    until_min: float
    how: Said


class Whisk(Station):
    """The foam in its bowl."""

    whisking: foam.Whisking
    pours: tuple[Pour, ...]
    bowl_l: float
    safe_l: float
    foam_l: tuple[float, float]
    whites_l: float
    by_hand: bool = False
    """A whisk that is held: pouring into it takes a second person"""


SUGAR_ML_G = 0.62
"""What dissolved sugar adds to the liquid it is in."""


def in_bowl_ml(batch: Batch) -> float:
    """Return the liquid the whisk meets as it starts: white, and what goes in with it from the start or the bath, ml."""
    early = [line for line in batch.lines[1:] if line.moment in ("start", "bath")]
    return batch.base_g / egg.WHITE_DENSITY + sum(
        (line.mass_g or 0.0) * (SUGAR_ML_G if line.role == "sugar" else 1 / line.item.density) for line in early
    )


def work_out(making: Making, smooth: Figure | None = None) -> Whisk | None:
    """Return the station: the foam in its bowl, stage by stage. None where no white is whisked.

    smooth: from when on no grain is felt. With all of it in from the start it is whisked until stiff and smooth.
    """
    recipe, _, tools, batch = making
    if batch.whisking is None:
        return None
    w, bowl = batch.whisking, tools.mixer.bowl_l
    stiff = w.stages[-1]
    low_l, high_l = batch.volume_ml[0] / 1000, batch.volume_ml[1] / 1000
    safe = foam.SAFE_FILL * bowl
    whites_l = batch.base_g / egg.WHITE_DENSITY / 1000
    return Whisk(
        key="whisk",
        title=say("station.whisk"),
        vital="time",
        figures={"time": _time(recipe, tools, batch, stiff, smooth), **_foam_figures(batch, w, bowl)},
        remarks=tuple(_remarks(tools, batch, safe)),
        whisking=w,
        pours=_pours(recipe, batch, w),
        bowl_l=bowl,
        safe_l=safe,
        foam_l=(low_l, high_l),
        whites_l=whites_l,
        by_hand=tools.mixer.kind in ("hand-held", "balloon whisk"),
    )


def _time(recipe: Recipe, tools: Equipment, batch: Batch, stiff: foam.Stage, smooth: Figure | None) -> Figure:
    """Until it stands; where the sugar is in from the start, until it is smooth as well."""
    bowl = tools.mixer.bowl_l
    w_says = batch.whisking.says if batch.whisking is not None else NOTHING
    low, high = stiff.low_min, stiff.high_min
    rule = say("whisk.stage-times-stand-mixer", w_says=w_says)
    inputs = [
        ("mixer", say("whisk.time.x", mixer_name=tools.mixer.name, mixer_time=foam.MIXER_TIME[tools.mixer.kind])),
        ("in-the-bowl", say("whisk.time.in", base_g=batch.base_g, bowl_l=bowl, mass_time=foam.mass_time(batch.base_g, bowl))),
        ("white", say("whisk.time.c", egg_kind=recipe.egg.kind, temp_c=recipe.egg.temp_c)),
    ]
    if recipe.way.all_at_once and smooth is not None and smooth.low is not None and smooth.high is not None:
        low, high = max(low, smooth.low), max(high, smooth.high)
        rule = say("whisk.until-smooth-well-sugar", rule=rule)
        inputs += [
            ("stiff", say("whisk.time.stiff", low_min=stiff.low_min, high_min=stiff.high_min)),
            ("smooth", say("whisk.time.smooth", smooth_low=smooth.low, smooth_high_min=smooth.high)),
        ]
    return figure((low + high) / 2, "min", "craft rule", rule, CRAFT, *inputs, low=low, high=high)


def _foam_figures(batch: Batch, w: foam.Whisking, bowl: float) -> dict[str, Figure]:
    low_l, high_l = (ml / 1000 for ml in batch.volume_ml)
    return {
        "volume": figure(
            (low_l + high_l) / 2,
            "l",
            "modelled",
            say("whisk.volume.rule"),
            CRAFT,
            ("mass", say("amount.g-0f", x=batch.base_g * batch.total_ratio)),
            ("density", say("whisk.volume.ml", density_low=w.density[0], density_high=w.density[1])),
            low=low_l,
            high=high_l,
        ),
        "fill": figure(
            100 * high_l / bowl,
            "%",
            "modelled",
            say("whisk.fill.rule"),
            CRAFT,
            ("bowl", say("amount.l", x=bowl)),
        ),
        "density": figure(
            batch.density,
            "g/ml",
            "craft rule",
            say("whisk.density.rule"),
            CRAFT,
            ("ratio", say("amount.number-2f", x=batch.sugar_ratio)),
            low=w.density[0],
            high=w.density[1],
        ),
        "window": figure(
            sum(w.window_min) / 2,
            "min",
            "craft rule",
            say("whisk.window.rule"),
            CRAFT,
            low=w.window_min[0],
            high=w.window_min[1],
        ),
    }


def _remarks(tools: Equipment, batch: Batch, safe: float) -> list[Remark]:
    bowl, high_l, reaches_l = tools.mixer.bowl_l, batch.volume_ml[1] / 1000, in_bowl_ml(batch) / 1000
    remarks: list[Remark] = []
    if high_l > safe:
        most = batch.base_g * safe / high_l
        remarks.append(
            Remark(
                severity="warning",
                says=say("whisk.foam-overflows-bowl-safe", high_l=high_l, bowl_l=bowl, safe_l=safe),
                do=(
                    say("whisk.whisk-batches", ceil=ceil(high_l / safe)),
                    say("whisk.most-white-once", most_g=most),
                    say("whisk.take-larger-bowl"),
                ),
            )
        )
    if reaches_l / bowl * 100 < tools.mixer.min_fill_pct:
        remarks.append(
            Remark(
                severity="warning",
                says=say("whisk.bowl-too-little-whisk", reaches_ml=reaches_l * 1000, bowl_l=bowl),
                do=(
                    say("whisk.take-smaller-bowl-hand"),
                    say("whisk.catches", min_fill_ml=tools.mixer.min_fill_pct / 100 * bowl * 1000),
                ),
            )
        )
    if tools.mixer.bowl_material == "plastic":
        remarks.append(
            Remark(
                severity="warning",
                says=say("whisk.plastic-bowl-holds-fat"),
                do=(say("whisk.use-steel-glass"), say("whisk.wipe-vinegar-dry")),
            )
        )
    if batch.fat_share > 0.0002:
        remarks.append(
            Remark(
                severity="warning",
                says=say("whisk.fat-whisked-foam-loses"),
                do=(say("whisk.fold-anything-fat-last"),),
            )
        )
    return remarks


def _pours(recipe: Recipe, batch: Batch, w: foam.Whisking) -> tuple[Pour, ...]:
    """When each thing goes into the bowl, in order."""
    by_stage = {s.name: (s.low_min + s.high_min) / 2 for s in w.stages}
    rain_from, rain = sum(w.rain_from_min) / 2, sum(w.rain_min) / 2
    at: dict[Moment, float] = {
        "bath": 0.0,
        "start": 0.0,
        "syrup": by_stage[recipe.heat.peak] if recipe.heat else 0.0,
        "off heat": by_stage["stiff glossy peak"],
        "cooled": by_stage["stiff glossy peak"],
        "froth": by_stage["frothy"],
        "before soft": 0.75 * by_stage["soft peak"],
        "soft": by_stage["soft peak"],
        "stiff": by_stage["firm peak"],
        "folded last": by_stage["stiff glossy peak"],
    }
    rains = recipe.way.foam is not None and recipe.way.foam.rains
    pours = []
    for line in batch.lines[1:]:
        begins = at[line.moment]
        until, how = begins, say("whisk.all-once")
        if line.role == "sugar" and line.moment not in ("start", "folded last") and rains:
            begins = rain_from if line.moment != "stiff" else begins
            until = begins + rain
            spoon_s = 60 * rain * _PER_MINUTE_SPOON_G / max(batch.whisked_ratio * batch.base_g, _PER_MINUTE_SPOON_G)
            how = (
                say("whisk.spoonful-every", spoon_s=spoon_s)
                if spoon_s >= 3
                else say("whisk.thin-rain-minute", whisked_ratio_g=batch.whisked_ratio * batch.base_g / rain)
            )
        elif line.moment == "syrup":
            until, how = begins + 50 / 60, say("whisk.boiled-together-poured-down")
        elif line.moment == "bath":
            how = say("whisk.start-warmed-white")
        elif line.moment == "folded last":
            how = say("whisk.sifted-folded-hand") if line.role in ("sugar", "starch") else say("whisk.folded-hand")
        pours.append(
            Pour(
                name=line.name,
                mass_g=line.mass_g,
                moment=line.moment,
                from_min=round(begins, 2),
                until_min=round(until, 2),
                how=how,
            )
        )
    return tuple(sorted(pours, key=lambda p: p.from_min))
