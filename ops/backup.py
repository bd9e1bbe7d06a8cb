"""``make backup`` and ``make restore FILE=…``: the house's data, its kept files and secrets in one file.

A backup is consistent while people work: it is read in one transaction. A restore wants the application
to be stopped; it moves the numbers of documents on, so that none is given twice, and has the back office's
news read from its beginning: what is known already is left alone, orders that are not known here are set
apart. Standard library only.
"""

import argparse
import gzip
import io
import json
import os
from pathlib import Path
import re
import shutil
import subprocess
import sys
import tarfile
import tempfile
import time
from typing import IO

from config.paths import VAR, load_secrets
from ops import database
from ops.ports import Trouble
from ops.processes import keeper_of_note
from ops.stack import Stack, of_application

FOLDER = VAR / "backups"
#: What a restore takes over of the secrets; those of the database are the installation's own.
TAKEN_OVER = ("django", "backoffice")
#: What a kept file is called.
DIGEST = "[0-9a-f]{64}"


def _client(program: str, server: database.Database) -> list[str]:
    found = shutil.which(program)
    if not found:
        raise Trouble(f"{program} is not installed; run ops/prepare.sh (make start does it).")
    return [
        *(found, "--no-defaults", "--host=127.0.0.1", f"--port={server.port}"),
        *("--user=vividroute", "--default-character-set=utf8mb4"),
    ]


def _run(command: list[str], **streams: IO[bytes]) -> None:
    done = subprocess.run(
        command,
        env={**os.environ, "MYSQL_PWD": load_secrets()["database"]},
        stderr=subprocess.PIPE,
        check=False,
        **streams,  # type: ignore[call-overload]
    )
    if done.returncode:
        raise Trouble(done.stderr.decode(errors="replace").strip()[-600:])


def dump(server: database.Database, schema: str, out: IO[bytes]) -> None:
    """Write a schema as SQL: rows as of one moment, with the triggers that guard them."""
    options = ("--single-transaction", "--triggers", "--hex-blob", "--no-tablespaces", "--quick")
    _run([*_client("mariadb-dump", server), *options, schema], stdout=out)


def load(server: database.Database, schema: str, source: IO[bytes]) -> None:
    """Make a schema anew from SQL; what stood there is gone."""
    charset = "CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_as_ci"
    orders = f"DROP DATABASE IF EXISTS `{schema}`; CREATE DATABASE `{schema}` {charset}"
    _run([*_client("mariadb", server), f"--execute={orders}"])
    _run([*_client("mariadb", server), schema], stdin=source)


def backup(stack: Stack) -> Path:
    """Write a backup into ``var/backups`` and say where."""
    FOLDER.mkdir(parents=True, exist_ok=True, mode=0o700)
    file = FOLDER / f"vivid-route-{time.strftime('%Y%m%d-%H%M%S')}.tar"
    running = database.running(stack.database)
    database.start(stack.database)
    try:
        with (
            tempfile.TemporaryFile(dir=FOLDER) as plain,
            tempfile.TemporaryFile(dir=FOLDER) as zipped,
        ):
            dump(stack.database, stack.database_name, plain)
            plain.seek(0)
            with gzip.GzipFile(fileobj=zipped, mode="wb", compresslevel=3) as packer:
                shutil.copyfileobj(plain, packer)
            descriptor = os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
            with os.fdopen(descriptor, "wb") as out, tarfile.open(fileobj=out, mode="w") as archive:
                _add(archive, "data.sql.gz", zipped)
                _add(archive, "secrets.json", io.BytesIO(json.dumps(load_secrets()).encode()))
                # After the data: what the data names is there, and perhaps something more.
                add_files(archive, stack.files)
    finally:
        if not running:
            database.stop(stack.database)
    return file


def _add(archive: tarfile.TarFile, name: str, source: IO[bytes]) -> None:
    entry = tarfile.TarInfo(name)
    entry.size = source.seek(0, io.SEEK_END)
    entry.mode = 0o600
    source.seek(0)
    archive.addfile(entry, source)


def add_files(archive: tarfile.TarFile, folder: Path) -> None:
    """The contents of kept files."""
    for kept in sorted(folder.glob("??/*")):
        if re.fullmatch(DIGEST, kept.name):
            with kept.open("rb") as source:
                _add(archive, f"files/{kept.name}", source)


def restore(stack: Stack, file: Path) -> None:
    """Put a backup in the place of what is there; refused while the application runs."""
    if keeper_of_note() is not None:
        raise Trouble("Vivid Route runs. make down first, then restore.")
    running = database.running(stack.database)
    with tarfile.open(file) as archive:
        data, secrets = archive.extractfile("data.sql.gz"), archive.extractfile("secrets.json")
        if data is None or secrets is None:
            raise Trouble(f"{file} is no backup of Vivid Route.")
        told = json.load(secrets)
        bring_back(archive, stack.files)
        _take_over({name: told[name] for name in TAKEN_OVER})
        database.start(stack.database)
        try:
            with tempfile.TemporaryFile(dir=VAR) as plain:
                with gzip.GzipFile(fileobj=data) as unpacked:
                    shutil.copyfileobj(unpacked, plain)
                plain.seek(0)
                load(stack.database, stack.database_name, plain)
            stack.manage("migrate", "--no-input", "--verbosity", "0")
            stack.manage("grant_rights")
            stack.manage("after_restore")
            database.finished(stack.database)
        finally:
            if not running:
                database.stop(stack.database)


def bring_back(archive: tarfile.TarFile, folder: Path) -> None:
    """The contents of kept files, each under its digest; what lies there already is the same."""
    for entry in archive.getmembers():
        name = entry.name.removeprefix("files/")
        source = archive.extractfile(entry)
        if source is None or name == entry.name or not re.fullmatch(DIGEST, name):
            continue
        place = folder / name[:2] / name
        if place.exists():
            continue
        place.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        fresh = place.with_suffix(f".{os.getpid()}")
        fresh.touch(mode=0o600)
        with fresh.open("wb") as out:
            shutil.copyfileobj(source, out)
        fresh.rename(place)


def _take_over(known: dict[str, str]) -> None:
    file = VAR / "secrets.json"
    found = {**load_secrets(), **known}
    fresh = file.with_suffix(f".{os.getpid()}")
    fresh.touch(mode=0o600)
    fresh.write_text(json.dumps(found))
    fresh.rename(file)


def main() -> int:
    """The command line."""
    parser = argparse.ArgumentParser(prog="ops.backup")
    acts = parser.add_subparsers(dest="act", required=True)
    acts.add_parser("backup")
    acts.add_parser("restore").add_argument("file", type=Path)
    given = parser.parse_args()
    try:
        if given.act == "backup":
            print(f"The backup is {backup(of_application())}")
        else:
            restore(of_application(), given.file)
            print("Restored. Numbers of documents go on after a gap; make up starts it.")
    except (Trouble, OSError, tarfile.TarError, KeyError) as trouble:
        print(f"\n{trouble}", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
