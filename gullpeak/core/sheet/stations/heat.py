"""Heating: the pan of syrup that has to meet its whites, or the egg over its bath."""

from gullpeak.core.physics import sugar, syrup
from gullpeak.core.recipe.recipe import Heat, Recipe
from gullpeak.core.sheet.batch import Batch, Equipment, Making
from gullpeak.core.sheet.foam import Stage
from gullpeak.core.sheet.stations import over_bath
from gullpeak.core.sheet.stations.base import CRAFT, MODEL, figure
from gullpeak.core.sheet.stations.heated import HeatStation, Start, SyrupHeat, mixture, reach
from gullpeak.core.value import Figure, Remark, Said, perhaps, say

HOB_SPREAD = 0.2
"""A ring's power by its setting, either way: until a log or a probe tells."""
STARTS: dict[str, tuple[Said, float | None]] = {
    "meet": (say("heat.start.meet"), None),
    "at 100": (say("heat.start.at-100"), 100.0),
    "at 112": (say("heat.start.at-112"), 112.0),
    "together": (say("heat.start.together"), 0.0),
}
"""Schools of starting the whites: what is said, and the reading at which they start (None: worked out)."""


def work_out(making: Making) -> HeatStation | None:
    """Return the station, or None where the school heats nothing."""
    recipe = making.recipe
    if recipe.heat is None:
        return None
    if recipe.way.heats == "syrup":
        return _syrup(making, recipe.heat)
    return over_bath.work_out(making, recipe.heat)


def _syrup(making: Making, heat: Heat) -> HeatStation:
    recipe, kitchen, tools, batch = making
    contents, whisking = batch.pan, batch.whisking
    assert contents is not None
    assert whisking is not None
    room, altitude = kitchen.room_c, kitchen.altitude_m
    pan_j_k = tools.pan.capacity_j_k()
    done = syrup.cook(contents, tools.hob.power_w, heat.target_c, pan_j_k, syrup.PAN_LOSS_W_K, room, room, altitude)
    peak = next(s for s in whisking.stages if s.name == heat.peak)
    band = (60 * peak.low_min, 60 * peak.high_min)
    starts = tuple(
        _start(key, says, syrup.meet(done, band, HOB_SPREAD, perhaps(lambda c: max(c, room), at)))
        for key, (says, at) in STARTS.items()
    )
    chosen = next(s for s in starts if s.key == heat.start_whites)
    poured = syrup.pour(
        done.syrup_g,
        done.brix_pct,
        done.reads_c,
        batch.base_g,
        recipe.egg.temp_c,
        tools.mixer.bowl_j_k(),
        room,
        room,
        tools.mixer.kind,
        heat.wall_pct,
    )
    on_scale, at_target = tools.pan.mass_g + contents.solids_g + contents.water_g, tools.pan.mass_g + done.syrup_g
    risk, other = syrup.crystallising(contents, any(a.moment == "syrup" and a.item.role == "acid" for a in recipe.additions))
    could, treatment = reach(
        poured.highest_c, say("heat.bowl", bowl_g=tools.mixer.bowl_g, bowl_material=tools.mixer.bowl_material)
    )
    risky = figure(
        None,
        "",
        "craft rule",
        say("heat.risk.rule"),
        CRAFT,
        ("other-sugars", say("amount.pct-0f", x=100 * other)),
        text=say(f"heat.risk.{risk}"),
    )
    figures = {
        **_pan_figures(making, heat, contents, done),
        **_meeting_figures(making, chosen, peak, done, poured),
        "risk": risky,
    }
    return HeatStation(
        key="heat",
        title=say("station.heat"),
        vital="target",
        figures=figures,
        remarks=tuple(_syrup_remarks(recipe, tools, batch, contents, risk, chosen, could, treatment)),
        syrup=SyrupHeat(
            contents=contents,
            cook=done,
            starts=starts,
            chosen=heat.start_whites,
            poured=poured,
            overshoots=tuple(
                syrup.overshoot(contents, heat.target_c, float(sugar.at_altitude_c(heat.target_c + past, altitude)), altitude)
                for past in (3.0, 8.0, 15.0)
            ),
            pan_g=tools.pan.mass_g,
            on_scale_g=on_scale,
            target_scale_g=at_target,
            power_w=tools.hob.power_w,
            pan_j_k=pan_j_k,
            altitude_m=altitude,
            room_c=room,
        ),
        altitude_m=altitude,
        mixture=mixture(recipe, batch),
        expected_c=poured.highest_c,
        could_reach=could,
        treatment=treatment,
    )


