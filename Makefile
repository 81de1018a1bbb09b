# Two commands on a fresh machine with Python 3.11+, Node 20+ and make: `make demo` and `make test`.
PYTHON ?= python3
# Tests start many processes, which need not compile everything each time.
unexport PYTHONDONTWRITEBYTECODE
BIN := .venv/bin
CONSOLE := lauschen/api/console/index.html
TYPES := web/src/api/schema.d.ts
APART := --ignore=tests/e2e --ignore=tests/real --ignore=tests/large
SOURCES := $(shell find web/src -type f ! -name schema.d.ts) web/index.html web/vite.config.ts
SENTENCES := $(shell find lauschen/sentences -name '*.po')
API := $(shell find lauschen -name '*.py')

.PHONY: demo test lint unit twice e2e test-real fuzz bench chromium clean

demo: .venv/worded $(CONSOLE)
	@exec $(BIN)/lauschen demo

test: lint unit e2e

lint: .venv/tested web/node_modules/installed $(TYPES)
	$(BIN)/ruff check lauschen tests bench
	$(BIN)/ruff format --check lauschen tests bench
	$(BIN)/mypy
	cd web && npm run --silent lint && npm run --silent types

unit: .venv/tested $(CONSOLE)
	$(BIN)/pytest -n 2 --dist loadscope $(APART)

# Each group of jobs is run, rolled back and run again. `make unit` does so to some of them, by a coin.
# Then what the suite asked of the database is explained on a large house, and a watchdog looks at one: some minutes.
twice: .venv/tested $(CONSOLE)
	rm -rf .statements
	LAUSCHEN_TWICE=always LAUSCHEN_STATEMENTS=.statements $(BIN)/pytest -n 2 --dist loadscope $(APART)
	LAUSCHEN_STATEMENTS=.statements $(BIN)/pytest tests/large

# A process of its own: an asyncio test that runs after a synchronous Playwright test fails.
e2e: .venv/tested $(CONSOLE) chromium
	$(BIN)/pytest -n 2 --dist loadscope tests/e2e

# Against a real access point in an emulated machine; builds that once into a cache folder. Some minutes.
test-real: .venv/tested
	@tests/real/need-emulator
	$(BIN)/pytest tests/real

# A minute of coverage-guided fuzzing of the codec; needs a platform that atheris has a build for.
fuzz: .venv/tested
	$(BIN)/pip install --quiet --disable-pip-version-check atheris
	$(BIN)/python -m tests.fuzz_codec -max_total_time=60 -max_len=600

bench: .venv/tested $(CONSOLE)
	$(BIN)/python -m bench

# The console's types are made from the API's own description. The file changes only when the API does.
$(TYPES): web/node_modules/installed .venv/installed $(API)
	$(BIN)/python -m lauschen.api.describe > web/openapi.json
	cd web && npm run --silent api

chromium:
	@tests/need-chromium

$(CONSOLE): web/node_modules/installed $(SOURCES)
	cd web && npm run --silent build

.venv/installed: requirements.lock pyproject.toml
	$(PYTHON) -m venv .venv
	$(BIN)/pip install --quiet --disable-pip-version-check --require-hashes -r requirements.lock
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps --editable .
	@touch $@

.venv/worded: .venv/installed $(SENTENCES)
	$(BIN)/python -m lauschen.sentences.compiling
	@touch $@

.venv/tested: .venv/worded requirements-test.lock
	$(BIN)/pip install --quiet --disable-pip-version-check --require-hashes -r requirements-test.lock
	@touch $@

web/node_modules/installed: web/package.json web/package-lock.json
	cd web && npm ci --silent --no-fund --no-audit
	@touch $@

clean:
	rm -rf .venv .statements web/node_modules web/openapi.json $(TYPES) lauschen/api/console
