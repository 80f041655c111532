"""Weighing."""

from gullpeak.core.kitchen import egg
from gullpeak.core.kitchen.kitchen import Hob, Kitchen, Mixer, Oven, Pan, Tray
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet import balance
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet.balance import Balance
from gullpeak.core.sheet.batch import Batch, Equipment, Making, Weighed
from gullpeak.core.sheet.stations.base import GEOMETRY, USDA, Station, figure
from gullpeak.core.value import Basis, Figure, Remark, Severity, as_said, say, written

MEANT, MEANT_SUGAR = 6.0, 4.0
"""Times what a foam or an egg cream rests on: no recipe of the craft has more of a thing, and it is asked whether that is meant."""

COUNTED = frozenset({"water", "sugar", "starch", "fat"})
"""What of an ingredient the figures of the stations count with."""


class Weigh(Station):
    """What goes on the scale."""

    lines: tuple[batching.Line, ...]
    eggs: egg.EggCount | None
    egg_kind: egg.EggKind
    balance: Balance | None = None
    """What is short or left over of what was typed"""


def work_out(making: Making, weighed: Weighed | None, asked: Recipe) -> Weigh:
    """Return the station: what goes on the scale, and what the eggs leave. asked: the recipe as it was typed."""
    recipe, kitchen, tools, batch = making
    basis: Basis
    spread: tuple[float, float] | None
    basis, rule, spread = "modelled", say(f"weigh.size.{recipe.scale.by}", base=batch.base), (0.93, 1.07)
    if weighed:
        basis, rule, spread = "measured", say("weigh.egg-weighed-replaces-counted"), None
    figures = {
        "base": figure(
            batch.base_g,
            "g",
            basis,
            rule,
            USDA,
            ("pieces", str(batch.pieces)),
            ("a-piece", say("amount.g-1f", x=batch.piece_g)),
            ("all-ratios", say("amount.number-2f", x=batch.total_ratio)),
            ("left-on-bowl-and-bag", say("amount.pct", x=recipe.loss_pct)),
            spread=spread,
        ),
        "ratio": figure(
            batch.sugar_ratio,
            "×",
            "measured",
            say("weigh.ratio.rule", base=batch.base),
            GEOMETRY,
            ("sugar", say("amount.g-0f", x=batch.sugar_ratio * batch.base_g)),
            (written(batch.base), say("amount.g-0f", x=batch.base_g)),
        ),
    }
    for line in batch.lines[1:]:
        key = f"g-{line.key}-{line.moment.replace(' ', '-')}"
        rule, ratio = say("weigh.line.not-known"), as_said("not known")
        if line.mass_g is not None and line.ratio is not None:
            rule, ratio = say("weigh.line.rule", base=batch.base), say("amount.number-4g", x=line.ratio)
        figures[key] = figure(
            line.mass_g,
            "g",
            "measured",
            rule,
            GEOMETRY,
            ("ratio", ratio),
            (written(batch.base), say("amount.g-0f", x=batch.base_g)),
        )
    found = None if weighed else balance.of(asked, kitchen, batch)
    return Weigh(
        key="weigh",
        title=say("station.weigh"),
        vital="base",
        figures=figures | _egg_figures(recipe, batch),
        remarks=(*_balanced(found), *_gone(recipe, tools), *_egg_remarks(recipe, kitchen, batch), *_remarks(recipe, batch)),
        lines=batch.lines,
        eggs=batch.eggs,
        egg_kind=recipe.egg.kind,
        balance=found,
    )


def _balanced(found: Balance | None) -> tuple[Remark, ...]:
    if found is None:
        return ()
    severity: Severity = "warning" if found.left_g < 0 else "note"
    return (Remark(severity=severity, says=found.says, do=tuple(way.says for way in found.ways)),)


def _gone(recipe: Recipe, tools: Equipment) -> tuple[Remark, ...]:
    """What the recipe names of a kitchen and this one has not, or no more: it is worked out with another, and that is said."""
    heat = recipe.heat
    wanted: list[tuple[str, str | None, Oven | Mixer | Tray | Hob | Pan]] = [
        ("oven", recipe.oven if recipe.programme else None, tools.oven),
        ("mixer", recipe.mixer, tools.mixer),
    ]
    wanted += [("tray", recipe.tray if recipe.shape else None, tools.tray)]
    wanted += [] if heat is None else [("hob", heat.hob, tools.hob), ("pan", heat.pan, tools.pan)]
    gone = tuple(say(f"weigh.gone.{what}", name=there.name) for what, key, there in wanted if key not in (None, there.key))
    if not gone:
        return ()
    return (Remark(severity="note", says=say("weigh.not-in-this-kitchen", gone=gone), do=(say("weigh.choose-what-is-here"),)),)


