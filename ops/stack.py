"""One running application: web server, worker and back-office stand-in, on one database.

The start command runs one; the browser tests run another beside it, on other ports. Standard
library only.
"""

from collections.abc import Iterable
from contextlib import suppress
import ctypes
from dataclasses import dataclass, field
import os
from pathlib import Path
import signal
import subprocess
import time
from urllib.error import URLError
from urllib.request import Request, urlopen

from config.paths import ROOT, VAR, load_secrets
from ops import database
from ops.ports import Trouble, comes_free, free_port

PYTHON = str(ROOT / ".venv" / "bin" / "python")
MANAGE = str(ROOT / "server" / "manage.py")
ANSWERS_WITHIN_SECONDS = 60
NAMES = ("backoffice", "mailbox", "worker", "web")


@dataclass(kw_only=True)
class Stack:
    """Where the parts listen and write; ``processes`` are the ones that were started.

    ``tied`` processes end with the one that started them, however it ends.
    """

    database: database.Database
    database_name: str = "vividroute"
    web_port: int
    office_port: int
    mailbox_port: int = field(default_factory=free_port)
    smtp_port: int = field(default_factory=free_port)
    imap_port: int = field(default_factory=free_port)
    folder: Path
    tied: bool = False
    processes: dict[str, subprocess.Popen[bytes]] = field(default_factory=dict)

    @property
    def url(self) -> str:
        """The application's address."""
        return f"http://127.0.0.1:{self.web_port}"

    @property
    def office_url(self) -> str:
        """The stand-in's page."""
        return f"http://127.0.0.1:{self.office_port}"

    @property
    def mailbox_url(self) -> str:
        """The page of the mail stand-in."""
        return f"http://127.0.0.1:{self.mailbox_port}"

    @property
    def books(self) -> Path:
        """What the stand-in begins with: the demo's accounts and open items."""
        return self.folder / "backoffice" / "opening.json"

    @property
    def files(self) -> Path:
        """Where the contents of kept files lie."""
        return Path(os.environ.get("VIVID_FILES", self.folder / "files"))

    def environment(self) -> dict[str, str]:
        """What every process is told."""
        return {
            **os.environ,
            "PYTHONPATH": os.pathsep.join(str(ROOT / part) for part in ("core", "server", ".")),
            "DJANGO_SETTINGS_MODULE": "config.settings",
            "VIVID_BACKOFFICE_TOKEN": load_secrets()["backoffice"],
            "VIVID_BACKOFFICE_KEY": load_secrets()["backoffice_key"],
            "VIVID_STATEMENT_SECONDS": "30",
            "VIVID_DB_USER": "vividroute_app",
            "VIVID_PORT": str(self.web_port),
            "VIVID_BACKOFFICE_PORT": str(self.office_port),
            "VIVID_MAILBOX_TOKEN": load_secrets()["mailbox"],
            "VIVID_SMTP_PORT": os.environ.get("VIVID_SMTP_PORT", str(self.smtp_port)),
            "VIVID_IMAP_PORT": os.environ.get("VIVID_IMAP_PORT", str(self.imap_port)),
            "VIVID_DB_PORT": str(self.database.port),
            "VIVID_DB_NAME": self.database_name,
            "VIVID_FILES": str(self.files),
            "PYTHONDONTWRITEBYTECODE": "1",
        }

    def command(self, name: str) -> list[str]:
        """The command of a long-running process."""
        office = ["--port", str(self.office_port), "--folder", str(self.folder / "backoffice")]
        bind = f"127.0.0.1:{self.web_port}"
        return {
            "backoffice": [PYTHON, "-m", "standins.backoffice", *office],
            "mailbox": [PYTHON, "-m", "standins.mailbox", *self._mailbox()],
            "worker": [PYTHON, MANAGE, "work"],
            "web": [
                PYTHON, "-m", "gunicorn", "config.wsgi", "--bind", bind,
                "--worker-class", "gthread", "--workers", "3", "--threads", "8",
                "--preload", "--max-requests", "20000", "--keep-alive", "65", "--log-level", "warning",
            ],
        }[name]  # fmt: skip

    def _mailbox(self) -> list[str]:
        ports = ["--smtp", str(self.smtp_port), "--imap", str(self.imap_port)]
        ports += ["--port", str(self.mailbox_port)]
        return [*ports, "--folder", str(self.folder / "mailbox")]

    def manage(self, *arguments: str) -> None:
        """A Django command, its output shown only where it fails."""
        done = subprocess.run(
            [PYTHON, MANAGE, *arguments],
            env={
                **self.environment(),
                "VIVID_STATEMENT_SECONDS": "0",
                "VIVID_DB_USER": "vividroute",
            },
            capture_output=True,
            text=True,
            check=False,
        )
        if done.returncode:
            raise Trouble(f"manage.py {arguments[0]} failed:\n{done.stderr.strip()[-1500:]}")

    def refuse_busy_ports(self) -> None:
        """Raise ``Trouble`` where another program listens on one of our ports."""
        ports = (
            (self.web_port, "VIVID_PORT"),
            (self.office_port, "VIVID_BACKOFFICE_PORT"),
            (self.mailbox_port, "VIVID_MAILBOX_PORT"),
            (self.smtp_port, "VIVID_SMTP_STANDIN_PORT"),
            (self.imap_port, "VIVID_IMAP_STANDIN_PORT"),
        )
        for port, name in ports:
            if not comes_free(port, 2):
                raise Trouble(
                    f"Port {port} is in use (perhaps by an earlier start: try make down). "
                    f"Stop that program, or choose another port with {name}=…"
                )

    def bring_up(self) -> None:
        """Database, tables, demo data, processes, in order; returns when the whole answers."""
        refuse_tls_alone()
        database.start(self.database)
        demo = os.environ.get("VIVID_DEMO", "1") == "1"
        self.manage("make_ready", *(("--demo-books", str(self.books)) if demo else ()))
        database.finished(self.database)
        try:
            for name in NAMES:
                self.start(name)
            self.wait_for_health()
        except BaseException:
            self.stop()
            raise

    def start(self, name: str) -> None:
        """Start one of the processes."""
        (self.folder / "logs").mkdir(parents=True, exist_ok=True)
        with self._log(name).open("ab") as log:
            self.processes[name] = subprocess.Popen(
                self.command(name),
                env=self.environment(),
                cwd=ROOT,
                stdin=subprocess.DEVNULL,
                stdout=log,
                stderr=log,
                start_new_session=True,
                preexec_fn=_end_with_parent if self.tied else None,  # noqa: PLW1509 - one thread
            )

    def stop(self) -> None:
        """Stop the processes; the database goes on."""
        stop_processes(process.pid for process in self.processes.values())
        self.processes.clear()

    def finished(self) -> list[str]:
        """The processes that ended by themselves."""
        return [name for name, process in self.processes.items() if process.poll() is not None]

    def _log(self, name: str) -> Path:
        return self.folder / "logs" / f"{name}.log"

    def _health(self) -> Request:
        """Whether all is well, asked by the house's own name and, where it wants TLS, as its proxy asks."""
        asked = Request(f"{self.url}/api/health")
        name = os.environ.get("VIVID_HOSTS", "127.0.0.1").partition(",")[0].lstrip(".*")
        asked.add_header("Host", name or "127.0.0.1")
        if os.environ.get("VIVID_TLS") == "1":
            asked.add_header("X-Forwarded-Proto", "https")
        return asked

    def wait_for_health(self) -> None:
        """Until every part answers; raises ``Trouble`` where one has ended or does not."""
        deadline = time.monotonic() + ANSWERS_WITHIN_SECONDS
        while time.monotonic() < deadline:
            for name in self.finished():
                tail = self._log(name).read_text(errors="replace")[-1200:]
                raise Trouble(f"The {name} process stopped at its start:\n{tail}")
            with suppress(URLError, OSError), urlopen(self._health(), timeout=3):
                return
            time.sleep(0.1)
        raise Trouble(f"The application does not answer; see {self.folder / 'logs'}")


