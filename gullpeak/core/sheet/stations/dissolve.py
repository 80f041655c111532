"""The sugar in the bowl's water."""

from functools import lru_cache

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.physics import sugar
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.ways import Moment
from gullpeak.core.sheet import composition, foam
from gullpeak.core.sheet.batch import Batch, Making
from gullpeak.core.sheet.stations.base import GEOMETRY, MODEL, Station, figure
from gullpeak.core.value import Figure, Remark, Said, say


class SugarStation(Station):
    """Whether the sugar dissolves. curve: the limit (g sugar per g white) over temperature, °C. grain_um: of its coarsest sugar, 0 in a syrup."""

    dissolving: sugar.Dissolving
    temp_c: float
    grain_um: float = 0.0
    curve: tuple[tuple[float, float], ...]


def work_out(making: Making) -> SugarStation | None:
    """Return the station: whether the sugar dissolves, when it is smooth, and the ways out. None where no white is whisked."""
    recipe, kitchen, tools, batch = making
    if batch.whisking is None:
        return None
    whisking = batch.whisking
    temp = _mix_temp_c(recipe, kitchen, batch)
    water = batch.added_water_ratio
    grains = _grains(recipe)
    moment = composition.main_sugar(recipe).moment
    rain = 0.0 if moment == "start" else sum(whisking.rain_min) / 2
    pace = foam.MOMENTS[moment].dissolves / foam.MIXER_TIME[tools.mixer.kind]
    done = _dissolve_cached(grains, round(temp, 2), round(water, 6), round(rain, 2), pace)
    temps = [4, 10, 15, 20, 25, 30, 40, 50, 60]
    return SugarStation(
        key="sugar",
        title=say("station.sugar"),
        vital="ratio",
        figures=_figures(making, done, grains, temp, moment),
        remarks=tuple(_remarks(recipe, batch, done, temp)),
        dissolving=done,
        temp_c=temp,
        grain_um=max((g.grain_um for g in grains), default=0.0),
        curve=tuple((float(t), round(float(sugar.max_dissolved_ratio(t, water)), 3)) for t in temps),
    )


def _grains(recipe: Recipe) -> tuple[sugar.Grains, ...]:
    """The sugars as grains; of a syrup, which has none, without what stays on the wall."""
    boiled = sum(composition.solid(s) for s in recipe.sugars if s.moment == "syrup")
    kept = 1 - (recipe.heat.wall_pct / 100 if recipe.heat and boiled else 0.0)
    grains = tuple(
        sugar.Grains(
            grain_um=0.0 if s.moment == "syrup" else sugar.GRAIN_UM.get(s.key, 0.0),
            ratio=composition.solid(s) * (kept if s.moment == "syrup" else 1.0),
        )
        for s in recipe.sugars
        if s.ratio
    )
    return grains


def _figures(
    making: Making, done: sugar.Dissolving, grains: tuple[sugar.Grains, ...], temp: float, moment: Moment
) -> dict[str, Figure]:
    _, _, tools, batch = making
    water = batch.added_water_ratio
    return {
        "ratio": figure(
            done.ratio, "×", "measured", say("dissolve.ratio.rule"), GEOMETRY, ("white", say("amount.g-0f", x=batch.base_g))
        ),
        "limit": figure(
            done.limit,
            "×",
            "tabulated",
            say("dissolve.limit.rule"),
            say("source.vavrinecz"),
            ("mixture", say("amount.c-0f", x=temp)),
            ("solubility-s", say("dissolve.limit.solubility", solubility_pct=float(sugar.solubility_pct(temp)))),
            ("water", say("dissolve.limit.per-white", water_g=0.876 + water)),
            low=done.limit * 0.98,
            high=done.limit * 1.02,
        ),
        "smooth": figure(
            done.smooth_min,
            "min",
            "modelled",
            say("dissolve.smooth.rule"),
            MODEL,
            ("grains", say("dissolve.grains", all=tuple(say("amount.um", x=g.grain_um) for g in grains))),
            ("mixer", tools.mixer.name),
            ("goes-in", moment),
            spread=(0.7, 1.4),
        ),
        "undissolved": figure(
            done.undissolved_ratio * batch.base_g,
            "g",
            "modelled",
            say("dissolve.undissolved.rule"),
            MODEL,
            ("white", say("amount.g-0f", x=batch.base_g)),
        ),
    }


