"""The sheet of a product: its parts as lines that meet, the bottleneck and what is left, eggs, label, the section to scale."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import ceil, floor
from types import MappingProxyType

from gullpeak.core.bench import process
from gullpeak.core.kitchen.ingredients import FoodColour
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.product import assembly as assemblies
from gullpeak.core.product import leftovers
from gullpeak.core.product import parts as parting
from gullpeak.core.product.assembly import Assembled
from gullpeak.core.product.eggs import BothSides, EggUse, both_sides
from gullpeak.core.product.leftovers import LeftOver, Split
from gullpeak.core.product.parts import Book, Dish, Made, Share
from gullpeak.core.recipe.product import Product, Role
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.step import StationKey, Step, StepKind
from gullpeak.core.recipe.ways import Material
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet import label as labels
from gullpeak.core.sheet import verdict as verdicts
from gullpeak.core.sheet.dryness import ColourWord
from gullpeak.core.sheet.label import LabelSheet
from gullpeak.core.sheet.verdict import Verdict
from gullpeak.core.value import NOTHING, Remark, Remedy, Said, Value, first, say


class Segment(Value):
    """A step of a part's line, to draw: how long, whose hands."""

    title: Said
    station: StationKey
    kind: StepKind
    hands: float
    minutes: float


class PartLine(Value):
    """A part as a line of the product's sheet: what it is, how much, its stations, where it joins, how far it reaches."""

    key: str
    path: str
    """Its key behind those of the products it stands inside of"""
    of: str
    name: str
    role: Role
    depth: int
    inside: tuple[str, ...]
    says: Said = NOTHING
    wants: float
    unit: str
    yields: float
    made: float | None
    covers: int
    """Portions it is enough for"""
    held: int
    segments: tuple[Segment, ...]
    minutes: float
    before_min: float
    """How long before serving it is needed"""
    joins: str
    egg: Verdict | None = None
    """What may be said of its egg as it is served; None: it is a product itself"""
    keeps: labels.KeepLine | None = None
    warnings: tuple[Said, ...] = ()
    recipe: Recipe | None = None
    """As it is made for this; None where the part is a product itself"""
    lines: tuple[batching.Line, ...] = ()
    material: Material | None = None
    """What it is drawn as; None: a product itself"""
    colour: FoodColour = ""
    toast: ColourWord | None = None


class HeldPortion(Value):
    """What the portions held back are without, and what they hold instead."""

    part: str
    portions: int
    why: str
    label: LabelSheet


class ProductSheet(Value):
    """A product worked out in a kitchen."""

    name: str
    product: Product
    says: Said
    wholes: int
    whole: Said
    portions_possible: int
    bottleneck: str | None
    parts: tuple[PartLine, ...]
    left: tuple[LeftOver, ...]
    splits: tuple[Split, ...]
    assembled: Assembled
    eggs: BothSides
    label: LabelSheet
    held: tuple[HeldPortion, ...]
    spirit_free: LabelSheet | None
    remarks: tuple[Remark, ...]
    minutes: float


def work_out(
    product: Product, book: Book, kitchen: Kitchen, product_id: str = "", batches: Mapping[str, Verdict] = MappingProxyType({})
) -> ProductSheet:
    """Work a product out in a kitchen, back from its portions. book: every recipe and product by id; product_id: its own, if kept.

    batches: the verdicts of the batches that parts were really made in, by the parts' paths; without one a part counts as predicted.

    Raises PartError at the part that is missing, inside itself or cannot be sized; UnknownAmountError, OutOfRangeError of its recipes.
    """
    grown, assembled = parting.expand(product, book, kitchen, parting.Place(above=(product_id,) if product_id else ()))
    made = [m for m in grown if isinstance(m, Made)]
    wholes = product.wholes
    lines = tuple(_line(m, product, assembled, kitchen, batches) for m in grown)
    possible = min((line.covers for line in lines if line.made is not None), default=product.portions)
    possible = min(possible, product.portions)
    short = [line for line in lines if line.made is not None and line.covers == possible < product.portions]
    eggs = _eggs(made, kitchen, book)
    missing = _missing(product, book)
    keep = (
        labels.keep_line("whole", assembled.keeps, kitchen.keeping),
        *dict.fromkeys(line.keeps for line in lines if line.keeps is not None),
    )

    lacks = [need.says for need in missing]

    def labelled(without: str | None = None, swap: Kitchen | None = None) -> LabelSheet:
        inside = _held(made, product, batches, without, swap)
        return labels.work_out(inside, product.portions, kitchen, keep, assembled.cautions, lacks)

    return ProductSheet(
        name=product.name,
        product=product,
        says=_says(product, wholes, product.assembly.kind.replace(" ", "-")),
        wholes=wholes,
        whole=say(f"assembly.kind.{product.assembly.kind.replace(' ', '-')}", n=wholes),
        portions_possible=possible,
        bottleneck=first(s.key for s in short),
        parts=lines,
        left=leftovers.left(
            grown, {line.key: line.covers for line in lines if line.depth == 0}, possible, product, eggs, book, kitchen
        ),
        splits=leftovers.splits(made, {line.path: line.before_min + line.minutes for line in lines}),
        assembled=assembled,
        eggs=eggs,
        label=labelled(),
        held=tuple(HeldPortion(part=h.part, portions=h.portions, why=h.why, label=labelled(h.part)) for h in product.held),
        spirit_free=labelled(swap=kitchen) if _has_spirit(made) else None,
        remarks=tuple(_lacking(missing) + _remarks(product, lines, short, possible, wholes)),
        minutes=max((line.before_min + line.minutes for line in lines), default=0.0),
    )


