"""Parts of a text, each of which becomes a recipe: by headings, and by what can be no one batch (cream beside a foam, fruit on top)."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from gullpeak.core.kitchen.ingredients import Ingredient
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.reading import cues, pieces, ways
from gullpeak.core.reading.amounts import Found, used_otherwise
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.heats import Finder, Heats
from gullpeak.core.reading.lines import Binder
from gullpeak.core.reading.measures import Measure
from gullpeak.core.reading.moments import Moments
from gullpeak.core.reading.names import Named, Names
from gullpeak.core.reading.pieces import Piece, Yield
from gullpeak.core.reading.text import Break, Cut, Element
from gullpeak.core.recipe.ways import WAYS

EGG = ("white", "yolk", "whole egg")
LEADS = {
    "preserve": "preserve",
    "cream": "cream",
    "cheese": "cream",
    "fruit": "fruit",
    "ice cream": "ice",
    "meringue-shell": "shells",
    "sponge-fingers": "fingers",
    "pastry-baked": "pastry",
}
"""What begins a part of its own where no egg is whisked or cooked with it, by key or by role."""
WARMED_C = 82.0
"""Whites and sugar are warmed together to no more: above that a figure is an oven's."""
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


def parts(cut: Cut, names: Names, habits: Habits) -> list[PartText]:
    """Return the parts of a text in the order they stand in, each with its way."""
    out: list[PartText] = []
    rest: list[list[Element]] = []
    later: list[tuple[str, Measure]] = []
    known: frozenset[str] = frozenset()
    title = cut.text[cut.title[0] : cut.title[1]]
    for block in cut.blocks:
        if block.notes:
            continue
        heading = "" if block.heading is None else cut.text[slice(*block.heading)]
        binder = Binder(cut.text, block.elements, names, habits)
        method = cues.has(heading, "method") and re.match(r"\W*(?:method|instruct|direct)", heading, re.I) is not None
        if method and known:
            binder.follow(known)
        else:
            binder.list_lines(known)
        lines = [found for _, found in binder.lines]
        if not lines or (method and out):
            rest.append(block.elements)
            later.extend(binder.later)
            if out:
                out[0].lines.extend(lines)
                out[0].binder.lines.extend(binder.lines)
                out[0].binder.more_used |= binder.used_at
            continue
        if re.match(r"\W*(?:ingredients|you need)\b", heading, re.I):
            heading = ""
        name = re.sub(r"^(?:for|to make) (?:the|a|an) ", "", heading.strip().rstrip(":–— -").strip(), flags=re.I)
        later.extend(binder.later)
        out.extend(_split(PartText(name, lines, list(block.elements), binder, block.heading)))
        known |= {found.key for found in lines}
    _share_method(cut, out, rest)
    for part in out:
        for found in part.lines:
            role = found.item.role == "sugar" and sum(f.item.role == "sugar" for f in part.lines) == 1
            used = [q for key, q in later if key == found.key or (role and key == "granulated")]
            used_otherwise(found, used, habits)
    for part in out:
        _understand(part, cut.text, habits, title)
    return [part for part in out if part.way]


def _split(part: PartText) -> list[PartText]:
    """A part with what cannot be one batch taken apart."""
    egg = bool(part.roles & set(EGG))
    flour = "flour" in part.roles
    white = "white" in part.roles
    groups: list[tuple[str, list[Found]]] = []
    creamed = white and "cream" in part.roles
    for found in part.lines:
        lead = LEADS.get(found.key) or LEADS.get(found.item.role)
        if egg or flour:
            if white and not creamed:
                lead = (
                    lead
                    if lead in ("ice", "shells")
                    or (lead == "fruit" and found.grams is not None and found.grams >= 100 and found.item.water > 0.6)
                    else None
                )
            elif not white:
                lead = "ice" if lead == "ice" else None
            if lead == "preserve" and not creamed:
                lead = None
            if creamed and found.item.role == "nuts":
                lead = "bits"
            if creamed and lead == "fruit" and (found.item.water < 0.6):
                lead = "bits"
        groups_named = [name for name, _ in groups]
        if lead is None:
            follows = bool(groups) and (
                not egg or (creamed and groups[-1][0] == "cream" and found.item.role in ("spirit", "cheese", "liquid", "wine"))
            )
            target = groups[-1][0] if follows and groups[-1][0] != "" else ""
        else:
            target = lead
        if target in groups_named:
            groups[groups_named.index(target)][1].append(found)
        else:
            groups.append((target, [found]))
    groups = _loose(groups)
    if len(groups) < 2:
        return [part]
    return [
        PartText(
            part.name if i == 0 else "",
            lines,
            _about(part.stream, lines, [f for _, g in groups if g is not lines for f in g]),
            part.binder,
            part.heading if i == 0 else None,
        )
        for i, (_, lines) in enumerate(groups)
    ]


