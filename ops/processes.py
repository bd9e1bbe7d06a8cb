"""The application's processes: started in order, watched, stopped together. Standard library only.

``python -m ops.processes start`` runs in the foreground until Ctrl-C; ``up`` and ``down`` do the
same in the background. Whatever happens, nothing half-started is left behind.
"""

import argparse
from contextlib import suppress
import json
import os
from pathlib import Path
import signal
import subprocess
import sys
import time
from urllib.error import URLError
from urllib.request import urlopen

from config.paths import ROOT, VAR, load_secrets
from ops import database
from ops.ports import Trouble, is_listening

PYTHON = ROOT / ".venv" / "bin" / "python"
WEB_PORT = int(os.environ.get("VIVID_PORT", "8000"))
OFFICE_PORT = int(os.environ.get("VIVID_BACKOFFICE_PORT", "8071"))
NOTE = VAR / "running.json"
ANSWERS_WITHIN_SECONDS = 60


def environment() -> dict[str, str]:
    """What every process is told."""
    return {
        **os.environ,
        "PYTHONPATH": os.pathsep.join(str(ROOT / part) for part in ("core", "server", ".")),
        "DJANGO_SETTINGS_MODULE": "config.settings",
        "VIVID_BACKOFFICE_TOKEN": load_secrets()["backoffice"],
        "VIVID_PORT": str(WEB_PORT),
        "VIVID_BACKOFFICE_PORT": str(OFFICE_PORT),
        "PYTHONDONTWRITEBYTECODE": "1",
    }


def commands() -> dict[str, list[str]]:
    """Each long-running process and its command."""
    python = str(PYTHON)
    return {
        "backoffice": [
            python, "-m", "standins.backoffice",
            "--port", str(OFFICE_PORT), "--folder", str(VAR / "backoffice"),
        ],
        "worker": [python, str(ROOT / "server" / "manage.py"), "work"],
        "web": [
            python, "-m", "gunicorn", "config.wsgi", "--bind", f"127.0.0.1:{WEB_PORT}",
            "--worker-class", "gthread", "--workers", "2", "--threads", "8",
            "--max-requests", "20000", "--log-level", "warning",
        ],
    }  # fmt: skip


