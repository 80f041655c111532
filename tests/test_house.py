"""Rules of the house that no other tool holds."""

import json
import re
import subprocess
import sys
import tomllib
from collections import Counter
from pathlib import Path

import pytest
from vulture import Vulture

from tests.words import en

ROOT = Path(__file__).parents[1]


def tracked(*patterns: str) -> list[Path]:
    listed = subprocess.run(["git", "ls-files", *patterns], cwd=ROOT, capture_output=True, text=True, check=True).stdout
    return [ROOT / name for name in listed.splitlines()]


@pytest.mark.parametrize("lock", ["requirements.lock", "requirements-uv.txt", "ui/package-lock.json"])
def test_lock_files_pin_and_name_no_address(lock):
    text = (ROOT / lock).read_text()
    assert "://" not in re.sub(r'"(url|homepage|funding)": *(\{[^}]*\}|"[^"]*")', "", text)
    assert "resolved" not in text
    assert "sha" in text


def test_every_python_package_is_locked_with_its_hash():
    wanted = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
    locked = (ROOT / "requirements.lock").read_text()
    held = dict(re.findall(r"^([\w.-]+)==\S+((?: \\\n +--hash=sha256:[0-9a-f]{64})*)", locked, re.MULTILINE))
    for requirement in [*wanted["dependencies"], *wanted["optional-dependencies"]["dev"]]:
        assert re.split(r"[=<>\[]", requirement)[0] in held
    assert len(held) == locked.count("==")
    assert all(held.values()), [name for name, hashes in held.items() if not hashes]


def test_pictures_are_few_and_linked():
    pictures = list((ROOT / "docs" / "screenshots").glob("*.png"))
    readme = (ROOT / "README.md").read_text()
    assert 8 <= len(pictures) < 20
    for picture in pictures:
        assert f"docs/screenshots/{picture.name}" in readme
    for target in re.findall(r"\]\(([^)#]+)\)", readme):
        assert (ROOT / target).exists(), target


@pytest.mark.parametrize(
    "name",
    [
        "sugar.solubility_pct",
        "sugar.boiling_point_c",
        "sugar.brix_at_boil_pct",
        "sugar.max_dissolved_ratio",
        "foam.whisk",
        "syrup.cook",
        "syrup.pour",
        "lethality.equivalent_minutes",
        "drying.dry",
        "sheet.work_out",
        "process.steps",
        "run.fold",
        "plan.make",
    ],
)
def test_stable_names_are_there_with_a_runnable_example(name):
    module, function = name.split(".")
    found = getattr(getattr(__import__("gullpeak.core", fromlist=[module]), module), function)
    assert ">>>" in found.__doc__


def test_the_built_interface_names_no_other_machine():
    """Addresses in the scripts are only names of XML spaces and of error pages, never asked for."""
    harmless = (
        "www.w3.org",
        "reactjs.org",
        "react.dev",
        "reactrouter.com",
        "radix-ui.com",
        "tanstack.com",
        "github.com",
        "tailwindcss.com",
        "mths.be",
    )
    built_files = [p for p in (ROOT / "ui" / "dist").rglob("*") if p.suffix in (".js", ".css", ".html", ".svg")]
    assert {".js", ".css", ".html"} <= {p.suffix for p in built_files}
    for built in built_files:
        for host in re.findall(r"https?://([\w.-]+\.[a-z]{2,})", built.read_text()):
            assert host.endswith(harmless), f"{host} in {built.name}"


def test_a_test_never_sleeps():
    for path in tracked("tests/*.py", "tests/**/*.py"):
        if path.name != Path(__file__).name:
            assert "time.sleep" not in path.read_text(), path.name


