"""The steps of what is heated: the pan of syrup and its whites, Swiss whites, sabayon and curd, row by row."""

from gullpeak.core.bench.step_rows import GRIT, PEAK, UPTURNED, folding, went_in
from gullpeak.core.bench.watches import is_kept
from gullpeak.core.physics import bath, syrup
from gullpeak.core.recipe.step import Ask, Check, Step
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.sheet.stations.heated import HeatStation
from gullpeak.core.sheet.stations.whisk import Whisk

BURNS = "Boiling syrup sticks and burns: sleeves down, no children near, cold water at hand."
STEAM = "Steam scalds: lift the bowl away from you, dry cloth on the rim."

CLEAR = Check(
    key="clear",
    asks="Clear, and no crystal on the wall?",
    passes="not a grain on the wall above the syrup",
    on_fail=("wash the wall down with a wet brush, do not stir", "grainy through: a splash of water, melt it again, then go on"),
)
DROP = Check(
    key="drop",
    asks="Does a drop in cold water say so?",
    passes="as described for this stage",
    on_fail=("half a minute more, and try again", "too hard: a spoon of water, boil up once"),
)
WALL = Check(
    key="hand-warm",
    asks="Is the wall of the bowl at hand warmth?",
    passes="neither warm nor cold to the back of the hand",
    on_fail=("whisk on at medium speed", "no ice: a cold wall leaves the middle warm"),
)
RIBBON = Check(
    key="ribbon",
    asks="Do ribbon, whisk and probe agree?",
    passes="pale, a ribbon lies on top for three seconds, the whisk uncovers the bottom of the bowl",
    on_fail=("go on, whisking the edge where it is hottest", "thin after the wine is normal: it comes back with the heat"),
)
COATS = Check(
    key="coats",
    asks="Does it coat the back of a spoon?",
    passes="a finger's line through it stays",
    on_fail=("go on, scraping the bottom", "flecks: off the heat, blend and sieve at once"),
)
COLDEST = Check(
    key="coldest",
    asks="Stirred, and read in the coldest of three places?",
    passes="the lowest of the wall, the bottom and the middle, just after a stir",
    on_fail=("stir the wall and the bottom, then read in three places", "the lowest is the one to record"),
)
SMOOTH = Check(
    key="smooth",
    asks="Smooth, without a lump?",
    passes="not a lump in the sieve",
    on_fail=("warm it to 45 °C and stir: gelatine melts again", "blend, then sieve"),
)


