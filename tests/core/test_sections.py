"""What is drawn is to scale: outlines hold the area their volumes ask, lie on each other, and never run through the table."""

from math import pi
from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.physics import piping
from gullpeak.core.product.assembly import filled, jacket, pie
from gullpeak.core.product.assembly.base import chained, dome, rectangle, step
from gullpeak.core.recipe.product import Glass, Horn, JacketOver, Pie, Role
from gullpeak.demo.book import PRODUCTS
from tests.core.book import sheet
from tests.core.outlines import area_mm2
from tests.words import en

DRAWN = sorted(PRODUCTS)


def patches(key: str, role: str | None, **change: object):
    return [p for p in sheet(key, **change).assembled.section if p.role == role]


def box(points):
    xs, ys = [x for x, _ in points], [y for _, y in points]
    return max(xs) - min(xs), max(ys) - min(ys)


@pytest.mark.parametrize("key", DRAWN)
def test_every_product_is_drawn_above_the_table_with_a_word_for_each_part(key):
    section = sheet(key).assembled.section
    assert section
    assert all(p.what for p in section)
    low = -2.6 if PRODUCTS[key].assembly.kind == "glass" else -0.1
    assert min(y for p in section for _, y in p.points) >= low
    assert all(area_mm2(p.points) > 1 for p in section)


@given(st.floats(5, 300), st.floats(5, 200))
def test_outlines_have_the_area_of_what_they_are(width, height):
    assert area_mm2(rectangle(0, 0, width, height)) == pytest.approx(width * height, rel=0.05)
    assert area_mm2(dome(0, 0, width, height)) == pytest.approx(pi / 4 * width * height, rel=0.05)


def test_dishes_of_a_menu_stand_beside_each_other():
    jackets, pie_, menu = (sheet(k).assembled.section for k in ("drift-jackets", "lamp-room-pie", "captains-menu"))
    assert len(menu) == len(jackets) + len(pie_)
    first, second = menu[: len(jackets)], menu[len(jackets) :]
    assert max(x for p in first for x, _ in p.points) < min(x for p in second for x, _ in p.points)


def test_a_pie_is_as_wide_as_its_tin_and_filled_to_its_share():
    assert box(patches("gorse-pie", "case")[0].points) == (248, 32)
    assert box(patches("gorse-pie", "filling")[0].points) == pytest.approx((240, 28 * 0.85), abs=0.1)
    bars = patches("gorse-pie", "foam")
    assert len(bars) == len([b for b in piping.lattice(248, 18, 16).bars if b[0] == b[2]])
    assert box(bars[0].points) == pytest.approx((18, 14.4), abs=0.1)


def test_a_cap_is_drawn_domed_to_its_peak():
    cap = patches("gorse-pie", "foam", assembly={"foam": "cap"})[0]
    wide, high = box(cap.points)
    assert (wide, high) == pytest.approx((248, 40), abs=0.1)
    turned = area_mm2(cap.points)  # a band 15 mm thick and a bow of 25 mm over it
    assert turned == pytest.approx(248 * 15 + 2 / 3 * 248 * 25, rel=0.01)


def test_a_jacket_covers_its_core_all_round():
    foam, core = patches("drift-jackets", "foam")[0], patches("drift-jackets", "core")[0]
    assert box(core.points) == pytest.approx((70, 45), abs=0.1)
    assert box(foam.points)[0] >= 70 + 2 * 18.3
    assert box(foam.points)[1] >= 12 + 45 + 18.3


def test_layers_in_a_glass_stand_on_each_other_at_their_own_volume():
    made = sheet("wreck-glasses")
    layers = [p for p in made.assembled.section if p.role is not None]
    level = 0.0
    for layer, part in zip(layers, made.parts, strict=True):
        low = min(y for _, y in layer.points)
        assert low == pytest.approx(level, abs=0.2)
        level = max(y for _, y in layer.points)
        if part.unit == "ml":
            assert (level - low) * pi / 4 * 68**2 / 1000 == pytest.approx(part.wants / made.wholes, rel=0.02)
    assert level < 90


@given(st.floats(40, 250), st.floats(10, 120), st.floats(0, 60))
def test_a_horn_holds_a_cone_and_its_swirl(length, mouth, swirl):
    made = Horn(length_mm=length, diameter_mm=mouth, swirl_mm=swirl)
    assert filled.cone_ml(made) == pytest.approx((pi / 12 * mouth**2 * length + pi / 8 * mouth**2 * swirl) / 1000)


@given(st.floats(25, 160), st.floats(25, 250))
def test_a_glass_is_a_cylinder(across, high):
    assert filled.glass_ml(Glass(diameter_mm=across, height_mm=high)) == pytest.approx(pi / 4 * across**2 * high / 1000)


@given(st.floats(20, 200), st.floats(15, 120), st.floats(5, 40), st.floats(1, 15))
def test_more_coat_is_more_foam_and_the_core_is_left_out(across, high, coat, more):
    made = JacketOver(core_mm=across, core_high_mm=high, coat_mm=coat, base_mm=0, overhang_mm=0)
    whole = pi / 6 * (across + 2 * coat) ** 2 * (high + coat) / 1000
    assert jacket.coat_ml(made) + jacket.core_ml(made) == pytest.approx(whole)
    assert jacket.coat_ml(made, more) > jacket.coat_ml(made)


@given(st.floats(60, 350), st.floats(10, 60), st.floats(1, 1.9))
def test_foam_on_a_pie_grows_with_it(across, peak, times):
    for foam in ("cap", "rosettes", "lattice"):
        small = pie.foam_ml(Pie(diameter_mm=across, foam=foam, peak_mm=peak, edge_mm=5))
        assert small > 0
        if foam != "rosettes":
            large = pie.foam_ml(Pie(diameter_mm=min(across * times, 400), foam=foam, peak_mm=peak, edge_mm=5))
            assert large >= small - 1e-6
    assert pie.foam_ml(Pie(foam="none")) == 0


@pytest.mark.parametrize("key", sorted(PRODUCTS))
def test_how_it_is_put_together_hangs_together(key):
    made = sheet(key).assembled
    keys = [s.key for s in made.steps]
    assert len(set(keys)) == len(keys)
    assert set(made.joins.values()) <= set(keys)
    lasts = [(s.low_min + s.high_min) / 2 for s in made.steps]
    left = {role: sum(lasts[keys.index(joins) :]) for role, joins in made.joins.items()}
    assert {role: made.left_min(role) for role in left} == left
    assert all(made.left_min(role) == sum(lasts) for role in get_args(Role) if role not in made.joins)
    for i, s in enumerate(made.steps):
        assert all(a.step in keys[:i] for a in s.after)
        assert bool(s.after) == (i > 0)
    assert set(en(made.titles)) == set(made.figures)
    assert made.vital in made.figures


def test_steps_hang_on_the_one_before_unless_they_say_otherwise():
    line = chained((step("a", "A", minutes=(1, 2)), step("b", "B", minutes=(1, 2))))
    assert [(x.step, x.kind) for x in line[1].after] == [("a", "after")]
