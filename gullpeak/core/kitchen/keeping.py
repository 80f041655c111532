"""How long things keep: a table the kitchen can edit, each row with its source. No row means not known."""

from typing import Literal

from pydantic import Field

from gullpeak.core.value import Key, Name, Text, Value

Where = Literal["tight tin", "room", "chilled", "frozen", "warm"]


class KeepRow(Value):
    """One row: what, where, for how many hours, and who says so."""

    key: Key
    name: Name
    where: Where = "chilled"
    hours: float = Field(gt=0, le=20000)
    source: Text = Field(description="Where the figure comes from")


BENCH = "Bench practice; your local code goes before it"
CODE = "Model food code: ready-to-eat, held at 5 °C or below, seven days at most; less by bench practice"

KEEPING: tuple[KeepRow, ...] = (
    KeepRow(key="dried-meringue", name="Dried shell, empty", where="tight tin", hours=336, source=BENCH),
    KeepRow(key="soft-meringue", name="Meringue with a soft core", where="room", hours=24, source=BENCH),
    KeepRow(key="sheet", name="Soft sheet, unfilled, wrapped", where="room", hours=18, source=BENCH),
    KeepRow(key="filled-shell", name="Shell, filled", where="chilled", hours=4, source=BENCH),
    KeepRow(key="foam-raw", name="Raw foam", where="chilled", hours=0.3, source=BENCH),
    KeepRow(key="foam-syrup", name="Syrup foam", where="chilled", hours=24, source=BENCH),
    KeepRow(key="sabayon-warm", name="Sabayon, warm", where="warm", hours=0.25, source=BENCH),
    KeepRow(key="sabayon-cold", name="Sabayon, cold, carried by cream or gelatine", hours=24, source=BENCH),
    KeepRow(key="curd", name="Curd", hours=96, source=CODE),
    KeepRow(key="whipped-cream", name="Whipped cream", hours=12, source=BENCH),
    KeepRow(key="compote", name="Compote or thickened juice", hours=96, source=CODE),
    KeepRow(key="cut-fruit", name="Cut or soaked fruit", hours=24, source=BENCH),
    KeepRow(key="raw-fruit-sauce", name="Raw fruit sauce", hours=48, source=BENCH),
    KeepRow(key="preserve", name="Preserve, opened", hours=336, source=BENCH),
    KeepRow(key="sponge", name="Sponge, wrapped", where="room", hours=36, source=BENCH),
    KeepRow(key="pastry", name="Baked pastry, empty", where="tight tin", hours=72, source=BENCH),
    KeepRow(key="filled-pastry", name="Pastry, filled", hours=6, source=BENCH),
    KeepRow(key="dry-goods", name="Nuts, powders, crumbs", where="tight tin", hours=336, source=BENCH),
    KeepRow(key="frozen-core", name="Frozen core", where="frozen", hours=720, source=BENCH),
    KeepRow(key="roll", name="Roll, filled", hours=24, source=BENCH),
    KeepRow(key="pie", name="Meringue pie", hours=12, source=BENCH),
    KeepRow(key="mousse-pie", name="Mousse pie", hours=36, source=BENCH),
    KeepRow(key="mousse", name="Mousse, set", hours=36, source=BENCH),
    KeepRow(key="jacket", name="Jacket, coloured", where="warm", hours=0.05, source=BENCH),
    KeepRow(key="frozen-dessert", name="Frozen dessert, wrapped", where="frozen", hours=336, source=BENCH),
    KeepRow(key="glass", name="Layered glass", hours=6, source=BENCH),
    KeepRow(key="yolks", name="Yolks, covered", hours=48, source=CODE),
    KeepRow(key="whites", name="Whites, covered", hours=96, source=CODE),
    KeepRow(
        key="eggs-in-shell", name="Eggs in the shell", hours=504, source="Common rule: 28 days from laying, a week of them gone"
    ),
    KeepRow(key="egg-carton", name="Pasteurised egg, opened", hours=48, source="As most cartons say; the carton goes before it"),
    KeepRow(key="egg-dried", name="Dried egg, opened", where="tight tin", hours=4380, source=BENCH),
    KeepRow(key="yolks-frozen", name="Yolks with a little sugar, frozen", where="frozen", hours=2190, source=BENCH),
    KeepRow(key="whites-frozen", name="Whites, frozen", where="frozen", hours=4380, source=BENCH),
)


def keeps(rows: tuple[KeepRow, ...], key: str) -> KeepRow | None:
    """Return the row for a key, or None: not known."""
    return next((row for row in rows if row.key == key), None)
