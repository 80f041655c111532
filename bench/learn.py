"""Fits on simulated histories: true values hidden, noise, two bad records, and physics that is not the fitted model's.

The foam dries by another law (its diffusivity rises with a third more activation energy), the thermostat cycles, scales and
cooks are as they are. Run: python -m bench.learn; it writes docs/science.md.
"""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from math import exp, log
from typing import NamedTuple

import numpy as np

from bench import put
from gullpeak.core.bench.process import steps
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.log import learn
from gullpeak.core.log import observe as observing
from gullpeak.core.log.learn import Fit, Seen
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.sheet.stations import dry
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.devices.worlds import Hidden, world

KITCHENS = 60
BATCHES = 8
BAD = 2
WEIGHED = ("landing-pavlova", "squall-pavlovas", "slack-tide-slab", "sea-wall-nests")
"""Of these the loss still rises when they come out, so that it tells how fast they dried."""
ASKED = "landing-pavlova"
AT = datetime(2026, 1, 1, tzinfo=UTC)
EXTRA_J_MOL = 10000.0
"""Of the other diffusivity law, over the fitted one's 30 kJ/mol."""
CYCLE_K = 6.0
PLAIN = KITCHEN.model_copy(
    update={
        "ovens": tuple(o.model_copy(update={"true_offset_c": 0.0, "drying_scale": 1.0}) for o in KITCHEN.ovens[:1]),
    }
)


class Truth(NamedTuple):
    """One kitchen as it truly is."""

    offset: float
    scale: float
    up: float
    power: float
    tau: float
    mixer: float
    hands: float
    egg_g: float
    room: float


def drawn(r: np.random.Generator) -> Truth:
    def spread(of: float) -> float:
        return float(np.exp(of * r.normal()))

    return Truth(
        offset=float(np.clip(9 * r.normal(), -18, 18)),
        scale=float(np.clip(spread(0.3), 0.55, 1.8)),
        up=7 * spread(0.2),
        power=spread(0.2),
        tau=spread(0.15),
        mixer=spread(0.2),
        hands=spread(0.25),
        egg_g=float(r.uniform(30, 41)),
        room=float(r.uniform(17, 27)),
    )


def in_oven(recipe: Recipe) -> Recipe:
    return recipe.model_copy(update={"oven": None})


def run(recipe: Recipe, kitchen: Kitchen, offset: float, scale: float, heat_min: float | None = None):
    """The drying of a batch in an oven as it truly is; heat_min: how long the open step is held."""
    if heat_min is not None and recipe.programme is not None:
        stay = [s for s in recipe.programme.steps if s.kind != "off"]
        fixed = sum(s.minutes or 0.0 for s in stay)
        done = tuple(
            s.model_copy(update={"minutes": max(1.0, round(heat_min - fixed))}) if s.kind == "heat" and s.minutes is None else s
            for s in recipe.programme.steps
        )
        recipe = recipe.model_copy(update={"programme": recipe.programme.model_copy(update={"steps": done})})
    oven = kitchen.ovens[0].model_copy(update={"true_offset_c": offset, "drying_scale": float(np.clip(scale, 0.3, 3.0))})
    tools = batching.equipment(recipe, kitchen).model_copy(update={"oven": oven})
    return dry.run(batching.Making(recipe, kitchen, tools, batching.size(recipe, kitchen)))


def other_law(scale: float, set_c: float) -> float:
    """The scale at an oven's heat, by a law that rises more steeply with it."""
    return scale * exp(-EXTRA_J_MOL / 8.314 * (1 / (set_c + 273.15) - 1 / 368.15))


def set_c(recipe: Recipe) -> float:
    assert recipe.programme is not None
    return next(s.set_c for s in reversed(recipe.programme.steps) if s.set_c is not None)


