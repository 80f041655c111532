"""A part of a text taken apart where it can be no one batch: cream beside a foam, fruit on top, ice cream in a jacket."""

from collections.abc import Sequence

from gullpeak.core.reading.amounts import Found
from gullpeak.core.reading.elements import Break, Element

EGG = frozenset({"white", "yolk", "whole egg"})
CUSTARD = frozenset({"yolk", "whole egg"})
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
"""What begins a batch of its own where no egg is whisked or cooked with it, by key or by role."""
WITH_CREAM = frozenset({"spirit", "cheese", "liquid", "wine"})
"""What goes with a cream that is named before it."""
TOPS_G, WET = 100.0, 0.6
"""So much fresh fruit beside a foam goes on it, not into it."""
Group = tuple[str, list[Found]]


def split(lines: Sequence[Found]) -> list[list[Found]]:
    """Return the lines of a part, batch by batch: one where all of it is one."""
    roles = frozenset(found.item.role for found in lines)
    if "white" in roles and roles & CUSTARD and (turns := _in_turn(lines)) is not None:
        return [group for turn in turns for group in split(turn)]
    groups: list[Group] = []
    for found in lines:
        name = _lead(found, roles)
        if name is None:
            name = groups[-1][0] if groups and _follows(found, groups[-1][0], roles) else ""
        same = next((group for group in groups if group[0] == name), None)
        if same is None:
            groups.append((name, [found]))
        else:
            same[1].append(found)
    return [group for _, group in _without_unknown(_without_loose(groups))]


def _in_turn(lines: Sequence[Found]) -> list[list[Found]] | None:
    """A custard and a foam written one after the other, each from its egg on; None where they are not two with their sugar."""
    turns: list[list[Found]] = [[]]
    now: bool | None = None
    for found in lines:
        custard = found.item.role in CUSTARD
        if custard or found.item.role == "white":
            if now is not None and now != custard:
                turns.append([])
            now = custard
        turns[-1].append(found)
    sweet = all(any(f.item.role == "sugar" for f in turn) for turn in turns)
    return turns if len(turns) == 2 and sweet else None


def _lead(found: Found, roles: frozenset[str]) -> str | None:
    """Which batch a line begins; None where it goes with what is there."""
    lead = LEADS.get(found.key) or LEADS.get(found.item.role)
    if not roles & EGG and "flour" not in roles:
        return None if lead == "preserve" else lead
    if "white" not in roles:
        return lead if lead == "ice" else None
    if "cream" in roles:
        bits = found.item.role == "nuts" or (lead == "fruit" and found.item.water < WET)
        return "bits" if bits else lead
    tops = lead == "fruit" and (found.grams or 0.0) >= TOPS_G and found.item.water > WET
    return lead if lead in ("ice", "shells") or tops else None


def _follows(found: Found, last: str, roles: frozenset[str]) -> bool:
    """Whether a line that begins nothing goes with the batch before it."""
    creamed = "white" in roles and "cream" in roles
    return not roles & EGG or (creamed and last == "cream" and found.item.role in WITH_CREAM)


def _without_loose(groups: list[Group]) -> list[Group]:
    """What begins nothing goes with the first that does, unless egg or flour is in it."""
    loose = [lines for name, lines in groups if name == "" and not any(f.item.role in (*EGG, "flour") for f in lines)]
    if len(groups) < 2 or not loose:
        return groups
    kept = [(name, lines) for name, lines in groups if lines is not loose[0]]
    name, lines = kept[0]
    return [(name, [*loose[0], *lines]), *kept[1:]]


def _without_unknown(groups: list[Group]) -> list[Group]:
    """Bits of which no amount is known go into the foam: nothing could be made of them alone."""
    unknown = [lines for name, lines in groups[1:] if name == "bits" and not any(f.grams or f.low for f in lines)]
    kept = [(name, lines) for name, lines in groups if lines not in unknown]
    name, first = kept[0]
    return [(name, [*first, *(found for lines in unknown for found in lines)]), *kept[1:]]


def about(stream: Sequence[Element], mine: Sequence[Found], others: Sequence[Found]) -> list[Element]:
    """Return the elements about some lines of a part: all but those of the others, or what stands with them where another is first."""
    if all(mine[0].start <= other.start for other in others):
        return [e for e in stream if not _in(e, others)]
    out, own = [], False
    for e in stream:
        if _in(e, mine):
            own = True
        elif _in(e, others) or (isinstance(e, Break) and e.how in ("line", "stop")):
            own = False
        if own:
            out.append(e)
    return out


def _in(e: Element, lines: Sequence[Found]) -> bool:
    return any(found.start <= e.start < found.end for found in lines)
