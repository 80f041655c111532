"""Finishing."""

from gullpeak.core.kitchen import mixture
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.kitchen.mixture import Mixture
from gullpeak.core.kitchen.own import not_known
from gullpeak.core.physics import bath, lethality
from gullpeak.core.physics.lethality import Label
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.steps import ROWS
from gullpeak.core.sheet import dryness, label, verdict
from gullpeak.core.sheet.batch import Batch, Making
from gullpeak.core.sheet.snap import Keeping
from gullpeak.core.sheet.stations.base import CRAFT, MODEL, Station, figure
from gullpeak.core.sheet.stations.heated import HeatStation
from gullpeak.core.sheet.verdict import Verdict
from gullpeak.core.value import Figure, Remark, Said, Value, perhaps, say, written


class CookStep(Value):
    """A step that the cook may have otherwise: what it is called, and what the table has for it."""

    step: str
    title: Said
    low_min: float
    high_min: float
    set_c: float | None


def _settable(recipe: Recipe) -> tuple[CookStep, ...]:
    found = []
    for row in recipe.way.settable:
        assert not isinstance(row.minutes, str)
        low_min, high_min = row.minutes
        set_c = None if row.set_c is None else float(row.set_c)
        found.append(CookStep(step=row.key, title=row.title[0].said, low_min=low_min, high_min=high_min, set_c=set_c))
    return tuple(found)


class Finish(Station):
    """Cooling, keeping, serving. The label is what is predicted: only measured readings make it heat-treated."""

    keeping: tuple[Keeping, ...]
    label: Label
    because: Said
    cautions: tuple[Said, ...]
    cooks: tuple[CookStep, ...] = ()


def work_out(making: Making, d: dryness.Drying | None, heat: HeatStation | None) -> Finish:
    """Return the station: keeping, label and cautions."""
    recipe, kitchen, _, batch = making
    egg = _verdict(recipe, d, heat)
    dry = perhaps(lambda dried: _snap(recipe, kitchen, dried), d)
    figures, remarks, keeps = dry or ({}, [], ())
    if recipe.base != "white" or d is None:
        more, notes = _served(recipe, batch)
        figures, remarks = {**figures, **more}, [*remarks, *notes]
    return Finish(
        key="finish",
        title=say("station.finish"),
        vital="snap" if d is not None else "holds",
        figures=figures,
        remarks=tuple(remarks),
        keeping=keeps,
        label=egg.label,
        because=egg.because,
        cautions=_cautions(recipe, egg),
        cooks=_settable(recipe),
    )


def _verdict(recipe: Recipe, d: dryness.Drying | None, heat: HeatStation | None) -> Verdict:
    """What is predicted of the egg: in its bowl or pan, in its oven, and by what is added later."""
    bowl = perhaps(lambda h: verdict.in_bowl(h.expected_c, h.treatment), heat)
    return verdict.fold(recipe, bowl, perhaps(lambda dried: verdict.in_oven(dried.coldest_at(dried.heat_end_min)), d))


def _snap(recipe: Recipe, kitchen: Kitchen, d: dryness.Drying) -> tuple[dict[str, Figure], list[Remark], tuple[Keeping, ...]]:
    """Hours of snap of what comes dry out of the oven."""
    keeps = d.keeping
    figures = {
        "snap": figure(
            keeps[0].hours,
            "h",
            "modelled",
            say("finish.snap.rule", snaps_pct=d.snaps_pct) if keeps[0].hours is not None else say("finish.snap.keeps"),
            MODEL,
            ("room", say("finish.snap.rh", room_rh_pct=kitchen.room_rh_pct)),
            ("piece", say("finish.snap.water-core", mean_pct=d.mean_pct[-1], core_pct=d.core_pct[-1])),
            spread=(0.6, 1.6),
            instead=say("finish.keeps"),
        ),
        "cooling": figure(d.end_min - d.heat_end_min, "min", "modelled", say("finish.cooling.rule"), CRAFT),
    }
    remarks: list[Remark] = []
    if kitchen.room_rh_pct > 65:
        remarks.append(
            Remark(
                severity="warning",
                says=say("finish.room-humid-shells-sticky", room_rh_pct=kitchen.room_rh_pct),
                do=(say("finish.tight-tin-while-barely"), say("finish.add-desiccant")),
            )
        )
    if recipe.way.sweetened_by == "honey":
        remarks.append(
            Remark(
                severity="warning",
                says=say("finish.honey-takes-water-air"),
                do=(say("finish.serve-same-day"), say("finish.tight-tin-desiccant")),
            )
        )
    if recipe.texture != "crisp":
        remarks.append(
            Remark(
                severity="note",
                says=say("finish.soft-core-gives-water"),
                do=(say("finish.keep-uncovered-dry-room"),),
            )
        )
    return figures, remarks, keeps


