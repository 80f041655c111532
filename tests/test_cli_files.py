"""Export and import from the command line."""

import json
from pathlib import Path

import pytest
from typer.testing import CliRunner

from gullpeak.cli import app
from gullpeak.files import archive
from tests.words import en

BOOK = Path(archive.__file__).parents[1] / "demo" / "book.json"


@pytest.fixture
def run(tmp_path: Path):
    def call(*words: str):
        return CliRunner().invoke(app, [*words, "--data", str(tmp_path / "data")])

    return call


def test_a_book_comes_in_goes_out_and_is_known_the_second_time(run, tmp_path: Path):
    first = run("import", str(BOOK))
    assert first.exit_code == 0
    assert "Captain’s table: kept" in first.output
    again = run("import", str(BOOK))
    assert {line.rsplit(": ", 1)[1] for line in again.output.strip().splitlines()[1:]} == {"is here already"}
    out = tmp_path / "out.json"
    assert run("export", str(out)).exit_code == 0
    there, here = (archive.unpack(json.loads(p.read_text())) for p in (out, BOOK))
    assert there.recipes == here.recipes
    assert there.products == here.products


def test_one_that_is_changed_comes_in_beside_the_one_that_is_here(run, tmp_path: Path):
    run("import", str(BOOK))
    book = json.loads(BOOK.read_text())
    book["recipes"]["gale-foam"]["name"] = "Gale foam, softer"
    changed = tmp_path / "changed.json"
    changed.write_text(json.dumps(book))
    told = run("import", str(changed)).output
    assert "Gale foam, softer: kept" in told
    assert "Gorse-yellow curd, yolks over the bath: is here already" in told
    out = tmp_path / "out.json"
    run("export", str(out))
    recipes = archive.unpack(json.loads(out.read_text())).recipes
    assert {r.name for r in recipes.values()} >= {"Gale foam", "Gale foam, softer"}
    assert en(recipes["gale-foam"].name) == "Gale foam"


def test_what_cannot_be_read_keeps_nothing(run, tmp_path: Path):
    bad = tmp_path / "bad.json"
    bad.write_text('{"format": "gull-peak archive", "recipes": {"a": {"name": ""}}}')
    for path in (bad, tmp_path / "nowhere.json"):
        answer = run("import", str(path))
        assert answer.exit_code == 1
        assert str(answer.exception).startswith("Nothing was kept")
    out = tmp_path / "out.json"
    run("export", str(out))
    assert json.loads(out.read_text())["recipes"] == {}
