"""A product's parts: found in the book, sized backwards from the portions, worked out, and what each one's sheet gives.

A part may be a product again; what is missing or goes round in a circle is said at its field.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from math import ceil
from typing import NamedTuple

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.physics import cooling
from gullpeak.core.product import assembly as assemblies
from gullpeak.core.product.assembly import Assembled, Setting
from gullpeak.core.product.assembly.base import Facts, beside, chained
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.product import Part, Product, Role
from gullpeak.core.recipe.recipe import Recipe, Scale
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet.batch import Batch
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.sheet.verdict import Verdict
from gullpeak.core.value import OutOfRangeError, UnknownAmountError, known, perhaps, say, share_of

Book = Mapping[str, Recipe | Product]
"""Every recipe and product by its id."""
DEEPEST = 5
MOST_PARTS = 200
"""Of all products inside products together."""
LEAST_PORTION_G = 1.0


class PartError(UnknownAmountError):
    """A part that cannot be had: not in the book, or inside itself."""


@dataclass
class Share:
    """What is known of any part: how much all wholes ask, what there is, when it is needed. `path`: its keys from the top."""

    key: str
    name: str
    of: str
    role: Role
    path: tuple[str, ...]
    inside: tuple[str, ...]
    wants: float
    unit: str
    yields: float
    own_size: bool
    """In whole batches of the size its recipe is written at"""
    made: float | None
    held: int
    by_portion: bool

    before_min: float = field(default=0.0, kw_only=True)

    @property
    def depth(self) -> int:
        """How many products it stands inside of, below the one that is worked out."""
        return len(self.path) - 1


@dataclass
class Made(Share):
    """A leaf part, worked out. `share`: of what is made, that goes into the portions. `oven_c`: the most that its
    coldest place comes to in the oven of the whole; None: it goes into none. `verdict`: of its egg, before that."""

    recipe: Recipe
    sheet: Sheet
    batch: Batch
    facts: Facts
    verdict: Verdict
    oven_c: float | None = None

    @property
    def share(self) -> float:
        """Of what is made, what goes into the portions."""
        return min(1.0, share_of(self.wants, self.yields, otherwise=1.0))


@dataclass
class Dish(Share):
    """A part that is a product itself, put together before it is needed; its own parts follow it."""

    assembled: Assembled


def keeps_as(recipe: Recipe) -> str:
    """Return the row of the keeping table a part falls under."""
    if recipe.programme is not None and recipe.way.foam is not None:
        return {"crisp": "dried-meringue", "soft sheet": "sheet"}.get(recipe.texture, "soft-meringue")
    has = {a.key for a in recipe.additions if a.ratio != 0}
    return recipe.way.hold(has).keeps or recipe.way.keeps


def find(book: Book, part: Part, at: str, above: tuple[str, ...]) -> Recipe | Product:
    """Return what a part is. Raises PartError where it is missing, inside itself, or too deep."""
    found = book.get(part.of)
    if found is None:
        raise PartError(f"{at}.of", say("parts.part-book-any-choose", part_key=part.key))
    if part.of in above:
        raise PartError(f"{at}.of", say("parts.part-itself-take-choose", found_name=found.name))
    if len(above) > DEEPEST:
        raise PartError(f"{at}.of", say("parts.parts-within-parts-too"))
    return found


def _baked_g(sheet: Sheet, piece_g: float) -> float:
    """The mass of one finished piece: less what drying takes."""
    return piece_g if sheet.dry is None else piece_g * (1 - sheet.dry.drying.loss_pct[-1] / 100)


BAKED_OUT_C = 98.0
"""A sponge or a pastry as it leaves its oven."""
PASTRY_MM = 5.0


def _out_c(recipe: Recipe, sheet: Sheet) -> float | None:
    """How hot it comes out of its oven, by the drying model at the end of its programme; None: it was in none."""
    if sheet.dry is not None:
        return sheet.dry.drying.core_c[-1]
    return BAKED_OUT_C if recipe.way.cooked == "baked" else None


def _cools_s(recipe: Recipe, batch: Batch) -> float:
    """The time constant of its cooling, by what it is made of and how thick its thickest part is."""
    if recipe.way.material == "pastry":
        return cooling.constant_s("pastry", PASTRY_MM, batch.density)
    # A slab cools from both faces; a round of the same depth has as much surface as a slab of so much.
    bodies = known(perhaps(shapes.bodies, recipe.shape), ())
    thick = max((2 * b.depth_mm / (max(b.exponent, 1) + 1) for b in bodies), default=10.0)
    moist = recipe.texture == "soft sheet" or recipe.way.plain
    return cooling.constant_s("sheet" if moist else "dried foam", thick, batch.density)


def _sizes(shape: shapes.Shape) -> dict[str, float]:
    return {"depth_mm": shape.thick_mm, "height_mm": shape.height_mm, "width_mm": shape.across_mm[-1]}


def _facts(recipe: Recipe, sheet: Sheet, batch: Batch, role: Role, ml: float) -> Facts:
    shape, material = recipe.shape, recipe.way.material
    if material == "foam" and (role == "sheet" or recipe.programme is not None):
        material = "sheet" if role == "sheet" else "shell"
    skin = perhaps(lambda dry: dry.drying.shell_mm[-1], sheet.dry)
    if recipe.on in ("sultana", "dried-apricot", "hazelnut", "pistachio", "almond"):
        material = "bits"
    return Facts(
        name=recipe.name,
        role=role,
        density=batch.density,
        water=batch.water_fraction,
        gives_water=recipe.way.gives_water,
        way=recipe.way,
        keeps=keeps_as(recipe),
        material=material,
        starch=batch.starch_of_sugar,
        sugar_ratio=batch.sugar_ratio,
        ml=ml,
        base_per_g=batch.base_g / batch.foam_g,
        piece_g=batch.piece_g,
        skin_mm=skin,
        texture=recipe.texture if recipe.programme else "",
        gelatine=recipe.has("gelatine", "chocolate"),
        out_c=_out_c(recipe, sheet),
        colour=batching.colour_of(recipe, batch),
        toast=None if sheet.dry is None else sheet.dry.colour,
        cools_s=_cools_s(recipe, batch),
        **known(perhaps(_sizes, shape), {}),
    )


def _said(part: Part, product: Product) -> float:
    """The amount a part says for itself, of one whole."""
    return (part.amount or 0.0) * (product.serves if part.per == "portion" else 1)


def _taken_ml(product: Product, role: Role, book: Book, kitchen: Kitchen) -> float:
    """What parts that say their own amount already fill of a role, ml."""
    taken = 0.0
    for part in product.parts:
        found = book.get(part.of)
        if part.role == role and part.amount is not None and part.unit != "pieces" and isinstance(found, Recipe):
            taken += _said(part, product) / (batching.size(found, kitchen).density if part.unit == "g" else 1.0)
    return taken


def _amount(part: Part, product: Product, needs: dict[Role, assemblies.Need], book: Book, kitchen: Kitchen) -> tuple[float, str]:
    """What one whole asks of this part: an amount and its unit. Parts of a role with no amount share what is left of it."""
    if part.amount is not None:
        return _said(part, product), part.unit
    need = needs.get(part.role)
    if need is None:
        raise PartError(f"parts.{part.key}.amount", say("parts.nothing-says-how-much", part_key=part.key))
    if need.pieces is not None:
        return need.pieces, "pieces"
    left = (need.ml or 0.0) - _taken_ml(product, part.role, book, kitchen)
    if left <= 0:
        raise PartError(f"parts.{part.key}.amount", say("parts.others-fill-already-give", part_key=part.key))
    return left / sum(p.role == part.role and p.amount is None for p in product.parts), "ml"


class Place(NamedTuple):
    """Where in a product one is: ids of what is above, the field path to it, keys and names from the top, and how long before serving
    the whole of it is needed, min."""

    above: tuple[str, ...] = ()
    at: str = ""
    path: tuple[str, ...] = ()
    names: tuple[str, ...] = ()
    before_min: float = 0.0

    def field(self, i: int) -> str:
        """Return the field path of a part."""
        return f"{self.at}parts.{i}"

    def inside(self, i: int, part: Part, name: str, before_min: float) -> "Place":
        """Return the place inside of a part that is a product itself."""
        return Place((*self.above, part.of), f"{self.field(i)}.", (*self.path, part.key), (*self.names, name), before_min)


TOP = Place()


def expand(
    product: Product, book: Book, kitchen: Kitchen, place: Place = TOP, *, proven: bool = True
) -> tuple[list[Made | Dish], Assembled]:
    """Work every part out, sized for the product's portions, and put them together. A product's parts follow it.

    Sizes go down, from the whole to its parts; what they come to goes up again. proven: ways out are tried before they are offered.
    Raises PartError, UnknownAmountError, OutOfRangeError.
    """
    asked = [_asked(product, i, book, kitchen, place) for i in range(len(product.parts))]
    own = {i: _worked(product, i, asked[i], found, kitchen, place) for i, found in _leaves(asked)}
    here = Setting(product, product.wholes, tuple(m.facts for m in own.values()), kitchen)

    def again(changed: Product) -> Assembled:
        if not _alike(product, changed, [found for _, found in _leaves(asked)]):
            return expand(changed, book, kitchen, place, proven=False)[1]
        return assemblies.put_together(replace(here, product=changed, wholes=changed.wholes))

    assembled = assemblies.put_together(here, again if proven else None)
    assembled = assembled.model_copy(update={"steps": chained(assembled.steps)})
    out: list[Made | Dish] = []
    for i, (part, one) in enumerate(zip(product.parts, asked, strict=True)):
        needed = place.before_min + assembled.left_min(part.role)
        if i in own:
            own[i].before_min, own[i].oven_c = needed, assembled.foam_c if part.role == "foam" else None
            out.append(own[i])
        else:
            out += _dish(one, book, kitchen, place.inside(i, part, one.found.name, needed), MOST_PARTS - len(out))
    if not assembled.section:  # nothing is built here: the dishes stand beside each other
        sections = [m.assembled.section for m in out if isinstance(m, Dish) and m.depth == len(place.path)]
        assembled = assembled.model_copy(update={"section": beside(sections)})
    return out, assembled


def _alike(product: Product, changed: Product, leaves: list[Recipe]) -> bool:
    """Whether a change of the assembly leaves its parts in the shapes they have."""
    fits = assemblies.KINDS[product.assembly.kind].fits
    roles = {p.role for p in product.parts}
    shapes_of = [r.shape for r in leaves if r.shape is not None]
    return all(
        fits(product.assembly, role, shape) == fits(changed.assembly, role, shape) for shape in shapes_of for role in roles
    )


@dataclass
class _Asked:
    """What is asked of a part: of each whole, and of all."""

    found: Recipe | Product
    each: float
    share: Share


def _leaves(asked: list[_Asked]) -> list[tuple[int, Recipe]]:
    return [(i, one.found) for i, one in enumerate(asked) if isinstance(one.found, Recipe)]


def _asked(product: Product, i: int, book: Book, kitchen: Kitchen, place: Place) -> _Asked:
    """Return what the wholes ask of a part, less what is held back of it."""
    part = product.parts[i]
    found = find(book, part, place.field(i), place.above)
    needs, wholes = assemblies.KINDS[product.assembly.kind].needs(product.assembly), product.wholes
    try:
        each, unit = _amount(part, product, needs, book, kitchen)
    except PartError as error:
        raise PartError(f"{place.field(i)}.amount", error.says) from error
    if isinstance(found, Product) and unit != "pieces":
        raise PartError(f"{place.field(i)}.unit", say("parts.product-count-pieces", found_name=found.name))
    held = min(sum(h.portions for h in product.held if h.part == part.key), product.portions)
    if unit == "pieces":
        count = float(wholes - (held if product.serves == 1 else 0))
    else:
        count = wholes * (1 - held / product.portions)
    wants = each * count or each  # everybody holds it back: the line stays, for one
    share = Share(
        key=part.key,
        name=found.name,
        of=part.of,
        role=part.role,
        path=(*place.path, part.key),
        inside=place.names,
        wants=wants,
        unit=unit,
        yields=float(ceil(wants - 1e-9)) if isinstance(found, Product) else wants,
        made=part.made,
        own_size=part.batch == "own",
        held=held,
        by_portion=product.serves == 1 or (part.amount is not None and part.per == "portion") or unit != "pieces",
    )
    return _Asked(found, each, share)


def _worked(product: Product, i: int, asked: _Asked, recipe: Recipe, kitchen: Kitchen, place: Place) -> Made:
    """Work a part out, in the shape that fits; what keeps it from being made is told at the part."""
    try:
        recipe = batching.resolved(recipe, kitchen).model_copy(update={"size_follows": False})
        if recipe.shape is not None:
            fits = assemblies.KINDS[product.assembly.kind].fits
            recipe = recipe.model_copy(update={"shape": fits(product.assembly, asked.share.role, recipe.shape)})
        return _made(asked.share, recipe, asked.each, product.wholes, kitchen)
    except (OutOfRangeError, UnknownAmountError) as error:
        raise PartError(place.field(i), say("parts.of", name=recipe.name, why=error.says)) from error


def _dish(asked: _Asked, book: Book, kitchen: Kitchen, place: Place, most: int) -> list[Made | Dish]:
    """A part that is a product: itself, and its own parts after it; at most so many."""
    assert isinstance(asked.found, Product)
    portions = round(asked.share.yields) * asked.found.serves
    dish = asked.found.model_copy(update={"portions": portions, "held": ()})
    below, together = expand(dish, book, kitchen, place)
    if len(below) > most:
        raise PartError(f"{place.at.removesuffix('.')}.of", say("parts.over-parts-all-make", most_parts=MOST_PARTS))
    return [Dish(**{**vars(asked.share), "before_min": place.before_min}, assembled=together), *below]


def _in_own_batches(recipe: Recipe, wants: float, unit: str, kitchen: Kitchen) -> Recipe:
    """Return a recipe at as many times the size it is kept at as are enough. wants: pieces, or g."""
    once = recipe.model_copy(update={"pieces": None})
    look = batching.size(once, kitchen)
    brings = float(look.pieces)
    if unit != "pieces":
        brings = look.foam_g if recipe.shape is None else look.pieces * _baked_g(work_out(once, kitchen), look.piece_g)
    factor = look.base_g / known(recipe.base_g, look.base_g) * max(1, ceil(wants / max(brings, 1e-9) - 1e-9))
    return once.model_copy(update={"scale": Scale(by="factor", amount=factor)})


def _made(asked: Share, recipe: Recipe, each: float, wholes: int, kitchen: Kitchen) -> Made:
    """Scale a recipe to what is asked of it, and work it out."""
    wants, unit = asked.wants, asked.unit
    look = batching.size(recipe, kitchen)
    grams = {"ml": wants * look.density, "g": wants, "pieces": 0.0}[unit]
    if asked.own_size:
        scaled = _in_own_batches(recipe, wants if unit == "pieces" else grams, unit, kitchen)
    elif recipe.shape is not None:
        one = _baked_g(work_out(recipe, kitchen), look.piece_g) if unit != "pieces" else look.piece_g
        pieces = ceil((wants if unit == "pieces" else grams / one) - 1e-9)
        scaled = recipe.model_copy(update={"scale": Scale(by="pieces", amount=max(1, pieces))})
    elif unit == "pieces":
        scaled = recipe.model_copy(update={"scale": Scale(by="pieces", amount=max(1, ceil(wants - 1e-9)))})
    else:
        portion = max(grams / wholes, LEAST_PORTION_G)
        scaled = recipe.model_copy(update={"portion_g": ceil(portion * 1000) / 1000, "scale": Scale(by="pieces", amount=wholes)})
    sheet = work_out(scaled, kitchen)
    batch = batching.size(scaled, kitchen)
    grams_each = {"ml": batch.density}.get(unit, 1.0)
    if unit == "pieces":
        yields = float(batch.pieces)
    elif recipe.shape is not None:
        yields = batch.pieces * _baked_g(sheet, batch.piece_g) / grams_each
    else:
        yields = batch.foam_g / grams_each
    ml = {"ml": each, "g": each / batch.density, "pieces": each * batch.piece_g / batch.density}[unit]
    facts = _facts(scaled, sheet, batch, asked.role, ml)
    egg = Verdict(label=sheet.finish.label, because=sheet.finish.because)
    return Made(**{**vars(asked), "yields": yields}, recipe=scaled, sheet=sheet, batch=batch, facts=facts, verdict=egg)
