"""Egg over a bath or a low flame: Swiss whites, sabayon, curd."""

from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.physics import bath, sugar
from gullpeak.core.recipe.recipe import Heat, Recipe
from gullpeak.core.sheet.batch import Batch, Equipment
from gullpeak.core.sheet.stations.base import CRAFT, MODEL, figure
from gullpeak.core.sheet.stations.heated import BathHeat, HeatStation, mixture, reach
from gullpeak.core.value import Figure, Remark

BUTTER_FAT = 0.82
SHIELDS = 0.6
"""Sugar to egg from which a sour curd has been seen to stand the boil (craft)."""
RIBBON_FROM_C = 60.0
"""From here a whisked sabayon holds a ribbon by its foam alone, before its egg thickens (craft)."""
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
        item, grams_in = INGREDIENTS[a.ingredient], (a.ratio or 0.0) * base_g
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
    acid = any(
        INGREDIENTS[a.ingredient].role == "acid" or a.ingredient == "fruit-juice" for a in recipe.additions if a.ratio != 0
    )
    return recipe.school == "curd" and acid and mix.sugar_g >= SHIELDS * mix.egg_g


def work_out(recipe: Recipe, heat: Heat, kitchen: Kitchen, tools: Equipment, batch: Batch) -> HeatStation:
    """Return the station of what is warmed in a bowl or pan."""
    mix = heated(recipe, batch.base_g)
    window = bath.coagulation(mix, next((s.by_c for s in kitchen.sets if s.school == recipe.school), 0.0))
    vessel_j_k = tools.mixer.bowl_j_k() if heat.source == "bath" else tools.pan.capacity_j_k()
    warming = bath.warm(
        mix, heat.target_c, heat.source, vessel_j_k, recipe.egg.temp_c, sugar.water_boils_c(kitchen.altitude_m), kitchen.bath_pace
    )
    smooth = None
    if recipe.school == "swiss":
        done = sugar.dissolve(
            tuple(
                sugar.Grains(grain_um=sugar.GRAIN_UM.get(s.kind, 0.0), ratio=s.ratio or 0.0)
                for s in recipe.sugars
                if s.moment == "bath" and s.ratio
            )
            or (sugar.Grains(grain_um=25, ratio=0.05),),
            min(heat.target_c, 60.0),
            batch.added_water_ratio,
            0.1,
            0.5,
        )
        smooth = done.smooth_min
    could, treatment = reach(heat.target_c, "in the bowl")
    where = (
        ("bowl", f"{vessel_j_k:.0f} J/K"),
        ("in it", f"{mix.total_g:.0f} g"),
        ("bath" if heat.source == "bath" else "flame", f"towards {warming.towards_c:.0f} °C"),
    )
    figures: dict[str, Figure] = {
        "target": figure(
            heat.target_c,
            "°C",
            "craft rule",
            "Yours to choose: enough to dissolve, to thicken, or to treat the egg.",
            CRAFT,
            ("loses it at", f"{window.sets_c:.0f} °C"),
        ),
        "time": figure(
            warming.at_s / 60,
            "min",
            "modelled",
            "First-order towards the bath: heat it gives per degree ÷ heat the mixture and bowl take."
            if heat.source == "bath"
            else "A low flame under a stirred pan.",
            MODEL,
            *where,
            low=warming.low_s / 60,
            high=warming.high_s / 60,
        ),
        "thickens": figure(
            window.thickens_c,
            "°C",
            "craft rule",
            f"Egg starts to thicken. {window.because}.",
            CRAFT,
            low=min(window.thickens_c - 2, RIBBON_FROM_C) if recipe.school == "sabayon" else window.thickens_c - 2,
            high=window.thickens_c + 2,
        ),
        "sets": figure(
            window.sets_c,
            "°C",
            "craft rule",
            f"Here it scrambles, or the white clots. {window.because}.",
            CRAFT,
            low=window.sets_c - 2,
            high=max(window.sets_c + 2, sugar.water_boils_c(kitchen.altitude_m)) if _shielded(recipe, mix) else window.sets_c + 2,
        ),
        "window": figure(
            60 * max(0.0, window.sets_c - max(heat.target_c, window.thickens_c)) / max(warming.rise_k_min, 0.1),
            "s",
            "modelled",
            "From the target to where it is lost, at the pace it has there.",
            MODEL,
            ("pace", f"{warming.rise_k_min:.1f} °C a minute"),
        ),
    }
    if smooth is not None:
        figures["smooth"] = figure(
            smooth,
            "min",
            "modelled",
            "Warmed sugar, stirred, until no grain is felt.",
            MODEL,
            ("at", f"{min(heat.target_c, 60):.0f} °C"),
        )
    return HeatStation(
        key="heat",
        title="Heat",
        vital="target",
        figures=figures,
        remarks=tuple(_bath_remarks(recipe, heat, window, _shielded(recipe, mix), (could, treatment))),
        bath=BathHeat(
            mix=mix,
            source=heat.source,
            warming=warming,
            window=window,
            smooth_min=smooth,
            capacity_j_k=mix.capacity_j_k() + 0.6 * vessel_j_k,
        ),
        altitude_m=kitchen.altitude_m,
        mixture=mixture(recipe, batch),
        expected_c=heat.target_c,
        could_reach=could,
        treatment=treatment,
    )


