"""Products as parts: worked back from portions, nothing short, nothing lost, what is over told; and what cannot be is said where."""

from dataclasses import replace
from math import ceil, pi

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from gullpeak.core.kitchen.egg import per_egg_g
from gullpeak.core.physics import piping
from gullpeak.core.product import builds
from gullpeak.core.product.assembly import KINDS, jacket, mould, pie
from gullpeak.core.product.builds import BUILDS, STARTED
from gullpeak.core.product.eggs import EggUse, both_sides
from gullpeak.core.product.leftovers import LEAST_LEFT
from gullpeak.core.product.parts import DEEPEST, Made, PartError, expand
from gullpeak.core.product.product_sheet import work_out
from gullpeak.core.recipe.product import Pie, Plate, Product, fields_of
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet.earlier import PLAIN
from gullpeak.demo.book import KITCHEN, PRODUCTS
from tests.core.book import BOOK, changed, part, sheet
from tests.words import en, refused

SLOW = settings(deadline=None, max_examples=25)


@SLOW
@given(st.sampled_from(sorted(PRODUCTS)), st.integers(1, 60))
def test_parts_always_cover_the_portions_and_nothing_is_left_below_nothing(key, portions):
    made = sheet(key, portions=portions, held=[])
    assert made.wholes == ceil(portions / PRODUCTS[key].serves)
    for line in made.parts:
        assert line.yields >= line.wants - 1e-6 * line.wants
        assert line.covers >= portions or line.depth
    assert made.portions_possible == portions
    assert all(left.amount >= 0 for left in made.left)
    assert made.eggs.white_left_g >= -1e-6
    assert made.eggs.yolk_left_g >= -1e-6


@SLOW
@given(st.sampled_from(["gorse-pie", "spindrift-roll", "drift-jackets", "sea-wall-filled", "fog-horns"]), st.integers(2, 40))
def test_what_the_assembly_asks_is_what_the_parts_are_made_for(key, portions):
    made = sheet(key, portions=portions, held=[])
    needs = KINDS[made.product.assembly.kind].needs(made.product.assembly)
    for role, need in needs.items():
        given_parts = [line for line in made.parts if line.role == role]
        if need.pieces is not None:
            assert all(line.wants == need.pieces * made.wholes for line in given_parts)
        else:
            assert sum(line.wants for line in given_parts) == pytest.approx(need.ml * made.wholes, rel=1e-6)


@SLOW
@given(st.integers(1, 24), st.integers(0, 30), st.integers(0, 30), st.floats(0, 6000))
def test_the_shortest_part_decides_and_the_others_are_over(portions, bases, cores, foam):
    made = sheet(
        "drift-jackets", portions=portions, parts={"base": {"made": bases}, "core": {"made": cores}, "foam": {"made": foam}}
    )
    foam_each = next(p for p in made.parts if p.key == "foam").wants / portions
    expect = min(portions, bases, cores, int(foam / foam_each + 1e-9))
    assert made.portions_possible == expect
    left = {item.part: item.amount for item in made.left}
    assert left.get("base", 0) == pytest.approx(max(0, bases - expect), abs=0.5)
    assert left.get("core", 0) == pytest.approx(max(0, cores - expect), abs=0.5)
    assert (made.bottleneck is None) == (expect == portions)


def test_eight_bases_seven_cores_and_foam_for_fifteen():
    plan = sheet("drift-jackets")
    foam = next(p for p in plan.parts if p.key == "foam").wants / 8 * 15
    made = sheet("drift-jackets", parts={"base": {"made": 8}, "core": {"made": 7}, "foam": {"made": foam}})
    assert (made.portions_possible, made.bottleneck) == (7, "core")
    says = next(r for r in made.remarks if r.says.key == "product-sheet.enough-decides")
    assert "Vanilla cores is enough for 7 of 8" in en(says.says)
    left = {item.part: item for item in made.left}
    assert left["base"].amount == 1
    assert "kisses of 3 cm" in en(left["foam"].uses)[0]
    a_kiss_ml = pi / 8 * 3**2 * 2.5  # a paraboloid 3 cm wide, 2.5 cm high
    assert left["foam"].uses[0].facts["kisses"] == int(left["foam"].amount / a_kiss_ml)
    fewer = sheet("drift-jackets", portions=says.remedies[0].value, parts={"core": {"made": 7}})
    assert fewer.bottleneck is None


