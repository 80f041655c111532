"""Pictures of what came out of the demo's month: drawn from each batch's own figures, on a sheet of paper, where a kitchen has photographs."""

import hashlib
from datetime import timedelta
from io import BytesIO

from PIL import Image, ImageDraw, ImageFilter
from reportlab.graphics.shapes import Polygon
from reportlab.lib.colors import Color

from gullpeak.files import drawn
from gullpeak.store.pictures import Picture, Pictures
from gullpeak.store.records import BatchRecord
from gullpeak.store.repository import Store

SIZE, SHARP = (800, 560), 2
PAPER, SLATE = (247, 246, 242), (92, 116, 122)
FLAT = 0.2
"""Lower than this share of its width, a piece is a line from the side."""
SHOWN = 10
"""So many of the newest batches with pieces have one."""


def load(store: Store) -> None:
    """Keep a picture of each of the newest finished batches that made pieces; what is there already is left."""
    pictures = Pictures(store.db)
    done = [batch for batch in store.batches(finished=True) if batch.sheet.dry is not None]
    for batch in done[:SHOWN]:
        jpeg = _drawn(batch)
        name = hashlib.sha256(batch.id.encode()).hexdigest()[:32]
        at = (batch.finished_at or batch.started_at) + timedelta(minutes=1)
        pictures.add(
            Picture(id=name, batch=batch.id, at=at, width=SIZE[0], height=SIZE[1]), jpeg, hashlib.sha256(jpeg).hexdigest()
        )


def _seen(colour: Color | None) -> tuple[int, ...]:
    return tuple(round(255 * c) for c in (colour or Color()).rgb())


def _lying(brush: ImageDraw.ImageDraw, box: tuple[float, float, float, float], shape: Polygon, *, turned: bool) -> None:
    """What is flat lies there seen from above its edge: a disc, or a slab, as thick as its side is high. box: of its side, px."""
    left, top, right, foot = box
    deep, fill, line = (right - left) * 0.2, _seen(shape.fillColor), _seen(shape.strokeColor)
    side = tuple(round(0.8 * f + 0.2 * g) for f, g in zip(fill, line, strict=True))
    for y, tone in ((foot, side), (top, fill)):
        if turned:
            brush.ellipse((left, y - deep, right, y), fill=tone, outline=line, width=4)
        else:
            back = (right - left) * 0.08
            brush.polygon(
                [(left, y), (right, y), (right - back, y - deep), (left + back, y - deep)], fill=tone, outline=line, width=4
            )
        if y == foot:
            edge = foot - deep / 2 * turned
            brush.rectangle((left, top - deep / 2 * turned, right, edge), fill=side)


def _drawn(batch: BatchRecord) -> bytes:
    """One piece cut through, in the colour the oven gave it, on white paper before a slate."""
    wide, high = SIZE[0] * SHARP, SIZE[1] * SHARP
    page = Image.new("RGB", (wide, high), SLATE)
    brush = ImageDraw.Draw(page)
    brush.polygon([(wide * 0.1, high * 0.66), (wide * 0.9, high * 0.66), (wide, high * 0.96), (0, high * 0.96)], fill=PAPER)
    sheet = batch.sheet
    assert sheet.dry is not None
    piece = drawn.piece(sheet.dry.section, sheet.material, sheet.colour, sheet.dry.colour, (300, 130))
    if piece is not None:
        scale = min(wide * 0.62 / piece.width, high * 0.6 / piece.height)
        left, foot = (wide - piece.width * scale) / 2, high * 0.76
        shadow = Image.new("L", (wide, high), 0)
        ImageDraw.Draw(shadow).ellipse((left - 30, foot - 26, left + piece.width * scale + 30, foot + 40), fill=90)
        page.paste((120, 112, 98), mask=shadow.filter(ImageFilter.GaussianBlur(18)))
        shapes = [shape for shape in piece.contents if isinstance(shape, Polygon)]
        if piece.height < FLAT * piece.width:
            box = (left, foot - piece.height * scale, left + piece.width * scale, foot)
            _lying(brush, box, shapes[0], turned=sheet.shape is not None and sheet.shape.layout.round)
        else:
            for shape in shapes:
                points = [
                    (left + x * scale, foot - y * scale) for x, y in zip(shape.points[::2], shape.points[1::2], strict=True)
                ]
                brush.polygon(points, fill=_seen(shape.fillColor), outline=_seen(shape.strokeColor), width=4)
    out = BytesIO()
    page.resize(SIZE, Image.Resampling.LANCZOS).save(out, "JPEG", quality=86)
    return out.getvalue()
