"""When things go in, told by what is said with them: after which stage, folded last, off the heat, once cool."""

import re
from collections.abc import Mapping, Sequence

from gullpeak.core.kitchen.ingredients import Ingredient
from gullpeak.core.reading.amounts import Found
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.elements import Break, Element
from gullpeak.core.reading.names import Named
from gullpeak.core.value import nth

ENDS = ("take", "then")
"""Kinds of cues that begin anew what is spoken of."""


class Moments:
    """The moments of the lines of a part, told as its text goes on."""

    def __init__(self, text: str, lines: Sequence[tuple[int, Found]], book: Mapping[str, Ingredient]) -> None:
        self.text, self.book = text, book
        self.here: dict[int, list[Found]] = {}
        for start, found in lines:
            self.here.setdefault(start, []).append(found)
        self.lines = [found for _, found in lines]
        self.stage: str | None = None
        self.verb: str | None = None
        self.fold_at: tuple[int, int] | None = None
        self.group: list[Found] = []
        self.fresh = False
        """A comma stands before what comes"""
        self.told: list[tuple[int, int]] = []
        """Where names stand that were told a moment"""

    def tell(self, stream: Sequence[Element]) -> None:
        """Give every line its moment as far as the words tell it."""
        for at, e in enumerate(stream):
            match e:
                case Break():
                    self._breaks(e)
                case Cue(kind="fold"):
                    self._folds(at, e, stream)
                case Cue(kind="stage"):
                    self._reaches(e)
                case Cue(kind="when"):
                    for found in self.group:
                        self._give(found, e.key, (e.start, e.end))
                case Cue(kind="then" | "take" | "boil" | "add"):
                    self._begins(e)
                case Named():
                    self._named(e)

    def _breaks(self, e: Break) -> None:
        if e.how in ("line", "stop"):
            self.verb, self.group = None, []
        elif e.how == "comma":
            self.fresh = self.text[e.start] not in "/()"

    def _begins(self, cue: Cue) -> None:
        """Something else is done from here on; *the sugar goes in* speaks of what stands before it."""
        said = self.text[cue.start : cue.end].lower()
        if cue.kind == "add" and self.group and re.fullmatch(r"goes? in", said):
            self.verb = None
            return
        verbs = {
            "boil": None,
            "add": "add",
            "then": "add" if self.stage else None,
            "take": "put" if said == "put" and not self.stage else None,
        }
        self.verb, self.group = verbs[cue.kind], []

    def _folds(self, at: int, cue: Cue, stream: Sequence[Element]) -> None:
        """*Fold in the nuts* tells of what follows, *nuts, folded in* of what went before."""
        said = self.text[cue.start : cue.end].lower()
        ahead = next(
            (
                e
                for e in stream[at + 1 :]
                if isinstance(e, Named) or (isinstance(e, Break) and e.how in ("line", "stop", "comma"))
            ),
            None,
        )
        before = nth(stream, at - 1)
        leads = isinstance(before, Break | Cue) and (getattr(before, "how", "") == "and" or getattr(before, "kind", "") == "then")
        forward = isinstance(ahead, Named) and (
            re.match(r"(?:fold|sift|scatter|stir)(?!ed)", said) is not None or (leads and "end" in said)
        )
        if forward or not self.group:
            self.verb, self.fold_at, self.group = "fold", (cue.start, cue.end), []
            return
        for found in self.group:
            self._give(found, self._last(), (cue.start, cue.end))

    def _last(self) -> str:
        return "cooled" if self.stage == "cooled" else "folded last"

    def _reaches(self, cue: Cue) -> None:
        said = self.text[max(0, cue.start - 28) : cue.end].lower()
        under = cue.key == "before soft" and self.verb is None
        done = re.match(r"(?:take|remove)", self.text[cue.start : cue.end], re.I) is not None
        trailing = (
            under or (cue.key in ("off heat", "cooled") and not done) or re.search(r"\b(?:once|when|as|after)\b[^,.]*$", said)
        )
        if trailing and self.group and self.verb in (None, "add") and not (cue.key == "cooled" and self._names_base()):
            verbless = self.verb is None
            for found in self.group:
                if found.item.role not in ("white", "yolk", "whole egg") and (
                    verbless or found.moment is None or cue.key == "off heat"
                ):
                    self._give(found, cue.key, (cue.start, cue.end))
        self.stage = cue.key

    def _names_base(self) -> bool:
        return any(found.item.role in ("white", "yolk", "whole egg") for found in self.group)

    def _named(self, named: Named) -> None:
        spoken = self.here.get(named.start) or self._meant(named)
        if self.fresh and self.verb is None:
            self.group = []
        self.fresh = False
        self.group.extend(spoken)
        if spoken and (self.verb == "fold" or (self.verb == "add" and self.stage is not None)):
            self.told.append((named.start, named.end))
        for found in spoken:
            if self.verb == "fold":
                self._give(found, self._last(), self.fold_at)
            elif self.verb == "put":
                self._give(found, "start", None)
            elif self.verb == "add" and self.stage is not None and found.item.role not in ("white",):
                self._give(found, self.stage, None)

    def _meant(self, named: Named) -> list[Found]:
        """The lines that a name without an amount refers to: of its key, else of its kind."""
        said = self.text[named.start : named.end].lower()
        same = [found for found in self.lines if named.key and found.key == named.key]
        same = same or [found for found in self.lines if said in found.item.name.lower()]
        if same:
            return same
        role = named.role or (self.book[named.key].role if named.key else "")
        if role in ("flavour", "acid", "liquid", "white", "yolk", "whole egg"):
            return []
        return [found for found in self.lines if role and found.item.role == role]

    def _give(self, found: Found, moment: str, at: tuple[int, int] | None) -> None:
        found.moment, found.moment_at = moment, at