def _pan_figures(making: Making, heat: Heat, contents: syrup.Contents, done: syrup.Cook) -> dict[str, Figure]:
    """The pan: its target, its time, what boils off, what the scale shows."""
    _, kitchen, tools, _ = making
    on_scale, at_target = tools.pan.mass_g + contents.solids_g + contents.water_g, tools.pan.mass_g + done.syrup_g
    return {
        "target": figure(
            done.reads_c,
            "°C",
            "tabulated",
            say("heat.target.rule", target_c=heat.target_c, done_stage=done.stage),
            say("source.boiling-curve-mcgee"),
            ("altitude", say("amount.m", x=kitchen.altitude_m)),
            ("strength", say("heat.target.sugar", brix_pct=done.brix_pct)),
        ),
        "time": figure(
            done.done_s / 60,
            "min",
            "modelled",
            say("heat.time.rule"),
            MODEL,
            ("ring", say("heat.time.pan", hob_name=tools.hob.name, power_w=tools.hob.power_w)),
            ("pan", say("heat.time.g", pan_name=tools.pan.name, mass_g=tools.pan.mass_g)),
            ("in-the-pan", say("heat.time.sugar-water", solids_g=contents.solids_g, water_g=contents.water_g)),
            low=done.done_s / 60 / (1 + HOB_SPREAD),
            high=done.done_s / 60 / (1 - HOB_SPREAD),
        ),
        "lost": figure(
            done.lost_g,
            "g",
            "modelled",
            say("heat.lost.rule"),
            MODEL,
            ("water-in", say("amount.g-0f", x=contents.water_g)),
            ("water-left", say("amount.g-1f", x=done.water_left_g)),
        ),
        "pan-at": figure(
            at_target,
            "g",
            "modelled",
            say("heat.pan-at.rule"),
            MODEL,
            ("pan-and-all-cold", say("amount.g-0f", x=on_scale)),
            ("pan-empty", say("amount.g", x=tools.pan.mass_g)),
        ),
    }


def _meeting_figures(making: Making, chosen: Start, peak: Stage, done: syrup.Cook, poured: syrup.Poured) -> dict[str, Figure]:
    """Syrup and whites: when they start, how far they miss each other, how hot they are together."""
    recipe, kitchen, tools, batch = making
    early, room = chosen.meeting.early_s, kitchen.room_c
    wall_pct = 0.0 if recipe.heat is None else recipe.heat.wall_pct
    return {
        "start-at": figure(
            chosen.meeting.start_reads_c,
            "°C",
            "modelled",
            say(
                "heat.start-at.rule",
                chosen_says=chosen.says,
                low_min=peak.low_min,
                high_min=peak.high_min,
                peak_name=peak.name,
                done_min=done.done_s / 60,
            ),
            MODEL,
            ("from-the-pan-going-on", say("amount.min-1f", x=chosen.meeting.start_s / 60)),
            ("mixer", tools.mixer.name),
        ),
        "apart": figure(
            max(abs(early[0]), abs(early[1])) / 60,
            "min",
            "modelled",
            say("heat.apart.rule"),
            MODEL,
            ("syrup-first-by-at-most", say("amount.min-1f", x=max(0.0, -early[0]) / 60)),
            ("whites-first-by-at-most", say("amount.min-1f", x=max(0.0, early[1]) / 60)),
        ),
        "mixed": figure(
            poured.highest_c,
            "°C",
            "modelled",
            say("heat.mixed.rule"),
            MODEL,
            ("syrup", say("heat.mixed.syrup", syrup_g=done.syrup_g - batch.wall_g, reads_c=done.reads_c)),
            ("white", say("heat.mixed.white", base_g=batch.base_g, temp_c=recipe.egg.temp_c)),
            ("bowl", say("heat.mixed.g", bowl_g=tools.mixer.bowl_g, bowl_material=tools.mixer.bowl_material)),
            low=poured.highest_low_c,
            high=poured.mixed_c,
        ),
        "hand-warm": figure(
            perhaps(lambda s: s / 60, poured.hand_warm_s),
            "min",
            "modelled",
            say("heat.hand-warm.rule"),
            MODEL,
            ("room", say("amount.c", x=room)),
            spread=(0.75, 1.3),
            instead=say("heat.hand-warm.already"),
        ),
        "wall": figure(
            batch.wall_g,
            "g",
            "craft rule",
            say("heat.wall.rule"),
            CRAFT,
            ("of-the-syrup", say("amount.pct", x=wall_pct)),
        ),
    }


