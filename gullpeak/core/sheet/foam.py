"""Foam: stages of whisking and their times, what goes in when, and how light it becomes.

Times are minutes of whisking, densities g/ml. All are bands. Base times: a stand mixer at medium-high,
5–6 whites at 20 °C. Source: craft rules in docs/science.md, from bench practice.
"""

from gullpeak.core.kitchen.kitchen import MixerKind
from gullpeak.core.recipe.ways import WAYS, Band, FoamRow, Moment, School, StageName
from gullpeak.core.value import RefusalError, Said, Value, check_range, say

SIGNS: dict[StageName, Said] = {
    "loose": say("stage.sign.loose"),
    "frothy": say("stage.sign.frothy"),
    "soft peak": say("stage.sign.soft-peak"),
    "medium peak": say("stage.sign.medium-peak"),
    "firm peak": say("stage.sign.firm-peak"),
    "stiff glossy peak": say("stage.sign.stiff-glossy-peak"),
    "over-whisked": say("stage.sign.over-whisked"),
}

SLUGS: dict[StageName, str] = {stage: stage.replace(" ", "-") for stage in SIGNS}
"""The stages as keys of the words."""

MIXER_TIME: dict[MixerKind, float] = {"stand": 1.0, "planetary": 0.8, "hand-held": 1.6, "balloon whisk": 4.0}


USUAL_G_L = 36.0
"""White to a litre of bowl that the table of times is for: five or six in a stand mixer's."""
MASS_POWER, MASS_LEAST, MASS_MOST = 0.25, 0.7, 2.0
"""More in the same bowl takes longer, by this power of it, within these (craft estimate): one white in a large bowl three quarters of the table."""


def mass_time(white_g: float, bowl_l: float) -> float:
    """Return what so much white in such a bowl takes of the table's time; g and l, > 0.

    >>> [round(mass_time(g, 5), 2) for g in (33, 180, 600)]
    [0.7, 1.0, 1.35]
    """
    return float(min(max((white_g / bowl_l / USUAL_G_L) ** MASS_POWER, MASS_LEAST), MASS_MOST))


class MomentRule(Value):
    """What it changes when the sugar goes in at a moment. dissolves: how fast its grains go against sugar in soft foam."""

    time: float
    volume: float
    says: Said
    dissolves: float = 1.0


MOMENTS: dict[Moment, MomentRule] = {
    "start": MomentRule(
        time=1.8,
        volume=0.85,
        says=say("foam.nearly-twice-whisking-seventh"),
        dissolves=1.3,
    ),
    "froth": MomentRule(time=1.4, volume=0.92, says=say("foam.longer-whisking-fine-foam"), dissolves=1.15),
    "before soft": MomentRule(time=1.15, volume=0.97, says=say("foam.fine-steady-nearly-full"), dissolves=1.05),
    "soft": MomentRule(time=1.0, volume=1.0, says=say("foam.full-volume-spoon-spoon")),
    "stiff": MomentRule(time=0.95, volume=1.0, says=say("foam.quickest-lightest-but-coarse"), dissolves=0.6),
    "syrup": MomentRule(time=1.0, volume=1.0, says=say("foam.boiled-water-poured-hot")),
    "bath": MomentRule(time=1.0, volume=1.0, says=say("foam.warmed-egg-until-dissolved")),
    "off heat": MomentRule(time=1.0, volume=1.0, says=say("foam.stirred-off-heat")),
    "cooled": MomentRule(time=1.0, volume=1.0, says=say("foam.folded-once-cooled")),
    "folded last": MomentRule(time=1.0, volume=0.95, says=say("foam.whisking-after-only-fine")),
}


_WINDOW_SUGARED, _WINDOW_PLAIN = (4.0, 8.0), (0.5, 1.0)
"""Minutes at stiff before it is over-whisked: wide with sugar in, short without."""

OLD = 0.85
"""Of the time, with whites that have stood for days: they are thinner."""
CHILLED = 1.25
"""Time at 4 °C against 20 °C."""
SLOWER = {"fresh": (1.0, 1.0), "frozen": (1.0, 1.0), "dried": (1.0, 1.2), "carton": (1.5, 2.0)}
FAT_TRACE = 0.0005
"""Share of fat in the white that costs half the volume."""
SAFE_FILL = 0.80
FLAT = (0.70, 0.85)
"""Density of a foam that fat has brought all the way down, g/ml."""
RAIN_MIN = (2.5, 3.5)
"""Minutes over which a ratio of 1.6 rains in on a stand mixer."""


class Stage(Value):
    """A stage with the band of minutes at which it is reached and its sign."""

    name: StageName
    low_min: float
    high_min: float
    sign: Said


class Whisking(Value):
    """The whisk worked out: stages, density, and how long the foam stays at its best."""

    stages: tuple[Stage, ...]
    rain_from_min: tuple[float, float]
    rain_min: tuple[float, float]
    window_min: tuple[float, float]
    density: tuple[float, float]
    says: Said


MOST_TABLED = 4.0
"""g sugar to a g of white: past it nothing is tabled, and a foam is told as this one."""


