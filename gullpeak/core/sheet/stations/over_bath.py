"""Egg over a bath or a low flame: Swiss whites, sabayon, curd."""

from math import inf

from gullpeak.core.physics import bath, sugar
from gullpeak.core.recipe.recipe import Heat, Recipe
from gullpeak.core.sheet.batch import Batch, Equipment, Making
from gullpeak.core.sheet.stations.base import CRAFT, MODEL, figure
from gullpeak.core.sheet.stations.heated import BathHeat, HeatStation, mixture, reach
from gullpeak.core.value import Figure, Remark, Said, known, say

BUTTER_FAT = 0.82
SHIELDS = 0.6
"""Sugar to egg from which a sour curd has been seen to stand the boil (craft)."""
CLOSE_K = 2.0


def heated(recipe: Recipe, base_g: float) -> bath.Heated:
    """Return what is in the bowl while it is heated, g: all but what goes in off the heat or later."""
    late = ("off heat", "cooled", "folded last", "soft", "stiff")
    grams = {"yolk": 0.0, "whole egg": 0.0, "white": 0.0, "sugar": 0.0, "liquid": 0.0, "butter": 0.0}
    grams[recipe.base] += base_g
    for part in recipe.sugars:
        if part.moment not in late:
            grams["sugar"] += (part.ratio or 0.0) * base_g
    for a in recipe.additions:
        item, grams_in = a.item, (a.ratio or 0.0) * base_g
        if a.moment in late:
            continue
        whole = {
            "yolk": "yolk",
            "whole egg": "whole egg",
            "fat": "butter",
            "wine": "liquid",
            "liquid": "liquid",
            "acid": "liquid",
        }
        if item.role in whole:
            grams[whole[item.role]] += grams_in
        else:  # spirit, cream, fruit: what thins in it, what fattens, what sweetens
            grams["liquid"] += (item.water + item.alcohol) * grams_in
            grams["butter"] += item.fat / BUTTER_FAT * grams_in
            grams["sugar"] += item.sugar * grams_in
    return bath.Heated(
        yolk_g=grams["yolk"],
        whole_g=grams["whole egg"],
        white_g=grams["white"],
        sugar_g=grams["sugar"],
        liquid_g=grams["liquid"],
        butter_g=grams["butter"],
    )


def _shielded(recipe: Recipe, mix: bath.Heated) -> bool:
    """Acid and sugar enough that some cooks take it to the boil."""
    acid = any(a.item.role == "acid" or a.key == "fruit-juice" for a in recipe.additions if a.ratio != 0)
    return recipe.way.makes == "curd" and acid and mix.sugar_g >= SHIELDS * mix.egg_g


def work_out(making: Making, heat: Heat) -> HeatStation:
    """Return the station of what is warmed in a bowl or pan."""
    recipe, kitchen, tools, batch = making
    mix = heated(recipe, batch.base_g)
    window = bath.coagulation(mix, next((s.by_c for s in kitchen.sets if s.school == recipe.school), 0.0))
    vessel_j_k = _vessel_j_k(heat, tools)
    warming = bath.warm(
        mix, heat.target_c, heat.source, vessel_j_k, recipe.egg.temp_c, sugar.water_boils_c(kitchen.altitude_m), kitchen.bath_pace
    )
    smooth = _smooth_min(recipe, heat, batch)
    could, treatment = reach(heat.target_c, say("bath.bowl"))
    over = BathHeat(
        mix=mix,
        source=heat.source,
        warming=warming,
        window=window,
        smooth_min=smooth,
        capacity_j_k=bath.capacity_j_k(mix, vessel_j_k),
    )
    return HeatStation(
        key="heat",
        title=say("station.heat"),
        vital="target",
        figures=_figures(making, heat, over, smooth),
        remarks=tuple(_bath_remarks(recipe, heat, window, _shielded(recipe, mix), (could, treatment))),
        bath=over,
        altitude_m=kitchen.altitude_m,
        mixture=mixture(recipe, batch),
        expected_c=heat.target_c,
        could_reach=could,
        treatment=treatment,
    )


def _smooth_min(recipe: Recipe, heat: Heat, batch: Batch) -> float | None:
    """From when no grain is felt in whites that are warmed with their sugar; None for an egg cream, where nobody feels for it."""
    if recipe.way.foam is None:
        return None
    done = sugar.dissolve(
        tuple(
            sugar.Grains(grain_um=sugar.GRAIN_UM.get(s.key, 0.0), ratio=s.ratio or 0.0)
            for s in recipe.sugars
            if s.moment == "bath" and s.ratio
        )
        or (sugar.Grains(grain_um=25, ratio=0.05),),
        min(heat.target_c, 60.0),
        batch.added_water_ratio,
        0.1,
        0.5,
    )
    return done.smooth_min


