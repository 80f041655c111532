"""Finishing."""

from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.physics import bath, lethality
from gullpeak.core.physics.lethality import Label
from gullpeak.core.recipe.recipe import HEATED_BY, Recipe
from gullpeak.core.sheet import dryness, label, verdict
from gullpeak.core.sheet.batch import Batch, method_of
from gullpeak.core.sheet.stations.base import CRAFT, MODEL, Station, figure
from gullpeak.core.sheet.stations.heated import HeatStation
from gullpeak.core.sheet.verdict import Verdict
from gullpeak.core.value import Figure, Remark


class Finish(Station):
    """Cooling, keeping, serving. The label is what is foretold: only measured readings make it heat-treated."""

    keeping: tuple[dryness.Keeping, ...]
    label: Label
    because: str
    cautions: tuple[str, ...]


def work_out(recipe: Recipe, kitchen: Kitchen, batch: Batch, d: dryness.Drying | None, heat: HeatStation | None) -> Finish:
    """Return the station: keeping, label and cautions."""
    egg = _verdict(recipe, d, heat)
    dry = _snap(recipe, kitchen, d) if d is not None else None
    figures, remarks, keeps = dry or ({}, [], ())
    if recipe.base != "white" or d is None:
        more, notes = _served(recipe, batch)
        figures, remarks = {**figures, **more}, [*remarks, *notes]
    return Finish(
        key="finish",
        title="Finish",
        vital="snap" if d is not None else "holds",
        figures=figures,
        remarks=tuple(remarks),
        keeping=keeps,
        label=egg.label,
        because=egg.because,
        cautions=_cautions(recipe, egg),
    )


def _verdict(recipe: Recipe, d: dryness.Drying | None, heat: HeatStation | None) -> Verdict:
    """What is predicted of the egg: in its bowl or pan, in its oven, and by what is added later."""
    bowl = None if heat is None else verdict.in_bowl(heat.expected_c, heat.treatment)
    return verdict.fold(recipe, bowl, None if d is None else verdict.in_oven(d.coldest_at(d.heat_end_min)))


def _snap(
    recipe: Recipe, kitchen: Kitchen, d: dryness.Drying
) -> tuple[dict[str, Figure], list[Remark], tuple[dryness.Keeping, ...]]:
    """Hours of snap of what comes dry out of the oven."""
    keeps = d.keeping
    figures = {
        "snap": figure(
            keeps[0].hours,
            "h",
            "modelled",
            f"Water from the room's air into the shell, and from the core, on an open tray once it is cool; snap goes at {d.snaps_pct:.1f} % water."
            if keeps[0].hours is not None
            else "The shell does not take up enough water from this room's air to lose its snap.",
            MODEL,
            ("room", f"{kitchen.room_rh_pct:g} % RH"),
            ("piece", f"{d.mean_pct[-1]:.1f} % water, core {d.core_pct[-1]:.1f} %"),
            low=None if keeps[0].hours is None else 0.6 * keeps[0].hours,
            high=None if keeps[0].hours is None else 1.6 * keeps[0].hours,
            text="keeps" if keeps[0].hours is None else None,
        ),
        "cooling": figure(d.end_min - d.heat_end_min, "min", "modelled", "Left in the oven, switched off.", CRAFT),
    }
    remarks: list[Remark] = []
    if kitchen.room_rh_pct > 65:
        remarks.append(
            Remark(
                severity="warning",
                says=f"The room is humid ({kitchen.room_rh_pct:g} % RH): shells go sticky in hours.",
                do=("into a tight tin while barely warm", "add desiccant"),
            )
        )
    if recipe.school == "honey":
        remarks.append(
            Remark(
                severity="warning",
                says="Honey takes water from the air: its snap goes first.",
                do=("serve the same day", "a tight tin with desiccant"),
            )
        )
    if recipe.texture != "crisp":
        remarks.append(
            Remark(
                severity="note",
                says="A soft core gives its water to the shell from within: fill and serve the same day.",
                do=("keep uncovered in a dry room until then",),
            )
        )
    return figures, remarks, keeps


HOLDS_H: dict[str, tuple[float, float, str]] = {
    "french": (0.1, 0.3, "a raw French foam goes straight into the oven or under the torch"),
    "all-in-one": (0.5, 1.5, "dense and steady, but raw"),
    "swiss": (2.0, 6.0, "warmed foam stands, chilled, for hours"),
    "italian": (6.0, 24.0, "syrup foam stands, chilled, until the next day"),
    "honey": (3.0, 10.0, "honey foam stands, chilled, but slackens"),
    "curd": (48.0, 96.0, "covered and cold"),
}
"""Hours a foam or curd holds before it is used (craft estimates)."""


