"""The sugar in the bowl's water."""

from functools import lru_cache

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.physics import sugar
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet import foam
from gullpeak.core.sheet.batch import Batch, Equipment
from gullpeak.core.sheet.stations.base import GEOMETRY, MODEL, Station, figure
from gullpeak.core.value import Remark


class SugarStation(Station):
    """Whether the sugar dissolves. curve: the limit (g sugar per g white) over temperature, °C."""

    dissolving: sugar.Dissolving
    temp_c: float
    curve: tuple[tuple[float, float], ...]


def work_out(recipe: Recipe, kitchen: Kitchen, tools: Equipment, batch: Batch) -> SugarStation | None:
    """Return the station: whether the sugar dissolves, when it is smooth, and the ways out. None where no white is whisked."""
    if batch.whisking is None:
        return None
    whisking = batch.whisking
    temp = _mix_temp_c(recipe, kitchen, batch)
    water = batch.added_water_ratio
    boiled = sum(batching.solid(s) for s in recipe.sugars if s.moment == "syrup")
    kept = 1 - (recipe.heat.wall_pct / 100 if recipe.heat and boiled else 0.0)
    grains = tuple(
        sugar.Grains(
            grain_um=0.0 if s.moment == "syrup" else sugar.GRAIN_UM.get(s.kind, 0.0),
            ratio=batching.solid(s) * (kept if s.moment == "syrup" else 1.0),
        )
        for s in recipe.sugars
        if s.ratio
    )
    moment = batching.main_sugar(recipe).moment
    rain = 0.0 if moment == "start" else sum(whisking.rain_min) / 2
    pace = foam.MOMENTS[moment].dissolves / foam.MIXER_TIME[tools.mixer.kind]
    done = _dissolve_cached(grains, round(temp, 2), round(water, 6), round(rain, 2), pace)
    figures = {
        "ratio": figure(done.ratio, "×", "measured", "All sugar ÷ white.", GEOMETRY, ("white", f"{batch.base_g:.0f} g")),
        "limit": figure(
            done.limit,
            "×",
            "tabulated",
            "Water in the bowl × S/(100 − S): the most that dissolves at this temperature.",
            "Vavrinecz, in Bubník et al. (1995)",
            ("mixture", f"{temp:.0f} °C"),
            ("solubility S", f"{float(sugar.solubility_pct(temp)):.1f} g/100 g"),
            ("water", f"{0.876 + water:.3f} g per g white"),
            low=done.limit * 0.98,
            high=done.limit * 1.02,
        ),
        "smooth": figure(
            done.smooth_min,
            "min",
            "modelled",
            "Shrinking grains (Noyes–Whitney): the nearer the limit, the slower the last ones. Counted from the last spoonful until no grain over 30 µm is left.",
            MODEL,
            ("grains", ", ".join(f"{g.grain_um:g} µm" for g in grains)),
            ("mixer", tools.mixer.name),
            ("goes in", moment),
            low=None if done.smooth_min is None else done.smooth_min * 0.7,
            high=None if done.smooth_min is None else done.smooth_min * 1.4,
        ),
        "undissolved": figure(
            done.undissolved_ratio * batch.base_g,
            "g",
            "modelled",
            "What is beyond the limit stays as grains, however long it is whisked.",
            MODEL,
            ("white", f"{batch.base_g:.0f} g"),
        ),
    }
    remarks: list[Remark] = []
    if done.verdict != "dissolves":
        worse = done.verdict == "cannot"
        says = (
            f"{done.undissolved_ratio * batch.base_g:.0f} g of sugar cannot dissolve at {temp:.0f} °C: it will weep or bead."
            if worse
            else "On the edge: the last grains take several times as long, and a cool bowl leaves some."
        )
        remarks.append(Remark(severity="warning", says=says, do=_ways_out(recipe, batch, done, temp, water)))
    foaming = whisking.stages[-1].high_min - whisking.rain_from_min[1] - whisking.rain_min[1]
    if done.smooth_min is not None and done.smooth_min > max(foaming, 1) + whisking.window_min[1]:
        remarks.append(
            Remark(
                severity="warning",
                says=f"Smooth only {done.smooth_min:.0f} min after the last spoonful: the foam stands before the grit is gone.",
                do=("use a finer sugar", "start the sugar earlier", "rub a little between finger and thumb before piping"),
            )
        )
    temps = [4, 10, 15, 20, 25, 30, 40, 50, 60]
    return SugarStation(
        key="sugar",
        title="Sugar",
        vital="ratio",
        figures=figures,
        remarks=tuple(remarks),
        dissolving=done,
        temp_c=temp,
        curve=tuple((float(t), round(float(sugar.max_dissolved_ratio(t, water)), 3)) for t in temps),
    )


def _mix_temp_c(recipe: Recipe, kitchen: Kitchen, batch: Batch) -> float:
    """Temperature of white, sugar and any hot water together: heat balance, then half-way to the room while it whisks."""
    if recipe.heat is not None:
        return recipe.heat.target_c if recipe.school == "swiss" else 33.0  # the syrup's foam is shaped hand-warm
    hot = sum(a.ratio or 0.0 for a in recipe.additions if a.ingredient == "water")
    heat = 3.75 + 1.25 * batch.sugar_ratio + 4.19 * hot
    mixed = (3.75 * recipe.egg.temp_c + 1.25 * batch.sugar_ratio * kitchen.room_c + 4.19 * hot * 90) / heat
    return min(max((mixed + kitchen.room_c) / 2 if hot == 0 else mixed * 0.8 + kitchen.room_c * 0.2, 0.0), 90.0)


@lru_cache(maxsize=256)
def _dissolve_cached(grains: tuple[sugar.Grains, ...], temp: float, water: float, rain: float, pace: float) -> sugar.Dissolving:
    return sugar.dissolve(grains, temp, water, rain, pace)


def _ways_out(recipe: Recipe, batch: Batch, done: sugar.Dissolving, temp: float, water: float) -> tuple[str, ...]:
    """What would bring the sugar comfortably under its limit, each worked out on its own."""
    easy = sugar.EDGE
    ways = [f"less sugar: {easy * done.limit:.2f} × dissolves, {easy * done.limit * batch.base_g:.0f} g in all"]
    per_water = float(sugar.solubility_pct(temp) / (100 - sugar.solubility_pct(temp)))
    more = done.ratio / (easy * per_water) - sugar.WATER_IN_WHITE - water
    ways.append(f"{more * batch.base_g:.0f} g more water (longer to dry)")
    warm = next((t for t in range(int(temp) + 1, 61) if easy * float(sugar.max_dissolved_ratio(t, water)) >= done.ratio), None)
    if warm is not None:
        ways.append(f"warm whites and sugar to {warm} °C")
    if not any(s.moment == "folded last" for s in recipe.sugars):
        ways.append(
            f"fold {max(0.0, done.ratio - easy * done.limit) * batch.base_g:.0f} g of it in last as icing sugar: not dissolved, but too fine to feel"
        )
    return tuple(ways)
