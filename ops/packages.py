"""What others wrote is what was chosen: every package pinned with its hash, installed, and fitting the others.

``python -m ops.packages`` asks nobody outside: whether a version has a known fault is asked where the
network is, before it is pinned.
"""

import json
from pathlib import Path
import re
import subprocess
import sys

PYTHON = ("requirements.txt", "requirements-dev.txt")
PIN = re.compile(r"^([a-z0-9._-]+(?:\[[a-z,]+\])?)==\S+ \\$", re.MULTILINE | re.IGNORECASE)


def python_faults(file: Path) -> list[str]:
    """Packages that are not pinned, or not by hash."""
    blocks = re.split(r"\n(?=\S)", file.read_text(encoding="utf-8"))
    named = [block for block in blocks if not block.startswith("#")]
    return [
        f"{file.name}: {block.splitlines()[0]}"
        for block in named
        if block.strip() and not (PIN.match(block) and "--hash=sha256:" in block)
    ]


def browser_faults(file: Path) -> list[str]:
    """Packages of the front end without a checksum."""
    locked = json.loads(file.read_text(encoding="utf-8"))["packages"]
    return [
        f"{file.name}: {name}"
        for name, package in locked.items()
        if name and not package.get("link") and not package.get("integrity")
    ]


def main() -> int:
    """Print what is wrong; 0 where nothing is."""
    faults = [fault for name in PYTHON for fault in python_faults(Path(name))]
    faults += browser_faults(Path("web/package-lock.json"))
    for command, where in (
        ([sys.executable, "-m", "uv", "pip", "check", "-q"], "."),
        (["npm", "ls", "--all", "--silent"], "web"),
    ):
        done = subprocess.run(command, cwd=where, capture_output=True, text=True, check=False)
        if done.returncode:
            faults.append((done.stdout + done.stderr).strip()[-600:])
    print("\n".join(faults) or "every package is pinned by its hash, installed and compatible")
    return bool(faults)


if __name__ == "__main__":
    sys.exit(main())
