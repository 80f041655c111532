"""Shaping."""

from math import ceil

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe import shapes
from gullpeak.core.sheet.batch import Batch, Equipment, Making
from gullpeak.core.sheet.stations.base import GEOMETRY, Station, figure
from gullpeak.core.value import Figure, Remark, say


class ShapeStation(Station):
    """The pieces on their trays."""

    layout: shapes.TrayLayout
    trays: tuple[int, ...]
    loads: int
    section: tuple[shapes.SectionPart, ...]
    tare_g: float = 0.0


def work_out(making: Making) -> ShapeStation | None:
    """Return the station: the pieces on their trays. None where nothing is shaped."""
    recipe, kitchen, tools, batch = making
    if recipe.shape is None or batch.layout is None:
        return None
    return ShapeStation(
        key="shape",
        title=say("station.shape"),
        vital="trays",
        figures=_figures(recipe.shape, kitchen, tools, batch, batch.layout),
        remarks=tuple(_remarks(tools, batch, batch.layout)),
        layout=batch.layout,
        trays=batch.trays,
        loads=max(batch.loads, 1),
        tare_g=tools.tray.tare_g,
        section=shapes.KINDS[recipe.shape.kind].section(recipe.shape),
    )


def _figures(
    shape: shapes.Shape, kitchen: Kitchen, tools: Equipment, batch: Batch, layout: shapes.TrayLayout
) -> dict[str, Figure]:
    trays, volume = len(batch.trays), shapes.volume_ml(shape)
    foam_l = batch.foam_g / batch.density / 1000
    return {
        "trays": figure(
            trays,
            "trays" if trays > 1 else "tray",
            "modelled",
            say("shape.trays.rule"),
            GEOMETRY,
            ("on-a-full-tray", str(len(layout.centres))),
            ("tray", say("shape.trays.cm", length_mm=tools.tray.length_mm / 10, width_cm=tools.tray.width_mm / 10)),
            ("grows-in-the-oven", "8 %"),
        ),
        "pieces": figure(
            batch.pieces,
            "",
            "modelled",
            say("shape.pieces.rule"),
            GEOMETRY,
            ("foam", say("amount.g-0f", x=batch.foam_g)),
            ("a-piece", say("amount.g-1f", x=batch.piece_g)),
        ),
        "piece": figure(
            batch.piece_g,
            "g",
            "modelled",
            say("shape.piece.rule"),
            GEOMETRY,
            ("volume", say("amount.ml-1f", x=volume)),
            ("density", say("amount.g-ml-3f", x=batch.density)),
            low=volume * batch.density_band[0],
            high=volume * batch.density_band[1],
        ),
        "tray-mass": figure(
            max(batch.trays) * batch.piece_g,
            "g",
            "modelled",
            say("shape.tray-mass.rule"),
            GEOMETRY,
            ("pieces", str(max(batch.trays))),
        ),
        "bags": figure(
            ceil(foam_l / (0.8 * kitchen.bag_l)),
            "fills",
            "modelled",
            say("shape.bags.rule"),
            GEOMETRY,
            ("foam", say("amount.l-1f", x=foam_l)),
            ("bag", say("amount.l", x=kitchen.bag_l)),
        ),
        "loads": figure(
            max(batch.loads, 1),
            "loads" if batch.loads > 1 else "load",
            "modelled",
            say("shape.loads.rule"),
            GEOMETRY,
            ("slots", str(tools.oven.tray_slots)),
        ),
        "left": figure(max(batch.left_foam_g, 0.0), "g", "modelled", say("shape.left.rule"), GEOMETRY),
    }


def _remarks(tools: Equipment, batch: Batch, layout: shapes.TrayLayout) -> list[Remark]:
    trays = len(batch.trays)
    remarks: list[Remark] = []
    if batch.loads > 1 and batch.whisking is not None:
        remarks.append(
            Remark(
                severity="warning",
                says=say("shape.trays-want-oven-loads", trays=trays, loads=batch.loads),
                do=(
                    say("shape.whisk-batches-each-when", loads=batch.loads),
                    say("shape.make-most-load", slots=tools.oven.tray_slots * len(layout.centres)),
                ),
            )
        )
    if trays > tools.tray.count:
        remarks.append(
            Remark(
                severity="warning",
                says=say("shape.trays-wanted-kitchen", trays=trays, tray_count=tools.tray.count),
                do=(say("shape.make-fewer-smaller-use"),),
            )
        )
    small = 0.42 * 30**2 * 25 * 0.785 / 1000 * batch.density
    if small < batch.left_foam_g < batch.piece_g and batch.whisking is not None:
        remarks.append(
            Remark(
                severity="note",
                says=say("shape.foam-left-over", left_foam_g=batch.left_foam_g),
                do=(say("shape.pipe-kisses-gaps", left_foam_g=int(batch.left_foam_g / small)),),
            )
        )
    return remarks
