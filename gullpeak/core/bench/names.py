"""What the rows of steps may name of a sheet: words that fit it, facts, bands of minutes, lists of what is said, figures to expect."""

from dataclasses import dataclass, field
from typing import Any, get_args

from gullpeak.core.bench.watches import is_kept
from gullpeak.core.kitchen import egg
from gullpeak.core.physics import bath, syrup
from gullpeak.core.recipe.programme import Programme
from gullpeak.core.recipe.recipe import OwnStep
from gullpeak.core.recipe.shapes import KINDS, Shape
from gullpeak.core.recipe.step import Ask
from gullpeak.core.recipe.ways import Band, Moment
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.sheet.stations.dry import Dry
from gullpeak.core.sheet.stations.heated import BathHeat, HeatStation, SyrupHeat
from gullpeak.core.sheet.stations.shape import ShapeStation
from gullpeak.core.sheet.stations.weigh import Weigh
from gullpeak.core.sheet.stations.whisk import Pour, Whisk
from gullpeak.core.value import Fact, Said, known, perhaps, say

Aim = tuple[float | None, float | None, float | None]
"""What is expected of a figure, and from where to where it is well."""


@dataclass(frozen=True)
class Names:
    """Names of one sheet, or of a part of it."""

    tags: frozenset[str] = frozenset()
    facts: dict[str, Fact] = field(default_factory=dict)
    bands: dict[str, Band] = field(default_factory=dict)
    lists: dict[str, tuple[Said, ...]] = field(default_factory=dict)
    aims: dict[str, Aim] = field(default_factory=dict)
    amounts: tuple[Ask, ...] = ()
    """Asks for what is poured"""
    cooks: tuple[OwnStep, ...] = ()
    """How the cook has steps otherwise than the table"""

    def __or__(self, other: "Names") -> "Names":
        """Return these and others together."""
        return Names(
            self.tags | other.tags,
            self.facts | other.facts,
            self.bands | other.bands,
            self.lists | other.lists,
            self.aims | other.aims,
            self.amounts + other.amounts,
            self.cooks + other.cooks,
        )


def _tags(**fit: Any) -> frozenset[str]:
    return frozenset(name.replace("_", "-") for name, fits in fit.items() if fits)


def of(sheet: Sheet) -> Names:
    """Return what the rows may name of a sheet."""
    found = _whole(sheet) | _weighing(sheet) | _goes_in(sheet)
    if sheet.weigh.eggs is not None:
        found |= _eggs(sheet.weigh, sheet.weigh.eggs)
    if sheet.shape is not None and sheet.recipe.shape is not None and sheet.whisk is not None:
        found |= _shaped(sheet, sheet.shape, sheet.recipe.shape)
    if sheet.whisk is not None:
        found |= _whisked(sheet, sheet.whisk)
    if sheet.heat is not None:
        found |= _heated(sheet, sheet.heat, sheet.whisk)
    if sheet.dry is not None:
        found |= _dried(sheet.dry)
    return found


def _whole(sheet: Sheet) -> Names:
    recipe = sheet.recipe
    base = recipe.base.replace(" ", "-")
    fresh = recipe.egg.kind == "fresh"
    return Names(
        tags=_tags(
            thaws=recipe.base != "other" and recipe.egg.kind == "frozen",
            hot_water=recipe.hot_water,
            tempers=recipe.base == "white" and fresh and recipe.egg.temp_c >= 15 and not recipe.hot_water,
            kept=is_kept(recipe),
        )
        | {base},
        facts={
            "mixer": sheet.mixer,
            "base": recipe.base_name,
            "base_name": recipe.base_name,
            "base_g": sheet.base_g,
            "mass_g": sheet.base_g,
            "pieces": sheet.pieces,
            "portion_g": recipe.portion_g,
            "batch_g": sum(line.mass_g or 0.0 for line in sheet.weigh.lines),
        },
        bands={"portioning": (0.2 * sheet.pieces, 0.5 * sheet.pieces + 1)},
        lists={
            "keeping": tuple(say("step.keeps", container=k.container, lasts=k.lasts()) for k in sheet.finish.keeping),
            "first-caution": sheet.finish.cautions[:1],
        },
        cooks=recipe.cooks,
        aims={"base": (sheet.base_g, sheet.base_g * 0.93, sheet.base_g * 1.07)},
    )