def manage(*arguments: str) -> None:
    """A Django command, its output shown only where it fails or has something to say."""
    done = subprocess.run(
        [str(PYTHON), str(ROOT / "server" / "manage.py"), *arguments],
        env=environment(),
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode:
        raise Trouble(f"manage.py {arguments[0]} failed:\n{done.stderr.strip()[-1500:]}")


def bring_up() -> dict[str, subprocess.Popen[bytes]]:
    """Start everything, in order; the processes, once the web server answers."""
    for port, name in ((WEB_PORT, "VIVID_PORT"), (OFFICE_PORT, "VIVID_BACKOFFICE_PORT")):
        if is_listening(port):
            raise Trouble(
                f"Port {port} is in use (perhaps by an earlier start: try make down). "
                f"Stop that program, or choose another port with {name}=…"
            )
    database.start(database.of_application())
    manage("migrate", "--no-input", "--verbosity", "0")
    manage("load_demo", "--if-empty")
    manage("collectstatic", "--no-input", "--verbosity", "0")
    started: dict[str, subprocess.Popen[bytes]] = {}
    logs = VAR / "logs"
    logs.mkdir(parents=True, exist_ok=True)
    try:
        for name, command in commands().items():
            with (logs / f"{name}.log").open("ab") as log:
                started[name] = subprocess.Popen(
                    command,
                    env=environment(),
                    cwd=ROOT,
                    stdin=subprocess.DEVNULL,
                    stdout=log,
                    stderr=log,
                    start_new_session=True,
                )
        _wait_for_health(started)
    except BaseException:
        stop_processes({name: process.pid for name, process in started.items()})
        raise
    return started


def _wait_for_health(started: dict[str, subprocess.Popen[bytes]]) -> None:
    deadline = time.monotonic() + ANSWERS_WITHIN_SECONDS
    while time.monotonic() < deadline:
        for name, process in started.items():
            if process.poll() is not None:
                tail = (VAR / "logs" / f"{name}.log").read_text(errors="replace")[-1200:]
                raise Trouble(f"The {name} process stopped at its start:\n{tail}")
        try:
            with urlopen(f"http://127.0.0.1:{WEB_PORT}/api/health", timeout=3) as answer:
                if answer.status == 200:
                    return
        except (URLError, OSError):
            pass
        time.sleep(0.2)
    raise Trouble(f"The application does not answer; see {VAR / 'logs'}")


def stop_processes(pids: dict[str, int]) -> None:
    """Stop process groups: politely, then for certain."""
    for signal_number, seconds in ((signal.SIGTERM, 8), (signal.SIGKILL, 2)):
        living = {name: pid for name, pid in pids.items() if _alive(pid)}
        for pid in living.values():
            with suppress(ProcessLookupError):
                os.killpg(pid, signal_number)
        deadline = time.monotonic() + seconds
        while time.monotonic() < deadline and any(_alive(pid) for pid in living.values()):
            time.sleep(0.05)


def _alive(pid: int) -> bool:
    with suppress(ChildProcessError):
        os.waitpid(pid, os.WNOHANG)
    stat = Path(f"/proc/{pid}/stat")
    try:
        return stat.read_text().rsplit(")", 1)[1].split()[0] != "Z"
    except OSError:
        return False


def greeting() -> str:
    """What the start command prints."""
    return (
        f"\nVivid Route runs at http://127.0.0.1:{WEB_PORT}\n"
        f"The back-office stand-in's page: http://127.0.0.1:{OFFICE_PORT}\n"
        "Sign in as ilse, tomas or amara (reps), petra (lead), joren (back office) or admin;\n"
        "the password is orchard-demo.\n"
    )


def run_in_foreground() -> None:
    """Start, say where, wait for Ctrl-C or a process that dies, stop all."""

    def asked_to_stop(*_: object) -> None:
        raise KeyboardInterrupt

    signal.signal(signal.SIGTERM, asked_to_stop)
    started: dict[str, subprocess.Popen[bytes]] = {}
    try:
        started = bring_up()
        print(greeting() + "Ctrl-C stops it.", flush=True)
        while True:
            for name, process in started.items():
                if process.poll() is not None and name == "web":
                    raise Trouble(f"The {name} process stopped; see {VAR / 'logs'}")
                if process.poll() is not None:
                    started[name] = _start_again(name)
            time.sleep(0.5)
    except KeyboardInterrupt:
        print("\nStopping…", flush=True)
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        stop_processes({name: process.pid for name, process in started.items()})
        database.stop(database.of_application())


def _start_again(name: str) -> subprocess.Popen[bytes]:
    """A worker or stand-in that died (or was killed to try it out) comes back after a while."""
    time.sleep(float(os.environ.get("VIVID_RESTART_SECONDS", "10")))
    with (VAR / "logs" / f"{name}.log").open("ab") as log:
        return subprocess.Popen(
            commands()[name],
            env=environment(),
            cwd=ROOT,
            stdin=subprocess.DEVNULL,
            stdout=log,
            stderr=log,
            start_new_session=True,
        )


def up() -> None:
    """Start in the background and note what runs."""
    try:
        started = bring_up()
    except BaseException:
        database.stop(database.of_application())
        raise
    NOTE.write_text(json.dumps({name: process.pid for name, process in started.items()}))
    print(greeting() + "make down stops it.", flush=True)


def down() -> None:
    """Stop what ``up`` started."""
    if NOTE.exists():
        stop_processes(json.loads(NOTE.read_text()))
        NOTE.unlink()
    database.stop(database.of_application())


def reset_demo() -> None:
    """Empty the application's database and load the demo data again."""
    running = database.running(database.of_application())
    database.start(database.of_application())
    manage("migrate", "--no-input", "--verbosity", "0")
    manage("load_demo", "--reset")
    if not running:
        database.stop(database.of_application())
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
    return 0


if __name__ == "__main__":
    sys.exit(main())
