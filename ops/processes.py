"""The commands behind ``make start``, ``up``, ``down`` and ``reset-demo``. Standard library only.

Whatever happens, nothing half-started is left behind.
"""

import argparse
import json
import os
import signal
import sys
import time

from config.paths import VAR
from ops import database
from ops.ports import Trouble
from ops.stack import note_running, of_application, stop_processes

NOTE = VAR / "running.json"


def greeting() -> str:
    """What the start command prints."""
    stack = of_application()
    return (
        f"\nVivid Route runs at {stack.url}\n"
        f"The back-office stand-in's page: {stack.office_url}\n"
        "Sign in as ilse, tomas or amara (reps), petra (lead), joren (back office) or admin;\n"
        "the password is orchard-demo.\n"
    )


def run_in_foreground() -> None:
    """Start, say where, wait for Ctrl-C; a worker or stand-in that dies comes back."""

    def asked_to_stop(*_: object) -> None:
        raise KeyboardInterrupt

    stack = of_application(tied=True)
    stack.refuse_busy_ports()
    signal.signal(signal.SIGTERM, asked_to_stop)
    signal.signal(signal.SIGINT, asked_to_stop)
    pause = float(os.environ.get("VIVID_RESTART_SECONDS", "10"))
    try:
        stack.bring_up()
        print(greeting() + "Ctrl-C stops it.", flush=True)
        while True:
            for name in stack.finished():
                if name == "web":
                    raise Trouble(f"The web server stopped; see {VAR / 'logs'}")
                time.sleep(pause)
                stack.start(name)
            time.sleep(0.5)
    except KeyboardInterrupt:
        print("\nStopping…", flush=True)
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        stack.stop()
        database.stop(stack.database)


def up() -> None:
    """Start in the background and note what runs."""
    stack = of_application()
    stack.refuse_busy_ports()
    try:
        stack.bring_up()
    except BaseException:
        database.stop(stack.database)
        raise
    note_running(stack, NOTE)
    print(greeting() + "make down stops it.", flush=True)


def down() -> None:
    """Stop what ``up`` started."""
    if NOTE.exists():
        stop_processes(json.loads(NOTE.read_text()).values())
        NOTE.unlink()
    database.stop(database.of_application())


def reset_demo() -> None:
    """Empty the application's database and load the demo data again."""
    stack = of_application()
    running = database.running(stack.database)
    database.start(stack.database)
    stack.manage("migrate", "--no-input", "--verbosity", "0")
    stack.manage("load_demo", "--reset")
    if not running:
        database.stop(stack.database)
    print("The demo data is fresh.")


def main() -> int:
    """The command line."""
    parser = argparse.ArgumentParser(prog="ops.processes")
    acts = {"start": run_in_foreground, "up": up, "down": down, "reset-demo": reset_demo}
    parser.add_argument("act", choices=list(acts))
    try:
        acts[parser.parse_args().act]()
    except Trouble as trouble:
        print(f"\n{trouble}", file=sys.stderr)
        return 1
    except PermissionError as refused:
        print(f"\nNo right to write {refused.filename}: give it to this user.", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
