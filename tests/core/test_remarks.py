"""Every remark of the sheet's stations: there on one side of its edge, not on the other."""

import ast
from pathlib import Path
from typing import Any

import pytest

import gullpeak.core.sheet.stations as stations
from gullpeak.core.kitchen.egg import Egg
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.kitchen import Kitchen, Pan
from gullpeak.core.product.builds import STARTED
from gullpeak.core.recipe.programme import OvenStep, Programme
from gullpeak.core.recipe.recipe import Heat, Recipe, RecipeLine, Scale
from gullpeak.core.sheet.earlier import AdditionByRatio, SugarByRatio
from gullpeak.core.sheet.sheet import work_out
from tests.core.scenes import KITCHEN, recipe

MIXER, TRAY, OVEN = KITCHEN.mixers[0], KITCHEN.trays[0], KITCHEN.ovens[0]
OPEN = OvenStep(kind="heat", set_c=95)


def caster(ratio: float, **more: Any) -> tuple[SugarByRatio, ...]:
    return (SugarByRatio(kind="caster", ratio=ratio, **more),)


def plus(ingredient: str, ratio: float | None, moment: str = "froth") -> dict[str, Any]:
    return {"additions": (AdditionByRatio(ingredient=ingredient, ratio=ratio, moment=moment),)}


def sugars(**more: Any) -> dict[str, Any]:
    return {"sugars": caster(1.6, **more)}


def heat(*steps: OvenStep, **more: Any) -> dict[str, Any]:
    return {"programme": Programme(steps=steps, **more)}


def pieces(n: float, by: str = "pieces") -> dict[str, Any]:
    return {"scale": Scale(by=by, amount=n)}


def kitchen(**change: Any) -> dict[str, Any]:
    return {"kitchen": KITCHEN.model_copy(update=change)}


def mixer(**change: Any) -> dict[str, Any]:
    return kitchen(mixers=(MIXER.model_copy(update=change),))


SYRUP: dict[str, Any] = {
    "school": "italian",
    "sugars": caster(1.6, moment="syrup"),
    "additions": (AdditionByRatio(ingredient="water", ratio=0.5, moment="syrup"),),
    "heat": Heat(target_c=118),
    "shape": None,
    "programme": None,
    "portion_g": 40,
}
SWISS: dict[str, Any] = {"school": "swiss", "sugars": caster(1.6, moment="bath"), "heat": Heat(target_c=52)}
CREAM: dict[str, Any] = {"base": "yolk", "shape": None, "programme": None, "portion_g": 60}
SABAYON: dict[str, Any] = {
    **CREAM,
    "school": "sabayon",
    "sugars": caster(0.8, moment="bath"),
    "additions": (AdditionByRatio(ingredient="fortified-wine", ratio=1.0, moment="bath"),),
    "heat": Heat(target_c=79),
}
WITH = {"gelatine": 0.05, "cream": 0.5, "chocolate": 0.5, "butter": 0.3}
CURD: dict[str, Any] = {
    **CREAM,
    "school": "curd",
    "sugars": caster(1.0, moment="bath"),
    "additions": (AdditionByRatio(ingredient="lemon-juice", ratio=0.8, moment="bath"),),
    "heat": Heat(target_c=78),
}
WHIPPED: dict[str, Any] = {
    "school": "whipped cream",
    "base": "other",
    "on": "cream",
    "sugars": (),
    "shape": None,
    "programme": None,
    "portion_g": 40,
}


def late(of: dict[str, Any], ingredient: str) -> dict[str, Any]:
    return {
        **of,
        "additions": (*of["additions"], AdditionByRatio(ingredient=ingredient, ratio=WITH[ingredient], moment="off heat")),
    }


