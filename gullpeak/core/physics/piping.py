"""Foam piped over a round: cap, rosettes, lattice. Volumes ml, lengths mm; the centres and bars are drawn at true size too."""

from math import asin, cos, floor, pi, sin, sqrt

from gullpeak.core.value import Value, check_range


class Rosettes(Value):
    """Rosettes on a round: their centres from its middle, mm, and the foam of all."""

    centres: tuple[tuple[float, float], ...]
    volume_ml: float


class Lattice(Value):
    """Bars both ways over a round: each as (x1, y1, x2, y2), mm from its middle, and the foam of all."""

    bars: tuple[tuple[float, float, float, float], ...]
    volume_ml: float


def cap_ml(diameter_mm: float, edge_mm: float, peak_mm: float) -> float:
    """Return the foam of a cap: a round `edge_mm` thick at the crust, domed to `peak_mm` in the middle.

    >>> round(cap_ml(200, 20, 50))
    1100
    """
    check_range("caps-edge", edge_mm, 0, peak_mm, "mm")
    return (pi / 4 * diameter_mm**2 * edge_mm + pi / 8 * diameter_mm**2 * (peak_mm - edge_mm)) / 1000


def rosettes(diameter_mm: float, each_mm: float, height_mm: float) -> Rosettes:
    """Set rosettes `each_mm` wide in rings over a round, touching, the outer ring on the crust.

    Raises ValueError where one is wider than the round.

    >>> len(rosettes(200, 40, 35).centres)
    19
    """
    check_range("a-rosettes-width", each_mm, 5, diameter_mm, "mm")
    centres: list[tuple[float, float]] = []
    radius = (diameter_mm - each_mm) / 2
    while radius > each_mm * 0.55:
        count = floor(pi / asin(min(each_mm / (2 * radius), 1.0)) + 1e-9)
        centres += [(radius * cos(2 * pi * i / count), radius * sin(2 * pi * i / count)) for i in range(count)]
        radius -= each_mm
    if radius > -each_mm / 2 + 1e-9:
        centres.append((0.0, 0.0))
    each = pi / 8 * each_mm**2 * height_mm / 1000
    return Rosettes(centres=tuple((round(x, 1), round(y, 1)) for x, y in centres), volume_ml=len(centres) * each)


def lattice(diameter_mm: float, bar_mm: float, gap_mm: float) -> Lattice:
    """Lay bars `bar_mm` wide, `gap_mm` apart, both ways over a round; a bar is half an ellipse, four fifths as high as wide.

    >>> net = lattice(200, 14, 22)
    >>> len(net.bars), round(net.volume_ml)
    (10, 210)
    """
    check_range("a-bar", bar_mm, 3, 60, "mm")
    check_range("gap", gap_mm, 0, diameter_mm, "mm")
    radius, pitch = diameter_mm / 2, bar_mm + gap_mm
    per_side = floor((radius - bar_mm / 2) / pitch)
    places = [i * pitch for i in range(-per_side, per_side + 1)]
    chords = [(p, sqrt(radius**2 - p**2)) for p in places]
    bars = [(p, -c, p, c) for p, c in chords] + [(-c, p, c, p) for p, c in chords]
    length = 2 * sum(2 * c for _, c in chords)
    section = pi / 4 * bar_mm * 0.8 * bar_mm
    return Lattice(
        bars=tuple((round(a, 1), round(b, 1), round(c, 1), round(d, 1)) for a, b, c, d in bars), volume_ml=section * length / 1000
    )