def _weighing(sheet: Sheet) -> Names:
    """What is weighed besides the egg; and the egg itself where it is not counted."""
    lines, kind, other = sheet.weigh.lines[1:], sheet.weigh.egg_kind, sheet.recipe.base == "other"
    weighed = sheet.weigh.eggs is None
    powder_g, water_g = egg.dried_g(sheet.base_g)
    return Names(
        tags=_tags(
            weighed=weighed,
            other=other,
            carton=weighed and not other and kind != "dried",
            dried=weighed and not other and kind == "dried",
        ),
        facts={"powder_g": powder_g, "water_g": water_g},
        bands={"separating": (2, 5)},
        lists={
            "to-weigh": tuple(
                _by_mass("step.known-weigh-you-use", WEIGHED_FOR.get(line.moment, "step.line"), line.mass_g, line_name=line.name)
                for line in lines
            )
        },
        amounts=tuple(
            Ask(
                key=line.asks_for,
                asks=say("step.weigh-dry.asks", line_name=line.name),
                unit="g",
                expected=line.mass_g,
                least=0,
                most=60000,
            )
            for line in sorted(lines, key=lambda line: line.mass_g is not None)  # what nobody knows yet comes first
        ),
    )


WEIGHED_FOR: dict[Moment, str] = {"folded last": "step.folded-last"}
"""What is weighed apart, and said so."""


def _by_mass(unknown: str, known: str, mass_g: float | None, **facts: Fact) -> Said:
    """What is said of an amount: with its mass, or that nobody knows it."""
    if mass_g is None:
        return say(unknown, **facts)
    return say(known, mass_g=mass_g, **facts)


LATE: tuple[Moment, ...] = ("off heat", "cooled")
OWN_STEP = frozenset({"gelatine", "butter", "chocolate", "cream"})
"""What goes late into a cream of egg by a step of its own, with its own temperature."""


def _goes_in(sheet: Sheet) -> Names:
    """What goes in at each moment, besides what everything rests on, what rains into a foam and what has a step of its own."""
    recipe, whisked = sheet.recipe, sheet.whisk is not None
    lists: dict[str, tuple[Said, ...]] = {}
    for moment in get_args(Moment):
        own = OWN_STEP if recipe.way.egg_cream and moment in LATE else frozenset[str]()
        in_pan = moment == "syrup"
        lists[f"in-{moment.replace(' ', '-')}"] = tuple(
            _by_mass("step.known-weigh-you-use", "step.line", line.mass_g, line_name=line.name)
            for line in sheet.weigh.lines[1:]
            if line.moment == moment and line.key not in own and not (in_pan and (line.role == "sugar" or line.key == "water"))
        )
    late, cold = lists["in-off-heat"], lists["in-cooled"]
    cream = recipe.way.egg_cream and any(line.key == "cream" and line.moment in LATE for line in sheet.weigh.lines)
    return Names(
        tags=_tags(stirs_in=late, stirs_in_cold=cold, cools=cold or cream, folds_in=not whisked and lists["in-folded-last"]),
        lists=lists,
    )


def _eggs(weigh: Weigh, eggs: egg.EggCount) -> Names:
    """Eggs counted: cracked or thawed, split or whole."""
    fresh = weigh.egg_kind == "fresh"
    white = eggs.frees == "yolk"
    split = fresh and eggs.frees is not None
    return Names(
        tags=_tags(
            counted=True,
            thawed=not fresh,
            cracked=fresh,
            split=split,
            unsplit=not split,
            counted_white=white,
            cracked_white=white and fresh,
        ),
        facts={"eggs_count": eggs.count, "frees": eggs.frees, "freed_g": eggs.freed_g},
        bands={"separating": (0.4 * eggs.count, 0.9 * eggs.count + 1)},
        aims={"all-white": (eggs.brings_g, None, None)},
    )


def _shaped(sheet: Sheet, station: ShapeStation, shape: Shape) -> Names:
    count, figures = len(station.trays), station.figures
    tray_g = (figures["tray-mass"].value or 0) + station.tare_g
    kind = KINDS[shape.kind]
    each, spread = kind.piping_min, kind.spread
    return Names(
        tags=_tags(shaped=True, spread=spread, piped=not spread, loads=station.loads > 1),
        facts={
            "count": count,
            "tray": sheet.tray,
            "trays": station.trays,
            "diameter_cm": shape.diameter_mm / 10,
            "pattern": station.layout.pattern,
            "length_mm": shape.length_mm / 10,
            "width_cm": shape.width_mm / 10,
            "piece_g": figures["piece"].value or 0,
            "bags": figures["bags"].value or 1,
            "loads": station.loads,
        },
        bands={
            "trays": (1.0 * count, 3.0 * count),
            "shaping": (max(2, each * sheet.pieces * 0.7), max(4, each * sheet.pieces * 1.3)),
        },
        aims={"tray-in": (tray_g, tray_g * 0.92, tray_g * 1.08)},
    )


