"""Shaping."""

from math import ceil

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet.batch import Batch, Equipment
from gullpeak.core.sheet.stations.base import GEOMETRY, Station, figure
from gullpeak.core.value import Remark


class ShapeStation(Station):
    """The pieces on their trays."""

    layout: shapes.TrayLayout
    trays: tuple[int, ...]
    loads: int
    section: tuple[shapes.SectionPart, ...]
    tare_g: float = 0.0


def work_out(recipe: Recipe, kitchen: Kitchen, tools: Equipment, batch: Batch) -> ShapeStation | None:
    """Return the station: the pieces on their trays. None where nothing is shaped."""
    if recipe.shape is None or batch.layout is None:
        return None
    trays, slots = len(batch.trays), tools.oven.tray_slots
    volume = shapes.volume_ml(recipe.shape)
    foam_l = batch.foam_g / batch.density / 1000
    figures = {
        "trays": figure(
            trays,
            "trays" if trays > 1 else "tray",
            "modelled",
            "Pieces ÷ what one tray holds, laid in straight or offset rows.",
            GEOMETRY,
            ("on a full tray", str(len(batch.layout.centres))),
            ("tray", f"{tools.tray.length_mm / 10:g} × {tools.tray.width_mm / 10:g} cm"),
            ("grows in the oven", "8 %"),
        ),
        "pieces": figure(
            batch.pieces,
            "",
            "modelled",
            "Foam that reaches the tray ÷ a piece.",
            GEOMETRY,
            ("foam", f"{batch.foam_g:.0f} g"),
            ("a piece", f"{batch.piece_g:.1f} g"),
        ),
        "piece": figure(
            batch.piece_g,
            "g",
            "modelled",
            "Volume × density of the foam.",
            GEOMETRY,
            ("volume", f"{volume:.1f} ml"),
            ("density", f"{batch.density:.3f} g/ml"),
            low=volume * batch.density_band[0],
            high=volume * batch.density_band[1],
        ),
        "tray-mass": figure(
            max(batch.trays) * batch.piece_g,
            "g",
            "modelled",
            "Foam on the fullest tray.",
            GEOMETRY,
            ("pieces", str(max(batch.trays))),
        ),
        "bags": figure(
            ceil(foam_l / (0.8 * kitchen.bag_l)),
            "fills",
            "modelled",
            "Foam volume ÷ four fifths of a bag.",
            GEOMETRY,
            ("foam", f"{foam_l:.1f} l"),
            ("bag", f"{kitchen.bag_l:g} l"),
        ),
        "loads": figure(
            max(batch.loads, 1),
            "loads" if batch.loads > 1 else "load",
            "modelled",
            "Trays ÷ slots in the oven.",
            GEOMETRY,
            ("slots", str(slots)),
        ),
        "left": figure(batch.left_foam_g, "g", "modelled", "Foam over when the last whole piece is piped.", GEOMETRY),
    }
    remarks: list[Remark] = []
    if batch.loads > 1 and batch.whisking is not None:
        remarks.append(
            Remark(
                severity="warning",
                says=f"{trays} trays want {batch.loads} oven loads, and foam does not wait.",
                do=(
                    f"whisk {batch.loads} batches, each when its oven is free",
                    f"or make {slots * len(batch.layout.centres)} at most in one load",
                ),
            )
        )
    if trays > tools.tray.count:
        remarks.append(
            Remark(
                severity="warning",
                says=f"{trays} trays wanted, {tools.tray.count} in the kitchen.",
                do=("make fewer or smaller, or use another tray",),
            )
        )
    small = 0.42 * 30**2 * 25 * 0.785 / 1000 * batch.density
    if batch.left_foam_g > small and batch.whisking is not None:
        remarks.append(
            Remark(
                severity="note",
                says=f"{batch.left_foam_g:.0f} g of foam left over.",
                do=(f"pipe {int(batch.left_foam_g / small)} kisses of 3 cm in the gaps",),
            )
        )
    return ShapeStation(
        key="shape",
        title="Shape",
        vital="trays",
        figures=figures,
        remarks=tuple(remarks),
        layout=batch.layout,
        trays=batch.trays,
        loads=max(batch.loads, 1),
        tare_g=tools.tray.tare_g,
        section=shapes.KINDS[recipe.shape.kind].section(recipe.shape),
    )