def _says(product: Product, wholes: int, kind: str) -> Said:
    portions = say("product-sheet.portions", n=product.portions)
    if product.serves == 1:
        return portions
    return say(
        "product-sheet.from-of",
        portions=portions,
        wholes=wholes,
        kind=say(f"assembly.kind.{kind}", n=wholes),
        serves=product.serves,
    )


def _covers(m: Share, product: Product) -> int:
    """Portions that what is there of a part is enough for; portions held back before it goes on need none of it."""
    if m.made is None:
        return product.portions
    wanting = product.portions - m.held
    each = m.wants / max(wanting, 1)
    if not m.by_portion:
        each = m.wants / product.wholes
        return floor(m.made / each + 1e-9) * product.serves
    return floor(m.made / each + 1e-9) + m.held


def _segments(steps: tuple[Step, ...]) -> tuple[Segment, ...]:
    return tuple(
        Segment(title=s.title, station=s.station, kind=s.kind, hands=s.hands, minutes=round((s.low_min + s.high_min) / 2, 2))
        for s in steps
    )


def _line(m: Made | Dish, product: Product, assembled: Assembled, kitchen: Kitchen, batches: Mapping[str, Verdict]) -> PartLine:
    segments = _segments(process.steps(m.sheet).steps if isinstance(m, Made) else m.assembled.steps)
    line = PartLine(
        key=m.key,
        path="/".join(m.path),
        of=m.of,
        name=m.name,
        role=m.role,
        depth=m.depth,
        inside=m.inside,
        wants=m.wants,
        unit=m.unit,
        yields=m.yields,
        made=m.made if m.depth == 0 else None,
        covers=_covers(m, product) if m.depth == 0 else product.portions,
        held=m.held,
        segments=segments,
        minutes=sum(s.minutes for s in segments),
        before_min=m.before_min,
        joins=assembled.joins.get(m.role, assembled.steps[0].key) if m.depth == 0 else m.inside[-1],
    )
    if isinstance(m, Dish):
        return line.model_copy(update={"keeps": labels.keep_line(m.name, m.assembled.keeps, kitchen.keeping)})
    stations = m.sheet.stations()
    return line.model_copy(
        update={
            "says": m.sheet.says,
            "egg": _treated(m, batches),
            "keeps": labels.keep_line(m.name, m.facts.keeps, kitchen.keeping),
            "warnings": tuple(
                r.says for s in stations if s.key != "weigh" for r in s.remarks if r.severity in ("warning", "danger")
            ),
            "recipe": m.recipe,
            "lines": m.sheet.weigh.lines,
            "material": m.facts.material,
            "colour": m.facts.colour,
            "toast": m.facts.toast,
        }
    )


def _lost_g(m: Made) -> float:
    """Water that leaves a part as it is made."""
    gone = m.batch.boiled_off_g
    if m.sheet.dry is not None:
        gone += m.batch.foam_g * m.sheet.dry.drying.loss_pct[-1] / 100
    if m.recipe.way.loses:
        gone += m.recipe.way.loses * sum(line.mass_g or 0.0 for line in m.sheet.weigh.lines)
    return gone


def _held(
    made: list[Made],
    product: Product,
    batches: Mapping[str, Verdict],
    without: str | None = None,
    swap: Kitchen | None = None,
) -> labels.Held:
    """What the product's portions hold together: each part's share that goes in, without what stays on bowl and bag."""
    held = labels.Held()
    for m in made:
        if m.path[0] == without:
            continue
        fewer = m.depth == 0 and (m.unit != "pieces" or product.serves == 1)  # made smaller by what is held back
        full = product.portions / max(product.portions - m.held, 1) if fewer else 1.0
        recipe = m.recipe if swap is None else labels.spirit_free(m.recipe)
        lines = m.sheet.weigh.lines if swap is None else batching.size(recipe, swap).lines
        stays = m.share * full * (1 - m.recipe.loss_pct / 100)
        held.add(
            recipe,
            [(line.item, line.moment, line.mass_g and line.mass_g * stays) for line in lines],
            _lost_g(m) * stays,
            _treated(m, batches),
        )
    return held


