"""The steps of a French or all-in-one meringue, row by row, filled in from its sheet."""

from gullpeak.core.kitchen import egg
from gullpeak.core.kitchen.egg import Base
from gullpeak.core.recipe.recipe import Programme, Shape
from gullpeak.core.recipe.step import Ask, Step, check
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.sheet.stations.dry import Dry
from gullpeak.core.sheet.stations.shape import ShapeStation
from gullpeak.core.sheet.stations.whisk import Pour, Whisk
from gullpeak.core.value import Said, say

FOAMY = frozenset(
    {"froth", "soft", "rain", "stiff", "warm", "climb", "whites", "pour", "cool-whisk", "whisk", "fold", "shape", "oven-0"}
)
"""Steps that follow each other without a wait."""


KIT = check("grease-free")


YOLK = check("no-yolk")


GRIT = check("no-grit")


PEAK = check("peak")


UPTURNED = check("upturned")


DRY_TOUCH = check("dry-to-touch")


LIFTS = check("lifts-clean")


def kit(sheet: Sheet) -> Step:
    """Making the kit free of fat."""
    return Step(
        key="kit",
        station="whisk",
        title=say("step.kit.title"),
        says=(say("step.kit.says", mixer=sheet.mixer),),
        kind="hands",
        hands=1,
        low_min=2,
        high_min=4,
        checks=(KIT,),
        asks=(
            Ask(key="room", asks=say("ask.room.asks"), unit="°C", least=0, most=45),
            Ask(key="room-rh", asks=say("ask.room-rh.asks"), unit="%", least=5, most=100),
        ),
        ready_next=(say("step.kit.ready-next"), say("step.kit.ready-next-2")),
    )


def trays(sheet: Sheet, station: ShapeStation, shape: Shape) -> Step:
    """Lining the trays."""
    count = len(station.trays)
    says = [say("step.paper-cut-stuck-down", count=count, tray=sheet.tray)]
    if shape.kind != "slab":
        says.append(say("step.draw-rounds-turn-paper", diameter_cm=shape.diameter_mm / 10, pattern=station.layout.pattern))
    else:
        says.append(say("step.mark-turn-paper-over", length_mm=shape.length_mm / 10, width_cm=shape.width_mm / 10))
    return Step(
        key="trays",
        station="shape",
        title=say("step.trays.title"),
        says=tuple(says),
        kind="hands",
        hands=1,
        low_min=1.0 * count,
        high_min=3.0 * count,
        ready_next=(say("step.trays.ready-next"),),
    )


EGG_ASKS: dict[Base, str] = {"white": "white", "yolk": "yolk", "whole egg": "whole-egg", "other": "base"}
"""The reading that puts what everything rests on, as weighed, in place of the reckoned one."""


ALL_OF_THEM = "white-of-all"
"""The reading from which the size of the kitchen's eggs is learned."""


def egg_ready(sheet: Sheet) -> Step:
    """Separating or weighing the egg, or weighing what stands in its place."""
    mass, base = sheet.base_g, sheet.recipe.base_name
    ask = Ask(
        key=EGG_ASKS[sheet.recipe.base],
        asks=say("step.scale", base=base),
        unit="g",
        expected=mass,
        low=mass * 0.93,
        high=mass * 1.07,
        least=5,
        most=60000,
    )
    if sheet.weigh.eggs is None:
        says = say("step.carton-shake-first", mass_g=mass) if sheet.recipe.base != "other" else say("step.rest-goes", mass_g=mass)
        if sheet.weigh.egg_kind == "dried":
            powder, water = egg.dried_g(mass)
            says = say("step.powder-water-soak-min", powder_g=powder, water_g=water)
        return Step(
            key="separate",
            station="weigh",
            title=say("step.separate.weigh", base=base),
            says=(says,),
            kind="hands",
            hands=1,
            low_min=2,
            high_min=5,
            asks=(ask,),
        )
    eggs = sheet.weigh.eggs
    every = Ask(
        key=ALL_OF_THEM, asks=say("step.all-white", eggs_count=eggs.count), unit="g", expected=eggs.brings_g, least=5, most=60000
    )
    counts = base == "white" and sheet.weigh.egg_kind == "fresh"
    return Step(
        key="separate",
        station="weigh",
        title=say("step.separate.thaw", base=base)
        if sheet.weigh.egg_kind != "fresh"
        else say("step.separate.crack", eggs_count=eggs.count)
        if eggs.frees is None
        else say("step.separate.split", eggs_count=eggs.count),
        says=(
            say("step.separate.says"),
            say("step.separate.says-2", mass_g=mass, base=base, eggs_count=eggs.count, frees=eggs.frees, freed_g=eggs.freed_g)
            if eggs.frees
            else say("step.separate.says-3", mass_g=mass, base=base),
        )
        if sheet.weigh.egg_kind == "fresh"
        else (say("step.separate.says-3", mass_g=mass, base=base),),
        kind="hands",
        hands=1,
        low_min=0.4 * eggs.count,
        high_min=0.9 * eggs.count + 1,
        checks=(YOLK,) if base == "white" else (),
        asks=(ask, every) if counts else (ask,),
        ready_next=(say("step.separate.ready-next"),),
    )


