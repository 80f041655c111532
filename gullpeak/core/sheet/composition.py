"""What a recipe is made of, per g of what it rests on: sugar, water, starch and fat in the bowl, and what the pan keeps."""

from dataclasses import dataclass

from gullpeak.core.physics import syrup
from gullpeak.core.recipe.recipe import GoesIn, Heat, Recipe
from gullpeak.core.recipe.ways import Moment
from gullpeak.core.value import UnknownAmountError, say

LATE: tuple[Moment, ...] = ("folded last", "stiff")
"""What goes in then meets a foam that stands: only the fat whisked in before counts against its volume."""


@dataclass(frozen=True)
class Composition:
    """g per g of what the recipe rests on. sugar: dry, in the bowl; folded: of it, last; water: added and still there; fat: whisked in."""

    sugar: float
    folded: float
    water: float
    starch: float
    fat: float
    total: float
    pan: syrup.Contents | None = None
    boiled_off: float = 0.0
    wall: float = 0.0

    @property
    def whisked(self) -> float:
        """The sugar that is whisked in."""
        return self.sugar - self.folded


def solid(part: GoesIn) -> float:
    """Return the dry sugar in a part, g per g egg: honey and syrups bring their own water."""
    return (part.ratio or 0.0) * (1 - part.item.water)


def in_pan(recipe: Recipe) -> syrup.Contents | None:
    """Return what goes into the syrup pan per g of egg, or None."""
    parts = [s for s in recipe.sugars if s.moment == "syrup" and s.ratio]
    if not parts:
        return None
    water = sum(a.ratio or 0.0 for a in recipe.additions if a.moment == "syrup" and a.key == "water")
    other = dict.fromkeys(("honey", "invert-sugar", "golden-syrup", "agave-syrup", "treacle"), "invert") | {
        "glucose-syrup": "glucose"
    }
    grams = {
        name: sum(solid(s) for s in parts if other.get(s.key, "sucrose") == name) for name in ("sucrose", "invert", "glucose")
    }
    own = sum((s.ratio or 0.0) * s.item.water for s in parts)
    return syrup.Contents(
        sucrose_g=grams["sucrose"], invert_g=grams["invert"], glucose_syrup_g=grams["glucose"], water_g=max(water + own, 1e-6)
    )


def main_sugar(recipe: Recipe) -> GoesIn:
    """Return the sugar whose moment decides how the foam rises: the most of what is whisked in."""
    whisked = (s for s in recipe.sugars if s.moment not in ("folded last", "syrup"))
    return max(whisked, key=lambda s: s.ratio or 0, default=recipe.sugars[0])


def check_known(recipe: Recipe) -> None:
    """Raise UnknownAmountError where what it rests on is not known, or a foam's or an egg cream's sugar is not, or is none."""
    if recipe.base_g is None:
        raise UnknownAmountError(f"lines.{recipe.base_at}.mass_g", say("batch.base-known", base_name=recipe.base_name))
    for part in recipe.sugars:
        if part.ratio is None:
            raise UnknownAmountError(f"lines.{part.at}.mass_g", say("batch.sugar-known-nothing-can", part_kind=part.key))
    sugar_ratio = sum(solid(s) for s in recipe.sugars)
    if recipe.way.plain:
        return
    if sugar_ratio <= 0:
        raise UnknownAmountError(f"lines.{recipe.sugars[0].at}.mass_g", say("batch.sugar-without-any-foam"))


def of(recipe: Recipe) -> Composition:
    """Return what a recipe is made of; a boiled syrup without the water that boils off, and without what stays on the wall."""
    whole = recipe.mixture()
    raw = Composition(
        sugar=sum(solid(s) for s in recipe.sugars),
        folded=sum(solid(s) for s in recipe.sugars if s.moment == "folded last"),
        water=whole["water"],
        starch=whole["starch"],
        fat=recipe.mixture(but=LATE)["fat"],
        total=1 + whole.mass,
    )
    pan = in_pan(recipe)
    return raw if pan is None or recipe.heat is None else _boiled(raw, pan, recipe.heat)


def _boiled(raw: Composition, pan: syrup.Contents, heat: Heat) -> Composition:
    left, on_wall = syrup.water_left_g(pan, heat.target_c), heat.wall_pct / 100
    boiled_off = pan.water_g - left
    wall = (pan.solids_g + left) * on_wall
    return Composition(
        sugar=raw.sugar - pan.solids_g * on_wall,
        folded=raw.folded,
        water=raw.water - (boiled_off + left * on_wall),
        starch=raw.starch,
        fat=raw.fat,
        total=raw.total - (boiled_off + wall),
        pan=pan,
        boiled_off=boiled_off,
        wall=wall,
    )
