#!/bin/bash
# Make the browser's client types from the API's own document. With --check, fail where they differ.
set -euo pipefail
cd "$(dirname "$0")/.."
mkdir -p var
.venv/bin/python -m ops.openapi var/openapi.json
if [ "${1:-}" = --check ]; then
  (cd web && npx --no-install openapi-typescript ../var/openapi.json -o ../var/schema.d.ts >/dev/null)
  cmp -s var/schema.d.ts web/src/api/schema.d.ts \
    || { echo "web/src/api/schema.d.ts is stale: run make client"; exit 1; }
else
  (cd web && npx --no-install openapi-typescript ../var/openapi.json -o src/api/schema.d.ts >/dev/null)
fi
