"""What a cook typed stays as it was typed; what was not follows from it."""

import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from gullpeak.core.bench.process import steps
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.product.builds import STARTED
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.recipe import Heat, OwnStep, Recipe, RecipeLine, Scale
from gullpeak.core.recipe.shapes import LENGTHS_MM, Shape
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet.batch import Weighed, at_this_size
from gullpeak.core.sheet.earlier import RecipeByRatio
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.value import OutOfRangeError
from gullpeak.demo.book import KITCHEN as SKERRY
from gullpeak.demo.book import RECIPES
from tests.core.scenes import KITCHEN, by_ratio, changed
from tests.words import en, refused

NEST = Shape(kind="nest", diameter_mm=80, height_mm=32, base_mm=10, wall_mm=18)
SHEET = Shape(kind="slab", length_mm=340, width_mm=250, height_mm=20)


def written(white_g: float | None = 150, sugar_g: float | None = 300, **change: object) -> Recipe:
    lines = (
        RecipeLine(ingredient="egg-white", mass_g=white_g, written="5 whites"),
        RecipeLine(ingredient="caster", mass_g=sugar_g, moment="soft"),
        RecipeLine(ingredient="cocoa", mass_g=20, moment="folded last"),
    )
    return Recipe.model_validate({"name": "Card", "lines": lines, "shape": NEST, **change})


def weighed_out(recipe: Recipe, kitchen: Kitchen = KITCHEN) -> list[float | None]:
    return [line.mass_g for line in work_out(recipe, kitchen).weigh.lines]


def test_grams_typed_into_a_meringue_are_the_grams_weighed():
    """300 g of caster became 277 g, and 20 g of cocoa 65 g, when all was worked back from the pieces."""
    sheet = work_out(written(), KITCHEN)
    assert [(line.key, line.mass_g) for line in sheet.weigh.lines] == [("egg-white", 150), ("caster", 300), ("cocoa", 20)]
    assert sheet.weigh.figures["ratio"].value == pytest.approx(2.0, rel=0.01)


grams = st.floats(5, 5000)
amounts = st.tuples(grams, grams, grams)
TYPED = st.one_of(
    st.tuples(st.just("mass"), st.integers(0, 2), grams),
    st.tuples(st.just("pieces"), st.none(), st.one_of(st.none(), st.integers(1, 400))),
    st.tuples(st.just("height"), st.none(), st.floats(12, 60)),
    st.tuples(st.just("follows"), st.none(), st.booleans()),
    st.tuples(
        st.just("scale"), st.sampled_from(["factor", "pieces", "base", "eggs", "sugar", "bowl", "trays"]), st.floats(0.5, 1)
    ),
)


def type_in(recipe: Recipe, what: tuple[str, object, object]) -> Recipe:
    """Type one thing, as the sheet does."""
    kind, where, value = what
    if kind == "mass":
        lines = [x.model_copy(update={"mass_g": value}) if i == where else x for i, x in enumerate(recipe.lines)]
        return recipe.model_copy(update={"lines": tuple(lines)})
    if kind == "height":
        return recipe.model_copy(update={"shape": recipe.shape.model_copy(update={"height_mm": value}), "size_follows": False})
    return recipe.model_copy(
        update={
            "pieces": {"pieces": value},
            "follows": {"size_follows": value},
            "scale": {"scale": Scale(by=where, amount=value) if where else None},
        }[kind]
    )


@given(amounts, st.lists(TYPED, max_size=8))
@settings(max_examples=60, deadline=None)
def test_an_amount_typed_never_changes_but_by_being_typed(masses, typed):
    recipe = written()
    expected = [150.0, 300.0, 20.0]
    for i, mass in enumerate(masses):
        recipe = type_in(recipe, ("mass", i, mass))
        expected[i] = mass
    for one in typed:
        recipe = type_in(recipe, one)
        if one[0] == "mass":
            expected[one[1]] = one[2]
        resolved = batching.resolved(recipe, KITCHEN)
        assert [line.mass_g for line in resolved.lines] == expected
        assert resolved.pieces == recipe.pieces
        if recipe.scale == Scale():
            try:
                batch = batching.size(resolved, KITCHEN)
            except ValueError:
                continue  # more pieces than anybody makes
            assert [line.mass_g for line in batch.lines] == expected
            assert batch.pieces == (recipe.pieces or batch.pieces)


@given(amounts, st.permutations(range(5)))
@settings(max_examples=40, deadline=None)
def test_any_order_of_typing_gives_the_same_recipe(masses, order):
    typed = [*(("mass", i, m) for i, m in enumerate(masses)), ("pieces", None, 14), ("height", None, 30.0)]
    straight, shuffled = written(), written()
    for i, one in enumerate(typed):
        straight, shuffled = type_in(straight, one), type_in(shuffled, typed[order[i]])
    assert straight == shuffled


