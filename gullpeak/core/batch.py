"""The size of a batch: one forward reckoning from white to pieces, run backwards from whatever is fixed."""

from math import ceil, floor
from typing import Literal

from pydantic import Field

from gullpeak.core import foam, shapes, sugar
from gullpeak.core.egg import EggCount, eggs_for, white_per_egg_g
from gullpeak.core.ingredients import INGREDIENTS, Role
from gullpeak.core.kitchen import EggSize, Kitchen, Mixer, Oven, Tray
from gullpeak.core.recipe import Moment, Recipe, Scale
from gullpeak.core.value import OutOfRangeError, UnknownAmountError, Value

MOST_WHITE_G = 60000.0


class Weighed(Value):
    """Whites on the scale, which replace counted ones.

    keep: `ratio` works every other amount out anew; `sugar` leaves what is weighed already and lets the ratios follow.
    """

    white_g: float = Field(gt=0, le=MOST_WHITE_G)
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


class Equipment(Value):
    """The oven, mixer and tray a recipe uses in this kitchen."""

    oven: Oven
    mixer: Mixer
    tray: Tray


class Batch(Value):
    """A batch worked out: what is weighed, what it fills, what is left over."""

    white_g: float
    lines: tuple[Line, ...]
    sugar_ratio: float
    whisked_ratio: float
    folded_ratio: float
    added_water_ratio: float
    total_ratio: float
    starch_of_sugar: float
    fat_share: float
    water_fraction: float
    whisking: foam.Whisking
    density: float
    foam_g: float
    volume_ml: tuple[float, float]
    pieces: int
    piece_g: float
    left_foam_g: float
    egg_size: EggSize
    eggs: EggCount | None
    layout: shapes.TrayLayout
    trays: tuple[int, ...]
    loads: int


def equipment(recipe: Recipe, kitchen: Kitchen) -> Equipment:
    """Return what the recipe names of the kitchen, or the kitchen's first where it names none or one that has gone."""
    return Equipment(
        oven=next((o for o in kitchen.ovens if o.key == recipe.oven), kitchen.ovens[0]),
        mixer=next((m for m in kitchen.mixers if m.key == recipe.mixer), kitchen.mixers[0]),
        tray=next((t for t in kitchen.trays if t.key == recipe.tray), kitchen.trays[0]),
    )


def in_force(recipe: Recipe, kitchen: Kitchen, weighed: Weighed | None) -> Recipe:
    """Return the recipe as it stands once the whites are weighed: scaled by them, its ratios kept or followed."""
    if weighed is None:
        return recipe
    share = 1.0 if weighed.keep == "ratio" else size(recipe, kitchen).white_g / weighed.white_g
    return recipe.model_copy(
        update={
            "scale": Scale(by="whites", amount=weighed.white_g),
            "sugars": tuple(s.model_copy(update={"ratio": None if s.ratio is None else s.ratio * share}) for s in recipe.sugars),
            "additions": tuple(
                a.model_copy(update={"ratio": None if a.ratio is None else a.ratio * share}) for a in recipe.additions
            ),
        }
    )


