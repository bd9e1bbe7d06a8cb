"""Readers of files that run where they can be killed: a script, what is asked of it, and the file's bytes."""

from collections.abc import Mapping
import json
from pathlib import Path
import subprocess
import sys
from typing import Any

from apps.errors import Invalid
from apps.turns import Turns

LONGEST_SECONDS = 20
#: Files that one process of ours has read.
TURNS = Turns("files_busy", at_a_time=1, waiting=2, seconds=10.0)


def told_by(
    reader: Path,
    asked: Mapping[str, object],
    body: bytes,
    *,
    seconds: float | None = None,
    turns: Turns = TURNS,
) -> dict[str, Any]:
    """What a reader tells of a file. Raises ``Invalid`` with its fault, or where it does not come to an end."""
    with turns.taken():
        told = _run(reader, asked, body, seconds or LONGEST_SECONDS)
    if "fault" in told:
        raise Invalid(told["fault"]["code"], path="file", facts=told["fault"]["facts"])
    return told


def _run(reader: Path, asked: Mapping[str, object], body: bytes, seconds: float) -> dict[str, Any]:
    try:
        done = subprocess.run(
            [sys.executable, "-I", str(reader)],
            input=json.dumps(asked).encode() + b"\n" + body,
            capture_output=True,
            timeout=seconds,
            check=False,
        )
    except subprocess.TimeoutExpired as error:
        raise Invalid("too_big", path="file", facts={"what": "endless"}) from error
    if done.returncode != 0:
        raise Invalid("too_big", path="file", facts={"what": "endless"})
    return dict(json.loads(done.stdout))
