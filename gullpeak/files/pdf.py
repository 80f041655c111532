"""Sheets, labels and records as PDF, in the project's own fonts on the kitchen's paper."""

from collections.abc import Iterable, Iterator, Sequence
from datetime import datetime
from io import BytesIO
from typing import Any
from zoneinfo import ZoneInfo

from reportlab.lib.colors import HexColor
from reportlab.lib.enums import TA_RIGHT
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from gullpeak.core.bench import process
from gullpeak.core.plan.view import PlanView
from gullpeak.core.product.assembly.base import Patch
from gullpeak.core.product.product_sheet import ProductSheet
from gullpeak.core.product.stock import StockLot
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet.essentials import Essential
from gullpeak.core.sheet.label import LabelSheet, PerPortion
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.sheet.stations.base import Station, clock
from gullpeak.core.value import Figure, Said, say
from gullpeak.core.words import dates
from gullpeak.core.words.reader import Paper
from gullpeak.files import day, drawn, fonts
from gullpeak.files.reader import READER, told
from gullpeak.files.record import BatchPaper, RecordLine, figures_of

fonts.ready()
BODY = ParagraphStyle("body", fontName="Text", fontSize=10.5, leading=14)
SMALL = ParagraphStyle("small", parent=BODY, fontSize=9, leading=11.5, textColor=HexColor("#3f5b61"))
HEAD = ParagraphStyle("head", parent=BODY, fontName="Text-Bold", fontSize=13, leading=17, spaceBefore=8, spaceAfter=3)
TITLE = ParagraphStyle("title", parent=BODY, fontName="Name", fontSize=22, leading=26)
BIG = ParagraphStyle("big", parent=BODY, fontSize=13, leading=16)
RIGHT = ParagraphStyle("right", parent=SMALL, alignment=TA_RIGHT, textColor=HexColor("#0f2a30"))
SIDE = 16.0
"""mm, kept free at the sides."""
PAPERS: dict[Paper, tuple[float, float]] = {"A4": A4, "Letter": LETTER}


def paper() -> tuple[float, float]:
    """The kitchen's paper, points."""
    return PAPERS[READER.get().paper]


def _safe(said: Said | str, chain: fonts.Chain = fonts.BODY) -> str:
    """Text for the page, in the kitchen's degrees: markup shown as text, each letter in a font that has it."""
    return fonts.markup(told(said), chain)


def _title(text: str) -> Paragraph:
    return Paragraph(_safe(text, fonts.NAME), TITLE)


def _head(text: Said | str) -> Paragraph:
    return Paragraph(_safe(text, fonts.HEADING), HEAD)


WHOLE, TENTHS = ("%", "°C", "°F", "s"), ("g", "l", "mm", "h", "min")
"""Units of which a scale or a clock shows no part, or a tenth."""


def _said(figure: Figure) -> str:
    """A figure as a scale or a clock would show it."""
    if figure.text:
        return told(figure.text)
    value, unit = figure.value, figure.unit
    if value is None:
        return "not known"
    if unit == "min" and value >= 60:
        return told(clock(value))
    places = (
        0
        if abs(value) >= 100 or unit in WHOLE or (unit == "g" and value >= 20)
        else 1
        if abs(value) >= 10 or unit in TENTHS
        else 2
    )
    return f"{round(value, places):g} {unit}".strip()


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


def _texts(story: Iterable[Any]) -> Iterator[str]:
    """All that stands on the pages, tables too."""
    for one in story:
        if isinstance(one, Paragraph):
            yield one.getPlainText(identify=True)
        elif isinstance(one, Table):
            yield from _texts(cell for row in getattr(one, "_cellvalues") for cell in row)  # noqa: B009


def _document(title: str, story: list[Any]) -> bytes:
    out = BytesIO()
    lacks = fonts.lacking(_texts(story))
    if lacks:
        codes = ", ".join(f"U+{ord(letter):04X}" for letter in lacks)
        story = [*story, Paragraph(_safe(say("paper.no-letter", n=len(lacks), codes=codes)), SMALL)]
    SimpleDocTemplate(
        out,
        pagesize=PAPERS[READER.get().paper],
        title=title,
        author="Gull Peak",
        leftMargin=SIDE * mm,
        rightMargin=SIDE * mm,
        topMargin=16 * mm,
        bottomMargin=16 * mm,
        invariant=1,
    ).build(story)
    return out.getvalue()


