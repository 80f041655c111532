"""What a kitchen is asked first, each answered or left: how it measures, its eggs, its ovens, its mixer, how high it lies."""

from typing import Annotated, Any, Literal, get_args

from pydantic import Field, StringConstraints

from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.kitchen import EggSize, Habits, Kitchen, Mixer, MixerKind, Oven, Tray
from gullpeak.core.value import Name, RefusalError, Said, UnknownAmountError, Value, say

FIRST_KITCHEN = Kitchen(
    name="My kitchen",
    ovens=(Oven(key="oven", name="Oven"),),
    mixers=(Mixer(key="mixer", name="Stand mixer"),),
    trays=(Tray(key="tray", name="Tray"),),
)
"""A kitchen of which nothing is known yet."""
Measures = Literal["grams", "British", "American", "Australian"]
MEASURES: tuple[Measures, ...] = get_args(Measures)
SPOONS: dict[Measures, dict[str, Any]] = {
    "grams": {},
    "British": {"tablespoon_ml": 15, "cup": "metric", "fluid_ounce": "UK"},
    "American": {"tablespoon_ml": 15, "cup": "US", "fluid_ounce": "US", "paper": "Letter"},
    "Australian": {"tablespoon_ml": 20, "cup": "metric", "fluid_ounce": "UK"},
}
"""What a spoon, a cup and a fluid ounce are where people measure so; by grams, what they are stays."""


class FirstError(UnknownAmountError):
    """An answer that cannot be read; `field` says which."""


class FirstOven(Value):
    """An oven, as its cook says it."""

    name: Name
    fan: bool
    trays: int = Field(ge=1, le=40)


class FirstAnswers(Value):
    """What was answered of a kitchen; what was left stays as it is. height: as written, `120 m` or `98.5 °C`."""

    measures: Measures | None = None
    degrees: Literal["C", "F"] | None = None
    egg_size: EggSize | None = None
    ovens: tuple[FirstOven, ...] = Field((), max_length=8)
    mixer: MixerKind | None = None
    bowl_l: float | None = Field(None, ge=0.3, le=200)
    height: Annotated[str, StringConstraints(max_length=40)] = ""


class FirstChoices(Value):
    """What there is to choose from, each with its words."""

    measures: tuple[tuple[Measures, Said], ...]
    egg_sizes: tuple[EggSize, ...] = get_args(EggSize)
    mixers: tuple[tuple[MixerKind, Said], ...]


CHOICES = FirstChoices(
    measures=tuple((one, say(f"first.measures.{one.lower()}")) for one in MEASURES),
    mixers=tuple((one, say(f"first.mixer.{one.replace(' ', '-')}")) for one in get_args(MixerKind)),
)


def settled(kitchen: Kitchen, told: FirstAnswers) -> Kitchen:
    """Return the kitchen with what was answered of it. Raises FirstError at an answer that cannot be read."""
    change: dict[str, Any] = {}
    habits: dict[str, Any] = {} if told.measures is None else dict(SPOONS[told.measures])
    if told.degrees is not None:
        habits["bare_degrees"] = told.degrees
    if told.egg_size is not None:
        habits["egg_size"] = told.egg_size
    if told.ovens:
        change["ovens"] = _ovens(kitchen, told.ovens)
        habits["no_fan_word"] = "fan" if all(oven.fan for oven in told.ovens) else "conventional"
    if told.mixer is not None or told.bowl_l is not None:
        change["mixers"] = (_mixer(kitchen.mixers[0], told), *kitchen.mixers[1:])
    if told.height.strip():
        try:
            change["altitude_m"] = units.read_altitude(told.height)
        except RefusalError as error:
            raise FirstError("height", error.says) from error
    return kitchen.model_copy(update={**change, "habits": Habits.model_validate({**kitchen.habits.model_dump(), **habits})})


def _ovens(kitchen: Kitchen, told: tuple[FirstOven, ...]) -> tuple[Oven, ...]:
    """The ovens as told; what is known of the one that stands at its place stays, and so do those behind."""
    keys = [oven.key for oven in kitchen.ovens]
    free = (key for n in range(1, 60) if (key := f"oven-{n}") not in keys)
    there = (*kitchen.ovens, *(Oven(key=next(free), name=one.name) for one in told[len(keys) :]))
    own = tuple(
        oven.model_copy(update={"name": one.name, "fan": one.fan, "tray_slots": one.trays})
        for oven, one in zip(there, told, strict=False)
    )
    return own + there[len(own) :]


def _mixer(there: Mixer, told: FirstAnswers) -> Mixer:
    own = {"kind": told.mixer, "bowl_l": told.bowl_l}
    return there.model_copy(update={name: value for name, value in own.items() if value is not None})
