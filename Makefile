# make demo: sets everything up and starts Sutaru with demo data.  make test: sets everything up and runs all tests.
# On Debian as root, system packages are installed through apt; elsewhere they are named when they are missing.
SHELL := /bin/bash
PY := .venv/bin/python
STAMPS := .stamps
APT := python3-venv nodejs npm chromium libimage-exiftool-perl imagemagick poppler-utils qpdf mupdf-tools
HOST ?= 127.0.0.1
PORT ?= 8765
DATA ?= .data

# Where a newer Node is put when the system's is too old; see tools/install_system.
export PATH := $(CURDIR)/.stamps/node/node_modules/node/bin:$(PATH)

.PHONY: demo test lint setup bench schemas clean
.DELETE_ON_ERROR:

demo: setup
	$(PY) -m sutaru.cli serve --demo --host $(HOST) --port $(PORT) --data $(DATA)

test: setup lint
	tools/fetch_faces $(STAMPS)/faces
	cd web && npm run -s test
	$(PY) -m pytest

lint: setup
	.venv/bin/ruff check .
	.venv/bin/ruff format --check .
	.venv/bin/mypy
	cd web && npm run -s lint && npm run -s typecheck

bench: setup
	tools/fetch_faces $(STAMPS)/faces
	$(PY) -m bench

schemas: $(STAMPS)/python $(STAMPS)/npm
	PYTHONPATH=. $(PY) tools/write_schemas.py
	cd web && npm run -s gen:api

setup: $(STAMPS)/system $(STAMPS)/python web/dist/index.html

$(STAMPS)/system: tools/install_system
	@mkdir -p $(STAMPS)
	tools/install_system $(APT)
	@touch $@

$(STAMPS)/python: requirements.lock pyproject.toml $(STAMPS)/system
	test -x $(PY) || python3 -m venv .venv
	$(PY) -m pip install --quiet --disable-pip-version-check --requirement requirements.lock
	$(PY) -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation --editable .
	@touch $@

$(STAMPS)/npm: web/package-lock.json web/package.json web/.npmrc $(STAMPS)/system
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

web/dist/index.html: $(STAMPS)/npm $(shell find web/src -type f) web/index.html web/vite.config.ts
	cd web && npm run -s build
	@touch $@

clean:
	rm -rf .venv .stamps web/node_modules web/dist
