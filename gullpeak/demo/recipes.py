"""The guest house's own recipes, and its kitchen."""

from gullpeak.core.egg import Whites
from gullpeak.core.kitchen import Habits, Kitchen, Mixer, Oven, Tray
from gullpeak.core.recipe import Addition, OvenStep, Programme, Recipe, Scale, Shape, SugarPart

KITCHEN = Kitchen(
    name="Hollin Skerry House",
    altitude_m=35,
    room_c=20,
    room_rh_pct=58,
    habits=Habits(egg_size="EU M"),
    ovens=(
        Oven(key="slate", name="Slate oven", fan=True, true_offset_c=3, heat_c_per_min=9, tray_slots=4, vent_m3_h=9),
        Oven(
            key="range",
            name="Old range",
            fan=False,
            true_offset_c=-8,
            heat_c_per_min=5,
            tray_slots=2,
            vent_m3_h=4,
            drying_scale=0.92,
        ),
    ),
    mixers=(
        Mixer(key="stand", name="Stand mixer", kind="stand", bowl_l=6.5, bowl_g=1150, min_fill_pct=2),
        Mixer(key="hand", name="Hand mixer", kind="hand-held", bowl_l=3.5, bowl_material="glass", bowl_g=1400, min_fill_pct=1),
    ),
    trays=(
        Tray(key="long", name="Long tray", length_mm=530, width_mm=325, tare_g=1240, count=6),
        Tray(key="square", name="Square tray", length_mm=400, width_mm=380, tare_g=980, count=3),
    ),
    bag_l=1.2,
    cooks=("Maren Tollisk", "Idwal Fenn", "Pia Harrow-Quist"),
)

FIRST_KITCHEN = Kitchen(
    name="My kitchen",
    ovens=(Oven(key="oven", name="Oven"),),
    mixers=(Mixer(key="mixer", name="Stand mixer"),),
    trays=(Tray(key="tray", name="Tray"),),
)


def _heat(set_c: float, minutes: float | None = None) -> OvenStep:
    return OvenStep(kind="heat", set_c=set_c, minutes=minutes)


def _off(minutes: float, door: str = "ajar") -> OvenStep:
    return OvenStep(kind="off", minutes=minutes, door="ajar" if door == "ajar" else "shut")


TURN = OvenStep(kind="turn", minutes=1)

