"""Piping templates as PDF, drawn at true size, mm for mm, over as many pages as they need."""

from io import BytesIO
from math import ceil

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from gullpeak.core.physics import piping
from gullpeak.core.product.assembly.pie import WALL_MM
from gullpeak.core.recipe.product import JacketOver, Pie, Product, Roll
from gullpeak.core.recipe.shapes import KINDS, Shape
from gullpeak.files import fonts
from gullpeak.files.pdf import paper

MARGIN = 12.0
"""mm, kept free at the edge of a page."""


class Outline:
    """What is drawn on parchment: rounds (x, y, radius) and lines (x1, y1, x2, y2), mm from its own corner, and its size."""

    def __init__(self, width: float, height: float, says: str) -> None:
        self.width, self.height, self.says = width, height, says
        self.rounds: list[tuple[float, float, float]] = []
        self.lines: list[tuple[float, float, float, float]] = []


def of_shape(shape: Shape, pieces: int, says: str) -> Outline:
    """Return the outline of a recipe's pieces: rings where they are round, the sheet's edge where it is spread."""
    if len(shape.across_mm) == 2:
        wide, high = shape.across_mm
        out = Outline(wide, high, says)
        out.lines = _box(0, 0, wide, high)
        return out
    pitch = shape.diameter_mm + shape.gap_mm
    across = max(1, int((paper()[0] / mm - 2 * MARGIN + shape.gap_mm) // pitch))
    count = min(pieces, across * max(1, int((paper()[1] / mm - 2 * MARGIN - 14 + shape.gap_mm) // pitch)))
    rows = ceil(count / across)
    out = Outline(min(count, across) * pitch - shape.gap_mm, rows * pitch - shape.gap_mm, says)
    for i in range(count):
        x, y = (i % across) * pitch + shape.diameter_mm / 2, (i // across) * pitch + shape.diameter_mm / 2
        out.rounds.append((x, y, shape.diameter_mm / 2))
        if KINDS[shape.kind].walled:
            out.rounds.append((x, y, shape.diameter_mm / 2 - shape.wall_mm))
    return out


def _box(x: float, y: float, width: float, height: float) -> list[tuple[float, float, float, float]]:
    return [
        (x, y, x + width, y),
        (x + width, y, x + width, y + height),
        (x + width, y + height, x, y + height),
        (x, y + height, x, y),
    ]


def of_product(product: Product) -> Outline | None:
    """Return what of a product is piped or cut to a drawing: a pie's lattice or rosettes, a roll's sheet, a jacket's base; or None."""
    a = product.assembly
    if isinstance(a, Roll):
        out = Outline(
            a.length_mm, a.width_mm, f"{product.name}: sheet {a.length_mm:g} × {a.width_mm:g} mm, bare margin {a.bare_mm:g} mm"
        )
        out.lines = [*_box(0, 0, a.length_mm, a.width_mm), (a.length_mm - a.bare_mm, 0, a.length_mm - a.bare_mm, a.width_mm)]
        return out
    if isinstance(a, JacketOver):
        across = a.core_mm + 2 * a.overhang_mm
        out = Outline(across, across, f"{product.name}: base {across:g} mm, core {a.core_mm:g} mm")
        out.rounds = [(across / 2, across / 2, across / 2), (across / 2, across / 2, a.core_mm / 2)]
        return out
    if not isinstance(a, Pie):
        return None
    over = a.diameter_mm + 2 * WALL_MM
    half = over / 2
    out = Outline(over, over, f"{product.name}: {a.foam}, {over:g} mm over the crust")
    out.rounds.append((half, half, half))
    if a.foam == "lattice":
        out.lines = [
            (x1 + half, y1 + half, x2 + half, y2 + half) for x1, y1, x2, y2 in piping.lattice(over, a.bar_mm, a.gap_mm).bars
        ]
        out.says += f", bars {a.bar_mm:g} mm: pipe along the lines"
    if a.foam == "rosettes":
        width = min(a.bar_mm, over)
        out.rounds += [(x + half, y + half, width / 2) for x, y in piping.rosettes(over, width, a.peak_mm).centres]
    return out


def template(outline: Outline) -> bytes:
    """Return an outline at true size: one page where it fits, else pages that join at their marks. Each has a 5 cm rule to check."""
    out = BytesIO()
    canvas = Canvas(out, pagesize=paper(), invariant=1, pageCompression=0)
    canvas.setTitle(outline.says)
    page = (paper()[0] / mm - 2 * MARGIN, paper()[1] / mm - 2 * MARGIN - 14)
    columns, rows = (max(1, ceil(size / room - 1e-6)) for size, room in zip((outline.width, outline.height), page, strict=True))
    for row in range(rows):
        for column in range(columns):
            _page(canvas, outline, page, (column, row), (columns, rows))
            canvas.showPage()
    canvas.save()
    return out.getvalue()


def _write(canvas: Canvas, x: float, y: float, text: str) -> None:
    """Write a line from x, y (mm), each letter in a font that has it."""
    line = canvas.beginText(x * mm, y * mm)
    for font, run in fonts.runs(text, fonts.BODY):
        line.setFont(font, 9)
        line.textOut(run)
    canvas.drawText(line)


def _page(canvas: Canvas, outline: Outline, page: tuple[float, float], at: tuple[int, int], of: tuple[int, int]) -> None:
    where = f"page {at[0] + 1 + at[1] * of[0]} of {of[0] * of[1]}, join at the crosses" if of[0] * of[1] > 1 else "true size"
    _write(canvas, MARGIN, MARGIN + 1, outline.says[:110])
    _write(canvas, MARGIN, MARGIN - 3, f"{where}; print at 100 %, turn the paper over")
    canvas.setLineWidth(1)
    canvas.line(MARGIN * mm, (MARGIN + 6) * mm, (MARGIN + 50) * mm, (MARGIN + 6) * mm)
    _write(canvas, MARGIN + 52, MARGIN + 5, "50 mm: measure it")
    canvas.saveState()
    clip = canvas.beginPath()
    clip.rect(MARGIN * mm, (MARGIN + 12) * mm, (page[0] + 2) * mm, (page[1] + 2) * mm)
    canvas.clipPath(clip, stroke=0)
    canvas.translate((MARGIN - at[0] * page[0]) * mm, (MARGIN + 13 - at[1] * page[1]) * mm)
    canvas.setLineWidth(0.8)
    for x, y, radius in outline.rounds:
        canvas.circle(x * mm, y * mm, radius * mm)
    for x1, y1, x2, y2 in outline.lines:
        canvas.line(x1 * mm, y1 * mm, x2 * mm, y2 * mm)
    canvas.setLineWidth(0.4)
    for i in range(1, of[0] + 1):
        for j in range(1, of[1] + 1):
            x, y = i * page[0], j * page[1]
            if of[0] * of[1] > 1:
                canvas.line((x - 3) * mm, y * mm, (x + 3) * mm, y * mm)
                canvas.line(x * mm, (y - 3) * mm, x * mm, (y + 3) * mm)
    canvas.restoreState()
