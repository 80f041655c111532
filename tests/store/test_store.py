import json
from pathlib import Path

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import text

from gullpeak.core.bench import process as processes
from gullpeak.core.bench.run import Event, UnknownStepError
from gullpeak.core.recipe.recipe import Recipe, Scale
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.store import documents
from gullpeak.store.database import open_database
from gullpeak.store.records import BatchRecord, NotFoundError, StaleEditError
from gullpeak.store.repository import Store
from gullpeak.store.tables import Base
from gullpeak.store.troubles import DataTroubleError
from tests.conftest import Ticking
from tests.store.older import back_to
from tests.words import en, refused

NESTS = RECIPES["sea-wall-nests"]


def start(store: Store, batch_id: str = "b1") -> BatchRecord:
    sheet = work_out(NESTS, KITCHEN)
    return store.start_batch(
        BatchRecord(
            id=batch_id,
            recipe_id="sea-wall-nests",
            recipe_version=1,
            name=sheet.name,
            started_at=store.now(),
            finished_at=None,
            kitchen=KITCHEN,
            sheet=sheet,
            process=processes.steps(sheet),
        )
    )


def done(number: int, step: str, **what: object) -> Event:
    return Event.model_validate({"id": f"{number:08x}", "kind": "step done", "at": "2026-05-02T09:00:00Z", "step": step, **what})


def test_migrations_make_the_tables_the_code_expects(store):
    with store.db.read() as session:
        context = MigrationContext.configure(session.connection())
        found = compare_metadata(context, Base.metadata)
        # The index of words is SQLite's own, with tables of its own behind it.
        found = [d for d in found if not (d[0] == "remove_table" and d[1].name.startswith("log_words"))]
        assert [d for d in found if d[0] not in ("add_index", "remove_index")] == []


def test_old_batches_keep_the_version_they_used(store):
    start(store)
    store.put_recipe("sea-wall-nests", NESTS.model_copy(update={"name": "Sea-wall nests, lighter"}), 1)
    assert store.recipe("sea-wall-nests").version == 2
    assert store.recipe("sea-wall-nests", 1).recipe == NESTS
    assert store.batch("b1").sheet.recipe == NESTS
    assert [r.version for r in store.recipe_versions("sea-wall-nests")] == [2, 1]


def test_a_stale_edit_is_refused_with_the_newer_version(store):
    store.put_recipe("sea-wall-nests", NESTS.model_copy(update={"name": "Mine"}), 1)
    with pytest.raises(StaleEditError) as caught:
        store.put_recipe("sea-wall-nests", NESTS.model_copy(update={"name": "Yours"}), 1)
    assert en(caught.value.current.recipe.name) == "Mine"
    with pytest.raises(StaleEditError):
        store.put_kitchen(KITCHEN, 7)


def test_an_event_sent_twice_is_there_once_and_in_order(store):
    start(store)
    first, second = done(1, "kit"), done(2, "separate")
    store.append("b1", [first])
    again = store.append("b1", [first, second])
    assert [r.event.id for r in again] == [first.id, second.id]
    assert [r.event.id for r in store.events("b1")] == [first.id, second.id]
    assert store.events("b1", after=again[0].seq)[0].event == second


def test_one_event_that_does_not_fit_keeps_the_whole_lot_out(store):
    start(store)
    with pytest.raises(UnknownStepError):
        store.append("b1", [done(1, "kit"), done(2, "dance")])
    assert store.events("b1") == []
    with pytest.raises(NotFoundError):
        store.append("nowhere", [done(1, "kit")])


def test_what_was_acknowledged_is_on_the_disk(store, tmp_path: Path):
    start(store)
    store.append("b1", [done(1, "kit")])
    other = Store(open_database(tmp_path / "data" / "test.db"), store.now)
    assert [r.event.step for r in other.events("b1")] == ["kit"]


def test_weighing_the_white_remakes_the_plan_and_taking_it_back_restores_it(store):
    planned = start(store).sheet
    white = done(1, "separate", kind="reading", name="white", value=260)
    store.append("b1", [white])
    remade = store.batch("b1").sheet
    assert remade.base_g == 260
    assert remade.pieces > planned.pieces
    store.append("b1", [done(2, "separate", kind="taken back", takes_back=white.id)])
    assert store.batch("b1").sheet == planned


def test_starting_the_same_batch_twice_starts_one(store):
    start(store)
    start(store)
    assert len(store.batches()) == 1


