"""Every remark of a product's sheet: there on one side of its edge, not on the other."""

import ast
from pathlib import Path
from typing import Any

import pytest

from gullpeak.core.product import product_sheet
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.value import Remark, Value
from gullpeak.demo.book import BOOK, KITCHEN
from tests.words import en

PRODUCT = Path(product_sheet.__file__).parent


def said(found: Any) -> set[str]:
    """The keys of all remarks within."""
    match found:
        case Remark():
            return {found.says.key}
        case Value():
            return said([getattr(found, name) for name in type(found).model_fields])
        case dict():
            return said(list(found.values()))
        case tuple() | list():
            return {key for one in found for key in said(one)}
    return set()


def remarks(key: str, book: dict[str, Recipe | Product] = BOOK, **change: Any) -> set[str]:
    """What is said of a product of the demo's book with something changed: `assembly_` before a field of how it is put together."""
    data = book[key].model_dump()
    for name, value in change.items():
        if name.startswith("assembly_"):
            data["assembly"][name.removeprefix("assembly_")] = value
        else:
            data[name] = value
    changed = Product.model_validate(data)
    return said(product_sheet.work_out(changed, {**book, key: changed}, KITCHEN, key))


TABLE: tuple[tuple[str, str, str, Any, Any], ...] = (
    ("filled.filled-min-ahead-lost", "sea-wall-filled", "between_min", 78, 80),
    ("filled.layers-stand-over-glass", "watch-glasses", "diameter_mm", 57.5, 56.8),
    ("filled.warm-stands-min", "watch-glasses", "between_min", 15, 15.2),
    ("jacket.base-stands-under-coat", "drift-jackets", "overhang_mm", 18, 19),
    ("jacket.gold-comes-min-core", "drift-jackets", "oven_c", 191, 189),
    ("jacket.min-core-been-soft", "drift-jackets", "core_c", -13, -12),
    ("jacket.ridges-only-min-gold", "drift-jackets", "minutes", 2.8, 2.7),
    ("jacket.ridges-scorch", "drift-jackets", "minutes", 6.65, 6.8),
    ("jacket.thinnest-spot-cannot-thicker", "drift-jackets", "thinnest_mm", 18, 19),
    ("mould.nothing-sets-without-gelatine", "heather-parfait", "set_by", "freezer", "cold"),
    ("pie.ridges-scorch-min", "gorse-pie", "minutes", 16.6, 16.9),
    ("pie.ridges-then-gold-comes", "gorse-pie", "minutes", 5.35, 5.2),
    ("pie.weeping", "gorse-pie", "filling_c", 60, 59),
    ("product-sheet.missing-allergens-cost-mass", "lamp-room-pie", "foam", "none", "cap"),
    ("product-sheet.x", "drift-jackets", "core_mm", 70, 71),
    ("roll.likely-crack", "spindrift-roll", "inner_mm", 10, 9),
    ("roll.margin-under-twice-fillings", "frostline-roll", "filling_mm", 19.8, 20.1),
    ("roll.may-crack", "spindrift-roll", "inner_mm", 13, 12),
    ("roll.should-roll", "spindrift-roll", "inner_mm", 13, 14),
    ("roll.should-roll-but-only", "frostline-roll", "inner_mm", 19.6, 19.3),
    ("roll.slices-fall-over", "spindrift-roll", "width_mm", 181, 178),
    ("roll.thinner-mean-dries-first", "spindrift-roll", "readings_mm", (14, 14, 10.8, 14), (14, 14, 10.4, 14)),
)
"""A remark, a product of the demo's, a field of how it is put together, without it and with it."""


@pytest.mark.parametrize(("key", "product", "field", "without", "with_"), TABLE)
def test_a_remark_is_made_past_its_edge_and_not_before(key: str, product: str, field: str, without: Any, with_: Any):
    assert key not in remarks(product, **{f"assembly_{field}": without})
    assert key in remarks(product, **{f"assembly_{field}": with_})


def test_a_soft_core_wets_its_own_shell():
    crisp = BOOK["sea-wall-nests"].model_copy(update={"texture": "crisp"})
    assert "filled.soft-core-wets-own" in remarks("sea-wall-filled")
    assert "filled.soft-core-wets-own" not in remarks("sea-wall-filled", {**BOOK, "sea-wall-nests": crisp})


def test_a_mould_holds_what_it_holds():
    """A loaf of 24 by 8 by 6.5 cm: 1248 ml, and three in a hundred over it are let go."""
    parts = [p.model_dump() | {"unit": "ml"} for p in BOOK["heather-parfait"].parts]

    def of(ml: float) -> set[str]:
        return remarks("heather-parfait", parts=[parts[0] | {"amount": 600}, parts[1] | {"amount": ml - 600}])

    assert "mould.mould" not in of(1280)
    assert "mould.mould" in of(1290)


def test_portions_of_a_whole_that_nobody_asked_for_are_told():
    assert "product-sheet.give-portions-asked" not in remarks("gorse-pie", portions=16)
    assert "product-sheet.give-portions-asked" in remarks("gorse-pie", portions=17)


def test_too_little_made_of_a_part_decides_how_many_there_are():
    lines = product_sheet.work_out(BOOK["sea-wall-filled"], BOOK, KITCHEN, "sea-wall-filled").parts
    cream = next(line for line in lines if line.key == "cream")
    parts = [p.model_dump() for p in BOOK["sea-wall-filled"].parts]

    def with_made(share: float) -> set[str]:
        changed = [p | ({"made": round(cream.wants * share, 3)} if p["key"] == "cream" else {}) for p in parts]
        return remarks("sea-wall-filled", parts=changed)

    assert "product-sheet.enough-decides" not in with_made(1.001)
    assert "product-sheet.enough-decides" in with_made(0.95)


def test_no_remark_of_a_product_is_missing_here():
    made = set()
    for path in PRODUCT.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "Remark":
                says = next(k.value for k in node.keywords if k.arg == "says")
                keys = [n.value for n in ast.walk(says) if isinstance(n, ast.Constant) and isinstance(n.value, str)]
                made |= {k for k in keys if "." in k and not k.endswith(".")}
    tested = Path(__file__).read_text()
    assert {key for key in made if f'"{key}"' not in tested} == set()


@pytest.mark.parametrize(
    ("core_c", "thinnest_mm", "at"), [(-13, 6, [1.0]), (-13, 8, [1.5]), (-13, 12, [3.5]), (-12, 6, []), (-7, 8, [])]
)
def test_a_soft_core_comes_out_before_it_softens_or_not_at_all(core_c: float, thinnest_mm: float, at: list[float]):
    """To the half minute below; in less than one nothing browns, and none is promised."""
    data = BOOK["drift-jackets"].model_dump()
    data["assembly"] |= {"core_c": core_c, "thinnest_mm": thinnest_mm}
    made = product_sheet.work_out(Product.model_validate(data), BOOK, KITCHEN, "drift-jackets").assembled
    (remark,) = (r for r in made.remarks if r.says.key == "jacket.min-core-been-soft")
    assert [remedy.value for remedy in remark.remedies] == at
    assert [en(remedy.says) for remedy in remark.remedies] == [f"Out at {minutes:g} min" for minutes in at]
    assert all(minutes <= made.figures["soft"].value < minutes + 0.5 for minutes in at)
