"""The size of a batch: one forward reckoning from white to pieces, run backwards from whatever is fixed."""

from math import ceil, floor
from typing import Literal

from pydantic import Field

from gullpeak.core.kitchen.egg import EggCount, eggs_for, per_egg_g
from gullpeak.core.kitchen.ingredients import INGREDIENTS, Role
from gullpeak.core.kitchen.kitchen import EggSize, Hob, Kitchen, Mixer, Oven, Pan, Tray
from gullpeak.core.physics import syrup
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.recipe import MOST_RATIO, Recipe, Scale, SugarPart
from gullpeak.core.recipe.ways import Moment
from gullpeak.core.sheet import foam
from gullpeak.core.value import OutOfRangeError, UnknownAmountError, Value, say

MOST_BASE_G = 60000.0
SMALL = 0.85
"""A single piece of so much of its mass is still that piece."""


class Weighed(Value):
    """The egg on the scale, which replaces the counted one.

    keep: `ratio` works every other amount out anew; `sugar` leaves what is weighed already and lets the ratios follow.
    """

    base_g: float = Field(gt=0, le=MOST_BASE_G)
    keep: Literal["ratio", "sugar"] = "ratio"


class Line(Value):
    """One thing to weigh. mass_g None: not known."""

    key: str
    name: str
    role: Role
    moment: Moment
    ratio: float | None
    mass_g: float | None
    written: str = ""

    @property
    def asks_for(self) -> str:
        """The reading by which its amount is recorded at the bench, where the recipe does not know it."""
        return f"amount-{self.key}-{self.moment.replace(' ', '-')}"


class Equipment(Value):
    """What a recipe uses of this kitchen."""

    oven: Oven
    mixer: Mixer
    tray: Tray
    hob: Hob
    pan: Pan


class Batch(Value):
    """A batch worked out: what is weighed, what it fills, what is left over."""

    base_g: float
    lines: tuple[Line, ...]
    base: str
    """What the ratios rest on, as a cook says it"""
    sugar_ratio: float
    whisked_ratio: float
    folded_ratio: float
    added_water_ratio: float
    total_ratio: float
    starch_of_sugar: float
    fat_share: float
    water_fraction: float
    pan: syrup.Contents | None = None
    """What goes into the pan to be boiled"""
    boiled_off_g: float = 0.0
    wall_g: float = 0.0
    """Syrup left on the wall"""
    whisking: foam.Whisking | None
    density: float
    density_band: tuple[float, float]
    foam_g: float
    volume_ml: tuple[float, float]
    pieces: int
    piece_g: float
    left_foam_g: float
    egg_size: EggSize
    eggs: EggCount | None
    layout: shapes.TrayLayout | None
    trays: tuple[int, ...]
    loads: int


def equipment(recipe: Recipe, kitchen: Kitchen) -> Equipment:
    """Return what the recipe names of the kitchen, or the kitchen's first where it names none or one that has gone."""
    return Equipment(
        oven=next((o for o in kitchen.ovens if o.key == recipe.oven), kitchen.ovens[0]),
        mixer=next((m for m in kitchen.mixers if m.key == recipe.mixer), kitchen.mixers[0]),
        tray=next((t for t in kitchen.trays if t.key == recipe.tray), kitchen.trays[0]),
        hob=next((h for h in kitchen.hobs if recipe.heat and h.key == recipe.heat.hob), kitchen.hobs[0]),
        pan=next((p for p in kitchen.pans if recipe.heat and p.key == recipe.heat.pan), kitchen.pans[0]),
    )


def in_force(recipe: Recipe, kitchen: Kitchen, weighed: Weighed | None) -> Recipe:
    """Return the recipe as it stands once the egg is weighed: scaled by them, its ratios kept or followed."""
    if weighed is None:
        return recipe
    share = 1.0 if weighed.keep == "ratio" else size(recipe, kitchen).base_g / weighed.base_g
    return recipe.model_copy(
        update={
            "scale": Scale(by="base", amount=weighed.base_g),
            "sugars": tuple(s.model_copy(update={"ratio": None if s.ratio is None else s.ratio * share}) for s in recipe.sugars),
            "additions": tuple(
                a.model_copy(update={"ratio": None if a.ratio is None else a.ratio * share}) for a in recipe.additions
            ),
        }
    )


WHIPPED_CREAM = (0.45, 0.55)
"""g/ml."""


def solid(part: SugarPart) -> float:
    """Return the dry sugar in a part, g per g egg: honey and syrups bring their own water."""
    return (part.ratio or 0.0) * (1 - INGREDIENTS[part.kind].water)