TABLE: list[tuple[str, dict[str, Any], dict[str, Any]]] = [
    # weigh
    ("weigh.eggs-leave-over", pieces(3, "eggs"), pieces(2.6, "eggs")),
    ("weigh.bowl-batches-meet-broken", pieces(1, "eggs"), pieces(2, "eggs")),
    ("weigh.carton-white-without-acid", {"egg": Egg(kind="carton"), **plus("lemon-juice", 0.02)}, {"egg": Egg(kind="carton")}),
    ("weigh.known-scaled", plus("cocoa", 0.05, "folded last"), plus("cocoa", None, "folded last")),
    ("weigh.per-white-over-twice", plus("cream-of-tartar", 0.0159), plus("cream-of-tartar", 0.0161)),
    ("weigh.starch-sugar-about-usual", plus("cornflour", 0.065), plus("cornflour", 0.085)),
    ("weigh.two-amounts", {}, {"typed": {"or_g": 170.0}}),
    ("weigh.is-that-meant", {"typed": {"mass_g": 399.0}}, {"typed": {"mass_g": 401.0}}),
    ("balance.short", {}, {"typed": {"mass_g": 60.0}}),
    ("weigh.not-in-this-kitchen", {"mixer": "arm"}, {"mixer": "sold-long-ago"}),
    ("weigh.undescribed", plus("cocoa", 0.05), plus("lavender", 0.01)),
    # dissolve
    ("dissolve.sugar-cannot-dissolve-will", {"sugars": caster(1.4)}, {"sugars": caster(2.2)}),
    ("dissolve.edge-last-grains-take", {"sugars": caster(1.5)}, {"sugars": caster(1.72)}),
    (
        "dissolve.smooth-only-min-after",
        {"sugars": caster(1.2)},
        {"sugars": (SugarByRatio(kind="granulated", ratio=1.68, moment="stiff"),)},
    ),
    # heat
    ("heat.syrup-foams-boils-over", {**SYRUP, **pieces(200, "base")}, {**SYRUP, **pieces(1500, "base")}),
    (
        "heat.nothing-pan-keeps-sugar",
        {
            **SYRUP,
            "sugars": (
                SugarByRatio(kind="caster", ratio=1.3, moment="syrup"),
                SugarByRatio(kind="glucose-syrup", ratio=0.3, moment="syrup"),
            ),
        },
        SYRUP,
    ),
    (
        "heat.honey-starts-sugar-boils",
        SYRUP,
        {**SYRUP, "school": "honey", "sugars": (SugarByRatio(kind="honey", ratio=1.6, moment="syrup"),), "additions": ()},
    ),
    ("heat.started", SYRUP, {**SYRUP, "heat": Heat(target_c=118, start_whites="together")}),
    ("heat.little-syrup-runs-past", {**SYRUP, **pieces(61, "base")}, {**SYRUP, **pieces(59, "base")}),
    # over the bath
    ("bath.past-sets-scrambles", {**SABAYON, "heat": Heat(target_c=79)}, {**SABAYON, "heat": Heat(target_c=93)}),
    ("bath.past-egg-like-sets", {**CURD, "heat": Heat(target_c=78)}, {**CURD, "heat": Heat(target_c=94)}),
    ("bath.thickens-only-taken-off", {**CURD, "heat": Heat(target_c=82)}, {**CURD, "heat": Heat(target_c=62)}),
    ("bath.foam-holds-ribbon-thins", {**SABAYON, "heat": Heat(target_c=82)}, {**SABAYON, "heat": Heat(target_c=62)}),
    ("bath.under-sugar-ratio-slow", {**SWISS, "heat": Heat(target_c=45)}, {**SWISS, "heat": Heat(target_c=44)}),
    ("bath.thins-when-wine-goes", CURD, SABAYON),
    ("bath.butter-goes-between-colder", CURD, late(CURD, "butter")),
    # whisk
    ("whisk.foam-overflows-bowl-safe", pieces(0.98, "bowl"), pieces(900, "base")),
    ("whisk.bowl-too-little-whisk", mixer(min_fill_pct=1), {**mixer(min_fill_pct=60), **pieces(90, "base")}),
    ("whisk.plastic-bowl-holds-fat", mixer(bowl_material="glass"), mixer(bowl_material="plastic")),
    ("whisk.fat-whisked-foam-loses", plus("cocoa", 0.02, "folded last"), plus("cocoa", 0.02, "start")),
    # shape
    ("shape.trays-want-oven-loads", pieces(12), {**pieces(200), **kitchen(trays=(TRAY.model_copy(update={"count": 40}),))}),
    ("shape.trays-wanted-kitchen", pieces(12), {**pieces(60), **kitchen(trays=(TRAY.model_copy(update={"count": 1}),))}),
    ("shape.foam-left-over", pieces(12), pieces(250, "base")),
    # dry
    ("dry.does-get-heat-however", heat(OPEN), {**heat(OvenStep(kind="heat", set_c=50)), "texture": "marshmallow"}),
    (
        "dry.too-short-when-heat",
        heat(OvenStep(kind="heat", set_c=95, minutes=600)),
        heat(OvenStep(kind="heat", set_c=95, minutes=20)),
    ),
    (
        "dry.too-long-past-after",
        {**heat(OvenStep(kind="heat", set_c=120, minutes=60)), "texture": "marshmallow"},
        {**heat(OvenStep(kind="heat", set_c=120, minutes=600)), "texture": "marshmallow"},
    ),
    ("dry.ridges-turn-before-dry", heat(OPEN), heat(OvenStep(kind="heat", set_c=150, minutes=120))),
    (
        "dry.core-never-passes-stays",
        {**heat(OvenStep(kind="heat", set_c=130, minutes=90)), "texture": "marshmallow"},
        {**heat(OvenStep(kind="heat", set_c=60, minutes=90)), "texture": "marshmallow"},
    ),
    ("dry.fan", {**heat(OPEN, fan=False), "oven": "slow"}, {**heat(OPEN), "oven": "slow"}),
    (
        "dry.oven-fills-steam-load",
        pieces(12),
        {**pieces(60), **kitchen(ovens=(OVEN.model_copy(update={"vent_m3_h": 0.5, "tray_slots": 9}),))},
    ),
    # finish
    ("finish.room-humid-shells-sticky", kitchen(room_rh_pct=65), kitchen(room_rh_pct=66)),
    (
        "finish.honey-takes-water-air",
        {},
        {"school": "honey", "sugars": (SugarByRatio(kind="honey", ratio=1.6, moment="syrup"),), "heat": Heat(target_c=119)},
    ),
    ("finish.soft-core-gives-water", {"texture": "crisp"}, {"texture": "soft centre"}),
    ("finish.gold-leaf-gelatine-firm", SABAYON, late(SABAYON, "gelatine")),
    ("finish.whipped-cream-goes-sabayon", CURD, late(SABAYON, "cream")),
    ("finish.fold-when-chocolate-sabayon", late(CURD, "chocolate"), late(SABAYON, "chocolate")),
    ("finish.fat-sugar", CURD, WHIPPED),
    ("finish.fat-holds-little-air", {**WHIPPED, **plus("soured-cream", 0.3, "start")}, {**WHIPPED, **plus("milk", 1.1, "start")}),
]
ALWAYS = {"heat.egg", "bath.egg"}
"""Said whenever egg is heated: what may be said of it is tested with the verdicts."""
TWO_OF_ONE = {"bath.close-under-sets-hot"}
"""The same place, a step before: between the two of `bath.past-sets-scrambles`."""


