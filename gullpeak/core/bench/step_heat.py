"""The steps of what is heated: the pan of syrup and its whites, Swiss whites, sabayon and curd, row by row."""

from gullpeak.core.bench.step_rows import GRIT, PEAK, UPTURNED, folding, went_in
from gullpeak.core.bench.watches import is_kept
from gullpeak.core.physics import bath, syrup
from gullpeak.core.recipe.step import Ask, Step, check
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.sheet.stations.heated import HeatStation
from gullpeak.core.sheet.stations.whisk import Whisk
from gullpeak.core.value import Said, say

BURNS = say("step.boiling-syrup-sticks-burns")
STEAM = say("step.steam-scalds-lift-bowl")

CLEAR = check("clear")
DROP = check("drop")
WALL = check("hand-warm")
RIBBON = check("ribbon")
COATS = check("coats")
COLDEST = check("coldest")
SMOOTH = check("smooth")


def _temps(key: str, what: Said, target_c: float, most_c: float = 200) -> Ask:
    return Ask(key=key, asks=what, unit="°C", expected=target_c, least=-30, most=most_c, trace=True)


def syrup_steps(sheet: Sheet, heat: HeatStation, whisk: Whisk) -> list[Step]:
    """From the pan on its ring to a hand-warm foam."""
    pan, w = heat.syrup, whisk.whisking
    assert pan is not None
    assert sheet.recipe.heat is not None
    chosen = next(s for s in pan.starts if s.key == pan.chosen)
    minutes = heat.figures["time"]
    high, likely = minutes.high or 0.0, minutes.value or 0.0
    start_min = chosen.meeting.start_s / 60
    by_scale = Ask(
        key="syrup-mass",
        asks=say("ask.syrup-mass.asks"),
        unit="g",
        expected=pan.target_scale_g,
        low=pan.target_scale_g - 3,
        high=pan.target_scale_g + 3,
        least=pan.pan_g * 0.5,
        most=pan.on_scale_g * 1.5 + 500,
        trace=True,
    )
    temps = _temps("syrup", say("ask.syrup"), pan.cook.reads_c)
    peak = next(s for s in w.stages if s.name == sheet.recipe.heat.peak)
    early = tuple(p for p in whisk.pours if p.moment in ("start", "froth"))
    rained = tuple(p for p in whisk.pours if p.moment in ("before soft", "soft", "stiff"))
    out = [
        Step(
            key="pan-on",
            station="heat",
            title=say("step.pan-on.title"),
            says=(
                say("step.pan-on.says", solids_g=pan.contents.solids_g, water_g=pan.contents.water_g, on_scale_g=pan.on_scale_g),
                say("step.pan-on.says-2"),
            ),
            kind="hands",
            hands=1,
            low_min=1,
            high_min=2,
            asks=(
                Ask(
                    key="pan-start",
                    asks=say("ask.pan-start.asks"),
                    unit="g",
                    expected=pan.on_scale_g,
                    low=pan.on_scale_g * 0.97,
                    high=pan.on_scale_g * 1.03,
                    least=pan.pan_g * 0.5,
                    most=pan.on_scale_g * 1.5 + 500,
                ),
            ),
            caution=BURNS,
            ready_next=(say("step.pan-on.ready-next"), say("step.pan-on.ready-next-2"), say("step.pan-on.ready-next-3")),
        )
    ]
    if start_min > 0.3:
        out.append(
            Step(
                key="climb",
                station="heat",
                title=say("step.climb.title"),
                says=(say("step.climb.says"),),
                kind="machine",
                hands=0.2,
                low_min=start_min * 0.8,
                high_min=start_min * 1.25,
                until=(say("step.climb.until", start_reads_c=chosen.meeting.start_reads_c),),
                checks=(CLEAR,),
                asks=(temps, by_scale),
                watch="syrup",
                opens="start",
                ready_next=(say("step.climb.ready-next"),),
            )
        )
    out += [
        Step(
            key="whites",
            station="whisk",
            title=say("step.whites.title", peak_name=peak.name),
            says=(
                *went_in(early),
                *went_in(rained),
                say("step.whites.says"),
            ),
            kind="machine",
            hands=1,
            low_min=max(0.5, min(peak.low_min, likely - start_min)),
            high_min=max(peak.high_min, high - start_min),
            until=(say("amount.number", x=peak.sign), say("step.whites.until", reads_c=pan.cook.reads_c)),
            peak=peak.name,
            checks=(DROP.model_copy(update={"passes": say("check.drop.stage", stage=pan.cook.stage, drop=pan.cook.drop)}),),
            asks=(temps, by_scale),
            watch="syrup",
            opens="target",
            caution=BURNS,
            ready_next=(say("step.whites.ready-next"), say("step.whites.ready-next-2")),
        ),
        Step(
            key="pour",
            station="heat",
            title=say("step.pour.title"),
            says=(
                say("step.pour.says", pour_s_low=syrup.POUR_S[0], pour_s_high_s=syrup.POUR_S[1]),
                say("step.pour.says-2"),
            ),
            kind="hands",
            hands=2 if whisk.by_hand else 1,
            low_min=syrup.POUR_S[0] / 60,
            high_min=syrup.POUR_S[1] / 60,
            until=(say("step.pour.until"),),
            caution=BURNS,
            ready_next=(say("step.pour.ready-next"),),
        ),
        Step(
            key="cool-whisk",
            station="whisk",
            title=say("step.cool-whisk.title"),
            says=(
                say(
                    "step.cool-whisk.says",
                    highest_c=pan.poured.highest_c,
                    treatment=heat.treatment,
                ),
            ),
            kind="machine",
            hands=0.2,
            low_min=(heat.figures["hand-warm"].low or 1.0),
            high_min=(heat.figures["hand-warm"].high or 3.0),
            until=(say("step.cool-whisk.until"), w.stages[-1].sign),
            peak="stiff glossy peak",
            checks=(WALL, PEAK, UPTURNED, COLDEST),
            asks=(_temps("bowl", say("step.cool-whisk.says-2"), syrup.HAND_WARM_C, 120),),
            watch="bowl",
            ready_next=(say("step.cool-whisk.ready-next"),),
        ),
    ]
    return [*out, *folding(whisk.pours)]


