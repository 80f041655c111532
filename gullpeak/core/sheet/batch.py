"""The size of a batch: worked forward from white to pieces, run backwards from whatever is fixed."""

from dataclasses import dataclass
from math import ceil, floor, isclose
from typing import Literal, NamedTuple

from pydantic import Field

from gullpeak.core.kitchen.egg import EggCount, eggs_for, per_egg_g
from gullpeak.core.kitchen.ingredients import FoodColour, Ingredient, Role, tint
from gullpeak.core.kitchen.kitchen import EggSize, Hob, Kitchen, Mixer, Oven, Pan, Tray
from gullpeak.core.kitchen.own import Own, item_of
from gullpeak.core.physics import syrup
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.recipe import MOST_LINE_G, Recipe, RecipeLine, Scale
from gullpeak.core.recipe.ways import Band, Moment
from gullpeak.core.sheet import composition, foam
from gullpeak.core.sheet.composition import Composition
from gullpeak.core.value import OutOfRangeError, Value, known, perhaps, say, share_of

MOST_BASE_G = 60000.0
MOST_PIECES = 5000
LEAST_PORTION_G, MOST_PORTION_G = 1.0, 20000.0


class Weighed(Value):
    """The egg on the scale, which replaces the counted one.

    keep: `ratio` works every other amount out anew; `sugar` leaves what is weighed already and lets the ratios follow.
    """

    base_g: float = Field(gt=0, le=MOST_BASE_G)
    keep: Literal["ratio", "sugar"] = "ratio"


class Line(Value):
    """One thing to weigh for this batch. mass_g None: not known; at: its place among the recipe's lines."""

    key: str
    name: str
    role: Role
    moment: Moment
    ratio: float | None
    mass_g: float | None
    written: str = ""
    at: int = 0
    own: Own = None
    """What it is, where this kitchen describes it"""

    @property
    def item(self) -> Ingredient:
        """What it is."""
        return item_of(self.key, self.own)

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
    """What is left over; below 0: what is short for all pieces that are wanted"""
    egg_size: EggSize
    eggs: EggCount | None
    layout: shapes.TrayLayout | None
    trays: tuple[int, ...]
    loads: int


class Making(NamedTuple):
    """A recipe being worked out: in which kitchen, with what of it, at what size."""

    recipe: Recipe
    kitchen: Kitchen
    tools: Equipment
    batch: Batch


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
    """Return the recipe as it stands for a batch: what follows of a piece's size filled in, and made of what was weighed.

    Once the egg is weighed, its number of pieces follows, or their size where that does.
    """
    recipe = resolved(recipe, kitchen)
    if weighed is None:
        return recipe
    batch = size(recipe, kitchen)
    made = recipe.times(batch.base_g / known(recipe.base_g, batch.base_g))
    share = weighed.base_g / batch.base_g if weighed.keep == "ratio" else 1.0
    lines = [
        line.model_copy(update={"mass_g": perhaps(lambda g: g * share, line.mass_g)})
        if i != recipe.base_at
        else _weighed(line, weighed)
        for i, line in enumerate(made)
    ]
    change = {"lines": tuple(lines), "scale": Scale(), "pieces": batch.pieces if recipe.size_follows else None}
    return resolved(recipe.model_copy(update=change), kitchen)


def _weighed(line: RecipeLine, weighed: Weighed) -> RecipeLine:
    return line.model_copy(update={"mass_g": weighed.base_g, "written": "", "or_g": None})


def at_this_size(recipe: Recipe, kitchen: Kitchen) -> Recipe:
    """Return the recipe written anew at the size it is made at: its grams become those of this batch. Raises as `size` does.

    What was given in words is in grams then, unless the size is as it was written.
    """
    now = resolved(recipe, kitchen)
    batch = size(now, kitchen)
    factor = batch.base_g / known(recipe.base_g, batch.base_g)
    if isclose(factor, 1.0, rel_tol=1e-9):
        return recipe.model_copy(update={"scale": Scale()})
    pieces = perhaps(lambda _: batch.pieces, recipe.pieces)
    lines = tuple(line.model_copy(update={"mass_g": perhaps(as_weighed, line.mass_g)}) for line in recipe.times(factor))
    return recipe.model_copy(
        update={"lines": lines, "scale": Scale(), "pieces": pieces, "shape": now.shape, "portion_g": now.portion_g}
    )


def colour_of(recipe: Recipe, batch: Batch) -> FoodColour:
    """Return the food colour of what a batch makes; empty: nothing shows in it but what it is made as."""
    return tint((line.item, line.mass_g) for line in batch.lines) or ("sabayon" if recipe.way.makes == "sabayon" else "")


def as_weighed(mass_g: float) -> float:
    """Return a mass as a kitchen's scale shows it: to the gram, the tenth below 20 g, the hundredth below 2 g."""
    return round(mass_g, 0 if mass_g >= 20 else 1 if mass_g >= 2 else 2)


WHIPPED_CREAM = (0.45, 0.55)
"""g/ml."""


