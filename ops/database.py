"""MariaDB for this project alone: own port, own data folder, on 127.0.0.1.

``python -m ops.database start|stop [--test]``. No other MariaDB on the machine is touched. The
application's data is durable; the tests' lives in memory and may be lost at any time.
Standard library only.
"""

import argparse
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
import hashlib
import os
from pathlib import Path
import pwd
import shutil
import signal
import subprocess
import sys
import time

from config.paths import ROOT, VAR, load_secrets
from ops.ports import Trouble, comes_free, greets

CHARSET = ["--character-set-server=utf8mb4", "--collation-server=utf8mb4_uca1400_as_ci"]
IN_MEMORY = [
    "--innodb-flush-log-at-trx-commit=0",
    "--innodb-flush-method=nosync",
    "--innodb-doublewrite=0",
    "--innodb-buffer-pool-size=256M",
]


@dataclass(frozen=True)
class Database:
    """One server: where it listens, where it keeps its data, with which extra options."""

    name: str
    port: int
    folder: Path
    options: tuple[str, ...] = ()

    @property
    def unfinished(self) -> Path:
        """Is there until the first set-up has come to its end: what it left half-done is made anew."""
        return self.folder / "unfinished"

    @property
    def pid_file(self) -> Path:
        """Holds the server's process number while it runs."""
        return self.folder / "mariadb.pid"


def of_application() -> Database:
    """The application's database, durable.

    The ports lie below the range from which Linux takes ports for outgoing connections.
    """
    return Database("application", int(os.environ.get("VIVID_DB_PORT", "23071")), VAR / "database")


def of_growth() -> Database:
    """The server of the big houses that ``ops.grow`` makes: fast, not durable, thrown away."""
    port = int(os.environ.get("VIVID_GROWTH_DB_PORT", "23073"))
    loose = tuple(option for option in IN_MEMORY if "buffer-pool" not in option)
    return Database("growth", port, VAR / "growth", loose)


def of_tests() -> Database:
    """The tests' database, in memory where there is a memory file system."""
    memory = Path("/dev/shm")  # noqa: S108 - the test database is thrown away
    mark = hashlib.sha256(str(ROOT).encode()).hexdigest()[:10]
    folder = memory / f"vivid-{mark}" if memory.is_dir() else VAR / "test-database"
    port = int(os.environ.get("VIVID_TEST_DB_PORT", "23072"))
    return Database("test", port, folder, tuple(IN_MEMORY))


def start(database: Database) -> None:
    """Start the server unless it runs already; returns when it answers."""
    if running(database):
        return
    if not comes_free(database.port):
        raise Trouble(
            f"Port {database.port} is in use by another program. Stop it, or choose another port "
            f"with {'VIVID_TEST_DB_PORT' if database.name == 'test' else 'VIVID_DB_PORT'}=…"
        )
    account = _account(database.folder)
    (database.folder / "tmp").mkdir(exist_ok=True, mode=0o700)
    if not (database.folder / "data" / "mysql").is_dir():
        _install(database, account)
        database.unfinished.touch()
    _hand_over(database.folder, account)
    orders = _write_orders(database, account)
    log = (database.folder / "mariadb.log").open("ab")
    process = subprocess.Popen(
        _command(database, orders, account),
        stdout=log,
        stderr=log,
        stdin=subprocess.DEVNULL,
        start_new_session=True,
    )
    try:
        _wait(lambda: greets(database.port), process, log.name)
    finally:
        orders.unlink(missing_ok=True)


def _write_orders(database: Database, account: pwd.struct_passwd) -> Path:
    """What the server is told at its start, for its eyes alone."""
    orders = database.folder / "first.sql"
    orders.unlink(missing_ok=True)
    descriptor = os.open(orders, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(descriptor, "w") as out:
        out.write(_first_orders(anew=database.unfinished.exists()))
        if os.geteuid() == 0:
            os.fchown(out.fileno(), account.pw_uid, account.pw_gid)
    return orders


def _command(database: Database, orders: Path, account: pwd.struct_passwd) -> list[str]:
    """How the server is called; it reads no file of settings, and listens on loopback alone."""
    return [
        _program("mariadbd"),
        "--no-defaults",
        f"--datadir={database.folder / 'data'}",
        f"--port={database.port}",
        "--bind-address=127.0.0.1",
        "--socket=mariadb.sock",
        f"--pid-file={database.pid_file}",
        f"--init-file={orders}",
        "--skip-log-bin",
        "--skip-name-resolve",
        "--max-connections=200",
        "--max-allowed-packet=64M",
        f"--tmpdir={database.folder / 'tmp'}",
        "--local-infile=0",
        "--symbolic-links=0",
        # Words of two letters are words, and none is too common to be looked for.
        "--innodb-ft-min-token-size=2",
        "--innodb-ft-enable-stopword=0",
        f"--innodb-buffer-pool-size={_buffer_pool()}",
        *CHARSET,
        f"--user={account.pw_name}",
        *database.options,
    ]


def stop(database: Database) -> None:
    """Stop the server if it runs; returns when it is gone."""
    pid = running(database)
    if not pid:
        return
    os.kill(pid, signal.SIGTERM)
    for _ in range(300):
        if not alive(pid):
            return
        time.sleep(0.1)
    raise Trouble(f"The database (process {pid}) does not stop; see {database.folder}/mariadb.log")


def running(database: Database) -> int | None:
    """The server's process number, or None."""
    with suppress(OSError, ValueError):
        pid = int(database.pid_file.read_text())
        command = Path(f"/proc/{pid}/cmdline").read_text()
        if alive(pid) and "mariadbd" in command and str(database.folder / "data") in command:
            return pid
    return None


def alive(pid: int) -> bool:
    """Whether the process is there and not a finished one that nobody has asked after."""
    with suppress(OSError):
        os.waitpid(pid, os.WNOHANG)
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0] != "Z"
    except OSError:
        return False