def thaw(sheet: Sheet) -> Step:
    """Frozen egg thawed slowly, in the cold."""
    return Step(
        key="thaw",
        station="weigh",
        title=say("step.thaw.title", base_g=sheet.base_g, base_name=sheet.recipe.base_name),
        says=(say("step.thaw.says"),),
        kind="wait",
        hands=0,
        low_min=480,
        high_min=960,
        timer_min=600,
    )


def dry_goods(sheet: Sheet) -> Step:
    """Weighing sugar and the rest."""
    says = tuple(
        say("step.known-weigh-you-use", line_name=line.name)
        if line.mass_g is None
        else say("step.folded-last", line_name=line.name, mass_g=line.mass_g)
        if line.moment == "folded last"
        else say("step.line", line_name=line.name, mass_g=line.mass_g)
        for line in sheet.weigh.lines[1:]
    )
    return Step(
        key="weigh-dry",
        station="weigh",
        title=say("step.weigh-dry.title"),
        says=says,
        kind="hands",
        hands=1,
        low_min=3,
        high_min=6,
        asks=tuple(
            Ask(key=line.asks_for, asks=say("step.weigh-dry.asks", line_name=line.name), unit="g", least=0, most=60000)
            for line in sheet.weigh.lines[1:]
            if line.mass_g is None
        ),
        ready_next=(say("step.weigh-dry.ready-next"),),
    )


def kettle() -> Step:
    """Water on to boil for the bowl: the whites need no warming of their own then."""
    return Step(
        key="kettle",
        station="weigh",
        title=say("step.kettle.title"),
        says=(say("step.kettle.says"),),
        kind="wait",
        hands=0.1,
        low_min=3,
        high_min=6,
        caution=say("step.kettle.caution"),
    )


def went_in(pours: tuple[Pour, ...]) -> tuple[Said, ...]:
    """What goes into the bowl and how, a line each."""
    return tuple(
        say("step.pour-unknown", p_name=p.name, how=p.how)
        if p.mass_g is None
        else say("step.pour-of", p_name=p.name, mass_g=p.mass_g, how=p.how)
        for p in pours
    )