def size(recipe: Recipe, kitchen: Kitchen) -> Batch:
    """Work out the size of a batch.

    Raises UnknownAmountError where the sugar is not known, OutOfRangeError where the batch cannot be made at any size.
    """
    for i, part in enumerate(recipe.sugars):
        if part.ratio is None:
            raise UnknownAmountError(
                f"sugars.{i}.ratio", f"the {part.kind} sugar is not known, so nothing can be scaled: weigh it and write the grams"
            )
    tools = equipment(recipe, kitchen)
    egg_size = recipe.whites.size or kitchen.habits.egg_size
    sugar_ratio = sum(s.ratio or 0.0 for s in recipe.sugars)
    if sugar_ratio <= 0:
        raise UnknownAmountError("sugars.0.ratio", "there is no sugar in it: without any, the foam will not dry to a meringue")
    if sugar_ratio > 4:
        raise UnknownAmountError("sugars.0.ratio", f"the sugar comes to {sugar_ratio:.1f} times the white: keep it to 4 in all")
    folded = sum(s.ratio or 0.0 for s in recipe.sugars if s.moment == "folded last")
    parts = [(INGREDIENTS[a.ingredient], a.ratio or 0.0) for a in recipe.additions]
    parts += [(INGREDIENTS[s.kind], s.ratio or 0.0) for s in recipe.sugars]
    water = sum(i.water * r for i, r in parts)
    starch = sum(i.starch * r for i, r in parts)
    # Fat folded in last meets a foam that stands; only what is whisked with it counts against the volume.
    fat = sum(
        INGREDIENTS[a.ingredient].fat * (a.ratio or 0) for a in recipe.additions if a.moment not in ("folded last", "stiff")
    )
    total = 1 + sum(r for _, r in parts)
    main = max((s for s in recipe.sugars if s.moment != "folded last"), key=lambda s: s.ratio or 0, default=recipe.sugars[0])
    whisking = foam.whisk(
        recipe.school,
        sugar_ratio - folded,
        main.moment,
        tools.mixer.kind,
        recipe.whites.temp_c,
        recipe.whites.kind,
        recipe.whites.old,
        acid=any(INGREDIENTS[a.ingredient].role == "acid" for a in recipe.additions) or tools.mixer.bowl_material == "copper",
        fat_share=fat,
        folded_ratio=folded,
    )
    density = sum(whisking.density) / 2
    piece_g = shapes.volume_ml(recipe.shape) * density
    per_white = total * (1 - recipe.loss_pct / 100)
    layout = shapes.lay_out(recipe.shape, tools.tray.length_mm, tools.tray.width_mm)
    scale = recipe.scale
    wanted = {"pieces": scale.amount, "trays": scale.amount * len(layout.centres)}.get(scale.by)
    white_g = {
        "whites": scale.amount,
        "eggs": scale.amount * white_per_egg_g(egg_size),
        "sugar": scale.amount / sugar_ratio,
        "bowl": scale.amount * foam.SAFE_FILL * tools.mixer.bowl_l * 1000 * whisking.density[0] / total,
    }.get(scale.by, ceil((wanted or 0) - 1e-9) * piece_g / per_white)
    foam_g = white_g * per_white
    pieces = ceil(wanted - 1e-9) if wanted is not None else floor(foam_g / piece_g + 1e-9)
    if pieces < 1:
        raise OutOfRangeError(
            "the batch",
            f"{foam_g:.0f} g of foam",
            f"too little for one piece of {piece_g:.0f} g: use more white or make the piece smaller",
        )
    if pieces > 5000 or white_g > MOST_WHITE_G:
        raise OutOfRangeError(
            "the batch", f"{pieces} pieces from {white_g / 1000:.1f} kg of white", "keep it to 5000 pieces and 60 kg of white"
        )
    trays = shapes.split_over_trays(pieces, len(layout.centres))
    lines = [Line(key="egg-white", name="Egg white", role="white", moment="start", ratio=1.0, mass_g=white_g)]
    lines += [
        Line(
            key=s.kind,
            name=INGREDIENTS[s.kind].name,
            role="sugar",
            moment=s.moment,
            ratio=s.ratio,
            mass_g=(s.ratio or 0) * white_g,
            written=s.written,
        )
        for s in recipe.sugars
    ]
    lines += [
        Line(
            key=a.ingredient,
            name=INGREDIENTS[a.ingredient].name,
            role=INGREDIENTS[a.ingredient].role,
            moment=a.moment,
            ratio=a.ratio,
            mass_g=None if a.ratio is None else a.ratio * white_g,
            written=a.written,
        )
        for a in recipe.additions
    ]
    counted = recipe.whites.kind in ("fresh", "frozen")
    return Batch(
        white_g=white_g,
        lines=tuple(lines),
        sugar_ratio=sugar_ratio,
        whisked_ratio=sugar_ratio - folded,
        folded_ratio=folded,
        added_water_ratio=water,
        total_ratio=total,
        starch_of_sugar=starch / sugar_ratio,
        fat_share=fat,
        water_fraction=(sugar.WATER_IN_WHITE + water) / total,
        whisking=whisking,
        density=density,
        foam_g=foam_g,
        volume_ml=(white_g * total / whisking.density[1], white_g * total / whisking.density[0]),
        pieces=pieces,
        piece_g=piece_g,
        left_foam_g=max(0.0, foam_g - pieces * piece_g),
        egg_size=egg_size,
        eggs=eggs_for(white_g, egg_size) if counted else None,
        layout=layout,
        trays=trays,
        loads=ceil(len(trays) / tools.oven.tray_slots),
    )
