"""What the heat station is made of, whatever is heated: its models, the mixture the table of treatment asks for, how hot it gets."""

from math import floor

from gullpeak.core.physics import bath, lethality, sugar, syrup, treatment
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet.batch import Batch
from gullpeak.core.sheet.stations.base import Station
from gullpeak.core.value import Said, Value, say


class Start(Value):
    """One school of starting the whites and where it leads."""

    key: str
    says: Said
    meeting: syrup.Meeting
    verdict: Said


class SyrupHeat(Value):
    """The pan: its climb, the meeting by every school of starting, and the pour."""

    contents: syrup.Contents
    cook: syrup.Cook
    starts: tuple[Start, ...]
    chosen: str
    poured: syrup.Poured
    overshoots: tuple[syrup.Overshoot, ...]
    pan_g: float
    on_scale_g: float
    target_scale_g: float
    power_w: float
    pan_j_k: float
    altitude_m: float
    room_c: float


class BathHeat(Value):
    """The bowl over its bath: how it warms, and where it thickens and is lost."""

    mix: bath.Heated
    source: bath.Source
    warming: bath.Warming
    window: bath.Coagulation
    smooth_min: float | None
    capacity_j_k: float


class HeatStation(Station):
    """The heat. Either `syrup` or `bath` is there. expected_c: hottest the egg gets, by the model."""

    syrup: SyrupHeat | None = None
    bath: BathHeat | None = None
    altitude_m: float = 0.0
    mixture: lethality.Mixture
    expected_c: float
    could_reach: bool
    treatment: Said


def mixture(recipe: Recipe, batch: Batch) -> lethality.Mixture:
    """Return what is heated, as the table of heat treatment asks."""
    total = batch.base_g * batch.total_ratio
    sweet = batch.sugar_ratio * batch.base_g
    acid = any(a.item.role in ("acid", "wine") or a.key == "fruit-juice" for a in recipe.additions)
    water = batch.water_fraction * total
    return lethality.Mixture(
        reference=lethality.reference_for(recipe.base, sweet, total),
        sugar_fraction=min(sweet / total, 1.0),
        other_fraction=1 - 1 / batch.total_ratio,
        salt_fraction=sum(line.mass_g or 0.0 for line in batch.lines if line.item.role == "salt") / total,
        acid=acid,
        unknown=tuple(x.name.lower() for x in batch.lines if x.mass_g is None or not x.item.known),
        water_activity=float(sugar.water_activity(100 * sweet / (sweet + water))),
    )


def reach(expected_c: float, where: Said) -> tuple[bool, Said]:
    """Return whether the egg could be treated, and how that is said."""
    if expected_c >= treatment.SAFE_C:
        return True, say("heated.could-reach-confirm-probe", expected_c=expected_c, where=where)
    return False, say("heated.treated-most-asked", most_c=at_most(expected_c), where=where)


def at_most(expected_c: float) -> float:
    """Return a temperature that is too low without rounding it up to enough.

    >>> at_most(70.7), at_most(66.6)
    (70.7, 67)
    """
    return floor(10 * expected_c) / 10 if 70 < expected_c < treatment.SAFE_C else round(expected_c)