CARDS_ACROSS = 4


def _card(station: Station, lines: Sequence[Essential], width: float) -> list[Any]:
    """A station as it stands on the sheet: its name, its figure, its lines."""
    rows = [[Paragraph(_safe(x.name), SMALL), Paragraph(f"<b>{_safe(x.says)}</b>", RIGHT)] for x in lines]
    out: list[Any] = [_head(station.title), Paragraph(f"<b>{_safe(_said(station.figures[station.vital]))}</b>", BIG)]
    if rows:
        out.append(
            Table(
                rows,
                colWidths=[width * 0.56, width * 0.44],
                style=[
                    ("LINEABOVE", (0, 0), (-1, -1), 0.4, "#c9d6d3"),
                    ("VALIGN", (0, 0), (-1, -1), "TOP"),
                    *((f"{side}PADDING", (0, 0), (-1, -1), 0) for side in ("LEFT", "RIGHT")),
                    *((f"{side}PADDING", (0, 0), (-1, -1), 1) for side in ("TOP", "BOTTOM")),
                ],
            )
        )
    return out


def _cards(sheet: Sheet) -> Table:
    """The stations of a sheet side by side, as on the screen."""
    width = (paper()[0] - 2 * SIDE * mm) / CARDS_ACROSS
    made = [_card(station, sheet.essentials.get(station.key, ()), width - 12) for station in sheet.stations()]
    made += [[] for _ in range(-len(made) % CARDS_ACROSS)]
    return Table(
        [made[i : i + CARDS_ACROSS] for i in range(0, len(made), CARDS_ACROSS)],
        colWidths=[width] * CARDS_ACROSS,
        style=[
            ("BOX", (0, 0), (-1, -1), 0.5, "#c9d6d3"),
            ("INNERGRID", (0, 0), (-1, -1), 0.5, "#c9d6d3"),
            ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ],
    )


def recipe_sheet(recipe: Recipe, sheet: Sheet) -> bytes:
    """Return a recipe's sheet: its piece, its stations as on the screen, its steps, its cautions."""
    story: list[Any] = [_title(recipe.name), Paragraph(_safe(sheet.says), BODY)]
    section = () if sheet.shape is None else sheet.shape.section
    toast = None if sheet.dry is None else sheet.dry.colour
    picture = drawn.piece(section, sheet.material, sheet.colour, toast)
    story += [*([picture] if picture else []), Spacer(1, 6), _cards(sheet)]
    story += [_head("Steps")]
    for i, step in enumerate(process.steps(sheet).steps, 1):
        low, high = f"{step.low_min:.0f}", f"{step.high_min:.0f}"
        band = "at once" if step.high_min < 1 else f"{high} min" if low == high else f"{low} to {high} min"
        story.append(
            Paragraph(
                f"{i}. <b>{_safe(step.title)}</b>, {band}. {_safe(_run(step.says))} {_safe(_run(say('run-sheet.until-then', sign=u) for u in step.until))}",
                BODY,
            )
        )
    story.append(_head("Egg and cautions"))
    story.append(Paragraph(f"<b>{_safe(sheet.finish.label)}</b>: {_safe(sheet.finish.because)}.", BODY))
    story += [Paragraph(_safe(c), SMALL) for c in sheet.finish.cautions]
    return _document(recipe.name, story)


def product_sheet(sheet: ProductSheet) -> bytes:
    """Return a product's sheet: parts with what each is weighed from, how it is put together, both sides of the egg, what is left."""
    story: list[Any] = [_title(sheet.name), Paragraph(_safe(sheet.says), BODY)]
    picture = drawn.product(sheet.assembled.section)
    story += [Spacer(1, 4), picture] if picture else []
    for part in sheet.parts:
        unit = "piece" if part.unit == "pieces" and round(part.wants) == 1 else part.unit
        amount = f"{part.wants:.0f} {unit}"
        story.append(_head(f"{part.name}, {amount}"))
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
    story.append(_head("Put together"))
    story.append(
        _table(((sheet.assembled.titles[key], _said(figure)) for key, figure in sheet.assembled.figures.items()), (60, 60))
    )
    story.append(Spacer(1, 4))
    for i, step in enumerate(sheet.assembled.steps, 1):
        story.append(Paragraph(f"{i}. <b>{_safe(step.title)}</b> {_safe(_run(step.says))}", BODY))
    story.append(_head("Eggs"))
    story.append(Paragraph(f"{_safe(sheet.eggs.says)} {sheet.eggs.cracked} eggs to crack.", BODY))
    for left in sheet.left:
        story.append(
            Paragraph(_safe(f"Left over: {left.amount:.0f} {left.unit} {told(left.name)}. {_run(left.uses, '; ')}"), SMALL)
        )
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
        return dates.moment(moment.astimezone(zone), READER.get())

    made = say("stock.made", at=at(lot.made), where=lot.place)
    until = say("stock.use-by-not-known") if lot.keep_until is None else say("stock.use-by", at=at(lot.keep_until))
    return [told(one) for one in (made, until, *([say("stock.thawed-once")] if lot.thawed else []))]


