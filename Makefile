# The one task file. Each target does its own set-up in .venv.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin

.PHONY: help demo cross test thorough unit enduring mutants types lint bench bench-short update-golden docs drawings clean

help:  ## this list
	@grep -hE '^[a-z-]+:.*## ' $(MAKEFILE_LIST) | sed -E 's/^([a-z-]+):.*## (.*)/\1\t\2/' | expand -t 16

# Installed anew when pyproject.toml changes.
$(VENV)/.installed: pyproject.toml
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -e .
	touch $@

$(VENV)/.installed-draw: $(VENV)/.installed
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -e ".[draw]"
	touch $@

$(VENV)/.installed-test: $(VENV)/.installed
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -e ".[test]"
	touch $@

demo: $(VENV)/.installed-draw  ## open the demo project; without a terminal, run its cases
	@if [ -t 0 ] && [ -t 1 ]; then $(BIN)/glimb open demo; else $(BIN)/glimb run demo; fi

# Streams of tests, at once: screens wait much, and have to be answered in time; the others compute. All tell which lines
# and branches they reach; what they reach together is not to become less. Taking probes out of code that has been
# reached (from a threshold on) costs more than it saves here.
STREAMS := screens walks commands core
walks := tests/tui/test_walk.py
screens := $(filter-out $(walks),$(wildcard tests/tui/test_*.py))
commands := $(wildcard tests/test_*.py)
core := $(wildcard tests/engine/test_*.py tests/lang/test_*.py tests/suite/test_*.py)
REACHED := 92
# Random statements and pairs of constructs reach what the rules have reached: to count it there would take longer only.
core-plain := $(patsubst %,tests/engine/test_%.py,planner against_sqlite combinations properties handlers serializable \
  cascades integers filling flow)
commands-plain := tests/test_mutations.py tests/test_anomalies.py tests/test_mutants.py

test: $(VENV)/.installed-test  ## everything
	@sh tools/need-tmux
	@$(MAKE) --no-print-directory --keep-going --jobs lint types $(STREAMS:%=test-%)
	@$(BIN)/python -m slipcover --branch --merge $(STREAMS:%=$(VENV)/%.json) --out $(VENV)/reached.json --json \
	  --fail-under $(REACHED) > $(VENV)/reached.txt; few=$$?; tail -1 $(VENV)/reached.txt; exit $$few

test-%: $(VENV)/.installed-test
	@{ failed=0; \
	  $(BIN)/python -m slipcover --branch --threshold 1000000 --source src/glimb --json --out $(VENV)/$*.json \
	    -m pytest $(filter-out $($*-plain),$($*)) || failed=1; \
	  $(if $($*-plain),$(BIN)/python -m pytest $($*-plain) || failed=1;) \
	} > $(VENV)/$*.log 2>&1; cat $(VENV)/$*.log; exit $$failed

thorough: $(VENV)/.installed-test  ## random queries, statements, texts and keys, twelve times as many
	THOROUGH=1 $(BIN)/python -m pytest tests/tui/test_keys.py tests/engine/test_planner.py tests/engine/test_against_sqlite.py \
	  tests/test_mutations.py

unit: $(VENV)/.installed-test  ## the tests without the screens
	$(BIN)/python -m pytest --ignore tests/tui

enduring: $(VENV)/.installed-test  ## long runs: millions of statements twice, then the screens by random keys (COUNT=, MINUTES=)
	$(BIN)/python -m tools.enduring $(or $(COUNT),10000000)
	MINUTES=$(or $(MINUTES),60) $(BIN)/python -m pytest -s tests/tui/test_keys.py -k "keys and 0"

mutants: $(VENV)/.installed-test  ## small changes to our own source: which does no test notice? (COUNT=, SEED=)
	test -d .mutants || $(BIN)/python -m tools.mutants map
	$(BIN)/python -m tools.mutants run $(or $(COUNT),600) $(or $(SEED),1)

types: $(VENV)/.installed-test  ## mypy --strict alone
	$(BIN)/mypy

lint: $(VENV)/.installed-test  ## ruff and the import contracts alone
	$(BIN)/ruff check . && $(BIN)/ruff format --check . && $(BIN)/lint-imports

bench: $(VENV)/.installed-bench  ## each figure beside its peer, as ratios; fails where one is beyond what is to be reached
	$(BIN)/python -m benchmarks

bench-short: $(VENV)/.installed-bench  ## some of them, once, with wide bounds: what has become slow by its kind
	$(BIN)/python -m benchmarks --short

$(VENV)/.installed-bench: $(VENV)/.installed
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -e ".[bench]"
	touch $@

cross: $(VENV)/.installed-test  ## random statements here and in the database servers that are installed (COUNT=, SEED=)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -e ".[cross]"
	cd tests && ../$(BIN)/python -m against $(or $(COUNT),20000) $(or $(SEED),1)

update-golden: $(VENV)/.installed-test  ## write the expected files anew; look at the difference before committing
	$(BIN)/python -m pytest --update tests/engine/test_golden.py tests/suite/test_scripts.py tests/tui/test_drawing.py tests/tui/test_walk.py tests/test_told.py \
	  tests/test_grafts.py tests/engine/test_operations.py tests/lang/test_slips.py tests/suite/test_completing.py

docs: $(VENV)/.installed-test  ## make the pages and pictures anew that are made from the code
	$(BIN)/python -m tools.sqlstates
	$(BIN)/python -m tools.conformance
	$(BIN)/python -m tools.anomalies
	$(BIN)/python -m tools.stages

drawings: $(VENV)/.installed-draw  ## make docs/drawings anew, one of each kind, from the demo
	$(BIN)/python -m tools.drawings

clean:  ## remove what was made
	rm -rf $(VENV) .mypy_cache .ruff_cache .pytest_cache .hypothesis
