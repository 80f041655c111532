"""The sheet: a recipe in a kitchen, worked out station by station, every figure with its working."""

from functools import lru_cache
from math import ceil
from typing import Literal

from gullpeak.core import batch as batching
from gullpeak.core import dryness, egg, foam, oven, shapes, sugar
from gullpeak.core.batch import Batch, Equipment, Weighed
from gullpeak.core.ingredients import INGREDIENTS
from gullpeak.core.kitchen import Kitchen, Oven
from gullpeak.core.recipe import Moment, Programme, Recipe, Shape, Texture
from gullpeak.core.value import Basis, Figure, Remark, Value

StationKey = Literal["weigh", "sugar", "whisk", "shape", "dry", "finish"]
Label = Literal["raw", "lightly heated", "baked, not validated", "heat-treated"]

_USDA = "USDA FoodData Central; EU and US egg marketing weights"
_CRAFT = "Bench practice, docs/science.md"
_MODEL = "Heat and moisture model, docs/science.md"
_GEOMETRY = "Geometry"
_PER_MINUTE_SPOON_G = 13.0
MILK_EGG_CAUTION = "Raw or lightly dried egg: for young, old, pregnant or immune-compromised guests use pasteurised white. Follow your local food code."


def figure(
    value: float | None,
    unit: str,
    basis: Basis,
    rule: str,
    source: str,
    *went_in: tuple[str, str],
    low: float | None = None,
    high: float | None = None,
    text: str | None = None,
) -> Figure:
    """Return a figure, rounded to six digits so that the same reckoning gives the same bytes."""

    def tidy(x: float | None) -> float | None:
        return None if x is None else float(f"{x:.6g}")

    return Figure(
        value=tidy(value),
        unit=unit,
        basis=basis,
        rule=rule,
        source=source,
        inputs=went_in,
        low=tidy(low),
        high=tidy(high),
        text=text,
    )


class Station(Value):
    """One station of the line: its figures by key, the vital one, and what the cook should know."""

    key: StationKey
    title: str
    vital: str
    figures: dict[str, Figure]
    remarks: tuple[Remark, ...] = ()


class Weigh(Station):
    """What goes on the scale."""

    lines: tuple[batching.Line, ...]
    eggs: egg.EggCount | None
    white_kind: egg.WhiteKind


class SugarStation(Station):
    """Whether the sugar dissolves. curve: the limit (g sugar per g white) over temperature, °C."""

    dissolving: sugar.Dissolving
    temp_c: float
    curve: tuple[tuple[float, float], ...]


class Pour(Value):
    """Something that goes into the bowl: when (minutes of whisking) and how fast."""

    name: str
    mass_g: float | None
    moment: Moment
    from_min: float
    until_min: float
    how: str


class Whisk(Station):
    """The foam in its bowl."""

    whisking: foam.Whisking
    pours: tuple[Pour, ...]
    bowl_l: float
    safe_l: float
    foam_l: tuple[float, float]
    whites_l: float


class ShapeStation(Station):
    """The pieces on their trays."""

    layout: shapes.TrayLayout
    trays: tuple[int, ...]
    loads: int
    section: tuple[shapes.SectionPart, ...]


class Bar(Value):
    """A stretch of the oven programme, to draw."""

    says: str
    from_min: float
    until_min: float
    kind: Literal["heat", "turn", "off"]


class Dry(Station):
    """The oven."""

    drying: dryness.Drying
    bars: tuple[Bar, ...]
    section: tuple[shapes.SectionPart, ...]


class Finish(Station):
    """Cooling, keeping, serving."""

    keeping: tuple[dryness.Keeping, ...]
    label: Label
    because: str
    cautions: tuple[str, ...]


class Sheet(Value):
    """A recipe worked out in a kitchen: the stations of its line, left to right."""

    name: str
    says: str
    recipe: Recipe
    oven: str
    mixer: str
    tray: str
    white_g: float
    pieces: int
    weigh: Weigh
    sugar: SugarStation
    whisk: Whisk
    shape: ShapeStation
    dry: Dry
    finish: Finish

    def stations(self) -> tuple[Station, ...]:
        """Return the stations in the order of work."""
        return (self.weigh, self.sugar, self.whisk, self.shape, self.dry, self.finish)


