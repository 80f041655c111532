"""The bench, with wet hands: readings, checks, notes, timers, taking back, two tablets, a network that drops."""

import re
from datetime import UTC, datetime, timedelta

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.serving import Served
from tests.ui.conftest import SCREEN
from tests.ui.words import said, shown


@pytest.fixture
def batch(page: Page, served: Served) -> str:
    """A fresh batch of kisses, open at the bench."""
    page.goto(f"{served.url}/recipes/wicket-kisses")
    page.get_by_role("button", name=shown("sheet.startTheBatch")).click()
    page.get_by_role("heading", name=said("step.kit.title")).wait_for()
    return page.url.rsplit("/", 1)[1]


def at_step(page: Page, served: Served, batch: str, step: str) -> None:
    """Bring a batch to a step through the API, as another tablet would."""
    url = f"{served.url}/api/batches/{batch}"
    keys = [s["key"] for s in page.request.get(url).json()["process"]["steps"]]
    at = datetime.now(UTC).isoformat()
    done = [{"id": f"{i:08x}-{batch}", "kind": "step done", "at": at, "step": k} for i, k in enumerate(keys[: keys.index(step)])]
    assert page.request.post(f"{url}/events", data=done).ok


def box(page: Page, button: str):
    page.get_by_role("button", name=re.compile(f"^{button}")).click()
    return page.get_by_role("dialog")


def test_a_reading_outside_its_band_is_kept_and_marked(page: Page, served: Served, batch: str):
    at_step(page, served, batch, "separate")
    expect(page.get_by_role("heading", name=re.compile("Separate"))).to_be_visible()
    dialog = box(page, "Reading")
    dialog.get_by_role("button", name=shown("bench.record")).click()
    expect(dialog.get_by_role("alert")).to_contain_text("as a number")
    dialog.get_by_role("textbox").fill("many")
    dialog.get_by_role("button", name=shown("bench.record")).click()
    expect(dialog.get_by_role("alert")).to_contain_text("as a number")
    expect(dialog.get_by_role("textbox")).to_have_value("many")
    dialog.get_by_role("textbox").fill("160,5 g")
    dialog.get_by_role("textbox").press("Enter")
    expect(page.get_by_text("White on the scale: 160.5 g")).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("Egg white"))).to_contain_text("161")


def test_white_that_comes_out_short_makes_fewer_and_taking_it_back_restores(page: Page, served: Served, batch: str):
    at_step(page, served, batch, "separate")
    expect(page.get_by_role("heading", name=re.compile("Separate"))).to_be_visible()
    planned = page.get_by_role("row", name=re.compile("Icing sugar")).inner_text()
    dialog = box(page, "Reading")
    dialog.get_by_role("textbox").fill("70")
    dialog.get_by_role("textbox").press("Enter")
    expect(page.get_by_role("row", name=re.compile("Icing sugar"))).to_contain_text("56")
    page.get_by_role("button", name=re.compile("Take back")).click()
    expect(page.get_by_role("row", name=re.compile("Icing sugar"))).to_have_text(
        re.compile(re.escape(planned.split("\t")[0].strip().split("\n")[0]))
    )
    expect(page.get_by_role("row", name=re.compile("Icing sugar"))).to_contain_text("82")


def test_all_checks_passed_closes_the_box(page: Page, served: Served, batch: str):
    at_step(page, served, batch, "stiff")
    expect(page.get_by_role("heading", name=said("step.stiff.title"))).to_be_visible()
    dialog = box(page, "Check")
    for asks in ("Smooth between finger and thumb?", "Does the peak stand straight?", "Does it hold in the upturned bowl?"):
        dialog.get_by_role("button", name=f"{asks} It passes").click()
    expect(dialog).to_be_hidden()
    expect(page.get_by_text("passed", exact=True)).to_have_count(6)


def test_a_step_without_figures_says_so(page: Page, served: Served, batch: str):
    at_step(page, served, batch, "trays")
    dialog = box(page, "Reading")
    expect(dialog).to_contain_text("No figure is recorded at this step")
    dialog.get_by_role("button", name=shown("bench.close")).click()
    expect(dialog).to_be_hidden()