@pytest.mark.parametrize(("wants", "yields", "share"), [(6, 12, 0.5), (12, 12, 1), (15, 12, 1), (3, 0, 1)])
def test_of_what_is_made_no_more_than_all_goes_in(wants, yields, share):
    (nests, *_), _ = expand(PRODUCTS["sea-wall-filled"], BOOK, KITCHEN)
    assert isinstance(nests, Made)
    assert replace(nests, wants=wants, yields=yields).share == share


@pytest.mark.parametrize("lining", ["cocoa butter", "chocolate"])
def test_a_lined_shell_snaps_longer_and_is_not_told_to_be_lined(lining):
    def wet(lined: str, between_min: float) -> tuple[float, set[str]]:
        setting = {"lined": lined, "between_min": between_min}
        made = sheet("sea-wall-filled", assembly=setting, parts={"shell": {"of": "wicket-kisses"}})
        remedies = {r.field for m in made.assembled.remarks for r in m.remedies}
        return made.assembled.figures["window"].value, remedies

    bare_h, lined_h = wet("no", 0)[0], wet(lining, 0)[0]
    assert lined_h > bare_h
    between = 30 * (bare_h + lined_h)
    assert "assembly.lined" in wet("no", between)[1]
    assert wet(lining, between)[1] == set()
    too_long = 60 * lined_h + 60  # there no lining helps
    assert wet("no", too_long)[1] == wet(lining, too_long)[1] == {"assembly.between_min"}


def test_portions_held_back_take_none_of_that_part():
    all_in, held = sheet("sea-wall-filled", held=[]), sheet("sea-wall-filled")
    cream = [next(p for p in s.parts if p.key == "cream").wants for s in (all_in, held)]
    assert cream[1] == pytest.approx(cream[0] * 22 / 24)
    assert "milk" in {a.name for a in held.label.allergens}
    assert "milk" not in {a.name for a in held.held[0].label.allergens}
    assert held.label.sugar_g == pytest.approx(all_in.label.sugar_g, rel=1e-3)


def test_one_menu_closes_whites_and_yolks_exactly():
    menu = sheet("captains-menu")
    assert menu.eggs.closes
    assert ceil(menu.eggs.white_eggs) == ceil(menu.eggs.yolk_eggs) == menu.eggs.cracked - menu.eggs.whole_eggs == 6
    assert menu.eggs.white_left_g < 1
    assert menu.eggs.yolk_left_g < 1
    dishes = [p for p in menu.parts if p.depth == 0]
    assert [p.name for p in dishes] == ["Snowdrift jackets", "Lamp-room mousse pie"]
    assert {p.inside for p in menu.parts if p.depth == 1} == {(d.name,) for d in dishes}
    for below in (p for p in menu.parts if p.depth == 1):
        above = next(d for d in dishes if d.name == below.inside[0])
        assert above.before_min < below.before_min <= above.before_min + above.minutes + 1e-6
    assert menu.label.egg == "raw"  # the jackets are coloured in their own oven: the foam on the core stays cold


def test_the_demo_has_every_family():
    assert {p.family for p in PRODUCTS.values()} == set(Product.model_fields["family"].annotation.__args__)
    assert {p.assembly.kind for p in PRODUCTS.values()} == set(KINDS)


def test_a_dish_of_a_menu_can_run_short_and_be_held_back():
    menu = sheet("captains-menu", parts={"jackets": {"made": 5}})
    assert (menu.portions_possible, menu.bottleneck) == (5, "jackets")
    held = sheet("captains-menu", held=[{"part": "pie", "portions": 1, "why": "guest without milk or soya"}])
    assert "soya" in {a.name for a in held.label.allergens}
    assert "soya" not in {a.name for a in held.held[0].label.allergens}