@given(st.floats(0.2, 8), st.booleans())
@settings(max_examples=40, deadline=None)
def test_scaling_there_and_back_is_the_recipe_again(factor, typed):
    recipe = written(pieces=12 if typed else None)
    there = recipe.model_copy(update={"scale": Scale(by="factor", amount=factor)})
    assert weighed_out(there) == pytest.approx([g * factor for g in weighed_out(recipe)])
    assert there.lines == recipe.lines
    assert there.model_copy(update={"scale": Scale()}) == recipe


@pytest.mark.parametrize("by", ["pieces", "base", "eggs", "sugar", "bowl", "trays", "factor"])
def test_a_batch_at_any_size_leaves_what_is_written(by):
    recipe = written(scale=Scale(by=by, amount=1 if by in ("bowl", "trays") else 7))
    sheet = work_out(recipe, KITCHEN)
    assert sheet.recipe == recipe
    share = sheet.base_g / 150
    assert weighed_out(recipe) == pytest.approx([150 * share, 300 * share, 20 * share])


def test_a_recipe_written_anew_at_a_size_is_that_batch_in_whole_grams():
    recipe = written(scale=Scale(by="pieces", amount=40), pieces=12)
    anew = at_this_size(recipe, KITCHEN)
    assert anew.scale == Scale()
    assert anew.pieces == 40
    assert weighed_out(anew) == pytest.approx(weighed_out(recipe), abs=0.5)
    assert all(g == round(g, 1) for g in weighed_out(anew))
    assert work_out(anew, KITCHEN).weigh.balance is None
    same = written(scale=Scale(by="factor", amount=1))
    assert at_this_size(same, KITCHEN).lines == same.lines


def test_the_number_of_pieces_follows_where_none_was_typed():
    sheet = work_out(written(), KITCHEN)
    assert sheet.pieces > 10
    assert sheet.weigh.balance is None
    assert work_out(written(300, 600), KITCHEN).pieces > 1.8 * sheet.pieces


def test_five_whites_on_a_sheet_give_its_height():
    sheet = work_out(written(166, 250, shape=SHEET, pieces=1, size_follows=True), KITCHEN)
    assert sheet.recipe.shape.height_mm != SHEET.height_mm
    foam_g = sum(line.mass_g for line in sheet.weigh.lines) * (1 - sheet.recipe.loss_pct / 100)
    assert sheet.shape.figures["piece"].value == pytest.approx(foam_g, rel=1e-5)
    assert sheet.weigh.balance is None
    twice = work_out(written(332, 500, shape=SHEET, pieces=1, size_follows=True), KITCHEN)
    assert twice.recipe.shape.height_mm > 1.8 * sheet.recipe.shape.height_mm


def test_portions_of_a_cream_share_what_there_is():
    curd = RECIPES["gorse-curd"].model_copy(update={"pieces": 9, "size_follows": True})
    sheet = work_out(curd, SKERRY)
    assert sheet.pieces == 9
    assert sheet.weigh.balance is None
    assert sheet.recipe.portion_g == pytest.approx(batching.size(sheet.recipe, SKERRY).foam_g / 9)


def test_where_too_much_is_typed_all_of_it_stays_and_each_way_out_works():
    recipe = written(pieces=40)
    sheet = work_out(recipe, KITCHEN)
    assert (sheet.pieces, weighed_out(recipe)) == (40, [150, 300, 20])
    assert sheet.weigh.balance.left_g < 0
    assert "short" in en(sheet.weigh.balance.says)
    assert any(en(r.says) == en(sheet.weigh.balance.says) for r in sheet.weigh.remarks)
    assert len(sheet.weigh.balance.ways) >= 2
    for way in sheet.weigh.balance.ways:
        assert work_out(way.recipe, KITCHEN).weigh.balance is None, en(way.says)
    assert "make 1" in en(sheet.weigh.balance.ways[0].says)
    assert "times of everything" in en(sheet.weigh.balance.ways[-1].says)


def test_what_is_left_over_of_few_pieces_is_told_with_how_many_more_it_fills():
    found = work_out(written(pieces=4), KITCHEN).weigh.balance
    assert found.left_g > 0
    more = int(en(found.says).split("enough for ")[1].split(" ")[0])
    assert 4 + more == work_out(written(), KITCHEN).pieces