def in_pan(recipe: Recipe) -> syrup.Contents | None:
    """Return what goes into the syrup pan per g of egg, or None."""
    parts = [s for s in recipe.sugars if s.moment == "syrup" and s.ratio]
    if not parts:
        return None
    water = sum(a.ratio or 0.0 for a in recipe.additions if a.moment == "syrup" and a.ingredient == "water")
    other = {"honey": "invert", "invert-sugar": "invert", "glucose-syrup": "glucose"}
    grams = {
        name: sum(solid(s) for s in parts if other.get(s.kind, "sucrose") == name) for name in ("sucrose", "invert", "glucose")
    }
    own = sum((s.ratio or 0.0) * INGREDIENTS[s.kind].water for s in parts)
    return syrup.Contents(
        sucrose_g=grams["sucrose"], invert_g=grams["invert"], glucose_syrup_g=grams["glucose"], water_g=max(water + own, 1e-6)
    )


def with_amount(recipe: Recipe, line: Line, ratio: float) -> Recipe | None:
    """Return the recipe with an amount, g per g of its base, where a line of it had none; None where it has one by now.

    Raises OutOfRangeError where it is more than a recipe can hold.
    """
    found = next(
        (i for i, a in enumerate(recipe.additions) if (a.ingredient, a.moment, a.ratio) == (line.key, line.moment, None)), None
    )
    if found is None:
        return None
    if not 0 <= ratio <= MOST_RATIO:
        raise OutOfRangeError(
            say("batch.the", line_name=line.name), say("batch.times", ratio=ratio), say("batch.most", most=MOST_RATIO)
        )
    known = recipe.additions[found].model_copy(update={"ratio": ratio})
    return recipe.model_copy(update={"additions": (*recipe.additions[:found], known, *recipe.additions[found + 1 :])})


def _known(recipe: Recipe) -> None:
    for i, part in enumerate(recipe.sugars):
        if part.ratio is None:
            raise UnknownAmountError(f"sugars.{i}.ratio", say("batch.sugar-known-nothing-can", part_kind=part.kind))
    sugar_ratio = sum(solid(s) for s in recipe.sugars)
    if recipe.way.plain:
        return
    if sugar_ratio <= 0:
        raise UnknownAmountError("sugars.0.ratio", say("batch.sugar-without-any-foam"))
    if sugar_ratio > 4:
        raise UnknownAmountError("sugars.0.ratio", say("batch.sugar-comes-times-egg", sugar_ratio=sugar_ratio))


def main_sugar(recipe: Recipe) -> SugarPart:
    """Return the sugar whose moment decides how the foam rises: the most of what is whisked in."""
    whisked = (s for s in recipe.sugars if s.moment not in ("folded last", "syrup"))
    return max(whisked, key=lambda s: s.ratio or 0, default=recipe.sugars[0])


def _whisking(
    recipe: Recipe, tools: Equipment, ratio: float, folded: float, fat: float, base_g: float | None = None
) -> foam.Whisking:
    return foam.whisk(
        recipe.school,
        ratio - folded,
        main_sugar(recipe).moment,
        tools.mixer.kind,
        recipe.egg.temp_c,
        recipe.egg.kind,
        recipe.egg.old,
        acid=any(INGREDIENTS[a.ingredient].role == "acid" for a in recipe.additions) or tools.mixer.bowl_material == "copper",
        fat_share=fat,
        folded_ratio=folded,
        pace=tools.mixer.pace,
        mass=1.0 if base_g is None else foam.mass_time(base_g, tools.mixer.bowl_l),
    )


def _lightened(density: float, cream: float, whipped: float) -> float:
    """Density with a share of whipped cream folded in: volumes add."""
    return 1 / ((1 - cream) / density + cream / whipped)