def work_out(recipe: Recipe, kitchen: Kitchen, weighed: Weighed | None = None) -> Sheet:
    """Work a recipe out in a kitchen, stage by stage.

    weighed: whites on the scale that replace the counted ones.
    Raises UnknownAmountError naming the amount that is missing; OutOfRangeError where nothing can be made.

    >>> from gullpeak.core.kitchen import Kitchen, Mixer, Oven, Tray
    >>> from gullpeak.core.recipe import OvenStep, Programme, Recipe, Scale, Shape, SugarPart
    >>> kitchen = Kitchen(name="Quay", ovens=(Oven(key="o", name="Oven"),), mixers=(Mixer(key="m", name="Mixer"),),
    ...                   trays=(Tray(key="t", name="Tray"),))
    >>> kisses = Recipe(name="Kisses", sugars=(SugarPart(kind="caster", ratio=1.8),), shape=Shape(kind="kiss", diameter_mm=30, height_mm=25),
    ...                 programme=Programme(steps=(OvenStep(kind="heat", set_c=90),)), scale=Scale(by="pieces", amount=40))
    >>> work_out(kisses, kitchen).pieces
    40
    """
    tools = batching.equipment(recipe, kitchen)
    batch = batching.size(recipe, kitchen, weighed)
    load_kg = batch.foam_g / 1000 / batch.loads
    drying = _dry_cached(
        recipe.shape,
        recipe.texture,
        recipe.programme,
        tools.oven,
        kitchen,
        round(batch.density, 6),
        round(batch.water_fraction, 6),
        round(20 * load_kg) / 20,
    )
    dry = _dry(recipe, kitchen, tools, batch, drying)
    return Sheet(
        name=recipe.name,
        recipe=recipe,
        says=f"{batch.pieces} {NAMES[recipe.shape.kind][batch.pieces != 1]}, {_dimensions(recipe.shape)}, {recipe.texture}",
        oven=tools.oven.name,
        mixer=tools.mixer.name,
        tray=tools.tray.name,
        white_g=batch.white_g,
        pieces=batch.pieces,
        weigh=_weigh(recipe, kitchen, batch, weighed),
        sugar=_sugar(recipe, kitchen, tools, batch),
        whisk=_whisk(recipe, tools, batch),
        shape=_shape(recipe, kitchen, tools, batch),
        dry=dry,
        finish=_finish(recipe, kitchen, drying),
    )


NAMES = {
    "kiss": ("kiss", "kisses"),
    "disc": ("disc", "discs"),
    "nest": ("nest", "nests"),
    "bowl": ("pavlova", "pavlovas"),
    "slab": ("slab", "slabs"),
}


def _dimensions(shape: Shape) -> str:
    if shape.kind == "slab":
        return f"{shape.length_mm / 10:g} × {shape.width_mm / 10:g} cm"
    return f"{shape.diameter_mm / 10:g} cm"


@lru_cache(maxsize=256)
def _dry_cached(
    shape: Shape,
    texture: Texture,
    programme: Programme,
    cooker: Oven,
    kitchen: Kitchen,
    density: float,
    water: float,
    load_kg: float,
) -> dryness.Drying:
    """The drying run is the dear part of a sheet; edits that do not reach the oven get it back as it was."""
    return dryness.work_out(shape, texture, programme, cooker, kitchen, density, water, load_kg)


