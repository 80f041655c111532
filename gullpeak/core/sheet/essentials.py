"""What each station asks for in a line or a few: all that a cook works from, its amounts, stages, sizes, settings and keeping."""

from typing import TYPE_CHECKING

from gullpeak.core.recipe.shapes import KINDS
from gullpeak.core.recipe.step import StationKey
from gullpeak.core.sheet.batch import Line, as_weighed
from gullpeak.core.sheet.stations.base import clock
from gullpeak.core.sheet.stations.dissolve import SugarStation
from gullpeak.core.sheet.stations.dry import Dry
from gullpeak.core.sheet.stations.finish import Finish
from gullpeak.core.sheet.stations.heated import HeatStation
from gullpeak.core.sheet.stations.shape import ShapeStation
from gullpeak.core.sheet.stations.weigh import Weigh
from gullpeak.core.sheet.stations.whisk import Whisk
from gullpeak.core.value import Figure, Said, Value, known, say, written

if TYPE_CHECKING:
    from gullpeak.core.sheet.sheet import Sheet


class Essential(Value):
    """One line of a station: what it is, and how much, how long or how hot. quiet: what is left over, not what is done."""

    name: Said
    says: Said
    quiet: bool = False


Lines = list[Essential]


def essentials(sheet: "Sheet") -> dict[StationKey, tuple[Essential, ...]]:
    """Return the lines of every station of a sheet."""
    found: dict[StationKey, Lines] = {"weigh": _weigh(sheet.weigh), "finish": _finish(sheet.finish)}
    if sheet.sugar is not None:
        found["sugar"] = _sugar(sheet.sugar, sheet)
    if sheet.heat is not None:
        found["heat"] = _heat(sheet.heat, sheet.recipe.base)
    if sheet.whisk is not None:
        found["whisk"] = _whisk(sheet.whisk)
    if sheet.shape is not None:
        found["shape"] = _shape(sheet, sheet.shape)
    if sheet.dry is not None:
        found["dry"] = _dry(sheet.dry)
    return {key: tuple(lines) for key, lines in found.items()}


def _line(name: str, says: Said) -> Essential:
    return Essential(name=say(f"essential.{name}"), says=says)


def _grams(mass_g: float | None) -> Said:
    return say("essential.not-known") if mass_g is None else say("amount.g", x=as_weighed(mass_g))


def _amount(line: Line) -> Said:
    """What goes on the scale; a vague amount as its cook wrote it."""
    return written(line.written) if line.mass_g is None and line.written else _grams(line.mass_g)


def _minutes(low: float | None, high: float | None) -> Said:
    """A band of minutes as a cook says it, to the half minute below ten."""
    if low is None or high is None:
        return say("essential.not-known")
    if high >= 60:
        low, high = round(low), round(high)
        return clock(low) if low == high else say("essential.between", low=clock(low), high=clock(high))
    low, high = (round(2 * x) / 2 if x < 10 else round(x) for x in (low, high))
    return say("essential.min", x=low) if low == high else say("essential.mins", low=low, high=high)


def _spread(figure: Figure) -> Said:
    """The band of a figure in minutes; what it says instead where it has none."""
    if figure.value is None:
        return known(figure.text, say("essential.never"))
    return _minutes(known(figure.low, figure.value), known(figure.high, figure.value))


def _weigh(weigh: Weigh) -> Lines:
    lines = [Essential(name=written(x.name), says=_amount(x)) for x in weigh.lines[1:]]
    for key in ("powder", "powder-water"):
        if key in weigh.figures:
            lines.append(_line(key, _grams(weigh.figures[key].value)))
    if weigh.eggs is not None and weigh.eggs.frees is not None:
        left = say("essential.count-mass", n=weigh.eggs.count, mass_g=weigh.eggs.freed_g)
        lines.append(_line(f"freed-{weigh.eggs.frees}", left).model_copy(update={"quiet": True}))
    return lines