def _served(recipe: Recipe, batch: Batch) -> tuple[dict[str, Figure], list[Remark]]:
    """How long it holds, what it fills, and what goes in while it is warm."""
    has = {a.ingredient for a in recipe.additions if a.ratio != 0}
    if recipe.school == "sabayon":
        low, high, why = (
            (2.0, 4.0, "chocolate sets it as it cools")
            if "chocolate" in has
            else (12.0, 24.0, "set with gelatine, chilled")
            if "gelatine" in has
            else (4.0, 8.0, "cooled and carried by whipped cream")
            if "cream" in has
            else (bath.WARM_HOLD_MIN[0] / 60, bath.WARM_HOLD_MIN[1] / 60, "warm it stands for minutes, then weeps")
        )
    elif (method := method_of(recipe)) is not None:
        low, high = next((hours for key, hours in method.holds_longer.items() if key in has), method.holds_h)
        why = method.says
    else:
        low, high, why = HOLDS_H[recipe.school]
    short = high < 1
    unit, scale = ("min", 60) if short else ("h", 1)
    figures = {
        "holds": figure(
            (low + high) / 2 * scale,
            unit,
            "craft rule",
            f"Before it is served or used: {why}.",
            CRAFT,
            low=low * scale,
            high=high * scale,
        ),
        "volume": figure(
            sum(batch.volume_ml) / 2000,
            "l",
            "modelled",
            "All of it ÷ its density.",
            CRAFT,
            ("density", f"{batch.density:.2f} g/ml"),
            low=batch.volume_ml[0] / 1000,
            high=batch.volume_ml[1] / 1000,
        ),
        "portion": figure(
            batch.piece_g, "g", "measured", "Mass of one portion.", CRAFT, ("volume", f"{batch.piece_g / batch.density:.0f} ml")
        ),
    }
    if recipe.school == "curd":
        figures["set"] = _set(recipe, batch)
    remarks: list[Remark] = []
    if any(INGREDIENTS[line.key].alcohol for line in batch.lines):
        figures["alcohol"] = _alcohol(recipe, batch)
    gelatine = next((a for a in recipe.additions if a.ingredient == "gelatine" and a.ratio), None)
    if gelatine is not None:
        gold = (gelatine.ratio or 0.0) * batch.base_g
        leaves = "; ".join(
            f"{name}: {bath.gelatine_g(gold, 200, bloom):.1f} g"
            + (f", {bath.gelatine_g(gold, 200, bloom) / each:.1f} leaves" if "leaf" in name else "")
            for name, (bloom, each) in bath.BLOOM.items()
        )
        remarks.append(
            Remark(
                severity="note",
                says=f"{gold:.1f} g of gold-leaf gelatine, as firm as {leaves}.",
                do=(
                    f"soak cold, melt in between {bath.GELATINE_IN_C[0]:g} and {bath.GELATINE_IN_C[1]:g} °C",
                    "sieve: lumps are gelatine that met cold",
                ),
            )
        )
    if recipe.school == "whipped cream":
        remarks += _whips(batch)
    if "cream" in has and recipe.school == "sabayon":
        remarks.append(
            Remark(
                severity="note",
                says="Whipped cream goes into a sabayon at 20 °C or colder: warm, it runs.",
                do=("stir the bowl over ice first", "soft peaks, in two goes"),
            )
        )
    if "chocolate" in has and recipe.school == "sabayon":
        (low_c, high_c), (low_s, high_s) = bath.CHOCOLATE_FOLD_C["chocolate"], bath.CHOCOLATE_FOLD_C["sabayon"]
        remarks.append(
            Remark(
                severity="note",
                says=f"Fold when the chocolate is {low_c:g}–{high_c:g} °C and the sabayon {low_s:g}–{high_s:g} °C: colder seizes in flecks, hotter lets the foam down.",
                do=("a third first, to loosen it",),
            )
        )
    return figures, remarks


def _alcohol(recipe: Recipe, batch: Batch) -> Figure:
    """Alcohol that stays in a portion, by how each of what holds it was heated; the same as the label says."""
    rule, source = (
        "Alcohol that stays in a portion, by how it was heated; unheated, all of it.",
        "US agricultural retention table, rounded",
    )
    stays, inputs = 0.0, []
    for line in batch.lines:
        item = INGREDIENTS[line.key]
        if not item.alcohol or line.mass_g == 0:
            continue
        if line.mass_g is None:
            return figure(
                None, "", "tabulated", rule, source, (item.name, "amount not known"), text="contains it, amount not known"
            )
        share, how = label.alcohol_stays(recipe, line.moment)
        stays += line.mass_g * item.alcohol * share
        inputs.append((item.name, f"{how}: {100 * share:.0f} % stays"))
    return figure(stays / batch.pieces, "g", "tabulated", rule, source, *inputs, ("in the batch", f"{stays:.0f} g"))


