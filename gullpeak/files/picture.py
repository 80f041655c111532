"""Photographs: checked, scaled down, rid of what a camera writes into them; and the light of a place in one."""

from io import BytesIO

import numpy as np
from PIL import Image, ImageOps, UnidentifiedImageError

from gullpeak.core.bench.colour import Rgb, Touched
from gullpeak.core.value import RefusalError, say

LONGEST_PX = 1280
QUALITY = 82
MOST_PX = 60_000_000
KINDS = ("JPEG", "PNG", "WEBP")
PATCH = 0.012
"""Of the longer side: half of the square that is looked at."""


def scaled(data: bytes) -> tuple[bytes, tuple[int, int]]:
    """Return a photograph as it is kept, JPEG, with its width and height. Raises RefusalError where it is none."""
    try:
        with Image.open(BytesIO(data), formats=KINDS) as found:
            if found.width * found.height > MOST_PX:
                raise RefusalError(say("picture.too-many-pixels"), "picture")
            upright = ImageOps.exif_transpose(found).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise RefusalError(say("picture.not-one"), "picture") from error
    upright.thumbnail((LONGEST_PX, LONGEST_PX))
    out = BytesIO()
    upright.save(out, "JPEG", quality=QUALITY)
    return out.getvalue(), upright.size


def light_at(jpeg: bytes, at: Touched) -> Rgb:
    """Return the linear light of a place in a picture, the middle one of a small square round it."""
    with Image.open(BytesIO(jpeg)) as found:
        pixels = np.asarray(found.convert("RGB"), dtype=float) / 255
    tall, wide = pixels.shape[:2]
    half = max(2, round(PATCH * max(tall, wide)))
    x, y = round(at.x * (wide - 1)), round(at.y * (tall - 1))
    patch = pixels[max(0, y - half) : y + half + 1, max(0, x - half) : x + half + 1].reshape(-1, 3)
    middle = np.median(patch, axis=0)
    linear = np.where(middle <= 0.04045, middle / 12.92, ((middle + 0.055) / 1.055) ** 2.4)
    return float(linear[0]), float(linear[1]), float(linear[2])
