"""What is in a portion: allergens, egg and how it was treated, alcohol that stays, sugar, energy, keep-until, cost.

Energy: EU Regulation 1169/2011, annex XIV, kJ/g: fat 37, protein 17, carbohydrate 17, fibre 8, alcohol 29.
Alcohol that stays: US agricultural retention table, rounded.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Literal

from gullpeak.core.kitchen.ingredients import INGREDIENTS, Ingredient
from gullpeak.core.kitchen.keeping import KeepRow, keeps
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.kitchen.mixture import KJ_G, Mixture, energy_kj_g
from gullpeak.core.kitchen.own import not_known
from gullpeak.core.physics import lethality
from gullpeak.core.physics.lethality import Label
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.ways import Moment
from gullpeak.core.sheet import verdict
from gullpeak.core.sheet.verdict import Verdict
from gullpeak.core.value import NamedMass, Said, Value, known, perhaps, say, written

KJ_KCAL = 4.184


def may_hold_alcohol(item: Ingredient) -> bool:
    """Return whether there is alcohol in it, or may be: of what nobody describes it is not known."""
    return item.alcohol > 0 or item.unknown("alcohol")


def alcohol_stays(recipe: Recipe, moment: Moment) -> tuple[float, Said]:
    """Return the share of alcohol that stays, and how it was heated."""
    way = recipe.way
    if moment == "syrup":
        return 0.40, say("label.boiled")
    if moment in ("bath", "off heat"):
        return 0.85, say("label.stirred-hot")
    if way.cooked == "baked":
        return (1.0, say("label.heated")) if recipe.heats_less else (0.40, say("label.baked"))
    if way.cooked == "simmered" and moment != "cooled":
        if recipe.heats_less:
            return 0.85, say("label.stirred-hot")
        return (0.40, say("label.simmered-min")) if way.simmer_min >= 10 else (0.85, say("label.stirred-hot"))
    return 1.0, say("label.heated")


@dataclass
class Held:
    """What a number of portions hold: grams by ingredient, alcohol left, the treatment of egg; `unknown`: of what some has no amount, by part."""

    grams: dict[Ingredient, float] = field(default_factory=dict)
    unknown: dict[Ingredient, set[str]] = field(default_factory=dict)
    undescribed: dict[Ingredient, set[str]] = field(default_factory=dict)
    """Ingredients of which something in them is not known, by part"""
    sources: dict[Ingredient, set[str]] = field(default_factory=dict)
    alcohol_g: float = 0.0
    alcohol_how: dict[Said, float] = field(default_factory=dict)
    lost_g: float = 0.0
    egg: list[tuple[Verdict, str]] = field(default_factory=list)

    def add(self, recipe: Recipe, lines: Iterable[tuple[Ingredient, Moment, float | None]], lost_g: float, egg: Verdict) -> None:
        """Put a part in: its ingredients with their moments and grams (None: not known), the water it lost, its treatment."""
        for item, moment, grams in lines:
            self.sources.setdefault(item, set()).add(recipe.name)
            if not item.known:
                self.undescribed.setdefault(item, set()).add(recipe.name)
            if grams is None:
                self.unknown.setdefault(item, set()).add(recipe.name)
                continue
            self.grams[item] = self.grams.get(item, 0.0) + grams
            if item.alcohol:
                share, how = alcohol_stays(recipe, moment)
                left = grams * item.alcohol * share
                self.alcohol_g += left
                self.lost_g += grams * item.alcohol - left
                note = say("label.stays", item_name=item.name, how=how, share_pct=100 * share)
                self.alcohol_how[note] = self.alcohol_how.get(note, 0.0) + left
        self.lost_g += lost_g
        self.egg.append((egg, recipe.name))

    @property
    def mixture(self) -> Mixture:
        """Everything whose amount is known."""
        return Mixture.of(self.grams.items())

    def at_least(self, what: "PerPortion") -> bool:
        """Return whether there is more of this in it than is known: of something with no amount, or in something not described."""
        if what == "mass":
            return bool(self.unknown)
        hidden = any(item.unknown(what) for item in (*self.undescribed, *self.unknown))
        return hidden or any(_share(item, what) > 0 for item in self.unknown)

    def has(self, item: Ingredient) -> bool:
        """Return whether an ingredient is in it, however much."""
        return item in self.unknown or self.grams.get(item, 0.0) > 0

    def holds(self, key: str) -> bool:
        """Return whether the larder's ingredient of that key is in it, however much."""
        return any(item.key == key and self.has(item) for item in self.sources)


