"""Weighing."""

from gullpeak.core.kitchen import egg
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet.batch import Batch, Weighed
from gullpeak.core.sheet.stations.base import GEOMETRY, USDA, Station, figure
from gullpeak.core.value import Basis, Remark


class Weigh(Station):
    """What goes on the scale."""

    lines: tuple[batching.Line, ...]
    eggs: egg.EggCount | None
    egg_kind: egg.EggKind


def work_out(recipe: Recipe, kitchen: Kitchen, batch: Batch, weighed: Weighed | None) -> Weigh:
    """Return the station: what goes on the scale, and what the eggs leave."""
    basis: Basis = "measured" if weighed else "modelled"
    fixed = {
        "pieces": "pieces wanted",
        "base": f"{batch.base} at hand",
        "eggs": "eggs at hand",
        "sugar": "sugar at hand",
        "bowl": "the bowl",
        "trays": "trays wanted",
    }[recipe.scale.by]
    rule = (
        "The egg as weighed replaces the counted one; everything follows from it."
        if weighed
        else f"Worked back from {fixed}: {batch.base} × all that stays of the ratios × (1 − loss) = pieces × the mass of one."
    )
    figures = {
        "base": figure(
            batch.base_g,
            "g",
            basis,
            rule,
            USDA,
            ("pieces", str(batch.pieces)),
            ("a piece", f"{batch.piece_g:.1f} g"),
            ("all ratios", f"{batch.total_ratio:.2f}"),
            ("left on bowl and bag", f"{recipe.loss_pct:g} %"),
            low=None if weighed else batch.base_g * 0.93,
            high=None if weighed else batch.base_g * 1.07,
        ),
        "ratio": figure(
            batch.sugar_ratio,
            "×",
            "measured",
            f"All dry sugar ÷ {batch.base}, by mass.",
            GEOMETRY,
            ("sugar", f"{batch.sugar_ratio * batch.base_g:.0f} g"),
            (batch.base, f"{batch.base_g:.0f} g"),
        ),
    }
    for line in batch.lines[1:]:
        key = f"g-{line.key}-{line.moment.replace(' ', '-')}"
        figures[key] = figure(
            line.mass_g,
            "g",
            "measured",
            f"Ratio × {batch.base}."
            if line.mass_g is not None
            else "Not known, so not scaled: weigh it once and write the grams.",
            GEOMETRY,
            ("ratio", "not known" if line.ratio is None else f"{line.ratio:.4g}"),
            (batch.base, f"{batch.base_g:.0f} g"),
        )
    remarks: list[Remark] = []
    if batch.eggs is not None:
        eggs = batch.eggs
        risk = egg.separation(eggs.count, kitchen.yolk_break_pct)
        figures["eggs"] = figure(
            eggs.count,
            "eggs",
            "tabulated",
            f"{batch.base.capitalize()} ÷ {eggs.each_g:.1f} g an egg ({batch.egg_size}, of white 2 % stays in the shell), rounded up.",
            USDA,
            (batch.base, f"{batch.base_g:.0f} g"),
            ("over", f"{eggs.over_g:.0f} g"),
        )
        leaves = f" and {eggs.count} {eggs.frees}s" if eggs.frees else ""
        if eggs.frees is not None:
            figures["freed"] = figure(
                eggs.freed_g,
                "g",
                "tabulated",
                f"{eggs.frees.capitalize()}s freed: one an egg.",
                USDA,
                (f"{eggs.frees}s", str(eggs.count)),
            )
        figures["over"] = figure(
            eggs.over_g,
            "g",
            "tabulated",
            f"Whole eggs bring this much more {batch.base} than is needed.",
            USDA,
            ("eggs", str(eggs.count)),
        )
        if batch.base_g and eggs.over_g > 0.5:
            more = int(eggs.over_g * batch.total_ratio * (1 - recipe.loss_pct / 100) / batch.piece_g)
            use = f"enough for {more} more" if more else "keep it covered for the next batch"
            remarks.append(
                Remark(
                    severity="note",
                    says=f"{eggs.count} eggs leave {eggs.over_g:.0f} g of {batch.base} over{leaves}.",
                    do=(use,),
                )
            )
        if eggs.count >= 2 and eggs.frees is not None:
            remarks.append(
                Remark(
                    severity="note",
                    says=f"Into one bowl, {100 * risk.lose_all_in_bowl:.0f} in 100 batches of {eggs.count} meet a broken yolk; over a cup it costs {risk.expected_lost_cups:.1f} eggs.",
                    do=("separate over a cup, one at a time",),
                )
            )
    if recipe.egg.kind == "dried" and batch.base == "white":
        powder, water = egg.dried_g(batch.base_g)
        figures["powder"] = figure(
            powder, "g", "tabulated", "Dried white: 1 part to 7 of water.", USDA, (batch.base, f"{batch.base_g:.0f} g")
        )
        figures["powder-water"] = figure(
            water, "g", "tabulated", "Dried white: 1 part to 7 of water.", USDA, (batch.base, f"{batch.base_g:.0f} g")
        )
    if (
        recipe.egg.kind == "carton"
        and batch.base == "white"
        and not any(INGREDIENTS[a.ingredient].role == "acid" for a in recipe.additions)
    ):
        remarks.append(
            Remark(
                severity="warning",
                says="Carton white without acid rises slowly and falls easily.",
                do=("add 0.5–0.8 g cream of tartar per 100 g white",),
            )
        )
    missing = [line.name for line in batch.lines if line.mass_g is None]
    if missing:
        remarks.append(
            Remark(
                severity="warning",
                says=f"{', '.join(missing)}: not known, so not scaled.",
                do=("weigh it once and write the grams",),
            )
        )
    for line in batch.lines:
        usual = INGREDIENTS[line.key].usual
        if usual and batch.base == "white" and line.ratio is not None and line.ratio * 100 > 2 * usual[1]:
            remarks.append(
                Remark(
                    severity="warning",
                    says=f"{line.name}: {line.ratio * 100:.1f} g per 100 g white is over twice the usual {usual[0]:g}–{usual[1]:g} g.",
                    do=("check the amount",),
                )
            )
    if batch.starch_of_sugar > 0.045 and batch.base == "white":
        remarks.append(
            Remark(
                severity="warning",
                says=f"Starch is {100 * batch.starch_of_sugar:.1f} % of the sugar; about 3 % is usual.",
                do=("less starch, or the crumb turns chalky",),
            )
        )
    return Weigh(
        key="weigh",
        title="Weigh",
        vital="base",
        figures=figures,
        remarks=tuple(remarks),
        lines=batch.lines,
        eggs=batch.eggs,
        egg_kind=recipe.egg.kind,
    )
