"""The app with the demo's book worked out once: what is forked from here begins warm, as an app does that has run for a while."""

import tempfile
from pathlib import Path

from fastapi.testclient import TestClient

import gullpeak.cli  # noqa: F401
from gullpeak.api.app import create_app
from gullpeak.core.kitchen import units
from gullpeak.core.product import product_sheet
from gullpeak.core.sheet import sheet
from gullpeak.demo.book import BOOK, KITCHEN, RECIPES
from gullpeak.store.database import open_database

units.read_length("1 cm")
for recipe in RECIPES.values():
    sheet.work_out(recipe, KITCHEN)
for key, product in BOOK.items():
    if key not in RECIPES:
        product_sheet.work_out(product, BOOK, KITCHEN, key)
with tempfile.TemporaryDirectory() as folder:  # loads what makes a new database
    open_database(Path(folder) / "new.db").close()
TestClient(create_app(None)).get("/nothing")  # passes every address once
