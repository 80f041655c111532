"""The steps of a French or all-in-one meringue, row by row, filled in from its sheet."""

from gullpeak.core.kitchen import egg
from gullpeak.core.kitchen.egg import Base
from gullpeak.core.recipe.recipe import Programme, Shape
from gullpeak.core.recipe.step import Ask, Check, Step
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.sheet.stations.dry import Dry
from gullpeak.core.sheet.stations.shape import ShapeStation
from gullpeak.core.sheet.stations.whisk import Pour, Whisk

FOAMY = frozenset(
    {"froth", "soft", "rain", "stiff", "warm", "climb", "whites", "pour", "cool-whisk", "whisk", "fold", "shape", "oven-0"}
)
"""Steps that follow each other without a wait."""


KIT = Check(
    key="grease-free",
    asks="Bowl and whisk free of fat?",
    passes="a wipe with a little vinegar comes away clean, water runs off in a sheet",
    on_fail=("wash hot, rinse, wipe with vinegar and dry", "change a plastic bowl for steel or glass"),
)


YOLK = Check(
    key="no-yolk",
    asks="Any streak of yolk in the white?",
    passes="clear, not a thread of yellow in any cup",
    on_fail=("lift the streak out with a clean spoon", "unsure: start that cup again, and keep it for custard"),
)


GRIT = Check(
    key="no-grit",
    asks="Smooth between finger and thumb?",
    passes="no grain felt, from the middle and from the wall",
    on_fail=(
        "whisk on two minutes and feel again",
        "still gritty at stiff: pipe it, expect beads, and use finer sugar next time",
    ),
)


PEAK = Check(
    key="peak",
    asks="Does the peak stand straight?",
    passes="straight tip, sharp tracks, gloss",
    on_fail=(
        "bends: whisk half a minute more and look again",
        "dull and clotted: whisk in a spoon of fresh white, or begin again",
    ),
)


UPTURNED = Check(
    key="upturned",
    asks="Does it hold in the upturned bowl?",
    passes="nothing slides",
    on_fail=("whisk half a minute more", "slides still: look for fat in the bowl"),
)


DRY_TOUCH = Check(
    key="dry-to-touch",
    asks="Dry to touch?",
    passes="no stickiness, no give on the side",
    on_fail=("ten minutes more", "humid room: leave it in the oven, switched off, door ajar"),
)


LIFTS = Check(
    key="lifts-clean",
    asks="Does one lift clean off the paper?",
    passes="comes away with a flat dry base",
    on_fail=("ten minutes more, then try another", "sticks in the middle only: lower shelf, fifteen minutes"),
)


def kit(sheet: Sheet) -> Step:
    """Making the kit free of fat."""
    return Step(
        key="kit",
        station="whisk",
        title="Make the kit free of fat",
        says=(f"{sheet.mixer}: bowl and whisk. Steel or glass.",),
        kind="hands",
        hands=1,
        low_min=2,
        high_min=4,
        checks=(KIT,),
        asks=(
            Ask(key="room", asks="The room, by its thermometer", unit="°C", least=0, most=45),
            Ask(key="room-rh", asks="Its humidity", unit="%", least=5, most=100),
        ),
        ready_next=("cold eggs", "a small cup"),
    )