def test_too_little_for_one_piece_offers_the_size_that_does_work():
    small = written(6, 12, shape=Shape(kind="disc", diameter_mm=120, height_mm=30))
    sheet = work_out(small, KITCHEN)
    assert sheet.pieces == 1
    says = [en(way.says) for way in sheet.weigh.balance.ways]
    assert any("mm high" in s for s in says), says
    for way in sheet.weigh.balance.ways:
        assert work_out(way.recipe, KITCHEN).weigh.balance is None


@pytest.mark.parametrize(("white", "pieces"), [(150, 17), (16.5, 2), (9, 1)])
def test_too_many_pieces_may_become_as_many_as_there_is_foam_for(white, pieces):
    sheet = work_out(written(white, 2 * white, pieces=40), KITCHEN)
    says = en(sheet.weigh.balance.ways[0].says)
    assert work_out(written(white, 2 * white), KITCHEN).pieces == pieces
    assert re.match(rf"make {pieces}\b", says), says


def test_the_white_on_the_scale_replaces_the_written_one_and_pieces_follow():
    sheet = work_out(written(pieces=12), KITCHEN, Weighed(base_g=100, keep="sugar"))
    assert [line.mass_g for line in sheet.weigh.lines] == [100, 300, 20]
    assert sheet.recipe == written(pieces=12)
    assert work_out(written(pieces=12), KITCHEN, Weighed(base_g=75, keep="ratio")).pieces < 12
    thin = work_out(written(pieces=1, shape=SHEET, size_follows=True), KITCHEN, Weighed(base_g=100, keep="ratio"))
    assert (thin.pieces, thin.weigh.lines[1].mass_g) == (1, pytest.approx(200))


def test_two_amounts_for_a_line_are_a_question_and_chosen_they_are_none():
    recipe = written()
    both = recipe.lines[1].model_copy(update={"or_g": 280.0})
    asked = recipe.model_copy(update={"lines": (recipe.lines[0], both, recipe.lines[2])})
    says = [en(r.says) for r in work_out(asked, KITCHEN).weigh.remarks]
    assert any("two amounts are given, 300 g and 280 g" in s for s in says)
    assert weighed_out(asked)[1] == 300
    assert not any("two amounts" in en(r.says) for r in work_out(recipe, KITCHEN).weigh.remarks)


def test_lines_keep_their_order_their_words_and_their_moments():
    recipe = written()
    turned = recipe.model_copy(update={"lines": recipe.lines[::-1]})
    assert [line.key for line in work_out(turned, KITCHEN).weigh.lines] == ["egg-white", "cocoa", "caster"]
    assert turned.base_at == 2
    assert [line.at for line in work_out(turned, KITCHEN).weigh.lines] == [2, 0, 1]
    assert work_out(turned, KITCHEN).whisk == work_out(recipe, KITCHEN).whisk


def test_chocolate_at_seven_times_the_yolk_is_asked_about_and_worked_out():
    curd = RECIPES["gorse-curd"]
    rich = curd.model_copy(
        update={"lines": (*curd.lines, RecipeLine(ingredient="chocolate", mass_g=7 * curd.base_g, moment="off heat"))}
    )
    says = [en(r.says) for r in work_out(rich, SKERRY).weigh.remarks]
    assert any("7.0 times the yolk. Is that meant?" in s for s in says)


kinds = st.sampled_from(sorted(shapes.KINDS))


@given(kinds, st.floats(0.1, 20))
def test_the_length_that_follows_holds_the_volume_or_is_as_near_as_can_be(kind, share):
    piece = Shape(kind=kind, diameter_mm=90, height_mm=40, base_mm=9, wall_mm=15)
    ml = shapes.volume_ml(piece) * share
    made = shapes.of_volume(piece, ml)
    name = shapes.KINDS[kind].follows
    Shape.model_validate(made.model_dump())
    least, most = LENGTHS_MM[name]
    if least < getattr(made, name) < most and shapes.volume_ml(made) != pytest.approx(ml, rel=1e-6):
        assert getattr(made, name) == pytest.approx(made.base_mm + 1)
    assert made.model_copy(update={name: getattr(piece, name)}) == piece


# Recipes kept in ratios


EGGS = Scale(by="eggs", amount=6)


