"""The kitchen a recipe is worked out in: its air, its ovens, mixers and trays, and how its people measure."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from gullpeak.core.kitchen.keeping import KEEPING, KeepRow
from gullpeak.core.kitchen.own import OwnIngredient, namesake
from gullpeak.core.physics.lethality import ProbeCheck
from gullpeak.core.value import Key, Moment, Name, RefusalError, Said, Value, first, say

MixerKind = Literal["stand", "planetary", "hand-held", "balloon whisk"]
Material = Literal["steel", "glass", "copper", "plastic"]
METAL_J_GK: dict[Material, float] = {"steel": 0.50, "glass": 0.84, "copper": 0.39, "plastic": 1.7}
"""Specific heat of a bowl or pan, J/(g K)."""
EggSize = Literal["EU S", "EU M", "EU L", "EU XL", "US medium", "US large", "US extra-large"]


class Habits(Value):
    """How this kitchen reads a unit that could mean several things."""

    tablespoon_ml: Literal[15, 20] = 15
    """15 almost everywhere, 20 in Australia"""
    cup: Literal["US", "metric"] = "metric"
    """US 236.6 ml, metric 250 ml"""
    fluid_ounce: Literal["US", "UK"] = "UK"
    egg_size: EggSize = "EU M"
    """The egg meant where no size is said"""
    bare_degrees: Literal["C", "F"] = "C"
    no_fan_word: Literal["conventional", "fan"] = "conventional"
    """What a bare oven figure means"""
    language: str = Field("en", pattern="^[a-z]{2}$")
    """What the app says, where it has the words; the rest in English"""
    paper: Literal["A4", "Letter"] = "A4"
    """What is printed on"""
    heaped: float = Field(1.6, ge=1.0, le=2.5)
    """Level spoons in a heaped one"""


class Oven(Value):
    """One oven and its temper."""

    key: Key
    name: Name
    fan: bool = True
    """It has a fan"""
    fan_drop_c: float = Field(20, ge=0, le=40)
    """Fan setting below the conventional one, °C"""
    true_offset_c: float = Field(0, ge=-40, le=40)
    """True temperature less the set one, °C"""
    heat_c_per_min: float = Field(10, ge=1, le=60)
    tray_slots: int = Field(2, ge=1, le=40)
    vent_m3_h: float = Field(6, ge=0.2, le=200)
    """Air changed with the door shut, m³/h"""
    drying_scale: float = Field(1.0, ge=0.3, le=3.0)
    """Drying against the model, from weighings"""
    cool_c_per_min: float = Field(3, ge=0.5, le=30)
    """Switched down, door shut, from baking heat"""


class Mixer(Value):
    """A mixer, or an arm with a whisk, and its bowl."""

    key: Key
    name: Name
    kind: MixerKind = "stand"
    bowl_l: float = Field(5, ge=0.3, le=200)
    """Bowl volume to the rim, l"""
    bowl_material: Material = "steel"
    bowl_g: float = Field(800, ge=50, le=40000)
    pace: float = Field(1.0, ge=0.3, le=3)
    """Its whisking time against the table, from the log"""
    min_fill_pct: float = Field(2, ge=0, le=20)
    """Unwhisked whites must fill this share to reach the whisk"""

    def bowl_j_k(self) -> float:
        """Heat capacity of the bowl, J/K."""
        return self.bowl_g * METAL_J_GK[self.bowl_material]


class Hob(Value):
    """One ring and what it gives."""

    key: Key
    name: Name
    power_w: float = Field(900, ge=50, le=15000)
    """Into a pan at the setting used for syrup, W"""


class Pan(Value):
    """A pan for syrup, or for egg on a low flame."""

    key: Key
    name: Name
    material: Material = "steel"
    mass_g: float = Field(700, ge=50, le=40000)
    """Empty, as the scale shows it"""
    volume_l: float = Field(1.5, ge=0.2, le=100)

    def capacity_j_k(self) -> float:
        """Heat capacity of the empty pan, J/K."""
        return self.mass_g * METAL_J_GK[self.material]


class Probe(Value):
    """A thermometer, how fast it follows, and its last check in ice and in boiling water."""

    key: Key
    name: Name
    lag_s: float = Field(4, ge=0, le=60)
    """Time constant, s"""
    check: ProbeCheck | None = None


class Tray(Value):
    """A kind of tray and how many there are."""

    key: Key
    name: Name
    length_mm: float = Field(400, ge=100, le=2000)
    width_mm: float = Field(300, ge=100, le=2000)
    tare_g: float = Field(900, ge=0, le=20000)
    """Empty, with its parchment"""
    count: int = Field(4, ge=1, le=200)


class Pace(Value):
    """How long a step takes these hands, against the table."""

    step: Key
    factor: float = Field(ge=0.3, le=3)


class Sets(Value):
    """How much later than the craft's window egg of a school sets here, by batches that went past it and did not scramble."""

    school: Key
    by_c: float = Field(ge=-8, le=16)


