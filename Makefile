# Oaken Circuit. `make demo` and `make test` do all their own set-up on a fresh machine.
PYTHON ?= python3
PORT ?= 8000
VENV := .venv
PY := $(VENV)/bin/python
MANAGE := $(PY) server/manage.py
# other devices reach it with HOST=0.0.0.0 (or one address of this machine); see docs/serving.md
WHERE = --port $(PORT) $(if $(HOST),--host $(HOST)) $(if $(CERTIFICATE),--certificate $(CERTIFICATE) --key $(KEY)) \
  $(if $(PLAIN),--plain) $(if $(COPY_EVERY),--copy-every $(COPY_EVERY)) $(if $(KEEP),--keep $(KEEP))
WEB_SOURCES := $(shell find web/src web/public web/index.html web/vite.config.ts -type f -not -name schema.d.ts)

export PYTHONPATH := core:server
export PIP_DISABLE_PIP_VERSION_CHECK := 1

.PHONY: demo start serve test bench soak lint schema evidence pictures requirements check-demo check-test clean
.DEFAULT_GOAL := demo

demo: check-demo $(VENV)/base.done web/dist/index.html ## install, load the demo data, serve on 127.0.0.1 or HOST=…
	@$(MANAGE) serve $(WHERE) --check
	@$(if $(RESET),$(MANAGE) reset_demo)
	@$(MANAGE) migrate --verbosity 0
	@$(MANAGE) load_demo
	@$(MANAGE) serve $(WHERE)

start: check-demo $(VENV)/base.done web/dist/index.html ## begin with an empty studio: the first account is made in the browser
	@$(MANAGE) serve $(WHERE) --check
	@$(MANAGE) migrate --verbosity 0
	@$(MANAGE) serve $(WHERE)

serve: check-demo $(VENV)/base.done web/dist/index.html ## serve what there is, without demo data: HOST=… [CERTIFICATE=… KEY=…]
	@$(MANAGE) serve $(WHERE) --check
	@$(MANAGE) migrate --verbosity 0
	@$(MANAGE) serve $(WHERE)

test: check-test $(VENV)/dev.done web/dist/index.html lint ## install what is needed and run every test
	cd web && npm run --silent unit
	$(PY) -m pytest -n 2 --dist worksteal

bench: $(VENV)/dev.done web/dist/index.html ## print the figures of speed and size
	@$(PY) -m pytest tests/bench --benchmark-disable-gc -q --no-header -p no:warnings -s --override-ini addopts=""

soak: $(VENV)/dev.done web/dist/index.html ## a class under thirty troubles: kills, locks, a full disk, clocks that are set, storage that refuses
	OAKEN_KILLS=30 $(PY) -m pytest -q tests/attack/test_kills.py tests/browser/test_stormy_class.py

lint: $(VENV)/dev.done web/src/api/schema.d.ts ## style, types, layers, and whether generated files are current
	$(VENV)/bin/ruff check .
	$(VENV)/bin/ruff format --check .
	$(VENV)/bin/mypy core/oaken server tools/browser.py tools/pictures.py tests --exclude 'tests/(server|browser)/conftest'
	@# two modules of one name cannot be looked at together
	@for part in server browser; do $(VENV)/bin/mypy tests/$$part/conftest.py || exit 1; done
	$(VENV)/bin/lint-imports --no-logo
	$(PY) tools/generated.py --check
	$(PY) tools/evidence.py --check
	cd web && npm run --silent lint && npm run --silent check

schema: $(VENV)/dev.done web/node_modules/.done ## write the JSON Schema, the OpenAPI schema and the typed client
	$(PY) tools/generated.py
	@cd web && npm run --silent client

evidence: $(VENV)/dev.done ## write docs/evidence.md afresh: what the figures were tried against
	$(PY) tools/evidence.py

pictures: $(VENV)/dev.done web/dist/index.html ## take the pictures of docs/screenshots afresh
	$(PY) tools/pictures.py

requirements: $(VENV)/dev.done ## compile requirements/*.in
	cd requirements && for set in base dev; do \
	  ../$(VENV)/bin/pip-compile --quiet --generate-hashes --no-emit-index-url --no-emit-find-links \
	    --no-emit-trusted-host --strip-extras --allow-unsafe --no-header -o $$set.txt $$set.in; done

check-demo:
	@$(PYTHON) tools/check_machine.py demo

check-test:
	@$(PYTHON) tools/check_machine.py test

$(VENV)/base.done: requirements/base.txt
	@echo "Installing Python packages …"
	@test -x $(PY) || $(PYTHON) -m venv $(VENV)
	@$(PY) -m pip install -qq --require-hashes -r requirements/base.txt
	@$(PY) tools/name_core.py
	@touch $@

$(VENV)/dev.done: $(VENV)/base.done requirements/dev.txt
	@echo "Installing the packages of the tests …"
	@$(PY) -m pip install -qq --require-hashes -r requirements/dev.txt
	@touch $@

web/node_modules/.done: web/package-lock.json
	@echo "Installing the packages of the interface …"
	@# not `npm ci`: it refuses a lock file without the optional packages of other platforms, which some registries lack
	@cd web && npm install --no-save --silent --no-audit --no-fund
	@touch $@

web/src/api/schema.d.ts: docs/openapi.json web/node_modules/.done
	@cd web && npm run --silent client > /dev/null

web/dist/index.html: web/node_modules/.done $(WEB_SOURCES)
	@echo "Building the interface …"
	@cd web && npm run --silent build -- --logLevel warn
	@touch $@

clean: ## remove what was installed and built, not what was saved
	rm -rf $(VENV) web/node_modules web/dist
