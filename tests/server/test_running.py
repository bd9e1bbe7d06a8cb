"""What keeps the application running: it stops nobody else, and what ends comes back."""

from http.server import BaseHTTPRequestHandler, HTTPServer
from itertools import pairwise
import os
from pathlib import Path
import pwd
import re
import socket
import subprocess
import sys
from threading import Thread, Timer
from typing import Any

from django.core.management import call_command
from django.db import connection
import MySQLdb
import pytest

from config.paths import load_secrets
from ops import database, processes
from ops.ports import Trouble, comes_free
from ops.stack import Mark, Stack, refuse_tls_alone


@pytest.fixture
def sleeper() -> Any:
    """Somebody else's process."""
    process = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(60)"])
    yield process
    process.kill()
    process.wait()


@pytest.fixture
def elsewhere(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Notes and database of an installation that does not run."""
    folder = tmp_path / "database"
    folder.mkdir()
    monkeypatch.setattr(processes, "NOTE", tmp_path / "running.json")
    made = database.Database("application", 1, folder)
    monkeypatch.setattr(database, "of_application", lambda: made)
    return tmp_path


@pytest.mark.parametrize("began", ["1", ""])
def test_a_note_of_before_the_reboot_stops_nobody(
    elsewhere: Path, sleeper: Any, began: str
) -> None:
    (elsewhere / "running.json").write_text(f'{{"pid": {sleeper.pid}, "began": "{began}"}}')
    (elsewhere / "database" / "mariadb.pid").write_text(str(sleeper.pid))
    processes.down()
    assert sleeper.poll() is None
    assert not (elsewhere / "running.json").exists()


def test_a_process_is_told_apart_by_when_it_began(sleeper: Any) -> None:
    mark = Mark.of(sleeper.pid)
    assert mark.lives
    assert not Mark(sleeper.pid, "1").lives
    sleeper.kill()
    sleeper.wait()
    assert not mark.lives


def test_another_mariadbd_is_not_ours(elsewhere: Path, tmp_path: Path) -> None:
    ours = database.of_tests()
    pid = ours.pid_file.read_text()
    (elsewhere / "database" / "mariadb.pid").write_text(pid)
    assert database.running(ours) == int(pid)
    assert database.running(database.of_application()) is None


def test_what_ends_again_and_again_waits_longer(monkeypatch: pytest.MonkeyPatch) -> None:
    now = 1000.0
    monkeypatch.setattr(processes.time, "monotonic", lambda: now)
    monkeypatch.setattr(processes, "_tries", {})
    started: list[float] = []
    while now < 1100:
        if processes._due("worker"):
            started.append(now - 1000)
        now += 0.5
    gaps = [after - before for before, after in pairwise(started)]
    assert gaps[:5] == [1, 2, 4, 8, 16]
    assert max(gaps) <= processes.LONGEST_PAUSE


def test_a_log_does_not_fill_the_disk(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(processes, "LARGEST_LOG", 100)
    log, small = tmp_path / "web.log", tmp_path / "worker.log"
    small.write_text("well")
    with log.open("ab", buffering=0) as writer:
        writer.write(b"x" * 101)
        processes.shorten_logs(tmp_path)
        writer.write(b"goes on")
    assert log.read_bytes() == b"goes on"
    assert (tmp_path / "web.log.1").read_bytes() == b"x" * 101
    assert small.read_text() == "well"


@pytest.mark.django_db(transaction=True)
def test_the_running_account_has_rights_on_rows_and_on_nothing_else() -> None:
    call_command("grant_rights")
    link = MySQLdb.connect(
        host="127.0.0.1",
        port=database.of_tests().port,
        user="vividroute_app",
        password=load_secrets()["database_app"],
        database=connection.settings_dict["NAME"],
    )
    cursor = link.cursor()
    cursor.execute("SELECT COUNT(*) FROM quotes_quote")
    cursor.execute("UPDATE people_team SET name = name")
    for refused in (
        "DROP TRIGGER journal_change_refuse_update",
        "DROP TABLE quotes_quote",
        "ALTER TABLE quotes_quote ADD x INT",
        "CREATE TABLE spare (x INT)",
        "UPDATE journal_change SET reason = ''",
        "DELETE FROM journal_auditline",
        "DELETE FROM django_migrations",
        "TRUNCATE quotes_quote",
        "GRANT ALL ON *.* TO 'vividroute_app'@'127.0.0.1'",
    ):
        with pytest.raises(MySQLdb.OperationalError) as error:
            cursor.execute(refused)
        assert error.value.args[0] in (1044, 1142, 1045, 1227), refused
    link.close()


def test_the_database_is_not_roots_where_another_user_can_be_had() -> None:
    """The tests' own lies where everybody can come to."""
    pid = database.running(database.of_tests())
    [line] = re.findall(r"^Uid:\s+(\d+)", Path(f"/proc/{pid}/status").read_text(), re.MULTILINE)
    mine = os.geteuid()
    assert int(line) == (mine or pwd.getpwnam(database.SERVERS_USER).pw_uid)


def test_a_folder_that_a_stranger_cannot_reach_leaves_the_database_to_its_starter(
    tmp_path: Path,
) -> None:
    (tmp_path / "closed").mkdir(mode=0o700)
    account = database._account(tmp_path / "closed" / "database")
    assert account.pw_uid == os.geteuid()


def test_a_port_that_an_ended_process_still_holds_is_waited_for() -> None:
    with socket.create_server(("127.0.0.1", 0)) as held:
        port = held.getsockname()[1]
        assert not comes_free(port, 0.1)
        Timer(0.3, held.close).start()
        assert comes_free(port)


def test_tls_without_a_proxy_is_told_at_the_start(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("VIVID_TLS", "1")
    with pytest.raises(Trouble, match="VIVID_PROXY=1"):
        refuse_tls_alone()
    monkeypatch.setenv("VIVID_PROXY", "1")
    refuse_tls_alone()


@pytest.mark.parametrize(
    ("hosts", "tls", "asked"),
    [
        ("route.house.example,127.0.0.1", "1", ("route.house.example", "https")),
        ("route.house.example", "", ("route.house.example", None)),
        (".house.example", "1", ("house.example", "https")),
        ("*", "", ("127.0.0.1", None)),
    ],
)
def test_health_is_asked_by_the_houses_own_name_and_as_its_proxy_asks(
    monkeypatch: pytest.MonkeyPatch,
    tmp_path: Path,
    hosts: str,
    tls: str,
    asked: tuple[str, str | None],
) -> None:
    heard: list[tuple[str | None, str | None]] = []

    class House(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            heard.append((self.headers["Host"], self.headers["X-Forwarded-Proto"]))
            self.send_response(200)
            self.end_headers()

        def log_message(self, *_: object) -> None:
            pass

    server = HTTPServer(("127.0.0.1", 0), House)
    Thread(target=server.handle_request, daemon=True).start()
    monkeypatch.setenv("VIVID_HOSTS", hosts)
    monkeypatch.setenv("VIVID_TLS", tls)
    made = database.Database("application", 1, tmp_path)
    Stack(
        database=made, web_port=server.server_port, office_port=1, folder=tmp_path
    ).wait_for_health()
    server.server_close()
    assert heard == [asked]
