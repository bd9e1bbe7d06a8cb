"""Where the application keeps what it writes, and its secrets. Standard library only."""

from contextlib import suppress
import json
import os
from pathlib import Path
import secrets

ROOT = Path(__file__).resolve().parents[2]
#: The one folder that the application writes to; ignored by git.
VAR = Path(os.environ.get("VIVID_VAR", ROOT / "var"))


NAMES = (
    "django",
    "database",
    "database_app",
    "database_root",
    "backoffice",
    "backoffice_key",
    "mailbox",
    "mailbox_key",
)


def load_secrets() -> dict[str, str]:
    """The secrets of this installation, made at first use and readable by its owner alone."""
    file = VAR / "secrets.json"
    if not file.exists():
        VAR.mkdir(parents=True, exist_ok=True)
        made = {name: secrets.token_urlsafe(40) for name in NAMES}
        fresh = file.with_suffix(f".{os.getpid()}")
        descriptor = os.open(fresh, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(descriptor, "w") as out:
            json.dump(made, out)
        with suppress(FileExistsError):  # the first of two processes wins
            os.link(fresh, file)
        fresh.unlink()
    found: dict[str, str] = json.loads(file.read_text())
    missing = [name for name in NAMES if name not in found]
    if missing:  # an installation from before there was one
        found |= {name: secrets.token_urlsafe(40) for name in missing}
        fresh = file.with_suffix(f".{os.getpid()}")
        fresh.touch(mode=0o600)
        fresh.write_text(json.dumps(found))
        fresh.rename(file)
    return found