def trays(sheet: Sheet, station: ShapeStation, shape: Shape) -> Step:
    """Lining the trays."""
    count = len(station.trays)
    says = [f"{count} × {sheet.tray}, paper cut and stuck down with dabs of foam later."]
    if shape.kind != "slab":
        says.append(f"Draw rounds of {shape.diameter_mm / 10:g} cm, {station.layout.pattern}; turn the paper over.")
    else:
        says.append(f"Mark {shape.length_mm / 10:g} × {shape.width_mm / 10:g} cm; turn the paper over.")
    return Step(
        key="trays",
        station="shape",
        title="Line the trays",
        says=tuple(says),
        kind="hands",
        hands=1,
        low_min=1.0 * count,
        high_min=3.0 * count,
        ready_next=("bag and nozzle",),
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
        asks=f"{base.capitalize()} on the scale",
        unit="g",
        expected=mass,
        low=mass * 0.93,
        high=mass * 1.07,
        least=5,
        most=60000,
    )
    if sheet.weigh.eggs is None:
        says = (
            f"{mass:.0f} g from the carton; shake it first."
            if sheet.recipe.base != "other"
            else f"{mass:.0f} g; the rest goes by it."
        )
        if sheet.weigh.egg_kind == "dried":
            powder, water = egg.dried_g(mass)
            says = f"{powder:.0f} g powder and {water:.0f} g water; soak 20 min, strain."
        return Step(
            key="separate",
            station="weigh",
            title=f"Weigh the {base}",
            says=(says,),
            kind="hands",
            hands=1,
            low_min=2,
            high_min=5,
            asks=(ask,),
        )
    eggs = sheet.weigh.eggs
    every = Ask(key=ALL_OF_THEM, asks=f"All the white of the {eggs.count}", unit="g", expected=eggs.brings_g, least=5, most=60000)
    counts = base == "white" and sheet.weigh.egg_kind == "fresh"
    return Step(
        key="separate",
        station="weigh",
        title=f"{'Crack' if eggs.frees is None else 'Separate'} {eggs.count} eggs"
        if sheet.weigh.egg_kind == "fresh"
        else f"Thaw and weigh the {base}",
        says=(
            "Cold from the fridge, over a small cup, one at a time.",
            f"{mass:.0f} g of {base} wanted"
            + (f"; {eggs.count} {eggs.frees}s, {eggs.freed_g:.0f} g, to the fridge, covered." if eggs.frees else "."),
        )
        if sheet.weigh.egg_kind == "fresh"
        else (f"{mass:.0f} g of {base} wanted.",),
        kind="hands",
        hands=1,
        low_min=0.4 * eggs.count,
        high_min=0.9 * eggs.count + 1,
        checks=(YOLK,) if base == "white" else (),
        asks=(ask, every) if counts else (ask,),
        ready_next=("sugar weighed",),
    )


def thaw(sheet: Sheet) -> Step:
    """Frozen egg thawed slowly, in the cold."""
    return Step(
        key="thaw",
        station="weigh",
        title=f"Thaw {sheet.base_g:.0f} g of {sheet.recipe.base_name} in the cold",
        says=("In its lidded tub, overnight, at 5 °C or below. Not in the room, not in warm water.",),
        kind="wait",
        hands=0,
        low_min=480,
        high_min=960,
        timer_min=600,
    )


def dry_goods(sheet: Sheet) -> Step:
    """Weighing sugar and the rest."""
    says = tuple(
        f"{line.name}: {f'{line.mass_g:.{0 if line.mass_g >= 20 else 1}f} g' if line.mass_g is not None else 'not known, weigh what you use'}"
        + (f", {line.moment}" if line.moment == "folded last" else "")
        for line in sheet.weigh.lines[1:]
    )
    return Step(
        key="weigh-dry",
        station="weigh",
        title="Weigh sugar and the rest",
        says=says,
        kind="hands",
        hands=1,
        low_min=3,
        high_min=6,
        asks=tuple(
            Ask(key=line.asks_for, asks=f"{line.name} used", unit="g", least=0, most=60000)
            for line in sheet.weigh.lines[1:]
            if line.mass_g is None
        ),
        ready_next=("bowl on the mixer",),
    )


def kettle() -> Step:
    """Water on to boil for the bowl: the whites need no warming of their own then."""
    return Step(
        key="kettle",
        station="weigh",
        title="Boil the kettle",
        says=("Weigh the hot water straight into the bowl, last: it warms the whites and takes up the sugar.",),
        kind="wait",
        hands=0.1,
        low_min=3,
        high_min=6,
        caution="Steam scalds: pour away from you.",
    )


