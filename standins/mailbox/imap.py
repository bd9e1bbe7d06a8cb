"""The mailbox's other side: the house reads its own box over IMAP, which pymap speaks over the same Maildirs."""

import ctypes
from pathlib import Path
import shutil
import signal
import subprocess
import sys

from pysasl.hashing import BuiltinHash

from standins.mailbox.box import Boxes

#: The password is made at random: a slow digest protects nothing, and would be paid at each sign-in.
ROUNDS = 1_000


def imap_server(boxes: Boxes, port: int, address: str, password: str) -> subprocess.Popen[bytes]:
    """Serve the box of one address on the loopback; ends with its parent at the latest."""
    boxes.open(address)
    folder = boxes.folder / "boxes"
    _write(folder / "pymap-etc-passwd", f"{address}:x:0:0::{address}:\n")
    _write(
        folder / "pymap-etc-shadow",
        f"{address}:{BuiltinHash(rounds=ROUNDS).hash(password)}:::::::\n",
    )
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