def _loose(groups: list[tuple[str, list[Found]]]) -> list[tuple[str, list[Found]]]:
    """What leads nothing goes with the first that does, unless egg or flour is in it."""
    out = []
    for name, lines in groups:
        if name == "" and len(groups) > 1 and not any(f.item.role in (*EGG, "flour") for f in lines):
            continue
        out.append((name, list(lines)))
    stray = [f for name, lines in groups for f in lines if name == "" and all(f not in kept for _, kept in out)]
    if out and stray:
        out[0] = (out[0][0], [*stray, *out[0][1]])
    return out


def _about(stream: Sequence[Element], mine: list[Found], others: list[Found]) -> list[Element]:
    """The elements of a part that are not about another that was taken out of it: their lines, and what stands in the same line."""
    own = {f.start for f in mine}
    first = min(own)
    if any(f.start < first for f in others):
        lows = {f.start for f in others}
        out, mine_now = [], False
        for e in stream:
            if any(f.start <= e.start < f.end for f in mine):
                mine_now = True
            elif e.start in lows or any(f.start <= e.start < f.end for f in others) or (isinstance(e, Break) and e.how in ("line", "stop")):
                mine_now = False
            if mine_now:
                out.append(e)
        return out
    return [e for e in stream if not any(f.start <= e.start < f.end for f in others)]


def _share_method(cut: Cut, found: list[PartText], rest: list[list[Element]]) -> None:
    """Give sentences that list nothing of their own to the part they speak of."""
    if not found:
        return
    loose = [sentence for stream in rest for sentence in _sentences(stream)]
    if len(found) > 1:
        for part in found:
            listed = {f.start for f in part.lines}
            last = max(f.end for f in part.lines)
            kept: list[Element] = []
            kept_stream, told = _of_others(part, last)
            loose.extend(told)
            for paragraph in _paragraphs(cut.text, kept_stream):
                if (
                    paragraph
                    and paragraph[0].start > last
                    and not any(e.start in listed for e in paragraph)
                    and _prose(cut.text, paragraph)
                ):
                    loose.extend(_sentences(paragraph))
                else:
                    kept.extend(paragraph)
            part.stream = kept
    focus = next((p for p in found if "white" in p.roles), found[0])
    items = found[0].binder.book.items
    for sentence in sorted(loose, key=lambda s: s[0].start):
        named = [p for e in sentence if isinstance(e, Named) for p in _meant(e, found, items)]
        bakes = any(isinstance(e, Cue) and e.kind == "oven" for e in sentence) and bool(focus.roles & {"white", "flour"})
        if named and focus not in named and not bakes:
            focus = named[0]
        focus.stream.extend(sentence)


def _of_others(part: PartText, last: int) -> tuple[list[Element], list[list[Element]]]:
    """The elements of a part without sentences behind its lines that speak of an oven or a piece, where it has neither."""
    if part.roles & {"white", "flour"}:
        return part.stream, []
    kept: list[Element] = []
    told = []
    for sentence in _sentences(part.stream):
        speaks = any(isinstance(e, Cue) and e.kind in ("oven", "fan", "off", "shape", "vague-oven") for e in sentence)
        if speaks and sentence[0].start > last:
            told.append(sentence)
        else:
            kept.extend(sentence)
    return kept, told


