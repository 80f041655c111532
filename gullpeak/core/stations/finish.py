"""Finishing."""

from typing import Literal

from gullpeak.core import dryness
from gullpeak.core.kitchen import Kitchen
from gullpeak.core.recipe import Recipe
from gullpeak.core.stations.base import CRAFT, MODEL, Station, figure
from gullpeak.core.value import Remark

Label = Literal["raw", "lightly heated", "baked, not validated", "heat-treated"]


MILK_EGG_CAUTION = "Raw or lightly dried egg: for young, old, pregnant or immune-compromised guests use pasteurised white. Follow your local food code."


class Finish(Station):
    """Cooling, keeping, serving."""

    keeping: tuple[dryness.Keeping, ...]
    label: Label
    because: str
    cautions: tuple[str, ...]


def work_out(recipe: Recipe, kitchen: Kitchen, d: dryness.Drying) -> Finish:
    """Return the station: keeping, label and cautions."""
    i = min(range(len(d.times_min)), key=lambda k: abs(d.times_min[k] - d.heat_end_min))
    driest = min(min(p.fraction[i]) for p in d.profiles)
    start = d.mean_pct[i] / 100 if recipe.texture == "crisp" and d.reached else driest
    keeps = dryness.keeping(start, kitchen.room_rh_pct)
    cooling = d.end_min - d.heat_end_min
    figures = {
        "snap": figure(
            keeps[0].hours,
            "h",
            "modelled",
            "Uptake towards the balance of crumb and room air on an open tray, from the end of the heat; snap goes at 4.5 % water."
            if keeps[0].hours is not None
            else "At or under 33–35 % humidity the shell does not take up enough water to lose its snap.",
            MODEL,
            ("room", f"{kitchen.room_rh_pct:g} % RH"),
            ("crumb", f"{100 * start:.1f} % water"),
            low=None if keeps[0].hours is None else 0.6 * keeps[0].hours,
            high=None if keeps[0].hours is None else 1.6 * keeps[0].hours,
            text="keeps" if keeps[0].hours is None else None,
        ),
        "cooling": figure(cooling, "min", "modelled", "Left in the oven, switched off.", CRAFT),
    }
    remarks: list[Remark] = []
    if kitchen.room_rh_pct > 65:
        remarks.append(
            Remark(
                severity="warning",
                says=f"The room is humid ({kitchen.room_rh_pct:g} % RH): shells go sticky in hours.",
                do=("into a tight tin while barely warm", "add desiccant"),
            )
        )
    if recipe.texture != "crisp":
        remarks.append(
            Remark(
                severity="note",
                says="A soft core gives its water to the shell from within: fill and serve the same day.",
                do=("keep uncovered in a dry room until then",),
            )
        )
    cautions = [MILK_EGG_CAUTION, "Contains egg." + _allergens(recipe)]
    if any(a.ingredient == "water" for a in recipe.additions):
        cautions.append("Hot water and a running whisk: pour down the wall, not on the wires.")
    return Finish(
        key="finish",
        title="Finish",
        vital="snap",
        figures=figures,
        remarks=tuple(remarks),
        keeping=keeps,
        label="baked, not validated",
        because="foam of raw white that is dried: hot enough to set, but no validated treatment of egg",
        cautions=tuple(cautions),
    )


def _allergens(recipe: Recipe) -> str:
    nuts = any(a.ingredient == "ground-nuts" for a in recipe.additions)
    return " Contains nuts." if nuts else ""