def _served(recipe: Recipe, batch: Batch) -> tuple[dict[str, Figure], list[Remark]]:
    """How long it holds, what it fills, and what goes in while it is warm."""
    has = {a.key for a in recipe.additions if a.ratio != 0}
    hold = recipe.way.hold(has)
    (low, high), why = hold.hours, hold.says or recipe.way.says
    short = high < 1
    unit, scale = ("min", 60) if short else ("h", 1)
    figures = {
        "holds": figure(
            (low + high) / 2 * scale,
            unit,
            "craft rule",
            say("finish.holds.rule", why=why),
            CRAFT,
            low=low * scale,
            high=high * scale,
        ),
        "volume": figure(
            sum(batch.volume_ml) / 2000,
            "l",
            "modelled",
            say("finish.volume.rule"),
            CRAFT,
            ("density", say("amount.g-ml-2f", x=batch.density)),
            low=batch.volume_ml[0] / 1000,
            high=batch.volume_ml[1] / 1000,
        ),
        "portion": figure(
            batch.piece_g,
            "g",
            "measured",
            say("finish.portion.rule"),
            CRAFT,
            ("volume", say("amount.ml-0f", x=batch.piece_g / batch.density)),
        ),
    }
    if recipe.way.makes == "curd":
        figures["set"] = _set(recipe, batch)
    remarks: list[Remark] = []
    if any(label.may_hold_alcohol(line.item) for line in batch.lines):
        figures["alcohol"] = _alcohol(recipe, batch)
    gelatine = next((a for a in recipe.additions if a.key == "gelatine" and a.ratio), None)
    if gelatine is not None:
        gold = (gelatine.ratio or 0.0) * batch.base_g
        leaves = tuple(_leaves(name, bath.gelatine_g(gold, 200, bloom), each) for name, (bloom, each) in bath.BLOOM.items())
        remarks.append(
            Remark(
                severity="note",
                says=say("finish.gold-leaf-gelatine-firm", gold_g=gold, leaves=leaves),
                do=(
                    say(
                        "finish.soak-cold-melt-between",
                        gelatine_in_c_low=bath.GELATINE_IN_C[0],
                        gelatine_in_c_high_c=bath.GELATINE_IN_C[1],
                    ),
                    say("finish.sieve-lumps-gelatine-met"),
                ),
            )
        )
    if recipe.way.whips:
        remarks += _whips(batch)
    if "cream" in has and recipe.way.ribbon_c is not None:
        remarks.append(
            Remark(
                severity="note",
                says=say("finish.whipped-cream-goes-sabayon"),
                do=(say("finish.stir-bowl-over-ice"), say("finish.soft-peaks-two-goes")),
            )
        )
    if "chocolate" in has and recipe.way.ribbon_c is not None:
        (low_c, high_c), (low_s, high_s) = bath.CHOCOLATE_FOLD_C["chocolate"], bath.CHOCOLATE_FOLD_C["sabayon"]
        remarks.append(
            Remark(
                severity="note",
                says=say("finish.fold-when-chocolate-sabayon", low_c=low_c, high_c=high_c, low_s=low_s, high_c2=high_s),
                do=(say("finish.third-first-loosen"),),
            )
        )
    return figures, remarks


def _alcohol(recipe: Recipe, batch: Batch) -> Figure:
    """Alcohol that stays in a portion, by how each of what holds it was heated; the same as the label says."""
    rule, source = (
        say("finish.alcohol-stays-portion-how"),
        say("finish.agricultural-retention-table-rounded"),
    )
    stays, inputs = 0.0, []
    for line in batch.lines:
        item = line.item
        if not label.may_hold_alcohol(item) or line.mass_g == 0:
            continue
        if line.mass_g is None or item.unknown("alcohol"):
            return figure(
                None,
                "",
                "tabulated",
                rule,
                source,
                (written(item.name), say("finish.set.amount-not-known")),
                text=say("finish.alcohol.amount-not-known"),
            )
        share, how = label.alcohol_stays(recipe, line.moment)
        stays += line.mass_g * item.alcohol * share
        inputs.append((written(item.name), say("finish.stays", how=how, share_pct=100 * share)))
    return figure(stays / batch.pieces, "g", "tabulated", rule, source, *inputs, ("in-the-batch", say("amount.g-0f", x=stays)))