def test_documents_of_the_first_line_are_carried_over(tmp_path):
    """A database as the first line left it: recipes by their whites, batches by their white."""
    path = tmp_path / "old.db"
    first = Store(open_database(path), Ticking())
    first.put_kitchen(KITCHEN, None)
    sheet = work_out(RECIPES["sea-wall-nests"], KITCHEN)
    now = sheet.model_dump(mode="json")
    recipe = RECIPES["sea-wall-nests"].model_dump(mode="json")
    with first.db.write() as s:
        old = _as_first_line(recipe)
        s.execute(text("insert into recipe (id, version) values ('old', 1)"))
        s.execute(text("insert into recipe_version values ('old', 1, :doc, '2026-01-01 00:00:00')"), {"doc": json.dumps(old)})
        s.execute(
            text("insert into batch values ('b1', 'old', 1, 'Old', '2026-01-01 00:00:00', null, :kitchen, :sheet, :process)"),
            {
                "kitchen": KITCHEN.model_dump_json(),
                "sheet": json.dumps(_old_sheet(now)),
                "process": processes.steps(sheet).model_dump_json(),
            },
        )
        back_to(s, "0001")
    first.close()
    moved = Store(open_database(path), Ticking())
    assert moved.recipe("old").recipe == RECIPES["sea-wall-nests"].model_copy(update={"scale": Scale(by="base", amount=180)})
    assert moved.batch("b1").sheet.base_g == sheet.base_g
    assert moved.batch("b1").sheet.weigh.eggs == sheet.weigh.eggs
    assert moved.batch("b1").sheet.weigh.figures["base"] == sheet.weigh.figures["base"]


def _as_first_line(recipe):
    old = {k: v for k, v in recipe.items() if k not in ("base", "on", "heat", "portion_g", "egg")}
    return {**old, "whites": recipe["egg"], "scale": {"by": "whites", "amount": 180}}


def _old_sheet(sheet):
    eggs = sheet["weigh"]["eggs"]
    figures = {{"base": "white", "freed": "yolks"}.get(k, k): v for k, v in sheet["weigh"]["figures"].items()}
    weigh = {k: v for k, v in sheet["weigh"].items() if k not in ("egg_kind", "eggs", "figures", "vital")}
    weigh |= {"white_kind": sheet["weigh"]["egg_kind"], "vital": "white", "figures": figures}
    weigh["eggs"] = {
        "count": eggs["count"],
        "each_g": eggs["each_g"],
        "white_g": eggs["brings_g"],
        "over_g": eggs["over_g"],
        "yolk_g": eggs["freed_g"],
    }
    old = {k: v for k, v in sheet.items() if k not in ("base_g", "heat", "recipe", "weigh")}
    return {**old, "white_g": sheet["base_g"], "recipe": _as_first_line(sheet["recipe"]), "weigh": weigh}


def test_no_reader_makes_a_new_file_where_the_data_was(tmp_path):
    """Moved away under a running app: a reader on a connection of its own is told so, makes nothing, and all goes on when it is back."""
    path, away = tmp_path / "gullpeak.db", tmp_path / "away.db"
    store = Store(open_database(path), Ticking())
    store.put_kitchen(KITCHEN, None)
    with store.db.read() as held:  # so that the next reader needs another connection
        held.execute(text("select 1"))
        path.rename(away)
        with refused(DataTroubleError, match="moved or deleted"):
            store.recipes()
        assert not path.exists()
        path.touch()  # another file in its place
        with refused(DataTroubleError, match="moved or deleted"):
            store.recipes()
        path.unlink()
        away.rename(path)
        assert store.recipes() == []
    assert store.kitchen().kitchen == KITCHEN
    store.pulse()
    store.close()


def test_what_is_read_twice_is_shared_and_what_was_changed_is_not():
    """A short document is read once for everybody; one letter more is another; of long ones the last few."""
    kept = documents.write(NESTS)
    assert documents.read(Recipe, kept) is documents.read(Recipe, kept)
    other = documents.write(NESTS.model_copy(update={"notes": "a"}))
    assert documents.read(Recipe, other).notes == "a"
    assert documents.read(Recipe, kept).notes == NESTS.notes
    long = documents.write(work_out(NESTS, KITCHEN))
    assert len(long) > documents.SHORT
    first = documents.read(Sheet, long)
    assert documents.read(Sheet, long) is first
    for spaces in range(1, 12):
        assert documents.read(Sheet, long + " " * spaces) == first
    again = documents.read(Sheet, long)
    assert first == again
    assert first is not again
