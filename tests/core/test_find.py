"""The book is searched in a cook's words: what each means, and that in doubt nothing counts as free of something."""

from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.own import Allergen
from gullpeak.core.product.find import Asked, Findable, holds, sought
from tests.words import en

LARDER = holds(INGREDIENTS.values())[0]
CURD = Findable(
    words="lemon curd curds sharp egg yolk caster sugar lemon juice butter",
    holds="egg yolk egg caster sugar lemon juice butter milk",
    allergens_known=True,
    eggs={"white": 0.0, "yolk": 6.2, "egg": 0.0},
    minutes=45.0,
)


@pytest.mark.parametrize(
    ("typed", "words", "without", "asked"),
    [
        ("lemon", ("lemon",), (), ()),
        ("Lemon  CURD", ("lemon", "curd"), (), ()),
        ("uses 6 yolks", (), (), (Asked("yolk", "", 6),)),
        ("takes over 3 eggs", (), (), (Asked("egg", "over", 3),)),
        ("at most 2 whites", (), (), (Asked("white", "at most", 2),)),
        ("under 2 h", (), (), (Asked("minutes", "under", 120),)),
        ("1,5 hours", (), (), (Asked("minutes", "under", 90),)),
        ("at least 40 min", (), (), (Asked("minutes", "at least", 40),)),
        ("last time under 3", (), (), (Asked("score", "under", 3),)),
        ("last time 5", (), (), (Asked("score", "", 5),)),
        ("no gluten without nuts kisses", ("kisses",), ("gluten", "nut"), ()),
        ("no egg", (), ("egg",), ()),
        ("7 nests", ("7", "nests"), (), ()),
        ("", (), (), ()),
    ],
)
def test_what_is_typed_means_what_a_cook_means(
    typed: str, words: tuple[str, ...], without: tuple[str, ...], asked: tuple[Asked, ...]
):
    found = sought(typed, LARDER)
    assert (found.words, found.without, found.asked) == (words, without, asked)


@pytest.mark.parametrize(
    ("typed", "score", "fits"),
    [
        ("lemon", None, True),
        ("lemon raspberry", None, False),
        ("uses 6 yolks", None, True),
        ("uses 7 yolks", None, False),
        ("under 6 yolks", None, False),
        ("uses 0 whites", None, True),
        ("under 1 h", None, True),
        ("under 45 min", None, False),
        ("at most 45 min", None, True),
        ("no nuts", None, True),
        ("no milk", None, False),
        ("no butter", None, False),
        ("last time under 3", 2, True),
        ("last time under 3", 3, False),
        ("last time under 3", None, False),
        ("last time 4", 4, True),
    ],
)
def test_an_entry_fits_what_it_is(typed: str, score: float | None, fits: bool):
    assert sought(typed, LARDER).fits(CURD, score) is fits


def test_what_is_not_known_is_free_of_nothing_and_quick_at_nothing():
    inside, known = holds((INGREDIENTS["amaretti"],))
    assert not known
    doubtful = Findable(words="dots", holds=inside, allergens_known=known, eggs={}, minutes=None)
    assert not sought("no gluten", LARDER).fits(doubtful, None)
    assert not sought("under 9 h", LARDER).fits(doubtful, None)
    assert sought("dots", LARDER).fits(doubtful, None)
    assert {"alcohol", "wine"} <= set(holds((INGREDIENTS["sherry"],))[0].split())


def test_how_figures_were_understood_is_said():
    assert en(sought("uses 6 yolks under 2 h last time under 3 no gluten", LARDER).says) == (
        "about 6 yolks",
        "last time under 3",
        "made in under 120 min",
        "no gluten, and nothing of which that is not known",
    )


@given(st.text(max_size=120))
def test_whatever_is_typed_is_a_search(typed: str):
    found = sought(typed, LARDER)
    en(found.says)
    assert found.fits(CURD, None) in (True, False)
    assert all(word == word.lower() for word in found.words if word.isascii())


@pytest.mark.parametrize("word", ["egg", "eggs", "Eggs", "milk", "dairy", "lactose", "butter", "lemons", "yolks"])
def test_whatever_a_cook_calls_it_what_holds_it_is_not_called_free_of_it(word: str):
    assert not sought(f"no {word}", LARDER).fits(CURD, None)


@pytest.mark.parametrize("word", ["nuts", "gluten", "wheat", "soy", "sulfites", "shellfish", "alcohol", "raspberries", "fish"])
def test_what_is_known_and_not_in_it_is_said(word: str):
    found = sought(f"no {word}", LARDER)
    assert found.unknown == ()
    assert found.fits(CURD, None)


@pytest.mark.parametrize("word", ["fodmap", "histamine", "gravel"])
def test_of_what_nobody_knows_nothing_is_called_free(word: str):
    found = sought(f"no {word}", LARDER)
    assert not found.fits(CURD, None)
    assert en(found.says) == (f"“{word}” is not known here, so nothing can be said to be without it",)


def test_every_allergen_in_one_or_many_is_understood():
    for allergen in get_args(Allergen):
        for typed in (allergen, allergen.removesuffix("s"), f"{allergen.removesuffix('s')}s"):
            held = Findable(words="", holds=allergen, allergens_known=True, eggs={}, minutes=None)
            assert not sought(f"no {typed}", LARDER).fits(held, None), typed
