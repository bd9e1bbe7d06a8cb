"""What tests begin with, made once and copied: the house's empty tables, and the demo in them.

To migrate takes the better part of a minute, to load the demo half of one; to copy either, a second
or two. What was made lies beside the tests' database, and is made anew where its sources differ.
``python -m ops.prepared`` makes what is missing, before anybody asks.
"""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import datetime
import fcntl
import hashlib
import os
from pathlib import Path
from zoneinfo import ZoneInfo

from config.paths import ROOT
from ops import database
from ops.backup import dump, load
from ops.stack import Stack

#: The schema that things are made in; those that ask have their own.
WORKSHOP = "vivid_prepared"


def tables_into(schema: str) -> None:
    """Make this schema anew on the tests' database, with every table of the house."""
    _copy(_tables(), schema)


def demo_into(schema: str, books: Path | None = None) -> None:
    """The same with today's demo; ``books`` takes what the back office begins with."""
    made = _demo()
    _copy(made, schema)
    if books:
        books.parent.mkdir(parents=True, exist_ok=True)
        books.write_bytes(made.with_suffix(".json").read_bytes())


def _tables() -> Path:
    patterns = ("*/migrations/*.py", "*/kept.py", "kept/*.py")
    # To migrate also makes the triggers of what is kept.
    sources = (path for each in patterns for path in (ROOT / "server" / "apps").glob(each))

    def migrate(made: Path) -> None:
        _copy(Path(os.devnull), WORKSHOP)
        _dump_after(made, "migrate", "--no-input", "--verbosity", "0")

    return _once("tables", _digest(sources), migrate)


def _demo() -> Path:
    sources = (path for part in ("core", "server") for path in (ROOT / part).rglob("*.py"))
    # The house's day, as the settings have it: the demo begins with it.
    zone = ZoneInfo(os.environ.get("VIVID_TIME_ZONE", "Europe/Vienna"))
    day = datetime.now(zone).date().isoformat()

    def load_it(made: Path) -> None:
        _copy(_tables(), WORKSHOP)
        _dump_after(made, "load_demo", "--if-empty", "--books", str(made.with_suffix(".json")))

    return _once("demo", _digest(sources, day), load_it)


def _once(name: str, digest: str, make: Callable[[Path], None]) -> Path:
    """The file of this digest, made if it is not there; of two who ask, the second waits."""
    folder = database.of_tests().folder / "prepared"
    folder.mkdir(exist_ok=True, mode=0o700)
    made = folder / f"{name}-{digest}.sql"
    with _alone(folder / f"{name}.lock"):
        if not made.exists():
            for old in folder.glob(f"{name}-*"):
                old.unlink()
            make(made)
    return made


@contextmanager
def _alone(lock: Path) -> Iterator[None]:
    with lock.open("w") as held:
        fcntl.flock(held, fcntl.LOCK_EX)
        yield


def _digest(sources: Iterator[Path], also: str = "") -> str:
    sums = hashlib.sha256(also.encode())
    for path in sorted(sources):
        sums.update(path.read_bytes())
    return sums.hexdigest()[:16]


def _dump_after(made: Path, *command: str) -> None:
    """Run a Django command in the workshop and keep what stands there then."""
    server = database.of_tests()
    Stack(
        database=server, database_name=WORKSHOP, web_port=0, office_port=0, folder=made.parent
    ).manage(*command)
    unfinished = made.with_suffix(".new")
    with unfinished.open("wb") as out:
        dump(server, WORKSHOP, out)
    unfinished.rename(made)


def _copy(made: Path, schema: str) -> None:
    with made.open("rb") as source:
        load(database.of_tests(), schema, source)


if __name__ == "__main__":
    _demo()