def _treated(m: Made, batches: Mapping[str, Verdict]) -> Verdict:
    """How the egg of a part was treated by the time it is served: as it was made where that is known, and in the oven of the whole."""
    made = batches.get("/".join(m.path), m.verdict)
    return made if m.oven_c is None else verdicts.in_whole(made, m.oven_c)


def _eggs(made: list[Made], kitchen: Kitchen, book: Book) -> BothSides:
    used = []
    for m in made:
        fresh = m.recipe.egg.kind in ("fresh", "frozen")
        grams = {"egg-white": 0.0, "egg-yolk": 0.0, "whole-egg": 0.0}
        for line in m.sheet.weigh.lines:
            if line.key in grams:
                grams[line.key] += line.mass_g or 0.0
        if sum(grams.values()) > 0:
            used.append(
                EggUse(part=m.name, white_g=grams["egg-white"], yolk_g=grams["egg-yolk"], whole_g=grams["whole-egg"], fresh=fresh)
            )
    sides = both_sides(used, kitchen.habits.egg_size)
    return (
        sides
        if sides.closes
        else both_sides(used, kitchen.habits.egg_size, leftovers.pairs(sides, book, kitchen, {m.of for m in made}))
    )


def _has_spirit(made: list[Made]) -> bool:
    return any(line.item.role in ("wine", "spirit") and line.mass_g != 0 for m in made for line in m.sheet.weigh.lines)


STANDS_FOR: dict[Role, tuple[Role, ...]] = {
    "shell": ("shell", "base", "case"),
    "case": ("case", "base", "shell"),
    "filling": ("filling", "inside", "foam"),
    "topping": ("topping", "sauce", "garnish", "foam", "inside"),
}
"""Roles that do for one another, where an assembly asks for one."""


@dataclass(frozen=True)
class Lack:
    """A part that an assembly asks for and nothing takes. inside: the product it is missing from, where that is a part itself."""

    role: Role
    inside: str

    @property
    def says(self) -> Said:
        """What is missing, as it follows a sentence."""
        return (
            say("product-sheet.its", role=self.role)
            if not self.inside
            else say("product-sheet.the-of", role=self.role, inside=self.inside)
        )


def _missing(product: Product, book: Book, inside: str = "") -> list[Lack]:
    """Parts that the product, or one inside it, needs and does not have."""
    needs = assemblies.KINDS[product.assembly.kind].needs(product.assembly)
    there = {p.role for p in product.parts}
    out = [
        Lack(role, inside)
        for role, need in needs.items()
        if (need.pieces or need.ml) and not there & set(STANDS_FOR.get(role, (role,)))
    ]
    for part in product.parts:
        found = book.get(part.of)
        if isinstance(found, Product):
            out += _missing(found, book, found.name)
    return out


def _lacking(missing: list[Lack]) -> list[Remark]:
    return [
        Remark(
            severity="warning",
            says=say("product-sheet.missing-allergens-cost-mass", lack_says=lack.says),
            do=(say("product-sheet.add-part", role=lack.role), say("product-sheet.set-size-nothing-none")),
        )
        for lack in missing
    ]


def _remarks(product: Product, lines: tuple[PartLine, ...], short: list[PartLine], possible: int, wholes: int) -> list[Remark]:
    out: list[Remark] = []
    for line in short:
        lack = line.wants - (line.made or 0.0)
        amount = (
            say("product-sheet.more-pieces", ceil=ceil(lack - 1e-09))
            if line.unit == "pieces"
            else say("product-sheet.more-of", lack=lack, unit=line.unit)
        )
        index = next(i for i, p in enumerate(product.parts) if p.key == line.key)
        out.append(
            Remark(
                severity="warning",
                says=say("product-sheet.enough-decides", line_name=line.name, possible=possible, portions=product.portions),
                do=(say("product-sheet.make-all", amount=amount, portions=product.portions),),
                remedies=(
                    Remedy(
                        says=say("product-sheet.serve-everything-else-comes", possible=possible),
                        field="portions",
                        value=float(possible),
                    ),
                    Remedy(
                        says=say("product-sheet.made", amount=amount), field=f"parts.{index}.made", value=round(line.wants, 3)
                    ),
                )
                if possible > 0
                else (),
            )
        )
    spare = wholes * product.serves - product.portions
    if spare and product.serves > 1:
        out.append(
            Remark(
                severity="note",
                says=say(
                    "product-sheet.give-portions-asked",
                    wholes=wholes,
                    serves=product.serves,
                    wholes2=wholes * product.serves,
                    spare=spare,
                ),
                remedies=(
                    Remedy(
                        says=say("product-sheet.count", wholes=wholes * product.serves),
                        field="portions",
                        value=float(wholes * product.serves),
                    ),
                ),
            )
        )
    for line in lines:
        out += [
            Remark(
                severity="warning",
                says=say("product-sheet.x", line_name=line.name, w=w),
                do=(say("product-sheet.open-own-sheet"),),
            )
            for w in line.warnings[:1]
        ]
    return out