def finished(database: Database) -> None:
    """The first set-up has come to its end."""
    database.unfinished.unlink(missing_ok=True)


def _buffer_pool() -> int:
    """A quarter of the machine's memory, 1 GB at most: ``VIVID_DB_MEMORY`` says otherwise, in MB."""
    given = os.environ.get("VIVID_DB_MEMORY")
    if given:
        return int(given) << 20
    memory = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
    return min(memory // 4, 1 << 30)


def _install(database: Database, account: pwd.struct_passwd) -> None:
    """Make the data folder beside its place, then put it there: half of one never stands there."""
    made = database.folder / "data.new"
    shutil.rmtree(made, ignore_errors=True)
    shutil.rmtree(database.folder / "data", ignore_errors=True)
    made.mkdir(mode=0o700)
    _hand_over(database.folder, account)
    done = subprocess.run(
        [
            _program("mariadb-install-db"),
            "--no-defaults",
            "--auth-root-authentication-method=normal",
            "--skip-test-db",
            f"--datadir={made}",
            *CHARSET,
            f"--user={account.pw_name}",
        ],
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode:
        shutil.rmtree(made, ignore_errors=True)
        raise Trouble(f"The database could not be set up: {done.stderr.strip()[-400:]}")
    made.rename(database.folder / "data")


def _first_orders(*, anew: bool) -> str:
    """Made again at each start, so that the secrets file and the server always agree.

    ``anew`` drops what a first set-up that was broken off has left.
    """
    secrets = load_secrets()
    keeper, app = "'vividroute'@'127.0.0.1'", "'vividroute_app'@'127.0.0.1'"
    lines = ["DROP DATABASE IF EXISTS vividroute;"] if anew else []
    lines += [
        "CREATE DATABASE IF NOT EXISTS vividroute CHARACTER SET utf8mb4 "
        "COLLATE utf8mb4_uca1400_as_ci;",
        f"ALTER USER 'root'@'localhost' IDENTIFIED BY '{secrets['database_root']}';",
        "DELETE FROM mysql.global_priv WHERE User='root' AND Host<>'localhost';",
        "DELETE FROM mysql.global_priv WHERE User='';",
        "FLUSH PRIVILEGES;",
    ]
    for account, secret in ((keeper, "database"), (app, "database_app")):
        lines += [
            f"CREATE USER IF NOT EXISTS {account} IDENTIFIED BY '{secrets[secret]}';",
            f"ALTER USER {account} IDENTIFIED BY '{secrets[secret]}';",
        ]
    lines += [
        f"GRANT ALL ON `{schema}`.* TO {keeper} WITH GRANT OPTION;"
        for schema in ("vividroute", r"vivid\_%", r"test\_%")
    ]
    return "\n".join(lines) + "\n"


#: The user that Debian's package makes for the server.
SERVERS_USER = "mysql"


def _account(folder: Path) -> pwd.struct_passwd:
    """Whom the server runs as, its folder made: the one who starts it; for root, the package's own user.

    Where that one cannot come to the folder, for a folder above it that is closed, it is root after all.
    """
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    me = pwd.getpwuid(os.geteuid())
    if me.pw_uid != 0:
        return me
    try:
        other = pwd.getpwnam(SERVERS_USER)
    except KeyError:
        return me
    if VAR in folder.parents:
        VAR.chmod(0o711)
    return other if all(parent.stat().st_mode & 0o001 for parent in folder.parents) else me


def _hand_over(folder: Path, account: pwd.struct_passwd) -> None:
    """Data belong to the server's user; beside them it may write, and remove nothing of others."""
    if os.geteuid() != 0:
        return
    os.chown(folder, 0, account.pw_gid)
    folder.chmod(0o1770 if account.pw_uid else 0o700)
    for part in ("data", "data.new", "tmp"):
        place = folder / part
        if place.exists() and place.stat().st_uid != account.pw_uid:
            for found in (place, *place.rglob("*")):
                os.chown(found, account.pw_uid, account.pw_gid, follow_symlinks=False)
    (folder / "mariadb.pid").unlink(missing_ok=True)


def _program(name: str) -> str:
    found = shutil.which(name) or shutil.which(name, path="/usr/sbin:/usr/bin:/sbin")
    if not found:
        raise Trouble(f"{name} is not installed; run ops/prepare.sh (make start does it).")
    return found


def _wait(ready: Callable[[], bool], process: subprocess.Popen[bytes], log: str) -> None:
    for _ in range(600):
        if ready():
            return
        if process.poll() is not None:
            tail = Path(log).read_text(errors="replace")[-600:]
            raise Trouble(f"The database stopped at its start:\n{tail}")
        time.sleep(0.05)
    raise Trouble(f"The database does not answer; see {log}")


def main() -> int:
    """The command line."""
    parser = argparse.ArgumentParser(prog="ops.database")
    parser.add_argument("act", choices=["start", "stop"])
    parser.add_argument("--test", action="store_true")
    given = parser.parse_args()
    database = of_tests() if given.test else of_application()
    try:
        (start if given.act == "start" else stop)(database)
    except Trouble as trouble:
        print(trouble, file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