def _remarks(recipe: Recipe, batch: Batch, done: sugar.Dissolving, temp: float) -> list[Remark]:
    whisking, water = batch.whisking, batch.added_water_ratio
    assert whisking is not None
    remarks: list[Remark] = []
    if done.verdict != "dissolves":
        worse = done.verdict == "cannot"
        says = (
            say("dissolve.sugar-cannot-dissolve-will", undissolved_ratio_g=done.undissolved_ratio * batch.base_g, temp_c=temp)
            if worse
            else say("dissolve.edge-last-grains-take")
        )
        remarks.append(Remark(severity="warning", says=says, do=_ways_out(recipe, batch, done, temp, water)))
    foaming = whisking.stages[-1].high_min - whisking.rain_from_min[1] - whisking.rain_min[1]
    if done.smooth_min is not None and done.smooth_min > max(foaming, 1) + whisking.window_min[1]:
        remarks.append(
            Remark(
                severity="warning",
                says=say("dissolve.smooth-only-min-after", smooth_min=done.smooth_min),
                do=(
                    say("dissolve.use-finer-sugar"),
                    say("dissolve.start-sugar-earlier"),
                    say("dissolve.rub-little-between-finger"),
                ),
            )
        )
    return remarks


def _mix_temp_c(recipe: Recipe, kitchen: Kitchen, batch: Batch) -> float:
    """Temperature of white, sugar and any hot water together: heat balance, then half-way to the room while it whisks."""
    if recipe.heat is not None:
        return recipe.heat.target_c if recipe.way.heats == "bath" else 33.0  # the syrup's foam is shaped hand-warm
    hot = sum(a.ratio or 0.0 for a in recipe.additions if a.key == "water")
    heat = 3.75 + 1.25 * batch.sugar_ratio + 4.19 * hot
    mixed = (3.75 * recipe.egg.temp_c + 1.25 * batch.sugar_ratio * kitchen.room_c + 4.19 * hot * 90) / heat
    return min(max((mixed + kitchen.room_c) / 2 if hot == 0 else mixed * 0.8 + kitchen.room_c * 0.2, 0.0), 90.0)


@lru_cache(maxsize=256)
def _dissolve_cached(grains: tuple[sugar.Grains, ...], temp: float, water: float, rain: float, pace: float) -> sugar.Dissolving:
    return sugar.dissolve(grains, temp, water, rain, pace)


def _ways_out(recipe: Recipe, batch: Batch, done: sugar.Dissolving, temp: float, water: float) -> tuple[Said, ...]:
    """What would bring the sugar comfortably under its limit, each worked out on its own."""
    easy = sugar.EDGE
    ways = [say("dissolve.less-sugar-dissolves-all", easy=easy * done.limit, easy_g=easy * done.limit * batch.base_g)]
    per_water = float(sugar.solubility_pct(temp) / (100 - sugar.solubility_pct(temp)))
    more = done.ratio / (easy * per_water) - sugar.WATER_IN_WHITE - water
    ways.append(say("dissolve.water-longer-dry", more_g=more * batch.base_g))
    warm = next((t for t in range(int(temp) + 1, 61) if easy * float(sugar.max_dissolved_ratio(t, water)) >= done.ratio), None)
    if warm is not None:
        ways.append(say("dissolve.warm-whites-sugar", warm=warm))
    if not any(s.moment == "folded last" for s in recipe.sugars):
        ways.append(say("dissolve.fold-last-icing-sugar", x_g=max(0.0, done.ratio - easy * done.limit) * batch.base_g))
    return tuple(ways)
