# The commands of the house. `make` alone lists them.
PYTHON := .venv/bin/python
export PYTHONPATH := core:server:.

.PHONY: help start up down reset-demo backup restore check test test-api test-faults conformance bench load grow soak test-desk format client pictures lock

help:        ## this list
	@grep -hE '^[a-z-]+: +##' $(MAKEFILE_LIST) | sed 's/: *## */\t/'

start:       ## install what is missing, start everything, stop it with Ctrl-C
	@ops/prepare.sh run && exec python3 -m ops.processes start

up:          ## the same in the background
	@ops/prepare.sh run && python3 -m ops.processes up

down:        ## stop what `make up` started
	@python3 -m ops.processes down

backup:      ## data and secrets into one file in var/backups, while people work
	@$(PYTHON) -m ops.backup backup

restore:     ## put a backup in the place of what is there: FILE=var/backups/…
	@$(PYTHON) -m ops.backup restore $(FILE)

reset-demo:  ## empty the database and load the demo data again
	@ops/prepare.sh run && python3 -m ops.processes reset-demo

test:        ## format, lint, types, contracts, core, server and browser tests
	@ops/prepare.sh test && ops/test.sh

check:       ## the quick ones of them, a minute: before a commit
	@ops/prepare.sh test && ops/checks.sh

bench:       ## speed, as ratios within one run: the core, the desk, a hundred demos, a file, fifty reps; how mails are read
	@ops/prepare.sh test && $(PYTHON) -m ops.bench && $(PYTHON) -m ops.bench_weighted && $(PYTHON) -m ops.corpus && $(PYTHON) -m ops.bench_growth && $(PYTHON) -m ops.bench_files && $(PYTHON) -m ops.bench_drain && $(PYTHON) -m ops.load

load:        ## fifty reps at work on a hundred demos: MINUTES=5
	@ops/prepare.sh test && $(PYTHON) -m ops.load --minutes $(or $(MINUTES),5)

grow:        ## a house of many demos, in a database of its own: TIMES=100
	@ops/prepare.sh test && $(PYTHON) -m ops.grow --times $(or $(TIMES),100)

conformance: ## which sentences of the back office's interface hold: URL=http://…
	@ops/prepare.sh test && $(PYTHON) -m ops.conformance $(or $(URL),http://127.0.0.1:8071)

test-api:    ## many requests made out of the API's own document: EXAMPLES=100
	@ops/prepare.sh test && $(PYTHON) -m ops.database start --test && \
	VIVID_API_EXAMPLES=$(or $(EXAMPLES),100) $(PYTHON) -m pytest -n 2 -q tests/server/test_api_document.py

test-desk:   ## random work at the quote desk on a line that breaks, without a screen: EXAMPLES=200
	@ops/prepare.sh test && $(PYTHON) -m ops.database start --test && \
	VIVID_DESK_EXAMPLES=$(or $(EXAMPLES),200) $(PYTHON) -m pytest -n 0 -q --timeout 0 tests/server/test_desk_machine.py

test-faults: ## orders, then mails, while every part is killed: ORDERS=500 KILLS=1000 MAILS=150 SEED=1
	@ops/prepare.sh test && $(PYTHON) -m ops.faults --orders $(or $(ORDERS),500) --kills $(or $(KILLS),1000) --seed $(or $(SEED),1) && \
	$(PYTHON) -m ops.mail_faults --mails $(or $(MAILS),150) --seed $(or $(SEED),1)

soak:        ## break the desk by chance, on what `make up` started: MINUTES=5 SEED=1
	@$(PYTHON) -m ops.soak --minutes $(or $(MINUTES),5) --seed $(or $(SEED),1)

format:      ## put the code into its format
	@$(PYTHON) -m ruff format . && $(PYTHON) -m ruff check --fix . && cd web && npx --no-install prettier --write src

client:      ## make the browser's types from the API's own document
	@ops/prepare.sh test && ops/client.sh

pictures:    ## take the pictures of the documentation from the running application
	@$(PYTHON) -m ops.pictures

lock:        ## pin the Python packages anew
	@$(PYTHON) -m uv pip compile -q --generate-hashes --python-version 3.11 requirements-dev.in -o requirements-dev.txt
	@$(PYTHON) -m uv pip compile -q --generate-hashes --python-version 3.11 requirements.in -o requirements.txt -c requirements-dev.txt