def with_amount(recipe: Recipe, line: Line, ratio: float) -> Recipe | None:
    """Return the recipe with an amount, g per g of its base, at a line of it; None where it has that by now, or has no such line.

    Raises OutOfRangeError where it is more than a recipe can hold.
    """
    there = [i for i, x in enumerate(recipe.lines) if (x.ingredient, x.moment) == (line.key, line.moment) and i != recipe.base_at]
    if not there or recipe.base_g is None:
        return None
    at = line.at if line.at in there else there[0]
    mass_g = as_weighed(ratio * recipe.base_g)
    if not 0 <= mass_g <= MOST_LINE_G:
        raise OutOfRangeError(
            say("batch.the", line_name=line.name), say("batch.line", mass_g=mass_g), say("batch.most-line", most=MOST_LINE_G)
        )
    if recipe.lines[at].mass_g == mass_g:
        return None
    lines = list(recipe.lines)
    lines[at] = lines[at].model_copy(update={"mass_g": mass_g, "written": "", "or_g": None})
    return recipe.model_copy(update={"lines": tuple(lines)})


def _whisking(recipe: Recipe, tools: Equipment, made: Composition, base_g: float | None = None) -> foam.Whisking:
    return foam.whisk(
        recipe.school,
        min(made.whisked, foam.MOST_TABLED),
        composition.main_sugar(recipe).moment,
        tools.mixer.kind,
        recipe.egg.temp_c,
        recipe.egg.kind,
        recipe.egg.old,
        acid=any(a.item.role == "acid" for a in recipe.additions) or tools.mixer.bowl_material == "copper",
        fat_share=made.fat,
        folded_ratio=made.folded,
        pace=tools.mixer.pace,
        mass=1.0 if base_g is None else foam.mass_time(base_g, tools.mixer.bowl_l),
    )


def _lightened(density: float, cream: float, whipped: float) -> float:
    """Density with a share of whipped cream folded in: volumes add."""
    return 1 / ((1 - cream) / density + cream / whipped)


def _density(recipe: Recipe, tools: Equipment, made: Composition) -> Band:
    """The density of what is used, g/ml: of a foam by its sugar, of the rest by its way."""
    way = recipe.way
    if way.foam is not None or way.density is None:
        return _whisking(recipe, tools, made).density
    if way.ribbon_c is None:
        return way.density
    cream = sum(a.ratio or 0.0 for a in recipe.additions if a.key == "cream") / made.total
    low, high = (_lightened(d, cream, whipped) for d, whipped in zip(way.density, WHIPPED_CREAM, strict=True))
    return low, high


@dataclass(frozen=True)
class _Scaled:
    """A recipe at a size, g and pieces. foam_g: what can be shaped or portioned."""

    base_g: float
    foam_g: float
    piece_g: float
    pieces: int
    layout: shapes.TrayLayout | None


def _per_base(recipe: Recipe, made: Composition) -> float:
    """What can be shaped or portioned, g per g of what the recipe rests on."""
    return made.total * (1 - recipe.loss_pct / 100) * (1 - cooked_away(recipe))


def resolved(recipe: Recipe, kitchen: Kitchen) -> Recipe:
    """Return the recipe as this kitchen has it: its own ingredients as it describes them, and the size of its pieces.

    The size is the one its amounts give, where that follows and their number was typed.

    A size that cannot be is the nearest that can: then something is short or left over. Raises UnknownAmountError.
    """
    recipe = recipe.described_by(kitchen.larder)
    if not recipe.size_follows or recipe.pieces is None:
        return recipe
    composition.check_known(recipe)
    made = composition.of(recipe)
    each_g = known(recipe.base_g, 0.0) * _per_base(recipe, made) / recipe.pieces
    if recipe.shape is None:
        return recipe.model_copy(update={"portion_g": min(max(each_g, LEAST_PORTION_G), MOST_PORTION_G)})
    density = sum(_density(recipe, equipment(recipe, kitchen), made)) / 2
    return recipe.model_copy(update={"shape": shapes.of_volume(recipe.shape, each_g / density)})


def _scaled(recipe: Recipe, kitchen: Kitchen, tools: Equipment, made: Composition, band: Band) -> _Scaled:
    """Run the size forward from what is there, or backwards from what is wanted. Raises OutOfRangeError."""
    shape, scale = recipe.shape, recipe.scale
    piece_g = recipe.portion_g if shape is None else shapes.volume_ml(shape) * sum(band) / 2
    layout = perhaps(lambda s: shapes.lay_out(s, tools.tray.length_mm, tools.tray.width_mm), shape)
    per_base = _per_base(recipe, made)
    wanted = {"pieces": scale.amount, "trays": scale.amount * (len(layout.centres) if layout else 1)}.get(scale.by)
    if wanted is not None:
        pieces = ceil(wanted - 1e-9)
        base_g = pieces * piece_g / per_base
        foam_g = base_g * per_base
    else:
        base_g = {
            "factor": scale.amount * known(recipe.base_g, 0.0),
            "base": scale.amount,
            "eggs": scale.amount * per_egg_g(egg_size(recipe, kitchen), recipe.base),
            "sugar": scale.amount / max(sum(s.ratio or 0.0 for s in recipe.sugars), 1e-9),
            "bowl": scale.amount * foam.SAFE_FILL * tools.mixer.bowl_l * 1000 * band[0] / made.total,
        }[scale.by]
        foam_g = base_g * per_base
        pieces = floor(foam_g / piece_g + 1e-9)
        if scale.by == "factor" and recipe.pieces is not None:
            pieces = ceil(recipe.pieces * scale.amount - 1e-9)
    scaled = _Scaled(base_g=base_g, foam_g=foam_g, piece_g=piece_g, pieces=max(pieces, 1), layout=layout)
    _check_possible(recipe, scaled)
    return scaled