def _egg_figures(recipe: Recipe, batch: Batch) -> dict[str, Figure]:
    """Eggs counted and what they leave; of dried white, its powder and its water."""
    figures: dict[str, Figure] = {}
    eggs = batch.eggs
    if eggs is not None:
        figures["eggs"] = figure(
            eggs.count,
            "eggs",
            "tabulated",
            say("weigh.eggs.rule", base=batch.base, each_g=eggs.each_g, egg_size=batch.egg_size),
            USDA,
            (written(batch.base), say("amount.g-0f", x=batch.base_g)),
            ("over", say("amount.g-0f", x=eggs.over_g)),
        )
        if eggs.frees is not None:
            figures["freed"] = figure(
                eggs.freed_g,
                "g",
                "tabulated",
                say("weigh.freed.rule", frees=eggs.frees),
                USDA,
                (say("given.other-side", frees=eggs.frees), str(eggs.count)),
            )
        figures["over"] = figure(
            eggs.over_g,
            "g",
            "tabulated",
            say("weigh.over.rule", base=batch.base),
            USDA,
            ("eggs", str(eggs.count)),
        )
    if recipe.egg.kind == "dried" and batch.base == "white":
        powder, water = egg.dried_g(batch.base_g)
        figures["powder"] = figure(
            powder, "g", "tabulated", say("weigh.powder.rule"), USDA, (written(batch.base), say("amount.g-0f", x=batch.base_g))
        )
        figures["powder-water"] = figure(
            water, "g", "tabulated", say("weigh.powder.rule"), USDA, (written(batch.base), say("amount.g-0f", x=batch.base_g))
        )
    return figures


def _egg_remarks(recipe: Recipe, kitchen: Kitchen, batch: Batch) -> list[Remark]:
    remarks: list[Remark] = []
    eggs = batch.eggs
    if eggs is None:
        return remarks
    risk = egg.separation(eggs.count, kitchen.yolk_break_pct)
    leaves = say("weigh.and", eggs_count=eggs.count, frees=eggs.frees) if eggs.frees else ""
    if batch.base_g and eggs.over_g > 0.5:
        more = int(eggs.over_g * batch.total_ratio * (1 - recipe.loss_pct / 100) / batch.piece_g)
        use = say("weigh.enough", more=more) if more else say("weigh.keep-covered-next-batch")
        remarks.append(
            Remark(
                severity="note",
                says=say("weigh.eggs-leave-over", eggs_count=eggs.count, over_g=eggs.over_g, base=batch.base, leaves=leaves),
                do=(use,),
            )
        )
    if eggs.count >= 2 and eggs.frees is not None:
        remarks.append(
            Remark(
                severity="note",
                says=say(
                    "weigh.bowl-batches-meet-broken",
                    lose_all_in_bowl=100 * risk.lose_all_in_bowl,
                    eggs_count=eggs.count,
                    expected_lost_cups=risk.expected_lost_cups,
                ),
                do=(say("weigh.separate-over-cup-time"),),
            )
        )
    return remarks


def _remarks(recipe: Recipe, batch: Batch) -> list[Remark]:
    remarks: list[Remark] = []
    if recipe.egg.kind == "carton" and batch.base == "white" and not any(a.item.role == "acid" for a in recipe.additions):
        remarks.append(
            Remark(
                severity="warning",
                says=say("weigh.carton-white-without-acid"),
                do=(say("weigh.add-cream-tartar-per"),),
            )
        )
    missing = [line.name for line in batch.lines if line.mass_g is None]
    if missing:
        remarks.append(
            Remark(
                severity="warning",
                says=say("weigh.known-scaled", missing=tuple(missing)),
                do=(say("weigh.weigh-once-write-grams"),),
            )
        )
    for line, typed in ((line, recipe.lines[line.at]) for line in batch.lines):
        if typed.or_g is not None and typed.mass_g is not None:
            remarks.append(
                Remark(
                    severity="warning",
                    says=say("weigh.two-amounts", name=line.name, mass_g=typed.mass_g, or_g=typed.or_g),
                    do=(say("weigh.choose-amount"),),
                )
            )
        if line.ratio is not None and line.ratio > (MEANT_SUGAR if line.role == "sugar" else MEANT) and not recipe.way.plain:
            remarks.append(
                Remark(
                    severity="warning",
                    says=say("weigh.is-that-meant", name=line.name, ratio=line.ratio, base=batch.base),
                    do=(say("weigh.check-amount"),),
                )
            )
        usual = line.item.usual
        if usual and batch.base == "white" and line.ratio is not None and line.ratio * 100 > 2 * usual[1]:
            remarks.append(
                Remark(
                    severity="warning",
                    says=say(
                        "weigh.per-white-over-twice",
                        line_name=line.name,
                        ratio_g=line.ratio * 100,
                        usual_low=usual[0],
                        usual_high_g=usual[1],
                    ),
                    do=(say("weigh.check-amount"),),
                )
            )
    undescribed = tuple(dict.fromkeys(line.item.name for line in batch.lines if COUNTED.intersection(line.item.lacks)))
    if undescribed:
        remarks.append(
            Remark(severity="note", says=say("weigh.undescribed", names=undescribed), do=(say("weigh.read-the-label"),))
        )
    if batch.starch_of_sugar > 0.045 and batch.base == "white":
        remarks.append(
            Remark(
                severity="warning",
                says=say("weigh.starch-sugar-about-usual", starch_of_sugar_pct=100 * batch.starch_of_sugar),
                do=(say("weigh.less-starch-crumb-turns"),),
            )
        )
    return remarks