def _weigh(recipe: Recipe, kitchen: Kitchen, batch: Batch, weighed: Weighed | None) -> Weigh:
    basis: Basis = "measured" if weighed else "modelled"
    fixed = {
        "pieces": "pieces wanted",
        "whites": "whites at hand",
        "eggs": "eggs at hand",
        "sugar": "sugar at hand",
        "bowl": "the bowl",
        "trays": "trays wanted",
    }[recipe.scale.by]
    rule = (
        "Weighed whites replace counted ones; everything follows from them."
        if weighed
        else f"Worked back from {fixed}: white × all ratios × (1 − loss) = pieces × volume × foam density."
    )
    figures = {
        "white": figure(
            batch.white_g,
            "g",
            basis,
            rule,
            _USDA,
            ("pieces", str(batch.pieces)),
            ("a piece", f"{batch.piece_g:.1f} g"),
            ("all ratios", f"{batch.total_ratio:.2f}"),
            ("left on bowl and bag", f"{recipe.loss_pct:g} %"),
            low=None if weighed else batch.white_g * 0.93,
            high=None if weighed else batch.white_g * 1.07,
        ),
        "ratio": figure(
            batch.sugar_ratio,
            "×",
            "measured",
            "All sugar ÷ white, by mass.",
            _GEOMETRY,
            ("sugar", f"{batch.sugar_ratio * batch.white_g:.0f} g"),
            ("white", f"{batch.white_g:.0f} g"),
        ),
    }
    for line in batch.lines[1:]:
        key = f"g-{line.key}-{line.moment.replace(' ', '-')}"
        figures[key] = figure(
            line.mass_g,
            "g",
            "measured",
            "Ratio × white." if line.mass_g is not None else "Not known, so not scaled: weigh it once and write the grams.",
            _GEOMETRY,
            ("ratio", "not known" if line.ratio is None else f"{line.ratio:.4g}"),
            ("white", f"{batch.white_g:.0f} g"),
        )
    remarks: list[Remark] = []
    if batch.eggs is not None:
        eggs = batch.eggs
        risk = egg.separation(eggs.count, kitchen.yolk_break_pct)
        figures["eggs"] = figure(
            eggs.count,
            "eggs",
            "tabulated",
            f"White ÷ {eggs.each_g:.1f} g an egg ({batch.egg_size}, 2 % stays in the shell), rounded up.",
            _USDA,
            ("white", f"{batch.white_g:.0f} g"),
            ("over", f"{eggs.over_g:.0f} g"),
        )
        figures["yolks"] = figure(eggs.yolk_g, "g", "tabulated", "Yolks freed: one an egg.", _USDA, ("yolks", str(eggs.count)))
        figures["over"] = figure(
            eggs.over_g,
            "g",
            "tabulated",
            "Whole eggs bring this much more white than is needed.",
            _USDA,
            ("eggs", str(eggs.count)),
        )
        if batch.white_g and eggs.over_g > 0.5:
            more = int(eggs.over_g * batch.total_ratio * (1 - recipe.loss_pct / 100) / batch.piece_g)
            use = f"enough for {more} more" if more else "freeze it, or brush and sugar fruit with it"
            remarks.append(
                Remark(
                    severity="note",
                    says=f"{eggs.count} eggs leave {eggs.over_g:.0f} g of white over and {eggs.count} yolks.",
                    do=(use,),
                )
            )
        if eggs.count >= 2:
            remarks.append(
                Remark(
                    severity="note",
                    says=f"Into one bowl, {100 * risk.lose_all_in_bowl:.0f} in 100 batches of {eggs.count} meet a broken yolk; over a cup it costs {risk.expected_lost_cups:.1f} eggs.",
                    do=("separate over a cup, one at a time",),
                )
            )
    if recipe.whites.kind == "dried":
        powder, water = egg.dried_g(batch.white_g)
        figures["powder"] = figure(
            powder, "g", "tabulated", "Dried white: 1 part to 7 of water.", _USDA, ("white", f"{batch.white_g:.0f} g")
        )
        figures["powder-water"] = figure(
            water, "g", "tabulated", "Dried white: 1 part to 7 of water.", _USDA, ("white", f"{batch.white_g:.0f} g")
        )
    if recipe.whites.kind == "carton" and not any(INGREDIENTS[a.ingredient].role == "acid" for a in recipe.additions):
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
        if usual and line.ratio is not None and line.ratio * 100 > 2 * usual[1]:
            remarks.append(
                Remark(
                    severity="warning",
                    says=f"{line.name}: {line.ratio * 100:.1f} g per 100 g white is over twice the usual {usual[0]:g}–{usual[1]:g} g.",
                    do=("check the amount",),
                )
            )
    if batch.starch_of_sugar > 0.045:
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
        vital="white",
        figures=figures,
        remarks=tuple(remarks),
        lines=batch.lines,
        eggs=batch.eggs,
        white_kind=recipe.whites.kind,
    )


def _mix_temp_c(recipe: Recipe, kitchen: Kitchen, batch: Batch) -> float:
    """Temperature of white, sugar and any hot water together: heat balance, then half-way to the room while it whisks."""
    hot = sum(a.ratio or 0.0 for a in recipe.additions if a.ingredient == "water")
    heat = 3.75 + 1.25 * batch.sugar_ratio + 4.19 * hot
    mixed = (3.75 * recipe.whites.temp_c + 1.25 * batch.sugar_ratio * kitchen.room_c + 4.19 * hot * 90) / heat
    return min(max((mixed + kitchen.room_c) / 2 if hot == 0 else mixed * 0.8 + kitchen.room_c * 0.2, 0.0), 90.0)