def test_zest_is_taken_before_the_juice_and_the_larger_number_is_bought():
    lemons = next(s for s in sheet("signal-tartlets").splits if en(s.name) == "Lemons")
    assert en(lemons.buy).startswith("6 lemons: lemon juice needs 6, lemon zest needs 2")
    assert en(lemons.order) == "zest them before juicing"
    sugar = next(s for s in sheet("gorse-pie").splits if en(s.name) == "Caster sugar")
    assert sum(share.grams for share in sugar.shares) == pytest.approx(sugar.total_g)
    left = sugar.total_g
    for share in sugar.shares:
        left -= share.grams
        assert share.left_g == pytest.approx(left, abs=1e-6)
    begins = {line.name: line.before_min + line.minutes for line in sheet("gorse-pie").parts}
    assert [en(s.name) for s in sugar.shares] == sorted((en(s.name) for s in sugar.shares), key=lambda name: -begins[name])


@given(st.floats(1, 2000), st.floats(1, 1000), st.sampled_from(["EU S", "EU M", "EU L", "US large"]))
def test_both_sides_come_from_the_same_eggs(white, yolk, size):
    sides = both_sides([EggUse(part="foam", white_g=white), EggUse(part="curd", yolk_g=yolk)], size)
    assert sides.white_left_g == pytest.approx(sides.cracked * per_egg_g(size) - white, abs=1e-6)
    assert sides.yolk_left_g == pytest.approx(sides.cracked * per_egg_g(size, "yolk") - yolk, abs=1e-6)
    assert min(sides.white_left_g / per_egg_g(size), sides.yolk_left_g / per_egg_g(size, "yolk")) < 1


def test_what_would_close_the_gap_uses_what_is_left():
    eggs = sheet("sea-wall-filled").eggs
    assert eggs.pairs
    for pair in eggs.pairs:
        recipe = BOOK[pair.recipe]
        batch = batching.size(recipe, KITCHEN)
        assert recipe.base == "yolk"
        assert eggs.yolk_left_g - pair.leaves_g == pytest.approx(pair.portions * batch.base_g / batch.pieces, rel=0.02)
        assert 0 <= pair.leaves_g < batch.base_g / batch.pieces


def product(*parts, **more) -> Product:
    return Product(name="Test", portions=4, assembly=Plate(), parts=parts, **more)


def test_a_part_that_is_missing_inside_itself_or_too_deep_is_said_at_its_field():
    with refused(PartError, match="no longer in the book") as caught:
        work_out(product(part("a", "nowhere", "dish", amount=1, unit="pieces")), BOOK, KITCHEN)
    assert caught.value.field == "parts.0.of"
    book = {
        **BOOK,
        "one": product(part("b", "two", "dish", amount=1, unit="pieces")),
        "two": product(part("c", "one", "dish", amount=1, unit="pieces")),
    }
    with refused(PartError, match="part of itself"):
        work_out(book["one"], book, KITCHEN, "one")
    with refused(PartError, match="part of itself"):
        work_out(book["one"], book, KITCHEN)
    chain = {f"p{i}": product(part("x", f"p{i + 1}", "dish", amount=1, unit="pieces")) for i in range(DEEPEST + 3)}
    chain[f"p{DEEPEST + 3}"] = PRODUCTS["gorse-pie"]
    with refused(PartError, match="too deep"):
        work_out(chain["p0"], {**BOOK, **chain}, KITCHEN, "p0")


