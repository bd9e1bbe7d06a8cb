"""Fifty reps at work at the same time, on a house of a hundred demos: ``python -m ops.load``.

Each opens Today, finds a customer, starts a quote, types lines into it (the desk prices while one types and
saves after each line), issues it, and begins anew; between the acts they think, as people do. Printed: what
the slowest twentieth of answers took, while typing and of pages; refusals and errors; the web servers'
memory at the beginning and at the end.
"""

import argparse
from collections import defaultdict
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass, field
import http.client
import json
import os
from pathlib import Path
from random import Random
import sys
from threading import Lock
from time import monotonic, sleep
from typing import Any
from urllib.parse import urlencode, urlsplit

from ops import database
from ops.bench_growth import MANY, running
from ops.grow import REPS, make_house, stack_of
from ops.stack import Stack

PEOPLE = 50
#: Seconds between two acts, and between two keys that ask for a price.
THINKS, TYPES = (5.0, 20.0), (0.8, 2.2)
LINES = 6
IDLE_SECONDS = 50
#: What is allowed, in milliseconds, for ninety-five of a hundred answers.
MOST = {"typing": 150, "page": 500}


@dataclass
class Times:
    """What answers took, by kind, and what went wrong."""

    taken: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    wrong: list[str] = field(default_factory=list)
    lock: Lock = field(default_factory=Lock)

    def note(self, kind: str, milliseconds: float) -> None:
        """An answer came."""
        with self.lock:
            self.taken[kind].append(milliseconds)

    def complain(self, words: str) -> None:
        """An answer was none."""
        with self.lock:
            self.wrong.append(words)

    def slowest(self, kind: str, share: float = 0.95) -> float:
        """So many of a hundred answers came within this time."""
        rows = sorted(self.taken[kind])
        return rows[min(len(rows) - 1, int(len(rows) * share))] if rows else 0.0


class Rep:
    """One person at the desk; a connection that stays open, as a browser's does."""

    def __init__(
        self, url: str, name: str, times: Times, random: Random, thinks: tuple[float, float]
    ):
        self.netloc, self.name, self.times, self.random = urlsplit(url).netloc, name, times, random
        self.thinks = thinks
        self.link = http.client.HTTPConnection(self.netloc, timeout=30)
        self.cookies: dict[str, str] = {}
        self.asked = monotonic()
        self.ask("sign-in", "GET", "/")
        given = {"username": name, "password": "orchard-demo"}
        self.ask("sign-in", "POST", "/api/session", given)

    def ask(self, kind: str, method: str, path: str, body: object = None) -> Any:
        """Ask, measure, and read the answer."""
        headers = {
            "Cookie": "; ".join(f"{key}={value}" for key, value in self.cookies.items()),
            "Origin": f"http://{self.netloc}",
            "X-CSRFToken": self.cookies.get("vivid_csrf", ""),
            "Content-Type": "application/json",
            "Accept-Encoding": "gzip",
        }
        start = monotonic()
        if start - self.asked > IDLE_SECONDS:
            self.link.close()  # the server closed it; a browser opens anew
        self.asked = start
        try:
            self.link.request(method, path, json.dumps(body) if body is not None else None, headers)
            answer = self.link.getresponse()
            read = answer.read()
        except (OSError, http.client.HTTPException) as error:
            self.times.complain(f"{method} {path}: {error!r}")
            self.link.close()
            return None
        self.times.note(kind, (monotonic() - start) * 1000)
        for line in answer.headers.get_all("Set-Cookie") or []:
            key, _, value = line.partition(";")[0].partition("=")
            self.cookies[key] = value
        if answer.status >= 400:
            self.times.complain(f"{method} {path}: {answer.status} {read[:200]!r}")
            return None
        if answer.headers.get("Content-Encoding") == "gzip":
            import gzip

            read = gzip.decompress(read)
        kind_of = answer.headers.get("Content-Type", "")
        return json.loads(read) if read and "json" in kind_of else None

    def work(self, until: float) -> None:
        """Quote after quote."""
        self._pause((0, 10))
        items = self.ask("list", "GET", "/api/items?most=50")
        while items and monotonic() < until:
            self._quote(items, until)

    def _quote(self, items: list[dict[str, Any]], until: float) -> None:
        self.ask("page", "GET", "/api/today")
        self._pause(self.thinks)
        words = self.random.choice(("hazel", "yarrow", "fruit", "vine", "orch", "marl", "fen"))
        found = self.ask("list", "GET", f"/api/customers?{urlencode({'words': words})}")
        rows = (found or {}).get("rows") or self.ask("list", "GET", "/api/customers")["rows"]
        self._pause(self.thinks)
        customer = self.random.choice(rows)["id"]
        self.ask("page", "GET", f"/api/customers/{customer}")
        self._pause(self.thinks)
        quote = self.ask("act", "POST", "/api/quotes", {"customer_id": customer})
        if not quote:
            return
        body: dict[str, Any] = {
            "version": quote["version"], "valid_until": quote["valid_until"], "lines": [],
        }  # fmt: skip
        path = f"/api/revisions/{quote['id']}"
        for n in range(LINES):
            saved = self._line(path, body, items, n)
            if not saved or monotonic() > until:
                return
            body["version"], quote = saved["version"], saved
        seen = {"mark": quote["mark"], "payable": quote["priced"]["totals"]["payable"]}
        if not quote["excesses"] and not quote["problems"]:
            given = {"version": body["version"], "seen": seen}
            self.ask("page", "POST", f"{path}/issue", given)
        self._pause(self.thinks)

    def _line(self, path: str, body: dict[str, Any], items: list[dict[str, Any]], n: int) -> Any:
        item = self.random.choice(items)
        line = {"key": f"k{n}", "item_id": item["id"], "quantity": "1", "unit": item["sales_unit"]}
        body["lines"] = [*body["lines"], line]
        for quantity in ("1", "12", "120"):
            line["quantity"] = quantity
            self._pause(TYPES)
            typed = {key: value for key, value in body.items() if key != "version"}
            self.ask("typing", "POST", f"{path}/price", typed)
        return self.ask("typing", "PUT", path, body)

    def _pause(self, span: tuple[float, float]) -> None:
        sleep(self.random.uniform(*span))


