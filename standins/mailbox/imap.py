"""The mailbox's other side: the house reads its own box over IMAP, which pymap speaks over the same Maildirs."""

from collections.abc import Mapping
import ctypes
from pathlib import Path
import shutil
import signal
import subprocess
import sys

from pysasl.hashing import BuiltinHash

from standins.mailbox.box import Boxes

#: The house's password is made at random, those of the demo's people are known: a slow digest protects nothing, and
#: would be paid at each sign-in.
ROUNDS = 1_000


def imap_server(
    boxes: Boxes, port: int, address: str, password: str, people: Mapping[str, str] | None = None
) -> subprocess.Popen[bytes]:
    """Serve the box of one address on the loopback, and those of ``people`` (address, password); ends with its parent
    at the latest."""
    folder = boxes.folder / "boxes"
    digest = BuiltinHash(rounds=ROUNDS)
    served = {**(people or {}), address: password}
    for each in served:
        boxes.open(each)
    _write(folder / "pymap-etc-passwd", "".join(f"{each}:x:0:0::{each}:\n" for each in served))
    shadow = (f"{each}:{digest.hash(secret)}:::::::\n" for each, secret in served.items())
    _write(folder / "pymap-etc-shadow", "".join(shadow))
    program = shutil.which("pymap", path=str(Path(sys.executable).parent)) or "pymap"
    quiet = ["--no-tls", "--no-service", "managesieve", "--no-service", "admin"]
    return subprocess.Popen(
        [program, "--host", "127.0.0.1", "--port", str(port), *quiet, "maildir", str(folder)],
        stdin=subprocess.DEVNULL,
        preexec_fn=_end_with_parent,  # noqa: PLW1509 - before any thread of ours
    )


def _write(file: Path, text: str) -> None:
    file.touch(mode=0o600)
    file.write_text(text)


def _end_with_parent() -> None:
    """Ask the kernel (prctl 1, PR_SET_PDEATHSIG) for SIGTERM when our parent is gone."""
    ctypes.CDLL(None).prctl(1, signal.SIGTERM)