def _sugar(recipe: Recipe, kitchen: Kitchen, tools: Equipment, batch: Batch) -> SugarStation:
    temp = _mix_temp_c(recipe, kitchen, batch)
    water = batch.added_water_ratio
    grains = tuple(sugar.Grains(grain_um=sugar.GRAIN_UM[s.kind], ratio=s.ratio or 0.0) for s in recipe.sugars if s.ratio)
    rain = sum(batch.whisking.rain_min) / 2
    pace = 1 / foam.MIXER_TIME[tools.mixer.kind]
    done = _dissolve_cached(grains, round(temp, 2), round(water, 6), round(rain, 2), pace)
    figures = {
        "ratio": figure(done.ratio, "×", "measured", "All sugar ÷ white.", _GEOMETRY, ("white", f"{batch.white_g:.0f} g")),
        "limit": figure(
            done.limit,
            "×",
            "tabulated",
            "Water in the bowl × S/(100 − S): the most that dissolves at this temperature.",
            "Vavrinecz, in Bubník et al. (1995)",
            ("mixture", f"{temp:.0f} °C"),
            ("solubility S", f"{float(sugar.solubility_pct(temp)):.1f} g/100 g"),
            ("water", f"{0.876 + water:.3f} g per g white"),
            low=done.limit * 0.98,
            high=done.limit * 1.02,
        ),
        "smooth": figure(
            done.smooth_min,
            "min",
            "modelled",
            "Shrinking grains (Noyes–Whitney): the nearer the limit, the slower the last ones. Counted from the last spoonful until no grain over 30 µm is left.",
            _MODEL,
            ("grains", ", ".join(f"{g.grain_um:g} µm" for g in grains)),
            ("mixer", tools.mixer.name),
            low=None if done.smooth_min is None else done.smooth_min * 0.7,
            high=None if done.smooth_min is None else done.smooth_min * 1.4,
        ),
        "undissolved": figure(
            done.undissolved_ratio * batch.white_g,
            "g",
            "modelled",
            "What is beyond the limit stays as grains, however long it is whisked.",
            _MODEL,
            ("white", f"{batch.white_g:.0f} g"),
        ),
    }
    remarks: list[Remark] = []
    if done.verdict != "dissolves":
        worse = done.verdict == "cannot"
        says = (
            f"{done.undissolved_ratio * batch.white_g:.0f} g of sugar cannot dissolve at {temp:.0f} °C: it will weep or bead."
            if worse
            else "On the edge: the last grains take several times as long, and a cool bowl leaves some."
        )
        remarks.append(Remark(severity="warning", says=says, do=_ways_out(recipe, batch, done, temp, water)))
    foaming = batch.whisking.stages[-1].high_min - batch.whisking.rain_from_min[1] - batch.whisking.rain_min[1]
    if done.smooth_min is not None and done.smooth_min > max(foaming, 1) + batch.whisking.window_min[1]:
        remarks.append(
            Remark(
                severity="warning",
                says=f"Smooth only {done.smooth_min:.0f} min after the last spoonful: the foam stands before the grit is gone.",
                do=("use a finer sugar", "start the sugar earlier", "rub a little between finger and thumb before piping"),
            )
        )
    temps = [4, 10, 15, 20, 25, 30, 40, 50, 60]
    return SugarStation(
        key="sugar",
        title="Sugar",
        vital="ratio",
        figures=figures,
        remarks=tuple(remarks),
        dissolving=done,
        temp_c=temp,
        curve=tuple((float(t), round(float(sugar.max_dissolved_ratio(t, water)), 3)) for t in temps),
    )


@lru_cache(maxsize=256)
def _dissolve_cached(grains: tuple[sugar.Grains, ...], temp: float, water: float, rain: float, pace: float) -> sugar.Dissolving:
    return sugar.dissolve(grains, temp, water, rain, pace)


def _ways_out(recipe: Recipe, batch: Batch, done: sugar.Dissolving, temp: float, water: float) -> tuple[str, ...]:
    """What would bring the sugar comfortably under its limit, each worked out on its own."""
    easy = sugar.EDGE
    ways = [f"less sugar: {easy * done.limit:.2f} × dissolves, {easy * done.limit * batch.white_g:.0f} g in all"]
    per_water = float(sugar.solubility_pct(temp) / (100 - sugar.solubility_pct(temp)))
    more = done.ratio / (easy * per_water) - sugar.WATER_IN_WHITE - water
    ways.append(f"{more * batch.white_g:.0f} g more water (longer to dry)")
    warm = next((t for t in range(int(temp) + 1, 61) if easy * float(sugar.max_dissolved_ratio(t, water)) >= done.ratio), None)
    if warm is not None:
        ways.append(f"warm whites and sugar to {warm} °C")
    if not any(s.moment == "folded last" for s in recipe.sugars):
        ways.append(
            f"fold {max(0.0, done.ratio - easy * done.limit) * batch.white_g:.0f} g of it in last as icing sugar: not dissolved, but too fine to feel"
        )
    return tuple(ways)


