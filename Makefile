# make demo     sets up on first use, then opens the demo pieces
# make test     sets up on first use, then runs lint, types, import contracts and tests
# make bench    prints speed, memory and growth
# make calibrate  learns the worth of directions and hooks from printed bowings (long)
# make fuzz     throws damaged files at every entry, five minutes; ARGS="--minutes 30 --seed 7"
# make monkey   lets a random hand work in the real window; ARGS="--actions 10000 --seed 7"
# make deb      builds a Debian package with its own environment into dist
# make wheel    builds a wheel into dist
# make lock     writes down the hashes of all packages anew (long)
# make bare     tries the set-up and the package in a bare Debian (as root, long)
# make mutants  tells which small changes of the core no test notices (long)
PY := python3
BIN := .venv/bin
# Isolated: no module that lies about is taken for one of the library.
PYTHON := $(BIN)/python -I
RUN := $(PYTHON) scripts/run.py
DEB_PYTHON := /usr/bin/python3

LOOPS := $(shell find src -name '*.pyx')
NEEDED := pyproject.toml setup.py requirements/runtime.txt requirements/build.txt requirements/apt.txt \
	scripts/setup.sh scripts/build.sh scripts/prune.py $(LOOPS)

.PHONY: setup demo test lint unit bench calibrate fuzz monkey mutants screenshots deb wheel bare lock clean

# For the application alone, and with all that testing and developing need.
setup: .venv/.developer

.venv/.runtime: $(NEEDED)
	@bash scripts/setup.sh $(PY) runtime

.venv/.developer: $(NEEDED) requirements/dev.txt
	@bash scripts/setup.sh $(PY) developer

demo: .venv/.runtime
	@$(BIN)/plectrum demo

test: setup lint unit

lint: setup
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy src/plectrum
	$(BIN)/lint-imports
	$(BIN)/deptry src

unit: setup
	QT_QPA_PLATFORM=offscreen $(PYTHON) -m pytest -n 3 --dist loadfile

bench: setup
	QT_QPA_PLATFORM=offscreen $(RUN) benchmarks

calibrate: setup
	$(RUN) scripts.calibrate

fuzz: setup
	$(PYTHON) -W ignore scripts/run.py tests.fuzzing.run $(ARGS)

monkey: setup
	QT_QPA_PLATFORM=offscreen $(RUN) tests.fuzzing.monkey $(ARGS)

mutants: setup
	$(RUN) scripts.mutants

screenshots: setup
	QT_QPA_PLATFORM=offscreen $(RUN) scripts.screenshots

deb:
	@bash packaging/deb.sh dist $(DEB_PYTHON)

wheel: setup
	@bash scripts/build.sh $(BIN)/python wheel -q -w dist
	@ls dist/*.whl

bare:
	@bash scripts/bare_root.sh

# The hashes of every file that may be installed, of the versions in requirements/*.in and of all
# that these need; some minutes each.
lock:
	$(PY) -I -m venv build/lock
	build/lock/bin/python -I -m pip install -q --disable-pip-version-check 'pip-tools>=7.5,<8'
	for of in runtime dev build; do \
	    { echo "# Every package with the hashes it may have: made by \`make lock\` from $$of.in."; \
	      build/lock/bin/pip-compile -q --generate-hashes --no-emit-index-url --no-emit-find-links \
	          --no-emit-trusted-host --no-header --strip-extras --allow-unsafe -o - requirements/$$of.in; \
	    } > build/$$of.txt && mv build/$$of.txt requirements/$$of.txt || exit 1; \
	done

clean:
	rm -rf .venv build dist src/*.egg-info $(shell find src -name '*.so') .mypy_cache .ruff_cache .pytest_cache .hypothesis .import_linter_cache