USED_ELSEWHERE = {
    "pytest_runtest_protocol": "pytest calls these",
    "pytest_runtest_logreport": "",
    "pytest_sessionfinish": "",
    "_nodeid": "schemathesis reads it",
    "__getattr__": "Python calls it",
    "handle_starttag": "the parser of pages calls these",
    "handle_endtag": "",
    "handle_data": "",
    "created": "fontTools reads these",
    "modified": "",
    "recalcTimestamp": "",
    "flavor": "",
    "on_solution_callback": "the solver calls it",
    "max_time_in_seconds": "the solver reads these",
    "max_deterministic_time": "",
    "num_workers": "",
    "random_seed": "",
    "symmetry_level": "",
    "cp_model_probing_level": "",
    "fix_variables_to_their_hinted_value": "",
    "model_config": "pydantic reads it",
    "impl": "SQLAlchemy reads and calls these",
    "cache_ok": "",
    "process_bind_param": "",
    "process_result_value": "",
    "isolation_level": "",
    "handleError": "logging calls it",
    "media_type": "Starlette reads and calls these",
    "render": "",
    "CACHE_DIR": "numba reads it",
    "validate_response": "schemathesis calls it",
    "pytest_configure": "pytest calls these",
    "pytest_collection_modifyitems": "",
    "in_fahrenheit": "a fixture",
    "instance": "of a problem, for whoever looks it up in the log",
    "wrote_at": "of health, for whoever watches over the app",
    "kept_to": "of what a device sent, for the device",
    "hottest_c": "read by a script in a browser's test",
    "chews_pct": "kept in batches",
    "melt_min": "beside when it is soft",
    "to_5_h": "beside the first of the two spans of cooling",
    "nothing_is_lost_or_twice": "Hypothesis calls these",
    "no_save_is_written_over": "",
    "teardown": "",
    "_mark": "called by the name of what is done",
    "_draw": "",
    "_edit": "",
    "_import": "",
}
"""What nobody in Python or in the interface names, and why it is there."""


def test_nothing_is_kept_that_nobody_uses():
    found = Vulture(
        ignore_decorators=[
            "@app.*",
            "@router.*",
            "@command*",
            "@*_validator*",
            "@event.*",
            "@pytest.fixture*",
            "@*.exception_handler*",
            "@*.middleware*",
        ]
    )
    found.scavenge([str(ROOT / part) for part in ("gullpeak", "tests", "bench")])
    sources = [p.read_text() for p in tracked("ui/src/**/*.ts", "ui/src/**/*.tsx") if en(p.name) != "schema.d.ts"]
    named = set(re.findall(r"\w+", "".join(sources)))
    unused = {i.name for i in found.get_unused_code() if "migrations" not in en(i.filename.parts)}
    assert unused - named - USED_ELSEWHERE.keys() == set()
    assert USED_ELSEWHERE.keys() - unused == set(), "used by now: take these out"


CEILINGS = {"C901": 14, "PLR0913": 63, "FBT001": 50, "FBT002": 32, "FBT003": 28}
"""Functions with more than ten branches or five parameters, and flags by position: each may only fall, its ceiling with it."""


def test_what_is_hard_to_read_only_falls():
    strict = ["--config", "lint.mccabe.max-complexity = 10", "--config", "lint.pylint.max-args = 5"]
    command = [
        sys.executable,
        "-m",
        "ruff",
        "check",
        "gullpeak",
        "--select",
        ",".join(CEILINGS),
        "--output-format",
        "json",
        *strict,
    ]
    said = subprocess.run(command, cwd=ROOT, capture_output=True, text=True)
    assert Counter(one["code"] for one in json.loads(said.stdout)) == CEILINGS


def test_no_line_is_kept_from_the_formatter():
    for path in tracked("*.py", "ui/src/**/*.ts", "ui/src/**/*.tsx"):
        if path.name != Path(__file__).name:
            assert not re.search(r"# fmt: (skip|off)|biome-ignore (format|assist)", path.read_text()), path.name


def test_no_file_is_too_long_to_be_one_room():
    for path in tracked("gullpeak/**/*.py", "ui/src/**/*.tsx", "ui/src/**/*.ts"):
        if "schema.d.ts" not in path.name:
            assert len(path.read_text().splitlines()) <= 520, path.name
