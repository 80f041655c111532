"""The rolled sheet: its spiral is as long as the sheet, nothing is made or lost, and no good habit ever makes it crack sooner."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.physics import roulade
from gullpeak.core.product.assembly import roll
from gullpeak.core.recipe.product import Roll
from gullpeak.core.recipe.programme import OvenStep, Programme
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from tests.core.book import sheet
from tests.core.outlines import area_mm2
from tests.core.scenes import changed, sugars_of
from tests.words import en, refused

LENGTH = st.floats(150, 800)
THICK = st.floats(4, 35)
FILLING = st.floats(0, 25)
INNER = st.floats(6, 60)
SKIN = st.floats(0, 3)


@given(LENGTH, THICK, FILLING, INNER)
def test_the_spiral_is_as_long_as_the_sheet(length, thick, filling, inner):
    line, along = roulade.path(length, thick, filling, inner, points=4000)
    drawn = np.hypot(*np.diff(line, axis=0).T).sum()
    assert drawn == pytest.approx(length, rel=1e-4)
    assert along[-1] == pytest.approx(length, rel=1e-9)


@given(LENGTH, THICK, FILLING, INNER, st.floats(0, 0.4))
def test_sheet_and_filling_keep_their_volume_in_the_roll(length, thick, filling, inner, share):
    """Seen from the end: what lies between first fold and outer face is the sheet and its filling."""
    made = roulade.spiral(length, thick, filling, inner, 0.0)
    pitch = thick + filling
    start, end = inner + thick / 2, made.outer_mm
    swept = np.pi * (end**2 - start**2)  # an area of pitch × arc, turn after turn
    assert swept == pytest.approx(length * pitch, rel=0.05 if made.turns > 0.8 else 0.25)
    bare = roulade.spiral(length, thick, filling, inner, share * length)
    assert bare.diameter_mm <= made.diameter_mm + 1e-9


@given(THICK, INNER, SKIN, st.floats(5, 60))
def test_warm_thin_and_wide_is_never_worse_than_cold_thick_and_tight(thick, inner, skin, temp):
    def margin(t: float, r: float, s: float, c: float) -> float:
        return roulade.bend_limit(s, c) - roulade.strain(t, r)

    here = margin(thick, inner, skin, temp)
    assert margin(thick, inner, skin, temp + 10) >= here - 1e-12
    assert margin(thick * 0.8, inner, skin, temp) >= here
    assert margin(thick, inner * 1.3, skin, temp) >= here
    assert margin(thick, inner, skin * 0.5, temp) >= here - 1e-12


@given(st.floats(16, 30), st.sampled_from(["warm in cloth", "peel warm, fill cool", "cold in its paper"]))
def test_each_remedy_that_is_offered_holds(thick, school):
    made = Roll(sheet_mm=thick, school=school, inner_mm=12)
    for remedy in roll._remedies(made, 0.7, KITCHEN):
        better = made.model_copy(update={remedy.field.removeprefix("assembly."): remedy.value})
        strain, limit = roll.bend(better, 0.7, KITCHEN)
        assert strain <= limit


def test_a_roll_is_drawn_with_what_it_holds():
    made = sheet("spindrift-roll")
    section = made.assembled.section
    band = next(p for p in section if p.role == "sheet")
    assert area_mm2(band.points) == pytest.approx(380 * 14, rel=0.03)
    filling = sum(area_mm2(p.points) for p in section if p.role == "filling")
    cream = next(p for p in made.parts if p.key == "cream")
    assert cream.wants == pytest.approx(((380 - 40) * 9 + np.pi * 16**2) * 300 / 1000, rel=1e-6)
    # The fold is drawn full to the sheet's face, over the band that lies there too: more than is spread, never less.
    assert 1.0 < filling / (cream.wants * 1000 / 300) < 1.35


def test_thickened_it_warns_and_every_way_out_can_be_taken():
    thick = sheet("spindrift-roll", assembly={"sheet_mm": 24})
    warning = next(r for r in thick.assembled.remarks if "crack" in en(r.says))
    assert {r.field for r in warning.remedies} == {"assembly.inner_mm", "assembly.sheet_mm"}
    for remedy in warning.remedies:
        mended = sheet("spindrift-roll", assembly={"sheet_mm": 24, remedy.field.split(".")[1]: remedy.value})
        assert not any("crack" in en(r.says) for r in mended.assembled.remarks), remedy


def test_the_sheet_part_takes_the_size_the_roll_asks():
    made = sheet("spindrift-roll", assembly={"sheet_mm": 18, "width_mm": 280})
    shape = next(p for p in made.parts if p.role == "sheet").recipe.shape
    assert (shape.height_mm, shape.width_mm, shape.length_mm) == (18, 280, 380)


def test_a_thin_corner_is_named():
    made = sheet("spindrift-roll", assembly={"readings_mm": [14, 14, 9.5, 14, 15]})
    assert any("Front left is 29 % thinner" in en(r.says) for r in made.assembled.remarks)
    assert roulade.weak_spot(()) is None


def test_frozen_it_says_when_it_is_hard_and_when_it_slices():
    figures = sheet("frostline-roll").assembled.figures
    assert 4 < figures["hard"].value < 24
    assert 20 < figures["slice-after"].value < 180
    assert sheet("frostline-roll", serves=30, portions=30).assembled.remarks[-1].remedies[0].field == "serves"


@given(THICK, st.floats(0.1, 0.4), st.floats(10, 30))
def test_the_peeling_window_opens_before_it_closes(thick, density, room):
    low, high = roulade.peel_window_min(thick, density, room)
    assert 0 < low < high
    assert roulade.peel_window_min(thick * 1.2, density, room)[1] > high


@pytest.mark.parametrize("bad", [(0, 14, 9, 16), (400, 0, 9, 16), (400, 14, -1, 16), (400, 14, 9, 0)])
def test_impossible_rolls_are_refused(bad):
    with refused(ValueError, match="give one from"):
        roulade.spiral(*bad)


@pytest.mark.parametrize(
    ("thick", "ratio", "fan", "set_c", "minutes"),
    [(16, 1.2, False, 170, 14), (20, 1.1, False, 145, 40), (16, 1.5, True, 155, 25), (14, 1.25, True, 155, 16)],
)
def test_sheets_as_cooks_dry_them_are_soft_with_a_skin(thick, ratio, fan, set_c, minutes):
    """Thin sheets at 145 to 170 °C: bendable, a dry skin, straw at the most on the flat."""
    base = RECIPES["spindrift-sheet"]
    recipe = changed(
        base,
        sugars=(sugars_of(base)[0].model_copy(update={"ratio": ratio}),),
        shape=base.shape.model_copy(update={"height_mm": thick}),
        programme=Programme(fan=fan, steps=(OvenStep(kind="heat", set_c=set_c, minutes=minutes),)),
    )
    drying = work_out(recipe, KITCHEN).dry.drying
    assert drying.reached
    assert 0.1 < drying.shell_mm[-1] < 3
    assert 15 < drying.mean_pct[-1] < 35
    assert drying.flat_browning[-1] < 45
    longer = recipe.model_copy(
        update={"programme": Programme(fan=fan, steps=(OvenStep(kind="heat", set_c=set_c, minutes=3 * minutes),))}
    )
    dried = work_out(longer, KITCHEN).dry.drying
    assert dried.shell_mm[-1] > drying.shell_mm[-1]
    assert roulade.bend_limit(dried.shell_mm[-1], 40) < roulade.bend_limit(drying.shell_mm[-1], 40)
