"""Words by key: what is said has its words, with the facts they ask for; no sentence stands in what computes."""

import ast
import re
import tomllib
from collections.abc import Iterator
from functools import cache
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from gullpeak.core.value import NOTHING, Figure, RefusalError, Said, as_said, say, written
from gullpeak.core.words import book
from gullpeak.core.words.reader import LANGUAGES, Reader
from tests.words import en

ROOT = Path(__file__).parents[2]
PACKAGE = ROOT / "gullpeak"
IN_BOOK = ("written", "together", "language.name", "between.and", "between.or")
"""Keys that the mechanism itself uses."""
LABELS = ("given.", "quantity.")
"""Tables whose keys are given without their table: a figure's inputs, a quantity out of its range."""


@cache
def trees() -> dict[Path, ast.Module]:
    return {path: ast.parse(path.read_text()) for path in PACKAGE.rglob("*.py") if "words" not in path.parts}


def calls() -> list[tuple[ast.expr, set[str] | None, str]]:
    """Each `say(key, …)` of the code: its key, the facts it gives (None: they are passed on), where it stands."""
    return [
        (
            node.args[0],
            None if any(k.arg is None for k in node.keywords) else {str(k.arg) for k in node.keywords},
            f"{path.relative_to(PACKAGE)}:{node.lineno}",
        )
        for path, tree in trees().items()
        for node in ast.walk(tree)
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "say"
    ]


def named(key: ast.expr) -> list[str]:
    """The keys an expression may come to: as written, either of two, or every one that fits its pattern."""
    match key:
        case ast.Constant(value=str(found)):
            return [found]
        case ast.IfExp():
            return [*named(key.body), *named(key.orelse)]
        case ast.JoinedStr():
            pattern = "".join(re.escape(p.value) if isinstance(p, ast.Constant) else r"[\w-]+" for p in key.values)
            return [k for k in book.sentences() if re.fullmatch(pattern, k)]
    return []


def asked(key: str) -> set[str]:
    """The facts that the words under a key ask for."""
    return {p.fact for p in book.pieces(book.sentences()[key]) if p.fact is not None and p.fact[0].isalpha()}


def in_tables() -> set[str]:
    """The words of every text in the tables that rows are read from."""

    def leaves(node: object) -> Iterator[str]:
        match node:
            case str():
                yield node
            case dict() | list():
                for one in node.values() if isinstance(node, dict) else node:
                    yield from leaves(one)

    return {
        w
        for path in PACKAGE.rglob("*.toml")
        if "words" not in path.parts
        for t in leaves(tomllib.loads(path.read_text()))
        for w in t.split()
    }


def test_everything_said_has_its_words_and_no_words_are_left_over():
    used = {k for key, _, _ in calls() for k in named(key)}
    strings = {
        n.value for t in trees().values() for n in ast.walk(t) if isinstance(n, ast.Constant) and isinstance(n.value, str)
    } | in_tables()
    known = book.sentences().keys()
    assert used - known == set()
    labelled = {k for k in known for table in LABELS if k.removeprefix(table) in strings}
    assert {k for k in known - used - labelled if k not in IN_BOOK and k not in strings} == set()


def test_everything_said_comes_with_the_facts_its_words_ask_for():
    lacking = [
        (where, k, asked(k) ^ facts)
        for key, facts, where in calls()
        if facts is not None and isinstance(key, ast.Constant)
        for k in named(key)
        if asked(k) != facts
    ]
    assert lacking == []


def test_no_sentence_stands_in_what_computes():
    """A word or three may be a name of something; four in a row are a sentence."""
    found = []
    for path, tree in trees().items():
        if "core" not in path.parts:
            continue
        kept = {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}
        kept |= {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.keyword) and n.arg == "description"}
        for node in ast.walk(tree):
            if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in kept:
                words = len(re.findall(r"[A-Za-z]{2,}", node.value))
                if words >= 5 and " " in node.value.strip() and not re.search(r"\\b|\(\?", node.value):
                    found.append((path.name, node.value))
    assert found == [("value.py", " is said by its key: ask the words for its sentence")]


@pytest.mark.parametrize("language", [x for x in LANGUAGES if x != "en"])
def test_another_language_says_the_same_with_the_same_facts(language):
    """What it has words for; the rest is said in English."""
    own, english = book.sentences(language), book.sentences()
    assert own.keys() <= english.keys()
    facts = lambda template: {p.fact for p in book.pieces(template) if p.fact is not None}  # noqa: E731
    assert [key for key in own if facts(own[key]) != facts(english[key])] == []
    assert own["language.name"] != english["language.name"]


def test_a_sentence_is_said_in_its_own_language_and_the_rest_in_english():
    italian = Reader(language="it")
    assert book.text(say("step.line", line_name="Caster", mass_g=1.5), italian) == "Caster: 1,5 g"
    assert book.text(say("step.separate.crack", eggs_count=1), italian) == "Rompere 1 uovo"
    assert book.text(say("step.separate.crack", eggs_count=6), italian) == "Rompere 6 uova"
    assert book.text(say("step.warm.title", target_c=52.5), Reader("F", "it")) == "Scaldare albumi e zucchero a 126 °F"
    assert book.text(say("amount.number-2f", x=1.5), italian) == "1.50"  # no Italian words: English, figures too
    assert book.text(say("amount.number-2f", x=1.5), Reader(language="xx")) == "1.50"


def shown_by_the_interface() -> str:
    """The interface's own strings and text, without its comments."""
    code = "\n".join(p.read_text() for p in sorted((ROOT / "ui/src").rglob("*.ts*")) if p.name != "schema.d.ts")
    return re.sub(r"/\*[\s\S]*?\*/|^\s*//.*$", "", code, flags=re.MULTILINE)


