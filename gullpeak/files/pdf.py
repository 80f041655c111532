"""Sheets, labels and piping templates as PDF. Templates are drawn at true size, mm for mm, over as many pages as they need."""

from collections.abc import Iterable, Sequence
from datetime import datetime
from io import BytesIO
from math import ceil
from typing import Any
from xml.sax.saxutils import escape
from zoneinfo import ZoneInfo

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from gullpeak.core.bench import process
from gullpeak.core.physics import piping
from gullpeak.core.plan.view import PlanView
from gullpeak.core.product.assembly.pie import WALL_MM
from gullpeak.core.product.product_sheet import ProductSheet
from gullpeak.core.product.stock import StockLot
from gullpeak.core.recipe.product import JacketOver, Pie, Product, Roll
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.shapes import KINDS, Shape
from gullpeak.core.sheet.label import LabelSheet, PerPortion
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.value import Figure, Said, say
from gullpeak.files import day
from gullpeak.files.reader import told
from gullpeak.files.record import BatchPaper, RecordLine, figures_of

BODY = ParagraphStyle("body", fontName="Helvetica", fontSize=10.5, leading=14)
SMALL = ParagraphStyle("small", parent=BODY, fontSize=9, leading=11.5, textColor=HexColor("#3f5b61"))
HEAD = ParagraphStyle("head", parent=BODY, fontName="Helvetica-Bold", fontSize=13, leading=17, spaceBefore=8, spaceAfter=3)
TITLE = ParagraphStyle("title", parent=BODY, fontName="Helvetica-Bold", fontSize=20, leading=24)
MARGIN = 12.0
"""mm, kept free at the edge of a template page."""


def _safe(said: Said | str) -> str:
    """Text for the page, in the kitchen's degrees."""
    return _quoted(told(said))


def _quoted(text: str) -> str:
    """Text for the page as it stands: markup shown as text, letters the page's font lacks replaced openly."""
    return escape(text.encode("cp1252", "replace").decode("cp1252"))


def _said(figure: Figure) -> str:
    if figure.text:
        return told(figure.text)
    if figure.value is None:
        return "not known"
    return f"{figure.value:.4g} {figure.unit}".strip()


def _run(said: Iterable[Said | str], between: str = " ") -> str:
    """Several things one after the other, as text."""
    return between.join(told(s) for s in said)


def _table(rows: Iterable[tuple[Said | str, ...]], widths: tuple[float, ...]) -> Table:
    made = Table(
        [[Paragraph(_safe(cell), BODY) for cell in row] for row in rows],
        colWidths=[w * mm for w in widths],
        hAlign="LEFT",
        splitInRow=1,
    )
    made.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, -1), 0.4, "#c9d6d3"),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("TOPPADDING", (0, 0), (-1, -1), 1),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
            ]
        )
    )
    return made


def _document(title: str, story: list[Any]) -> bytes:
    out = BytesIO()
    SimpleDocTemplate(
        out,
        pagesize=A4,
        title=title,
        author="Gull Peak",
        leftMargin=18 * mm,
        rightMargin=18 * mm,
        topMargin=16 * mm,
        bottomMargin=16 * mm,
        invariant=1,
    ).build(story)
    return out.getvalue()


def recipe_sheet(recipe: Recipe, sheet: Sheet) -> bytes:
    """Return a recipe's sheet: what to weigh, its figures, its steps, its cautions."""
    story: list[Any] = [Paragraph(_safe(recipe.name), TITLE), Paragraph(_safe(sheet.says), BODY), Paragraph("To weigh", HEAD)]
    story.append(
        _table(
            (
                (
                    line.name,
                    "not known" if line.mass_g is None else f"{line.mass_g:.{0 if line.mass_g >= 20 else 1}f} g",
                    line.moment,
                )
                for line in sheet.weigh.lines
            ),
            (80, 35, 55),
        )
    )
    story += [Paragraph("Steps", HEAD)]
    for i, step in enumerate(process.steps(sheet).steps, 1):
        band = f"{step.low_min:.0f} to {step.high_min:.0f} min" if step.high_min >= 1 else "at once"
        story.append(
            Paragraph(
                f"{i}. <b>{_safe(step.title)}</b>, {band}. {_safe(_run(step.says))} {_safe(_run(say('run-sheet.until-then', sign=u) for u in step.until))}",
                BODY,
            )
        )
    story.append(Paragraph("Egg and cautions", HEAD))
    story.append(Paragraph(f"<b>{_safe(sheet.finish.label)}</b>: {_safe(sheet.finish.because)}.", BODY))
    story += [Paragraph(_safe(c), SMALL) for c in sheet.finish.cautions]
    return _document(recipe.name, story)