def test_an_empty_note_is_not_kept(page: Page, served: Served, batch: str):
    dialog = box(page, "Note")
    dialog.get_by_role("button", name=shown("bench.record")).click()
    expect(dialog.get_by_role("alert")).to_contain_text("Write a word")
    dialog.get_by_role("textbox").fill("<b>bold</b> & plain")
    dialog.get_by_role("button", name=shown("bench.record")).click()
    expect(page.get_by_text("“<b>bold</b> & plain”")).to_be_visible()


def test_a_timer_that_is_over_calls_in_the_signal_colour_everywhere(page: Page, served: Served, batch: str):
    at_step(page, served, batch, "oven-0")
    now = datetime.fromisoformat(page.request.get(f"{served.url}/api/clock").json()["now"])
    begun = (now - timedelta(hours=4)).isoformat()
    timer = {"id": f"{255:08x}-{batch}", "kind": "timer started", "at": begun, "step": "oven-0", "minutes": 150}
    assert page.request.post(f"{served.url}/api/batches/{batch}/events", data=[timer]).ok
    page.reload()
    expect(page.get_by_role("timer")).to_contain_text(shown("bench.lookNow"))
    page.goto(f"{served.url}/log")
    signal = page.get_by_role("banner").get_by_role("link", name=re.compile("look now"))
    expect(signal).to_be_visible()
    assert signal.evaluate("e => getComputedStyle(e).backgroundColor") == "rgb(237, 165, 27)"
    signal.click()
    page.get_by_role("button", name=shown("bench.stopTheTimer")).click()
    expect(page.get_by_role("timer")).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("Start the timer"))).to_be_visible()


def test_what_another_tablet_does_is_seen_here_at_once(page: Page, served: Served, batch: str):
    at_step(page, served, batch, "trays")
    expect(page.get_by_role("heading", name=said("step.trays.title"))).to_be_visible()


def test_work_goes_on_without_a_network_and_survives_a_reload_with_it(page: Page, served: Served, batch: str):
    page.route("**/api/batches/*/events", lambda route: route.abort())
    done = page.get_by_role("button", name=re.compile("^Done"))
    done.click()
    expect(page.get_by_role("heading", name=re.compile("Separate"))).to_be_visible()
    expect(page.get_by_role("banner").get_by_text("1 entry waits to be sent")).to_be_visible()
    done.click()
    expect(page.get_by_role("heading", name=said("step.trays.title"))).to_be_visible()
    page.reload()
    expect(page.get_by_role("heading", name=said("step.trays.title"))).to_be_visible()
    expect(page.get_by_role("banner").get_by_text("2 entries wait to be sent")).to_be_visible()
    page.unroute("**/api/batches/*/events")
    expect(page.get_by_role("banner").get_by_text(re.compile("to be sent"))).to_have_count(0)
    events = page.request.get(f"{served.url}/api/batches/{batch}/events").json()
    assert [e["event"]["step"] for e in events] == ["kit", "separate"]


def test_an_answer_lost_on_the_way_is_sent_again_and_counted_once(page: Page, served: Served, batch: str):
    lost = []

    def swallow(route):
        if not lost:
            lost.append(route.fetch())  # the server has it, the tablet never hears
            route.abort()
        else:
            route.continue_()

    page.route("**/api/batches/*/events", swallow)
    page.get_by_role("button", name=re.compile("^Done")).click()
    expect(page.get_by_role("banner").get_by_text(re.compile("to be sent"))).to_have_count(0, timeout=10_000)
    assert lost[0].ok
    assert len(page.request.get(f"{served.url}/api/batches/{batch}/events").json()) == 1


