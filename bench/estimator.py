"""How well the live estimate foretells the end, on simulated pans and bowls nobody told it about: `make science`.

Prints the table, puts it into docs/science.md between its marks, and draws docs/estimator.png.
"""

import re
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import matplotlib
import numpy as np

from gullpeak.core.bench import estimate
from gullpeak.core.bench.process import steps
from gullpeak.core.bench.watch import Watch
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.devices.worlds import Hidden, pan_done_s, world

matplotlib.use("Agg")
from matplotlib import pyplot as plt

DOCS = Path(__file__).parents[1] / "docs"
SEEDS = 300
SHARES = (0.1, 0.25, 0.5, 0.75, 0.9)
EVERY_S = 3.0


def hidden_syrup(seed: int) -> Hidden:
    return Hidden.drawn(seed)


def hidden_cycling(seed: int) -> Hidden:
    """A ring that switches itself on and off: the flame swings far more than the model knows of."""
    return replace(Hidden.drawn(seed), wander=0.25)


def done_s(watch: Watch, hidden: Hidden) -> float:
    """When it truly is at its target."""
    if watch.syrup is not None:
        return pan_done_s(watch, hidden)
    times = np.arange(0, 7200, 1.0)
    of = world(watch, hidden)
    there = np.flatnonzero(np.array([of(float(s)) for s in times]) >= watch.target_c)
    return float(times[there[0]]) if there.size else float("nan")


def one(watch: Watch, hidden: Hidden, share: float, seed: int) -> tuple[float, float, bool]:
    """Return the miss of the finish as a share of the whole and of what was left, and whether the interval held it."""
    truth = done_s(watch, hidden)
    t = np.arange(0, truth * share, EVERY_S)
    of, noise = world(watch, hidden), np.random.default_rng([5, seed])
    shown = np.array([of(float(s) - hidden.lag_s) for s in t]) + hidden.noise * noise.normal(size=t.size)
    if watch.syrup is not None:
        curve = estimate.syrup_curve(watch.syrup, watch.start_c, watch.room_c, watch.lag_s)
    else:
        assert watch.newton is not None
        curve = estimate.newton_curve(watch.newton, float(shown[0]), float(t[0]))
    # What is foretold is when the probe will read it; the truth is there by the probe's usual lag earlier.
    at, low, high = (x - watch.lag_s for x in estimate.fit(curve, t, shown).when(watch.target_c))
    miss = abs(at - truth)
    return miss / truth, miss / (truth - t[-1]), low <= truth <= high


def run() -> tuple[str, dict[str, np.ndarray]]:
    pan = steps(work_out(RECIPES["fogsignal-topping"], KITCHEN)).watch("syrup")
    bowl = steps(work_out(RECIPES["watchkeepers-sabayon"], KITCHEN)).watch("bath")
    assert pan is not None
    assert bowl is not None
    worlds: list[tuple[str, Watch, Callable[[int], Hidden]]] = [
        ("syrup, ring unknown", pan, hidden_syrup),
        ("syrup, ring that cycles by a quarter", pan, hidden_cycling),
        ("sabayon over its bath", bowl, hidden_syrup),
    ]
    lines = [
        "| what | read so far | median miss of the finish | of the time left | 90 in 100 within | 80 % interval held it |",
        "|---|---|---|---|---|---|",
    ]
    courses = {}
    for name, watch, draw in worlds:
        medians = []
        for share in SHARES:
            found = [one(watch, draw(seed), share, seed) for seed in range(SEEDS) if np.isfinite(done_s(watch, draw(seed)))]
            miss, left, held = (np.array(x) for x in zip(*found, strict=True))
            lines.append(
                f"| {name} | {100 * share:.0f} % of the time | {100 * np.median(miss):.1f} % | {100 * np.median(left):.1f} % "
                f"| {100 * np.percentile(miss, 90):.1f} % | {100 * held.mean():.0f} % of {len(found)} |"
            )
            medians.append((100 * np.median(miss), 100 * np.percentile(miss, 90), 100 * held.mean()))
        courses[name] = np.array(medians)
    return "\n".join(lines), courses


def draw(courses: dict[str, np.ndarray]) -> None:
    figure, (left, right) = plt.subplots(1, 2, figsize=(9, 3.4), layout="constrained")
    at = [100 * s for s in SHARES]
    for (name, course), colour in zip(courses.items(), ("#12414C", "#B8321F", "#2F7C93"), strict=True):
        left.plot(at, course[:, 0], color=colour, label=name, marker="o")
        left.fill_between(at, course[:, 0], course[:, 1], color=colour, alpha=0.12)
        right.plot(at, course[:, 2], color=colour, marker="o")
    left.axhline(8, color="#3f5b61", linestyle=":")
    left.set(xlabel="share of the time read, %", ylabel="miss of the finish, %", ylim=(0, None), title="median, and 90 in 100")
    left.legend(frameon=False, fontsize=8)
    right.axhspan(75, 90, color="#C9D6D3")
    right.set(xlabel="share of the time read, %", ylabel="held by the 80 % interval, %", ylim=(30, 100), title="aim: 75 to 90")
    figure.savefig(DOCS / "estimator.png", dpi=110)


if __name__ == "__main__":
    table, courses = run()
    print(table)
    draw(courses)
    page = DOCS / "science.md"
    marked = re.compile(r"(<!-- estimator -->\n).*?(<!-- /estimator -->)", re.DOTALL)
    page.write_text(marked.sub(lambda m: f"{m[1]}{table}\n{m[2]}", page.read_text()))