def refuse_tls_alone() -> None:
    """Raise ``Trouble`` where TLS is wanted and nobody can bring it: the web server has no certificate."""
    tls, proxy = (os.environ.get(name) == "1" for name in ("VIVID_TLS", "VIVID_PROXY"))
    if tls and not proxy:
        raise Trouble(
            "VIVID_TLS=1 wants a proxy that speaks TLS before the house: start one, tell it to set "
            "X-Forwarded-Proto and X-Forwarded-For, and set VIVID_PROXY=1."
        )


def _end_with_parent() -> None:
    """Ask the kernel (prctl 1, PR_SET_PDEATHSIG) for SIGTERM when our parent is gone."""
    ctypes.CDLL(None).prctl(1, signal.SIGTERM)


def of_application(*, tied: bool = False) -> Stack:
    """The application itself."""
    return Stack(
        tied=tied,
        database=database.of_application(),
        web_port=int(os.environ.get("VIVID_PORT", "8000")),
        office_port=int(os.environ.get("VIVID_BACKOFFICE_PORT", "8071")),
        mailbox_port=int(os.environ.get("VIVID_MAILBOX_PORT", "8072")),
        smtp_port=int(os.environ.get("VIVID_SMTP_STANDIN_PORT", "8073")),
        imap_port=int(os.environ.get("VIVID_IMAP_STANDIN_PORT", "8074")),
        folder=VAR,
    )


def of_browser_tests(folder: Path) -> Stack:
    """The browser tests' own, on the tests' database server."""
    return Stack(
        database=database.of_tests(),
        database_name="vivid_browser",
        web_port=free_port(),
        office_port=free_port(),
        folder=folder,
        tied=True,
    )


@dataclass(frozen=True, slots=True)
class Mark:
    """A process told apart from another one under the same number: by when it began."""

    pid: int
    began: str

    @classmethod
    def of(cls, pid: int) -> "Mark":
        """The mark of a process that runs."""
        return cls(pid, _began(pid))

    @property
    def lives(self) -> bool:
        """Whether this very process is there."""
        return database.alive(self.pid) and _began(self.pid) == self.began


def _began(pid: int) -> str:
    """When a process began, in ticks since the machine did (proc(5), field 22); empty for none."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[19]
    except OSError:
        return ""


def stop_processes(pids: Iterable[int]) -> None:
    """Stop process groups: politely, then for certain."""
    known = list(pids)
    for signal_number, seconds in ((signal.SIGTERM, 8), (signal.SIGKILL, 2)):
        living = [pid for pid in known if database.alive(pid)]
        for pid in living:
            with suppress(ProcessLookupError):
                os.killpg(pid, signal_number)
        deadline = time.monotonic() + seconds
        while time.monotonic() < deadline and any(database.alive(pid) for pid in living):
            time.sleep(0.05)