def test_the_interface_says_what_its_catalogue_has():
    """`ui/src/words/en`: typed, so that what nobody says and what is said with too little does not compile."""
    bits = [
        (path.name, *bit)
        for path in sorted((ROOT / "ui/src").rglob("*.tsx"))
        if path.name != "KitPage.tsx"  # in development only
        for bit in re.findall(
            r">([^<>{}=;/]*[A-Za-z]{3,} [a-z]{2,}[^<>{}=;/]*)<|\b(?:aria-label|aria-valuetext|title|alt|label|placeholder|note)=\{?[\"`]([^\"`$]*[A-Za-z]{3,})",
            path.read_text(),
        )
    ]
    assert bits == []
    choices = [
        (path.name, said)
        for path in sorted((ROOT / "ui/src").rglob("*.tsx"))
        if path.name != "KitPage.tsx"
        for said in re.findall(r'(?:\?|\?\?|\|\||:)\s*"([^"]*[A-Za-z]{2,} [a-z]{2,}[^"]*)"\s*(?=[:})]|\n)', path.read_text())
        if not re.search(r"(^|\s)(border|bg|text|press|font|grow|basis|hidden|max-h)(-|\s|$)", said)
        and not said.endswith(("peak", "heat"))
    ]
    assert choices == [], "one of two is said from the catalogue as well"


def test_nothing_stands_in_the_catalogue_that_no_page_shows():
    catalogue = sorted((ROOT / "ui/src/words/en").glob("*.ts"))
    pages = "".join(p.read_text() for p in (ROOT / "ui/src").rglob("*.ts*") if p not in catalogue)
    kept = {f"{path.stem}.{key}" for path in catalogue for key in re.findall(r"^  (\w+):", path.read_text(), re.MULTILINE)}
    by_name = {place for place in (p.stem for p in catalogue) if f"words.{place}[" in pages}
    assert {k for k in kept if f"words.{k}" not in pages and k.split(".")[0] not in by_name} == set()


def test_no_reader_meets_a_phrase_that_has_a_plainer_one():
    """`avoided.txt` lists phrases, not bare words: a ring of meringue stays."""
    read = {
        "words": "\n".join(book.sentences().values()),
        "keeping": (PACKAGE / "core/kitchen/keeping.toml").read_text(),
        "README": (ROOT / "README.md").read_text(),
        "interface": shown_by_the_interface(),
    }
    avoided = (ROOT / "tests/avoided.txt").read_text().splitlines()
    assert len(avoided) > 20
    assert [(where, phrase) for phrase in avoided for where, text in read.items() if phrase in text.lower()] == []


@pytest.mark.parametrize(
    ("said", "text"),
    [
        (say("piece.of", pieces=1, portion_g=90.0), "1 portion of 90 g"),
        (say("piece.of", pieces=12, portion_g=90.0), "12 portions of 90 g"),
        (say("step.pour-of", p_name="Caster sugar", mass_g=8.25, how=say("whisk.all-once")), "Caster sugar, 8.2 g: all at once"),
        (say("step.pour-of", p_name="Caster sugar", mass_g=208.4, how="so"), "Caster sugar, 208 g: so"),
        (say("weigh.known-scaled", missing=("Salt", "Vanilla")), "Salt, Vanilla: amount not known, so not scaled."),
        (say("pie.weeps.rule", why=(say("pie.no-foam"), "it runs")), "No foam on it; it runs."),
        (say("sheet.texture", texture="crisp") + NOTHING, ", crisp"),
        (written("Gran’s, 110 °C"), "Gran’s, 110 °C"),
        (NOTHING, ""),
    ],
)
def test_what_is_said_as_text(said: Said, text: str):
    assert book.text(said) == text
    assert book.content({"a": [said, {"b": said}], "c": 1}) == {"a": [text, {"b": text}], "c": 1}


FACTS = st.dictionaries(
    st.text("abcdefgh_", min_size=1, max_size=6),
    st.recursive(
        st.text(max_size=9).map(str.strip) | st.integers(-9, 99) | st.floats(-9, 9) | st.booleans() | st.none(),
        lambda inner: st.builds(lambda f: say("amount.c", x=f), inner) | st.lists(st.integers(0, 9), max_size=3).map(tuple),
        max_leaves=4,
    ),
    max_size=3,
)


@given(FACTS)
def test_what_is_kept_is_read_back_the_same(facts):
    kept = TypeAdapter(Said)
    said = say("amount.c", **facts)
    assert kept.validate_json(kept.dump_json(said)) == said
    assert hash(kept.validate_python(kept.dump_python(said))) == hash(said)


def test_a_text_of_an_older_database_stays_as_it_was_written():
    figure = Figure.model_validate(
        {"basis": "modelled", "rule": "Once said so.", "inputs": [["oven", "90 °C"]], "source": "A book"}
    )
    assert en(figure.rule) == "Once said so."
    assert en(figure.inputs) == (("oven", "90 °C"),)
    assert figure.model_dump(mode="json")["rule"] == "Once said so."
    assert not as_said("  ")
    with pytest.raises(ValidationError):
        Figure.model_validate({**figure.model_dump(), "rule": 3})


def test_a_key_is_never_taken_for_its_sentence():
    with pytest.raises(TypeError, match="ask the words"):
        f"{say('amount.c', x=1)}"
    with pytest.raises(KeyError):
        book.text(say("no.such-key"))
    assert str(RefusalError(say("amount.c", x=1))) == "amount.c {'x': 1}"
