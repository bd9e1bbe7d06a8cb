"""How much a browser loads before it shows a page: scripts and styles, packed, from the build's manifest.

Usage: ``python -m ops.first_load`` prints a line a page, the largest first, and fails where one
goes beyond the budget, or asks for more files than it may: each is a way to the server and back. What a
page loads when it is wanted, as charts and panels, is left out; fonts are loaded once and kept.
"""

from collections.abc import Iterator
import gzip
import json
from pathlib import Path
import sys
from typing import Any

DIST = Path(__file__).resolve().parent.parent / "web" / "dist"
BUDGET_KB = 350
MOST_FILES = 40
SHOWN = 5

Manifest = dict[str, dict[str, Any]]


def files_of(manifest: Manifest, key: str, seen: set[str]) -> Iterator[str]:
    """The chunk, its styles, and all that it imports at once, each file once."""
    if key in seen:
        return
    seen.add(key)
    chunk = manifest[key]
    yield chunk["file"]
    yield from chunk.get("css", [])
    for other in chunk.get("imports", []):
        yield from files_of(manifest, other, seen)


def packed(dist: Path, files: set[str]) -> float:
    """The files' size in kB as a browser receives them."""
    return sum(len(gzip.compress((dist / name).read_bytes())) for name in files) / 1000


def first_loads(dist: Path) -> list[tuple[float, int, str]]:
    """Size in kB, files and page, the largest first: the entry with each page that it can open."""
    manifest: Manifest = json.loads((dist / ".vite" / "manifest.json").read_text())
    entry = next(key for key, chunk in manifest.items() if chunk.get("isEntry"))
    pages = manifest[entry].get("dynamicImports", [])
    found = []
    for page in pages:
        seen: set[str] = set()
        files = {*files_of(manifest, entry, seen), *files_of(manifest, page, seen)}
        found.append((packed(dist, files), len(files), Path(page).stem))
    return sorted(found, reverse=True)


def main() -> int:
    """Print the largest; 1 where the budget does not hold."""
    found = first_loads(DIST)
    for size, files, page in found[:SHOWN]:
        print(f"{page:<16} {size:6.1f} kB of {BUDGET_KB}, {files:2} files of {MOST_FILES}")
    most = max((files for _, files, _ in found), default=0)
    return int(not found or found[0][0] > BUDGET_KB or most > MOST_FILES)


if __name__ == "__main__":
    sys.exit(main())
