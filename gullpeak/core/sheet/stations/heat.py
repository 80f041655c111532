"""Heating: the pan of syrup that has to meet its whites, or the egg over its bath."""

from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.physics import sugar, syrup
from gullpeak.core.recipe.recipe import HEATED_BY, Heat, Recipe
from gullpeak.core.sheet.batch import Batch, Equipment
from gullpeak.core.sheet.stations import over_bath
from gullpeak.core.sheet.stations.base import CRAFT, MODEL, figure
from gullpeak.core.sheet.stations.heated import HeatStation, Start, SyrupHeat, mixture, reach
from gullpeak.core.value import Figure, Remark

HOB_SPREAD = 0.2
"""A ring's power by its setting, either way: until a log or a probe tells."""
STARTS: dict[str, tuple[str, float | None]] = {
    "meet": ("worked out, so that they meet", None),
    "at 100": ("at 100 °C", 100.0),
    "at 112": ("at 110–115 °C", 112.0),
    "together": ("together with the pan", 0.0),
}
"""Schools of starting the whites: what is said, and the reading at which they start (None: worked out)."""


def work_out(recipe: Recipe, kitchen: Kitchen, tools: Equipment, batch: Batch) -> HeatStation | None:
    """Return the station, or None where the school heats nothing."""
    if recipe.heat is None:
        return None
    if HEATED_BY[recipe.school] == "syrup":
        return _syrup(recipe, recipe.heat, kitchen, tools, batch)
    return over_bath.work_out(recipe, recipe.heat, kitchen, tools, batch)


