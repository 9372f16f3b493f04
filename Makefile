# make demo: sets everything up and starts Sutaru with demo data.  make test: sets everything up and runs all tests.
# On Debian as root, system packages are installed through apt; elsewhere a missing one is named, and it stops there.
SHELL := /bin/bash
PY := .venv/bin/python
STAMPS := .stamps
# What is set up: what running needs; the tests' tools too once anything but the demo was asked for.
FOR := $(if $(filter-out demo,$(MAKECMDGOALS))$(wildcard .stamps/npm-test),test,run)
LOCK_run := requirements.lock
LOCK_test := requirements-test.lock
APT_run := python3-venv nodejs npm
APT_test := $(APT_run) b3sum chromium libimage-exiftool-perl imagemagick poppler-utils qpdf mupdf-tools \
	ghostscript liblcms2-utils argyll icc-profiles-free
NPM_run := --omit=dev
HOST ?= 127.0.0.1
PORT ?= 8765
DATA ?= .data

# Where a newer Node is put when the system's is too old; see tools/install_system.
# Processes that are started by tests would compile all modules anew.
unexport PYTHONDONTWRITEBYTECODE
export PATH := $(CURDIR)/.stamps/node/node_modules/node/bin:$(PATH)

.PHONY: demo test lint setup dist bench trial schemas clean
.DELETE_ON_ERROR:

demo: setup
	$(PY) -m sutaru serve --demo --host $(HOST) --port $(PORT) --data $(DATA)

test: setup lint
	tools/fetch_faces $(STAMPS)/faces
	cd web && npm run -s test
	tools/side_by_side browser "$(PY) -m pytest tests/browser" core "$(PY) -m pytest tests/core tests/work" \
	  rest "$(PY) -m pytest --ignore tests/browser --ignore tests/core --ignore tests/work"

lint: setup web/src/api/schema.d.ts
	.venv/bin/ruff check .
	.venv/bin/ruff format --check .
	.venv/bin/mypy
	PYTHONPATH=. $(PY) tools/write_schemas.py --check
	cd web && npm run -s lint && npm run -s typecheck

bench: setup
	tools/fetch_faces $(STAMPS)/faces
	$(PY) -m bench

# A wheel to install anywhere: dist/sutaru-*.whl, with the interface, the shelf, fonts and models in it.
dist: setup
	@rm -rf build
	@tools/step "Building the wheel" $(PY) -m pip wheel --quiet --disable-pip-version-check --no-deps --no-build-isolation \
	  --wheel-dir dist .
	@rm -rf build
	@ls dist

# A studio's worst days, at length: about an hour. A sample of each is in the tests.
trial: setup
	@tools/step "Packages of the trial" $(PY) -m pip install --disable-pip-version-check --requirement requirements-trial.lock
	SUTARU_TRIAL=1 $(PY) -m pytest -s tests/trial

schemas: $(STAMPS)/python-test $(STAMPS)/npm-test
	PYTHONPATH=. $(PY) tools/write_schemas.py
	cd web && npm run -s gen:api

setup: $(STAMPS)/system-$(FOR) $(STAMPS)/python-$(FOR) web/dist/index.html

$(STAMPS)/system-$(FOR): tools/install_system
	@mkdir -p $(STAMPS)
	@tools/step "System packages" tools/install_system "make $(MAKECMDGOALS)" $(APT_$(FOR))
	@touch $@

$(STAMPS)/python-$(FOR): requirements.lock $(LOCK_$(FOR)) pyproject.toml $(STAMPS)/system-$(FOR)
	@test -x $(PY) || python3 -m venv .venv
	@tools/step "Python packages" $(PY) -m pip install --disable-pip-version-check --requirement $(LOCK_$(FOR))
	@$(PY) -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation --editable .
	@tools/step "Compiling" $(PY) -c "from sutaru.work.tasks import load_compiled; load_compiled()"
	@touch $@

$(STAMPS)/npm-$(FOR): web/package-lock.json web/package.json web/.npmrc $(STAMPS)/system-$(FOR)
	@cd web && ../tools/step "Packages of the interface" npm ci $(NPM_$(FOR)) --no-audit --no-fund --loglevel=error
	@touch $@

# Types of the API, from its description: what is received, and (sending.d.ts) what may be left out when it is sent.
web/src/api/schema.d.ts: web/openapi.json web/package.json $(STAMPS)/npm-test
	@cd web && npm run -s gen:api >/dev/null
	@touch $@

web/dist/index.html: $(STAMPS)/npm-$(FOR) $(shell find web/src -type f -not -name "*.d.ts") web/index.html web/vite.config.ts \
    $(wildcard web/plugins/*.ts) docs/using.md web/openapi.json
	@cd web && ../tools/step "Building the interface" npm run -s build
	@touch $@

clean:
	rm -rf .venv .stamps web/node_modules web/dist
