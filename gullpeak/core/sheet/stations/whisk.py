"""Whisking."""

from math import ceil

from pydantic import Field

from gullpeak.core.kitchen import egg
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.recipe.recipe import Moment, Recipe
from gullpeak.core.sheet import foam
from gullpeak.core.sheet.batch import Batch, Equipment
from gullpeak.core.sheet.stations.base import CRAFT, Station, figure
from gullpeak.core.value import Figure, Remark, Value

_PER_MINUTE_SPOON_G = 13.0


class Pour(Value):
    """Something that goes into the bowl: when (minutes of whisking) and how fast."""

    name: str
    mass_g: float | None
    moment: Moment
    from_min: float
    until_min: float
    how: str


class Whisk(Station):
    """The foam in its bowl."""

    whisking: foam.Whisking
    pours: tuple[Pour, ...]
    bowl_l: float
    safe_l: float
    foam_l: tuple[float, float]
    whites_l: float
    by_hand: bool = Field(False, description="A whisk that is held: pouring into it takes a second person")


SUGAR_ML_G = 0.62
"""What dissolved sugar adds to the liquid it is in."""


def in_bowl_ml(batch: Batch) -> float:
    """Return the liquid the whisk meets as it starts: white, and what goes in with it from the start or the bath, ml."""
    early = [line for line in batch.lines[1:] if line.moment in ("start", "bath")]
    return batch.base_g / egg.WHITE_DENSITY + sum(
        (line.mass_g or 0.0) * (SUGAR_ML_G if line.role == "sugar" else 1 / INGREDIENTS[line.key].density) for line in early
    )


def work_out(recipe: Recipe, tools: Equipment, batch: Batch, smooth: Figure | None = None) -> Whisk | None:
    """Return the station: the foam in its bowl, stage by stage. None where no white is whisked.

    smooth: from when on no grain is felt. With all of it in from the start it is whisked until stiff and smooth.
    """
    if batch.whisking is None:
        return None
    w, bowl = batch.whisking, tools.mixer.bowl_l
    stiff = w.stages[-1]
    low_l, high_l = batch.volume_ml[0] / 1000, batch.volume_ml[1] / 1000
    safe = foam.SAFE_FILL * bowl
    whites_l = batch.base_g / egg.WHITE_DENSITY / 1000
    reaches_l = in_bowl_ml(batch) / 1000
    low, high = stiff.low_min, stiff.high_min
    rule = f"Stage times of a stand mixer × mixer, mass in its bowl, temperature and moment of the sugar. {w.says}."
    inputs = [
        ("mixer", f"{tools.mixer.name} × {foam.MIXER_TIME[tools.mixer.kind]:g}"),
        ("in the bowl", f"{batch.base_g:.0f} g in {bowl:g} l × {foam.mass_time(batch.base_g, bowl):.2f}"),
        ("white", f"{recipe.egg.kind}, {recipe.egg.temp_c:g} °C"),
    ]
    if recipe.school == "all-in-one" and smooth is not None and smooth.low is not None and smooth.high is not None:
        low, high = max(low, smooth.low), max(high, smooth.high)
        rule = f"{rule} Until it is smooth as well: the sugar is in from the start."
        inputs += [
            ("stiff", f"{stiff.low_min:.1f}–{stiff.high_min:.1f} min"),
            ("smooth", f"{smooth.low:.1f}–{smooth.high:.1f} min"),
        ]
    figures = {
        "time": figure((low + high) / 2, "min", "craft rule", rule, CRAFT, *inputs, low=low, high=high),
        "volume": figure(
            (low_l + high_l) / 2,
            "l",
            "modelled",
            "All that is whisked ÷ density of the stiff foam.",
            CRAFT,
            ("mass", f"{batch.base_g * batch.total_ratio:.0f} g"),
            ("density", f"{w.density[0]:.2f}–{w.density[1]:.2f} g/ml"),
            low=low_l,
            high=high_l,
        ),
        "fill": figure(
            100 * high_l / bowl,
            "%",
            "modelled",
            "Highest volume ÷ bowl; over 80 % it climbs out.",
            CRAFT,
            ("bowl", f"{bowl:g} l"),
        ),
        "density": figure(
            batch.density,
            "g/ml",
            "craft rule",
            "By school and sugar ratio; weigh a level cup of foam to know yours.",
            CRAFT,
            ("ratio", f"{batch.sugar_ratio:.2f}"),
            low=w.density[0],
            high=w.density[1],
        ),
        "window": figure(
            sum(w.window_min) / 2,
            "min",
            "craft rule",
            "From stiff to over-whisked: wide with sugar and acid in, short without.",
            CRAFT,
            low=w.window_min[0],
            high=w.window_min[1],
        ),
    }
    remarks: list[Remark] = []
    if high_l > safe:
        most = batch.base_g * safe / high_l
        remarks.append(
            Remark(
                severity="warning",
                says=f"{high_l:.1f} l of foam overflows a {bowl:g} l bowl (safe to {safe:.1f} l).",
                do=(f"whisk in {ceil(high_l / safe)} batches", f"at most {most:.0f} g of white at once", "take a larger bowl"),
            )
        )
    if reaches_l / bowl * 100 < tools.mixer.min_fill_pct:
        remarks.append(
            Remark(
                severity="warning",
                says=f"{reaches_l * 1000:.0f} ml in the bowl is too little for the whisk to reach in a {bowl:g} l bowl.",
                do=(
                    "take a smaller bowl or the hand-held mixer",
                    f"from {tools.mixer.min_fill_pct / 100 * bowl * 1000:.0f} ml on it catches",
                ),
            )
        )
    if tools.mixer.bowl_material == "plastic":
        remarks.append(
            Remark(
                severity="warning",
                says="A plastic bowl holds fat, and a trace halves the foam.",
                do=("use steel or glass", "wipe with vinegar and dry"),
            )
        )
    if batch.fat_share > 0.0002:
        remarks.append(
            Remark(
                severity="warning",
                says="There is fat in what is whisked: the foam loses volume.",
                do=("fold anything with fat in last",),
            )
        )
    return Whisk(
        key="whisk",
        title="Whisk",
        vital="time",
        figures=figures,
        remarks=tuple(remarks),
        whisking=w,
        pours=_pours(recipe, batch, w),
        bowl_l=bowl,
        safe_l=safe,
        foam_l=(low_l, high_l),
        whites_l=whites_l,
        by_hand=tools.mixer.kind in ("hand-held", "balloon whisk"),
    )


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
    pours = []
    for line in batch.lines[1:]:
        begins = at[line.moment]
        until, how = begins, "all at once"
        if line.role == "sugar" and line.moment not in ("start", "folded last") and recipe.school == "french":
            begins = rain_from if line.moment != "stiff" else begins
            until = begins + rain
            spoon_s = 60 * rain * _PER_MINUTE_SPOON_G / max(batch.whisked_ratio * batch.base_g, _PER_MINUTE_SPOON_G)
            how = (
                f"a spoonful (13 g) every {spoon_s:.0f} s"
                if spoon_s >= 3
                else f"in a thin rain, {batch.whisked_ratio * batch.base_g / rain:.0f} g a minute"
            )
        elif line.moment == "syrup":
            until, how = begins + 50 / 60, "boiled together, poured down the wall in 40–60 s"
        elif line.moment == "bath":
            how = "in from the start, warmed with the white"
        elif line.moment == "folded last":
            how = "sifted, folded in by hand" if line.role in ("sugar", "starch") else "folded in by hand"
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