def test_products_inside_products_cannot_run_away():
    many = {f"m{i}": product(*(part(f"x{k}", f"m{i + 1}", "dish", amount=1, unit="pieces") for k in range(16))) for i in range(4)}
    many["m4"] = product(*(part(f"x{k}", "plain-cream", "filling", amount=5, unit="g") for k in range(16)))
    with refused(PartError, match="more than 200 parts"):
        work_out(many["m0"], {**BOOK, **many}, KITCHEN, "m0")


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"portions": 0}, "more than 0"),
        ({"serves": 0}, "more than 0"),
        ({"parts": ()}, "at least 1"),
        ({"assembly": {"kind": "tower"}}, "choose one of"),
        ({"parts": PRODUCTS["gorse-pie"].parts[:1] * 2}, "share a key"),
        ({"held": [{"part": "nothing", "portions": 1}]}, "not one of its parts"),
        ({"held": [{"part": "foam", "portions": 9}]}, "hold back fewer"),
    ],
)
def test_products_that_cannot_be_are_refused(change, words):
    with refused(ValidationError, match=words):
        Product.model_validate({**PRODUCTS["gorse-pie"].model_dump(), **change})


def test_amounts_that_are_missing_or_in_the_wrong_unit_are_said():
    with refused(PartError, match="amount of “a” is not given"):
        work_out(product(part("a", "plain-cream", "filling")), BOOK, KITCHEN)
    with refused(PartError, match="count it in pieces"):
        work_out(product(part("a", "gorse-pie", "dish", amount=100, unit="g")), BOOK, KITCHEN)
    full = changed(PRODUCTS["heather-parfait"], parts={"nuts": {"amount": 900}})
    with refused(PartError, match="already fill it"):
        work_out(full, BOOK, KITCHEN)
    wide = changed(PRODUCTS["spindrift-roll"], assembly={"length_mm": 800})
    with refused(PartError, match="does not fit"):
        work_out(wide, BOOK, KITCHEN)


def test_figures_of_foam_are_closed_forms():
    assert pie.capacity_ml(Pie()) == pytest.approx(pi / 4 * 24**2 * 2.8)
    assert piping.cap_ml(200, 20, 50) == pytest.approx(pi / 4 * 400 * 2 + pi / 8 * 400 * 3)
    inner = jacket.core_ml(PRODUCTS["drift-jackets"].assembly)
    assert inner == pytest.approx(pi / 6 * 7**2 * 4.5)
    loaf = PRODUCTS["heather-parfait"].assembly
    assert mould.volume_ml(loaf) == pytest.approx(24 * 8 * 6.5)


@given(st.floats(60, 320), st.floats(12, 60))
def test_rosettes_lie_on_the_round_and_never_in_each_other(across, each):
    made = piping.rosettes(across, each, 30)
    points = made.centres
    assert all((x**2 + y**2) ** 0.5 <= (across - each) / 2 + 0.2 for x, y in points)
    gaps = [((x - u) ** 2 + (y - v) ** 2) ** 0.5 for i, (x, y) in enumerate(points) for u, v in points[:i]]
    assert min(gaps, default=each) >= each * 0.5
    assert made.volume_ml == pytest.approx(len(points) * pi / 8 * each**2 * 30 / 1000)


@given(st.floats(60, 320), st.floats(5, 25), st.floats(2, 40))
def test_lattice_bars_end_on_the_round(across, bar, gap):
    made = piping.lattice(across, bar, gap)
    for x1, y1, x2, y2 in made.bars:
        assert (x1**2 + y1**2) ** 0.5 == pytest.approx(across / 2, abs=0.2)
        assert (x2**2 + y2**2) ** 0.5 == pytest.approx(across / 2, abs=0.2)
    assert piping.lattice(across, bar, gap + 10).volume_ml <= made.volume_ml + 1e-6


def test_only_what_counts_can_be_set():
    assert "gap_mm" in {f.name for f in fields_of(Pie(foam="lattice"))}
    rosettes = {f.name for f in fields_of(Pie(foam="rosettes", colour="torch"))}
    assert "gap_mm" not in rosettes
    assert "oven_c" not in rosettes