RECIPES: dict[str, Recipe] = {
    "sea-wall-nests": Recipe(
        name="Sea-wall nests",
        family="nests",
        whites=Whites(temp_c=19),
        sugars=(SugarPart(kind="caster", ratio=1.6, moment="soft"),),
        additions=(
            Addition(ingredient="cream-of-tartar", ratio=0.006, moment="froth"),
            Addition(ingredient="salt", ratio=None, moment="start", written="a pinch"),
        ),
        shape=Shape(kind="nest", diameter_mm=70, height_mm=32, base_mm=10, wall_mm=16, gap_mm=18),
        texture="soft centre",
        programme=Programme(fan=True, steps=(_heat(100, 45), TURN, _heat(95), _off(45))),
        scale=Scale(by="pieces", amount=24),
        oven="slate",
        mixer="stand",
        tray="long",
        notes="For the Saturday fruit. Guests like them chewy in the middle.",
    ),
    "wicket-kisses": Recipe(
        name="Wicket kisses",
        family="kisses",
        whites=Whites(temp_c=18),
        sugars=(
            SugarPart(kind="caster", ratio=1.0, moment="before soft"),
            SugarPart(kind="icing", ratio=0.8, moment="folded last"),
        ),
        additions=(Addition(ingredient="lemon-juice", ratio=0.025, moment="froth"),),
        shape=Shape(kind="kiss", diameter_mm=34, height_mm=28, gap_mm=14),
        texture="crisp",
        programme=Programme(fan=True, steps=(_heat(88), _off(60))),
        scale=Scale(by="pieces", amount=90),
        oven="slate",
        mixer="stand",
        tray="long",
        notes="Half caster, half icing folded in: no grit, very white.",
    ),
    "landing-pavlova": Recipe(
        name="Landing-stage pavlova",
        family="pavlovas",
        whites=Whites(temp_c=20),
        sugars=(SugarPart(kind="caster", ratio=1.55, moment="soft"),),
        additions=(
            Addition(ingredient="vinegar", ratio=0.03, moment="folded last"),
            Addition(ingredient="cornflour", ratio=0.045, moment="folded last"),
            Addition(ingredient="vanilla", ratio=0.012, moment="folded last"),
        ),
        shape=Shape(kind="bowl", diameter_mm=230, height_mm=65, base_mm=30, wall_mm=52, gap_mm=40),
        texture="marshmallow",
        programme=Programme(fan=False, steps=(_heat(130, 15), _heat(110), _off(90))),
        scale=Scale(by="eggs", amount=6),
        oven="range",
        mixer="stand",
        tray="square",
        notes="One large pavlova. It cools in the range with the door ajar while dinner is served elsewhere.",
    ),
    "lantern-discs": Recipe(
        name="Lantern discs",
        family="discs",
        whites=Whites(kind="frozen", temp_c=12),
        sugars=(
            SugarPart(kind="granulated", ratio=1.1, moment="before soft"),
            SugarPart(kind="icing", ratio=0.7, moment="folded last"),
        ),
        additions=(Addition(ingredient="ground-nuts", ratio=0.35, moment="folded last"),),
        shape=Shape(kind="disc", diameter_mm=160, height_mm=10, gap_mm=15),
        texture="crisp",
        programme=Programme(fan=True, steps=(_heat(110, 30), TURN, _heat(105), _off(30))),
        scale=Scale(by="pieces", amount=9),
        oven="slate",
        mixer="stand",
        tray="long",
        notes="Three layers to a cake, three cakes.",
    ),
    "squall-pavlovas": Recipe(
        name="Squall pavlovas",
        family="pavlovas",
        school="all-in-one",
        whites=Whites(temp_c=16),
        sugars=(SugarPart(kind="caster", ratio=2.1, moment="start"),),
        additions=(
            Addition(ingredient="water", ratio=0.32, moment="start", written="boiling"),
            Addition(ingredient="vinegar", ratio=0.03, moment="start"),
            Addition(ingredient="cornflour", ratio=0.05, moment="start"),
        ),
        shape=Shape(kind="bowl", diameter_mm=95, height_mm=40, base_mm=16, wall_mm=24, gap_mm=25),
        texture="marshmallow",
        programme=Programme(fan=True, steps=(_heat(125, 10), _heat(105), _off(60))),
        scale=Scale(by="pieces", amount=14),
        oven="slate",
        mixer="stand",
        tray="long",
        notes="Everything in the bowl at once. For days when nobody can stand by the mixer.",
    ),
    "slack-tide-slab": Recipe(
        name="Slack-tide slab",
        family="slabs",
        whites=Whites(temp_c=20),
        sugars=(SugarPart(kind="caster", ratio=1.5, moment="start"),),
        additions=(
            Addition(ingredient="vinegar", ratio=0.025, moment="froth"),
            Addition(ingredient="cornflour", ratio=0.04, moment="folded last"),
        ),
        shape=Shape(kind="slab", length_mm=360, width_mm=260, height_mm=24),
        texture="marshmallow",
        programme=Programme(fan=False, steps=(_heat(118), _off(30, "shut"), _off(30))),
        scale=Scale(by="trays", amount=1),
        oven="range",
        mixer="stand",
        tray="square",
        notes="Cut in squares with a wet knife.",
    ),
    "gannet-kisses": Recipe(
        name="Gannet cocoa kisses",
        family="kisses",
        whites=Whites(kind="carton", temp_c=14),
        sugars=(SugarPart(kind="caster", ratio=1.55, moment="froth"),),
        additions=(
            Addition(ingredient="cream-of-tartar", ratio=0.007, moment="start"),
            Addition(ingredient="cocoa", ratio=0.09, moment="folded last"),
        ),
        shape=Shape(kind="kiss", diameter_mm=42, height_mm=30, gap_mm=16),
        texture="soft centre",
        programme=Programme(fan=True, steps=(_heat(100), _off(30))),
        scale=Scale(by="whites", amount=180),
        oven="slate",
        mixer="hand",
        tray="long",
        notes="Cocoa goes in last and only just: its fat brings the foam down.",
    ),
}