def history(truth: Truth, r: np.random.Generator, sheets: dict[str, Sheet]) -> list[Seen]:
    """What eight batches say, two of them badly recorded."""
    seen = []
    bad = set(r.choice(BATCHES, BAD, replace=False).tolist())
    for i in range(BATCHES):
        key = WEIGHED[i % len(WEIGHED)]
        recipe, sheet = in_oven(RECIPES[key]), sheets[key]
        assert sheet.dry is not None
        drying = sheet.dry.drying
        phase = r.uniform(0, 2 * np.pi, 2)
        read = np.median(truth.offset + CYCLE_K * np.sin(phase) + 1.5 * r.normal(size=2))
        at = AT + timedelta(days=i)

        def say(what: str, value: float, i: int = i, at: datetime = at) -> None:
            seen.append(Seen(what=what, value=value, batch_id=f"b{i}", at=at))

        spoilt = i in bad
        say("ovens/slate/true_offset_c", float(read) + (35 if spoilt else 0))
        true = other_law(truth.scale, set_c(recipe) + truth.offset)
        heat = drying.heat_end_min * float(np.exp(0.05 * r.normal()))
        got = run(recipe, PLAIN, truth.offset, true, heat)
        share = got.loss_pct[-1] / drying.loss_pct[-1] * float(1 + 0.02 * r.normal()) * (0.7 if spoilt else 1.0)
        oven = PLAIN.ovens[0].model_copy(update={"true_offset_c": float(read)})
        told = observing.drying_scale(sheet, PLAIN, oven, share, heat)
        if told is not None:
            say("ovens/slate/drying_scale", told)
        say("ovens/slate/heat_c_per_min", truth.up * float(np.exp(0.08 * r.normal())) * (3 if spoilt else 1))
        say("mixers/stand/pace", truth.mixer * float(np.exp(0.13 * r.normal())) * (2.5 if spoilt else 1))
        say("paces/shape", truth.hands * float(np.exp(0.18 * r.normal())) * (2.5 if spoilt else 1))
        say("habits/egg_g", truth.egg_g * float(np.exp(0.03 * r.normal())) * (1.6 if spoilt else 1))
        say("room_c", truth.room + 1.3 * float(r.normal()) + (12 if spoilt else 0))
    return seen


def heated(truth: Truth, r: np.random.Generator, seed: int) -> list[Seen]:
    """What eight syrups and eight bowls over the bath say, by probes with their own lag and noise."""
    seen = []
    for key, what in (("fogsignal-topping", "hobs/front/power_w"), ("watchkeepers-sabayon", "bath_pace")):
        sheet = work_out(RECIPES[key], PLAIN)
        process = steps(sheet)
        watch = process.watches[0]
        for i in range(BATCHES):
            hidden = _hidden(1000 * seed + i, truth)
            of = world(watch, hidden)
            until = float(watch.target_c)
            times = np.arange(0.0, 1500.0, 6.0)
            temps = np.array([of(t - hidden.lag_s) for t in times])
            stop = int(np.argmax(temps >= until)) or len(times) - 1
            course = [
                (AT + timedelta(seconds=float(t)), float(c + hidden.noise * r.normal()), "°C")
                for t, c in zip(times[:stop], temps[:stop], strict=True)
            ]
            if i < BAD:  # the probe lay against the pan's wall
                course = [(at, c * 1.25, u) for at, c, u in course]
            said = observing.observe(sheet, process, PLAIN, [], {watch.key: course})
            seen += [
                Seen(what=o.what, value=o.value, batch_id=f"h{i}", at=AT + timedelta(days=i)) for o in said if o.what == what
            ]
    return seen


def _hidden(seed: int, truth: Truth) -> Hidden:
    one = Hidden.drawn(seed)
    return replace(one, power=truth.power * one.power**0.15, tau=truth.tau * one.tau**0.3)


