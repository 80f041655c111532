"""Sixty random changes to the code, each tried by the tests that run the changed line: how many would be noticed.

First the suite without the browser runs once and says which test runs which line; then each change is made in a copy, one at a time, and
the tests that run its line are run, the quick ones first, until one fails. What no test notices is printed: it is a test to write, a line
to take away, or a change that changes nothing.
"""

import ast
import json
import os
import random
import subprocess
import sys
import tempfile
from collections import defaultdict
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from queue import Queue

import coverage
import pytest

ROOT = Path(__file__).parents[2]
PARTS = ("core", "app", "store", "api", "files")
OUT_OF_SCOPE = ("migrations", "words/reader.py")
"""A landed migration is never changed; what a reader's language formats is a library's."""
HALVES = (
    ("tests/core", "gullpeak/core", "tests/golden"),
    ("tests/api", "tests/store", "tests/files", "tests/test_cli_files.py", "--ignore=tests/api/test_fuzz.py"),
)
"""What runs beside each other. Not: what waits for other processes, and what tries everything and asserts little."""
GOLDEN = "tests/golden"
"""It holds the whole book: run first where it runs the line."""
BUDGET_S = 200.0
LIMIT_S = 400

SWAPPED: dict[type[ast.AST], type[ast.AST]] = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
    ast.And: ast.Or,
    ast.Or: ast.And,
}


@dataclass(frozen=True)
class Change:
    """One change: the file from the root, the line, which node of the file's tree, and what is done to it."""

    path: str
    line: int
    node: int
    how: str


def sites(path: str, within: Path) -> Iterator[Change]:
    """Every change that can be made to a file."""
    tree = ast.parse((within / path).read_text())
    passed_over = {id(inner) for node in ast.walk(tree) for part in said_only(node) for inner in ast.walk(part)}
    for i, node in enumerate(ast.walk(tree)):
        if id(node) not in passed_over and (how := changed(node)):
            yield Change(path, node.lineno, i, how)


def said_only(node: ast.AST) -> Iterator[ast.AST]:
    """What a checker or a reader looks at and nothing runs: annotations, docstrings, decorators."""
    if isinstance(node, ast.AnnAssign):
        yield node.annotation
    if isinstance(node, ast.arg) and node.annotation:
        yield node.annotation
    if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
        yield from node.decorator_list
        if node.returns:
            yield node.returns


def changed(node: ast.AST, make: bool = False) -> str:
    """Say what can be done to a node, or do it: an operator for its neighbour, a number for the next, a condition for its contrary."""
    match node:
        case ast.Compare(ops=[op]) if type(op) in SWAPPED:
            if make:
                node.ops = [SWAPPED[type(op)]()]  # type: ignore[list-item]
            return f"{type(op).__name__} for {SWAPPED[type(op)].__name__}"
        case ast.BinOp(op=op) | ast.BoolOp(op=op) if type(op) in SWAPPED and not _of_text(node):
            if make:
                node.op = SWAPPED[type(op)]()  # type: ignore[assignment]
            return f"{type(op).__name__} for {SWAPPED[type(op)].__name__}"
        case ast.Constant(value=bool() as value):
            if make:
                node.value = not value
            return f"{not value} for {value}"
        case ast.Constant(value=(int() | float()) as value):
            if make:
                node.value = value + 1 if isinstance(value, int) else value * 1.2 + (value == 0)
            return f"{value} made more"
        case ast.IfExp(test=test):
            if make:
                node.test = ast.UnaryOp(ast.Not(), test)
            return "condition for its contrary"
        case ast.If(test=test):
            if make:
                node.test = ast.UnaryOp(ast.Not(), test)
            return "condition for its contrary"
        case ast.UnaryOp(op=ast.Not(), operand=operand):
            if make:
                node.operand = ast.UnaryOp(ast.Not(), operand)
            return "not left out"
        case ast.Call(func=ast.Name(id="min" | "max" as name)):
            if make:
                node.func = ast.Name({"min": "max", "max": "min"}[name], ast.Load())
            return f"the other of {name}"
    return ""


def _of_text(node: ast.AST) -> bool:
    """Whether strings are put together: a minus between them is no program."""
    return any(isinstance(n, ast.JoinedStr) or (isinstance(n, ast.Constant) and isinstance(n.value, str)) for n in ast.walk(node))


def write(change: Change, into: Path) -> None:
    """Make the change in a copy of the project."""
    tree = ast.parse((into / change.path).read_text())
    changed(list(ast.walk(tree))[change.node], make=True)
    (into / change.path).write_text(ast.unparse(ast.fix_missing_locations(tree)))


class Watching:
    """Names the running test to coverage, in every thread, and keeps how long it took; in the copy, as a plugin of pytest's."""

    def __init__(self) -> None:
        self.lasted: dict[str, float] = {}

    @pytest.hookimpl(wrapper=True)
    def pytest_runtest_protocol(self, item: pytest.Item) -> Iterator[None]:
        current = coverage.Coverage.current()
        if current is not None:
            current.switch_context(item.nodeid)
        return (yield)

    def pytest_runtest_logreport(self, report: pytest.TestReport) -> None:
        self.lasted[report.nodeid] = self.lasted.get(report.nodeid, 0.0) + report.duration

    def pytest_sessionfinish(self) -> None:
        Path(os.environ["MUTANTS_LASTED"]).write_text(json.dumps(self.lasted))


def pytest_configure(config: pytest.Config) -> None:
    """Watch, where the driver asks for it."""
    if "MUTANTS_LASTED" in os.environ:
        config.pluginmanager.register(Watching())


