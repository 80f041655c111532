"""What the routers hand out beyond core models, and what they stand on."""

import re
from collections import defaultdict
from collections.abc import Iterable
from datetime import datetime
from typing import Annotated, Any, Literal, get_args

import anyio
from fastapi import Depends, Header, Request

from gullpeak.app.errors import BadFieldError
from gullpeak.core.bench.run import OF_DRIED, OF_MOIST, OutcomeColour, OutcomeTexture
from gullpeak.core.kitchen.egg import EggKind
from gullpeak.core.kitchen.ingredients import INGREDIENTS, Colour, Ingredient, Role
from gullpeak.core.kitchen.keeping import KEEPING, KeepRow
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.kitchen.own import NEVER, Allergen, OwnIngredient, described
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.programme import OVEN_STEPS, Door, OvenStepKind
from gullpeak.core.recipe.recipe import PeakName, Recipe, ScaleBy, Texture
from gullpeak.core.recipe.shapes import ShapeKind
from gullpeak.core.recipe.starters import STARTERS, Group
from gullpeak.core.recipe.ways import WAYS, Moment, School
from gullpeak.core.sheet import dryness, foam
from gullpeak.core.value import Key, Said, Text, Value, say, written
from gullpeak.core.words import book
from gullpeak.core.words.reader import LANGUAGES
from gullpeak.store.repository import Store

OF_THE_HOT = ("off heat", "cooled")
"""Moments of what is heated, and never of its sugar."""


class ShapeSays(Value):
    """A shape, what it is, and the lengths that count."""

    kind: ShapeKind
    name: Said
    says: Said
    lengths: tuple[str, ...]
    follows: str
    """The one that the amounts decide where nobody does"""


class OvenStepSays(Value):
    """A step an oven's programme may have: what adding it is called, what it is called then, and what it begins with."""

    kind: OvenStepKind
    door: Door
    adds: Said
    name: Said
    minutes: float
    heated: bool
    sets: bool


class SchoolSays(Value):
    """A school or method, its name, what its ratios may rest on."""

    school: School
    name: Said
    rests_on: tuple[Role, ...]
    heats: Literal["syrup", "bath"] | None
    """What of the recipe's heat it needs"""
    at: dict[Role, Moment]
    """When a thing of each role usually goes in"""
    moments: tuple[Moment, ...]
    """When something may go in"""


class StarterSays(Value):
    """What a new recipe may begin as, and where it is offered."""

    key: Key
    group: Group
    group_name: Said
    name: Said


class ToChoose(Value):
    """What there is to choose from, each with its words: the interface has no list of its own."""

    sugars: tuple[tuple[Key, Said], ...]
    sugar_moments: tuple[tuple[Moment, Said], ...]
    """When sugar may go in"""
    moments: tuple[tuple[Moment, Said], ...]
    """When anything else may go in, as it is said of a line"""
    textures: tuple[tuple[Texture, Said], ...]
    eggs: tuple[tuple[EggKind, Said], ...]
    scales: tuple[tuple[ScaleBy, Said], ...]
    peaks: tuple[tuple[PeakName, Said], ...]
    outcomes_dried: tuple[tuple[OutcomeTexture, Said], ...]
    outcomes_moist: tuple[tuple[OutcomeTexture, Said], ...]
    colours: tuple[tuple[OutcomeColour, Said], ...]


def chosen(name: str, among: Iterable[Any]) -> Any:
    """Return choices with their words."""
    return tuple((key, say(f"choice.{name}.{re.sub('[^a-z]+', '-', key)}")) for key in among)


def _sugars(items: Iterable[Ingredient]) -> tuple[tuple[Key, Said], ...]:
    return tuple((i.key, written(i.name)) for i in items if i.role == "sugar")


class Larder(Value):
    """The tables behind the choices, so that the interface repeats none of them."""

    choices: ToChoose

    schools: tuple[SchoolSays, ...]
    ingredients: tuple[Ingredient, ...]
    moments: dict[Moment, foam.MomentRule]
    shapes: tuple[ShapeSays, ...]
    oven_steps: tuple[OvenStepSays, ...]
    colours: tuple[tuple[float, str], ...]
    languages: tuple[tuple[str, str], ...]
    """Languages that have words: two letters, and the name in its own tongue"""
    keeping: tuple[KeepRow, ...]
    starters: tuple[StarterSays, ...]
    own: tuple[OwnIngredient, ...] = ()
    """What this kitchen describes itself, as its packets have it"""
    roles: tuple[tuple[Role, Said], ...]
    """Kinds an ingredient of one's own may be of"""
    food_colours: tuple[tuple[Colour, Said], ...]
    allergens: tuple[tuple[Allergen, Said], ...]


def _started() -> tuple[StarterSays, ...]:
    return tuple(
        StarterSays(key=s.key, group=s.group, group_name=say(f"starter-group.{s.group.replace(' ', '-')}"), name=s.name)
        for s in STARTERS
    )