def _whisk(recipe: Recipe, tools: Equipment, batch: Batch) -> Whisk:
    w, bowl = batch.whisking, tools.mixer.bowl_l
    stiff = w.stages[-1]
    low_l, high_l = batch.volume_ml[0] / 1000, batch.volume_ml[1] / 1000
    safe = foam.SAFE_FILL * bowl
    whites_l = batch.white_g / egg.WHITE_DENSITY / 1000
    figures = {
        "time": figure(
            (stiff.low_min + stiff.high_min) / 2,
            "min",
            "craft rule",
            f"Stage times of a stand mixer × mixer, temperature and moment of the sugar. {w.says}.",
            _CRAFT,
            ("mixer", f"{tools.mixer.name} × {foam.MIXER_TIME[tools.mixer.kind]:g}"),
            ("white", f"{recipe.whites.kind}, {recipe.whites.temp_c:g} °C"),
            low=stiff.low_min,
            high=stiff.high_min,
        ),
        "volume": figure(
            (low_l + high_l) / 2,
            "l",
            "modelled",
            "All that is whisked ÷ density of the stiff foam.",
            _CRAFT,
            ("mass", f"{batch.white_g * batch.total_ratio:.0f} g"),
            ("density", f"{w.density[0]:.2f}–{w.density[1]:.2f} g/ml"),
            low=low_l,
            high=high_l,
        ),
        "fill": figure(
            100 * high_l / bowl,
            "%",
            "modelled",
            "Highest volume ÷ bowl; over 80 % it climbs out.",
            _CRAFT,
            ("bowl", f"{bowl:g} l"),
        ),
        "density": figure(
            batch.density,
            "g/ml",
            "craft rule",
            "By school and sugar ratio; weigh a level cup of foam to know yours.",
            _CRAFT,
            ("ratio", f"{batch.sugar_ratio:.2f}"),
            low=w.density[0],
            high=w.density[1],
        ),
        "window": figure(
            sum(w.window_min) / 2,
            "min",
            "craft rule",
            "From stiff to over-whisked: wide with sugar and acid in, short without.",
            _CRAFT,
            low=w.window_min[0],
            high=w.window_min[1],
        ),
    }
    remarks: list[Remark] = []
    if high_l > safe:
        most = batch.white_g * safe / high_l
        remarks.append(
            Remark(
                severity="warning",
                says=f"{high_l:.1f} l of foam overflows a {bowl:g} l bowl (safe to {safe:.1f} l).",
                do=(f"whisk in {ceil(high_l / safe)} batches", f"at most {most:.0f} g of white at once", "take a larger bowl"),
            )
        )
    if whites_l / bowl * 100 < tools.mixer.min_fill_pct:
        remarks.append(
            Remark(
                severity="warning",
                says=f"{whites_l * 1000:.0f} ml of white is too little for the whisk to reach in a {bowl:g} l bowl.",
                do=(
                    "take a smaller bowl or the hand-held mixer",
                    f"from {tools.mixer.min_fill_pct / 100 * bowl * 1000:.0f} ml on it catches",
                ),
            )
        )
    if tools.mixer.bowl_material == "plastic":
        remarks.append(
            Remark(
                severity="warning",
                says="A plastic bowl holds fat, and a trace halves the foam.",
                do=("use steel or glass", "wipe with vinegar and dry"),
            )
        )
    if batch.fat_share > 0.0002:
        remarks.append(
            Remark(
                severity="warning",
                says="There is fat in what is whisked: the foam loses volume.",
                do=("fold anything with fat in last",),
            )
        )
    return Whisk(
        key="whisk",
        title="Whisk",
        vital="time",
        figures=figures,
        remarks=tuple(remarks),
        whisking=w,
        pours=_pours(recipe, batch),
        bowl_l=bowl,
        safe_l=safe,
        foam_l=(low_l, high_l),
        whites_l=whites_l,
    )