@pytest.mark.parametrize(
    ("key", "scale"),
    [
        *((key, scale) for key in sorted(RECIPES) for scale in (Scale(by="pieces", amount=17), Scale(by="base", amount=333))),
        *((key, EGGS) for key, recipe in sorted(RECIPES.items()) if recipe.base != "other"),
    ],
)
def test_an_old_recipe_is_the_same_sheet_as_it_is_written(key, scale):
    """To rounding: the figures of a recipe made back from its scale, and of its lines at the size of that scale."""
    old = in_ratios(RECIPES[key], scale)
    before, after = work_out(old.of(100), SKERRY), work_out(old.as_written(SKERRY), SKERRY)
    assert after.recipe.scale == Scale()
    assert [line.moment for line in after.weigh.lines] == [line.moment for line in before.weigh.lines]
    assert after.pieces == before.pieces
    for one, other in zip(before.stations(), after.stations(), strict=True):
        for name, figure in one.figures.items():
            value = figure.value if figure.value is None else pytest.approx(figure.value, rel=1e-5, abs=1e-5)
            assert other.figures[name].value == value, (one.key, name)


def in_ratios(recipe: Recipe, scale: Scale) -> RecipeByRatio:
    base_g = recipe.base_g
    own = {name: getattr(recipe, name) for name in RecipeByRatio.model_fields if hasattr(recipe, name)}
    sugars = tuple({"kind": s.key, "ratio": s.ratio, "moment": s.moment} for s in recipe.sugars)
    additions = tuple({"ingredient": a.key, "ratio": a.ratio, "moment": a.moment} for a in recipe.additions)
    assert base_g is not None
    return RecipeByRatio.model_validate({**own, "sugars": sugars, "additions": additions, "scale": scale})


def test_a_size_in_eggs_of_what_has_none_is_refused_with_another():
    with refused(OutOfRangeError, match="give its size in pieces, or in grams of whipping cream"):
        work_out(RECIPES["plain-cream"].model_copy(update={"scale": EGGS}), SKERRY)


def test_an_old_recipe_that_cannot_be_worked_out_keeps_its_ratios():
    old = in_ratios(changed(by_ratio(**plain()), sugars=({"kind": "caster", "ratio": None},)), Scale(by="pieces", amount=3))
    kept = old.as_written(KITCHEN)
    assert [line.mass_g for line in kept.lines] == [100, None]
    assert kept.scale.amount == 3


def plain() -> dict[str, object]:
    return {"name": "It", "sugars": ({"kind": "caster", "ratio": 1.5},), "scale": Scale(by="pieces", amount=3), "shape": NEST}


# The cook's own heat, minutes and sign


@pytest.mark.parametrize(
    ("starter", "step", "key", "usual"),
    [
        ("sponge", "bake", "bake", "at 190 °C"),
        ("pastry-case", "blind", "blind", "at 190 °C"),
        ("horns", "open", "open", "at 175 °C"),
        ("compote", "simmer", "simmer", "Usually"),
        ("thickened-juice", "boil", "boil", "Usually"),
    ],
)
def test_a_step_is_done_the_cooks_own_way_with_the_usual_beside_it(starter, step, key, usual):
    own = OwnStep(step=step, set_c=165 if "at" in usual else None, minutes=21, until="deep gold")
    recipe = STARTED[starter].model_copy(update={"cooks": (own,)})
    plain, mine = (steps(work_out(r, KITCHEN)).step(key) for r in (STARTED[starter], recipe))
    assert (mine.low_min, mine.timer_min) == (21, 21)
    assert en(mine.until) == ("deep gold",)
    assert any(usual in s for s in en(mine.says))
    assert mine.set_c == (165 if "at" in usual else plain.set_c)
    assert plain.low_min != 21
    offered = {c.step: c for c in work_out(STARTED[starter], KITCHEN).finish.cooks}
    assert offered[step].set_c == (190 if step in ("bake", "blind") else 175 if step == "open" else None)


def test_a_step_there_is_not_is_refused():
    with refused(ValidationError, match="no step “bake” to change"):
        Recipe.model_validate({**STARTED["curd"].model_dump(), "cooks": [{"step": "bake", "minutes": 5}]})


def test_a_curd_of_whole_eggs_boils_two_minutes_straight_on_the_heat():
    heat = Heat(target_c=100, source="direct", hold_min=2)
    boiled = STARTED["curd-direct"].model_copy(update={"heat": heat})
    thicken = steps(work_out(boiled, KITCHEN)).step("thicken")
    short = steps(work_out(boiled.model_copy(update={"heat": heat.model_copy(update={"hold_min": 0})}), KITCHEN)).step("thicken")
    assert thicken.low_min == pytest.approx(short.low_min + 2)
    assert "then 2 min more at that" in en(thicken.until)
    assert "then" not in " ".join(en(short.until))
    with refused(ValidationError, match="40–95"):
        Recipe.model_validate({**boiled.model_dump(), "heat": Heat(target_c=100, source="bath")})
    with refused(OutOfRangeError, match="give one from 30 to 9"):
        work_out(boiled, KITCHEN.model_copy(update={"altitude_m": 2000}))
