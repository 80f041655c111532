"""A small share of what `make faults` does at length: kills in migrations and in the middle of work, two tablets at random."""

import pytest
from hypothesis import HealthCheck, settings

from bench.trials import killed_migrations, killed_server
from bench.trials.two_tablets import Tablets


def test_a_migration_killed_at_some_statements_leaves_the_data_whole():
    found = list(killed_migrations.trials(every=31))
    assert len(found) >= 5
    assert {version for version, _, _ in found} == set(killed_migrations.VERSIONS)
    assert [f for f in found if f[2]] == []


@pytest.mark.parametrize("seed", [3])
def test_a_server_killed_five_times_in_mixed_work_loses_nothing(seed):
    kept, said = killed_server.trials(5, seed)
    assert said == []
    assert set(kept.of) >= {"event", "reading"}
    assert sum(len(entries) for entries in kept.of.values()) > 50


TestTablets = Tablets.TestCase
TestTablets.settings = settings(
    max_examples=12, stateful_step_count=25, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck)
)