def _pours(recipe: Recipe, batch: Batch) -> tuple[Pour, ...]:
    """When each thing goes into the bowl, in order."""
    w = batch.whisking
    by_stage = {s.name: (s.low_min + s.high_min) / 2 for s in w.stages}
    rain_from, rain = sum(w.rain_from_min) / 2, sum(w.rain_min) / 2
    at: dict[Moment, float] = {
        "start": 0.0,
        "froth": by_stage["frothy"],
        "before soft": 0.75 * by_stage["soft peak"],
        "soft": by_stage["soft peak"],
        "stiff": by_stage["firm peak"],
        "folded last": by_stage["stiff glossy peak"],
    }
    pours = []
    for line in batch.lines[1:]:
        begins = at[line.moment]
        until, how = begins, "all at once"
        if line.role == "sugar" and line.moment not in ("start", "folded last") and recipe.school == "french":
            begins = rain_from if line.moment != "stiff" else begins
            until = begins + rain
            spoon_s = 60 * rain * _PER_MINUTE_SPOON_G / max(batch.whisked_ratio * batch.white_g, _PER_MINUTE_SPOON_G)
            how = (
                f"a spoonful (13 g) every {spoon_s:.0f} s"
                if spoon_s >= 3
                else f"in a thin rain, {batch.whisked_ratio * batch.white_g / rain:.0f} g a minute"
            )
        elif line.moment == "folded last":
            how = "sifted, folded in by hand" if line.role in ("sugar", "starch") else "folded in by hand"
        pours.append(
            Pour(
                name=line.name,
                mass_g=line.mass_g,
                moment=line.moment,
                from_min=round(begins, 2),
                until_min=round(until, 2),
                how=how,
            )
        )
    return tuple(sorted(pours, key=lambda p: p.from_min))


def _shape(recipe: Recipe, kitchen: Kitchen, tools: Equipment, batch: Batch) -> ShapeStation:
    trays, slots = len(batch.trays), tools.oven.tray_slots
    volume = shapes.volume_ml(recipe.shape)
    foam_l = batch.foam_g / batch.density / 1000
    figures = {
        "trays": figure(
            trays,
            "trays" if trays > 1 else "tray",
            "modelled",
            "Pieces ÷ what one tray holds, laid in straight or offset rows.",
            _GEOMETRY,
            ("on a full tray", str(len(batch.layout.centres))),
            ("tray", f"{tools.tray.length_mm / 10:g} × {tools.tray.width_mm / 10:g} cm"),
            ("grows in the oven", "8 %"),
        ),
        "pieces": figure(
            batch.pieces,
            "",
            "modelled",
            "Foam that reaches the tray ÷ a piece.",
            _GEOMETRY,
            ("foam", f"{batch.foam_g:.0f} g"),
            ("a piece", f"{batch.piece_g:.1f} g"),
        ),
        "piece": figure(
            batch.piece_g,
            "g",
            "modelled",
            "Volume × density of the foam.",
            _GEOMETRY,
            ("volume", f"{volume:.1f} ml"),
            ("density", f"{batch.density:.3f} g/ml"),
            low=volume * batch.whisking.density[0],
            high=volume * batch.whisking.density[1],
        ),
        "tray-mass": figure(
            max(batch.trays) * batch.piece_g,
            "g",
            "modelled",
            "Foam on the fullest tray.",
            _GEOMETRY,
            ("pieces", str(max(batch.trays))),
        ),
        "bags": figure(
            ceil(foam_l / (0.8 * kitchen.bag_l)),
            "fills",
            "modelled",
            "Foam volume ÷ four fifths of a bag.",
            _GEOMETRY,
            ("foam", f"{foam_l:.1f} l"),
            ("bag", f"{kitchen.bag_l:g} l"),
        ),
        "loads": figure(
            batch.loads,
            "loads" if batch.loads > 1 else "load",
            "modelled",
            "Trays ÷ slots in the oven.",
            _GEOMETRY,
            ("slots", str(slots)),
        ),
        "left": figure(batch.left_foam_g, "g", "modelled", "Foam over when the last whole piece is piped.", _GEOMETRY),
    }
    remarks: list[Remark] = []
    if batch.loads > 1:
        remarks.append(
            Remark(
                severity="warning",
                says=f"{trays} trays want {batch.loads} oven loads, and foam does not wait.",
                do=(
                    f"whisk {batch.loads} batches, each when its oven is free",
                    f"or make {slots * len(batch.layout.centres)} at most in one load",
                ),
            )
        )
    if trays > tools.tray.count:
        remarks.append(
            Remark(
                severity="warning",
                says=f"{trays} trays wanted, {tools.tray.count} in the kitchen.",
                do=("make fewer or smaller, or use another tray",),
            )
        )
    small = 0.42 * 30**2 * 25 * 0.785 / 1000 * batch.density
    if batch.left_foam_g > small:
        remarks.append(
            Remark(
                severity="note",
                says=f"{batch.left_foam_g:.0f} g of foam left over.",
                do=(f"pipe {int(batch.left_foam_g / small)} kisses of 3 cm in the gaps",),
            )
        )
    return ShapeStation(
        key="shape",
        title="Shape",
        vital="trays",
        figures=figures,
        remarks=tuple(remarks),
        layout=batch.layout,
        trays=batch.trays,
        loads=batch.loads,
        section=shapes.KINDS[recipe.shape.kind].section(recipe.shape),
    )