def went_in(pours: tuple[Pour, ...]) -> tuple[str, ...]:
    """What goes into the bowl and how, a line each."""
    return tuple(
        f"{p.name}{'' if p.mass_g is None else f', {p.mass_g:.{0 if p.mass_g >= 20 else 1}f} g'}: {p.how}" for p in pours
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
                title="Everything in; whisk to stiff",
                says=(*went_in(first), "Medium-high all the way."),
                kind="machine",
                hands=0.5,
                low_min=low,
                high_min=high,
                until=(stiff.sign, "no grain is left between finger and thumb"),
                peak="stiff glossy peak",
                checks=foam_checks,
                ready_next=("bag and nozzle", "oven at heat"),
                timer_min=round(low, 1),
                caution="Hot water near a turning whisk splashes: start slow, stand back." if hot else None,
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
            title="Whisk to froth",
            says=(
                *went_in(tuple(p for p in early if p.moment == "start")),
                "Medium speed.",
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
                title=f"Whisk to {to.name}",
                says=("Medium-high.",),
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
                title="Rain in the sugar",
                says=went_in(rained),
                kind="hands",
                hands=1,
                low_min=w.rain_min[0],
                high_min=w.rain_min[1],
                until=("all of it is in, and the foam still climbs",),
                peak="medium peak",
                ready_next=("bag and nozzle",),
            )
        )
    spent = max((p.until_min for p in rained), default=frothy.high_min)
    out.append(
        Step(
            key="stiff",
            station="whisk",
            title="Whisk to a stiff, glossy peak",
            says=("High speed. Feel for grit before you stop.",),
            kind="machine",
            hands=0.5,
            low_min=max(0.5, stiff.low_min - spent),
            high_min=max(1.0, stiff.high_min - spent),
            until=(stiff.sign,),
            peak="stiff glossy peak",
            checks=foam_checks,
            ready_next=("oven at heat", "bag and nozzle", "trays lined"),
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
            title="Fold in the last things",
            says=went_in(last),
            kind="hands",
            hands=1,
            low_min=1,
            high_min=2,
            until=("no streak is left; then stop",),
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
        ["Spread to the marks, even to the edges."]
        if shape.kind == "slab"
        else [f"{' + '.join(map(str, trays))} pieces, {station.figures['piece'].value or 0:.0f} g each; {bags:.0f} bags."]
    )
    if station.loads > 1:
        says.append(f"The oven takes them in {station.loads} loads: pipe only the first; the rest is a batch of its own.")
    return [
        Step(
            key="shape",
            station="shape",
            title="Shape at once",
            says=tuple(says),
            kind="hands",
            hands=1,
            low_min=max(2, each * sheet.pieces * 0.7),
            high_min=max(4, each * sheet.pieces * 1.3),
            until=("every piece is on its mark",),
            ready_next=("oven at heat",),
            asks=(
                Ask(
                    key="tray-in",
                    asks="Fullest tray, before the oven",
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
        asks="The same tray, out of the oven",
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
                    title="Turn the trays",
                    says=("Back to front, quickly; shut the door.",),
                    kind="hands",
                    hands=1,
                    low_min=0.5,
                    high_min=1,
                    caution="Hot trays: dry cloth, both hands.",
                    takes=("oven",),
                    set_c=out[-1].set_c,
                )
            )
        else:
            title = f"{'Trays in' if i == 0 else 'Oven'}: {bar.says}" if bar.kind == "heat" else f"Oven {bar.says}"
            until = ("dry to touch", "lifts clean off the paper", f"ridges {figures['colour'].text}") if last_heat else ()
            asks: tuple[Ask, ...] = (
                (Ask(key=f"oven-temp-{i}", asks="Oven thermometer", unit="°C", expected=None, least=20, most=320, trace=True),)
                if bar.kind in ("heat", "off")
                else ()
            )
            if i == 0:
                asks += (Ask(key="oven-up", asks="It was at its heat after", unit="min", least=1, most=180),)
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
                    caution="Hot oven and trays: dry cloth, both hands." if i == 0 else None,
                    takes=("oven",),
                    set_c=set_to.set_c,
                    ajar=set_to.door == "ajar",
                )
            )
    out.append(
        Step(
            key="weigh-out",
            station="dry",
            title="Weigh the tray out",
            says=(f"Expect {figures['loss'].value or 0:.0f} g gone ({d.loss_pct[-1]:.0f} % of the foam).",),
            kind="hands",
            hands=1,
            low_min=1,
            high_min=2,
            asks=(weigh_out,),
            caution="Trays may still be hot: dry cloth.",
        )
    )
    return out


def finish(sheet: Sheet) -> Step:
    """Putting away and saying how it came out."""
    says = [f"{k.container}: {k.lasts()}." for k in sheet.finish.keeping]
    return Step(
        key="finish",
        station="finish",
        title="Put away, and say how it came out",
        says=tuple(says),
        kind="hands",
        hands=1,
        low_min=3,
        high_min=8,
        until=("texture, colour and any fault noted",),
        caution=next(iter(sheet.finish.cautions), None),
    )
