"""The quote desk of the browser without its screen, in its own process, with its line in our hands."""

from collections.abc import Mapping
import json
from pathlib import Path
import subprocess
from typing import Any

WEB = Path(__file__).parents[2] / "web"
BUILT = WEB / "node_modules" / ".desk" / "desk.harness.js"


def build() -> None:
    """Put the desk together as it ships, for a process without a screen."""
    command = ["npx", "--no-install", "vite", "build", "-c", "vite.harness.config.ts"]
    subprocess.run([*command, "--logLevel", "error"], cwd=WEB, check=True)


class Desk:
    """A desk in its process: commands in, and after each what it shows and asks."""

    def __init__(self, person: int, kept: Mapping[str, str] | None = None):
        self.process = subprocess.Popen(
            ["node", str(BUILT), json.dumps(dict(kept or {}))],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            text=True,
        )
        self.view: dict[str, Any] = {}
        self.does("sign-in", id=person)

    def does(self, what: str, **facts: object) -> dict[str, Any]:
        """Do something at the desk; what it shows then."""
        assert self.process.stdin and self.process.stdout
        self.process.stdin.write(json.dumps({"does": what, **facts}) + "\n")
        self.process.stdin.flush()
        line = self.process.stdout.readline()
        assert line, f"the desk ended at {what}"
        self.view = json.loads(line)
        return self.view

    @property
    def waiting(self) -> list[dict[str, Any]]:
        """The requests that wait for their answer, the oldest first."""
        found: list[dict[str, Any]] = self.view["waiting"]
        return found

    @property
    def content(self) -> tuple[tuple[str, ...], str, str]:
        """Quantities, message and validity as they are shown."""
        return tuple(self.view["lines"]), self.view["message"], self.view["valid"]

    def end(self) -> None:
        """The power is cut."""
        self.process.kill()
        self.process.wait()
        for pipe in (self.process.stdin, self.process.stdout):
            if pipe:
                pipe.close()
