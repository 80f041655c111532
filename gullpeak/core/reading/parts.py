"""Parts of a text, each of which becomes a recipe: by headings, and by what can be no one batch (cream beside a foam, fruit on top)."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field

from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.reading import pieces, splitting, ways
from gullpeak.core.reading.amounts import Found, used_otherwise
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.elements import Element
from gullpeak.core.reading.heats import Finder, Heated, Heats, Target
from gullpeak.core.reading.lines import Binder
from gullpeak.core.reading.measures import Measure
from gullpeak.core.reading.moments import Moments
from gullpeak.core.reading.names import Named, Names
from gullpeak.core.reading.phrasing import pattern
from gullpeak.core.reading.pieces import Piece, Yield
from gullpeak.core.reading.sharing import share
from gullpeak.core.reading.text import Block, Cut
from gullpeak.core.recipe.ways import WAYS

WARMED_C = 82.0
"""Whites and sugar are warmed together to no more: above that a figure is an oven's."""
LEAST_SYRUP_C = 105.0
"""A syrup for a foam is boiled to no less."""
METHOD = re.compile(r"\W*(?:method|instruct|direct)", re.I)
BARE_HEADING = re.compile(r"\W*(?:ingredients|you need)\b", re.I)
"""A heading that calls nothing by a name."""
CALLED = {
    "italian": r"\bitalian",
    "swiss": r"\bswiss",
    "curd": r"\bcurd",
    "sabayon": r"\bsabayon|\bsab\b|\bzab",
    "compote": r"\bcompote|\bcomp\b",
    "coulis": r"\bcoulis",
}
"""What a title or a heading calls by a way's name."""


@dataclass
class PartText:
    """What one part of a text tells: its name, its lines, the elements about it, the way it is made and why."""

    name: str
    lines: list[Found]
    stream: list[Element]
    binder: Binder
    heading: tuple[int, int] | None = None
    called: str = ""
    titled: str | None = None
    """What its title or heading calls a piece"""
    notes: str = ""
    prepared: dict[str, str] = field(default_factory=dict)
    """How a thing is made ready, with its name before it, by its name"""
    noted: list[tuple[int, int]] = field(default_factory=list)
    """What is only a note, as the cook says"""
    way: str = ""
    why: str = ""
    heats: Heats = field(default_factory=lambda: Heats([], [], []))
    piece: Piece = field(default_factory=Piece)
    told: list[tuple[int, int]] = field(default_factory=list)
    """Where names stand that say when a line goes in"""
    made: Yield = field(default_factory=Yield)

    @property
    def roles(self) -> frozenset[str]:
        """What kinds of things are in it."""
        return frozenset(found.item.role for found in self.lines)

    @property
    def frozen(self) -> bool:
        """Whether its words freeze it."""
        return any(isinstance(e, Cue) and e.kind == "freeze" for e in self.stream)

    @property
    def texture(self) -> str | None:
        """What its words want it to be within."""
        return next((e.key for e in self.stream if isinstance(e, Cue) and e.kind == "texture"), None)


class _Listing:
    """The parts of a text as its blocks are gone through: what is listed, and what only tells what to do with it."""

    def __init__(self, cut: Cut, names: Names, habits: Habits) -> None:
        self.cut, self.names, self.habits = cut, names, habits
        self.parts: list[PartText] = []
        self.rest: list[list[Element]] = []
        self.later: list[tuple[str, Measure]] = []

    def add(self, block: Block) -> None:
        """Take a block in."""
        text = self.cut.text
        heading = "" if block.heading is None else text[slice(*block.heading)]
        binder = Binder(text, block.elements, self.names, self.habits)
        known = frozenset(found.key for part in self.parts for found in part.lines)
        method = METHOD.match(heading) is not None and bool(known)
        if method:
            binder.follow(known)
        else:
            binder.list_lines(known)
        self.later.extend(binder.later)
        lines = [found for _, found in binder.lines]
        if method or not lines:
            self.rest.append(block.elements)
            self._more_of_first(binder, lines)
            return
        called = "" if BARE_HEADING.match(heading) else heading.strip().rstrip(":–— -").strip()
        name = pattern("for-the").sub("", called)
        groups = splitting.split(lines)
        for i, mine in enumerate(groups):
            others = [found for group in groups if group is not mine for found in group]
            stream = splitting.about(block.elements, mine, others) if others else list(block.elements)
            self.parts.append(PartText("" if i else name, mine, stream, binder, None if i else block.heading))

    def _more_of_first(self, binder: Binder, lines: Sequence[Found]) -> None:
        """What only the telling lists belongs to what is made first."""
        if self.parts:
            first = self.parts[0]
            first.lines.extend(lines)
            first.binder.lines.extend(binder.lines)
            first.binder.more_used |= binder.used_at