def french_density(ratio: float) -> tuple[float, float]:
    """Return the density band of a stiff French foam, g/ml, by sugar ratio 0–4.

    >>> [round(d, 2) for d in french_density(2.0)]
    [0.21, 0.26]
    """
    check_range("sugar-ratio", ratio, 0, MOST_TABLED)
    low = 0.10 + 0.06 * ratio if ratio <= 1 else 0.16 + 0.05 * (ratio - 1)
    high = 0.14 + 0.05 * ratio if ratio <= 1 else 0.19 + 0.07 * (ratio - 1)
    return low, high


def _foam(school: School) -> FoamRow:
    row = WAYS[school].foam
    if row is None:
        raise RefusalError(say("foam.no-foam", name=WAYS[school].name), "school")
    return row


def stages(school: School) -> dict[StageName, Band]:
    """Return the minutes to each stage by a school of meringue, before mixer, mass and moment. Raises RefusalError for another way.

    >>> stages("french")["soft peak"]
    (2.0, 2.5)
    """
    return _foam(school).stages


def middle(school: School) -> dict[StageName, float]:
    """Return the middle of the minutes to each stage by a school of meringue.

    >>> middle("french")["soft peak"]
    2.25
    """
    return {name: sum(band) / 2 for name, band in stages(school).items()}


def cold(temp_c: float) -> float:
    """Return what whites of a temperature take of the time they take at 20 °C: at most `CHILLED`, from 4 °C down."""
    return 1 + (CHILLED - 1) * min(max((20 - temp_c) / 16, 0.0), 1.0)


def fat_keeps(fat_share: float) -> float:
    """Return the share of its volume that a trace of fat leaves a foam; g fat a g white, ≥ 0.

    >>> fat_keeps(FAT_TRACE)
    0.5
    """
    # Ten halvings are flat many times over; more than a float holds is no foam either.
    return float(0.5 ** min(fat_share / FAT_TRACE, 10.0))


def whisk(
    school: School,
    ratio: float,
    moment: Moment,
    mixer: MixerKind = "stand",
    temp_c: float = 20,
    white: str = "fresh",
    old: bool = False,
    acid: bool = False,
    fat_share: float = 0.0,
    folded_ratio: float = 0.0,
    pace: float = 1.0,
    mass: float = 1.0,
) -> Whisking:
    """Work out the whisking of a foam.

    ratio: g sugar per g white whisked in, 0–4; folded_ratio: more of it folded in last. moment: when the
    sugar starts. temp_c: of the white, 0–40. white: fresh, frozen, carton, dried. fat_share: g fat per g
    white in the bowl. pace: what this mixer takes of the table's time, 0.3–3; mass: what so much in its bowl takes of it
    (`mass_time`). Raises ValueError out of range.

    >>> whisk("french", 1.8, "soft").stages[1].low_min
    2.0
    """
    check_range("temperature-of-the-white", temp_c, 0, 40, "°C")
    way, foam = WAYS[school], _foam(school)
    chilled = 1.0 if way.heats == "bath" else cold(temp_c)
    slow_low, slow_high = SLOWER[white]
    factor = MIXER_TIME[mixer] * pace * mass * chilled * (OLD if old else 1.0)
    rule = MOMENTS[moment] if foam.rains else MomentRule(time=1.0, volume=1.0, says=way.says)
    stages = tuple(
        Stage(
            name=name,
            sign=SIGNS[name],
            low_min=low * factor * slow_low * _late(name, rule.time) + last * foam.after_min[0],
            high_min=high * factor * slow_high * _late(name, rule.time) + last * foam.after_min[1],
        )
        for (name, (low, high)), last in zip(foam.stages.items(), (0, 0, 0, 0, 1), strict=True)
    )
    rain, rain_from = (0.0, 0.0), (0.0, 0.0)
    if foam.rains:
        factor_rain = MIXER_TIME[mixer] * pace * mass * max(ratio, 0.1) / 1.6
        rain = (RAIN_MIN[0] * factor_rain, RAIN_MIN[1] * factor_rain)
        begins = {"froth": "frothy", "soft": "soft peak", "stiff": "firm peak"}.get(moment)
        at = next((s for s in stages if s.name == begins), None)
        if at is not None:
            rain_from = (at.low_min, at.high_min)
        elif moment == "before soft":
            rain_from = (stages[1].low_min * 0.7, stages[1].high_min * 0.7)
    density = way.density or french_density(ratio + folded_ratio)
    volume = rule.volume * fat_keeps(fat_share) * (MOMENTS["folded last"].volume if folded_ratio else 1.0)
    window = _WINDOW_SUGARED if ratio >= 0.8 else _WINDOW_PLAIN
    stretch = (1.5 if acid else 1.0) * foam.window
    return Whisking(
        stages=stages,
        rain_from_min=rain_from,
        rain_min=rain,
        window_min=(window[0] * stretch, window[1] * stretch),
        density=(min(density[0] / volume, FLAT[0]), min(density[1] / volume, FLAT[1])),
        says=rule.says,
    )


def _late(name: StageName, time: float) -> float:
    """Sugar slows what comes after it, and sugar from the start slows froth as well, though less."""
    return 1 + (time - 1) * 0.5 if name == "frothy" else time