def _temps(key: str, what: str, target_c: float, most_c: float = 200) -> Ask:
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
        asks="Pan on the scale",
        unit="g",
        expected=pan.target_scale_g,
        low=pan.target_scale_g - 3,
        high=pan.target_scale_g + 3,
        least=pan.pan_g * 0.5,
        most=pan.on_scale_g * 1.5 + 500,
        trace=True,
    )
    temps = _temps("syrup", "Syrup", pan.cook.reads_c)
    peak = next(s for s in w.stages if s.name == sheet.recipe.heat.peak)
    early = tuple(p for p in whisk.pours if p.moment in ("start", "froth"))
    rained = tuple(p for p in whisk.pours if p.moment in ("before soft", "soft", "stiff"))
    out = [
        Step(
            key="pan-on",
            station="heat",
            title="Pan on the ring",
            says=(
                f"{pan.contents.solids_g:.0f} g sugar and {pan.contents.water_g:.0f} g water; {pan.on_scale_g:.0f} g with the pan.",
                "Stir until it is clear, then never again.",
            ),
            kind="hands",
            hands=1,
            low_min=1,
            high_min=2,
            asks=(
                Ask(
                    key="pan-start",
                    asks="Pan and all, cold, on the scale",
                    unit="g",
                    expected=pan.on_scale_g,
                    low=pan.on_scale_g * 0.97,
                    high=pan.on_scale_g * 1.03,
                    least=pan.pan_g * 0.5,
                    most=pan.on_scale_g * 1.5 + 500,
                ),
            ),
            caution=BURNS,
            ready_next=("whites in the bowl", "probe in the pan", "a glass of cold water"),
        )
    ]
    if start_min > 0.3:
        out.append(
            Step(
                key="climb",
                station="heat",
                title="Let the syrup climb",
                says=("Do not stir. Wash the wall once with a wet brush.",),
                kind="machine",
                hands=0.2,
                low_min=start_min * 0.8,
                high_min=start_min * 1.25,
                until=(f"the pan reads {chosen.meeting.start_reads_c:.0f} °C: then the whites start",),
                checks=(CLEAR,),
                asks=(temps, by_scale),
                watch="syrup",
                opens="start",
                ready_next=("whites in the bowl",),
            )
        )
    out += [
        Step(
            key="whites",
            station="whisk",
            title=f"Whites to {peak.name}; watch the pan",
            says=(
                *went_in(early),
                *went_in(rained),
                "Medium speed. If they stand before the syrup is there, drop to the lowest speed: do not stop.",
            ),
            kind="machine",
            hands=1,
            low_min=max(0.5, min(peak.low_min, likely - start_min)),
            high_min=max(peak.high_min, high - start_min),
            until=(f"{peak.sign}", f"the pan reads {pan.cook.reads_c:.0f} °C"),
            peak=peak.name,
            checks=(DROP.model_copy(update={"passes": f"{pan.cook.stage}: {pan.cook.drop}"}),),
            asks=(temps, by_scale),
            watch="syrup",
            opens="target",
            caution=BURNS,
            ready_next=("pan in reach of the bowl", "dry cloth"),
        ),
        Step(
            key="pour",
            station="heat",
            title="Pour the syrup",
            says=(
                f"A thin stream down the wall, {syrup.POUR_S[0]:.0f} to {syrup.POUR_S[1]:.0f} s, high speed.",
                "Not on the wires: what they throw sets as threads.",
            ),
            kind="hands",
            hands=2 if whisk.by_hand else 1,
            low_min=syrup.POUR_S[0] / 60,
            high_min=syrup.POUR_S[1] / 60,
            until=("the pan is empty",),
            caution=BURNS,
            ready_next=("probe in the bowl",),
        ),
        Step(
            key="cool-whisk",
            station="whisk",
            title="Whisk until hand-warm",
            says=(f"Expect {pan.poured.highest_c:.0f} °C after the pour. {heat.treatment[:1].upper() + heat.treatment[1:]}.",),
            kind="machine",
            hands=0.2,
            low_min=(heat.figures["hand-warm"].low or 1.0),
            high_min=(heat.figures["hand-warm"].high or 3.0),
            until=("the wall of the bowl is at hand warmth", w.stages[-1].sign),
            peak="stiff glossy peak",
            checks=(WALL, PEAK, UPTURNED, COLDEST),
            asks=(_temps("bowl", "Foam in the bowl", syrup.HAND_WARM_C, 120),),
            watch="bowl",
            ready_next=("bag and nozzle",),
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
        title="Water to a bare simmer" if wet else "A heavy pan and the lowest flame",
        says=("Two fingers of water; the bowl sits above it, not in it.",)
        if wet
        else ("Cold bowl and sieve beside the hob before it starts.",),
        kind="wait" if wet else "hands",
        hands=0.1,
        low_min=4 if wet else 1,
        high_min=8 if wet else 2,
        ready_next=("whisk", "cold bowl beside the hob"),
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
            title=f"Warm whites and sugar to {over.warming.target_c:g} °C",
            says=(
                *went_in(early),
                "Stir all the time, the wall and the bottom too.",
                heat.treatment[:1].upper() + heat.treatment[1:] + ".",
            ),
            kind="hands",
            hands=1,
            low_min=over.warming.low_s / 60,
            high_min=over.warming.high_s / 60,
            until=("no grain is felt between finger and thumb", f"the probe reads {over.warming.target_c:g} °C, kept moving"),
            checks=(GRIT, COLDEST),
            asks=(_temps("bath", "Whites and sugar", over.warming.target_c, 120),),
            watch="bath",
            opens="target",
            caution=STEAM,
            ready_next=("bowl on the mixer",),
        ),
        Step(
            key="whisk",
            station="whisk",
            title="Whisk to stiff and cool",
            says=("High speed, then medium until the wall of the bowl is cool.",),
            kind="machine",
            hands=0.3,
            low_min=stiff.low_min,
            high_min=stiff.high_min,
            until=(stiff.sign, "the wall of the bowl is cool"),
            peak="stiff glossy peak",
            checks=(PEAK, UPTURNED),
            ready_next=("bag and nozzle", "oven at heat"),
        ),
        *folding(whisk.pours),
    ]