def _went_in(pours: tuple[Pour, ...]) -> tuple[Said, ...]:
    """What goes into the bowl and how, a line each."""
    return tuple(_by_mass("step.pour-unknown", "step.pour-of", p.mass_g, p_name=p.name, how=p.how) for p in pours)


def _whisked(sheet: Sheet, whisk: Whisk) -> Names:
    """The foam: what goes in when, and the minutes from stage to stage."""
    pours, w = whisk.pours, whisk.whisking
    stage = {s.name: s for s in w.stages}
    frothy, soft, stiff = stage["frothy"], stage["soft peak"], stage["stiff glossy peak"]

    def at(*moments: Moment) -> tuple[Pour, ...]:
        return tuple(p for p in pours if p.moment in moments)

    early = tuple(p for p in at("start", "froth") if p.until_min <= p.from_min)
    rained = tuple(p for p in pours if p not in early and p.moment != "folded last")
    starts = min((p.from_min for p in rained), default=0.0)
    spent = max((p.until_min for p in rained), default=frothy.high_min)
    to = soft if starts <= soft.high_min + 0.5 else stage["firm peak"]
    time = whisk.figures["time"]
    return Names(
        tags=_tags(
            hot=sheet.recipe.has("water"),
            softens=starts > frothy.high_min,
            rains=rained,
            folds=at("folded last"),
        ),
        facts={"to_name": to.name, "pouring_hands": 2 if whisk.by_hand else 1},
        bands={s.name.replace(" ", "-"): (s.low_min, s.high_min) for s in w.stages}
        | {
            "softening": (max(0.2, to.low_min - frothy.low_min), max(0.4, to.high_min - frothy.high_min)),
            "rain": w.rain_min,
            "stiffening": (max(0.5, stiff.low_min - spent), max(1.0, stiff.high_min - spent)),
            "whisking": (time.low or stiff.low_min, time.high or stiff.high_min),
        },
        lists={
            "all-at-start": _went_in(tuple(p for p in early if p.moment == "start")),
            "all-at-froth": _went_in(tuple(p for p in early if p.moment == "froth")),
            "rained": _went_in(rained),
            "in-the-bowl": _went_in(tuple(p for p in pours if p.moment != "folded last")),
            "warmed-together": _went_in(at("bath", "start", "froth")),
            "with-the-whites": _went_in(at("start", "froth")),
            "into-the-whites": _went_in(at("before soft", "soft", "stiff")),
            "folded-last": _went_in(at("folded last")),
            "sign-frothy": (frothy.sign,),
            "sign-to": (to.sign,),
            "sign-stiff": (stiff.sign,),
            "sign-last": (w.stages[-1].sign,),
        },
    )


def _heated(sheet: Sheet, heat: HeatStation, whisk: Whisk | None) -> Names:
    found = Names(facts={"treatment": heat.treatment})
    if heat.syrup is not None and whisk is not None:
        return found | _syrup(sheet, heat, heat.syrup, whisk)
    if heat.bath is not None:
        return found | _over_bath(sheet, heat.bath)
    return found


def _syrup(sheet: Sheet, heat: HeatStation, pan: SyrupHeat, whisk: Whisk) -> Names:
    """The pan from its ring, and the whites that meet it."""
    assert sheet.recipe.heat is not None
    chosen = next(s for s in pan.starts if s.key == pan.chosen)
    minutes, warm = heat.figures["time"], heat.figures["hand-warm"]
    high, likely = minutes.high or 0.0, minutes.value or 0.0
    start_min = chosen.meeting.start_s / 60
    peak = next(s for s in whisk.whisking.stages if s.name == sheet.recipe.heat.peak)
    return Names(
        tags=_tags(climbs=start_min > 0.3),
        facts={
            "solids_g": pan.contents.solids_g,
            "water_g": pan.contents.water_g,
            "on_scale_g": pan.on_scale_g,
            "start_reads_c": chosen.meeting.start_reads_c,
            "reads_c": pan.cook.reads_c,
            "peak_name": peak.name,
            "peak_sign": peak.sign,
            "stage": pan.cook.stage,
            "drop": pan.cook.drop,
            "pour_s_low": syrup.POUR_S[0],
            "pour_s_high_s": syrup.POUR_S[1],
            "highest_c": pan.poured.highest_c,
            "pan_least_g": pan.pan_g * 0.5,
            "pan_most_g": pan.on_scale_g * 1.5 + 500,
        },
        bands={
            "climb": (start_min * 0.8, start_min * 1.25),
            "whites": (max(0.5, min(peak.low_min, likely - start_min)), max(peak.high_min, high - start_min)),
            "pour": (syrup.POUR_S[0] / 60, syrup.POUR_S[1] / 60),
            "hand-warm": (warm.low or 1.0, warm.high or 3.0),
        },
        aims={
            "pan-start": (pan.on_scale_g, pan.on_scale_g * 0.97, pan.on_scale_g * 1.03),
            "syrup-mass": (pan.target_scale_g, pan.target_scale_g - 3, pan.target_scale_g + 3),
            "reads": (pan.cook.reads_c, None, None),
            "hand-warm": (syrup.HAND_WARM_C, None, None),
        },
    )


