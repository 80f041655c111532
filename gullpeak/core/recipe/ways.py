"""Ways of making: schools of meringue, egg creams, and everything that is not a foam of egg. A row of `ways.toml` each."""

import tomllib
from importlib import resources
from typing import TYPE_CHECKING, Literal

from pydantic import Field

from gullpeak.core.kitchen.ingredients import Role
from gullpeak.core.recipe.steps import ROWS, Row
from gullpeak.core.value import NOTHING, ByKey, Said, Value, say, whole_row

SugarKind = Literal["granulated", "caster", "icing", "glucose-syrup", "invert-sugar", "honey"]
Moment = Literal["syrup", "bath", "start", "froth", "before soft", "soft", "stiff", "folded last", "off heat", "cooled"]
IN_ORDER: tuple[Moment, ...] = (
    *("syrup", "bath", "start", "froth", "before soft", "soft", "stiff", "off heat", "cooled", "folded last"),
)
"""Moments as one follows the other, over all ways."""
StageName = Literal["loose", "frothy", "soft peak", "medium peak", "firm peak", "stiff glossy peak", "over-whisked"]
Made = Literal["dried", "sheet", "foam", "sabayon", "curd", "cream", "fruit", "sauce", "sponge", "pastry", "mix", "bought"]
"""What a batch makes, as far as signs of a fault differ."""
Material = Literal["foam", "shell", "sheet", "cream", "fruit", "curd", "pastry", "sponge", "ice", "sauce", "bits", "vessel"]
"""What a part is, to whatever it is put together with."""
Band = tuple[float, float]


class FoamRow(Value):
    """How a foam of white rises: minutes to each stage, and minutes whisked on after the heat, until hand-warm.

    rains: its sugar goes in while it is whisked, and when it does changes the rest. window: how long it stays at its best, times."""

    stages: dict[StageName, Band]
    rains: bool
    after_min: Band = (0.0, 0.0)
    window: float = 1.0


class Hold(Value):
    """Hours it holds, of its own or with an ingredient, and what to keep it as then."""

    hours: Band
    including: str | None = Field(None, alias="with")
    says: ByKey = NOTHING
    keeps: str | None = None


class Way(Value):
    """A way of making: what it may rest on, what it heats, how light it becomes, how it holds, its steps."""

    key: str
    rests_on: tuple[Role, ...]
    makes: Made
    material: Material
    form: str | None = None
    """The word the fault rules have for it"""
    says: ByKey = NOTHING
    steady: ByKey = NOTHING
    foam: FoamRow | None = None
    """Of a white that is whisked"""
    ribbon_c: float | None = None
    """An egg cream whisked warm: from here it holds a ribbon by its foam alone (craft)"""
    whips: bool = False
    heats: Literal["syrup", "bath"] | None = None
    """What of the recipe's `heat` it needs: a syrup in a pan, or the egg itself"""
    target_c: float | None = None
    """Where its heat begins, unless the recipe says"""
    cooked: Literal["no", "simmered", "baked"] = "no"
    simmer_min: float = 0.0
    moments: tuple[Moment, ...] = Field(min_length=1)
    """When something may go in"""
    sugar_at: Moment = "start"
    at: dict[Role, Moment] = Field({})
    """When a thing of a role goes in, unless the recipe says"""
    else_at: Moment = "start"
    """When everything else does"""
    sweetened_by: SugarKind | None = None
    pan_water: float = 0.0
    """g per g of sugar boiled, where the recipe says none"""
    hot_water: float = 0.0
    """g per g of white, hot into its bowl, where the recipe says none"""
    density: Band | None = None
    """None: by its sugar ratio"""
    loses: float = 0.0
    gives_water: float
    """How freely it wets what it touches, 0–1"""
    holds: tuple[Hold, ...]
    """The first whose ingredient is in it"""
    on_pie_h: Band = (2.0, 4.0)
    """Hours it stands on a finished pie without weeping much (craft estimate)"""
    keeps: str
    steps: tuple[str, ...]
    """Rows of `steps.toml`, between what is weighed and what is shaped"""

    @property
    def name(self) -> Said:
        """What a cook calls it."""
        return say(f"school.{self.key.replace(' ', '-')}")

    def nearest(self, moment: Moment) -> Moment:
        """Return when something goes in that a recipe has at a moment: of those this way has the nearest, the earlier of two."""
        if moment in self.moments:
            return moment
        at = IN_ORDER.index(moment)
        return min(self.moments, key=lambda m: (abs(IN_ORDER.index(m) - at), IN_ORDER.index(m)))

    def moment(self, role: Role) -> Moment:
        """Return when a thing of this role usually goes in."""
        return self.sugar_at if role == "sugar" else self.at.get(role, self.else_at)

    @property
    def settable(self) -> tuple[Row, ...]:
        """The steps of it whose oven heat, minutes or sign a cook may have otherwise."""
        return tuple(ROWS.rows[step] for step in self.steps if "settable" in ROWS.rows[step].tags)

    @property
    def egg_cream(self) -> bool:
        """Whether egg thickens in it over heat, and is used so: a sabayon, a curd."""
        return self.heats == "bath" and self.foam is None

    @property
    def plain(self) -> bool:
        """Whether it is neither a foam of white nor an egg cream."""
        return self.foam is None and not self.egg_cream

    @property
    def all_at_once(self) -> bool:
        """Whether white and sugar are whisked together from the start, unheated."""
        return self.foam is not None and not self.foam.rains and self.heats is None

    def hold(self, has: set[str]) -> Hold:
        """Return how it holds with these ingredients in it."""
        return next(h for h in self.holds if h.including is None or h.including in has)


def _read() -> dict[str, Way]:
    rows = tomllib.loads(resources.files(__package__).joinpath("ways.toml").read_text(encoding="utf-8"))
    return {key: Way.model_validate({"key": key, **whole_row(rows, key)}) for key in rows}


WAYS = _read()
"""Every way of making by its key."""
FOAMS = tuple(key for key, way in WAYS.items() if way.foam is not None)
"""The schools of meringue."""


if TYPE_CHECKING:
    School = str
else:
    School = Literal[tuple(WAYS)]
"""A way of making by its key."""