LEAST_FAT_TO_WHIP = 0.28
"""Fat in what is whipped, below which cream does not hold air (commonly 30 %, a little less with sugar and cold)."""
SWEET = (
    (0.05, say("finish.barely-sweet")),
    (0.10, say("finish.beside-sweet-meringue")),
    (0.16, "sweet"),
    (9.0, say("finish.very-sweet-beside-meringue")),
)
"""How a cream stands beside meringue, by sugar in it (craft estimate)."""


def _whips(batch: Batch) -> list[Remark]:
    """Whether a cream takes air, and how sweet it stands beside meringue."""
    if any(line.ratio is None or line.item.unknown("fat") or line.item.unknown("sugar") for line in batch.lines):
        return []  # how fat and how sweet it is cannot be said while something in it is not known
    whole = Mixture.of((line.item, line.ratio) for line in batch.lines)
    fat, sweet = whole.share("fat"), whole.share("sugar")
    word = next(word for most, word in SWEET if sweet < most)
    remarks = [Remark(severity="note", says=say("finish.fat-sugar", fat_pct=100 * fat, sweet_pct=100 * sweet, word=word))]
    if fat < LEAST_FAT_TO_WHIP:
        remarks.append(
            Remark(
                severity="warning",
                says=say("finish.fat-holds-little-air", fat_pct=100 * fat, least_fat_to_whip_pct=100 * LEAST_FAT_TO_WHIP),
                do=(say("finish.richer-cream"), say("finish.less-soured-cream-folded")),
            )
        )
    return remarks


SET = ((0.30, "runs"), (0.42, "spoons"), (0.55, "pipes"), (9.0, "slices"))
"""How firm a curd is when cold, by what sets it as a share of the whole (craft estimate)."""


def _set(recipe: Recipe, batch: Batch) -> Figure:
    """How a curd stands when cold: egg, butter and gelatine against everything else in it."""
    rule = say("finish.egg-butter-four-fifths")
    missing = [line.name for line in batch.lines if line.mass_g is None]
    if missing:
        return figure(
            None,
            "",
            "craft rule",
            rule,
            CRAFT,
            *((written(name), say("finish.set.amount-not-known")) for name in missing),
            text=say("finish.set.not-known"),
        )
    ratio = {a.key: a.ratio or 0.0 for a in recipe.additions}
    egg = (1.0 if recipe.base == "yolk" else 0.6) + ratio.get("egg-yolk", 0.0) + 0.6 * ratio.get("whole-egg", 0.0)
    share = (egg + 0.8 * ratio.get("butter", 0.0) + 12 * ratio.get("gelatine", 0.0)) / batch.total_ratio
    return figure(
        None,
        "",
        "craft rule",
        rule,
        CRAFT,
        ("share", say("amount.pct-0f", x=100 * share)),
        text=say(f"finish.set.{next(word for most, word in SET if share < most)}"),
    )


def _leaves(name: str, grams: float, each_g: float) -> Said:
    """So much gelatine of another strength; in leaves where it comes in leaves."""
    leaf = "leaf" in name
    return (
        say("finish.leaves", name=name, mass_g=grams, n=grams / each_g) if leaf else say("finish.powder", name=name, mass_g=grams)
    )


def _cautions(recipe: Recipe, egg: Verdict) -> tuple[Said, ...]:
    named = allergens(recipe)
    cautions = [lethality.CAUTION] if egg.label in lethality.FRAIL else []
    if named:
        cautions.append(say("finish.contains", named=named))
    heats = recipe.way.heats
    if heats == "syrup":
        cautions.append(say("finish.boiling-syrup-sticks-burns"))
    if heats == "bath":
        cautions.append(say("finish.steam-scalds-lift-bowl"))
    if any(a.key == "water" and a.moment != "syrup" for a in recipe.additions):
        cautions.append(say("finish.hot-water-running-whisk"))
    used = [line.item for line in recipe.lines]
    cautions += [say("label.read-its-packet", what=not_known(item)) for item in used if not item.known]
    if any(label.may_hold_alcohol(item) for item in used):
        cautions.append(say("finish.alcohol-stays-never-called"))
    if any(s.key == "honey" for s in recipe.sugars):
        cautions.append(say("finish.honey-infants-under-year"))
    if any(a.key == "gelatine" for a in recipe.additions):
        cautions.append(say("finish.contains-gelatine"))
    if recipe.way.plain:
        cautions += [say(line.key) for step in recipe.way.steps for line in ROWS.rows[step].caution]
    if recipe.programme is None and recipe.base == "white":
        cautions.append(say("finish.torch-nothing-burns-near"))
    return tuple(cautions)


def allergens(recipe: Recipe) -> tuple[str, ...]:
    """Return what has to be named of a recipe, the egg first."""
    return mixture.allergens((recipe.rests_on, *(x.item for x in recipe.goes_in)))
