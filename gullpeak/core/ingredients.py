"""What a meringue is weighed from: names by country, density, and what each brings to the bowl."""

from typing import Literal

from pydantic import Field

from gullpeak.core.value import Value

Role = Literal["white", "sugar", "acid", "starch", "salt", "flavour", "liquid"]


class Ingredient(Value):
    """One ingredient. Fractions are of its mass; density is loose, g/ml."""

    key: str
    name: str
    role: Role
    density: float
    water: float = 0.0
    sugar: float = 0.0
    starch: float = 0.0
    fat: float = 0.0
    also: tuple[str, ...] = Field((), description="What other countries call it")
    usual: tuple[float, float] | None = Field(None, description="Usual g per 100 g white")
    does: str = ""


def _table() -> dict[str, Ingredient]:
    rows = (
        Ingredient(key="egg-white", name="Egg white", role="white", density=1.035, water=0.876, fat=0.002, also=("albumen",)),
        Ingredient(key="granulated", name="Granulated sugar", role="sugar", density=0.85, sugar=1.0, also=("table sugar",)),
        Ingredient(
            key="caster", name="Caster sugar", role="sugar", density=0.88, sugar=1.0, also=("superfine sugar", "castor sugar")
        ),
        Ingredient(
            key="icing",
            name="Icing sugar",
            role="sugar",
            density=0.52,
            sugar=0.97,
            starch=0.03,
            also=("powdered sugar", "confectioners' sugar"),
            does="brings 3 % starch with it",
        ),
        Ingredient(
            key="cream-of-tartar", name="Cream of tartar", role="acid", density=0.65, usual=(0.5, 0.8), does="slows over-whisking"
        ),
        Ingredient(
            key="lemon-juice",
            name="Lemon juice",
            role="acid",
            density=1.03,
            water=0.92,
            usual=(2.0, 3.0),
            does="slows over-whisking",
        ),
        Ingredient(
            key="vinegar",
            name="White wine vinegar",
            role="acid",
            density=1.02,
            water=0.94,
            usual=(2.0, 3.0),
            does="slows over-whisking; with starch, a marshmallow centre",
        ),
        Ingredient(
            key="cornflour",
            name="Cornflour",
            role="starch",
            density=0.54,
            water=0.12,
            starch=0.88,
            also=("cornstarch",),
            does="softens the centre and holds water that would weep",
        ),
        Ingredient(key="salt", name="Fine salt", role="salt", density=1.2, does="weakens the foam slightly"),
        Ingredient(key="vanilla", name="Vanilla extract", role="flavour", density=0.88, water=0.6),
        Ingredient(key="rose-water", name="Rose water", role="flavour", density=1.0, water=1.0),
        Ingredient(key="lemon-zest", name="Lemon zest", role="flavour", density=0.4, water=0.8),
        Ingredient(key="freeze-dried-fruit", name="Dried fruit powder", role="flavour", density=0.45, water=0.03, sugar=0.6),
        Ingredient(
            key="ground-nuts",
            name="Ground nuts",
            role="flavour",
            density=0.45,
            water=0.05,
            fat=0.5,
            does="fat: fold in last, at the very end",
        ),
        Ingredient(
            key="cocoa",
            name="Cocoa",
            role="flavour",
            density=0.44,
            water=0.03,
            fat=0.12,
            starch=0.1,
            does="fat: fold in last, at the very end",
        ),
        Ingredient(
            key="water",
            name="Hot water",
            role="liquid",
            density=1.0,
            water=1.0,
            does="joins the white's water: more sugar can dissolve",
        ),
    )
    return {row.key: row for row in rows}


INGREDIENTS = _table()