PerPortion = Literal["mass", "energy", "sugar", "fat", "protein", "starch", "alcohol"]
FIGURES: tuple[PerPortion, ...] = ("mass", "energy", "sugar", "fat", "protein", "starch")
"""Figures of a portion that more of something would add to."""


def _share(item: Ingredient, what: PerPortion) -> float:
    return known(item.energy_kj, energy_kj_g(item)) if what == "energy" else float(getattr(item, what))


class Allergen(Value):
    """One that must be named, and where it sits: an ingredient, and the part that holds it."""

    name: str
    within: tuple[Said, ...]


class KeepLine(Value):
    """How long a part or the whole keeps; hours None: not known."""

    what: str
    where: str = ""
    hours: float | None
    source: Said


class LabelSheet(Value):
    """The label of a product, per portion."""

    portions: int
    portion_g: float
    allergens: tuple[Allergen, ...]
    gelatine: bool
    honey: bool
    alcohol_g: float | None
    """None: it contains alcohol, the amount is not known"""
    alcohol_how: tuple[Said, ...]
    egg: Label
    egg_because: Said
    egg_as_made: bool
    """By the batches that every part with egg was made in; else it is what is expected"""
    sugar_g: float
    fat_g: float
    protein_g: float
    starch_g: float
    energy_kj: float
    energy_kcal: float
    keeps: tuple[KeepLine, ...]
    cautions: tuple[Said, ...]
    contains: tuple[NamedMass, ...]
    unknown: tuple[Said, ...] = ()
    """What is in it whose amount is not known, and in which part"""
    at_least: tuple[PerPortion, ...] = ()
    """Figures to which what is not known would add"""
    missing: tuple[Said, ...] = ()
    """Parts it needs and does not have: the label is not complete"""
    cost: float | None = None
    cost_batch: float | None = None
    cost_missing: tuple[Said, ...] = ()
    currency: str = ""


def keep_line(what: str, key: str, rows: tuple[KeepRow, ...]) -> KeepLine:
    """Return how long something keeps by the kitchen's table; no row: not known."""
    row = keeps(rows, key)
    if row is None:
        return KeepLine(what=what, hours=None, source=say("label.known-row-kitchen"))
    return KeepLine(what=what, where=row.where, hours=row.hours, source=written(row.source))


def _named(entry: tuple[Ingredient, set[str]]) -> str:
    """What a table by ingredient is put in order by."""
    return entry[0].name