def bath_on(heat: HeatStation) -> Step:
    """The water brought to a simmer, or the flame set low."""
    over = heat.bath
    assert over is not None
    wet = over.source == "bath"
    return Step(
        key="bath-on",
        station="heat",
        title=say("step.bath-on.water") if wet else say("step.bath-on.flame"),
        says=(say("step.bath-on.how-water"),) if wet else (say("step.bath-on.how-flame"),),
        kind="wait" if wet else "hands",
        hands=0.1,
        low_min=4 if wet else 1,
        high_min=8 if wet else 2,
        ready_next=(say("step.bath-on.ready-next"), say("step.bath-on.ready-next-2")),
        caution=STEAM if wet else None,
    )


def swiss_steps(heat: HeatStation, whisk: Whisk) -> list[Step]:
    """Whites and sugar warmed together, then whisked cool."""
    over, w = heat.bath, whisk.whisking
    assert over is not None
    stiff = w.stages[-1]
    early = tuple(p for p in whisk.pours if p.moment in ("bath", "start", "froth"))
    return [
        bath_on(heat),
        Step(
            key="warm",
            station="heat",
            title=say("step.warm.title", target_c=over.warming.target_c),
            says=(
                *went_in(early),
                say("step.warm.says"),
                say("step.treatment", treatment=heat.treatment),
            ),
            kind="hands",
            hands=1,
            low_min=over.warming.low_s / 60,
            high_min=over.warming.high_s / 60,
            until=(say("step.warm.until"), say("step.warm.until-2", target_c=over.warming.target_c)),
            checks=(GRIT, COLDEST),
            asks=(_temps("bath", say("step.warm.says-2"), over.warming.target_c, 120),),
            watch="bath",
            opens="target",
            caution=STEAM,
            ready_next=(say("step.warm.ready-next"),),
        ),
        Step(
            key="whisk",
            station="whisk",
            title=say("step.whisk.title"),
            says=(say("step.whisk.says"),),
            kind="machine",
            hands=0.3,
            low_min=stiff.low_min,
            high_min=stiff.high_min,
            until=(stiff.sign, say("step.whisk.until")),
            peak="stiff glossy peak",
            checks=(PEAK, UPTURNED),
            ready_next=(say("step.whisk.ready-next"), say("step.whisk.ready-next-2")),
        ),
        *folding(whisk.pours),
    ]