def test_the_outcome_wants_a_whole_number_of_pieces(page: Page, served: Served, batch: str):
    at_step(page, served, batch, "finish")
    page.get_by_role("button", name=re.compile("Say how it came out")).click()
    dialog = page.get_by_role("dialog", name=shown("bench.howItCameOut"))
    dialog.get_by_label(re.compile("Good pieces")).fill("lots")
    dialog.get_by_role("button", name=shown("bench.finishTheBatch")).click()
    expect(dialog.get_by_role("alert")).to_contain_text("whole number")
    dialog.get_by_label(re.compile("Good pieces")).fill("88")
    dialog.get_by_label(shown("bench.inAll")).select_option("5")
    dialog.get_by_label(shown("bench.keptIn")).fill("tight tin")
    dialog.get_by_role("button", name=shown("bench.finishTheBatch")).click()
    expect(page.get_by_role("heading", name=re.compile("Finished"))).to_be_visible()
    page.get_by_role("button", name=re.compile("Take back")).click()
    expect(page.get_by_role("heading", name=re.compile("All steps|Put away"))).to_be_visible()


def test_the_list_shows_where_each_batch_stands(page: Page, served: Served, batch: str):
    at_step(page, served, batch, "rain")
    page.goto(f"{served.url}/bench")
    row = page.get_by_role("link").filter(has_text="Rain in the sugar")
    expect(row.first).to_be_visible()
    row.first.click()
    expect(page.get_by_role("heading", name=said("step.rain.title"))).to_be_visible()


def test_who_is_at_the_tablet_is_remembered_and_on_every_entry(page: Page, served: Served, batch: str):
    page.get_by_label(shown("bench.atThisTablet")).select_option("Pia Harrow-Quist")
    page.get_by_role("button", name=re.compile("^Done")).click()
    expect(page.get_by_role("heading", name=re.compile("Separate"))).to_be_visible()
    page.reload()
    expect(page.get_by_label(shown("bench.atThisTablet"))).to_have_value("Pia Harrow-Quist")
    page.goto(f"{served.url}/log/{batch}")
    expect(page.get_by_text("Pia Harrow-Quist, tablet")).to_be_visible()
    expect(page.get_by_role("link", name=shown("log.stillUnderWayToTheBench"))).to_be_visible()


RINGS = """
window.heard = { tones: 0, notes: [], locks: 0 };
class Tone {
    constructor() { this.frequency = { value: 0 }; }
    connect(to) { return to; }
    start() { window.heard.tones += 1; }
    stop() {}
}
class Level {
    constructor() { this.gain = { setValueAtTime() {}, exponentialRampToValueAtTime() {} }; }
    connect(to) { return to; }
}
window.AudioContext = class {
    constructor() { this.currentTime = 0; this.state = "running"; this.destination = new Level(); }
    createOscillator() { return new Tone(); }
    createGain() { return new Level(); }
};
window.Notification = class {
    static permission = "granted";
    static requestPermission() { return Promise.resolve("granted"); }
    constructor(title, more) { window.heard.notes.push(`${title} | ${more.body}`); }
};
Object.defineProperty(navigator, "wakeLock", { value: { request: () => {
    window.heard.locks += 1;
    const lock = { released: false, release: () => { lock.released = true; return Promise.resolve(); } };
    window.lastLock = lock;
    return Promise.resolve(lock);
} } });
"""


def test_a_timer_rings_at_its_end_on_any_page_and_the_screen_stays_awake(tablet: Page, served: Served):
    context = tablet.context.browser.new_context()
    page = context.new_page()  # a tablet of its own: what it is made to hear stays with it
    page.add_init_script(RINGS)
    page.goto(f"{served.url}/recipes/wicket-kisses")
    page.get_by_role("button", name=shown("sheet.startTheBatch")).click()
    page.get_by_role("heading", name=said("step.kit.title")).wait_for()
    page.wait_for_function("() => window.heard.locks === 1")
    page.evaluate("window.lastLock.released = true; document.dispatchEvent(new Event('visibilitychange'))")
    page.wait_for_function("() => window.heard.locks === 2")
    batch = page.url.rsplit("/", 1)[1]
    now = datetime.fromisoformat(page.request.get(f"{served.url}/api/clock").json()["now"])
    started = {
        "id": "0000b311",
        "kind": "timer started",
        "step": "oven-0",
        "at": (now - timedelta(seconds=54)).isoformat(),
        "minutes": 1,
    }
    assert page.request.post(f"{served.url}/api/batches/{batch}/events", data=[started]).ok
    page.get_by_role("link", name=shown("kit.book")).click()
    page.wait_for_function("() => document.title.startsWith('Look now: ')", timeout=25_000)
    expect(page.get_by_text(re.compile(r"^Timer done\. Wicket kisses"))).to_be_attached()
    heard = page.evaluate("window.heard")
    assert heard["tones"] >= 2
    assert [note.split(":")[0] for note in heard["notes"]] == ["Wicket kisses"]
    stopped = {"id": "0000b312", "kind": "timer stopped", "step": "oven-0", "at": now.isoformat()}
    assert page.request.post(f"{served.url}/api/batches/{batch}/events", data=[stopped]).ok
    page.wait_for_function("() => document.title === 'Gull Peak'", timeout=25_000)
    context.close()


