"""A house of its own for a measurement: the demo, made anew, with all its processes."""

from collections.abc import Iterator
from contextlib import contextmanager
import os
from pathlib import Path

from ops import database
from ops.stack import Stack, of_browser_tests


@contextmanager
def fresh_house() -> Iterator[Stack]:
    """The application on a database that is made anew for it, and stopped at the end."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings_test")
    stack = of_browser_tests(Path("var/bench"))
    stack.refuse_busy_ports()
    database.start(stack.database)
    _fresh_database(stack.database.port, stack.database_name)
    try:
        stack.bring_up()
        yield stack
    finally:
        stack.stop()


def _fresh_database(port: int, name: str) -> None:
    import MySQLdb

    from config.paths import load_secrets

    link = MySQLdb.connect(
        host="127.0.0.1", port=port, user="vividroute", password=load_secrets()["database"]
    )
    link.query(f"DROP DATABASE IF EXISTS {name}")
    link.query(f"CREATE DATABASE {name} CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_as_ci")
    link.close()