LARDER = Larder(
    choices=ToChoose(
        sugars=_sugars(INGREDIENTS.values()),
        sugar_moments=chosen("sugar-at", (m for m in get_args(Moment) if m not in OF_THE_HOT)),
        moments=chosen("at", get_args(Moment)),
        textures=chosen("texture", (t for t in get_args(Texture) if t != "soft sheet")),  # that one is a shape's
        eggs=chosen("egg", get_args(EggKind)),
        scales=chosen("scale", get_args(ScaleBy)),
        peaks=chosen("peak", get_args(PeakName)),
        outcomes_dried=chosen("outcome", OF_DRIED),
        outcomes_moist=chosen("outcome", OF_MOIST),
        colours=chosen("colour", get_args(OutcomeColour)),
    ),
    schools=tuple(
        SchoolSays(
            school=way.key,
            name=way.name,
            rests_on=way.rests_on,
            heats=way.heats,
            at={role: way.moment(role) for role in get_args(Role)},
            moments=way.moments,
        )
        for way in WAYS.values()
    ),
    ingredients=tuple(INGREDIENTS.values()),
    moments=foam.MOMENTS,
    shapes=tuple(
        ShapeSays(
            kind=kind,
            name=say(f"shape.{kind}.name"),
            says=say(f"shape.{kind}.says"),
            lengths=k.lengths,
            follows=k.follows,
        )
        for kind, k in shapes.KINDS.items()
    ),
    oven_steps=tuple(
        OvenStepSays(
            kind=kind,
            door=door,
            adds=say(f"oven-step.{kind}-{door}.adds"),
            name=say(f"oven-step.{kind}-{door}.name"),
            minutes=does.minutes,
            heated=does.heated,
            sets=does.sets,
        )
        for kind, does in OVEN_STEPS.items()
        for door in does.doors
    ),
    colours=dryness.COLOURS,
    languages=tuple((language, book.sentences(language)["language.name"]) for language in LANGUAGES),
    keeping=KEEPING,
    starters=_started(),
    roles=chosen("role", (role for role in get_args(Role) if role not in NEVER)),
    food_colours=chosen("food-colour", (colour for colour in get_args(Colour) if colour)),
    allergens=chosen("allergen", get_args(Allergen)),
)


def larder_of(kitchen: Kitchen, book: Iterable[Recipe]) -> Larder:
    """Return the tables with what a kitchen describes itself among its ingredients, and what recipes brought along from another."""
    brought = {line.own.key: line.own for recipe in book for line in recipe.lines if line.own is not None}
    own = {**brought, **{one.key: one for one in kitchen.larder}}
    items = tuple({**INGREDIENTS, **{key: described(one) for key, one in own.items()}}.values())
    choices = LARDER.choices.model_copy(update={"sugars": _sugars(items)})
    return LARDER.model_copy(update={"ingredients": items, "own": tuple(own.values()), "choices": choices})


class AmountRequest(Value):
    """An amount as typed, of an ingredient. own: what it is, where the recipe carries it."""

    written: Text
    ingredient: str
    own: OwnIngredient | None = None


class OvenRequest(Value):
    """An oven figure or a length as typed."""

    written: Text


class Health(Value):
    """The app is ready: a write reached the disk at `wrote_at`. demo: it shows made-up data."""

    ready: bool
    version: str
    wrote_at: datetime
    demo: bool


class Changes:
    """Tells those who listen that a batch has new events."""

    def __init__(self) -> None:
        self.listeners: dict[str, set[anyio.Event]] = defaultdict(set)
        self.turns: dict[str, int] = defaultdict(int)
        self.traced: dict[str, int] = defaultdict(int)

    def changed(self, batch_id: str, traces: bool = False) -> None:
        """Wake everyone who waits for this batch; call on the server's own loop. traces: readings came, not entries."""
        self.turns[batch_id] += 1
        self.traced[batch_id] += traces
        for waiting in self.listeners.pop(batch_id, set()):
            waiting.set()

    async def wait(self, batch_id: str, seconds: float, seen: int) -> None:
        """Return when the batch has changed since `turns` was `seen`, or the time is over."""
        if self.turns[batch_id] != seen:  # it changed while the last of it was still being read
            return
        mine = anyio.Event()
        self.listeners[batch_id].add(mine)
        with anyio.move_on_after(seconds):
            await mine.wait()
        self.listeners.get(batch_id, set()).discard(mine)


def the_store(request: Request) -> Store:
    """Return the app's store."""
    store: Store = request.app.state.store
    return store


StoreOf = Annotated[Store, Depends(the_store)]


def edited_version(if_match: Annotated[str | None, Header()] = None) -> int:
    """Return the version an edit was made on, from If-Match."""
    text = (if_match or "").strip().removeprefix("W/").strip('"')
    if not text.isascii() or not text.isdigit() or len(text) > 9:
        raise BadFieldError("If-Match", say("refused.edit-says-which-version"))
    return int(text)


EditedVersion = Annotated[int, Depends(edited_version)]
