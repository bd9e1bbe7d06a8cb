"""The commands behind ``make start``, ``up``, ``down`` and ``reset-demo``. Standard library only.

Whatever happens, nothing half-started is left behind.
"""

import argparse
from contextlib import suppress
from dataclasses import asdict
import json
import os
from pathlib import Path
import shutil
import signal
import subprocess
import sys
import time

from config.paths import VAR
from ops import database
from ops.ports import Trouble
from ops.stack import Mark, Stack, of_application, stop_processes

NOTE = VAR / "running.json"
READY = VAR / "ready"
LOG = VAR / "logs" / "keeper.log"
#: A process that ran so long has begun well; how long one that does not waits at most.
CALM_SECONDS, LONGEST_PAUSE = 120.0, 30.0
LARGEST_LOG = 20_000_000


def greeting() -> str:
    """What the start command prints."""
    stack = of_application()
    return (
        f"\nVivid Route runs at {stack.url}\n"
        f"The back-office stand-in's page: {stack.office_url}, the mailboxes: {stack.mailbox_url}\n"
        "Sign in as ilse, tomas or amara (reps), petra (lead), joren (back office) or admin;\n"
        "the password is orchard-demo, also on the stand-in's page.\n"
    )


def keep() -> None:
    """Start everything and keep it running until asked to stop: what ends comes back.

    In the foreground for ``make start``, in the background for ``make up``. What it started ends with
    it, however it ends.
    """

    def asked_to_stop(*_: object) -> None:
        raise KeyboardInterrupt

    stack = of_application(tied=True)
    stack.refuse_busy_ports()
    signal.signal(signal.SIGTERM, asked_to_stop)
    signal.signal(signal.SIGINT, asked_to_stop)
    try:
        note = Mark.of(os.getpid())
        NOTE.parent.mkdir(parents=True, exist_ok=True)
        NOTE.write_text(json.dumps(asdict(note)))
        stack.bring_up()
        print(greeting(), flush=True)
        READY.touch()
        while True:
            bring_back(stack)
            time.sleep(0.5)
    except KeyboardInterrupt:
        print("\nStopping…", flush=True)
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        signal.signal(signal.SIGTERM, signal.SIG_IGN)
        stack.stop()
        database.stop(stack.database)
        READY.unlink(missing_ok=True)
        NOTE.unlink(missing_ok=True)


def shorten_logs(folder: Path) -> None:
    """Put a log that has grown large aside, and begin it anew in its place: one before it is kept."""
    for log in folder.glob("*.log"):
        if log.stat().st_size > LARGEST_LOG:
            shutil.copyfile(log, log.with_suffix(".log.1"))
            os.truncate(log, 0)


_tries: dict[str, list[float]] = {}


def bring_back(stack: Stack) -> None:
    """Start again what has ended; what ends again and again waits longer each time."""
    if not database.running(stack.database) and _due("database"):
        database.start(stack.database)
    shorten_logs(stack.folder / "logs")
    for name in stack.finished():
        if _due(name):
            print(f"{name} ended; it is started again", flush=True)
            stack.start(name)


def _due(name: str) -> bool:
    """Whether to try now: at once, then after ever longer pauses, up to half a minute."""
    now = time.monotonic()
    tries = _tries.setdefault(name, [])
    tries[:] = [at for at in tries if now - at < CALM_SECONDS]
    pause = min(2.0 ** len(tries) / 2, LONGEST_PAUSE) if tries else 0.0
    if tries and now - tries[-1] < pause:
        return False
    tries.append(now)
    return True


def run_in_foreground() -> None:
    """Start, say where, wait for Ctrl-C."""
    _refuse_second()
    print("Ctrl-C stops it.", flush=True)
    keep()


def up() -> None:
    """The same in the background; returns when the whole answers."""
    _refuse_second()
    READY.unlink(missing_ok=True)
    LOG.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    with LOG.open("wb") as log:
        keeper = subprocess.Popen(
            [sys.executable, "-m", "ops.processes", "keep"],
            stdin=subprocess.DEVNULL,
            stdout=log,
            stderr=log,
            start_new_session=True,
        )
    try:
        while not READY.exists():
            if keeper.poll() is not None:
                raise Trouble(LOG.read_text(errors="replace").strip()[-1500:])
            time.sleep(0.1)
    except BaseException:
        down()
        raise
    print(greeting() + "make down stops it.", flush=True)


def _refuse_second() -> None:
    if keeper_of_note() is not None:
        raise Trouble("Vivid Route runs already; make down stops it.")


def keeper_of_note() -> Mark | None:
    """The process that keeps the application running; None where there is none."""
    with suppress(OSError, ValueError, TypeError):
        mark = Mark(**json.loads(NOTE.read_text()))
        return mark if mark.lives else None
    return None


def down() -> None:
    """Stop what ``up`` or ``start`` started; nothing else, whatever runs under an old number."""
    keeper = keeper_of_note()
    if keeper is not None:
        os.kill(keeper.pid, signal.SIGTERM)
        deadline = time.monotonic() + 30
        while keeper.lives and time.monotonic() < deadline:
            time.sleep(0.05)
        if keeper.lives:
            stop_processes([keeper.pid])
    NOTE.unlink(missing_ok=True)
    database.stop(database.of_application())


def reset_demo() -> None:
    """Empty the application's database and load the demo data again."""
    stack = of_application()
    running = database.running(stack.database)
    database.start(stack.database)
    stack.manage("migrate", "--no-input", "--verbosity", "0")
    stack.manage("load_demo", "--reset", "--books", str(stack.books))
    if not running:
        database.stop(stack.database)
    print("The demo data is fresh.")


def main() -> int:
    """The command line."""
    # What is written here is for this user alone.
    os.umask(0o077)
    VAR.mkdir(parents=True, exist_ok=True)
    VAR.chmod(0o700 if os.geteuid() else 0o711)  # root's database is another user's
    parser = argparse.ArgumentParser(prog="ops.processes")
    acts = {
        "start": run_in_foreground,
        "keep": keep,
        "up": up,
        "down": down,
        "reset-demo": reset_demo,
    }
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