def copy_of(into: Path) -> Path:
    """Copy the project as it is committed, with the built interface."""
    subprocess.run(["git", "clone", "--quiet", str(ROOT), str(into)], check=True)
    (into / "ui/dist").symlink_to(ROOT / "ui/dist")
    (into / "ui/node_modules").symlink_to(ROOT / "ui/node_modules")
    return into


def run_in(copy: Path, words: list[str], limit_s: float | None = None, **env: str) -> int:
    """Run pytest in a copy, its own code first; a run out of time is a failure, as an endless loop is noticed."""
    command = [sys.executable, *words]
    shared = {"GULLPEAK_TESTS_SHARED": str(copy / ".shared"), "PYTHONDONTWRITEBYTECODE": "1"}
    (copy / ".shared").mkdir(exist_ok=True)
    with (copy / "told.txt").open("w") as told:
        try:
            done = subprocess.run(
                command, cwd=copy, env={**os.environ, **shared, **env}, stdout=told, stderr=told, timeout=limit_s
            )
        except subprocess.TimeoutExpired:
            return 1
    return done.returncode


def watched(copy: Path, half: tuple[str, ...]) -> tuple[dict[tuple[str, int], set[str]], dict[str, float]]:
    """Run a half of the suite, and say which tests run each line, and how long each takes, s."""
    data, lasted = copy / "coverage.db", copy / "lasted.json"
    words = [
        "-m",
        "coverage",
        "run",
        f"--data-file={data}",
        "--source=gullpeak",
        "-m",
        "pytest",
        "-p",
        "bench.trials.mutants",
        *half,
    ]
    if run_in(copy, words, MUTANTS_LASTED=str(lasted)) != 0:
        raise RuntimeError(f"The suite is not green without a change: {(copy / 'told.txt').read_text()[-2000:]}")
    found: dict[tuple[str, int], set[str]] = defaultdict(set)
    read = coverage.CoverageData(str(data))
    read.read()
    for path in read.measured_files():
        name = str(Path(path).relative_to(copy))
        for line, tests in read.contexts_by_lineno(path).items():
            found[name, line] |= {t for t in tests if t}
    return found, json.loads(lasted.read_text())


@cache
def names(path: Path) -> frozenset[str]:
    """What a module imports, by dotted name: modules, and what is taken from them."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found |= {node.module, *(f"{node.module}.{alias.name}" for alias in node.names)}
    return frozenset(found)


def noticed(change: Change, copy: Path, runs: dict[tuple[str, int], set[str]], lasted: dict[str, float]) -> bool:
    """Whether a test that runs the changed line fails by it.

    A line that runs at import, or compiled, is seen to run by none: then any test that runs something of its file. Where what comes out
    is kept, it is seen to run by the first alone: so tests whose module imports it, or its package, are run in any case. Those of the
    golden files go first, then those that run it, of these those that import it; the quick ones of each first.
    """
    changed_name = change.path.removesuffix(".py").replace("/", ".")
    its_own = {changed_name, changed_name.rpartition(".")[0]}
    near = {test for test in lasted if not its_own.isdisjoint(names(copy / test.partition("::")[0]))}
    of_file = {t for (path, _), ran in runs.items() if path == change.path for t in ran}
    running = runs.get((change.path, change.line)) or of_file
    chosen, total = [], 0.0
    for test in sorted(running | near, key=lambda t: (GOLDEN not in t, t not in running, t not in near, lasted.get(t, 0.0))):
        total += lasted.get(test, 0.0)
        if total > BUDGET_S:
            break
        chosen.append(test)
    if not chosen:
        return False
    write(change, copy)
    (copy / "chosen.txt").write_text("\n".join(chosen))
    code = run_in(copy, ["-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", "@chosen.txt"], LIMIT_S)
    subprocess.run(["git", "checkout", "--quiet", change.path], cwd=copy, check=True)
    return code != 0


def main(seed: int = 1, count: int = 60) -> int:
    """Try the changes and print what was noticed, by part and one by one."""
    with tempfile.TemporaryDirectory() as folder, ThreadPoolExecutor(len(HALVES)) as pool:
        copies = [copy_of(Path(folder) / str(i)) for i in range(len(HALVES))]
        within = copies[0]
        files = [
            str(p.relative_to(within))
            for part in PARTS
            for p in sorted((within / "gullpeak" / part).rglob("*.py"))
            if not any(name in str(p) for name in OUT_OF_SCOPE)
        ]
        changes = random.Random(seed).sample([site for path in files for site in sites(path, within)], count)
        runs: dict[tuple[str, int], set[str]] = defaultdict(set)
        lasted: dict[str, float] = {}
        for found, took in pool.map(watched, copies, HALVES):
            lasted |= took
            for place, tests in found.items():
                runs[place] |= tests
        print(f"{len(lasted)} tests run {len(runs)} lines.", flush=True)
        free: Queue[Path] = Queue()
        for copy in copies:
            free.put(copy)

        def tried(change: Change) -> bool:
            copy = free.get()
            try:
                found = noticed(change, copy, runs, lasted)
            finally:
                free.put(copy)
            print(f"{'noticed ' if found else 'SURVIVED'} {change.path}:{change.line} {change.how}", flush=True)
            return found

        found = list(pool.map(tried, changes))
    print(f"{sum(found)} of {count} noticed, {100 * sum(found) / count:.0f} %, seed {seed}.")
    return 0


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:])))
