"""Rules of the house that no other tool holds."""

import importlib
import re
import subprocess
import tomllib
from pathlib import Path

import pytest

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
    for requirement in [*wanted["dependencies"], *wanted["optional-dependencies"]["dev"]]:
        name = re.split(r"[=<>\[]", requirement)[0]
        assert re.search(rf"^{re.escape(name)}==", locked, re.MULTILINE), name
    assert locked.count("==") <= locked.count("--hash=sha256:")


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
        "plan.make",
    ],
)
def test_stable_names_are_there_with_a_runnable_example(name):
    module, function = name.split(".")
    found = getattr(importlib.import_module(f"gullpeak.core.{module}"), function)
    assert ">>>" in found.__doc__


def test_run_fold_is_there():
    assert importlib.import_module("gullpeak.core.run").fold.__doc__


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
    for built in (ROOT / "ui" / "dist").rglob("*"):
        if built.suffix in (".js", ".css", ".html", ".svg"):
            for host in re.findall(r"https?://([\w.-]+\.[a-z]{2,})", built.read_text()):
                assert host.endswith(harmless), f"{host} in {built.name}"


def test_a_test_never_sleeps():
    for path in tracked("tests/*.py", "tests/**/*.py"):
        if path.name != Path(__file__).name:
            assert "time.sleep" not in path.read_text(), path.name


def test_no_file_is_too_long_to_be_one_room():
    for path in tracked("gullpeak/**/*.py", "ui/src/**/*.tsx", "ui/src/**/*.ts"):
        if "schema.d.ts" not in path.name:
            assert len(path.read_text().splitlines()) <= 520, path.name
