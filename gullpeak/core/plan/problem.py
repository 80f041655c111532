"""What there is to plan, in whole minutes from an origin: steps in blocks that go on without a wait, what ties them, what they take.

Nothing here knows a solver. The solver, the hand rule and the checker each read it for themselves.
"""

from datetime import datetime, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

from pydantic import Field

from gullpeak.core.kitchen.ingredients import Ingredient
from gullpeak.core.kitchen.kitchen import EggSize
from gullpeak.core.kitchen.own import Own, item_of
from gullpeak.core.physics.lethality import Label
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.step import StepKind
from gullpeak.core.value import NOTHING, Said, Value, known

WHOLE = 4
"""One pair of hands, in quarters."""
TieKind = Literal["after", "ready", "window", "keeps"]
SAME_C = 3.0
"""Two settings this near are one."""
IDLE_MIN = 20
"""An oven left on between two uses longer than this is switched off."""


class Piece(Value):
    """One step of a block. Minutes likely, and the ends of its band; `quarters` of a pair of hands (8: two people)."""

    step: str
    """Thread and step, unique in the day"""
    title: Said
    says: tuple[Said, ...] = ()
    until: tuple[Said, ...] = ()
    caution: Said | None = None
    kind: StepKind
    quarters: int
    minutes: int
    low: int
    high: int
    more: int = 0
    """Of its minutes, those that it was said to need beyond its plan"""
    mixer: bool = False
    ring: bool = False
    cold: bool = False
    freezer: bool = False
    oven: bool = False
    set_c: float | None = None
    ajar: bool = False


class Bowl(Value):
    """What a block leaves in a mixer bowl, for the washing rule."""

    allergens: tuple[str, ...] = ()
    fat: bool = False
    needs_clean: bool = False
    """A foam of white: no trace of fat before it"""
    heat: int = 0
    """How much it is heated afterwards: 0 raw to 3 heat-treated"""


class Block(Value):
    """Pieces that follow each other without a wait; `of` is the index of its thread."""

    thread: int
    pieces: tuple[Piece, ...]
    ovens: tuple[int, ...] = ()
    """Which ovens it may go into, by index"""
    mixers: tuple[int, ...] = ()
    trays: int = 1
    shut: bool = False
    """Its oven is not opened for another in between"""
    fan: bool | None = None
    bowl: Bowl = Bowl()
    fixed: int | None = None
    """Its start, where it is under way, done or locked"""
    locked: bool = False
    people: tuple[str, ...] = ()
    """Who has it, where it is under way: shift keys"""
    oven_at: int | None = None
    mixer_at: int | None = None
    with_at: int | None = None
    """What it shares the oven with, once it is in"""

    @property
    def minutes(self) -> int:
        """How long it takes in all."""
        return sum(p.minutes for p in self.pieces)

    def offset(self, piece: int) -> int:
        """Minutes from its start to the start of one of its pieces."""
        return sum(p.minutes for p in self.pieces[:piece])

    def span(self, what: Literal["mixer", "ring", "oven"]) -> tuple[int, int] | None:
        """First and last minute, from its start, in which it holds a mixer, a ring or an oven."""
        held = [i for i, p in enumerate(self.pieces) if getattr(p, what)]
        return (self.offset(held[0]), self.offset(held[-1] + 1)) if held else None

    def settings(self) -> tuple[float, ...]:
        """What its oven is set to, one after the other."""
        out: list[float] = []
        for p in self.pieces:
            if p.oven and p.set_c is not None and (not out or abs(out[-1] - p.set_c) > SAME_C):
                out.append(p.set_c)
        return tuple(out)

    def ends_off(self) -> bool:
        """Whether the oven is switched off over its last piece in it."""
        held = [p for p in self.pieces if p.oven]
        return bool(held) and held[-1].set_c is None

    def leaves_c(self) -> float | None:
        """What its oven stands at when it is done, or None where it is off."""
        return None if self.ends_off() else self.settings()[-1]

    def may_bake_in(self) -> tuple[int, ...]:
        """The ovens it can be put into: those it may go into, or the one it is in or held to."""
        return self.ovens if self.oven_at is None else (self.oven_at,)

    def may_whisk_in(self) -> tuple[int, ...]:
        """The mixers it can use: those it may, or the one it uses or is held to."""
        return self.mixers if self.mixer_at is None else (self.mixer_at,)


class At(Value):
    """A piece: its block and its place in it."""

    block: int
    piece: int


class Tie(Value):
    """`later` begins at least `least` and at most `most` minutes after `earlier` has ended. `holds`: where it waits meanwhile."""

    earlier: At
    later: At
    kind: TieKind
    least: int = 0
    most: int | None = None
    holds: Literal["cold", "freezer"] | None = None
    weight: int = 1
    """What a minute of waiting costs, in tenths"""
    says: Said = NOTHING


class Due(Value):
    """A piece that must have ended by a time, and no more than `hold` minutes before it. `spare`: planned so much sooner."""

    last: At
    by: int
    spare: int = 0
    hold: int | None
    weight: int
    order: str


class EggNeed(Value):
    """Egg a thread takes, g, and of which kind."""

    white_g: float = 0.0
    yolk_g: float = 0.0
    whole_g: float = 0.0
    kind: str = "fresh"


class LineMass(Value):
    """So much of an ingredient, for a thread."""

    key: str
    name: str
    mass_g: float | None
    own: Own = None
    """What it is, where this kitchen describes it"""

    @property
    def item(self) -> Ingredient:
        """What it is."""
        return item_of(self.key, self.own)


