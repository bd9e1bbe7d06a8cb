#!/bin/bash
# Every check there is, the quick ones first; pytest's closing lines come last.
set -euo pipefail
cd "$(dirname "$0")/.."
export PYTHONPATH=core:server:. PATH="$PWD/.venv/bin:$PATH"

say() { printf '\n== %s\n' "$*"; }

# The front end's tests run beside the quick checks; its own checks beside all others, giving way to
# them. Both are heard at the end.
front_end() {
  say "front end: lint, format, types"
  (cd web && npx --no-install eslint . && node lint/promises.mjs && npx --no-install prettier --check --log-level warn src && npx --no-install vue-tsc --noEmit)
  say "front end: what a first load weighs"
  python -m ops.first_load
}
mkdir -p var
(cd web && npx --no-install vitest run --reporter=dot) >var/front-end-tests.log 2>&1 &
front_tests=$!
(set -e; renice -n 10 $BASHPID >/dev/null; front_end) >var/front-end.log 2>&1 &
front_end=$!
stop() { kill $(jobs -p) 2>/dev/null || true; python -m ops.database stop --test || true; }
trap stop EXIT

# What Python compiles is kept, and the tests with their assertions rewritten: each
# process would do it for itself.
unset PYTHONDONTWRITEBYTECODE
python -m compileall -q core server ops standins tests
python -m ops.rewritten &

python -m ops.database start --test
python -m ops.prepared &
ops/checks.sh
tested=0
wait $front_tests || tested=$?

say "core, reference, server and browser tests"
# Three processes on two processors: the browser's tests wait where the others compute.
passed=0
timeout --signal=INT 1800 python -m pytest -n 3 "$@" || passed=$?
wait $front_end || { passed=1; say "the front end's checks failed"; cat var/front-end.log; }
[ $tested = 0 ] || { passed=1; say "the front end's tests failed"; cat var/front-end-tests.log; }
exit $passed
