# make demo   sets up on first use, then opens the demo pieces
# make test   sets up on first use, then runs lint, types, import contracts and tests
PY := python3
BIN := .venv/bin

.PHONY: setup demo test lint unit bench screenshots clean

setup: .venv/.ready

.venv/.ready: pyproject.toml requirements/runtime.txt requirements/dev.txt requirements/apt.txt scripts/setup.sh
	@bash scripts/setup.sh $(PY)

demo: setup
	@$(BIN)/plectrum demo

test: setup lint unit

lint: setup
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy src/plectrum
	$(BIN)/lint-imports
	$(BIN)/deptry src

unit: setup
	QT_QPA_PLATFORM=offscreen $(BIN)/python -m pytest -n 2

bench: setup
	QT_QPA_PLATFORM=offscreen $(BIN)/python -m benchmarks

screenshots: setup
	QT_QPA_PLATFORM=offscreen $(BIN)/python scripts/screenshots.py

clean:
	rm -rf .venv build dist src/*.egg-info .mypy_cache .ruff_cache .pytest_cache .hypothesis .import_linter_cache
