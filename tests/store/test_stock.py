"""Stock in the store: kept in one transaction; what an older kitchen lacked of how long things keep frozen, added and nothing else."""

import json
from pathlib import Path

import pytest
from sqlalchemy import create_engine, text

from gullpeak.core.kitchen.keeping import KEEPING
from gullpeak.core.product.stock import StockError
from gullpeak.demo.book import KITCHEN
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store
from gullpeak.store.stock import Stock
from tests.core.days import BEFORE
from tests.core.test_stock import entry
from tests.store.older import back_to


def older(path: Path, doc: str) -> None:
    """A database of the version before, with a kitchen's document as it was."""
    store = Store(open_database(path), lambda: BEFORE)
    store.put_kitchen(KITCHEN, None)
    store.close()
    engine = create_engine(f"sqlite:///{path}")
    with engine.begin() as connection:
        back_to(connection, "0012")
        connection.execute(text("UPDATE kitchen SET doc = :doc"), {"doc": doc})
    engine.dispose()


def test_an_older_kitchen_is_told_how_long_things_keep_frozen_and_keeps_its_own_rows(tmp_path: Path):
    before = KITCHEN.model_dump(mode="json")
    rows = [row for row in before["keeping"] if not row["key"].endswith("-frozen")]
    mine = {"key": "curd-frozen", "name": "Our curd", "where": "frozen", "hours": 100, "source": "the house"}
    rows[0]["hours"] = 7
    older(tmp_path / "old.db", json.dumps({**before, "keeping": [*rows, mine]}))
    again = Store(open_database(tmp_path / "old.db"), lambda: BEFORE)
    kept = {row.key: row for row in again.kitchen().kitchen.keeping}
    assert set(kept) == {row.key for row in KEEPING}
    assert (kept["curd-frozen"].name, kept[rows[0]["key"]].hours) == ("Our curd", 7)
    assert kept["roll-frozen"].thaw_h
    again.close()


@pytest.mark.parametrize("doc", ["{", "[]", '{"keeping": 3}'])
def test_a_damaged_kitchen_stays_as_it_is_and_shuts_no_database(tmp_path: Path, doc: str):
    older(tmp_path / "old.db", doc)
    again = open_database(tmp_path / "old.db")
    with again.read() as s:
        assert s.execute(text("SELECT doc FROM kitchen")).scalar() == doc
    again.close()


def test_all_of_what_is_sent_is_kept_or_nothing(store: Store):
    stock = Stock(store.db)
    good, bad = entry(1, "in", 400), entry(2, "drawn", 900)
    with pytest.raises(StockError) as refused:
        stock.add([good, bad], BEFORE)
    assert refused.value.field == "1.amount"
    assert stock.entries() == ()
    stock.add([good, entry(3, "drawn", 100)], BEFORE)
    stock.add([good], BEFORE)
    assert [e.what for e in stock.entries()] == ["in", "drawn"]
