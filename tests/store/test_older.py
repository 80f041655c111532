"""Data that every version before left behind opens, shows what was done as it was, and can be taken out."""

import json
import lzma
import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path
from zoneinfo import ZoneInfo

import pytest

from gullpeak.app import batches, days, files, products, recipes
from gullpeak.app import log as diagnosing
from gullpeak.app.days import Desk
from gullpeak.app.planner import Planner
from gullpeak.core.recipe.recipe import Scale
from gullpeak.core.sheet.earlier import RecipeByRatio
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.files import archive, record
from gullpeak.store import documents
from gullpeak.store.database import open_database
from gullpeak.store.log import Log
from gullpeak.store.repository import Store
from gullpeak.store.troubles import DataTroubleError
from tests.words import en

KEPT = sorted((Path(__file__).parent / "kept").glob("*.db.xz"))
"""A few batches, a day and the book of the demo as each version laid it out, by its schema. `-keys`: sentences kept as key and facts."""
NOW = datetime(2026, 11, 30, 12, tzinfo=UTC)
COUNTED = ("batch", "event", "recipe_version", "sample", "mark", "egg", "day", "plan", "log", "trial")


def counts(path: Path) -> dict[str, int]:
    with closing(sqlite3.connect(path)) as con:
        there = {r[0] for r in con.execute("select name from sqlite_master where type = 'table'")}
        return {t: con.execute(f'select count(*) from "{t}"').fetchone()[0] for t in COUNTED if t in there}


@pytest.fixture(params=KEPT, ids=lambda p: p.name.removesuffix(".db.xz"))
def older(request: pytest.FixtureRequest, tmp_path: Path) -> Path:
    path = tmp_path / "gullpeak.db"
    path.write_bytes(lzma.decompress(request.param.read_bytes()))
    return path


def opened(path: Path) -> Store:
    """As the app opens it."""
    db = open_database(path)
    Log(db).refill()
    return Store(db, lambda: NOW)


def test_there_is_one_of_each():
    assert sorted(p.name.removesuffix(".db.xz") for p in KEPT) == [
        "0001",
        "0004",
        "0005",
        "0006",
        "0007",
        "0008",
        "0009",
        "0009-keys",
    ]


def test_data_of_a_version_before_opens_and_shows_what_was_done(older: Path):
    before = counts(older)
    with closing(sqlite3.connect(older)) as con:
        kept = {r[0]: json.loads(r[1]) for r in con.execute("select id, process from batch")}
    store = opened(older)
    after = counts(older)
    assert {t: after[t] for t in before} == before
    assert len(kept) >= 2
    for batch_id, process in kept.items():
        seen = batches.view(store, batch_id)
        was = [s["title"] for s in process["steps"]]
        assert [en(s.title) for s in seen.process.steps if isinstance(was[0], str)] == [t for t in was if isinstance(t, str)]
        assert [s.key for s in seen.process.steps] == [s["key"] for s in process["steps"]]
        assert seen.events
        assert en(seen.sheet.says)
        assert batches.traces_of(store, batch_id).egg.label
        assert batches.summary(store, store.batch(batch_id)).steps == len(was)
        if seen.finished_at is not None:
            assert diagnosing.diagnosis_of(store, batch_id).diagnosis is not None
    store.close()


def test_its_book_its_days_and_its_records_can_be_taken_out(older: Path):
    store = opened(older)
    assert all(card.trouble is None for card in recipes.list_cards(store))
    assert all(card.trouble is None for card in products.list_products(store))
    packed = archive.pack(store.book(), store.kitchen().kitchen)
    assert len(packed.recipes) >= 6
    desk = Desk(store, Planner())
    for card in days.cards(desk):
        day = days.day_view(desk, card.date)
        assert not day.damaged
        assert card.planned == (day.plan is not None)
        assert all(en(s.title) for t in (day.plan.threads if day.plan else ()) for s in t.steps)
    papers = files.papers(store, [b.id for b in store.batches()])
    assert len(papers) >= 2
    assert record.table(papers, ZoneInfo("UTC"))
    store.close()


def test_what_is_written_now_says_so_and_is_read_as_it_was():
    sheet = work_out(RECIPES["sea-wall-nests"], KITCHEN)
    kept = documents.write(sheet)
    assert json.loads(kept)[documents.KEY] == documents.MODEL
    assert documents.read(Sheet, kept) == sheet


@pytest.mark.parametrize(("recipe", "round_", "hollow"), [("sea-wall-nests", True, True), ("slack-tide-slab", False, False)])
def test_a_sheet_from_before_its_layout_said_so_is_given_what_is_round(recipe, round_, hollow):
    old = json.loads(documents.write(work_out(RECIPES[recipe], KITCHEN)))
    del old[documents.KEY], old["shape"]["layout"]["round"], old["shape"]["layout"]["hollow_mm"]
    layout = documents.read(Sheet, json.dumps(old)).shape.layout
    assert layout.round == round_
    assert (layout.hollow_mm > 0) == hollow


def test_a_document_of_a_newer_version_is_not_guessed_at():
    newer = json.dumps({documents.KEY: documents.MODEL + 1, "name": "from tomorrow"})
    with pytest.raises(DataTroubleError, match="use the one that wrote it"):
        documents.read(Sheet, newer)


def test_an_old_book_in_ratios_gives_the_sheets_it_gave(older: Path):
    """To rounding: what was worked back from its size, and its lines at the size of that, in the kitchen it is in."""
    with closing(sqlite3.connect(older)) as con:
        has_kind = "kind" in {r[1] for r in con.execute("pragma table_info(recipe)")}
        query = "select v.recipe_id, v.doc from recipe r join recipe_version v on v.recipe_id = r.id and v.version = r.version"
        was = {r[0]: json.loads(r[1]) for r in con.execute(query + (" where r.kind = 'recipe'" if has_kind else ""))}
    store = opened(older)
    kitchen = store.kitchen().kitchen
    assert len(was) >= 5
    for key, doc in was.items():
        if "sugars" not in doc:
            continue  # kept before eggs were anything but white
        content = {name: value for name, value in doc.items() if name in RecipeByRatio.model_fields}
        if "whites" in doc:
            content |= {"egg": doc["whites"], "scale": {**doc["scale"], "by": doc["scale"]["by"].replace("whites", "base")}}
        now = store.recipe(key).recipe
        assert now.scale == Scale()
        before, after = work_out(RecipeByRatio.model_validate(content).of(100), kitchen), work_out(now, kitchen)
        assert after.pieces == before.pieces, key
        assert [x.moment for x in after.weigh.lines] == [x.moment for x in before.weigh.lines]
        for one, other in zip(before.weigh.lines, after.weigh.lines, strict=True):
            assert other.mass_g == (None if one.mass_g is None else pytest.approx(one.mass_g, rel=1e-6))
        assert after.weigh.balance is None, key


@pytest.mark.parametrize(
    "spoil",
    [
        "update kitchen set doc = '{'",
        "update batch set sheet = '{'",
        "update batch set kitchen = '{}'",
        "update recipe_version set doc = '{'",
        "update plan set doc = '[]'",
    ],
)
def test_one_damaged_document_keeps_no_old_database_shut(spoil: str, tmp_path: Path):
    path = tmp_path / "gullpeak.db"
    path.write_bytes(lzma.decompress(KEPT[-1].read_bytes()))
    with closing(sqlite3.connect(path)) as con:
        con.execute(spoil)
        con.commit()
    open_database(path).close()