def work_out(
    held: Held,
    portions: float,
    kitchen: Kitchen,
    keep: tuple[KeepLine, ...],
    cautions: Iterable[Said] = (),
    lacks: Iterable[Said] = (),
) -> LabelSheet:
    """Return the label of `portions` > 0 that hold this together. lacks: parts it needs and does not have."""
    named: dict[str, list[Said]] = {}
    for item, parts in sorted(held.sources.items(), key=_named):
        for word in item.allergens if held.has(item) else ():
            named.setdefault(word, []).append(say("label.within", ingredients_name=item.name, parts=tuple(sorted(parts))))
    egg, whose = min(held.egg, key=lambda e: verdict.rank(e[0].label), default=(verdict.NO_EGG, ""))
    honey = held.holds("honey")
    whole = held.mixture
    kj = whole.energy_kj - KJ_G["alcohol"] * (whole["alcohol"] - held.alcohol_g)  # what boiled off burns no more
    says = list(cautions)
    if egg.label in lethality.FRAIL:
        says.insert(0, lethality.CAUTION)
    if honey:
        says.append(say("label.honey-infants-under-year"))
    says += [say("label.read-its-packet", what=not_known(item)) for item, _ in sorted(held.undescribed.items(), key=_named)]
    strong = held.at_least("alcohol")
    if strong or held.alcohol_g / portions >= 0.05:
        says.append(say("label.alcohol-stays-never-called"))
    prices = {p.ingredient: p.per_kg for p in kitchen.prices}
    unpriced = [
        written(item.name) if item not in held.unknown else say("label.amount-known", ingredients_name=item.name)
        for item, _ in sorted(held.sources.items(), key=_named)
        if item.key != "water" and held.has(item) and (item in held.unknown or item.key not in prices)
    ]
    batch = cost_of({item.key: g for item, g in held.grams.items()}, kitchen)
    return LabelSheet(
        portions=round(portions),
        portion_g=(whole.mass - held.lost_g) / portions,
        allergens=tuple(Allergen(name=w, within=tuple(named[w])) for w in sorted(named, key=lambda w: (w != "egg", w))),
        gelatine=held.holds("gelatine"),
        honey=honey,
        alcohol_g=None if strong else held.alcohol_g / portions,
        alcohol_how=tuple(say("label.g", how=how, left_g=left / portions) for how, left in held.alcohol_how.items()),
        egg=egg.label,
        egg_because=say("label.whose", whose=whose, because=egg.because) if whose and egg.label != "no egg" else egg.because,
        egg_as_made=all(e.as_made or e.label == "no egg" for e, _ in held.egg),
        sugar_g=whole["sugar"] / portions,
        fat_g=whole["fat"] / portions,
        protein_g=whole["protein"] / portions,
        starch_g=whole["starch"] / portions,
        energy_kj=kj / portions,
        energy_kcal=kj / KJ_KCAL / portions,
        keeps=keep,
        cautions=tuple(dict.fromkeys(says)),
        contains=tuple(
            NamedMass(name=written(item.name), grams=g / portions)
            for item, g in sorted(held.grams.items(), key=lambda kg: -kg[1])
            if g > 0
        ),
        cost=perhaps(lambda cost: cost / portions, batch),
        cost_batch=batch,
        unknown=tuple(
            say("label.unknown-in", ingredients_name=item.name, parts=tuple(sorted(parts)))
            for item, parts in sorted(held.unknown.items(), key=_named)
        )
        + tuple(
            say("label.undescribed", what=not_known(item), parts=tuple(sorted(parts)))
            for item, parts in sorted(held.undescribed.items(), key=_named)
            if item not in held.unknown
        ),
        at_least=tuple(name for name in FIGURES if held.at_least(name)),
        missing=tuple(lacks),
        cost_missing=tuple(unpriced) if prices else (),
        currency=kitchen.currency,
    )


def cost_of(grams: Mapping[str, float], kitchen: Kitchen) -> float | None:
    """Return what these cost, by their keys; what has no price counts nothing. None where the kitchen keeps no prices."""
    prices = {p.ingredient: p.per_kg for p in kitchen.prices}
    if not prices:
        return None
    return sum(g / 1000 * prices.get(key, 0.0) for key, g in grams.items())


def spirit_free(recipe: Recipe) -> Recipe:
    """Return the recipe with juice for its wine and water for its spirit: the same water in it, the same sugar.

    >>> from gullpeak.core.recipe.recipe import Heat, RecipeLine
    >>> lines = (RecipeLine(ingredient="egg-yolk", mass_g=100), RecipeLine(ingredient="caster", mass_g=85, moment="bath"),
    ...          RecipeLine(ingredient="fortified-wine", mass_g=120, moment="bath"))
    >>> warm = Recipe(name="Foam", school="sabayon", base="yolk", lines=lines, heat=Heat(target_c=78))
    >>> [(line.ingredient, round(line.mass_g, 1)) for line in spirit_free(warm).lines]
    [('egg-yolk', 100.0), ('caster', 86.8), ('fruit-juice', 102.3)]
    """
    sugar_g = 0.0
    lines = []
    for line in recipe.lines:
        item = line.item
        if item.role not in ("wine", "spirit"):
            lines.append(line)
            continue
        swap = INGREDIENTS["fruit-juice" if item.role == "wine" else "water"]
        mass_g = None if line.mass_g is None else line.mass_g * item.water / swap.water
        if line.mass_g is not None and mass_g is not None:
            sugar_g += line.mass_g * item.sugar - mass_g * swap.sugar
        lines.append(line.model_copy(update={"ingredient": swap.key, "own": None, "mass_g": mass_g, "written": "", "or_g": None}))
    first = next((s for s in recipe.sugars if s.ratio is not None), None)
    if first is not None and sugar_g:
        was = lines[first.at]
        more = known(was.mass_g, 0.0) + sugar_g / max(first.item.sugar, 0.1)
        lines[first.at] = was.model_copy(update={"mass_g": max(0.0, more), "written": "", "or_g": None})
    return recipe.model_copy(update={"lines": tuple(lines)})
