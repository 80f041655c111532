"""Every operation of the API, against what its own description allows: never a 500."""

import tempfile
from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, settings

from gullpeak.api.app import create_app
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store
from tests.conftest import Ticking

folder = tempfile.TemporaryDirectory()
store = Store(open_database(Path(folder.name) / "fuzz.db"), Ticking())
store.put_kitchen(KITCHEN, None)
store.add_recipe("sea-wall-nests", RECIPES["sea-wall-nests"])
schema = schemathesis.openapi.from_asgi("/api/openapi.json", create_app(store)).exclude(path_regex="stream$")


@schema.parametrize()
@settings(max_examples=40, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
def test_no_operation_fails(case):
    response = case.call()
    assert response.status_code < 500, response.text
    if response.status_code >= 400 and response.status_code != 405:
        assert "application/problem+json" in response.headers["content-type"], response.text
