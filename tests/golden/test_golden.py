"""What the app comes to is what it was."""

import json
from itertools import islice

import pytest

from tests import golden
from tests.golden import held


@pytest.mark.parametrize("part", golden.PARTS)
def test_it_comes_to_what_it_did(part: str):
    """Where a change is meant to show, `python -m tests.golden` writes it anew, and its commit says why."""
    was, now = json.loads(golden.file_of(part).read_text()), held.plain(golden.PARTS[part]())
    assert list(islice(held.differences(was, now, near=golden.NEAR.get(part, 1e-6)), 20)) == []


def test_a_change_is_seen_wherever_it_is():
    was = {"a": [1.0, {"says": "one"}], "b": {"length": 20, "of them": [0.0, 1.0]}}
    assert list(held.differences(was, was)) == []
    now = {"a": [1.00001, {"says": "two", "new": 1}], "b": {"length": 20, "of them": [0.0]}}
    assert list(held.differences(was, now)) == [
        "/a/0: 1.0 is now 1.00001",
        "/a/1/says: 'one' is now 'two'",
        "/a/1/new is new",
        "/b/of them: [0.0, 1.0] is now [0.0]",
    ]