def product_sheet(sheet: ProductSheet) -> bytes:
    """Return a product's sheet: parts with what each is weighed from, how it is put together, both sides of the egg, what is left."""
    story: list[Any] = [Paragraph(_safe(sheet.name), TITLE), Paragraph(_safe(sheet.says), BODY)]
    for part in sheet.parts:
        unit = "piece" if part.unit == "pieces" and round(part.wants) == 1 else part.unit
        amount = f"{part.wants:.0f} {unit}"
        story.append(Paragraph(f"{_safe(part.name)}, {amount}", HEAD))
        if part.recipe is None:
            story.append(Paragraph(_safe(f"a product of its own: {_run((x.title for x in part.segments), ', ')}"), SMALL))
            continue
        story.append(
            _table(
                (
                    (line.name, "not known" if line.mass_g is None else f"{line.mass_g:.{0 if line.mass_g >= 20 else 1}f} g")
                    for line in part.lines
                ),
                (90, 40),
            )
        )
    story.append(Paragraph("Put together", HEAD))
    story.append(
        _table(((sheet.assembled.titles[key], _said(figure)) for key, figure in sheet.assembled.figures.items()), (60, 60))
    )
    story.append(Spacer(1, 4))
    for i, step in enumerate(sheet.assembled.steps, 1):
        story.append(Paragraph(f"{i}. <b>{_safe(step.title)}</b> {_safe(_run(step.says))}", BODY))
    story.append(Paragraph("Eggs", HEAD))
    story.append(Paragraph(f"{_safe(sheet.eggs.says)} {sheet.eggs.cracked} eggs to crack.", BODY))
    for left in sheet.left:
        story.append(Paragraph(_safe(f"Left: {left.amount:.0f} {left.unit} {told(left.name)}. {_run(left.uses, '; ')}"), SMALL))
    return _document(sheet.name, story)


def _least(sheet: LabelSheet, what: PerPortion) -> str:
    return "at least " if what in sheet.at_least else ""


def _how_known(sheet: LabelSheet) -> str:
    if sheet.egg == "no egg":
        return ""
    return "By the batches it was made in." if sheet.egg_as_made else "As expected; the batches it is made in may show otherwise."


def kept(lot: StockLot, zone: ZoneInfo) -> list[str]:
    """Return what the label of what is in stock says of its keeping: when it was made, where it stands, its use-by. zone: of the kitchen's clock."""

    def at(moment: datetime) -> str:
        here = moment.astimezone(zone)
        return f"{here:%a} {here.day} {here:%b %Y, %H:%M}"

    made = say("stock.made", at=at(lot.made), where=lot.place)
    until = say("stock.use-by-not-known") if lot.keep_until is None else say("stock.use-by", at=at(lot.keep_until))
    return [told(one) for one in (made, until, *([say("stock.thawed-once")] if lot.thawed else []))]


def stock_label(lot: StockLot, sheet: LabelSheet, zone: ZoneInfo) -> bytes:
    """Return the label of what is in stock. zone: of the kitchen's clock."""
    return label(lot.name, sheet.model_copy(update={"keeps": ()}), kept=kept(lot, zone))


