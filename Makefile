# make demo: set everything up and start the application with demo data
# make test: set everything up and run every check and test, browser tests included

PYTHON ?= python3
BIN := .venv/bin
PORT ?= 5000
MINUTES ?= 20

# What is compiled once need not be in every process that a test starts.
unexport PYTHONDONTWRITEBYTECODE

.PHONY: demo serve test fuzz harden check screenshots pictures photos bench lock vendor clean

demo: .venv/ready
	@$(BIN)/python -m laberinto demo --port $(PORT)

serve: .venv/ready
	@$(BIN)/python -m laberinto serve --port $(PORT)

test: .venv/ready-dev check
	$(BIN)/python -m pytest --numprocesses auto --maxprocesses 4 --dist worksteal

# other examples each time, for as many minutes
fuzz: .venv/ready-dev
	$(BIN)/python -m scripts.fuzz --minutes $(MINUTES)

# attacks on a throw-away shop, for as many minutes
harden: .venv/ready-dev
	$(BIN)/python -m scripts.harden --minutes $(MINUTES)

check: .venv/ready-dev node_modules/ready
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports --no-logo
	$(BIN)/djlint --lint --quiet laberinto/web
	node_modules/.bin/eslint .
	node_modules/.bin/tsc

screenshots: .venv/ready-dev
	$(BIN)/python -m scripts.screenshots

pictures: .venv/ready-dev
	$(BIN)/python -m scripts.engine_pictures

photos: .venv/ready-dev
	$(BIN)/python -m scripts.demo_photos

bench: .venv/ready-dev
	$(BIN)/python -m bench

# Set-up. The stamps make a second start immediate; a changed lock installs anew.
.venv/ready: requirements.lock pyproject.toml scripts/system-packages
	scripts/system-packages run
	test -x $(BIN)/python || $(PYTHON) -m venv .venv
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -r requirements.lock
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps -e .
	@touch $@

.venv/ready-dev: .venv/ready requirements-dev.lock
	scripts/system-packages test
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -r requirements-dev.lock
	@touch $@

# What checks the scripts; the page itself needs nothing of it.
node_modules/ready: package.json package-lock.json scripts/system-packages
	scripts/system-packages test
	npm ci --silent --no-audit --no-fund
	@touch $@

# Moving to new versions: change pyproject.toml, then make lock.
COMPILE = $(BIN)/pip-compile --quiet --generate-hashes --no-emit-index-url --no-emit-find-links \
	--no-emit-trusted-host --no-header --no-annotate --strip-extras
lock: .venv/ready-dev
	$(COMPILE) -o requirements.lock pyproject.toml
	$(COMPILE) --extra dev --allow-unsafe -o requirements-dev.lock pyproject.toml

vendor: .venv/ready-dev
	$(BIN)/python scripts/vendor.py

clean:
	rm -rf .venv node_modules .mypy_cache .pytest_cache .ruff_cache .hypothesis .import_linter_cache
