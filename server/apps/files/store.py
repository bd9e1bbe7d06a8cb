"""Where the content of files lies: by its digest, written whole or not at all, each content once."""

import hashlib
import os
from pathlib import Path

from django.conf import settings


def put(body: bytes) -> str:
    """Keep a content; its SHA-256."""
    digest = hashlib.sha256(body).hexdigest()
    file = place_of(digest)
    if not file.exists():
        file.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        fresh = file.with_suffix(f".{os.getpid()}")
        fresh.touch(mode=0o600)
        with fresh.open("wb") as out:
            out.write(body)
            out.flush()
            os.fsync(out.fileno())
        fresh.rename(file)
    return digest


def place_of(digest: str) -> Path:
    """The file of a content."""
    return Path(settings.FILES) / digest[:2] / digest