def whisking(sheet: Sheet, whisk: Whisk) -> list[Step]:
    """From froth to stiff, by school."""
    w, stage = whisk.whisking, {s.name: s for s in whisk.whisking.stages}
    pours = whisk.pours
    stiff = stage["stiff glossy peak"]
    foam_checks = (GRIT, PEAK, UPTURNED)
    if sheet.recipe.school == "all-in-one":
        hot = any(a.ingredient == "water" for a in sheet.recipe.additions)
        first = tuple(p for p in pours if p.moment != "folded last")
        time = whisk.figures["time"]
        low, high = time.low or stiff.low_min, time.high or stiff.high_min
        return [
            Step(
                key="whisk",
                station="whisk",
                title=say("step.whisk.title-2"),
                says=(*went_in(first), say("step.whisk.says-2")),
                kind="machine",
                hands=0.5,
                low_min=low,
                high_min=high,
                until=(stiff.sign, say("step.whisk.until-2")),
                peak="stiff glossy peak",
                checks=foam_checks,
                ready_next=(say("step.whisk.ready-next"), say("step.whisk.ready-next-2")),
                timer_min=round(low, 1),
                caution=say("step.whisk.caution") if hot else None,
            ),
            *folding(pours),
        ]
    soft, frothy = stage["soft peak"], stage["frothy"]
    early = tuple(p for p in pours if p.moment in ("start", "froth") and p.until_min <= p.from_min)
    rained = tuple(p for p in pours if p not in early and p.moment != "folded last")
    out = [
        Step(
            key="froth",
            station="whisk",
            title=say("step.froth.title"),
            says=(
                *went_in(tuple(p for p in early if p.moment == "start")),
                say("step.froth.says"),
                *went_in(tuple(p for p in early if p.moment == "froth")),
            ),
            kind="machine",
            hands=0.5,
            low_min=frothy.low_min,
            high_min=frothy.high_min,
            until=(frothy.sign,),
            peak="frothy",
        ),
    ]
    starts = min((p.from_min for p in rained), default=0.0)
    if starts > frothy.high_min:
        to = soft if starts <= soft.high_min + 0.5 else stage["firm peak"]
        out.append(
            Step(
                key="soft",
                station="whisk",
                title=say("step.soft.title", to_name=to.name),
                says=(say("step.soft.says"),),
                kind="machine",
                hands=0.3,
                low_min=max(0.2, to.low_min - frothy.low_min),
                high_min=max(0.4, to.high_min - frothy.high_min),
                until=(to.sign,),
                peak=to.name,
            )
        )
    if rained:
        out.append(
            Step(
                key="rain",
                station="sugar",
                title=say("step.rain.title"),
                says=went_in(rained),
                kind="hands",
                hands=1,
                low_min=w.rain_min[0],
                high_min=w.rain_min[1],
                until=(say("step.rain.until"),),
                peak="medium peak",
                ready_next=(say("step.rain.ready-next"),),
            )
        )
    spent = max((p.until_min for p in rained), default=frothy.high_min)
    out.append(
        Step(
            key="stiff",
            station="whisk",
            title=say("step.stiff.title"),
            says=(say("step.stiff.says"),),
            kind="machine",
            hands=0.5,
            low_min=max(0.5, stiff.low_min - spent),
            high_min=max(1.0, stiff.high_min - spent),
            until=(stiff.sign,),
            peak="stiff glossy peak",
            checks=foam_checks,
            ready_next=(say("step.stiff.ready-next"), say("step.stiff.ready-next-2"), say("step.stiff.ready-next-3")),
        )
    )
    return [*out, *folding(pours)]


def folding(pours: tuple[Pour, ...]) -> list[Step]:
    """What is folded in last, where there is any."""
    last = tuple(p for p in pours if p.moment == "folded last")
    if not last:
        return []
    return [
        Step(
            key="fold",
            station="whisk",
            title=say("step.fold.title"),
            says=went_in(last),
            kind="hands",
            hands=1,
            low_min=1,
            high_min=2,
            until=(say("step.fold.until"),),
            peak="firm peak",
        )
    ]


def shaping(sheet: Sheet, station: ShapeStation, shape: Shape) -> list[Step]:
    """Piping or spreading, at once."""
    trays = station.trays
    bags = station.figures["bags"].value or 1
    tray_g = (station.figures["tray-mass"].value or 0) + station.tare_g
    each = 0.35 if shape.kind in ("kiss", "disc") else 0.9
    says = (
        [say("step.spread-marks-even-edges")]
        if shape.kind == "slab"
        else [say("step.pieces-each-bags", trays=trays, piece_g=station.figures["piece"].value or 0, bags=bags)]
    )
    if station.loads > 1:
        says.append(say("step.oven-takes-them-loads", loads=station.loads))
    return [
        Step(
            key="shape",
            station="shape",
            title=say("step.shape.title"),
            says=tuple(says),
            kind="hands",
            hands=1,
            low_min=max(2, each * sheet.pieces * 0.7),
            high_min=max(4, each * sheet.pieces * 1.3),
            until=(say("step.shape.until"),),
            ready_next=(say("step.shape.ready-next"),),
            asks=(
                Ask(
                    key="tray-in",
                    asks=say("ask.tray-in.asks"),
                    unit="g",
                    expected=tray_g,
                    low=tray_g * 0.92,
                    high=tray_g * 1.08,
                    least=10,
                    most=50000,
                ),
            ),
        ),
    ]


