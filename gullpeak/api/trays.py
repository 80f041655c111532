"""Calibrating an oven by trays weighed as they dry."""

from fastapi import APIRouter

from gullpeak.api.places import EditedVersion, StoreOf
from gullpeak.app.errors import BadFieldError
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.log import calibration, learn
from gullpeak.core.log.calibration import Calibration, Constants, OvenScale, PlannedTray, TrayOfKisses
from gullpeak.core.value import Key, Value, say
from gullpeak.store.records import KitchenRecord, TrayRecord
from gullpeak.store.trays import Trays

router = APIRouter(prefix="/api/kitchen/trays", tags=["kitchen"])


class WeighedTray(TrayRecord):
    """A tray as it is kept, and what it says; `fit` is None until it has been weighed twice in the oven."""

    fit: Calibration | None


class PlannedTrayView(PlannedTray):
    """A tray of the plan, and whether one like it has been weighed."""

    done: bool


class TraysView(Value):
    """The trays, the newest first; what those of each oven say together; what all say of the model; the plan of twenty."""

    trays: tuple[WeighedTray, ...]
    ovens: tuple[OvenScale, ...]
    constants: Constants | None
    plan: tuple[PlannedTrayView, ...]
    version: int


class OvenAsked(Value):
    """An oven, by its key."""

    oven: Key


@router.get("")
def trays(store: StoreOf) -> TraysView:
    """Return every weighed tray with what it says, each oven's trays together, and the plan of twenty."""
    record = store.kitchen()
    found = tuple(WeighedTray(**t.model_dump(), fit=calibration.fit(t.tray, record.kitchen)) for t in Trays(store).all())
    told = [(t.tray, t.fit) for t in found if t.fit is not None]
    done = calibration.weighed(tray for tray, _ in told)
    scales = (calibration.together([x for x in told if x[0].oven == oven.key]) for oven in record.kitchen.ovens)
    return TraysView(
        trays=found,
        ovens=tuple(s for s in scales if s is not None),
        constants=calibration.constants(told, record.kitchen),
        plan=tuple(PlannedTrayView(**p.model_dump(), done=p.key in done) for p in calibration.PLAN),
        version=record.version,
    )


@router.put("/{tray_id}")
def put_tray(tray_id: Key, tray: TrayOfKisses, store: StoreOf, version: EditedVersion) -> WeighedTray:
    """Keep a tray as it stands: begun with version 0, then weighing by weighing."""
    kitchen = store.kitchen().kitchen
    if version == 0 and tray.oven not in {o.key for o in kitchen.ovens}:
        raise BadFieldError("oven", say("refused.kitchen-has-such-oven"))
    kept = Trays(store).put(tray_id, tray, version)
    return WeighedTray(**kept.model_dump(), fit=calibration.fit(kept.tray, kitchen))


@router.post("/use")
def use(asked: OvenAsked, store: StoreOf, version: EditedVersion) -> KitchenRecord:
    """Let sheets and plans count with what an oven's trays say; `/api/kitchen/fits/undo` puts it back."""
    kept = [t.tray for t in Trays(store).all() if t.tray.oven == asked.oven]

    def taken(kitchen: Kitchen | None) -> Kitchen:
        fitted = [] if kitchen is None else [(t, f) for t in kept if (f := calibration.fit(t, kitchen)) is not None]
        scale = calibration.together(fitted)
        if kitchen is None or scale is None:
            raise BadFieldError("oven", say("refused.tray-oven-says-enough"))
        name = next(o.name for o in kitchen.ovens if o.key == asked.oven)
        what = f"ovens/{asked.oven}/drying_scale"
        return learn.take(kitchen, what, scale.scale, say("learn.weighed-trays", name=name), store.now(), scale.trays)

    return store.edit_kitchen(taken, version)