def parts(cut: Cut, names: Names, habits: Habits) -> list[PartText]:
    """Return the parts of a text in the order they stand in, each with its way."""
    listing = _Listing(cut, names, habits)
    for block in cut.blocks:
        if not block.notes:
            listing.add(block)
    share(cut.text, listing.parts, listing.rest, names.items)
    title = cut.text[slice(*cut.title)]
    for part in listing.parts:
        _compare_used(part, listing.later, habits)
        _understand(part, cut.text, habits, title)
    made = [part for part in listing.parts if part.way]
    return made if any(found.own is None for part in made for found in part.lines) else []


def _compare_used(part: PartText, later: Sequence[tuple[str, Measure]], habits: Habits) -> None:
    """Ask where what is used of a line is another amount; *sugar* is the one there is."""
    sugars = [found for found in part.lines if found.item.role == "sugar"]
    for found in part.lines:
        only_sugar = len(sugars) == 1 and found is sugars[0]
        used = [q for key, q in later if key == found.key or (only_sugar and key == "granulated")]
        used_otherwise(found, used, habits)


def _understand(part: PartText, text: str, habits: Habits, title: str) -> None:
    """Tell the way of a part, then when things go in, its heats, its shape and how many it makes."""

    def heats(of: Heated | None) -> Heats:
        return Finder(text, part.stream, part.binder.used_at, habits, of).find()

    facts = _facts(part, text, f"{title} {part.name}", (heats("syrup").targets, heats("bath").targets))
    found = _made_as(part, text) or ways.recognise(facts)
    if found is None:
        return
    part.way, part.why = found
    way = WAYS[part.way]
    part.heats = heats("egg" if way.egg_cream else way.heats)
    mine = {id(found) for found in part.lines}
    moments = Moments(text, [(at, f) for at, f in part.binder.lines if id(f) in mine], part.binder.book.items)
    moments.tell(part.stream)
    part.told = moments.told
    _prepare(part, text)
    part.piece = pieces.piece(text, part.stream)
    part.made = pieces.yields(text, part.stream)


def _prepare(part: PartText, text: str) -> None:
    """Keep how things are made ready with them: *Butter: cold, cubed*."""
    for e in part.stream:
        if isinstance(e, Cue) and e.kind == "prep":
            line_start = text.rfind("\n", 0, e.start)
            mine = [found for found in part.lines if line_start < found.start <= e.start]
            if mine:
                name, said = mine[-1].item.name, text[e.start : e.end]
                part.prepared[name] = f"{part.prepared[name]}, {said}" if name in part.prepared else f"{name}: {said}"
                part.told.append((e.start, e.end))


def _facts(part: PartText, text: str, said: str, heats: tuple[Sequence[Target], Sequence[Target]]) -> ways.Facts:
    """What a part says of its way. said: its title and heading; heats: those that may be a syrup's, a bath's."""
    kinds = frozenset(e.kind for e in part.stream if isinstance(e, Cue))
    keys = frozenset(found.key for found in part.lines)
    waters = [text[e.start : e.end].lower() for e in part.stream if isinstance(e, Named) and e.key == "water"]
    syrup, bath = heats
    return ways.Facts(
        roles=part.roles,
        keys=keys,
        cues=kinds,
        syrup_heat=any(_of_syrup(target, text, in_pan=bool(keys & {"water", "glucose-syrup"})) for target in syrup),
        bath_heat=any(target.c[1] <= WARMED_C for target in bath),
        hot_water="boil" not in kinds and any(water.startswith(("hot", "boiling")) for water in waters),
        called=frozenset(word for word, pattern in CALLED.items() if re.search(pattern, said, re.I)),
    )


def _of_syrup(target: Target, text: str, *, in_pan: bool) -> bool:
    """Whether a heat is that of a syrup: it is led to by *to* or *until*, or there is water for the pan."""
    led_to = re.search(r"(?:to|until|till|at|>|reach(?:es)?)\s*$", text[: target.start]) is not None
    return target.c[0] >= LEAST_SYRUP_C and (led_to or in_pan)


def _made_as(part: PartText, text: str) -> tuple[str, str] | None:
    """The way that the words name: *made as: swiss*."""
    for e in part.stream:
        if isinstance(e, Cue) and e.kind == "made":
            way = re.sub(r"^made as:?\s*", "", text[e.start : e.end], flags=re.I).strip().lower()
            if way in WAYS and any(f.item.role in WAYS[way].rests_on for f in part.lines):
                return way, "called-way"
    return None