def stock_label(lot: StockLot, sheet: LabelSheet, zone: ZoneInfo) -> bytes:
    """Return the label of what is in stock. zone: of the kitchen's clock."""
    return label(lot.name, sheet.model_copy(update={"keeps": ()}), kept=kept(lot, zone))


LABEL_BOX = (130.0, 56.0)
"""Room of the drawing on a label, points."""


def label(name: str, sheet: LabelSheet, says: str = "", kept: Sequence[str] = (), section: Sequence[Patch] = ()) -> bytes:
    """Return a label for the shelf or the plate. kept: of something in stock, when it was made, where it stands, its use-by; section:
    what it looks like cut through, where it is drawn."""
    allergens = (
        ", ".join([*(a.name for a in sheet.allergens), *(["gelatine"] if sheet.gelatine else [])])
        or "none of the named allergens"
    )
    story: list[Any] = [_title(name)]
    picture = drawn.product(section, LABEL_BOX)
    story += [picture, Spacer(1, 4)] if picture else []
    if says:
        story.append(Paragraph(f"<b>{_safe(says)}</b>", BODY))
    story += [Paragraph(f"<b>{_safe(line)}</b>", BODY) for line in kept]
    if sheet.missing:
        says = f"Not complete: {_run(sheet.missing, ' and ')} is missing. Not a label to use."
        story.append(Paragraph(f"<b>{_safe(says)}</b>", HEAD))
    story += [
        Paragraph(f"{_least(sheet, 'mass')}{sheet.portion_g:.0f} g a portion, {sheet.portions} portions", BODY),
        _head("Contains"),
        Paragraph(f"<b>{_safe(allergens)}</b>", BODY),
    ]
    story += [Paragraph(_safe(f"{a.name}: {_run(a.within, '; ')}"), SMALL) for a in sheet.allergens]
    story += [
        _head("Egg"),
        Paragraph(f"<b>{_safe(sheet.egg)}</b>: {_safe(sheet.egg_because)}. {_how_known(sheet)}", BODY),
        _head("In a portion"),
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
        story.append(_head("Keeps"))
    keeps = tuple(
        ("put together" if k.what == "whole" else k.what, k.where, "not known" if k.hours is None else f"{k.hours:g} h")
        for k in sheet.keeps
    )
    if keeps:
        story.append(_table(keeps, (80, 35, 30)))
    story += [Spacer(1, 6), *(Paragraph(_safe(c), BODY) for c in sheet.cautions)]
    story.append(Paragraph("Calculated from recipes and tables, not analysed. Local food-safety rules come first.", SMALL))
    return _document(name, story)


TIME = ParagraphStyle("time", parent=BIG, fontName="Text-Bold", fontSize=17, leading=20)


def run_sheet(title: str, view: PlanView, zone: ZoneInfo) -> bytes:
    """Return the day's run sheet for the wall: large type, a line each, who does it, until which sign."""
    story: list[Any] = [_title(title)]
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
        end = f'<br/><font size="10">until {entry.until.astimezone(zone):%H:%M}</font>'
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
    story: list[Any] = [_title(title)]
    story.append(
        Paragraph(
            _safe(
                "Entries stand as they were made and are never changed; one taken back is struck through. Advice, not a validated process: local food-safety rules come first."
            ),
            SMALL,
        )
    )
    for of in papers:
        began = of.started_at.astimezone(zone)
        end = of.finished_at
        ended = "under way" if end is None else f"finished {dates.moment(end.astimezone(zone), READER.get())}"
        story.append(_head(f"{of.name}: {told(of.says)}"))
        story.append(Paragraph(_safe(f"Began {dates.moment(began, READER.get())} ({zone.key}), {ended}."), BODY))
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
