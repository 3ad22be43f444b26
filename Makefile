# Needs python3 (3.11 or later), pip and make; everything else goes into .venv.
PYTHON ?= python3
VENV ?= .venv
BIN = $(VENV)/bin

.PHONY: demo test lint check bench shots clean

$(BIN)/.ready: pyproject.toml
	$(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -e '.[dev]'
	$(BIN)/python -m compileall -q src
	touch $@

demo: $(BIN)/.ready
	$(BIN)/brujula demo

test: $(BIN)/.ready
	$(BIN)/python -m pytest

lint: $(BIN)/.ready
	$(BIN)/ruff check src tests examples benchmarks
	$(BIN)/ruff format --check src tests examples benchmarks
	$(BIN)/mypy
	$(BIN)/lint-imports

check: lint test

bench: $(BIN)/.ready
	$(BIN)/python -m benchmarks

shots: $(BIN)/.ready
	$(BIN)/python docs/screenshots/make.py

clean:
	rm -rf $(VENV) brujula-demo build .pytest_cache .mypy_cache .ruff_cache .hypothesis
