# Each target sets up what it needs; on a fresh machine `make demo` and `make test` are enough.
.PHONY: setup demo worker test dev check bench build types locks

PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
# Each of many processes would compile all modules anew where compiled ones are not kept.
export PYTHONDONTWRITEBYTECODE :=

setup: .stamps/python .stamps/web

.stamps/python: requirements.txt requirements-older.txt pyproject.toml
	@mkdir -p .stamps
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	$(BIN)/pip install --quiet --require-hashes -r requirements.txt -r requirements-older.txt
	$(BIN)/pip install --quiet --no-build-isolation --no-deps --editable .
	@touch $@

# What only checks and tests need; `make demo` does without.
.stamps/checks: .stamps/python requirements-checks.txt
	$(BIN)/pip install --quiet --require-hashes -r requirements-checks.txt
	@touch $@

# Both locks from pyproject.toml, keeping each version that still fits (LOCK=--upgrade renews them all).
PIP_COMPILE = $(BIN)/pip-compile $(LOCK) --quiet --generate-hashes --allow-unsafe --strip-extras --no-header \
	--no-emit-index-url --no-emit-trusted-host --no-emit-find-links pyproject.toml --extra desk
locks: .stamps/python
	$(BIN)/pip install --quiet pip-tools
	$(PIP_COMPILE) --output-file requirements.txt
	$(PIP_COMPILE) --extra checks --constraint requirements.txt --output-file requirements-checks.txt

.stamps/web: web/package.json web/package-lock.json
	@mkdir -p .stamps
	@# Not `npm ci`: it refuses a lock without every other platform's builds, which no one here can fetch.
	cd web && npm install --no-save --no-audit --no-fund --loglevel=error
	@touch $@

WEB_SOURCES := $(shell find web/src -type f 2>/dev/null) web/index.html web/vite.config.ts web/tsconfig.json

web/dist/index.html: .stamps/web $(WEB_SOURCES)
	cd web && npm run --silent build
	@touch $@

build: web/dist/index.html

demo: setup build
	@# Renders are drawn by a headless Chromium. Without one the desk still works, and draws in its own tab.
	@command -v chromium >/dev/null || ! command -v apt-get >/dev/null || [ "$$(id -u)" != 0 ] || \
		(apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium) || true
	$(BIN)/python manage.py demo

# One that draws for a desk on another machine: MELLOW_QUEUE and MELLOW_DESK say where; see docs/workers.md.
worker: setup
	$(BIN)/python manage.py worker --draw-only

# Vite with hot reload on its own port, and the server behind it.
dev: setup build
	$(BIN)/python manage.py demo & cd web && npm run dev

types: setup
	$(BIN)/python manage.py openapi web/src/api
	cd web && npm run --silent types
	$(BIN)/python scripts/check_current.py --write

check: setup .stamps/checks
	$(BIN)/ruff check --output-format concise src tests scripts
	$(BIN)/ruff format --check src tests scripts
	$(BIN)/mypy
	$(BIN)/lint-imports
	$(BIN)/python scripts/check_current.py
	cd web && npx tsc --noEmit && npm run --silent lint && npm run --silent test

test: check build .stamps/debian
	$(BIN)/pytest -n auto --dist worksteal --durations=10 tests/core tests/server
	@# On its own: Playwright keeps an event loop that Django's tests will not share, and each test wants all cores.
	$(BIN)/pytest --durations=25 tests/browser

# A browser, ffprobe to look at movies with, a queue for many machines, and a program that speaks.
.stamps/debian:
	@mkdir -p .stamps
	(test -x /usr/bin/chromium && command -v ffprobe && command -v redis-server && command -v espeak-ng) >/dev/null || \
		(apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium ffmpeg redis-server espeak-ng)
	@touch $@

bench: setup build .stamps/debian
	$(BIN)/python scripts/bench
