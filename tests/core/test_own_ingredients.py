"""Ingredients a kitchen describes itself: from a packet into every figure, and what a packet does not say stays not known."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.kitchen import Habits, Kitchen, Price
from gullpeak.core.kitchen.own import OwnIngredient, described, namesake, read
from gullpeak.core.kitchen.units import read_amount
from gullpeak.core.product.product_sheet import work_out as product_sheet
from gullpeak.core.recipe.recipe import Recipe, RecipeLine
from gullpeak.core.sheet.label import Held, work_out
from gullpeak.core.sheet.schools import as_school
from gullpeak.core.sheet.sheet import work_out as recipe_sheet
from gullpeak.core.sheet.verdict import NO_EGG
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from tests.core import scenes
from tests.words import en, why

CORDIAL = OwnIngredient(
    key="elderflower-cordial",
    name="Elderflower cordial",
    role="liquid",
    per="ml",
    energy_kj=790,
    fat=0,
    carbohydrate=46,
    sugars=45.5,
    fibre=0,
    protein=0,
    alcohol=0,
    allergens=(),
)
SPREAD = OwnIngredient(key="own-spread", name="Biscuit spread", role="preserve", fat=38, carbohydrate=57, sugars=37, protein=3)


def held(*own: OwnIngredient, grams: float = 100.0) -> Held:
    found = Held()
    found.add(RECIPES["fogsignal-topping"], [(described(one), "start", grams) for one in own], 0.0, NO_EGG)
    return found


def label_of(*own: OwnIngredient, **kitchen: object):
    return work_out(held(*own), 1, KITCHEN.model_copy(update=kitchen), ())


def with_line(own: OwnIngredient, mass_g: float | None, moment: str = "cooled") -> Recipe:
    recipe = RECIPES["watchkeepers-sabayon"]
    line = RecipeLine(ingredient=own.key, mass_g=mass_g, moment=moment, own=own)
    return recipe.model_copy(update={"lines": (*recipe.lines, line)})


def test_a_drink_by_the_millilitre_comes_to_shares_of_its_mass():
    """45.5 g of sugar in 100 ml: 1.173 g/ml, so 38.8 % of its mass; what is left is water."""
    made = described(CORDIAL)
    assert made.density == pytest.approx(1 + 0.38 * 0.455)
    assert made.sugar == pytest.approx(45.5 / (100 * made.density))
    assert made.energy_kj == pytest.approx(790 / (100 * made.density))
    assert made.water == pytest.approx(1 - 46 / (100 * made.density))
    assert made.known
    assert made.lacks == ()


def test_strength_by_volume_comes_to_a_share_of_the_mass():
    """40 % by volume at 0.789 g/ml in a litre of 0.95 kg: a third of its mass."""
    spirit = OwnIngredient(key="own-spirit", name="Heather spirit", role="spirit", per="ml", alcohol=40, density=0.95)
    assert described(spirit).alcohol == pytest.approx(0.4 * 0.789 / 0.95)


def test_what_a_packet_does_not_say_stays_not_known_everywhere():
    label = label_of(SPREAD)
    assert described(SPREAD).lacks == ("fibre", "alcohol", "allergens")
    assert label.alcohol_g is None
    assert "energy" in label.at_least
    assert "fat" not in label.at_least
    assert any("alcohol and allergens of biscuit spread" in c for c in en(label.cautions))
    assert en(label.unknown) == ("alcohol and allergens of biscuit spread, in Fog-signal topping",)
    told = label_of(SPREAD.model_copy(update={"energy_kj": 2400.0, "alcohol": 0.0, "allergens": ("gluten",)}))
    assert told.at_least == ()
    assert told.alcohol_g == 0
    assert told.energy_kj == pytest.approx(2400)
    assert not any("biscuit spread" in c for c in en(told.cautions))


def test_egg_in_it_is_not_known_where_its_allergens_are_not():
    recipe = with_line(SPREAD, 20)
    assert recipe_sheet(recipe, KITCHEN).finish.label in ("raw", "not known")
    plain = Recipe(
        name="Dots",
        school="mix",
        base="other",
        on="almond",
        family="mixes",
        lines=(
            RecipeLine(ingredient="almond", mass_g=100),
            RecipeLine(ingredient="own-spread", mass_g=50, own=SPREAD),
        ),
    )
    assert recipe_sheet(plain, KITCHEN).finish.label == "not known"
    known = SPREAD.model_copy(update={"allergens": ("gluten",)})
    assert recipe_sheet(plain, KITCHEN.model_copy(update={"larder": (known,)})).finish.label == "no egg"


def test_the_kitchens_own_word_goes_before_what_a_recipe_carries():
    recipe = with_line(SPREAD, 20)
    thinner = SPREAD.model_copy(update={"fat": 10.0})
    there = recipe_sheet(recipe, KITCHEN.model_copy(update={"larder": (thinner,)}))
    assert there.weigh.lines[-1].item.fat == pytest.approx(0.10)
    assert recipe_sheet(recipe, KITCHEN).weigh.lines[-1].item.fat == pytest.approx(0.38)
    assert there.recipe.lines[-1].own == thinner


def test_what_the_larder_has_by_name_alone_is_described_in_its_place():
    assert not INGREDIENTS["elderflower-cordial"].known
    recipe = with_line(CORDIAL, 30)
    bare = recipe.model_copy(
        update={"lines": (*recipe.lines[:-1], RecipeLine(ingredient=CORDIAL.key, mass_g=30, moment="cooled"))}
    )
    kitchen = KITCHEN.model_copy(update={"larder": (CORDIAL,)})
    assert any("not all that is in it" in en(r.says) for r in recipe_sheet(bare, KITCHEN).weigh.remarks)
    assert not any("not all that is in it" in en(r.says) for r in recipe_sheet(bare, kitchen).weigh.remarks)


def test_what_ships_keeps_its_allergens_when_it_is_described_anew():
    cream = OwnIngredient(key="cream", name="Farm cream", role="cream", fat=48, carbohydrate=2.5, sugars=2.5, protein=1.6)
    made = described(cream)
    assert made.allergens == ("milk",)
    assert made.known is False  # its alcohol was not said
    assert made.fat == pytest.approx(0.48)


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"key": "egg-white", "role": "white"}, "role", "egg and water are counted with by name"),
        ({"key": "water", "role": "liquid"}, "role", "egg and water are counted with by name"),
        ({"key": "honey", "role": "flavour"}, "role", "stands in the larder under another kind"),
        ({"carbohydrate": 10, "sugars": 40}, "sugars", "more than 10 g of carbohydrate"),
        ({"fat": 60, "carbohydrate": 60, "sugars": 1}, "", "all together is"),
        ({"fat": -1}, "fat", ""),
        ({"protein": float("nan")}, "protein", ""),
        ({"density": 0}, "density", ""),
        ({"allergens": ("eggs",)}, "allergens.0", ""),
    ],
)
def test_a_packet_that_cannot_be_is_refused_at_its_field(change: dict[str, object], field: str, says: str):
    packet = {"key": "own-x", "name": "Some thing", "role": "flavour", **change}
    with pytest.raises(ValidationError) as refusal:
        OwnIngredient.model_validate(packet)
    found = refusal.value.errors()[0]
    assert ".".join(str(p) for p in found["loc"]) == field
    assert says in why(refusal.value)


def test_energy_that_does_not_agree_is_asked_about_and_kept():
    off = read(CORDIAL.model_copy(update={"energy_kj": 190.0}))
    assert [en(r.says) for r in off.remarks] == ["The packet says 190 kJ, and what it lists would give 782 kJ. Is that meant?"]
    assert off.ingredient.energy_kj is not None
    assert read(CORDIAL).remarks == ()


@pytest.mark.parametrize(
    ("name", "taken"),
    [
        ("Caster sugar", "Caster sugar"),
        ("castor SUGAR", "Caster sugar"),
        ("biscuit spread", "Biscuit spread"),
        ("Elderflower cordial", None),
        ("Sugar of my own", None),
    ],
)
def test_two_things_of_the_larder_never_share_a_name(name: str, taken: str | None):
    """Whatever its letters, and by what else a thing is called; its own name is its own."""
    mine = CORDIAL.model_copy(update={"name": name})
    assert namesake(mine, (SPREAD, mine)) == taken
    larder = {**KITCHEN.model_dump(), "larder": (SPREAD, mine)}
    if taken is None:
        assert len(Kitchen.model_validate(larder).larder) == 2
    else:
        with pytest.raises(ValidationError) as refusal:
            Kitchen.model_validate(larder)
        assert taken.lower() in why(refusal.value)


def test_what_ships_may_be_described_under_its_own_name():
    anew = SPREAD.model_copy(update={"key": "caster", "name": "Caster sugar"})
    assert namesake(anew, (anew,)) is None


def test_a_recipe_holds_one_description_of_a_thing():
    twice = with_line(SPREAD, 20).model_dump()
    twice["lines"] += ({"ingredient": "own-spread", "mass_g": 5, "own": {**SPREAD.model_dump(), "fat": 1}},)
    with pytest.raises(ValidationError) as refusal:
        Recipe.model_validate(twice)
    assert "described in two ways" in why(refusal.value)
    other = with_line(SPREAD, 20).model_dump()
    other["lines"][-1]["ingredient"] = "cream"
    with pytest.raises(ValidationError) as refusal:
        Recipe.model_validate(other)
    assert "choose the ingredient anew" in why(refusal.value)


def test_an_amount_by_volume_is_read_by_the_density_of_ones_own():
    amount = read_amount("60 ml", described(CORDIAL), Habits())
    assert amount.mass_g == pytest.approx(60 * described(CORDIAL).density)


def test_a_sugar_of_ones_own_is_dissolved_and_gives_way_to_honey():
    nectar = OwnIngredient(key="own-nectar", name="Birch syrup", role="sugar", carbohydrate=67, sugars=67, fat=0, protein=0)
    lines = (
        RecipeLine(ingredient="egg-white", mass_g=100),
        RecipeLine(ingredient="own-nectar", mass_g=150, moment="soft", own=nectar),
    )
    recipe = Recipe(name="Foam", family="toppings", lines=lines)
    sheet = recipe_sheet(recipe, scenes.KITCHEN)
    assert sheet.weigh.figures["ratio"].value == pytest.approx(1.5 * 0.67, abs=0.001)
    honeyed = as_school(recipe, "honey")
    assert [(line.ingredient, line.own) for line in honeyed.lines if line.ingredient in ("honey", "own-nectar")] == [
        ("honey", None)
    ]


def test_it_is_costed_shared_out_and_labelled_in_a_product():
    book = {**RECIPES, **PRODUCTS}
    product = PRODUCTS["drift-jackets"]
    key = next(p.of for p in product.parts if p.of in RECIPES)
    recipe = RECIPES[key]
    line = RecipeLine(ingredient="own-spread", mass_g=recipe.base_g or 10, moment=recipe.lines[-1].moment, own=SPREAD)
    book[key] = recipe.model_copy(update={"lines": (*recipe.lines, line)})
    dear = KITCHEN.model_copy(
        update={"prices": (*KITCHEN.prices, Price(ingredient="own-spread", per_kg=900)), "larder": (SPREAD,)}
    )
    before = product_sheet(product, {**RECIPES, **PRODUCTS}, KITCHEN, "drift-jackets").label
    after = product_sheet(product, book, dear, "drift-jackets").label
    assert "Biscuit spread" in {en(c.name) for c in after.contains}
    assert after.cost is not None
    assert after.cost > (before.cost or 0.0)
    assert "Biscuit spread" not in en(after.cost_missing)


FIGURE = st.none() | st.floats(0, 18)


@given(
    st.builds(
        dict,
        fat=FIGURE,
        carbohydrate=FIGURE,
        fibre=FIGURE,
        protein=FIGURE,
        alcohol=FIGURE,
        energy_kj=st.none() | st.floats(0, 3000),
    )
)
def test_any_packet_that_is_taken_holds_no_more_than_itself_and_says_what_it_lacks(packet: dict[str, float | None]):
    own = OwnIngredient.model_validate(
        {"key": "own-x", "name": "Some thing", "role": "flavour", "sugars": packet["carbohydrate"], **packet}
    )
    made = described(own)
    whole = made.water + made.sugar + made.starch + made.fat + made.protein + made.fibre + made.alcohol
    assert whole <= 1.0101
    assert set(made.lacks) >= {name for name in ("fat", "fibre", "protein", "alcohol") if packet[name] is None}
    assert ("water" in made.lacks) == any(packet[name] is None for name in ("fat", "carbohydrate", "protein"))
    label = label_of(own)
    assert ("energy" in label.at_least) == (
        packet["energy_kj"] is None and any(v is None for k, v in packet.items() if k != "energy_kj")
    )