def drying(dry: Dry, programme: Programme) -> list[Step]:
    """The oven programme step by step, and the weighing out."""
    d, figures = dry.drying, dry.figures
    out: list[Step] = []
    heats = [i for i, b in enumerate(dry.bars) if b.kind == "heat"]
    out_g = figures["out"].value or 0.0
    judge = (DRY_TOUCH, LIFTS)
    weigh_out = Ask(
        key="tray-out",
        asks=say("ask.tray-out.asks"),
        unit="g",
        expected=out_g,
        low=out_g - 0.35 * (figures["loss"].value or 0),
        high=out_g + 0.35 * (figures["loss"].value or 0),
        least=10,
        most=50000,
    )
    for i, (bar, set_to) in enumerate(zip(dry.bars, programme.steps, strict=True)):
        lasts = bar.until_min - bar.from_min
        last_heat = bool(heats) and i == heats[-1]
        band = (lasts, lasts)
        if last_heat and figures["time"].low is not None and figures["time"].high is not None:
            band = (max(1.0, figures["time"].low - bar.from_min), max(lasts, figures["time"].high - bar.from_min))
        checks = judge if last_heat else ()
        if bar.kind == "turn":
            out.append(
                Step(
                    key=f"oven-{i}",
                    station="dry",
                    title=say("step.turn-trays"),
                    says=(say("step.back-front-quickly-shut"),),
                    kind="hands",
                    hands=1,
                    low_min=0.5,
                    high_min=1,
                    caution=say("step.hot-trays-dry-cloth"),
                    takes=("oven",),
                    set_c=out[-1].set_c,
                )
            )
        else:
            title = (
                say("step.oven", bar_says=bar.says)
                if bar.kind != "heat"
                else say("step.trays-in", bar_says=bar.says)
                if i == 0
                else say("step.oven-to", bar_says=bar.says)
            )
            until = (
                (say("step.dry-touch"), say("step.lifts-clean-off-paper"), say("step.ridges", text=figures["colour"].text))
                if last_heat
                else ()
            )
            asks: tuple[Ask, ...] = (
                (
                    Ask(
                        key=f"oven-temp-{i}",
                        asks=say("step.oven-thermometer"),
                        unit="°C",
                        expected=None,
                        least=20,
                        most=320,
                        trace=True,
                    ),
                )
                if bar.kind in ("heat", "off")
                else ()
            )
            if i == 0:
                asks += (Ask(key="oven-up", asks=say("ask.oven-up.asks"), unit="min", least=1, most=180),)
            out.append(
                Step(
                    key=f"oven-{i}",
                    station="dry",
                    title=title,
                    kind="oven",
                    hands=0.05,
                    low_min=band[0],
                    high_min=band[1],
                    timer_min=round(lasts, 1),
                    until=until,
                    checks=checks,
                    asks=asks,
                    watch="oven" if asks else None,
                    caution=say("step.hot-oven-trays-dry") if i == 0 else None,
                    takes=("oven",),
                    set_c=set_to.set_c,
                    ajar=set_to.door == "ajar",
                )
            )
    out.append(
        Step(
            key="weigh-out",
            station="dry",
            title=say("step.weigh-out.title"),
            says=(say("step.weigh-out.says", loss_g=figures["loss"].value or 0, loss_pct=d.loss_pct[-1]),),
            kind="hands",
            hands=1,
            low_min=1,
            high_min=2,
            asks=(weigh_out,),
            caution=say("step.weigh-out.caution"),
        )
    )
    return out


def finish(sheet: Sheet) -> Step:
    """Putting away and saying how it came out."""
    says = [say("step.keeps", container=k.container, lasts=k.lasts()) for k in sheet.finish.keeping]
    return Step(
        key="finish",
        station="finish",
        title=say("step.finish.title"),
        says=tuple(says),
        kind="hands",
        hands=1,
        low_min=3,
        high_min=8,
        until=(say("step.finish.until"),),
        caution=next(iter(sheet.finish.cautions), None),
    )
