# Two commands do everything on a fresh machine: `make demo` and `make test`.
.PHONY: quick mutate install uninstall deb demo test soak lint setup run pins papers screenshots schema fields bench clean

demo:            ## set up, then open the demo job (with no display: report and screenshot into ./demo-output)
	@tools/setup run
	@tools/demo

test:            ## set up, then run every test (those of core, job and bench without Qt)
	@tools/setup dev
	.venv/bin/python tools/run_tests.py

quick:           ## the tests of what the uncommitted change touches, without the window's
	@.venv/bin/python tools/quick.py

soak:            ## the large counts: the laws over 600 random jobs; mutations, flipped bits, undo storms, kills
	@tools/setup dev
	.venv/bin/python -m tests.job.test_laws 600
	.venv/bin/python -m tests.bench.test_practice 200
	.venv/bin/python -m tests.soak
	VERNUS_ALL_ON_PAPER=1 .venv/bin/python -m pytest -n 2 tests/stories tests/desktop/keep/test_all_on_paper.py
	VERNUS_HYPOTHESIS=soak .venv/bin/python -m pytest -n 2 tests/core tests/job
	VERNUS_HYPOTHESIS=soak .venv/bin/python -m pytest -n 2 tests/paper/test_pages.py tests/paper/test_paper_obeyed.py
	VERNUS_HANDS=2400 .venv/bin/python -m pytest -n 2 tests/job/test_order.py tests/job/test_metamorphic.py tests/job/test_said.py
	VERNUS_HANDS=960 .venv/bin/python -m pytest -n 2 tests/stories/test_order_of_entry.py tests/stories/test_lived.py
	VERNUS_SHOP=300 .venv/bin/python -m pytest -n 2 tests/shop
	VERNUS_FUZZ=20000 .venv/bin/python -m pytest tests/cli/test_fuzz.py
	.venv/bin/python -m tests.mends_taken_out
	VERNUS_HANDS=200 VERNUS_TYPING=6 .venv/bin/python -m pytest -n 2 tests/desktop/entry/test_hands_and_model.py tests/desktop/entry/test_typing_replaces.py tests/desktop/test_hostile_jobs.py tests/desktop/test_random_hands.py tests/desktop/test_window.py tests/desktop/test_room.py tests/desktop/test_start_up.py tests/desktop/test_layout.py tests/desktop/test_thread.py tests/desktop/test_safe.py tests/desktop/keep/test_practice_panel.py tests/desktop/keep/test_practice_lessons.py

lint:            ## the linters of CI
	@tools/setup dev
	.venv/bin/ruff check src tests benchmarks tools
	.venv/bin/ruff format --check src tests benchmarks tools
	.venv/bin/mypy
	.venv/bin/lint-imports

install:         ## put Vernus among your applications (no root): launcher, icon, file type, man page, completion
	@tools/setup run
	.venv/bin/python tools/install.py install

uninstall:       ## take it away again; jobs, templates and kit stay
	python3 tools/install.py uninstall

deb:             ## build a Debian package with everything it needs into dist/, and look it over
	@tools/setup dev
	tools/deb

run:             ## open the application
	@tools/setup run
	.venv/bin/vernus

papers:          ## refresh docs/paper from the demo job
	.venv/bin/python tools/papers.py docs/paper

screenshots:     ## refresh docs/screenshots from the demo job
	@tools/setup dev
	xvfb-run -a -s "-screen 0 1280x800x24" .venv/bin/python tools/screenshots.py docs/screenshots

schema:          ## refresh the schemas in docs/ of a job, a machine and a scale family
	@tools/setup run
	for name in job machine family; do .venv/bin/python -m vernus.job.catalog.schema $$name > docs/$$name.schema.json; done

fields: schema   ## after a new field of an entity and a raised MINOR: what a file may hold, the schemas, the demo jobs
	.venv/bin/python -m tests.job.test_fields_by_version
	for name in mill lathe; do .venv/bin/python tools/make_demo_$$name.py > .demo && mv .demo src/vernus/data/demo/$$name.json; done

bench:           ## print the benchmark ratios
	@tools/setup dev
	for b in benchmarks/*.py; do .venv/bin/python $$b || exit 1; done

mutate:          ## small changes to core/, or 3 in each room of job/, to see whether the tests notice (MUTANTS=60 SEED=1 LAYER=core)
	@tools/setup dev
	[ -x .venv-mutate/bin/python ] || { python3 -m venv .venv-mutate && .venv-mutate/bin/pip install -q cosmic-ray; }
	.venv-mutate/bin/python tools/mutate.py $${MUTANTS:-60} $${SEED:-1} "" $${LAYER:-core}

pins:            ## recompile the pinned requirements (needs pip-tools in PATH)
	cd requirements && for f in run dev; do pip-compile -q --upgrade --allow-unsafe --generate-hashes --strip-extras --no-emit-index-url --no-emit-trusted-host --no-emit-find-links --no-header -o $$f.txt $$f.in; done

clean:
	rm -rf .venv demo-output build dist src/*.egg-info