def size(recipe: Recipe, kitchen: Kitchen) -> Batch:
    """Work out the size of a batch.

    Raises UnknownAmountError where the sugar is not known, OutOfRangeError where the batch cannot be made at any size.
    """
    _known(recipe)
    tools = equipment(recipe, kitchen)
    egg_size = recipe.egg.size or kitchen.habits.egg_size
    base, way = recipe.rests_on, recipe.way
    sugar_ratio = sum(solid(s) for s in recipe.sugars)
    folded = sum(solid(s) for s in recipe.sugars if s.moment == "folded last")
    parts = [(INGREDIENTS[a.ingredient], a.ratio or 0.0) for a in recipe.additions]
    parts += [(INGREDIENTS[s.kind], s.ratio or 0.0) for s in recipe.sugars]
    water = sum(i.water * r for i, r in parts)
    starch = sum(i.starch * r for i, r in parts)
    # Fat folded in last meets a foam that stands; only what is whisked with it counts against the volume.
    fat = sum(
        INGREDIENTS[a.ingredient].fat * (a.ratio or 0) for a in recipe.additions if a.moment not in ("folded last", "stiff")
    )
    total = 1 + sum(r for _, r in parts)
    pan = in_pan(recipe)
    boiled_off = wall = 0.0
    if pan is not None and recipe.heat is not None:
        left = syrup.water_left_g(pan, recipe.heat.target_c)
        boiled_off = pan.water_g - left
        wall = (pan.solids_g + left) * recipe.heat.wall_pct / 100
        water -= boiled_off + left * recipe.heat.wall_pct / 100
        sugar_ratio -= pan.solids_g * recipe.heat.wall_pct / 100
        total -= boiled_off + wall
    if way.foam is not None or way.density is None:
        band = _whisking(recipe, tools, sugar_ratio, folded, fat).density
    elif way.ribbon_c is not None:
        cream = sum(a.ratio or 0.0 for a in recipe.additions if a.ingredient == "cream") / total
        band = (_lightened(way.density[0], cream, WHIPPED_CREAM[0]), _lightened(way.density[1], cream, WHIPPED_CREAM[1]))
    else:
        band = way.density
    density = sum(band) / 2
    piece_g = recipe.portion_g if recipe.shape is None else shapes.volume_ml(recipe.shape) * density
    cooked_away = way.loses if recipe.shape is None else 0.0
    per_base = total * (1 - recipe.loss_pct / 100) * (1 - cooked_away)
    layout = None if recipe.shape is None else shapes.lay_out(recipe.shape, tools.tray.length_mm, tools.tray.width_mm)
    scale = recipe.scale
    on_tray = len(layout.centres) if layout else 1
    wanted = {"pieces": scale.amount, "trays": scale.amount * on_tray}.get(scale.by)
    base_g = {
        "base": scale.amount,
        "eggs": scale.amount * per_egg_g(egg_size, recipe.base),
        "sugar": scale.amount / max(sum(s.ratio or 0.0 for s in recipe.sugars), 1e-9),
        "bowl": scale.amount * foam.SAFE_FILL * tools.mixer.bowl_l * 1000 * band[0] / total,
    }.get(scale.by, ceil((wanted or 0) - 1e-9) * piece_g / per_base)
    foam_g = base_g * per_base
    pieces = ceil(wanted - 1e-9) if wanted is not None else floor(foam_g / piece_g + 1e-9)
    if pieces == 0 and foam_g >= SMALL * piece_g:
        pieces = 1  # the egg on the scale is a little short of one: it comes out a little small
    if pieces < 1:
        raise OutOfRangeError(
            say("batch.batch"),
            say("batch.all", foam_g=foam_g),
            say("batch.too-little-use-make", piece_g=piece_g, base_name=recipe.base_name),
            "scale.amount",
        )
    if pieces > 5000 or base_g > MOST_BASE_G:
        raise OutOfRangeError(
            say("batch.batch"),
            say("batch.pieces", pieces=pieces, base_kg=base_g / 1000, base_name=recipe.base_name),
            say("batch.keep-pieces", base_name=recipe.base_name),
            "scale.amount",
        )
    trays = shapes.split_over_trays(pieces, on_tray) if layout else ()
    counted = recipe.egg.kind in ("fresh", "frozen") and recipe.base != "other"
    return Batch(
        base_g=base_g,
        base=recipe.base_name,
        lines=_lines(recipe, base_g),
        sugar_ratio=sugar_ratio,
        whisked_ratio=sugar_ratio - folded,
        folded_ratio=folded,
        added_water_ratio=water,
        total_ratio=total,
        starch_of_sugar=starch / sugar_ratio if sugar_ratio else 0.0,
        fat_share=fat,
        water_fraction=(base.water + water) / total,
        pan=None if pan is None else pan.scaled(base_g),
        boiled_off_g=boiled_off * base_g,
        wall_g=wall * base_g,
        whisking=_whisking(recipe, tools, sugar_ratio, folded, fat, base_g) if way.foam is not None else None,
        density=density,
        density_band=band,
        foam_g=foam_g,
        volume_ml=(base_g * total * (1 - cooked_away) / band[1], base_g * total * (1 - cooked_away) / band[0]),
        pieces=pieces,
        piece_g=piece_g,
        left_foam_g=max(0.0, foam_g - pieces * piece_g),
        egg_size=egg_size,
        eggs=eggs_for(base_g, egg_size, recipe.base) if counted else None,
        layout=layout,
        trays=trays,
        loads=ceil(len(trays) / tools.oven.tray_slots) if recipe.programme and layout else 0,
    )


def _lines(recipe: Recipe, base_g: float) -> tuple[Line, ...]:
    """Return what is weighed, the egg first."""
    base = recipe.rests_on
    lines = [Line(key=base.key, name=base.name, role=base.role, moment="start", ratio=1.0, mass_g=base_g)]
    for key, ratio, moment, written in [(s.kind, s.ratio, s.moment, s.written) for s in recipe.sugars] + [
        (a.ingredient, a.ratio, a.moment, a.written) for a in recipe.additions
    ]:
        item = INGREDIENTS[key]
        name = "Water" if key == "water" and (moment == "syrup" or recipe.base == "other") else item.name
        mass = None if ratio is None else ratio * base_g
        lines.append(Line(key=key, name=name, role=item.role, moment=moment, ratio=ratio, mass_g=mass, written=written))
    return tuple(lines)