def _bars(programme: Programme, heat_end: float) -> tuple[Bar, ...]:
    bars, t = [], 0.0
    fan = "fan" if programme.fan else "still"
    fixed = sum(s.minutes or 0.0 for s in programme.steps if s.kind != "off")
    for step in programme.steps:
        lasts = step.minutes if step.minutes is not None else heat_end - fixed
        says = {"heat": f"{step.set_c or 0:g} °C {fan}", "turn": "turn the tray", "off": "off"}[step.kind]
        if step.kind != "turn":
            says += ", door ajar" if step.door == "ajar" else ", door shut"
        bars.append(Bar(says=says, from_min=t, until_min=t + lasts, kind=step.kind))
        t += lasts
    return tuple(bars)


def _dry(recipe: Recipe, kitchen: Kitchen, tools: Equipment, batch: Batch, d: dryness.Drying) -> Dry:
    i = min(range(len(d.times_min)), key=lambda k: abs(d.times_min[k] - d.heat_end_min))
    tray_g = max(batch.trays) * batch.piece_g
    loss = d.loss_pct[-1]
    ridge = dryness.colour(d.ridge_browning[i])
    piece = (
        ("piece", _dimensions(recipe.shape)),
        ("foam", f"{batch.density:.2f} g/ml, {100 * batch.water_fraction:.0f} % water"),
        ("oven", f"{tools.oven.name}, {'fan' if recipe.programme.fan else 'still'}"),
    )
    band = (
        d.early_min or d.wanted.from_min,
        d.wanted.until_min if recipe.texture != "crisp" and d.wanted.until_min else d.late_min,
    )
    figures = {
        "time": figure(
            d.heat_end_min,
            "min",
            "modelled",
            f"Heat and water followed to the core until it is {recipe.texture}: {dryness.TEXTURES[recipe.texture].says}. The band is for foam that dries a fifth slower or faster.",
            _MODEL,
            *piece,
            low=band[0],
            high=band[1],
        ),
        "loss": figure(
            tray_g * loss / 100,
            "g",
            "modelled",
            "Water gone from the fullest tray, oven and cooling.",
            _MODEL,
            ("of the piece", f"{loss:.1f} %"),
            ("tray in", f"{tray_g:.0f} g of foam"),
            low=tray_g * d.loss_low_pct[-1] / 100,
            high=tray_g * d.loss_high_pct[-1] / 100,
        ),
        "out": figure(
            tools.tray.tare_g + tray_g * (1 - loss / 100),
            "g",
            "modelled",
            "Tray, paper and pieces when they come out.",
            _MODEL,
            ("tray empty", f"{tools.tray.tare_g:g} g"),
        ),
        "shell": figure(
            d.shell_mm[-1],
            "mm",
            "modelled",
            "How deep the crumb holds 4.5 % water or less, where it snaps (Gordon–Taylor); the thinnest part.",
            _MODEL,
            *piece,
        ),
        "core": figure(
            d.core_pct[-1],
            "%",
            "modelled",
            "Water at the innermost point of the part that dries last, once cooled.",
            _MODEL,
            *piece,
        ),
        "colour": figure(
            None,
            "",
            "modelled",
            "Browning of a 1.5 mm ridge, Arrhenius with 100 kJ/mol, minutes at 150 °C.",
            _MODEL,
            ("ridge", f"{d.ridge_browning[i]:.1f}"),
            ("flat", f"{d.flat_browning[i]:.1f} ({dryness.colour(d.flat_browning[i])})"),
            text=ridge,
        ),
        "whole": figure(d.end_min, "min", "modelled", "Oven and cooling together.", _MODEL),
        "heat-up": figure(
            oven.heat_up_min(recipe.programme, tools.oven, kitchen.room_c),
            "min",
            "craft rule",
            "From switching on to the first setting, and five for the walls.",
            _CRAFT,
            ("oven", f"{tools.oven.heat_c_per_min:g} °C a minute"),
        ),
    }
    if tools.oven.true_offset_c:
        figures["true"] = figure(
            oven.true_c(recipe.programme.steps[0].set_c or 0, tools.oven),
            "°C",
            "measured",
            "What this oven holds when set so.",
            "This kitchen's own oven",
            ("set", f"{recipe.programme.steps[0].set_c:g} °C"),
            ("offset", f"{tools.oven.true_offset_c:+g} °C"),
        )
    remarks: list[Remark] = []
    if not d.reached:
        if d.open_ended:
            remarks.append(
                Remark(
                    severity="warning",
                    says=f"It is not {recipe.texture} even after {d.heat_end_min / 60:.0f} h at this heat.",
                    do=("raise the oven by 10 °C", "make it thinner", "ask for a softer centre"),
                )
            )
        else:
            remarks.append(
                Remark(
                    severity="warning",
                    says=f"Too short: it is not {recipe.texture} when the heat ends at {_clock(d.heat_end_min)}.",
                    do=("let the last heating step run until the texture is there",),
                )
            )
    elif not d.open_ended and d.wanted.until_min is not None and d.heat_end_min > d.wanted.until_min:
        remarks.append(
            Remark(
                severity="warning",
                says=f"Too long: past {recipe.texture} after {_clock(d.wanted.until_min)}; it goes dry through.",
                do=("end the heat sooner",),
            )
        )
    if ridge not in ("white", "ivory"):
        remarks.append(
            Remark(
                severity="warning",
                says=f"Ridges turn {ridge} before it is dry.",
                do=("lower the oven", "step it down after the first quarter of an hour"),
            )
        )
    worst_set = all(p.set_core[i] for p in d.profiles)
    if recipe.texture != "crisp" and not worst_set:
        remarks.append(
            Remark(
                severity="warning",
                says="The core never passes 75 °C: it stays raw foam, not marshmallow.",
                do=("a hotter start", "longer"),
            )
        )
    if recipe.programme.fan and not tools.oven.fan:
        remarks.append(
            Remark(
                severity="warning",
                says=f"{tools.oven.name} has no fan.",
                do=(f"choose still and set {(recipe.programme.steps[0].set_c or 0) + tools.oven.fan_drop_c:.0f} °C",),
            )
        )
    if max(d.vapour_kpa) > 12:
        remarks.append(
            Remark(
                severity="note",
                says="The oven fills with steam from this load and dries more slowly for it.",
                do=("fewer trays", "open the door a crack once the pieces have a skin"),
            )
        )
    return Dry(
        key="dry",
        title="Dry",
        vital="time",
        figures=figures,
        remarks=tuple(remarks),
        drying=d,
        bars=_bars(recipe.programme, d.heat_end_min),
        section=shapes.KINDS[recipe.shape.kind].section(recipe.shape),
    )