def wanted(truth: Truth, what: str) -> float:
    """What a fit ought to find. Of drying: the model's scale that would have these pieces lose what they truly lose."""
    if what == "ovens/slate/drying_scale":
        return exp(np.mean([log(other_law(truth.scale, set_c(RECIPES[k]) + truth.offset)) for k in WEIGHED]))
    return {
        "ovens/slate/true_offset_c": truth.offset,
        "ovens/slate/heat_c_per_min": truth.up,
        "mixers/stand/pace": truth.mixer,
        "paces/shape": truth.hands,
        "habits/egg_g": truth.egg_g,
        "room_c": truth.room,
        "hobs/front/power_w": truth.power * PLAIN.hobs[0].power_w,
        "bath_pace": 1 / truth.tau,
    }[what]


NAMES = {
    "ovens/slate/true_offset_c": "oven, true heat",
    "ovens/slate/drying_scale": "oven, drying",
    "ovens/slate/heat_c_per_min": "oven, heating up",
    "hobs/front/power_w": "ring’s power",
    "bath_pace": "bath",
    "mixers/stand/pace": "mixer’s whisking time",
    "paces/shape": "a step of hands",
    "habits/egg_g": "white of an egg",
    "room_c": "room",
}


def main() -> None:
    found: dict[str, list[tuple[float, Fit]]] = {}
    before, after = [], []
    sheets = {k: work_out(in_oven(RECIPES[k]), PLAIN) for k in WEIGHED}
    for n in range(KITCHENS):
        r = np.random.default_rng([6001, n])
        truth = drawn(r)
        seen = history(truth, r, sheets)
        if n < KITCHENS // 2:
            seen += heated(truth, r, n)
        kitchen = PLAIN
        for fit in learn.fits(seen, PLAIN):
            found.setdefault(fit.what, []).append((wanted(truth, fit.what), fit))
            if fit.what in ("ovens/slate/true_offset_c", "ovens/slate/drying_scale") and fit.worth:
                kitchen = learn.accept(kitchen, fit, AT)
        recipe = in_oven(RECIPES[ASKED])
        true = run(recipe, PLAIN, truth.offset, other_law(truth.scale, set_c(recipe) + truth.offset)).heat_end_min
        told = [run(recipe, k, k.ovens[0].true_offset_c, k.ovens[0].drying_scale).heat_end_min for k in (PLAIN, kitchen)]
        before.append(abs(log(told[0] / true)))
        after.append(abs(log(told[1] / true)))
    rows = ["| figure | kitchens | 80 % interval holds the truth | median error before | after |", "|---|---|---|---|---|"]
    inside = []
    for what, name in NAMES.items():
        each = found.get(what, [])
        ratio = learn.QUANTITIES[what.rsplit("/", 1)[-1] if not what.startswith("paces/") else "factor"].ratio
        held = [f.low <= t <= f.high for t, f in each]
        inside += held

        def off(value: float, t: float, ratio: bool = ratio) -> float:
            return 100 * (exp(abs(log(value / t))) - 1) if ratio else abs(value - t)

        unit = "%" if ratio else "K"
        errors = [np.median([off(v, t) for t, v in ((t, f.now if k == 0 else f.value) for t, f in each)]) for k in (0, 1)]
        rows.append(f"| {name} | {len(each)} | {100 * np.mean(held):.0f} % | {errors[0]:.1f} {unit} | {errors[1]:.1f} {unit} |")
    rows.append(f"| all of them |  | {100 * np.mean(inside):.0f} % |  |  |")
    rows += [
        "",
        f"The drying time told for the next {RECIPES[ASKED].name.lower()} was off by {100 * (exp(np.median(before)) - 1):.0f} % at the median "
        f"before, {100 * (exp(np.median(after)) - 1):.0f} % after eight weighed batches ({KITCHENS} kitchens; nine in ten within "
        f"{100 * (exp(np.quantile(before, 0.9)) - 1):.0f} % and {100 * (exp(np.quantile(after, 0.9)) - 1):.0f} %).",
    ]
    put("learn", "\n".join(rows))


if __name__ == "__main__":
    main()