class Thread(Value):
    """One line of the day: a part or a product being put together."""

    key: str
    order: str
    order_name: Said
    name: Said
    says: Said
    depth: int
    parent: str | None = None
    joins: str = ""
    """The step of its parent at which it joins"""
    of: str
    recipe: Recipe | None = None
    """As it is made here; None where it is put together from parts"""
    egg: EggNeed = EggNeed()
    lines: tuple[LineMass, ...] = ()
    keeps_h: float | None = None
    keeps_where: str = ""
    label: Label | None = None
    from_lot: str | None = Field(None, exclude_if=lambda lot: lot is None)
    """Where it is not made but taken from stock"""


class Hands(Value):
    """One shift, minutes."""

    key: str
    who: str
    start: int
    end: int
    pauses: tuple[tuple[int, int], ...] = ()


class OvenSpec(Value):
    """One oven for the plan: minutes per degree up and down."""

    key: str
    name: str
    slots: int
    fan: bool
    heat_c_min: float
    cool_c_min: float
    room_c: float
    vent_m3_h: float = 6.0

    def lead(self, from_c: float | None, to_c: float) -> int:
        """Minutes from one setting to another; None: from the room."""
        start = known(from_c, self.room_c)
        if to_c > start + SAME_C:
            return round((to_c - start) / self.heat_c_min + (5 if from_c is None else 2))
        return 0 if abs(to_c - start) <= SAME_C else round((start - to_c) / self.cool_c_min)

    def fresh(self, from_c: float | None, to_c: float) -> int:
        """Minutes to a setting when it has stood switched off for a while since `from_c`."""
        return max(self.lead(None, to_c), 0 if from_c is None or from_c <= to_c else self.lead(from_c, to_c))


class MixerSpec(Value):
    """One mixer with its bowl."""

    key: str
    name: str


class Problem(Value):
    """All there is to plan. `now`: nothing new begins before it."""

    origin: datetime
    zone: str = "UTC"
    """The day's own, in which times are said"""
    threads: tuple[Thread, ...]
    blocks: tuple[Block, ...]
    ties: tuple[Tie, ...]
    dues: tuple[Due, ...]
    hands: tuple[Hands, ...]
    ovens: tuple[OvenSpec, ...]
    mixers: tuple[MixerSpec, ...]
    rings: int
    cold: int
    freezer: int
    wash_min: int = 4
    now: int
    end: int
    egg_size: EggSize = "EU M"

    def piece(self, at: At) -> Piece:
        """Return a piece."""
        return self.blocks[at.block].pieces[at.piece]

    def at(self, minute: int) -> datetime:
        """Return a minute as a moment."""
        return self.origin + timedelta(minutes=minute)

    def clock(self, minute: int) -> str:
        """Return a minute as the clock on the day's wall shows it."""
        return f"{self.at(minute).astimezone(ZoneInfo(self.zone)):%H:%M}"

    def minute(self, at: datetime) -> int:
        """Return a moment as a minute, rounded down."""
        return int((at - self.origin).total_seconds() // 60)

    def find(self, step: str) -> At | None:
        """Return where a step is."""
        for b, block in enumerate(self.blocks):
            for i, piece in enumerate(block.pieces):
                if piece.step == step:
                    return At(block=b, piece=i)
        return None


class Wash(Value):
    """A bowl washed between two jobs."""

    mixer: int
    after: int
    before: int
    start: int
    who: str


class Setting(Value):
    """An oven set for a block, so many minutes before it; `hot`: it came from the one before without cooling down."""

    oven: int
    block: int
    start: int
    lead: int
    hot: bool
    who: str


class Placed(Value):
    """Where a block stands in a solution. `people`: the shift keys that have each of its pieces."""

    start: int
    people: tuple[tuple[str, ...], ...]
    oven: int | None = None
    with_block: int | None = None
    """It goes into the oven with this one"""
    mixer: int | None = None


class Solution(Value):
    """Every block placed, the ovens set, the bowls washed."""

    blocks: tuple[Placed, ...]
    settings: tuple[Setting, ...]
    washes: tuple[Wash, ...]


def needs_wash(before: Bowl, after: Bowl) -> bool:
    """Whether a bowl is washed between two jobs: not where the next holds every allergen already, is heated no less, and bears fat.

    >>> needs_wash(Bowl(allergens=("egg",), heat=3), Bowl(allergens=("egg", "milk"), heat=3))
    False
    """
    if not set(before.allergens) <= set(after.allergens) or after.heat < before.heat:
        return True
    return before.fat and after.needs_clean


def may_share(first: Block, second: Block) -> Literal["no", "inside", "together"]:
    """Whether `second` may go into the oven of `first`: inside its time, only loaded with it, or not at all."""
    a, b = first.settings(), second.settings()
    if not a or not b or (first.fan is not None and second.fan is not None and first.fan != second.fan):
        return "no"
    steady = len(a) == len(b) == 1 and abs(a[0] - b[0]) <= SAME_C and not first.ends_off() and not second.ends_off()
    if steady and not (first.shut or second.shut):
        return "inside"
    same = len(a) == len(b) and all(abs(x - y) <= SAME_C for x, y in zip(a, b, strict=True)) and first.span("oven") is not None
    spans = first.span("oven"), second.span("oven")
    if same and spans[0] and spans[1]:
        lasts = (spans[0][1] - spans[0][0], spans[1][1] - spans[1][0])
        if steady and lasts[1] <= lasts[0]:
            return "together"
        if abs(lasts[0] - lasts[1]) <= 2:
            return "together"
    return "no"
