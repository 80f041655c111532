"""The whole demo book, sheet by sheet, as it was."""

import json
from itertools import islice

from tests import golden


def test_the_whole_book_comes_to_what_it_did():
    """Where a change is meant to show, `python -m tests.golden` writes it anew, and its commit says why."""
    assert list(islice(golden.differences(json.loads(golden.FILE.read_text()), golden.make()), 20)) == []


def test_a_change_is_seen_wherever_it_is():
    was = {"a": [1.0, {"says": "one"}], "b": {"length": 20, "of them": [0.0, 1.0]}}
    assert list(golden.differences(was, was)) == []
    now = {"a": [1.00001, {"says": "two", "new": 1}], "b": {"length": 20, "of them": [0.0]}}
    assert list(golden.differences(was, now)) == [
        "/a/0: 1.0 is now 1.00001",
        "/a/1/says: 'one' is now 'two'",
        "/a/1/new is new",
        "/b/of them: [0.0, 1.0] is now [0.0]",
    ]
