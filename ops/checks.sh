#!/bin/bash
# The quick checks of the Python side, and that the browser's client is the API's: before every commit, a minute.
set -euo pipefail
cd "$(dirname "$0")/.."
export PYTHONPATH=core:server:. PATH="$PWD/.venv/bin:$PATH"

say() { printf '\n== %s\n' "$*"; }

say "format and lint"
ruff format --check -q .
ruff check -q .
say "types"
mypy -p routecore -p apps -p api -p config -p standins -p ops -p demo
say "packages"
python -m ops.packages
say "import contracts"
lint-imports --no-logo | tail -n 1
say "the client is the API's"
ops/client.sh --check
