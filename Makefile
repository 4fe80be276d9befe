# Everything a person needs: `make demo` to look at it, `make test` to trust it.
PYTHON ?= $(shell command -v python3.11 || command -v python3)
VENV := .venv
BIN := $(VENV)/bin
PORT ?= 8765
NEAPFROST_DATA ?= data
export PORT NEAPFROST_DATA
# Some machines forbid to keep what is compiled of a source; every process would do it again.
unexport PYTHONDONTWRITEBYTECODE
NPM := npm --prefix web
WEB_SOURCES := $(shell find web/src web/public -type f) web/index.html web/vite.config.ts web/svelte.config.js
KERNELS := $(shell $(PYTHON) src/neapfrost/kernel_cache.py)
STATIC := src/neapfrost/api/static/index.html
# What the API takes and gives is described by these; the page's types are made of it.
DESCRIBED := $(shell find src/neapfrost/api src/neapfrost/services src/neapfrost/formats -name "*.py") src/neapfrost/core/units.py
TYPES := web/src/lib/api/schema.d.ts

# What waits for nothing and for which nothing waits lets the rest go first.
LATER := nice -n 10

CHECKS := check-python check-page

.PHONY: setup demo test wheel check $(CHECKS) dev screenshots bench browser format types clean

setup: $(VENV)/.installed web/node_modules/.installed $(STATIC) $(VENV)/.warmed

demo: setup
	@$(BIN)/neapfrost demo

dev: setup
	@echo "The page reloads by itself at the address that Vite prints."
	@trap 'kill 0' EXIT; $(BIN)/neapfrost demo & API_PORT=$(PORT) $(NPM) run dev

check: $(CHECKS)

check-python: $(VENV)/.installed
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(LATER) $(BIN)/mypy
	$(BIN)/lint-imports

check-page: web/node_modules/.installed $(TYPES)
	$(LATER) $(NPM) run --silent check
	$(LATER) $(NPM) run --silent lint
	$(LATER) $(NPM) run --silent format

# What a new machine needs is fetched, compiled and checked side by side; the tests run likewise.
test:
	@$(MAKE) --no-print-directory --jobs=3 setup browser $(CHECKS)
	$(BIN)/pytest --numprocesses=3 --dist=worksteal

types: $(TYPES)

screenshots: setup browser
	$(BIN)/python scripts/screenshots.py

bench: setup browser
	$(BIN)/python bench/run.py

format: setup
	$(BIN)/ruff check --fix .
	$(BIN)/ruff format .
	$(NPM) exec -- prettier --write web/src web/*.ts web/*.js

browser:
	@scripts/install-browser

$(VENV)/.installed: requirements.lock pyproject.toml
	@command -v $(PYTHON) >/dev/null || { echo "Python 3.11 or newer is needed as '$(PYTHON)'; name another with PYTHON=…"; exit 1; }
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	$(BIN)/pip install --quiet --no-compile --disable-pip-version-check -r requirements.lock
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps --editable .
	@touch $@

web/node_modules/.installed: web/package.json web/package-lock.json
	@command -v npm >/dev/null || { echo "Node 20 or newer with npm is needed"; exit 1; }
	$(NPM) ci --no-audit --no-fund --loglevel=error
	@touch $@

$(VENV)/.typed: $(VENV)/.installed web/node_modules/.installed $(DESCRIBED) scripts/generate_types.py
	$(BIN)/python scripts/generate_types.py
	@touch $@

# Written only where it has changed, so that nothing is built anew for a change that it does not see.
$(TYPES): $(VENV)/.typed ;

$(STATIC): web/node_modules/.installed $(TYPES) $(WEB_SOURCES) scripts/third_party_notices.py
	$(LATER) $(NPM) run --silent build -- --logLevel warn
	@$(PYTHON) scripts/third_party_notices.py
	@touch $@

wheel: $(VENV)/.installed $(STATIC)
	$(BIN)/pip wheel --quiet --disable-pip-version-check --no-deps --wheel-dir dist .

# Compiling the kernels takes a minute or two, once for each state of their sources.
$(VENV)/.warmed: $(VENV)/.installed $(KERNELS)
	@echo "Compiling the lap solver (a minute or two, once) …"
	$(BIN)/python scripts/warm_kernels.py
	@touch $@

clean:
	rm -rf $(VENV) web/node_modules src/neapfrost/api/static
