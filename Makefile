# Everything a kitchen or a developer calls. `make demo` and `make test` work on a bare machine with Python 3.11+ and Node 20+.
PY := .venv/bin/python
UI_SOURCES := $(shell find ui/src ui/public ui/index.html ui/vite.config.ts -type f 2>/dev/null)
export PYTHONDONTWRITEBYTECODE :=

.PHONY: setup demo demo-plans serve test lint chromium bench faults mutants moments science sweep performance reading load log-load walk fonts screenshots types clean

PYTEST := --dist loadfile --no-loadscope-reorder

setup: .venv/.compiled ui/dist/index.html

.venv/.ready: requirements.lock pyproject.toml requirements-uv.txt
	@python3 -c 'import sys; sys.exit(int(sys.version_info < (3, 11)))' 2>/dev/null \
	|| { echo "Gull Peak needs Python 3.11 or newer, and $$(python3 --version 2>/dev/null || echo none) is here." >&2; exit 1; }
	@node -e 'process.exit(Number(process.versions.node.split(".")[0]) < 20 ? 1 : 0)' 2>/dev/null \
	|| { echo "Gull Peak needs Node 20 or newer, and $$(node --version 2>/dev/null || echo none) is here." >&2; exit 1; }
	python3 -m venv .venv
	$(PY) -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements-uv.txt
	.venv/bin/uv pip install --quiet --python $(PY) --no-python-downloads --compile-bytecode --require-hashes -r requirements.lock
	.venv/bin/uv pip install --quiet --python $(PY) --no-deps --no-build-isolation -e .
	touch $@

# The drying solver to machine code: a quarter of a minute once, so that nobody waits for it in the app.
.venv/.compiled: .venv/.ready $(wildcard gullpeak/core/physics/*.py gullpeak/core/physics/drying/*.py)
	$(PY) -c 'from gullpeak.core.physics import drying, jacket; drying.warm(); jacket.melt(10, 205, False)'
	touch $@

ui/node_modules/.ready: ui/package-lock.json
	cd ui && npm ci --no-audit --no-fund --loglevel=error
	touch $@

ui/dist/index.html: .venv/.ready ui/node_modules/.ready ui/openapi.json $(UI_SOURCES)
	cd ui && npm run --silent types && npx tsc --noEmit && npm run --silent build

# The interface's types come from the server's own description.
types: .venv/.ready ui/node_modules/.ready
	.venv/bin/gullpeak openapi > ui/openapi.json
	cd ui && npm run --silent types

demo: setup
	.venv/bin/gullpeak demo

serve: setup
	.venv/bin/gullpeak serve

lint: setup
	.venv/bin/ruff format --check .
	.venv/bin/ruff check .
	.venv/bin/mypy
	.venv/bin/lint-imports
	cd ui && npx biome check src && npx knip

# What needs no browser first, three at once as devices often wait; then the journeys in Debian's Chromium, three at once too:
# they wait for the clock of the app. Both share what is made once, like the demo laid out.
test: lint
	@set -e; GULLPEAK_TESTS_SHARED=$$(mktemp -d); export GULLPEAK_TESTS_SHARED; trap 'rm -rf "$$GULLPEAK_TESTS_SHARED"' EXIT; \
	$(PY) -m pytest -n 3 $(PYTEST) --ignore=tests/ui; \
	$(MAKE) --no-print-directory chromium; \
	$(PY) -m pytest -n 3 $(PYTEST) tests/ui

chromium:
	@command -v chromium-headless-shell >/dev/null \
	|| { command -v apt-get >/dev/null && apt-get update -qq && apt-get install -y -qq chromium-headless-shell >/dev/null; } \
	|| command -v chromium >/dev/null \
	|| { echo "The browser tests need Chromium, and it cannot be installed here. Install Debian's package chromium-headless-shell, then run this again." >&2; exit 1; }

# A hundred kills in the middle of work, a kill at every statement of every migration, two tablets at random for twenty minutes.
faults: setup
	$(PY) -m bench.trials.killed_migrations
	$(PY) -m bench.trials.killed_server
	$(PY) -m bench.trials.two_tablets

# Sixty random changes to the code, each tried by the tests that run its line (half an hour).
mutants: setup
	$(PY) -m bench.trials.mutants

# Two thousand random sheets held against themselves: figures in their bands, inputs in their order.
sweep: setup
	$(PY) -m bench.sweep

# The suite without the browser at eight moments of the outside clock (Debian's faketime).
moments: setup
	$(PY) -m bench.trials.moments

# The plan that ships with the demo, made again after a change to planning or to its book (a minute).
demo-plans: setup
	$(PY) -m gullpeak.demo.plans

bench: setup
	$(PY) -m pytest bench --benchmark-columns=median,iqr,rounds -q

# The table of docs/performance.md: solver, sheets, lists, sliders, start, in one run.
performance: setup
	$(PY) -m bench.performance

# What the reader makes of ninety texts, phrase by phrase: the half it was written on, the half kept aside, and those written later, twice.
reading: setup
	for half in worked kept later again; do $(PY) -m bench.reading.report $$half --loud; done

# The tables and plots of docs/science.md that come from simulation.
science: setup
	$(PY) -m bench.estimator
	$(PY) -m bench.planner
	$(PY) -m bench.faults
	$(PY) -m bench.learn

# A thousand readings a minute with the bench open, and a server killed in the middle.
load: setup
	$(PY) -m bench.gateway_load

# Ten thousand batches, five million readings: every list, filter, batch and overlay timed.
log-load: setup
	$(PY) -m bench.log_load

# The fonts of printed pages, from the packages that ui/package.json names.
fonts: .venv/.ready ui/node_modules/.ready
	$(PY) -m bench.fonts

# Every place and box at six widths: what is cut, lies over something, or axe says.
walk: setup
	$(PY) -m tests.ui.walk

screenshots: setup
	$(PY) -m tests.ui.screenshots

clean:
	rm -rf .venv ui/node_modules ui/dist .data