def _meant(named: Named, found: Sequence[PartText], items: Mapping[str, Ingredient]) -> list[PartText]:
    """The parts that a name refers to: those that list it, else those that list something of its kind."""
    same = [part for part in found if any(f.key == named.key for f in part.lines)]
    role = named.role or (items[named.key].role if named.key else "")
    return same or [part for part in found if role and role in part.roles]


def _prose(text: str, paragraph: Sequence[Element]) -> bool:
    said = text[paragraph[0].start : paragraph[-1].end]
    return len(said.split()) >= 6 and sum(isinstance(e, Cue) for e in paragraph) >= 2


def _paragraphs(text: str, stream: Sequence[Element]) -> list[list[Element]]:
    out: list[list[Element]] = [[]]
    for e in stream:
        if out[-1] and re.search(r"\n[ \t]*\n", text[out[-1][-1].start : e.start + 1]):
            out.append([])
        out[-1].append(e)
    return out


def _sentences(stream: Sequence[Element]) -> list[list[Element]]:
    out: list[list[Element]] = [[]]
    for e in stream:
        out[-1].append(e)
        if isinstance(e, Break) and e.how in ("line", "stop"):
            out.append([])
    return [sentence for sentence in out if sentence]


def _understand(part: PartText, text: str, habits: Habits, title: str) -> None:
    """Tell the way of a part, then when things go in, its heats, its shape and how many it makes."""
    kinds = frozenset(e.kind for e in part.stream if isinstance(e, Cue))
    used = part.binder.used_at

    def heats(of: str | None) -> Heats:
        return Finder(text, part.stream, used, habits, of).find()

    syrup = any(
        _of_syrup(t.c, text, t.start) or (t.c[0] >= 105 and {"water", "glucose-syrup"} & {f.key for f in part.lines})
        for t in heats("syrup").targets
    )
    bath = any(t.c[1] <= WARMED_C for t in heats("bath").targets)
    hot = any(
        re.match(r"(?:hot|boiling)", text[e.start : e.end], re.I)
        for e in part.stream
        if isinstance(e, Named) and e.key == "water"
    )
    said = f"{title} {part.name}"
    called = frozenset(word for word in CALLED if re.search(CALLED[word], said, re.I))
    facts = ways.Facts(part.roles, frozenset(f.key for f in part.lines), kinds, syrup, bath, hot and "boil" not in kinds, called)
    found = _made_as(part, text) or ways.recognise(facts)
    if found is None:
        return
    part.way, part.why = found
    way = WAYS[part.way]
    part.heats = Finder(text, part.stream, used, habits, way.heats, egg_cream=way.egg_cream).find()
    mine = {id(found) for found in part.lines}
    moments = Moments(text, [(at, f) for at, f in part.binder.lines if id(f) in mine], part.binder.book.items)
    moments.tell(part.stream)
    part.told = moments.told
    part.piece = pieces.piece(text, part.stream)
    part.made = pieces.yields(text, part.stream)


def _made_as(part: PartText, text: str) -> tuple[str, str] | None:
    """The way that the words name: *made as Swiss*."""
    for e in part.stream:
        if isinstance(e, Cue) and e.kind == "made":
            way = re.sub(r"^made as:?\s*", "", text[e.start : e.end], flags=re.I).strip().lower()
            if way in WAYS and any(f.item.role in WAYS[way].rests_on for f in part.lines):
                return way, "called-way"
    return None


def _of_syrup(c: tuple[float, float], text: str, at: int) -> bool:
    return c[0] >= 105 and re.search(r"(?:to|until|till|at|>|reach(?:es)?)\s*$", text[:at]) is not None


def amounts_end(stream: Sequence[Element]) -> int:
    """Return where the last quantity of a stream ends."""
    return max((e.end for e in stream if isinstance(e, Measure)), default=0)