def _sugar(sugar: SugarStation, sheet: "Sheet") -> Lines:
    lines: Lines = []
    sugars = {(line.name, line.moment) for line in sheet.weigh.lines if line.role == "sugar"}
    for pour in () if sheet.whisk is None else sheet.whisk.pours:
        if (pour.name, pour.moment) in sugars:
            lines.append(Essential(name=written(pour.name), says=say(f"essential.at.{pour.moment.replace(' ', '-')}")))
            if pour.until_min > pour.from_min and pour.moment != "syrup":
                lines.append(_line("rained-in", _minutes(pour.until_min - pour.from_min, pour.until_min - pour.from_min)))
    lines.append(_line("smooth", _spread(sugar.figures["smooth"])))
    if sugar.dissolving.undissolved_ratio > 0:
        lines.append(_line("undissolved", _grams(sugar.figures["undissolved"].value)))
    return lines


def _heat(heat: HeatStation, base: str) -> Lines:
    figures = heat.figures
    if heat.syrup is not None:
        contents = heat.syrup.contents
        return [
            _line("in-pan", say("essential.sugar-water", sugar_g=contents.solids_g, water_g=contents.water_g)),
            _line("pan-takes", _spread(figures["time"])),
            _line("pan-loses", _grams(figures["lost"].value)),
            _line("start-whites", say("essential.pan-at", pan_c=figures["start-at"].value)),
            _line("bowl-reaches", say("amount.c-0f", x=heat.expected_c)),
            _line("hand-warm", _spread(figures["hand-warm"])),
        ]
    assert heat.bath is not None
    window = heat.bath.window
    return [
        _line("takes", _spread(figures["time"])),
        _line("thickens", say("amount.c-0f", x=window.thickens_c)),
        _line("clots" if base == "white" else "scrambles", say("amount.c-0f", x=window.sets_c)),
    ]


def _whisk(whisk: Whisk) -> Lines:
    lines = [_line(f"stage-{s.name.replace(' ', '-')}", _minutes(s.low_min, s.high_min)) for s in whisk.whisking.stages]
    folded = [pour for pour in whisk.pours if pour.moment == "folded last"]
    return [*lines, *(Essential(name=say("essential.fold-in", what=pour.name), says=_grams(pour.mass_g)) for pour in folded)]


def _shape(sheet: "Sheet", station: ShapeStation) -> Lines:
    shape, figures = sheet.recipe.shape, station.figures
    assert shape is not None
    lengths = {x.removesuffix("_mm"): round(getattr(shape, x) / 10, 1) for x in KINDS[shape.kind].lengths}
    sizes = [_line(f"size-{name}", say("amount.cm", x=cm)) for name, cm in lengths.items()]
    return [
        *sizes,
        _line("each", _grams(figures["piece"].value)),
        _line("on-trays", say("essential.trays", trays=tuple(station.trays))),
        _line("bag", say("essential.fills", n=figures["bags"].value)),
    ]


def _dry(dry: Dry) -> Lines:
    bars = [
        Essential(name=bar.says, says=clock(bar.until_min - bar.from_min)) for bar in dry.bars if bar.until_min > bar.from_min
    ]
    lines = [*bars, _line("tray-out", _grams(dry.figures["out"].value))]
    if dry.colour is not None:
        lines.append(_line("ridges", say(f"colour.{dry.colour}")))
    return lines


def _finish(finish: Finish) -> Lines:
    figures = finish.figures
    lines = [Essential(name=say("essential.crisp", where=kept.container), says=_hours(kept.hours)) for kept in finish.keeping]
    if "holds" in figures and not lines:
        held = figures["holds"]
        lines.append(_line("holds", _minutes(held.low, held.high) if held.unit == "min" else _hours_between(held.low, held.high)))
    if "volume" in figures:
        lines.append(_line("makes", say("amount.l-1f", x=known(figures["volume"].value, 0.0))))
    return [*lines, _line("egg", written(finish.label))]


def _hours_between(low: float | None, high: float | None) -> Said:
    if low is None or low == high:
        return _hours(high)
    return say("essential.between", low=_hours(low), high=_hours(high))


def _hours(hours: float | None) -> Said:
    if hours is None:
        return say("essential.while-dry")
    if hours == 0:
        return say("essential.soft-from-start")
    if hours < 1:
        return say("essential.min", x=round(60 * hours))
    if hours < 10:
        return say("essential.hours", x=round(hours, 1))
    if hours < 48:
        return say("essential.hours", x=round(hours, 0))
    return say("essential.days", x=hours / 24)