def _figures(making: Making, heat: Heat, over: BathHeat, smooth: float | None) -> dict[str, Figure]:
    recipe, kitchen, tools, _ = making
    mix, window, warming = over.mix, over.window, over.warming
    vessel_j_k = _vessel_j_k(heat, tools)
    where = (
        ("bowl", say("bath.vessel", vessel_j_k=vessel_j_k)),
        ("in-it", say("amount.g-0f", x=mix.total_g)),
        (OVER[heat.source], say("bath.towards", towards_c=warming.towards_c)),
    )
    figures: dict[str, Figure] = {
        "target": figure(
            heat.target_c,
            "°C",
            "craft rule",
            say("bath.target.rule"),
            CRAFT,
            ("loses-it-at", say("amount.c-0f", x=window.sets_c)),
        ),
        "time": figure(
            warming.at_s / 60,
            "min",
            "modelled",
            say(f"bath.time.{OVER[heat.source]}"),
            MODEL,
            *where,
            low=warming.low_s / 60,
            high=warming.high_s / 60,
        ),
        "thickens": figure(
            window.thickens_c,
            "°C",
            "craft rule",
            say("bath.thickens.rule", because=window.because),
            CRAFT,
            low=min(window.thickens_c - 2, recipe.way.ribbon_c or window.thickens_c),
            high=window.thickens_c + 2,
        ),
        "sets": figure(
            window.sets_c,
            "°C",
            "craft rule",
            say("bath.sets.rule", because=window.because),
            CRAFT,
            low=window.sets_c - 2,
            high=max(window.sets_c + 2, sugar.water_boils_c(kitchen.altitude_m)) if _shielded(recipe, mix) else window.sets_c + 2,
        ),
        "window": figure(
            60 * max(0.0, window.sets_c - max(heat.target_c, window.thickens_c)) / max(warming.rise_k_min, 0.1),
            "s",
            "modelled",
            say("bath.window.rule"),
            MODEL,
            ("pace", say("bath.window.minute", rise_k_c=warming.rise_k_min)),
        ),
    }
    if smooth is not None:
        figures["smooth"] = figure(
            smooth,
            "min",
            "modelled",
            say("bath.smooth.rule"),
            MODEL,
            ("at", say("amount.c-0f", x=min(heat.target_c, 60))),
        )
    return figures


OVER: dict[bath.Source, str] = {"bath": "bath", "direct": "flame"}
"""What it stands over, by the words' keys."""


def _vessel_j_k(heat: Heat, tools: Equipment) -> float:
    """What warms with it: the bowl over a bath, the pan on a flame."""
    return tools.mixer.bowl_j_k() if heat.source == "bath" else tools.pan.capacity_j_k()


def _bath_remarks(recipe: Recipe, heat: Heat, window: bath.Coagulation, shielded: bool, egg: tuple[bool, Said]) -> list[Remark]:
    could, treatment = egg
    remarks = [
        Remark(
            severity="note",
            says=say("bath.egg", treatment=treatment),
            do=() if could else (say("bath.aim-stirred-confirm"), say("bath.pasteurised-egg-guests-can")),
        )
    ]
    past, close = heat.target_c >= window.sets_c, heat.target_c > window.sets_c - CLOSE_K
    if past and shielded:
        remarks.append(
            Remark(
                severity="warning",
                says=say("bath.past-egg-like-sets", target_c=heat.target_c, sets_c=window.sets_c),
                do=(say("bath.stir-without-pause-strain"), say("bath.thickens-well-less-risk", sets_c=window.sets_c - 3)),
            )
        )
    elif past or close:
        remarks.append(
            Remark(
                severity="danger" if past else "warning",
                says=say(
                    "bath.past-sets-scrambles" if past else "bath.close-under-sets-hot",
                    target_c=heat.target_c,
                    sets_c=window.sets_c,
                ),
                do=(say("bath.aim-below", sets_c=window.sets_c - 3), say("bath.sugar-liquid-raises")),
            )
        )
    if recipe.way.egg_cream and heat.target_c < window.thickens_c:
        ribbon = heat.target_c >= known(recipe.way.ribbon_c, inf)
        remarks.append(
            Remark(
                severity="note" if ribbon else "warning",
                says=say(
                    "bath.foam-holds-ribbon-thins" if ribbon else "bath.thickens-only-taken-off",
                    target_c=heat.target_c,
                    thickens_c=window.thickens_c,
                ),
                do=(say("bath.aim-above", thickens_c=window.thickens_c + 2),),
            )
        )
    if recipe.way.foam is not None and heat.target_c < 45:
        remarks.append(
            Remark(
                severity="warning",
                says=say("bath.under-sugar-ratio-slow"),
                do=(say("bath.aim-stir-until-grain"),),
            )
        )
    if recipe.way.ribbon_c is not None:
        remarks.append(
            Remark(
                severity="note",
                says=say("bath.thins-when-wine-goes"),
                do=(say("bath.pour-wine-thread"), say("bath.ribbon-lies-top-three")),
            )
        )
    if any(a.key == "butter" and a.moment == "off heat" for a in recipe.additions):
        remarks.append(
            Remark(
                severity="note",
                says=say(
                    "bath.butter-goes-between-colder", butter_in_c_low=bath.BUTTER_IN_C[0], butter_in_c_high_c=bath.BUTTER_IN_C[1]
                ),
                do=(say("bath.piece-piece-stirred-blended"),),
            )
        )
    return remarks
