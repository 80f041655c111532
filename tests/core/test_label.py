"""The label: what is hidden is named, what stays is counted, what is not known is said."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.bench.process import steps
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.keeping import KEEPING
from gullpeak.core.kitchen.kitchen import Price
from gullpeak.core.product.product_sheet import work_out as product_sheet
from gullpeak.core.recipe.recipe import Recipe, RecipeLine, Scale
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet.earlier import AdditionByRatio, SugarByRatio
from gullpeak.core.sheet.label import Held, alcohol_stays, spirit_free, work_out
from gullpeak.core.sheet.sheet import work_out as recipe_sheet
from gullpeak.core.sheet.verdict import NO_EGG
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from tests.core.book import BOOK, sheet
from tests.core.scenes import additions_of, by_ratio, changed
from tests.words import en, refused


def held_of(key: str, grams: dict[str, float], moment="start") -> Held:
    held = Held()
    held.add(BOOK[key], [(INGREDIENTS[k], moment, g) for k, g in grams.items()], 0.0, NO_EGG)
    return held


def test_allergens_hidden_inside_ingredients_are_named_with_where():
    label = sheet("drift-jackets").label
    named = {a.name: en(a.within) for a in label.allergens}
    assert set(named) == {"egg", "gluten", "milk"}
    assert "vanilla ice cream in Vanilla cores" in named["egg"]
    assert named["milk"] == ("vanilla ice cream in Vanilla cores",)
    assert next(iter(named)) == "egg"
    assert {"nuts", "sulphites"} <= {a.name for a in sheet("heather-parfait").label.allergens}
    assert "soya" in {a.name for a in sheet("lamp-room-pie").label.allergens}
    assert sheet("lamp-room-pie").label.gelatine


def test_energy_by_hand():
    """100 g of sugar, 50 g of butter: 17 × 100.3 + 37 × 41 + 17 × 0.5 kJ."""
    label = work_out(held_of("pie-case", {"caster": 100, "butter": 50}), 1, KITCHEN, ())
    assert label.energy_kj == pytest.approx(17 * (100 + 50 * 0.006) + 37 * 41 + 17 * 0.5)
    assert label.energy_kcal == pytest.approx(label.energy_kj / 4.184)
    assert label.portion_g == pytest.approx(150)


@pytest.mark.parametrize(
    ("key", "moment", "share"),
    [
        ("watchkeepers-sabayon", "bath", 0.85),
        ("watchkeepers-sabayon", "off heat", 0.85),
        ("watchkeepers-sabayon", "cooled", 1.0),
        ("fogsignal-topping", "syrup", 0.40),
        ("bramble-compote", "start", 0.40),
        ("apricot-juice", "start", 0.85),
        ("soaked-berries", "start", 1.0),
        ("thin-sponge", "start", 0.40),
    ],
)
def test_alcohol_stays_by_how_it_was_heated(key, moment, share):
    assert alcohol_stays(BOOK[key], moment)[0] == share
    held = held_of(key, {"spirit": 100}, moment)
    assert held.alcohol_g == pytest.approx(33.4 * share)
    assert work_out(held, 1, KITCHEN, ()).portion_g == pytest.approx(100 - 33.4 * (1 - share))


@given(st.floats(0.1, 2.0), st.sampled_from(["fortified-wine", "white-wine", "spirit"]), st.floats(0.6, 2.0))
def test_without_spirit_the_water_and_the_sugar_stay(ratio, wine, sugar):
    recipe = changed(
        RECIPES["watchkeepers-sabayon"],
        sugars=(SugarByRatio(kind="caster", ratio=sugar, moment="bath"),),
        additions=(AdditionByRatio(ingredient=wine, ratio=ratio, moment="bath"),),
    )
    free = spirit_free(recipe)

    def total(r: Recipe, what: str) -> float:
        parts = [(s.key, s.ratio) for s in r.sugars] + [(a.key, a.ratio) for a in r.additions]
        return sum(getattr(INGREDIENTS[k], what) * x for k, x in parts)

    assert total(free, "alcohol") == 0
    assert total(free, "water") == pytest.approx(total(recipe, "water"))
    assert total(free, "sugar") == pytest.approx(total(recipe, "sugar"), rel=1e-6)


def test_the_label_without_spirit_is_offered_where_there_is_any():
    made = sheet("watch-glasses")
    assert made.label.alcohol_g > 3
    assert made.spirit_free.alcohol_g == 0
    assert made.spirit_free.portion_g == pytest.approx(made.label.portion_g, rel=0.04)
    assert "never call it alcohol-free" in " ".join(en(made.label.cautions))
    assert sheet("gorse-pie").spirit_free is None


def test_the_worst_egg_decides():
    white = sheet("gorse-pie", assembly={"colour": "left white"})
    assert white.label.egg == "raw"
    assert "Gale foam" in en(white.label.egg_because)
    assert sheet("sea-wall-filled").label.egg == "baked, not validated"
    assert any("immune-compromised" in c for c in en(white.label.cautions))


def test_empty_and_filled_keep_differently_and_no_row_is_not_known():
    keeps = {k.what: k.hours for k in sheet("sea-wall-filled").label.keeps}
    assert keeps["whole"] == 4
    assert keeps["Sea-wall nests"] == 24
    bare = KITCHEN.model_copy(update={"keeping": tuple(k for k in KEEPING if k.key != "filled-shell")})
    unknown = product_sheet(PRODUCTS["sea-wall-filled"], BOOK, bare).label.keeps[0]
    assert unknown.hours is None
    assert "not known" in en(unknown.source)
    assert all(row.source for row in KEEPING)


def test_honey_is_not_for_infants():
    label = sheet("heather-parfait").label
    assert label.honey
    assert any("infants" in c for c in en(label.cautions))


def test_cost_only_with_prices_and_what_has_none_is_told():
    assert sheet("gorse-pie").label.cost is None
    priced = KITCHEN.model_copy(
        update={"prices": (Price(ingredient="butter", per_kg=10), Price(ingredient="egg-white", per_kg=4)), "currency": "cr"}
    )
    made = product_sheet(PRODUCTS["gorse-pie"], BOOK, priced)
    butter = sum(c.grams for c in made.label.contains if en(c.name) == "Butter") * 8
    white = sum(c.grams for c in made.label.contains if en(c.name) == "Egg white") * 8
    assert made.label.cost_batch == pytest.approx(butter / 100 + white * 0.004, rel=1e-6)
    assert made.label.cost == pytest.approx(made.label.cost_batch / 8)
    assert "Caster sugar" in en(made.label.cost_missing)
    whites = next(item for item in made.left if item.part == "white")
    assert whites.cost == pytest.approx(whites.amount * 0.004)


def test_a_portion_weighs_what_is_in_it_less_what_was_lost():
    made = sheet("wreck-glasses")
    mass = sum(p.wants * (batching.size(p.recipe, KITCHEN).density if p.unit == "ml" else 1.0) for p in made.parts)
    assert made.label.portion_g == pytest.approx(mass / 6, rel=0.03)


@pytest.mark.parametrize("key", sorted(k for k, r in RECIPES.items() if r.base == "other" or r.school == "sponge"))
def test_every_part_has_its_sheet_and_its_steps(key):
    made = recipe_sheet(RECIPES[key], KITCHEN)
    assert made.whisk is None
    assert made.dry is None
    batch = batching.size(RECIPES[key], KITCHEN)
    assert sum(line.mass_g for line in made.weigh.lines) == pytest.approx(batch.base_g * batch.total_ratio)
    assert batch.foam_g >= batch.pieces * batch.piece_g - 0.02  # the demo is written to the hundredth of a gram
    line = steps(made).steps
    assert line[-1].key == "finish"
    assert {a.step for s in line for a in s.after} <= {s.key for s in line}
    assert made.finish.figures["holds"].value > 0


def test_thickened_juice_follows_what_the_juice_weighs():
    juice = RECIPES["apricot-juice"]
    plan = recipe_sheet(juice, KITCHEN)
    weighed = recipe_sheet(juice, KITCHEN, batching.Weighed(base_g=plan.base_g * 1.2))
    starch = [next(line.mass_g for line in s.weigh.lines if line.key == "cornflour") for s in (plan, weighed)]
    assert starch[1] == pytest.approx(1.2 * starch[0])
    assert en(steps(plan).steps[0].asks)[0].key == "base"


def test_a_thin_cream_is_told_and_cheese_makes_it_hold():
    thin = changed(RECIPES["sharp-cream"], additions=(AdditionByRatio(ingredient="soured-cream", ratio=1.6, moment="start"),))
    assert any("holds little air" in en(r.says) for r in recipe_sheet(thin, KITCHEN).finish.remarks)
    held = [
        recipe_sheet(RECIPES[k], KITCHEN).finish.figures["holds"].value
        for k in ("plain-cream", "sharp-cream", "cheese-cream", "set-cream")
    ]
    assert held == sorted(held)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"base": "other"}, "say what the ratios are based on"),
        ({"on": "flour"}, "say what the ratios are based on"),
        ({"school": "compote"}, "Compote is based on fruit"),
        ({"school": "compote", "base": "other", "on": "flour"}, "Compote is based on fruit, not on plain flour"),
    ],
)
def test_a_part_rests_on_what_it_can(change, says):
    with refused(ValueError, match=says):
        by_ratio(**{"name": "x", "sugars": ({"kind": "caster", "ratio": 1},), "scale": Scale(by="pieces", amount=1), **change})


def unknown(key: str, **amounts: object) -> dict[str, object]:
    """The book with additions of one of its recipes made unknown, or added so: ingredient to moment."""
    recipe = BOOK[key]
    kept = tuple(a for a in additions_of(recipe) if a.ingredient not in amounts)
    added = tuple(AdditionByRatio(ingredient=i.replace("_", "-"), ratio=None, moment=m) for i, m in amounts.items())
    kept = tuple(a for a in kept if a.ingredient.replace("-", "_") not in amounts)
    return {**BOOK, key: changed(recipe, additions=(*kept, *added))}


def glasses(book):
    return product_sheet(PRODUCTS["watch-glasses"], book, KITCHEN)


def test_spirit_of_no_amount_is_alcohol_of_unknown_amount_and_never_none():
    made = glasses(unknown("watchkeepers-sabayon", fortified_wine="bath"))
    assert made.label.alcohol_g is None
    assert "never call it alcohol-free" in " ".join(en(made.label.cautions))
    assert any(en(a.name) == "sulphites" for a in made.label.allergens)
    assert en(made.label.unknown) == ("Fortified wine in Watch-keeper’s sabayon",)
    assert {"mass", "energy", "sugar"} <= set(made.label.at_least)
    assert "fat" not in made.label.at_least
    assert made.spirit_free.alcohol_g == 0
    assert en(made.spirit_free.unknown) == ("Fruit juice in Watch-keeper’s sabayon",)
    sheet_of = recipe_sheet(unknown("watchkeepers-sabayon", fortified_wine="bath")["watchkeepers-sabayon"], KITCHEN)
    assert sheet_of.finish.figures["alcohol"].value is None
    assert "not known" in en(sheet_of.finish.figures["alcohol"].text)


@pytest.mark.parametrize("ingredient", [k for k, i in INGREDIENTS.items() if i.role not in ("white", "sugar")])
def test_what_is_in_it_is_named_however_little_is_known_of_it(ingredient):
    made = glasses(unknown("watchkeepers-sabayon", **{ingredient.replace("-", "_"): "cooled"})).label
    named = {a.name for a in made.allergens}
    assert set(INGREDIENTS[ingredient].allergens) <= named
    assert any(u.startswith(INGREDIENTS[ingredient].name) for u in en(made.unknown))
    assert made.gelatine == (ingredient == "gelatine")


def test_cost_says_what_it_leaves_out():
    priced = KITCHEN.model_copy(update={"prices": (Price(ingredient="egg-yolk", per_kg=4),)})
    made = product_sheet(PRODUCTS["watch-glasses"], unknown("watchkeepers-sabayon", fortified_wine="bath"), priced)
    assert "Fortified wine (amount not known)" in en(made.label.cost_missing)


@pytest.mark.parametrize(("moment", "share"), [("bath", 0.85), ("off heat", 0.85), ("cooled", 1.0)])
def test_sheet_and_label_count_the_same_alcohol(moment, share):
    recipe = BOOK["watchkeepers-sabayon"]
    wine = next(a for a in additions_of(recipe) if a.ingredient == "fortified-wine")
    moved = changed(recipe, additions=(wine.model_copy(update={"moment": moment}),))
    on_sheet = recipe_sheet(moved, KITCHEN)
    line = next(x for x in on_sheet.weigh.lines if x.key == "fortified-wine")
    whole = line.mass_g * INGREDIENTS["fortified-wine"].alcohol
    assert on_sheet.finish.figures["alcohol"].value == pytest.approx(whole * share / on_sheet.pieces, rel=1e-5)
    held = Held()
    held.add(moved, [(INGREDIENTS["fortified-wine"], moment, line.mass_g)], 0.0, NO_EGG)
    assert held.alcohol_g == pytest.approx(whole * share)


def test_a_part_that_is_missing_makes_the_label_incomplete():
    for key, role in (("fog-horns", "case"), ("gorse-pie", "case"), ("spindrift-roll", "sheet"), ("drift-jackets", "base")):
        product = PRODUCTS[key]
        bare = product.model_copy(update={"parts": tuple(p for p in product.parts if p.role != role), "held": ()})
        made = product_sheet(bare, BOOK, KITCHEN)
        assert en(made.label.missing) == (f"its {role}",)
        assert any(r.severity == "warning" and "not complete" in en(r.says) for r in made.remarks)
    assert all(en(sheet(key).label.missing) == () for key in PRODUCTS)


def test_a_part_that_is_missing_inside_a_dish_is_missing_from_the_menu():
    jackets = PRODUCTS["drift-jackets"]
    bare = jackets.model_copy(update={"parts": tuple(p for p in jackets.parts if p.role != "core")})
    menu = product_sheet(PRODUCTS["captains-menu"], {**BOOK, "drift-jackets": bare}, KITCHEN)
    assert en(menu.label.missing) == ("the core of Snowdrift jackets",)


def test_egg_with_something_of_unknown_amount_is_outside_the_table():
    heat = recipe_sheet(unknown("watchkeepers-sabayon", salt="bath")["watchkeepers-sabayon"], KITCHEN).heat
    assert any("the amount of fine salt" in why for why in en(heat.mixture.outside()))


def test_an_unknown_amount_is_asked_for_at_the_bench_and_cream_of_none_is_still_folded_in():
    recipe = unknown("watchkeepers-sabayon", cream="cooled", spirit="off heat")["watchkeepers-sabayon"]
    made = steps(recipe_sheet(recipe, KITCHEN))
    asks = made.step("weigh-dry").asks
    assert {a.key for a in asks[:2]} == {"amount-cream-cooled", "amount-spirit-off-heat"}
    assert [a.expected is None for a in asks] == [True, True, False, False], "what is not known comes first"
    assert "amount not known" in en(made.step("cream-in").says)[0]
    assert made.step("cool-down") is not None


def test_what_nobody_describes_is_never_called_free_of_anything():
    """A thing known by name alone: its label says so at every figure, and what may be in it is not known."""
    made = glasses(
        {
            **BOOK,
            "watchkeepers-sabayon": changed(
                BOOK["watchkeepers-sabayon"],
                additions=(
                    *additions_of(BOOK["watchkeepers-sabayon"]),
                    AdditionByRatio(ingredient="lemon-curd-jar", ratio=0.2, moment="cooled"),
                ),
            ),
        }
    ).label
    assert {"energy", "sugar", "fat", "protein", "starch"} <= set(made.at_least)
    assert "mass" not in made.at_least
    assert any("lemon curd, bought" in u for u in en(made.unknown))
    assert any("Read its packet for allergens" in c for c in en(made.cautions))
    assert made.egg in ("raw", "not known")


@pytest.mark.parametrize(
    ("ingredient", "egg"), [("lemon-curd-jar", "not known"), ("sponge-fingers", "not known"), ("preserve", "no egg")]
)
def test_bought_things_that_nobody_describes_may_hold_egg(ingredient, egg):
    plain = by_ratio(name="Jar", school="ready", base="other", on=ingredient, scale=Scale(by="base", amount=300))
    assert en(recipe_sheet(plain, KITCHEN).finish.label) == egg


def test_a_liqueur_that_nobody_describes_has_alcohol_of_unknown_amount():
    sheet_of = recipe_sheet(
        changed(
            BOOK["watchkeepers-sabayon"], additions=(AdditionByRatio(ingredient="orange-liqueur", ratio=0.2, moment="bath"),)
        ),
        KITCHEN,
    )
    assert sheet_of.finish.figures["alcohol"].value is None
    assert any("never call it alcohol-free" in c for c in en(sheet_of.finish.cautions))
    assert any("Orange liqueur: not all that is in it is known" in en(r.says) for r in sheet_of.weigh.remarks)


@pytest.mark.parametrize(("moment", "share"), [("start", 0.40), ("off heat", 0.85), ("cooled", 1.0)])
def test_spirit_that_goes_into_a_compote_once_it_is_cold_stays_whole(moment, share):
    lines = (*BOOK["bramble-compote"].lines, RecipeLine(ingredient="spirit", mass_g=20, moment=moment))
    recipe = BOOK["bramble-compote"].model_copy(update={"lines": lines})
    line = recipe_sheet(recipe, KITCHEN).weigh.lines[-1]
    assert (line.moment, alcohol_stays(recipe, line.moment)[0]) == (moment, share)