def egg_steps(sheet: Sheet, heat: HeatStation) -> list[Step]:
    """A sabayon or a curd from the bath to its portions."""
    over = heat.bath
    assert over is not None
    sabayon = sheet.recipe.school == "sabayon"
    lines = {line.key: line for line in sheet.weigh.lines}

    def grams(key: str) -> Said:
        mass, name = lines[key].mass_g, lines[key].name
        return say("step.amount-known", name=name) if mass is None else say("step.g", name=name, mass_g=mass)

    late = {a.ingredient for a in sheet.recipe.additions if a.moment in ("off heat", "cooled", "folded last") and a.ratio != 0}
    out = [
        bath_on(heat),
        Step(
            key="thicken",
            station="heat",
            title=say("step.thicken.ribbon", target_c=over.warming.target_c)
            if sabayon
            else say("step.thicken.curd", target_c=over.warming.target_c),
            says=(
                say("step.thicken.says") if sabayon else say("step.thicken.says-2"),
                say("step.thicken.says-3", thickens_c=over.window.thickens_c, sets_c=over.window.sets_c),
            ),
            kind="hands",
            hands=1,
            low_min=over.warming.low_s / 60,
            high_min=over.warming.high_s / 60,
            until=(
                say("step.thicken.until"),
                say("step.thicken.until-2", target_c=over.warming.target_c),
                say("step.thicken.until-3"),
            )
            if sabayon
            else (say("step.thicken.until-4"), say("step.thicken.until-2", target_c=over.warming.target_c)),
            checks=(RIBBON if sabayon else COATS, COLDEST),
            asks=(_temps("bath", say("step.thicken.says-4"), over.warming.target_c, 120),),
            watch="bath",
            opens="target",
            caution=STEAM,
            ready_next=(say("step.thicken.ready-next"), say("step.thicken.ready-next-2")),
        ),
    ]
    hot = [key for key in ("gelatine", "butter", "chocolate") if key in late]
    windows = {"gelatine": bath.GELATINE_IN_C, "butter": bath.BUTTER_IN_C, "chocolate": bath.CHOCOLATE_FOLD_C["sabayon"]}
    for key in hot:
        low_c, high_c = windows[key]
        out.append(
            Step(
                key=f"{key}-in",
                station="heat",
                title=say(f"step.{key}-in.title"),
                says=(say("step.between", grams=grams(key), low_c=low_c, high_c=high_c),),
                kind="hands",
                hands=1,
                low_min=1,
                high_min=4,
                checks=(SMOOTH,),
                asks=(
                    Ask(
                        key=f"{key}-at", asks=say("step.temperature-goes"), unit="°C", low=low_c, high=high_c, least=-30, most=120
                    ),
                ),
            )
        )
    if "cream" in late:
        out.append(
            Step(
                key="cool-down",
                station="heat",
                title=say("step.cool-down.title"),
                says=(say("step.cool-down.says"),),
                kind="hands",
                hands=0.6,
                low_min=4,
                high_min=9,
                asks=(_temps("chill", say("step.cool-down.says-2"), 20, 120),),
                watch="chill",
            )
        )
        out.append(
            Step(
                key="cream-in",
                station="heat",
                title=say("step.cream-in.title"),
                says=(say("step.cream-in.says", grams=grams("cream")),),
                kind="hands",
                hands=1,
                low_min=2,
                high_min=4,
            )
        )
    out.append(
        Step(
            key="portion",
            station="finish",
            title=say("step.portion.title", pieces=sheet.pieces, portion_g=sheet.recipe.portion_g),
            says=(say("step.portion.says", pieces=sheet.pieces) if sabayon else say("step.portion.says-2"),),
            kind="hands",
            hands=1,
            low_min=0.2 * sheet.pieces,
            high_min=0.5 * sheet.pieces + 1,
        )
    )
    if is_kept(sheet.recipe):
        out.append(
            Step(
                key="chill",
                station="finish",
                title=say("step.chill.title"),
                says=(say("step.chill.says"),),
                kind="wait",
                hands=0,
                low_min=60,
                high_min=240,
                until=(say("step.chill.until"),),
                asks=(_temps("chill", say("step.chill.says-2"), 5, 120),),
                watch="chill",
            )
        )
    return out