def _syrup(recipe: Recipe, heat: Heat, kitchen: Kitchen, tools: Equipment, batch: Batch) -> HeatStation:
    contents, whisking = batch.pan, batch.whisking
    assert contents is not None
    assert whisking is not None
    room, altitude = kitchen.room_c, kitchen.altitude_m
    pan_j_k = tools.pan.capacity_j_k()
    done = syrup.cook(contents, tools.hob.power_w, heat.target_c, pan_j_k, syrup.PAN_LOSS_W_K, room, room, altitude)
    peak = next(s for s in whisking.stages if s.name == heat.peak)
    band = (60 * peak.low_min, 60 * peak.high_min)
    starts = tuple(
        _start(key, says, syrup.meet(done, band, HOB_SPREAD, None if at is None else max(at, room)))
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
    risk, other = syrup.crystallising(
        contents, any(a.moment == "syrup" and INGREDIENTS[a.ingredient].role == "acid" for a in recipe.additions)
    )
    could, treatment = reach(poured.highest_c, f"in a {tools.mixer.bowl_g:.0f} g {tools.mixer.bowl_material} bowl")
    early = chosen.meeting.early_s
    figures: dict[str, Figure] = {
        "target": figure(
            done.reads_c,
            "°C",
            "tabulated",
            f"{heat.target_c:g} °C at sea level, {done.stage}. Here the air is thinner by altitude: the same syrup boils where its "
            "water activity × vapour pressure meets the air pressure.",
            "Boiling curve, McGee (2004); ICAO; Antoine",
            ("altitude", f"{altitude:g} m"),
            ("strength", f"{done.brix_pct:.1f} % sugar"),
        ),
        "time": figure(
            done.done_s / 60,
            "min",
            "modelled",
            "Heat balance along the boiling curve. The weakest witness: it rests on what the ring really gives and does not scale with the batch.",
            MODEL,
            ("ring", f"{tools.hob.name}, {tools.hob.power_w:g} W into the pan"),
            ("pan", f"{tools.pan.name}, {tools.pan.mass_g:g} g"),
            ("in the pan", f"{contents.solids_g:.0f} g sugar, {contents.water_g:.0f} g water"),
            low=done.done_s / 60 / (1 + HOB_SPREAD),
            high=done.done_s / 60 / (1 - HOB_SPREAD),
        ),
        "lost": figure(
            done.lost_g,
            "g",
            "modelled",
            "Water boiled off at the target: what the scale must lose. Works with no thermometer.",
            MODEL,
            ("water in", f"{contents.water_g:.0f} g"),
            ("water left", f"{done.water_left_g:.1f} g"),
        ),
        "pan-at": figure(
            at_target,
            "g",
            "modelled",
            "Pan and syrup on the scale when the target is there.",
            MODEL,
            ("pan and all, cold", f"{on_scale:.0f} g"),
            ("pan empty", f"{tools.pan.mass_g:g} g"),
        ),
        "start-at": figure(
            chosen.meeting.start_reads_c,
            "°C",
            "modelled",
            f"Whites start {chosen.says}: they take {peak.low_min:.1f}–{peak.high_min:.1f} min to {peak.name}, the pan is ready at "
            f"{done.done_s / 60:.1f} min.",
            MODEL,
            ("from the pan going on", f"{chosen.meeting.start_s / 60:.1f} min"),
            ("mixer", tools.mixer.name),
        ),
        "apart": figure(
            max(abs(early[0]), abs(early[1])) / 60,
            "min",
            "modelled",
            "How far apart they may end: the whites' band and the ring's after the whites have started. Readings narrow it.",
            MODEL,
            ("syrup first by at most", f"{max(0.0, -early[0]) / 60:.1f} min"),
            ("whites first by at most", f"{max(0.0, early[1]) / 60:.1f} min"),
        ),
        "mixed": figure(
            poured.highest_c,
            "°C",
            "modelled",
            "Heat balance over syrup, white and the real bowl, less what is lost in a pour of 50 s.",
            MODEL,
            ("syrup", f"{done.syrup_g - batch.wall_g:.0f} g at {done.reads_c:.0f} °C"),
            ("white", f"{batch.base_g:.0f} g at {recipe.egg.temp_c:g} °C"),
            ("bowl", f"{tools.mixer.bowl_g:g} g {tools.mixer.bowl_material}"),
            low=poured.highest_low_c,
            high=poured.mixed_c,
        ),
        "hand-warm": figure(
            None if poured.hand_warm_s is None else poured.hand_warm_s / 60,
            "min",
            "modelled",
            "Newton cooling under the whisk until the wall of the bowl is at hand warmth (33 °C).",
            MODEL,
            ("room", f"{room:g} °C"),
            low=None if poured.hand_warm_s is None else 0.75 * poured.hand_warm_s / 60,
            high=None if poured.hand_warm_s is None else 1.3 * poured.hand_warm_s / 60,
            text="already" if poured.hand_warm_s is None else None,
        ),
        "wall": figure(
            batch.wall_g,
            "g",
            "craft rule",
            "Syrup that stays on pan and bowl wall; taken off sugar and foam.",
            CRAFT,
            ("of the syrup", f"{heat.wall_pct:g} %"),
        ),
        "risk": figure(
            None,
            "",
            "craft rule",
            "Glucose, invert sugar or honey, acid and a clean wall keep crystals from starting.",
            CRAFT,
            ("other sugars", f"{100 * other:.0f} %"),
            text=risk,
        ),
    }
    return HeatStation(
        key="heat",
        title="Heat",
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


def _start(key: str, says: str, meeting: syrup.Meeting) -> Start:
    low, high = (e / 60 for e in meeting.early_s)
    if low > 1:
        verdict = f"whites stand {low:.1f}–{high:.1f} min before the syrup"
    elif high < -0.2:
        verdict = f"syrup is there {-high:.1f}–{-low:.1f} min before the whites"
    else:
        verdict = f"meet, within {max(abs(low), abs(high)):.1f} min"
    return Start(key=key, says=says, meeting=meeting, verdict=verdict)


def _syrup_remarks(
    recipe: Recipe,
    tools: Equipment,
    batch: Batch,
    contents: syrup.Contents,
    risk: str,
    chosen: Start,
    could: bool,
    treatment: str,
) -> list[Remark]:
    remarks = [
        Remark(
            severity="note",
            says=f"Egg {treatment}.",
            do=()
            if could
            else ("a lighter or warmed bowl, or a larger batch, gets hotter", "pasteurised white for guests it can harm"),
        )
    ]
    volume = (contents.solids_g / 1.59 + contents.water_g) / 1000
    rises = 4.0 if any(s.kind == "honey" for s in recipe.sugars) else 2.0
    if volume * rises > tools.pan.volume_l:
        remarks.append(
            Remark(
                severity="danger",
                says=f"{volume:.2f} l of syrup foams to {volume * rises:.1f} l: it boils over a {tools.pan.volume_l:g} l pan.",
                do=("take a larger pan", "boil it in two pans"),
            )
        )
    if any(s.kind == "honey" for s in recipe.sugars):
        remarks.append(
            Remark(
                severity="note",
                says=f"Honey starts at 82 % sugar and boils at {float(syrup.boils_c(contents, contents.water_g)):.0f} °C: the last degrees take seconds, and it foams four times as high.",
                do=("a high pan, a small flame", "the scale is blunt here: few grams leave; trust probe and drop"),
            )
        )
    if risk == "high":
        remarks.append(
            Remark(
                severity="warning",
                says="Nothing in the pan keeps the sugar from graining.",
                do=(
                    "replace a tenth of it with glucose syrup or honey",
                    "wash the wall down with a wet brush; do not stir once it boils",
                ),
            )
        )
    if chosen.meeting.early_s[0] > 60 or chosen.meeting.early_s[1] < -12:
        remarks.append(
            Remark(
                severity="warning",
                says=f"Started so, {chosen.verdict}.",
                do=(
                    "whites first: lowest speed, never stop; a spoon of the sugar steadies them",
                    "syrup first: off the ring, a spoon of water, back on when the whites stand",
                ),
            )
        )
    if batch.base_g < 60:
        remarks.append(
            Remark(
                severity="note",
                says="So little syrup runs past its target in seconds.",
                do=("a smaller flame from 105 °C on", "tilt the pan to keep the probe in"),
            )
        )
    return remarks
