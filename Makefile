# Two commands on a fresh machine: `make demo` and `make test`.
PY := .venv/bin/python
PORT ?= 8610
DATA ?=
STAMPS := .stamps
# Processes are started by the hundred in tests: none should compile our modules anew.
export PYTHONDONTWRITEBYTECODE :=

.PHONY: demo test test-page test-demo test-seen test-program check-program check-page mutations bench bench-against bench-keys bench-picks bench-things bench-reference bench-checks bench-carry soak screenshots wheel check footage build install types clean

demo: build
	.venv/bin/wenditas demo --port $(PORT) $(if $(DATA),--data $(DATA))

install: $(STAMPS)/python
build: $(STAMPS)/python $(STAMPS)/site

# Locked versions first, then the package itself. What is never imported need not be compiled: it takes as long as fetching it all.
# A new pip takes half the time of the one that comes with Python 3.11, which looks at each release of each package at length.
PIP := .venv/bin/pip install -q --no-compile
$(STAMPS)/packages: requirements.lock pyproject.toml
	mkdir -p $(STAMPS)
	test -x $(PY) || python3 -m venv .venv
	$(PIP) --upgrade pip
	$(PIP) -r requirements.lock
	$(PIP) --no-deps -e .
	touch $@

# Kernels are compiled once, here.
$(STAMPS)/python: $(STAMPS)/packages
	.venv/bin/wenditas warm
	touch $@

$(STAMPS)/node: web/package.json web/package-lock.json
	mkdir -p $(STAMPS)
	cd web && npm ci --no-fund --no-audit
	touch $@

$(STAMPS)/site: $(STAMPS)/node $(shell find web/src web/public web/index.html web/vite.config.ts -type f 2>/dev/null)
	cd web && npx vite build --logLevel warn
	touch $@

# Tools for tests and checks; Debian's Chromium, without a window, for the browser tests, gcc and strace to make a machine unkind.
DEBIAN := chromium-headless-shell gcc strace
$(STAMPS)/debian: Makefile
	mkdir -p $(STAMPS)
	(for tool in $(DEBIAN); do command -v $$tool >/dev/null || exit 1; done) || (apt-get update -qq && apt-get install -y -qq $(DEBIAN) libc6-dev >/dev/null)
	touch $@

# The second browser, which the soak alone looks at.
$(STAMPS)/firefox: $(STAMPS)/debian
	command -v firefox-esr >/dev/null || (apt-get update -qq && apt-get install -y -qq firefox-esr >/dev/null)
	touch $@

$(STAMPS)/tools: requirements-test.lock $(STAMPS)/packages $(STAMPS)/debian
	$(PIP) -r requirements-test.lock
	touch $@

# What is fetched, compiled and checked, side by side; then the tests in one row of two processes: more would wait for each other.
test:
	$(MAKE) -j3 build $(STAMPS)/tools check test-page test-seen
	$(MAKE) test-program

test-page: $(STAMPS)/node
	cd web && npm test --silent

# The demo that servers of tests get copies of, and once more after somebody has looked at it.
test-demo: $(STAMPS)/python
	$(PY) -m tests.prepared

test-seen: test-demo $(STAMPS)/site $(STAMPS)/tools
	$(PY) -m tests.browser.seen

# In the order told: what takes longest first, so that both processes end together.
PARTS := faults browser render api project media references core formats store
test-program: build $(STAMPS)/tools
	$(PY) -m pytest -m "not long" --durations=25 -n 2 --dist loadfile --no-loadscope-reorder $(addprefix tests/,$(PARTS))

check: check-program check-page

check-program: $(STAMPS)/tools
	.venv/bin/ruff check wenditas tests bench
	.venv/bin/ruff format --check wenditas tests bench
	.venv/bin/mypy wenditas
	$(PY) -m wenditas.api | cmp - web/openapi.json || (echo "web/openapi.json is out of date: run 'make types'"; exit 1)
	$(PY) docs/treatments.py --check

check-page: $(STAMPS)/node
	cd web && npx openapi-typescript openapi.json --check -o src/api/schema.d.ts && npm run --silent check

types: $(STAMPS)/python $(STAMPS)/node
	$(PY) -m wenditas.api > web/openapi.json
	$(PY) docs/treatments.py
	cd web && npm run --silent types

bench: build $(STAMPS)/tools
	$(PY) -m bench

# Mattes on encoded footage against the true ones of the demo's generator.
bench-keys: build $(STAMPS)/tools
	$(PY) -m bench.keys

# First clicks in the light and in the dark: names, areas.
bench-picks: build $(STAMPS)/tools
	$(PY) -m bench.picks

# Objects carried through clips with true mattes.
bench-things: build $(STAMPS)/tools
	$(PY) -m bench.things

# Looks made from pictures of known ones, beside two peers.
bench-checks: build $(STAMPS)/tools
	$(PY) -m bench.checks

bench-reference: build $(STAMPS)/tools
	$(PY) -m bench.reference

# Keys carried over to other light, against the true mattes.
bench-carry: build $(STAMPS)/tools
	$(PY) -m bench.carry

# What docs/promises.md tells, tried again at length: kills, malformed files, many clients. Half an hour or more.
soak: build $(STAMPS)/tools $(STAMPS)/firefox
	$(PY) -m bench.soak

# The program made wrong in eighty places, one after another: which of the faults the tests see. An hour or more.
mutations: build $(STAMPS)/tools
	$(PY) -m tests.mutations

# This commit's speed against another's, in turn: make bench-against BASE=HEAD~1
bench-against: build $(STAMPS)/tools
	$(PY) -m bench.against $(or $(BASE),HEAD)

# One file that holds the page and the demo, for machines with Python alone.
wheel: build
	rm -rf build dist
	.venv/bin/pip wheel -q --no-deps -w dist .
	@ls dist/*.whl

screenshots: build $(STAMPS)/tools
	$(PY) docs/screenshots/take.py
	$(PY) docs/screenshots/looks.py
	$(PY) docs/screenshots/moving.py

footage: $(STAMPS)/tools
	$(PY) -m wenditas.demo.draw
	$(PY) -m wenditas.demo.draw.looks

clean:
	rm -rf $(STAMPS) build dist wenditas/api/site web/node_modules .venv
