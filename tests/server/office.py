"""The real stand-in, as a process of its own, for the tests."""

import os
from pathlib import Path
import re
import socket
import sqlite3
import subprocess
import sys
import time

import httpx

from apps.handover.gateway import BackOffice
from config.paths import ROOT

TOKEN = "the-tests-token"
KEY = "the-tests-key"


class Office:
    """The real stand-in, as a process of its own."""

    def __init__(self, folder: Path):
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.folder = folder
        self.process: subprocess.Popen[bytes] | None = None
        self.cookies: dict[str, str] = {}
        self.client = BackOffice(f"http://127.0.0.1:{self.port}", TOKEN, 2.0, key=KEY)

    def start(self) -> None:
        """Start it, and wait until it answers."""
        self.process = subprocess.Popen(
            [
                sys.executable,
                "-m",
                "standins.backoffice",
                "--port",
                str(self.port),
                "--folder",
                str(self.folder),
            ],
            env={**os.environ, "VIVID_BACKOFFICE_TOKEN": TOKEN, "VIVID_BACKOFFICE_KEY": KEY},
            cwd=ROOT,
        )
        for _ in range(200):
            if self.client.answers():
                return
            time.sleep(0.02)
        raise AssertionError("the stand-in does not answer")

    def without_goods(self) -> None:
        """Tell nothing of the goods it starts with: whom they do not concern need not read them all."""
        with sqlite3.connect(self.folder / "backoffice.sqlite") as db:
            db.execute("DELETE FROM changes WHERE kind = 'stock'")

    def kill(self) -> None:
        """The power is cut."""
        if self.process:
            self.process.kill()
            self.process.wait()

    def press(self, act: str, **fields: str) -> None:
        """A button of the clerk's page."""
        token = re.search(r"name=token value='(\w+)'", self.page())
        assert token
        url = f"http://127.0.0.1:{self.port}/page/{act}"
        httpx.post(url, data={**fields, "token": token[1]}, cookies=self.cookies, verify=False)

    def page(self) -> str:
        """The clerk's page."""
        url = f"http://127.0.0.1:{self.port}"
        if not self.cookies:
            # Read for every call, certificates would take longer than it: nothing here speaks TLS.
            known = {"password": "orchard-demo"}
            entered = httpx.post(f"{url}/sign-in", data=known, verify=False)
            self.cookies = dict(entered.cookies)
        return httpx.get(url, cookies=self.cookies, verify=False).text
