# `make demo` and `make test` set up everything they need; nothing has to be installed by hand before.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
STAMP := $(VENV)/.ready

.PHONY: demo test lint unit install uninstall deb try-deb bench bench-arrange bench-capture bench-depth bench-awake coverage mutations fuzz monkey lose kills busy campaign screenshots schema words lock clean

demo: $(STAMP)
	@$(BIN)/python tools/run_demo.py

test: $(STAMP) lint unit

lint: $(STAMP)
	$(BIN)/ruff check src tests tools benchmarks
	$(BIN)/ruff format --check src tests tools benchmarks
	$(BIN)/mypy
	$(BIN)/lint-imports --no-cache
	$(BIN)/python tools/kinds_as_text.py
	$(BIN)/python tools/words.py

unit: $(STAMP)
	$(BIN)/python tools/run_tests.py

bench: $(STAMP)
	$(BIN)/python benchmarks/run.py

bench-arrange: $(STAMP)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --requirement benchmarks/requirements.txt
	$(BIN)/python benchmarks/arrange.py

# Which lines of the core no test runs; twice as long as the suite.
coverage: $(STAMP)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --requirement benchmarks/requirements.txt
	$(BIN)/python tools/cover.py

# Small faults put into depth, pulls, findings and bench, one at a time: which of them no test notices. An hour.
mutations: $(STAMP)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --requirement benchmarks/requirements.txt
	$(BIN)/python tools/mutations.py

bench-awake: $(STAMP)
	$(BIN)/python benchmarks/awake.py

bench-depth: $(STAMP)
	taskset -c 0 $(BIN)/python benchmarks/depth.py

bench-capture: $(STAMP)
	$(BIN)/python benchmarks/capture.py

fuzz: $(STAMP)
	$(BIN)/python tools/fuzz_imports.py

# An hour at the real window, by chance; prints the seed and a short sequence of what fails.
monkey: $(STAMP)
	QT_QPA_PLATFORM=offscreen $(BIN)/python tools/monkey.py --minutes 60 --actions 1000

lose: $(STAMP)
	$(BIN)/python tools/lose.py

kills: $(STAMP)
	$(BIN)/python tools/kill_trials.py --trials 1000 --side-by-side 4

# The tests five times in a row while four loops keep the processors busy: some hours.
busy: $(STAMP)
	$(BIN)/python tools/busy.py --loops 4 --times 5 -- $(BIN)/python tools/run_tests.py

# All that is tried by chance, in full: some hours.
campaign: $(STAMP) monkey lose kills fuzz
	TEST_ALL=1 $(BIN)/python tools/run_tests.py
	$(BIN)/python benchmarks/arrange.py --only rules

screenshots: $(STAMP)
	$(BIN)/python tools/screenshots.py

# Finds all texts anew, brings the catalogues up to date and compiles them; what lacks a translation is listed.
words: $(STAMP)
	$(BIN)/python tools/words.py --write

# For you alone, no root: make install. For a package: make install PREFIX=/usr DESTDIR=tree. SITE= names its page.
PREFIX ?= $(HOME)/.local
DESTDIR ?=
SITE ?= https://cozyburrow.example
install: $(STAMP)
	$(BIN)/python tools/install.py install --prefix "$(PREFIX)" --destdir "$(DESTDIR)" --python "$(PYTHON)" --site "$(SITE)"

uninstall: $(STAMP)
	$(BIN)/python tools/install.py uninstall --prefix "$(PREFIX)" --destdir "$(DESTDIR)"

deb: $(STAMP)
	$(BIN)/python tools/make_deb.py

try-deb: $(STAMP)
	$(BIN)/python tools/try_deb.py

schema: $(STAMP)
	$(BIN)/python tools/write_schema.py

# Writes requirements.lock anew from pyproject.toml; look at the difference before committing it.
lock:
	rm -rf build/lock-venv && $(PYTHON) -m venv build/lock-venv
	build/lock-venv/bin/pip install --quiet --upgrade setuptools '.[dev]'
	build/lock-venv/bin/pip freeze --all --exclude cozy-burrow --exclude pip > requirements.lock

$(STAMP): requirements.lock pyproject.toml tools/system_packages.py
	$(PYTHON) tools/system_packages.py
	$(BIN)/python -m pip --version >/dev/null 2>&1 || { rm -rf $(VENV) && $(PYTHON) -m venv $(VENV); }
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --requirement requirements.lock
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation --editable .
	touch $(STAMP)

clean:
	rm -rf $(VENV) build dist .mypy_cache .ruff_cache