LEAST_FAT_TO_WHIP = 0.28
"""Fat in what is whipped, below which cream does not hold air (commonly 30 %, a little less with sugar and cold)."""
SWEET = ((0.05, "barely sweet"), (0.10, "for beside a sweet meringue"), (0.16, "sweet"), (9.0, "very sweet beside meringue"))
"""How a cream stands beside meringue, by sugar in it (craft estimate)."""


def _whips(batch: Batch) -> list[Remark]:
    """Whether a cream takes air, and how sweet it stands beside meringue."""
    if any(line.ratio is None for line in batch.lines):
        return []  # how fat and how sweet it is cannot be said while something in it is not known
    fat = sum(INGREDIENTS[line.key].fat * (line.ratio or 0.0) for line in batch.lines) / batch.total_ratio
    sweet = sum(INGREDIENTS[line.key].sugar * (line.ratio or 0.0) for line in batch.lines) / batch.total_ratio
    word = next(word for most, word in SWEET if sweet < most)
    remarks = [Remark(severity="note", says=f"{100 * fat:.0f} % fat, {100 * sweet:.0f} % sugar: {word}.")]
    if fat < LEAST_FAT_TO_WHIP:
        remarks.append(
            Remark(
                severity="warning",
                says=f"{100 * fat:.0f} % fat holds little air: under {100 * LEAST_FAT_TO_WHIP:.0f} % a cream stays thin.",
                do=("a richer cream", "less soured cream, folded in once the rest stands"),
            )
        )
    return remarks


SET = ((0.30, "runs"), (0.42, "spoons"), (0.55, "pipes"), (9.0, "slices"))
"""How firm a curd is when cold, by what sets it as a share of the whole (craft estimate)."""


def _set(recipe: Recipe, batch: Batch) -> Figure:
    """How a curd stands when cold: egg, butter and gelatine against everything else in it."""
    rule = "Egg, butter (four fifths) and gelatine (twelve times) as a share of all: under 30 % runs, to 42 spoons, to 55 pipes, above slices."
    missing = [line.name for line in batch.lines if line.mass_g is None]
    if missing:
        return figure(None, "", "craft rule", rule, CRAFT, *((name, "amount not known") for name in missing), text="not known")
    ratio = {a.ingredient: a.ratio or 0.0 for a in recipe.additions}
    egg = (1.0 if recipe.base == "yolk" else 0.6) + ratio.get("egg-yolk", 0.0) + 0.6 * ratio.get("whole-egg", 0.0)
    share = (egg + 0.8 * ratio.get("butter", 0.0) + 12 * ratio.get("gelatine", 0.0)) / batch.total_ratio
    return figure(
        None,
        "",
        "craft rule",
        rule,
        CRAFT,
        ("share", f"{100 * share:.0f} %"),
        text=next(word for most, word in SET if share < most),
    )


def _cautions(recipe: Recipe, egg: Verdict) -> tuple[str, ...]:
    named = allergens(recipe)
    cautions = [lethality.CAUTION] if egg.label in lethality.FRAIL else []
    if named:
        cautions.append(f"Contains {', '.join(named)}.")
    heats = HEATED_BY[recipe.school]
    if heats == "syrup":
        cautions.append(
            "Boiling syrup sticks and burns to the bone: sleeves down, no children near, cold water at hand, pour down the wall."
        )
    if heats == "bath":
        cautions.append("Steam scalds: lift the bowl away from you, dry cloth on the rim.")
    if any(a.ingredient == "water" and a.moment != "syrup" for a in recipe.additions):
        cautions.append("Hot water and a running whisk: pour down the wall, not on the wires.")
    if any(INGREDIENTS[a.ingredient].alcohol for a in recipe.additions):
        cautions.append("Alcohol stays in it: never called alcohol-free. Keep wine and spirit away from the flame.")
    if any(s.kind == "honey" for s in recipe.sugars):
        cautions.append("Honey is not for infants under one year.")
    if any(a.ingredient == "gelatine" for a in recipe.additions):
        cautions.append("Contains gelatine.")
    method = method_of(recipe)
    cautions += [w.caution for w in method.work if w.caution] if method is not None else []
    if recipe.programme is None and recipe.base == "white":
        cautions.append("A torch: nothing that burns near, flame away from you.")
    return tuple(cautions)


def allergens(recipe: Recipe) -> tuple[str, ...]:
    """Return what has to be named of a recipe, the egg first."""
    keys = [recipe.rests_on.key, *(s.kind for s in recipe.sugars), *(a.ingredient for a in recipe.additions)]
    found = {word for key in keys for word in INGREDIENTS[key].allergens}
    return tuple(sorted(found, key=lambda word: (word != "egg", word)))
