"""The simulated devices as a command, and one device's own loop against an app that answers what it likes."""

import json
from datetime import UTC, datetime

import httpx
import pytest

from gullpeak.core.bench.process import steps
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.devices.gateway import Device, NotKnownError
from gullpeak.devices.worlds import Hidden
from tests.serving import says

NOW = datetime(2026, 5, 2, 9, tzinfo=UTC).isoformat()
PROCESS = steps(work_out(RECIPES["fogsignal-topping"], KITCHEN), KITCHEN.probes)
BATCH = {
    "name": "Fog-signal topping",
    "process": PROCESS.model_dump(mode="json"),
    "sheet": {"recipe": RECIPES["fogsignal-topping"].model_dump(mode="json")},
    "kitchen": KITCHEN.model_dump(mode="json"),
    "events": [{"event": {"kind": "step done", "step": "pan-on", "at": NOW}}],
}


class App:
    """An app in a few lines: it keeps what it is sent, or fails as told."""

    def __init__(self, attached=True):
        self.kept: dict[int, float] = {}
        self.fail: list[int] = []
        self.attached = attached
        self.clock = {"now": NOW, "speed": 400.0}

    def __call__(self, request: httpx.Request) -> httpx.Response:
        attachment = {"id": 1, "batch_id": "b1", "watch": "syrup", "since": NOW} if self.attached else None
        if request.url.path == "/api/gateway":
            return httpx.Response(
                200, json={"device": {"unit": "°C", "attachment": attachment}, "last_n": 6, "clock": self.clock}
            )
        if request.url.path == "/api/batches/b1":
            return httpx.Response(200, json=BATCH)
        if self.fail:
            code = self.fail.pop(0)
            if code == 0:
                raise httpx.ConnectError("away")
            return httpx.Response(code, json={"detail": "not now"})
        sent = json.loads(request.content)["readings"]
        for reading in sent:
            self.kept.setdefault(reading["n"], reading["value"])
        received = {"kept_to": sent[-1]["n"], "doubted": [{"n": sent[0]["n"], "why": "for a test"}]}
        return httpx.Response(200, json={"received": received, "attachment": attachment, "clock": self.clock})


def device(app: App, hidden: Hidden | None = None, **options) -> tuple[Device, list[str]]:
    said: list[str] = []
    made = Device("http://app", "t", hidden or Hidden(silent=0.0), say=said.append, **options)
    made.http = httpx.Client(base_url="http://app", transport=httpx.MockTransport(app))
    return made, said


def rounds(made: Device, count: int) -> None:
    left = iter(range(count))
    made.run(stop=lambda: next(left, None) is None)


def test_a_device_goes_on_from_its_last_number_and_sends_what_it_reads():
    app = App()
    made, said = device(app)
    rounds(made, 3)
    assert min(app.kept) == 7
    assert sorted(app.kept) == list(range(7, 7 + len(app.kept)))
    assert made.waiting == []
    assert any("put to syrup of Fog-signal topping" in s for s in said)
    assert any("not counted: for a test" in s for s in said)
    values = list(app.kept.values())
    assert values[0] == pytest.approx(20, abs=2)
    assert values[-1] > values[0]


@pytest.mark.parametrize("code", [0, 503])
def test_what_is_not_answered_waits_and_is_sent_again(code):
    app = App()
    made, said = device(app)
    app.fail = [code, code]
    rounds(made, 6)
    assert sorted(app.kept) == list(range(7, made.n + 1))
    assert said.count("the app does not answer; readings wait") >= 1
    assert "the app is back" in said


def test_a_refused_lot_is_said_and_let_go():
    app = App()
    made, said = device(app)
    app.fail = [409]
    rounds(made, 2)
    assert "not now" in said
    assert made.waiting == []


def test_an_app_that_no_longer_knows_it_stops_the_device():
    app = App()
    made, _ = device(app)
    app.fail = [401]
    with pytest.raises(NotKnownError):
        rounds(made, 3)


def test_a_device_put_to_nothing_reads_nothing():
    app = App(attached=False)
    made, _ = device(app)
    rounds(made, 3)
    assert app.kept == {}
    assert made.n == 6


def test_silences_leave_gaps_in_time_but_not_in_numbers():
    app = App()
    made, _ = device(app, Hidden(silent=0.1), seed=3, period_s=0.5)
    rounds(made, 4)
    assert sorted(app.kept) == list(range(7, made.n + 1))
    assert len(app.kept) < 0.85 * 4 * 0.2 * 400 / 0.5


def test_the_same_seed_reads_the_same():
    first, second = App(), App()
    for app in (first, second):
        made, _ = device(app, Hidden.drawn(9), seed=9)
        rounds(made, 3)
    shared = sorted(set(first.kept) & set(second.kept))
    assert len(shared) > 20
    assert [first.kept[n] for n in shared] == [second.kept[n] for n in shared]


def test_the_command_says_when_there_is_no_app():
    told = says("simulate", "probe", "--url", "http://127.0.0.1:9")
    assert told.code == 1
    assert "start it first" in told.err


def test_the_command_lists_what_it_can_be():
    told = says("simulate", "kettle")
    assert told.code != 0
    assert "probe" in told.err
