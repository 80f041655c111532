"""Photographs: scaled down and rid of what cameras write; the colour of a ridge beside the paper, and where it is not to be told."""

from io import BytesIO

import numpy as np
import pytest
from PIL import Image

from gullpeak.core.bench.colour import Touched, seen
from gullpeak.core.value import RefusalError
from gullpeak.files.picture import LONGEST_PX, light_at, scaled
from tests.words import en

RIDGE, PAPER = Touched(x=0.25, y=0.5), Touched(x=0.75, y=0.5)


def photograph(
    ridge: tuple[int, int, int],
    paper: tuple[int, int, int] = (214, 214, 210),
    size: tuple[int, int] = (2000, 1200),
    kind: str = "JPEG",
    **more,
) -> bytes:
    """A picture whose left half is the ridge and whose right half is the paper, sRGB."""
    pixels = np.empty((size[1], size[0], 3), dtype=np.uint8)
    pixels[:, : size[0] // 2], pixels[:, size[0] // 2 :] = ridge, paper
    out = BytesIO()
    Image.fromarray(pixels).save(out, kind, **more)
    return out.getvalue()


def colour(ridge: tuple[int, int, int], paper: tuple[int, int, int] = (214, 214, 210)):
    jpeg, _ = scaled(photograph(ridge, paper))
    return seen(light_at(jpeg, RIDGE), light_at(jpeg, PAPER))


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_a_photograph_is_scaled_down_and_its_place_and_camera_are_gone(kind: str):
    exif = Image.Exif()
    exif[0x010F] = "a camera"
    jpeg, (wide, tall) = scaled(photograph((250, 250, 250), kind=kind, exif=exif))
    assert (max(wide, tall), jpeg[:2]) == (LONGEST_PX, b"\xff\xd8")
    assert not dict(Image.open(BytesIO(jpeg)).getexif())


def test_a_photograph_held_upright_stands_upright():
    exif = Image.Exif()
    exif[0x0112] = 6  # the camera was turned
    _, size = scaled(photograph((250, 250, 250), size=(600, 400), exif=exif))
    assert size == (400, 600)
    assert scaled(photograph((250, 250, 250), size=(300, 200)))[1] == (300, 200)


@pytest.mark.parametrize(
    "data", [b"", b"no picture", b"\xff\xd8\xff", b"GIF89a\x01\x00\x01\x00", photograph((9, 9, 9), kind="BMP", size=(20, 20))]
)
def test_what_is_no_photograph_is_refused(data: bytes):
    with pytest.raises(RefusalError) as refused:
        scaled(data)
    assert refused.value.field == "picture"


@pytest.mark.parametrize(
    ("ridge", "name"),
    [
        ((236, 235, 231), "white"),
        ((222, 215, 196), "ivory"),
        ((208, 190, 150), "straw"),
        ((180, 145, 85), "gold"),
        ((140, 95, 50), "brown"),
        ((60, 40, 28), "scorched"),
    ],
)
def test_a_ridge_has_its_colour_by_the_paper(ridge, name):
    assert colour(ridge, (226, 226, 222)).colour == name


@pytest.mark.parametrize("share", [1.0, 0.75, 0.55])
def test_less_light_on_both_is_the_same_colour(share):
    def in_light(of: tuple[int, int, int]) -> tuple[int, int, int]:
        linear = [((c / 255 + 0.055) / 1.055) ** 2.4 * share for c in of]
        red, green, blue = (round(255 * (1.055 * c ** (1 / 2.4) - 0.055)) for c in linear)
        return red, green, blue

    found = colour(in_light((180, 145, 85)), in_light((226, 226, 222)))
    assert found.colour == "gold"
    assert found.lightness == pytest.approx(colour((180, 145, 85), (226, 226, 222)).lightness, abs=1.5)


@pytest.mark.parametrize(("light", "ridge"), [((1.0, 0.86, 0.62), "gold"), ((0.8, 0.9, 1.0), "gold")])
def test_a_warm_lamp_colours_ridge_and_paper_alike(light, ridge):
    def under(of: tuple[int, int, int]) -> tuple[int, int, int]:
        linear = [((c / 255 + 0.055) / 1.055) ** 2.4 * part for c, part in zip(of, light, strict=True)]
        red, green, blue = (round(255 * (1.055 * c ** (1 / 2.4) - 0.055)) for c in linear)
        return red, green, blue

    assert colour(under((180, 145, 85)), under((226, 226, 222))).colour == ridge


@pytest.mark.parametrize(
    ("ridge", "paper", "says"),
    [
        ((200, 200, 200), (60, 60, 60), "too dark"),
        ((200, 200, 200), (254, 254, 254), "too bright"),
        ((245, 245, 245), (180, 180, 180), "brighter light"),
    ],
)
def test_where_it_is_not_to_be_told_it_says_why(ridge, paper, says):
    found = colour(ridge, paper)
    assert found.colour is None
    assert says in en(found.says)


def test_it_is_said_as_an_estimate_and_between_which_two():
    edge = colour((190, 160, 104), (226, 226, 222))
    assert "estimate" in en(edge.says)
    assert edge.low != edge.high
