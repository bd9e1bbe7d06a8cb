"""A backup that is restored holds the same to the cent, and gives no number twice."""

import hashlib
from pathlib import Path
import tarfile
import tempfile
from typing import IO

from django.core.management import call_command
from django.db import connection, transaction
from django.utils import timezone
import pytest

from apps.handover.flows import hand_over
from apps.handover.intake import feed_position, take_in
from apps.handover.models import Handover
from apps.numbering.flows import next_number
from apps.orders.flows import write_order
from apps.quotes.models import Revision
from ops import backup, database
from tests.server.conftest import World
from tests.server.test_handover import story


def sums(schema: str) -> dict[str, object]:
    """Rows and sums of all tables, and the triggers that guard them."""
    found: dict[str, object] = {}
    with connection.cursor() as cursor:
        cursor.execute(f"USE `{schema}`")
        try:
            cursor.execute("SHOW TABLES")
            for (table,) in cursor.fetchall():
                cursor.execute(f"SELECT COUNT(*) FROM `{table}`")
                found[table] = cursor.fetchone()
            for table, column in (
                ("orders_order", "payable"),
                ("ledger_invoice", "gross"),
                ("ledger_allocation", "amount"),
                ("quotes_revision", "net"),
                ("quotes_quotepaper", "LENGTH(pdf)"),
            ):
                cursor.execute(f"SELECT SUM({column}) FROM {table}")
                found[f"{table} {column}"] = cursor.fetchone()
            cursor.execute("SHOW TRIGGERS")
            found["triggers"] = sorted(row[0] for row in cursor.fetchall())
        finally:
            cursor.execute(f"USE `{connection.settings_dict['NAME']}`")
    return found


@pytest.fixture
def lived(transactional_db: None, world: World, issued: Revision) -> Handover:
    """A house with an order that was paid."""
    order = write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=True,
    )
    entry = hand_over(world.ilse, order.pk, order.version, now=timezone.now())
    take_in(story(entry))
    return entry


def dumped(schema: str) -> IO[bytes]:
    out = tempfile.TemporaryFile()  # noqa: SIM115 - handed on
    backup.dump(database.of_tests(), schema, out)
    out.seek(0)
    return out


def test_what_is_restored_holds_the_same(lived: Handover) -> None:
    schema = connection.settings_dict["NAME"]
    other = f"{schema}_restored"
    with dumped(schema) as data:
        backup.load(database.of_tests(), other, data)
    try:
        before, after = sums(schema), sums(other)
        assert after == before
        assert before["ledger_allocation amount"] != (None,)
        assert before["triggers"]
    finally:
        with connection.cursor() as cursor:
            cursor.execute(f"DROP DATABASE `{other}`")


def test_after_a_restore_no_number_is_given_twice_and_news_is_read_again(
    world: World, lived: Handover
) -> None:
    with transaction.atomic():
        before = next_number("O", world.today)
    assert feed_position() == 4
    call_command("after_restore")
    with transaction.atomic():
        after = next_number("O", world.today)
    assert int(after.rpartition("-")[2]) - int(before.rpartition("-")[2]) > 1000
    assert feed_position() == 0
    take_in(story(lived))
    assert sums(connection.settings_dict["NAME"])["ledger_invoice"] == (1,)


def test_kept_files_are_packed_and_brought_back_and_nothing_else_is_written(tmp_path: Path) -> None:
    kept, packed = tmp_path / "kept", tmp_path / "backup.tar"
    digest = hashlib.sha256(b"a drawing").hexdigest()
    (kept / digest[:2]).mkdir(parents=True)
    (kept / digest[:2] / digest).write_bytes(b"a drawing")
    (kept / digest[:2] / f"{digest}.77").write_bytes(b"half written")
    with tarfile.open(packed, "w") as archive:
        backup.add_files(archive, kept)
        for name in ("files/../../outside", f"files/{digest[:60]}", "elsewhere"):
            archive.addfile(tarfile.TarInfo(name))
    back = tmp_path / "back"
    with tarfile.open(packed) as archive:
        backup.bring_back(archive, back)
        backup.bring_back(archive, back)
    found = [each.relative_to(back) for each in back.rglob("*") if each.is_file()]
    assert found == [Path(digest[:2]) / digest]
    assert (back / found[0]).read_bytes() == b"a drawing"
    assert not (tmp_path / "outside").exists()


def test_what_is_no_backup_is_refused_with_its_reason() -> None:
    with pytest.raises(backup.Trouble):
        backup.load(database.of_tests(), "test_spare", _file(b"this is no SQL;"))


def _file(body: bytes) -> IO[bytes]:
    out = tempfile.TemporaryFile()  # noqa: SIM115 - handed on
    out.write(body)
    out.seek(0)
    return out