def _clock(minutes: float) -> str:
    hours, rest = divmod(round(minutes), 60)
    return f"{hours} h {rest:02d}" if hours else f"{rest} min"


def _finish(recipe: Recipe, kitchen: Kitchen, d: dryness.Drying) -> Finish:
    i = min(range(len(d.times_min)), key=lambda k: abs(d.times_min[k] - d.heat_end_min))
    driest = min(min(p.fraction[i]) for p in d.profiles)
    start = d.mean_pct[i] / 100 if recipe.texture == "crisp" and d.reached else driest
    keeps = dryness.keeping(start, kitchen.room_rh_pct)
    cooling = d.end_min - d.heat_end_min
    figures = {
        "snap": figure(
            keeps[0].hours,
            "h",
            "modelled",
            "Uptake towards the balance of crumb and room air on an open tray, from the end of the heat; snap goes at 4.5 % water."
            if keeps[0].hours is not None
            else "At or under 33–35 % humidity the shell does not take up enough water to lose its snap.",
            _MODEL,
            ("room", f"{kitchen.room_rh_pct:g} % RH"),
            ("crumb", f"{100 * start:.1f} % water"),
            low=None if keeps[0].hours is None else 0.6 * keeps[0].hours,
            high=None if keeps[0].hours is None else 1.6 * keeps[0].hours,
            text="keeps" if keeps[0].hours is None else None,
        ),
        "cooling": figure(cooling, "min", "modelled", "Left in the oven, switched off.", _CRAFT),
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
    if recipe.texture != "crisp":
        remarks.append(
            Remark(
                severity="note",
                says="A soft core gives its water to the shell from within: fill and serve the same day.",
                do=("keep uncovered in a dry room until then",),
            )
        )
    cautions = [MILK_EGG_CAUTION, "Contains egg." + _allergens(recipe)]
    if any(a.ingredient == "water" for a in recipe.additions):
        cautions.append("Hot water and a running whisk: pour down the wall, not on the wires.")
    return Finish(
        key="finish",
        title="Finish",
        vital="snap",
        figures=figures,
        remarks=tuple(remarks),
        keeping=keeps,
        label="baked, not validated",
        because="foam of raw white that is dried: hot enough to set, but no validated treatment of egg",
        cautions=tuple(cautions),
    )


def _allergens(recipe: Recipe) -> str:
    nuts = any(a.ingredient == "ground-nuts" for a in recipe.additions)
    return " Contains nuts." if nuts else ""
