"""Calibrating an oven: a tray dried by the model at another pace gives that pace back."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from gullpeak.core.log import calibration
from gullpeak.core.log.calibration import PLAN, TrayOfKisses, Weighing
from gullpeak.core.recipe.recipe import Scale
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN
from tests.words import refused

OVEN = KITCHEN.ovens[0]
PLANNED = {p.key: p for p in PLAN}
USUAL = PLAN[0]


def dried(scale: float, planned=USUAL, noise_g: tuple[float, ...] = (0, 0, 0)) -> TrayOfKisses:
    """A tray of the plan as the sheet of the same kisses has it, in an oven that dries `scale` as fast as it is said to."""
    tray = TrayOfKisses(
        oven=OVEN.key,
        set_c=planned.set_c,
        diameter_mm=planned.diameter_mm,
        height_mm=planned.height_mm,
        sugar_ratio=planned.sugar_ratio,
        tare_g=900,
        in_g=1400,
    )
    fast = OVEN.model_copy(update={"drying_scale": OVEN.drying_scale * scale})
    kitchen = KITCHEN.model_copy(update={"ovens": (fast, *KITCHEN.ovens[1:])})
    long = tray.model_copy(update={"weighings": (Weighing(minute=planned.minutes[-1], grams=1300),)})
    made = calibration.recipe(long).model_copy(
        update={"programme": calibration.programme(long, OVEN.fan), "scale": Scale(by="base", amount=165.0)}  # some 500 g of foam
    )
    drying = work_out(made, kitchen).dry.drying
    lost = np.interp(planned.minutes, drying.times_min, drying.loss_pct)
    weighings = tuple(
        Weighing(minute=m, grams=round(1400 - 5 * float(pct) + off, 1))
        for m, pct, off in zip(planned.minutes, lost, noise_g, strict=True)
    )
    return tray.model_copy(update={"weighings": weighings})


@settings(max_examples=8)
@given(st.floats(0.6, 1.6))
def test_the_pace_it_was_dried_at_is_found(scale: float):
    fit = calibration.fit(dried(scale), KITCHEN)
    assert fit is not None
    assert fit.scale == pytest.approx(OVEN.drying_scale * scale, rel=0.08)
    assert fit.low < fit.scale < fit.high
    assert fit.tells
    for point in fit.points:
        assert point.fitted_pct == pytest.approx(point.weighed_pct, abs=0.6)


def test_a_careless_scale_widens_the_interval():
    clean, careless = (calibration.fit(dried(1.2, noise_g=noise), KITCHEN) for noise in ((0, 0, 0), (9, -9, 8)))
    assert careless.high / careless.low > 1.3 * clean.high / clean.low


def test_what_says_nothing_has_an_interval_no_wider_than_what_can_be_and_is_not_gone_by():
    """Weighed when it is long dry, and by weights that barely move."""
    for minutes, grams in (((1439, 1440), (1270, 1269)), ((1439, 1440), (1399.9, 1399.8))):
        weighings = tuple(Weighing(minute=m, grams=g) for m, g in zip(minutes, grams, strict=True))
        fit = calibration.fit(dried(1.0).model_copy(update={"weighings": weighings}), KITCHEN)
        assert not fit.tells
        assert 0.3 <= fit.low < fit.scale < fit.high <= 3.0


def test_two_weighings_are_the_least_and_the_oven_has_to_be_there():
    tray = dried(1.0)
    assert calibration.fit(tray.model_copy(update={"weighings": tray.weighings[:1]}), KITCHEN) is None
    assert calibration.fit(tray.model_copy(update={"oven": "gone"}), KITCHEN) is None


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"in_g": 800}, "weighs more than the 900 g"),
        ({"weighings": [{"minute": 30, "grams": 1450}]}, "1450 g cannot follow 1400 g"),
        ({"weighings": [{"minute": 30, "grams": 1350}, {"minute": 60, "grams": 1360}]}, "1360 g cannot follow 1350 g"),
        ({"weighings": [{"minute": 30, "grams": 850}]}, "less than the empty tray"),
        ({"weighings": [{"minute": 60, "grams": 1350}, {"minute": 30, "grams": 1340}]}, "must come later"),
        ({"weighings": [{"minute": 30, "grams": 1350}, {"minute": 90, "grams": 1200}]}, "lost more than the 29 % of water"),
        ({"in_g": None, "weighings": [{"minute": 30, "grams": 1350}]}, "as it goes in first"),
    ],
)
def test_weights_that_cannot_be_are_refused_with_what_to_do(change: dict, says: str):
    with refused(ValidationError, match=says):
        TrayOfKisses.model_validate({"oven": "slate", "tare_g": 900, "in_g": 1400, **change})


def test_trays_of_one_oven_are_taken_together_by_how_sure_they_are():
    trays = [(t, calibration.fit(t, KITCHEN)) for t in (dried(1.15), dried(1.25, PLANNED["80-35-20"]))]
    both = calibration.together(trays)
    assert both is not None
    low, high = sorted(c.scale for _, c in trays)
    assert low <= both.scale <= high
    assert both.trays == 2
    one = calibration.together(trays[:1])
    assert both.high / both.low < one.high / one.low
    assert calibration.together([(t.model_copy(update={"left_out": True}), c) for t, c in trays]) is None


def test_the_plan_is_twenty_trays_that_differ_and_is_ticked_off():
    assert len(PLAN) == len({p.key for p in PLAN}) == 20
    assert USUAL.key == "95-35-20"
    assert {p.set_c for p in PLAN} == {80, 95, 110, 125}
    assert all(p.minutes[0] >= 5 and p.minutes[0] < p.minutes[1] < p.minutes[2] for p in PLAN)
    tray = dried(1.0)
    assert calibration.weighed([tray]) == calibration.weighed([tray, tray]) == {USUAL.key}
    assert calibration.weighed([tray.model_copy(update={"left_out": True})]) == frozenset()
    corner = dried(1.0, PLANNED["80-25-20"])
    assert calibration.weighed([corner]) == {"80-25-20"}
    assert calibration.weighed([corner, corner]) == {"80-25-20", "80-25-20-again"}


def test_trays_over_four_heats_correct_the_activation_energy():
    """Trays whose pace rises with heat ask for a higher activation energy than the model's; trays of one pace for none."""
    middle = [p for p in PLAN if p.diameter_mm == 35]

    def told(paces: dict[float, float]):
        trays = [(t, calibration.fit(t, KITCHEN)) for t in (dried(paces[p.set_c] / OVEN.drying_scale, p) for p in middle)]
        return calibration.constants(trays, KITCHEN), trays

    flat, trays = told(dict.fromkeys((80, 95, 110, 125), 1.0))
    assert flat is not None
    assert flat.trays == 8
    assert flat.activation_j_mol[0] == pytest.approx(flat.model_activation_j_mol, abs=4000)
    assert flat.d95_m2_s[0] == pytest.approx(flat.model_d95_m2_s, rel=0.08)
    steep, _ = told({80: 0.85, 95: 1.0, 110: 1.15, 125: 1.3})
    assert steep.activation_j_mol[1] > flat.model_activation_j_mol
    assert calibration.constants(trays[:5], KITCHEN) is None