class Learned(Value):
    """A figure taken over from the log, and what it was before: nothing is applied that nobody accepted."""

    what: Annotated[str, Field(max_length=160)]
    name: Said
    before: float | str | None
    now: float | str
    at: Moment
    batches: int = Field(ge=0)


class Price(Value):
    """What a kilogram of an ingredient costs, in the kitchen's own money."""

    ingredient: Key
    per_kg: float = Field(ge=0, le=100000)


class Kitchen(Value):
    """Everything about a kitchen that the figures depend on."""

    name: Name
    altitude_m: float = Field(0, ge=-400, le=5000)
    room_c: float = Field(21, ge=0, le=45)
    room_rh_pct: float = Field(50, ge=5, le=95)
    """Relative humidity of the room, %"""
    habits: Habits = Habits()
    ovens: tuple[Oven, ...] = Field(min_length=1, max_length=20)
    mixers: tuple[Mixer, ...] = Field(min_length=1, max_length=20)
    trays: tuple[Tray, ...] = Field(min_length=1, max_length=20)
    hobs: tuple[Hob, ...] = Field((Hob(key="hob", name="Hob"),), min_length=1, max_length=20)
    pans: tuple[Pan, ...] = Field((Pan(key="pan", name="Small pan"),), min_length=1, max_length=20)
    probes: tuple[Probe, ...] = Field((Probe(key="probe", name="Probe"),), max_length=20)
    bag_l: float = Field(1.0, ge=0.1, le=10)
    """What a piping bag holds, l"""
    cold_shelves: int = Field(6, ge=1, le=200)
    """Trays or dishes the fridges take"""
    freezer_shelves: int = Field(2, ge=1, le=200)
    wash_min: float = Field(4, ge=1, le=30)
    """Washing and drying a bowl and its whisk"""
    yolk_break_pct: float = Field(3, ge=0, le=50)
    """Yolks that break on separating, %"""
    bath_pace: float = Field(1.0, ge=0.3, le=3)
    """What the bath gives against the model, from the log"""
    paces: tuple[Pace, ...] = Field((), max_length=60)
    """Steps that take these hands longer or shorter"""
    sets: tuple[Sets, ...] = Field((), max_length=20)
    """Schools of heated egg that set later or sooner here"""
    bends: float = Field(1.0, ge=0.3, le=3)
    """What a crust takes here of the craft's limit, from rolls that held or cracked"""
    learned: tuple[Learned, ...] = Field((), max_length=200)
    cooks: tuple[Name, ...] = Field((), max_length=40)
    keeping: tuple[KeepRow, ...] = Field(KEEPING, max_length=200)
    """How long things keep here"""
    prices: tuple[Price, ...] = Field((), max_length=400)
    """Empty: nothing is costed"""
    currency: Annotated[str, Field(max_length=8)] = ""
    larder: tuple[OwnIngredient, ...] = Field((), max_length=400)
    """What this kitchen describes itself"""

    @model_validator(mode="after")
    def _keys_differ(self) -> "Kitchen":
        keys = {
            "ovens": [o.key for o in self.ovens],
            "mixers": [m.key for m in self.mixers],
            "trays": [t.key for t in self.trays],
            "hobs": [h.key for h in self.hobs],
            "pans": [p.key for p in self.pans],
            "probes": [p.key for p in self.probes],
            "keeping rows": [k.key for k in self.keeping],
            "paces": [p.step for p in self.paces],
            "schools that set": [s.school for s in self.sets],
            "prices": [p.ingredient for p in self.prices],
            "own ingredients": [i.key for i in self.larder],
        }
        for what, each in keys.items():
            if len(set(each)) < len(each):
                raise RefusalError(say("kitchen.two-share-key-give", what=what))
        taken = first(name for own in self.larder if (name := namesake(own, self.larder)) is not None)
        if taken is not None:
            raise RefusalError(say("own.taken", name=taken))
        return self