GOES_IN_C = {"gelatine": bath.GELATINE_IN_C, "butter": bath.BUTTER_IN_C, "chocolate": bath.CHOCOLATE_FOLD_C["sabayon"]}
"""Where a mixture of egg has to be when these go in."""
ROOM_COOL_C, FRIDGE_C = 20.0, 5.0


def _over_bath(sheet: Sheet, over: BathHeat) -> Names:
    """Egg over a bath or flame, and what goes in off the heat."""
    recipe = sheet.recipe
    late = {a.key for a in recipe.additions if a.moment in LATE and a.ratio != 0}
    amounts: dict[str, Fact] = {
        f"{line.key}_grams": _by_mass("step.amount-known", "step.g", line.mass_g, name=line.name)
        for line in sheet.weigh.lines
        if line.key in late
    }
    ribbon = recipe.way.ribbon_c is not None
    hold_min = known(perhaps(lambda heat: heat.hold_min, recipe.heat), 0.0)
    return Names(
        tags=_tags(
            over_water=over.source == "bath", over_flame=over.source != "bath", ribbon=ribbon, set=not ribbon, holds=hold_min > 0
        )
        | {f"late-{key}" for key in late},
        facts={
            "target_c": over.warming.target_c,
            "thickens_c": over.window.thickens_c,
            "sets_c": over.window.sets_c,
            "hold_min": hold_min,
            **{f"{key}_low_c": low for key, (low, _) in GOES_IN_C.items()},
            **{f"{key}_high_c": high for key, (_, high) in GOES_IN_C.items()},
            **amounts,
        },
        bands={"warming": (over.warming.low_s / 60 + hold_min, over.warming.high_s / 60 + hold_min)},
        aims={
            "bath": (over.warming.target_c, None, None),
            "room-cool": (ROOM_COOL_C, None, None),
            "fridge": (FRIDGE_C, None, None),
            **{key: (None, low, high) for key, (low, high) in GOES_IN_C.items()},
        },
    )


def _dried(dry: Dry) -> Names:
    loss_g, out_g = dry.figures["loss"].value or 0.0, dry.figures["out"].value or 0.0
    return Names(
        tags=_tags(dries=True),
        facts={"loss_g": loss_g, "loss_pct": dry.drying.loss_pct[-1], "text": dry.figures["colour"].text},
        aims={"tray-out": (out_g, out_g - 0.35 * loss_g, out_g + 0.35 * loss_g)},
    )


def of_programme(dry: Dry, programme: Programme) -> tuple[tuple[str, Names], ...]:
    """Return the kind and the names of each step of an oven's programme."""
    time, set_c, found = dry.figures["time"], None, []
    for i, (bar, to) in enumerate(zip(dry.bars, programme.steps, strict=True)):
        lasts = bar.until_min - bar.from_min
        last = i == programme.last_set
        set_c = to.set_c if to.does.sets or not to.does.heated else set_c
        band = (lasts, lasts)
        if last and time.low is not None and time.high is not None:
            band = (max(1.0, time.low - bar.from_min), max(lasts, time.high - bar.from_min))
        names = Names(
            tags=_tags(first=i == 0, last_heat=last, ajar=to.door == "ajar"),
            facts={"nth": i, "bar_says": bar.says, "set_c": set_c, "lasts_min": round(lasts, 1)},
            bands={"oven": band},
        )
        found.append((bar.kind, names))
    return tuple(found)