def test_a_cold_filling_weeps_and_a_hot_one_does_not():
    cold = sheet("gorse-pie", assembly={"filling_c": 8})
    warning = next(r for r in cold.assembled.remarks if en(r.says).startswith("Weeping"))
    mended = sheet("gorse-pie", assembly={"filling_c": warning.remedies[0].value})
    order = ["low", "some", "high"]
    assert order.index(en(mended.assembled.figures["weeps"].text)) < order.index(en(cold.assembled.figures["weeps"].text))
    italian = changed(PRODUCTS["gorse-pie"], assembly={"filling_c": 8}, parts={"foam": {"of": "fogsignal-topping"}})
    steady = work_out(italian, BOOK, KITCHEN).assembled.figures["weeps"].text
    assert order.index(en(steady)) <= order.index(en(cold.assembled.figures["weeps"].text))


@pytest.mark.parametrize(
    ("key", "assembly", "field"),
    [
        ("sea-wall-filled", {"between_min": 600}, "assembly.between_min"),
        ("watch-glasses", {"between_min": 90}, "assembly.between_min"),
        ("wreck-glasses", {"height_mm": 40}, "assembly.height_mm"),
        ("gorse-pie", {"minutes": 2}, "assembly.minutes"),
        ("gorse-pie", {"minutes": 30}, "assembly.minutes"),
    ],
)
def test_a_warning_names_what_to_set_and_setting_it_ends_it(key, assembly, field):
    wrong = sheet(key, assembly=assembly, held=[])
    remark = next(r for r in wrong.assembled.remarks if any(x.field == field for x in r.remedies))
    value = next(x.value for x in remark.remedies if x.field == field)
    right = sheet(key, assembly={**assembly, field.split(".")[1]: value}, held=[])
    assert en(remark.says) not in {en(r.says) for r in right.assembled.remarks}
    assert not any(x.field == field for r in right.assembled.remarks for x in r.remedies)


def test_a_mould_too_small_and_one_that_will_not_set_say_so():
    soft = sheet("heather-parfait", assembly={"set_by": "cold"})
    assert any("Nothing in it sets" in en(r.says) for r in soft.assembled.remarks)
    sized = sheet("heather-parfait", parts={"foam": {"amount": 900, "unit": "ml"}, "cream": {"amount": 900, "unit": "ml"}})
    assert any("go into a mould of" in en(r.says) for r in sized.assembled.remarks)
    for form in ("dome", "ring"):
        assert sheet("heather-parfait", assembly={"form": form, "length_mm": 180}).assembled.section


def test_left_over_shells_become_glasses():
    made = sheet("sea-wall-filled", held=[], parts={"nest": {"made": 30}})
    nests = next(item for item in made.left if item.part == "nest")
    assert nests.amount == 6
    assert any("glasses with cream" in use for use in en(nests.uses))


@pytest.mark.parametrize("build", sorted(BUILDS))
def test_a_part_may_keep_its_own_batch_size_and_what_is_over_is_said(build):
    row = BUILDS[build]
    needed = builds.begin(row, "It", [part.starters[0] for part in row.parts])
    own = needed.model_copy(update={"parts": tuple(p.model_copy(update={"batch": "own"}) for p in needed.parts)})
    before, after = work_out(needed, STARTED, PLAIN), work_out(own, STARTED, PLAIN)
    assert [line.wants for line in after.parts] == [line.wants for line in before.parts]
    for line in after.parts:
        written = batching.size(STARTED[line.of], PLAIN)
        times = line.recipe.scale.amount
        assert times == pytest.approx(round(times)), line.name
        assert line.lines[0].mass_g == pytest.approx(written.base_g * times)
        assert line.yields >= line.wants - 1e-6
    over = {x.part: en(x.because) for x in after.left}
    for line in after.parts:
        if line.yields > line.wants + LEAST_LEFT[line.unit] and line.unit != "pieces":
            assert "made at the size its recipe is written at" in over[line.key]
    assert {a.name for a in after.label.allergens} == {a.name for a in before.label.allergens}