def _check_possible(recipe: Recipe, scaled: _Scaled) -> None:
    if scaled.base_g <= 0:
        raise OutOfRangeError(
            say("batch.batch"),
            say("batch.of-none", base_name=recipe.base_name),
            say("batch.another-size", base_name=recipe.base_name),
            "scale",
        )
    if scaled.pieces > MOST_PIECES or scaled.base_g > MOST_BASE_G:
        raise OutOfRangeError(
            say("batch.batch"),
            say("batch.pieces", pieces=scaled.pieces, base_kg=scaled.base_g / 1000, base_name=recipe.base_name),
            say("batch.keep-pieces", base_name=recipe.base_name),
            "scale.amount",
        )


def cooked_away(recipe: Recipe) -> float:
    """Return the share of what goes in that its way of making loses; of what is shaped its own oven tells."""
    return recipe.way.loses if recipe.shape is None else 0.0


def egg_size(recipe: Recipe, kitchen: Kitchen) -> EggSize:
    """Return the egg that is meant."""
    return recipe.egg.size or kitchen.habits.egg_size


def size(recipe: Recipe, kitchen: Kitchen) -> Batch:
    """Work out the size of a batch.

    Raises UnknownAmountError where the sugar is not known, OutOfRangeError where the batch cannot be made at any size.
    """
    composition.check_known(recipe)
    tools, made = equipment(recipe, kitchen), composition.of(recipe)
    band = _density(recipe, tools, made)
    at = _scaled(recipe, kitchen, tools, made, band)
    base_g, pieces, layout = at.base_g, at.pieces, at.layout
    trays = shapes.split_over_trays(pieces, len(layout.centres)) if layout else ()
    counted = recipe.egg.kind in ("fresh", "frozen") and recipe.base != "other"
    whole_g = base_g * made.total * (1 - cooked_away(recipe))
    egg = egg_size(recipe, kitchen)
    return Batch(
        base_g=base_g,
        base=recipe.base_name,
        lines=_lines(recipe, base_g),
        sugar_ratio=made.sugar,
        whisked_ratio=made.whisked,
        folded_ratio=made.folded,
        added_water_ratio=made.water,
        total_ratio=made.total,
        starch_of_sugar=share_of(made.starch, made.sugar),
        fat_share=made.fat,
        water_fraction=(recipe.rests_on.water + made.water) / made.total,
        pan=perhaps(lambda pan: pan.scaled(base_g), made.pan),
        boiled_off_g=made.boiled_off * base_g,
        wall_g=made.wall * base_g,
        whisking=perhaps(lambda _: _whisking(recipe, tools, made, base_g), recipe.way.foam),
        density=sum(band) / 2,
        density_band=band,
        foam_g=at.foam_g,
        volume_ml=(whole_g / band[1], whole_g / band[0]),
        pieces=pieces,
        piece_g=at.piece_g,
        left_foam_g=at.foam_g - pieces * at.piece_g,
        egg_size=egg,
        eggs=eggs_for(base_g, egg, recipe.base) if counted else None,
        layout=layout,
        trays=trays,
        loads=ceil(len(trays) / tools.oven.tray_slots) if recipe.programme and layout else 0,
    )


def _lines(recipe: Recipe, base_g: float) -> tuple[Line, ...]:
    """Return what is weighed, the egg first."""
    base, at = recipe.rests_on, recipe.base_at
    own = recipe.lines[at].own
    lines = [Line(key=base.key, name=base.name, role=base.role, moment="start", ratio=1.0, mass_g=base_g, at=at, own=own)]
    as_written = recipe.scale == Scale()
    for item, ratio, moment, at in recipe.goes_in:
        name = "Water" if item.key == "water" and (moment == "syrup" or recipe.base == "other") else item.name
        line = recipe.lines[at]
        mass = line.mass_g if as_written else perhaps(lambda r: r * base_g, ratio)
        words = line.written if as_written or mass is None else ""
        made = Line(key=item.key, name=name, role=item.role, moment=moment, ratio=ratio, mass_g=mass, written=words, at=at)
        lines.append(made if line.own is None else made.model_copy(update={"own": line.own}))
    return tuple(lines)