def test_the_large_button_names_the_sign_and_the_caution_stands_above_what_scrolls(page: Page, served: Served, batch: str):
    main = page.locator("[data-main]")
    expect(main).to_contain_text(shown("bench.done"))  # nothing to look for: it is done when it is done
    at_step(page, served, batch, "soft")
    expect(page.get_by_role("heading", name=re.compile("soft peak"))).to_be_visible()
    step = next(s for s in page.request.get(f"{served.url}/api/batches/{batch}").json()["process"]["steps"] if s["key"] == "soft")
    sign = step["until"][0]
    expect(main).to_contain_text(sign[0].upper() + sign[1:])
    expect(page.get_by_role("img", name=re.compile("soft peak")).first).to_be_visible()


def test_a_step_that_burns_is_held_and_its_caution_comes_first(page: Page, served: Served, batch: str):
    at_step(page, served, batch, "oven-0")
    caution = page.get_by_text("Hot oven and trays")
    expect(caution).to_be_in_viewport()
    expect(page.locator("[data-main]")).to_have_attribute("data-main", "hold")


def test_a_phone_shows_time_sign_and_button_first(browser: Browser, served: Served):
    with browser.new_context(viewport={"width": 390, "height": 844}) as context:
        page = context.new_page()
        page.goto(f"{served.url}/bench/demo-15")
        main = page.locator("[data-main]")
        main.wait_for()
        foot = page.get_by_role("navigation", name=shown("kit.places")).last.bounding_box()
        box = main.bounding_box()
        assert foot is not None
        assert box is not None
        assert box["y"] + box["height"] < foot["y"]
        assert box["width"] > 340
        expect(page.get_by_text(re.compile(r"^\d+:\d\d$")).first).to_be_in_viewport()
        expect(page.get_by_text("Until dry to touch")).to_be_in_viewport()
        expect(page.get_by_text("If not: ten minutes more").first).to_be_visible()


SPEECH = """
window.said = [];
window.SpeechSynthesisUtterance = function (text) { this.text = text; };
Object.defineProperty(window, 'speechSynthesis', { value: {
  getVoices: () => [{ localService: false, lang: 'en-GB' }, { localService: true, lang: 'en-IE' }],
  cancel: () => {}, speak: (u) => window.said.push([u.text, u.lang, u.voice.localService]),
} });
"""


def test_a_step_is_read_aloud_only_when_asked_for_and_by_a_voice_of_the_device(browser: Browser, served: Served):
    with browser.new_context(viewport=SCREEN) as context:
        page = context.new_page()
        page.add_init_script(SPEECH)
        page.goto(f"{served.url}/recipes/wicket-kisses")
        page.get_by_role("button", name=shown("sheet.startTheBatch")).click()
        page.get_by_role("heading", name=said("step.kit.title")).wait_for()
        assert page.evaluate("said") == []
        page.get_by_role("button", name=shown("bench.readAloudOff")).click()
        (first,) = page.evaluate("said")
        assert first[0].startswith(said("step.kit.title"))
        assert first[1:] == ["en-IE", True]
        page.locator("[data-main]").click()
        expect(page.get_by_role("heading", name=re.compile("Separate"))).to_be_visible()
        assert "Separate" in page.evaluate("said.at(-1)[0]")
        page.reload()
        page.get_by_role("button", name=shown("bench.readAloudOn")).click()
        count = page.evaluate("said.length")
        page.locator("[data-main]").click()
        expect(page.get_by_role("heading", name=re.compile("Separate"))).to_be_hidden()
        assert page.evaluate("said.length") == count