def label(name: str, sheet: LabelSheet, says: str = "", kept: Sequence[str] = ()) -> bytes:
    """Return a label for the shelf or the plate. kept: of something in stock, when it was made, where it stands, its use-by."""
    allergens = (
        ", ".join([*(a.name for a in sheet.allergens), *(["gelatine"] if sheet.gelatine else [])])
        or "none of the named allergens"
    )
    story: list[Any] = [Paragraph(_safe(name), TITLE)]
    if says:
        story.append(Paragraph(f"<b>{_safe(says)}</b>", BODY))
    story += [Paragraph(f"<b>{_safe(line)}</b>", BODY) for line in kept]
    if sheet.missing:
        says = f"Not complete: {_run(sheet.missing, ' and ')} is missing. Not a label to use."
        story.append(Paragraph(f"<b>{_safe(says)}</b>", HEAD))
    story += [
        Paragraph(f"{_least(sheet, 'mass')}{sheet.portion_g:.0f} g a portion, {sheet.portions} portions", BODY),
        Paragraph("Contains", HEAD),
        Paragraph(f"<b>{_safe(allergens)}</b>", BODY),
    ]
    story += [Paragraph(_safe(f"{a.name}: {_run(a.within, '; ')}"), SMALL) for a in sheet.allergens]
    story += [
        Paragraph("Egg", HEAD),
        Paragraph(f"<b>{_safe(sheet.egg)}</b>: {_safe(sheet.egg_because)}. {_how_known(sheet)}", BODY),
        Paragraph("In a portion", HEAD),
    ]
    rows = (
        ("energy", f"{_least(sheet, 'energy')}{sheet.energy_kj:.0f} kJ, {sheet.energy_kcal:.0f} kcal"),
        ("sugar", f"{_least(sheet, 'sugar')}{sheet.sugar_g:.0f} g"),
        ("fat", f"{_least(sheet, 'fat')}{sheet.fat_g:.0f} g"),
        ("protein", f"{_least(sheet, 'protein')}{sheet.protein_g:.0f} g"),
        ("alcohol", "contains it, amount not known" if sheet.alcohol_g is None else f"{sheet.alcohol_g:.1f} g"),
    )
    story.append(_table(rows, (40, 60)))
    if sheet.unknown:
        story.append(Paragraph(_safe(f"Amount not known: {_run(sheet.unknown, '; ')}."), BODY))
    if sheet.keeps:
        story.append(Paragraph("Keeps", HEAD))
    keeps = tuple(
        ("put together" if k.what == "whole" else k.what, k.where, "not known" if k.hours is None else f"{k.hours:g} h")
        for k in sheet.keeps
    )
    if keeps:
        story.append(_table(keeps, (80, 35, 30)))
    story += [Spacer(1, 6), *(Paragraph(_safe(c), BODY) for c in sheet.cautions)]
    story.append(Paragraph("Calculated from recipes and tables, not analysed. Local food-safety rules come first.", SMALL))
    return _document(name, story)


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
    across = max(1, int((A4[0] / mm - 2 * MARGIN + shape.gap_mm) // pitch))
    count = min(pieces, across * max(1, int((A4[1] / mm - 2 * MARGIN - 14 + shape.gap_mm) // pitch)))
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
    canvas = Canvas(out, pagesize=A4, invariant=1, pageCompression=0)
    canvas.setTitle(outline.says)
    page = (A4[0] / mm - 2 * MARGIN, A4[1] / mm - 2 * MARGIN - 14)
    columns, rows = (max(1, ceil(size / room - 1e-6)) for size, room in zip((outline.width, outline.height), page, strict=True))
    for row in range(rows):
        for column in range(columns):
            _page(canvas, outline, page, (column, row), (columns, rows))
            canvas.showPage()
    canvas.save()
    return out.getvalue()


def _page(canvas: Canvas, outline: Outline, page: tuple[float, float], at: tuple[int, int], of: tuple[int, int]) -> None:
    canvas.setFont("Helvetica", 9)
    where = f"page {at[0] + 1 + at[1] * of[0]} of {of[0] * of[1]}, join at the crosses" if of[0] * of[1] > 1 else "true size"
    canvas.drawString(MARGIN * mm, (MARGIN + 1) * mm, outline.says.encode("cp1252", "replace").decode("cp1252")[:110])
    canvas.drawString(MARGIN * mm, (MARGIN - 3) * mm, f"{where}; print at 100 %, turn the paper over")
    canvas.setLineWidth(1)
    canvas.line(MARGIN * mm, (MARGIN + 6) * mm, (MARGIN + 50) * mm, (MARGIN + 6) * mm)
    canvas.drawString((MARGIN + 52) * mm, (MARGIN + 5) * mm, "50 mm: measure it")
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


BIG = ParagraphStyle("big", parent=BODY, fontSize=13, leading=16)
TIME = ParagraphStyle("time", parent=BIG, fontName="Helvetica-Bold", fontSize=17, leading=20)


def run_sheet(title: str, view: PlanView, zone: ZoneInfo) -> bytes:
    """Return the day's run sheet for the wall: large type, a line each, who does it, until which sign."""
    story: list[Any] = [Paragraph(_safe(title), TITLE)]
    ready = sorted(((t.ready_by, t) for t in view.threads if t.ready_by is not None), key=lambda x: x[0])
    story += [
        Paragraph(
            _safe(f"{by.astimezone(zone):%H:%M} {told(t.name)}, {told(t.says)}{', ' + t.for_whom if t.for_whom else ''}"), BIG
        )
        for by, t in ready
    ]
    story.append(Spacer(1, 8))
    rows = []
    for entry in day.run_sheet_lines(view):
        name = f"<b>{_safe(entry.name)}</b><br/>" if entry.name else ""
        notes = "".join(f'<br/><font size="10" color="#3f5b61">{_safe(n)}</font>' for n in entry.notes)
        end = f'<br/><font size="10">till {entry.until.astimezone(zone):%H:%M}</font>'
        rows.append(
            [
                Paragraph(f"{entry.at.astimezone(zone):%H:%M}{end}", TIME),
                Paragraph(f"{name}{_safe(entry.says)}{notes}", BIG),
                Paragraph(_safe(", ".join(w.split()[0] for w in entry.who)), BIG),
            ]
        )
    if rows:
        made = Table(rows, colWidths=[24 * mm, 116 * mm, 34 * mm], hAlign="LEFT", splitInRow=1)
        made.setStyle(
            TableStyle(
                [
                    ("LINEBELOW", (0, 0), (-1, -1), 0.5, "#0f2a30"),
                    ("VALIGN", (0, 0), (-1, -1), "TOP"),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), 5),
                ]
            )
        )
        story.append(made)
    return _document(title, story)


def record(title: str, papers: Iterable[BatchPaper], zone: ZoneInfo) -> bytes:
    """Return batches' records for whoever inspects the kitchen: every entry, who made it, what was corrected and by which."""
    story: list[Any] = [Paragraph(_safe(title), TITLE)]
    story.append(
        Paragraph(
            _safe(
                "Entries are as they were made and are never changed; one that was taken back is struck through. Advice, not a validated process: local code decides."
            ),
            SMALL,
        )
    )
    for of in papers:
        began = of.started_at.astimezone(zone)
        ended = "under way" if of.finished_at is None else f"finished {of.finished_at.astimezone(zone):%d %B %H:%M}"
        story.append(Paragraph(_safe(f"{of.name}: {told(of.says)}"), HEAD))
        story.append(Paragraph(_safe(f"Began {began:%A %d %B %Y %H:%M} ({zone.key}), {ended}."), BODY))
        story.append(Paragraph(f"<b>Egg: {_safe(of.egg.label)}</b>, {_safe(of.egg.because)}.", BODY))
        story += [Paragraph(_safe(t), BODY) for t in of.traces]
        rows = [[Paragraph(f"<b>{h}</b>", SMALL) for h in ("", "happened", "step", "entry", "who")]]
        rows += [[Paragraph(cell, SMALL) for cell in _entry(line, zone)] for line in of.lines]
        made = Table(rows, colWidths=[w * mm for w in (10, 24, 40, 70, 30)], hAlign="LEFT", repeatRows=1, splitInRow=1)
        made.setStyle(
            TableStyle(
                [
                    ("LINEBELOW", (0, 0), (-1, -1), 0.4, "#c9d6d3"),
                    ("VALIGN", (0, 0), (-1, -1), "TOP"),
                    ("TOPPADDING", (0, 0), (-1, -1), 1),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
                ]
            )
        )
        story.append(made)
    return _document(title, story)


def _entry(x: RecordLine, zone: ZoneInfo) -> tuple[str, ...]:
    value, low, high, unit = figures_of(x)
    said = f"{_safe(x.what)}{value and f': {value} {unit}'}"
    if x.low is not None and x.high is not None and x.value is not None and not x.low <= x.value <= x.high:
        said += f" (expected {low} to {high})"
    if x.taken_back is not None:
        said = f"<strike>{said}</strike> taken back by entry {x.taken_back}"
    late = (x.arrived - x.at).total_seconds() / 60
    when = f"{x.at.astimezone(zone):%H:%M:%S}" + (f"<br/>arrived {late:.0f} min later" if late > 2 else "")
    return str(x.entry), when, _safe(x.step), said, _safe(", ".join(p for p in (x.who, x.device) if p))