def remarks(change: dict[str, Any]) -> set[str]:
    given = dict(change)
    here: Kitchen = given.pop("kitchen", KITCHEN)
    typed = given.pop("typed", {})
    made: Recipe = recipe(**given)
    if typed:
        first, sugar, *rest = made.lines
        made = made.model_copy(update={"lines": (first, sugar.model_copy(update=typed), *rest), "pieces": 12, "scale": Scale()})
    return {r.says.key for s in work_out(made, here).stations() for r in s.remarks}


@pytest.mark.parametrize(("key", "without", "with_"), TABLE, ids=[row[0] for row in TABLE])
def test_a_remark_is_made_past_its_edge_and_not_before(key, without, with_):
    assert key not in remarks(without)
    assert key in remarks(with_)


def test_close_to_setting_is_told_before_past_it():
    told = {c: remarks({**SABAYON, "heat": Heat(target_c=c)}) for c in range(77, 90)}
    close = [c for c, keys in told.items() if "bath.close-under-sets-hot" in keys]
    past = [c for c, keys in told.items() if "bath.past-sets-scrambles" in keys]
    assert close
    assert past
    assert max(close) < min(past)
    assert 79 not in close


def test_no_remark_of_a_station_is_missing_here():
    said = set()
    for path in Path(stations.__path__[0]).glob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "Remark":
                says = next(k.value for k in node.keywords if k.arg == "says")
                said |= {
                    n.value for n in ast.walk(says) if isinstance(n, ast.Constant) and isinstance(n.value, str) and "." in n.value
                }
    assert said - {row[0] for row in TABLE} == ALWAYS | TWO_OF_ONE


def test_a_boil_over_is_told_by_the_pan_there_is():
    small = kitchen(pans=(Pan(key="p", name="Small pan", volume_l=0.4),))
    assert "heat.syrup-foams-boils-over" in remarks({**SYRUP, **pieces(200, "base"), **small})


@pytest.mark.parametrize(
    ("share", "word"),
    [
        (0.045, "finish.barely-sweet"),
        (0.055, "finish.beside-sweet-meringue"),
        (0.105, "sweet"),
        (0.155, "sweet"),
        (0.165, "finish.very-sweet-beside-meringue"),
    ],
)
def test_how_sweet_a_cream_is_beside_meringue(share: float, word: str):
    cream = STARTED["cream"]
    base = cream.lines[0]
    own = INGREDIENTS[base.ingredient].sugar
    sugar_g = 100 * (share - own) / (INGREDIENTS["icing"].sugar - share)
    lines = (base.model_copy(update={"mass_g": 100.0, "written": ""}), RecipeLine(ingredient="icing", mass_g=sugar_g))
    sheet = work_out(
        Recipe.model_validate({**cream.model_dump(), "scale": Scale(), "lines": [line.model_dump() for line in lines]}), KITCHEN
    )
    (told,) = (r.says.facts["word"] for r in sheet.finish.remarks if r.says.key == "finish.fat-sugar")
    assert getattr(told, "key", told) == word
