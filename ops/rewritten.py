"""The tests with their assertions rewritten by pytest, compiled once and read by each of its processes.

Each process would do it for itself, at the same time as the others. Usage:
``python -m ops.rewritten``. What it writes is named by pytest's version and holds the source's hash.
"""

import os
from pathlib import Path

from _pytest.assertion.rewrite import PYC_TAIL, _rewrite_test, _write_pyc_fp, get_cache_dir
from _pytest.config import get_config

from config.paths import ROOT


def rewrite(test: Path) -> None:
    """Where pytest looks for it, whole or not at all."""
    folder = get_cache_dir(test)
    folder.mkdir(parents=True, exist_ok=True)
    source_hash, code = _rewrite_test(test, get_config())
    unfinished = folder / f"{test.stem}.{os.getpid()}"
    with unfinished.open("wb") as out:
        _write_pyc_fp(out, source_hash, code)
    unfinished.rename(folder / f"{test.stem}{PYC_TAIL}")


if __name__ == "__main__":
    for pattern in ("test_*.py", "conftest.py"):
        for each in sorted((ROOT / "tests").rglob(pattern)):
            rewrite(each)