def memory_of(stack: Stack) -> int:
    """Megabytes that the web server's processes hold for themselves."""
    master = stack.processes["web"].pid
    found = [master]
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                parent = int((entry / "stat").read_text().rsplit(")", 1)[1].split()[1])
            except OSError:
                continue
            if parent == master:
                found.append(int(entry.name))
    return sum(_private(pid) for pid in found) // 1024


def _private(pid: int) -> int:
    try:
        lines = Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()
    except OSError:
        return 0
    return sum(int(line.split()[1]) for line in lines if line.startswith("Private"))


@contextmanager
def big_house() -> Iterator[Stack]:
    """The web server on a hundred demos."""
    stack = stack_of(make_house(MANY), Path("var/growth/load"))
    try:
        with running(stack):
            yield stack
    finally:
        database.stop(database.of_growth())


def names() -> list[str]:
    """The reps of the big house."""
    return ["ilse", "tomas", "amara", *(f"rep{n:02}" for n in range(4, REPS + 1))]


def put_under_load(
    stack: Stack, seconds: float, thinks: tuple[float, float]
) -> tuple[Times, list[int]]:
    """Everybody works for so long; the memory after a fifth of it, and at the end."""
    times, people = Times(), names()
    reps = [
        Rep(stack.url, people[n % len(people)], times, Random(n), thinks) for n in range(PEOPLE)
    ]
    times.taken.clear()
    begin = monotonic()
    sizes = []
    with ThreadPoolExecutor(PEOPLE) as pool:
        work = [pool.submit(rep.work, begin + seconds) for rep in reps]
        sleep(seconds / 5)
        sizes.append(memory_of(stack))
        for each in work:
            each.result()
        sizes.append(memory_of(stack))
    return times, sizes


def main() -> int:
    """Measure and print; 1 where something is beyond what is allowed."""
    parser = argparse.ArgumentParser(prog="ops.load", description="Fifty reps at work")
    parser.add_argument("--minutes", type=float, default=5)
    parser.add_argument("--thinks", type=float, nargs=2, default=THINKS, metavar="SECONDS")
    given = parser.parse_args()
    os.environ.setdefault("VIVID_DB_MEMORY", "1024")
    with big_house() as stack:
        times, sizes = put_under_load(stack, given.minutes * 60, tuple(given.thinks))
    asked = sum(map(len, times.taken.values()))
    print(
        f"{PEOPLE} reps for {given.minutes:g} minutes: {asked:,} answers, {len(times.wrong)} errors"
    )
    for kind, rows in sorted(times.taken.items()):
        most = f" (aim: under {MOST[kind]})" if kind in MOST else ""
        print(
            f"{kind:8} {len(rows):6,} answers, half within {times.slowest(kind, 0.5):.0f} ms, "
            f"95 of 100 within {times.slowest(kind):.0f} ms{most}"
        )
    print(
        f"memory of the web servers: {sizes[0]} MB after a fifth of the time, {sizes[1]} MB at the end"
    )
    for words in times.wrong[:5]:
        print(f"  {words}")
    return int(bool(times.wrong) or any(times.slowest(kind) > most for kind, most in MOST.items()))


if __name__ == "__main__":
    sys.exit(main())
