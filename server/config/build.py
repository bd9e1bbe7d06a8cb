"""The mark of the built front end, so that an open page notices a newer one."""

from functools import lru_cache
import hashlib

from config.paths import ROOT


@lru_cache(maxsize=1)
def build_mark() -> str:
    """Twelve hex digits of the built page, which names its scripts by their content; empty without one."""
    page = ROOT / "web" / "dist" / "index.html"
    return hashlib.sha256(page.read_bytes()).hexdigest()[:12] if page.exists() else ""