def _start(key: str, says: Said, meeting: syrup.Meeting) -> Start:
    low, high = (e / 60 for e in meeting.early_s)
    if low > 1:
        verdict = say("heat.whites-stand-min-before", low=low, high_min=high)
    elif high < -0.2:
        verdict = say("heat.syrup-min-before-whites", high=-high, low_min=-low)
    else:
        verdict = say("heat.meet-within-min", low_min=max(abs(low), abs(high)))
    return Start(key=key, says=says, meeting=meeting, verdict=verdict)


def _syrup_remarks(
    recipe: Recipe,
    tools: Equipment,
    batch: Batch,
    contents: syrup.Contents,
    risk: str,
    chosen: Start,
    could: bool,
    treatment: Said,
) -> list[Remark]:
    remarks = [
        Remark(
            severity="note",
            says=say("heat.egg", treatment=treatment),
            do=() if could else (say("heat.lighter-warmed-bowl-larger"), say("heat.pasteurised-white-guests-can")),
        )
    ]
    volume = (contents.solids_g / 1.59 + contents.water_g) / 1000
    rises = 4.0 if any(s.key == "honey" for s in recipe.sugars) else 2.0
    if volume * rises > tools.pan.volume_l:
        remarks.append(
            Remark(
                severity="danger",
                says=say("heat.syrup-foams-boils-over", volume_l=volume, volume_l2=volume * rises, volume_l3=tools.pan.volume_l),
                do=(say("heat.take-larger-pan"), say("heat.boil-two-pans")),
            )
        )
    if any(s.key == "honey" for s in recipe.sugars):
        remarks.append(
            Remark(
                severity="note",
                says=say("heat.honey-starts-sugar-boils", boils_c=float(syrup.boils_c(contents, contents.water_g))),
                do=(say("heat.high-pan-small-flame"), say("heat.scale-blunt-here-few")),
            )
        )
    if risk == "high":
        remarks.append(
            Remark(
                severity="warning",
                says=say("heat.nothing-pan-keeps-sugar"),
                do=(
                    say("heat.replace-tenth-glucose-syrup"),
                    say("heat.wash-wall-down-wet"),
                ),
            )
        )
    if chosen.meeting.early_s[0] > 60 or chosen.meeting.early_s[1] < -12:
        remarks.append(
            Remark(
                severity="warning",
                says=say("heat.started", verdict=chosen.verdict),
                do=(
                    say("heat.whites-first-lowest-speed"),
                    say("heat.syrup-first-off-ring"),
                ),
            )
        )
    if batch.base_g < 60:
        remarks.append(
            Remark(
                severity="note",
                says=say("heat.little-syrup-runs-past"),
                do=(say("heat.smaller-flame"), say("heat.tilt-pan-keep-probe")),
            )
        )
    return remarks
