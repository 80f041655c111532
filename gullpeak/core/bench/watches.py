"""What of a sheet is followed: its pan, its bath, its bowl after the pour, what cools to be kept, and its oven."""

from collections.abc import Sequence
from math import log

from gullpeak.core.bench.watch import NewtonWatch, SyrupWatch, Watch
from gullpeak.core.kitchen.kitchen import Probe
from gullpeak.core.physics import bath, syrup
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.sheet.stations.heated import BathHeat, HeatStation, SyrupHeat
from gullpeak.core.value import say

POUR_OFF_K = 3.0
"""So much hotter than its heat balance says a bowl may be after the pour (craft rule)."""


def watches(sheet: Sheet, heat: HeatStation, probes: Sequence[Probe]) -> tuple[Watch, ...]:
    """Return the watches of a heated batch: on pan or bath, on the bowl after the pour, and on what is cooled to be kept.

    probes: the kitchen's thermometers; of the first is the lag by which a course is predicted.
    """
    common = {"lag_s": probes[0].lag_s if probes else 4.0, "probes": tuple(probes), "altitude_m": heat.altitude_m}
    if heat.syrup is not None:
        return (_pan(sheet, heat.syrup, common), _bowl(heat, heat.syrup, common))
    assert heat.bath is not None
    first = _over_bath(sheet, heat, heat.bath, common)
    return (first, _chill(heat, common)) if is_kept(sheet.recipe) else (first,)


def is_kept(recipe: Recipe) -> bool:
    """Whether it is cooled to be kept: a curd, or a sabayon that cream or gelatine carries."""
    return recipe.way.makes == "curd" or (recipe.base != "white" and recipe.has("cream", "gelatine"))


def _pan(sheet: Sheet, pan: SyrupHeat, common: dict[str, object]) -> Watch:
    assert sheet.recipe.heat is not None
    chosen = next(s for s in pan.starts if s.key == pan.chosen)
    return Watch.model_validate(
        {
            **common,
            "key": "syrup",
            "kind": "syrup",
            "title": "Syrup",
            "start_c": pan.room_c,
            "room_c": pan.room_c,
            "target_c": pan.cook.reads_c,
            "over_c": pan.cook.reads_c + 2.0,
            "over_says": say("watch.past-target"),
            "syrup": SyrupWatch(
                contents=pan.contents,
                power_w=pan.power_w,
                pan_j_k=pan.pan_j_k,
                pan_g=pan.pan_g,
                altitude_m=pan.altitude_m,
                target_sea_c=pan.cook.target_c,
                on_scale_g=pan.on_scale_g,
                target_scale_g=pan.target_scale_g,
                drop=pan.cook.drop,
                stage=pan.cook.stage,
                whites_s=chosen.meeting.whites_s,
                start_reads_c=chosen.meeting.start_reads_c,
                start=sheet.recipe.heat.start_whites,
            ),
        }
    )


def _bowl(heat: HeatStation, pan: SyrupHeat, common: dict[str, object]) -> Watch:
    poured = pan.poured
    tau = syrup.COOLING_S
    if poured.hand_warm_s is not None:
        fall = (poured.highest_c - pan.room_c) / (syrup.HAND_WARM_C - pan.room_c)
        tau = (poured.hand_warm_s - sum(syrup.POUR_S) / 2) / max(log(max(fall, 1.0001)), 0.05)
    return Watch.model_validate(
        {
            **common,
            "key": "bowl",
            "kind": "whisk",
            "title": say("watch.foam-under-whisk"),
            "start_c": poured.highest_c,
            "room_c": pan.room_c,
            "target_c": syrup.HAND_WARM_C,
            "rising": False,
            "most_c": 120,
            "newton": NewtonWatch(towards_c=pan.room_c, towards_sd_k=1.5, tau_s=max(tau, 60.0), start_sd_k=6.0),
            "mixture": heat.mixture.model_copy(update={"at_most_c": poured.highest_c + POUR_OFF_K}),
        }
    )


OVER: dict[bath.Source, tuple[str, float]] = {"bath": ("watch.over-bath", 4.0), "direct": ("watch.low-flame", 25.0)}
"""What it is called to watch a bowl over each, and how well is known what it warms towards, K."""


def _over_bath(sheet: Sheet, heat: HeatStation, over: BathHeat, common: dict[str, object]) -> Watch:
    title, off_k = OVER[over.source]
    return Watch.model_validate(
        {
            **common,
            "key": "bath",
            "kind": "bath",
            "title": say(title),
            "start_c": sheet.recipe.egg.temp_c,
            "room_c": sheet.recipe.egg.temp_c,
            "target_c": over.warming.target_c,
            "over_c": over.window.sets_c - 1.0,
            "over_says": say("watch.egg-clots") if sheet.recipe.base == "white" else say("watch.scrambles"),
            "over_do": (say("watch.off-heat-cold-bowl"), say("watch.whisk-hard-blend-sieve")),
            "thickens_c": over.window.thickens_c,
            "most_c": 120,
            "newton": NewtonWatch(towards_c=over.warming.towards_c, towards_sd_k=off_k, tau_s=over.warming.tau_s),
            "mixture": heat.mixture,
        }
    )


def _chill(heat: HeatStation, common: dict[str, object]) -> Watch:
    return Watch.model_validate(
        {
            **common,
            "key": "chill",
            "kind": "chill",
            "title": "Cooling",
            "start_c": heat.expected_c,
            "room_c": 4.0,
            "target_c": 5.0,
            "rising": False,
            "most_c": 120,
            "newton": NewtonWatch(towards_c=3.0, towards_sd_k=2.0, tau_s=2400.0, tau_sd=0.8, start_sd_k=15.0),
        }
    )


def oven_watch(set_c: float) -> Watch:
    """Return the watch of an oven set to `set_c`: only too hot calls."""
    return Watch(
        key="oven",
        kind="oven",
        title=say("watch.oven.title"),
        start_c=20,
        room_c=20,
        target_c=set_c,
        over_c=set_c + 25,
        over_says=say("watch.oven.over-says"),
        over_do=(say("watch.oven.over-do"), say("watch.oven.over-do-2")),
        most_c=320,
    )