def egg_steps(sheet: Sheet, heat: HeatStation) -> list[Step]:
    """A sabayon or a curd from the bath to its portions."""
    over = heat.bath
    assert over is not None
    sabayon = sheet.recipe.school == "sabayon"
    lines = {line.key: line for line in sheet.weigh.lines}

    def grams(key: str) -> str:
        mass = lines[key].mass_g
        return f"{lines[key].name.lower()}, {'amount not known' if mass is None else f'{mass:.0f} g'}"

    late = {a.ingredient for a in sheet.recipe.additions if a.moment in ("off heat", "cooled", "folded last") and a.ratio != 0}
    out = [
        bath_on(heat),
        Step(
            key="thicken",
            station="heat",
            title=f"{'Whisk to the ribbon' if sabayon else 'Thicken'}: {over.warming.target_c:g} °C",
            says=(
                "Egg and sugar pale first, off the heat; then the liquid in a thread: it thins, and comes back."
                if sabayon
                else "Egg, sugar and juice together; keep the bottom moving.",
                f"Thickens from {over.window.thickens_c:.0f} °C, lost from {over.window.sets_c:.0f} °C.",
            ),
            kind="hands",
            hands=1,
            low_min=over.warming.low_s / 60,
            high_min=over.warming.high_s / 60,
            until=("a ribbon that holds", f"the probe reads {over.warming.target_c:g} °C", "all agree, not the clock")
            if sabayon
            else ("it coats the spoon", f"the probe reads {over.warming.target_c:g} °C"),
            checks=(RIBBON if sabayon else COATS, COLDEST),
            asks=(_temps("bath", "In the bowl", over.warming.target_c, 120),),
            watch="bath",
            opens="target",
            caution=STEAM,
            ready_next=("cold bowl beside the hob", "sieve"),
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
                title={
                    "gelatine": "Melt the gelatine in",
                    "butter": "Butter in, off the heat",
                    "chocolate": "Fold in the chocolate",
                }[key],
                says=(f"{grams(key).capitalize()}, between {low_c:g} and {high_c:g} °C.",),
                kind="hands",
                hands=1,
                low_min=1,
                high_min=4,
                checks=(SMOOTH,),
                asks=(
                    Ask(
                        key=f"{key}-at", asks="Temperature as it goes in", unit="°C", low=low_c, high=high_c, least=-30, most=120
                    ),
                ),
            )
        )
    if "cream" in late:
        out.append(
            Step(
                key="cool-down",
                station="heat",
                title="Cool it over ice",
                says=("Stir until it is 20 °C or colder; then the cream.",),
                kind="hands",
                hands=0.6,
                low_min=4,
                high_min=9,
                asks=(_temps("chill", "In the bowl", 20, 120),),
                watch="chill",
            )
        )
        out.append(
            Step(
                key="cream-in",
                station="heat",
                title="Fold in the cream",
                says=(f"{grams('cream').capitalize()}, at soft peaks, in two goes.",),
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
            title=f"Portion: {sheet.pieces} of {sheet.recipe.portion_g:g} g",
            says=(f"{sheet.pieces} glasses." if sabayon else "Into clean jars or a shallow dish, covered on its surface.",),
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
                title="Chill: 21 °C within 2 h, 5 °C within 6 h",
                says=("Shallow, over ice or in the blast of the fridge; lid ajar until cold.",),
                kind="wait",
                hands=0,
                low_min=60,
                high_min=240,
                until=("the middle reads 5 °C",),
                asks=(_temps("chill", "In the middle", 5, 120),),
                watch="chill",
            )
        )
    return out