def _bath_remarks(recipe: Recipe, heat: Heat, window: bath.Coagulation, shielded: bool, egg: tuple[bool, str]) -> list[Remark]:
    could, treatment = egg
    remarks = [
        Remark(
            severity="note",
            says=f"Egg {treatment}.",
            do=() if could else ("aim for 72 °C, stirred, and confirm it", "pasteurised egg for guests it can harm"),
        )
    ]
    past, close = heat.target_c >= window.sets_c, heat.target_c > window.sets_c - CLOSE_K
    if past and shielded:
        remarks.append(
            Remark(
                severity="warning",
                says=f"{heat.target_c:g} °C is past where egg like this sets ({window.sets_c:.0f} °C). Some cooks take it to the boil: acid and sugar protect it.",
                do=("stir without a pause, and strain it", f"{window.sets_c - 3:.0f} °C thickens it as well, with less risk"),
            )
        )
    elif past or close:
        remarks.append(
            Remark(
                severity="danger" if past else "warning",
                says=f"{heat.target_c:g} °C is {'past' if past else 'close under'} where this sets ({window.sets_c:.1f} °C): "
                + ("it scrambles." if past else "a hot spot scrambles it."),
                do=(f"aim for {window.sets_c - 3:.0f} °C", "more sugar or liquid raises it"),
            )
        )
    if recipe.school != "swiss" and heat.target_c < window.thickens_c:
        ribbon = recipe.school == "sabayon" and heat.target_c >= RIBBON_FROM_C
        remarks.append(
            Remark(
                severity="note" if ribbon else "warning",
                says=f"At {heat.target_c:g} °C its foam holds a ribbon, and thins as it stands: the egg thickens from {window.thickens_c:.0f} °C."
                if ribbon
                else f"It thickens only from {window.thickens_c:.0f} °C: taken off at {heat.target_c:g} °C it stays thin.",
                do=(f"aim for {window.thickens_c + 2:.0f} °C",),
            )
        )
    if recipe.school == "swiss" and heat.target_c < 45:
        remarks.append(
            Remark(
                severity="warning",
                says="Under 45 °C sugar at this ratio is slow to dissolve.",
                do=("aim for 50 °C, or stir until no grain is felt",),
            )
        )
    if recipe.school == "sabayon":
        remarks.append(
            Remark(
                severity="note",
                says="It thins when the wine goes in: that is the wine, not a fault. It comes back with the heat.",
                do=("pour the wine in a thread", "the ribbon lies on top for three seconds when it is there"),
            )
        )
    if any(a.ingredient == "butter" and a.moment == "off heat" for a in recipe.additions):
        remarks.append(
            Remark(
                severity="note",
                says=f"Butter goes in between {bath.BUTTER_IN_C[0]:g} and {bath.BUTTER_IN_C[1]:g} °C: colder lumps, hotter oils out.",
                do=("piece by piece, stirred or blended",),
            )
        )
    return remarks
