"""Sets a document in a process that is killed where it does not come to an end."""

import json
from pathlib import Path
import subprocess
import sys
import tempfile

import font_hanken_grotesk

from apps.errors import Invalid

FONTS = Path(font_hanken_grotesk.__file__).with_name("files")
TYPESETTER = Path(__file__).with_name("typesetter.py")
LONGEST_SECONDS = 10
MOST_BYTES = 20_000_000


def set_document(source: str, data: object) -> bytes:
    """The PDF of a typst source and its data; about 0.1 s for two pages.

    Raises ``Invalid`` with typst's own words where the source is wrong, and where it runs longer
    than ``LONGEST_SECONDS``, needs too much memory or gives too large a document.
    """
    return _set(source, data, "pdf")


def set_pictures(source: str, data: object) -> list[str]:
    """The pages of the same as PNG pictures, in base64; raises as ``set_document``."""
    return list(json.loads(_set(source, data, "png")))


def _set(source: str, data: object, form: str) -> bytes:
    asked = {"source": source, "data": json.dumps(data), "fonts": str(FONTS), "form": form}
    with tempfile.TemporaryDirectory(prefix="vivid-paper-") as empty:
        try:
            done = subprocess.run(
                [sys.executable, "-I", str(TYPESETTER)],
                input=json.dumps(asked).encode(),
                capture_output=True,
                cwd=empty,
                timeout=LONGEST_SECONDS,
                check=False,
            )
        except subprocess.TimeoutExpired as error:
            raise Invalid("endless", path="source") from error
    if done.returncode == 1 and done.stderr:
        words = done.stderr.decode(errors="replace")[:600]
        raise Invalid("template", path="source", facts={"words": words})
    if done.returncode != 0:
        raise Invalid("endless", path="source")
    if len(done.stdout) > MOST_BYTES:
        raise Invalid("too_big", path="source")
    return done.stdout
