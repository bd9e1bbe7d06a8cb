"""How much of the code is tests: ``python -m ops.share``.

Lines that are not empty, of what is written by hand: no migrations, no generated types, no lock files.
"""

from collections.abc import Iterator
from pathlib import Path
import shutil
import subprocess
import sys

KINDS = {".py", ".ts", ".vue", ".css", ".sh", ".typ", ".html"}
GENERATED = ("web/src/api/schema.d.ts",)


def files() -> Iterator[Path]:
    """What git knows of the code."""
    listed = subprocess.run(
        [shutil.which("git") or "git", "ls-files"], capture_output=True, text=True, check=True
    ).stdout
    for line in listed.splitlines():
        path = Path(line)
        if path.suffix in KINDS and "migrations" not in path.parts and line not in GENERATED:
            yield path


def is_test(path: Path) -> bool:
    """Whether a file is there for the tests alone."""
    front = path.name.endswith((".test.ts", ".harness.ts")) or path.parts[:3] == (
        "web",
        "src",
        "test",
    )
    return path.parts[0] == "tests" or front


def main() -> int:
    """Count and print."""
    tests = code = 0
    for path in files():
        lines = sum(bool(line.strip()) for line in path.read_text(encoding="utf-8").splitlines())
        if is_test(path):
            tests += lines
        else:
            code += lines
    print(f"{tests:,} lines of tests, {code:,} of everything else: {tests / (tests + code):.1%}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
