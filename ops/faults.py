"""Orders go through while everything is killed and the line is bad: ``make test-faults``.

Several people make orders over the API, each act repeated until it is answered, as a person would. Meanwhile
one part after the other is killed without a word (SIGKILL): web workers and their master, the worker, the
back-office stand-in, MariaDB; the keeper's own function brings back what ended. At the end it is counted:
each order once in the house and once in the back office, with equal sums; each piece of news once; kept
figures equal their rows. The database writes to disk as the application's does.
"""

import argparse
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from decimal import Decimal
import http.client
import json
import os
from pathlib import Path
from random import Random
import shutil
import signal
import sqlite3
import sys
from threading import Event, Lock, Thread
from time import monotonic, sleep
from typing import Any
from urllib.parse import urlsplit
import uuid

import MySQLdb

from config.paths import VAR, load_secrets
from ops import database
from ops.ports import Trouble, free_port
from ops.stack import Stack
from standins.backoffice.faults import KINDS

#: How often each part is the one that is killed.
WEIGHTS = {"web child": 30, "web": 12, "worker": 25, "backoffice": 25, "mailbox": 20, "database": 8}
PAUSE = 0.4
#: So long one kind of trouble lasts, and so long the line is well in between.
BAD_SECONDS, WELL_SECONDS = (0.5, 3.0), (0.5, 2.0)
#: So many orders the back office forgets at the end.
FORGOTTEN = 12
SETTLES_WITHIN_SECONDS = 240.0
LINES = 3
OPEN_HANDOVERS = "SELECT COUNT(*) FROM handover_handover WHERE state IN ('waiting', 'under_way')"
#: An order of a customer who has nowhere to deliver to is refused, as it should be.
HAVE_A_PLACE = "SELECT DISTINCT customer_id FROM customers_address WHERE retired_at IS NULL"


def stack_of_faults() -> Stack:
    """An application of its own, durable, made anew."""
    folder = VAR / "faults"
    server = database.Database(
        "faults", int(os.environ.get("VIVID_FAULTS_DB_PORT", "23074")), folder / "database"
    )
    database.stop(server)
    shutil.rmtree(folder, ignore_errors=True)
    return Stack(
        database=server, web_port=free_port(), office_port=free_port(), folder=folder, tied=True
    )  # fmt: skip


class Unanswered(Exception):
    """There was no answer, or one that says to try again."""


@dataclass
class Tally:
    """What was done, and what was heard."""

    lock: Lock = field(default_factory=Lock)
    kills: Counter[str] = field(default_factory=Counter)
    heard: Counter[str] = field(default_factory=Counter)
    weather: Counter[str] = field(default_factory=Counter)
    orders: list[int] = field(default_factory=list)
    quotes: int = 0

    def hear(self, what: str) -> None:
        """An answer, or none."""
        with self.lock:
            self.heard[what] += 1


class Person:
    """Somebody who makes orders, and presses again where there is no answer."""

    def __init__(self, url: str, name: str, tally: Tally, stop: Event):
        self.netloc, self.name, self.tally, self.stop = urlsplit(url).netloc, name, tally, stop
        self.cookies: dict[str, str] = {}

    def enter(self) -> None:
        """Sign in."""
        self.insist("GET", "/")
        given = {"username": self.name, "password": "orchard-demo"}
        self.insist("POST", "/api/session", given)

    def insist(self, method: str, path: str, body: object = None) -> Any:
        """Ask until there is an answer; a refusal is one."""
        key = str(uuid.uuid4())
        while not self.stop.is_set():
            try:
                return self.ask(method, path, body, key)
            except Unanswered:
                sleep(0.15)
        raise Unanswered

    def ask(self, method: str, path: str, body: object, key: str) -> Any:
        """One request on a connection of its own."""
        link = http.client.HTTPConnection(self.netloc, timeout=15)
        headers = {
            "Cookie": "; ".join(f"{name}={value}" for name, value in self.cookies.items()),
            "Origin": f"http://{self.netloc}",
            "X-CSRFToken": self.cookies.get("vivid_csrf", ""),
            "Content-Type": "application/json",
            "Idempotency-Key": key,
        }
        try:
            link.request(method, path, json.dumps(body) if body is not None else None, headers)
            answer = link.getresponse()
            read = answer.read()
        except (OSError, http.client.HTTPException) as error:
            self.tally.hear("no answer")
            raise Unanswered from error
        finally:
            link.close()
        for line in answer.headers.get_all("Set-Cookie") or []:
            name, _, value = line.partition(";")[0].partition("=")
            self.cookies[name] = value
        self.tally.hear(str(answer.status))
        if answer.status >= 500 or answer.status == 429:
            raise Unanswered
        told = (
            json.loads(read) if read and "json" in (answer.headers["Content-Type"] or "") else None
        )
        return told if answer.status < 400 else {"refused": told}

    def order(self, customer: int, items: list[dict[str, Any]]) -> int:
        """From a quote to an order that is handed over; the order's key."""
        quote = self.insist("POST", "/api/quotes", {"customer_id": customer})
        with self.tally.lock:
            self.tally.quotes += 1
        lines = [
            {"key": f"k{n}", "item_id": item["id"], "quantity": "10", "unit": item["base_unit"]}
            for n, item in enumerate(items[:LINES])
        ]
        path = f"/api/revisions/{quote['id']}"
        body = {"version": quote["version"], "valid_until": quote["valid_until"], "lines": lines}
        quote = self.insist("PUT", path, body)
        quote = self.insist("POST", f"{path}/issue", _as_seen(quote))
        seen = _as_seen(quote)
        source = {"revision_id": quote["id"], "version": seen.pop("version")}
        body = {"sources": [source], "close_deal": False, **seen}
        order = self.insist("POST", "/api/orders", body)
        if "refused" in order:
            raise Trouble(f"no order: {order}")
        path = f"/api/orders/{order['id']}/handover"
        answer = self.insist("POST", path, _as_seen(order))
        if "refused" in answer:
            raise Trouble(f"not handed over: {answer}")
        return int(order["id"])


def _as_seen(shown: dict[str, Any]) -> dict[str, Any]:
    payable = shown["priced"]["totals"]["payable"] if "priced" in shown else shown["payable"]
    return {"version": shown["version"], "seen": {"mark": shown["mark"], "payable": payable}}


def revive(stack: Stack) -> None:
    """Bring back what ended, at once."""
    if not database.running(stack.database):
        database.start(stack.database)
    for name in stack.finished():
        stack.start(name)


def kill_one(stack: Stack, tally: Tally, random: Random, parts: list[str]) -> None:
    """End one part without a word."""
    (part,) = random.choices(parts, [WEIGHTS[name] for name in parts])
    pid = _pid_of(stack, part, random)
    if pid:
        try:
            os.kill(pid, signal.SIGKILL)
        except ProcessLookupError:
            return
        with tally.lock:
            tally.kills[part] += 1


def _pid_of(stack: Stack, part: str, random: Random) -> int | None:
    if part == "database":
        return database.running(stack.database)
    process = stack.processes.get(part.split(maxsplit=1)[0])
    if process is None or process.poll() is not None:
        return None
    if part != "web child":
        return process.pid
    found = Path(f"/proc/{process.pid}/task/{process.pid}/children")
    children = found.read_text().split() if found.exists() else []
    return int(random.choice(children)) if children else None


class Weather(Thread):
    """One kind of trouble after the other at the back office's end of the line, by chance."""

    def __init__(self, stack: Stack, tally: Tally, random: Random):
        super().__init__(daemon=True)
        self.stack, self.tally, self.random, self.ended = stack, tally, random, Event()

    def run(self) -> None:
        """Until it is ended; then the line is well."""
        while not self.ended.is_set():
            kind = self.random.choice(sorted(KINDS))
            self._set(kind, "on")
            with self.tally.lock:
                self.tally.weather[kind] += 1
            self.ended.wait(self.random.uniform(*BAD_SECONDS))
            self._set(kind, "off")
            self.ended.wait(self.random.uniform(*WELL_SECONDS))

    def _set(self, kind: str, value: str) -> None:
        switch(self.stack, f"fault-{kind}", value)

    def clear(self) -> None:
        """It ends, and the line is well."""
        self.ended.set()
        self.join()


def switch(stack: Stack, name: str, value: str) -> None:
    """A switch of the stand-in, set in its storage as its page does."""
    with sqlite3.connect(stack.folder / "backoffice" / "backoffice.sqlite", timeout=20) as link:
        link.execute("INSERT OR REPLACE INTO switches VALUES (?, ?)", (name, value))


def put_to_the_test(
    stack: Stack,
    *,
    orders: int,
    kills: int,
    parts: list[str],
    people: int,
    seed: int,
    weather: bool = False,
    tally: Tally | None = None,
) -> Tally:
    """So many orders and so many kills, at the same time, on a stack that runs; further ones of a ``tally``."""
    without_limits(stack)
    tally, stop, random = tally or Tally(), Event(), Random(seed)
    kills += tally.kills.total()
    sky = Weather(stack, tally, Random(seed)) if weather else None
    if sky:
        sky.start()
    try:
        _while_killed(
            stack, tally, stop, random, orders=orders, kills=kills, parts=parts, people=people
        )
    finally:
        if sky:
            sky.clear()
    return tally


def _while_killed(
    stack: Stack,
    tally: Tally,
    stop: Event,
    random: Random,
    *,
    orders: int,
    kills: int,
    parts: list[str],
    people: int,
) -> None:
    faults: list[BaseException] = []
    work = _work(stack, tally, stop, orders, faults)
    names = ("ilse", "tomas", "amara")
    threads = [Thread(target=work, args=(names[n % 3],), daemon=True) for n in range(people)]
    for thread in threads:
        thread.start()
    while any(t.is_alive() for t in threads) or tally.kills.total() < kills:
        if faults:
            stop.set()
            raise faults[0]
        if tally.kills.total() < kills:
            kill_one(stack, tally, random, parts)
        sleep(PAUSE * random.uniform(0.3, 1.7))
        revive(stack)


def _work(
    stack: Stack, tally: Tally, stop: Event, orders: int, faults: list[BaseException]
) -> Callable[[str], None]:
    """What each person does: orders of their customers, until all are made."""
    left = iter(range(orders))
    served = {key for (key,) in ask_database(stack, HAVE_A_PLACE)}

    def work(name: str) -> None:
        try:
            person = Person(stack.url, name, tally, stop)
            person.enter()
            customers = _customers(person, served)
            items = person.insist("GET", "/api/items?most=20")
            mine = Random(name)
            while True:
                with tally.lock:
                    if next(left, None) is None:
                        return
                made = person.order(mine.choice(customers), items)
                with tally.lock:
                    tally.orders.append(made)
        except BaseException as error:
            faults.append(error)

    return work


def lose_a_day(stack: Stack, tally: Tally, seed: int) -> int:
    """The back office's storage is put back to before the last orders; people compare, and send again what it lost.

    How many it had forgotten.
    """
    storage = stack.folder / "backoffice" / "backoffice.sqlite"
    switch(stack, "pace", "hand")
    sleep(1)
    earlier = stack.folder / "earlier.sqlite"
    with sqlite3.connect(storage, timeout=20) as now, sqlite3.connect(earlier) as then:
        now.backup(then)
    then.close()
    put_to_the_test(stack, orders=FORGOTTEN, kills=0, parts=[], people=2, seed=seed, tally=tally)
    taken(stack)
    _end(stack, "backoffice")
    for part in (
        storage,
        storage.with_name(f"{storage.name}-wal"),
        storage.with_name(f"{storage.name}-shm"),
    ):
        part.unlink(missing_ok=True)
    shutil.copy(earlier, storage)
    revive(stack)
    lead = Person(stack.url, "petra", tally, Event())
    lead.enter()
    lost = _compared(lead)
    for row in lost:
        entry = lead.insist("GET", f"/api/orders/{row['order_id']}")["handover"]
        path = f"/api/handovers/{entry['id']}/again"
        answer = lead.insist("POST", path, {"version": entry["version"]})
        if "refused" in answer:
            raise Trouble(f"not sent again: {answer}")
    taken(stack)
    switch(stack, "pace", "itself")
    return len(lost)


def _compared(person: Person) -> list[dict[str, Any]]:
    """What both sides compared find missing in the back office."""
    asked = person.insist("POST", "/api/comparisons")
    deadline = monotonic() + SETTLES_WITHIN_SECONDS
    while asked["under_way"] and monotonic() < deadline:
        sleep(0.5)
        asked = person.insist("GET", "/api/comparisons")
    return [row for row in asked["last"]["differences"] if row["what"] == "missing_there"]


def _end(stack: Stack, name: str) -> None:
    process = stack.processes[name]
    process.kill()
    process.wait()


def taken(stack: Stack) -> None:
    """Wait until everything that was handed over is taken."""
    deadline = monotonic() + SETTLES_WITHIN_SECONDS
    while monotonic() < deadline:
        revive(stack)
        if not ask_database(stack, OPEN_HANDOVERS)[0][0]:
            return
        sleep(0.3)
    raise Trouble("not all is taken")


def _customers(person: Person, served: set[int]) -> list[int]:
    """Whom a person can write orders for: they have a place, and are not on Halt."""
    rows = person.insist("GET", "/api/customers")["rows"]
    return [row["id"] for row in rows if row["verdict"] != "halt" and row["id"] in served]


@dataclass
class Account:
    """What the house and the back office know at the end."""

    lines: list[tuple[str, int, int]] = field(default_factory=list)

    def add(self, what: str, found: int, wanted: int) -> None:
        """A figure, and what it must be."""
        self.lines.append((what, found, wanted))

    @property
    def right(self) -> bool:
        """Whether all are what they must be."""
        return all(found == wanted for _, found, wanted in self.lines)


def settle(stack: Stack, before: dict[str, int]) -> None:
    """Let everything come to rest: all handed over and taken, all news and all changes of accounts read and applied."""
    deadline = monotonic() + SETTLES_WITHIN_SECONDS
    foreign = before["events"] - before["told"]
    while monotonic() < deadline:
        revive(stack)
        open_ = ask_database(stack, OPEN_HANDOVERS)
        waits = ask_database(
            stack, "SELECT COUNT(*) FROM handover_backofficeevent WHERE state = 'waiting'"
        )
        known = ask_database(stack, "SELECT COUNT(*) FROM handover_backofficeevent")
        moving = _office(stack, "SELECT COUNT(*) FROM orders WHERE state <> 'paid' AND held = 0")
        told = _office(stack, "SELECT COUNT(*) FROM events")
        if (
            not open_[0][0]
            and not waits[0][0]
            and not moving[0][0]
            and known[0][0] - foreign >= told[0][0]
            and _changes_read(stack)
        ):
            return
        sleep(0.5)
    raise Trouble("it does not come to rest")


def _changes_read(stack: Stack) -> bool:
    """Whether the newest change is taken in: a page of them that was read before what was told since says less."""
    newest = _office(stack, "SELECT COALESCE(MAX(number), 0) FROM changes")[0][0]
    read = ask_database(stack, "SELECT COALESCE(MAX(position), 0) FROM stock_changefeed")[0][0]
    return bool(read >= newest)


def ask_database(stack: Stack, statement: str) -> list[tuple[Any, ...]]:
    """What the application's database answers."""
    link = MySQLdb.connect(
        host="127.0.0.1", port=stack.database.port, user="vividroute",
        password=load_secrets()["database"], database=stack.database_name,
    )  # fmt: skip
    try:
        cursor = link.cursor()
        cursor.execute(statement)
        return list(cursor.fetchall())
    finally:
        link.close()


def without_limits(stack: Stack) -> None:
    """Nobody comes over a limit by what is ordered here: on Halt an order would wait for a person."""
    link = MySQLdb.connect(
        host="127.0.0.1", port=stack.database.port, user="vividroute", autocommit=True,
        password=load_secrets()["database"], database=stack.database_name,
    )  # fmt: skip
    try:
        link.cursor().execute("UPDATE customers_customer SET credit_limit = 1000000000")
    finally:
        link.close()


def _office(stack: Stack, statement: str) -> list[tuple[Any, ...]]:
    with sqlite3.connect(stack.folder / "backoffice" / "backoffice.sqlite", timeout=20) as link:
        return list(link.execute(statement))


def by_themselves(stack: Stack) -> None:
    """The stand-in moves its orders on by itself, without a pause."""
    switch(stack, "pace", "itself")
    switch(stack, "pause_seconds", "0")


def counted(stack: Stack, tally: Tally, before: dict[str, int]) -> Account:
    """Both sides, compared."""
    account, wanted = Account(), len(tally.orders)
    keys = ",".join(map(str, tally.orders)) or "0"
    account.add("different orders answered", len(set(tally.orders)), wanted)
    now = census(stack)
    account.add("orders in the house", now["orders"] - before["orders"], wanted)
    account.add("quotes in the house", now["quotes"] - before["quotes"], tally.quotes)
    add_orders(account, stack, tally)
    account.add(
        "events of the back office",
        now["events"] - before["events"],
        now["told"] - before["told"],
    )
    account.add(
        "of them applied", now["applied"] - before["applied"], now["events"] - before["events"]
    )
    paid = ask_database(
        stack, f"SELECT COUNT(*) FROM orders_order WHERE paid = 1 AND id IN ({keys})"
    )
    account.add("orders paid in full", int(paid[0][0]), wanted)
    doubles = ask_database(stack, "SELECT COUNT(*) - COUNT(DISTINCT number) FROM ledger_payment")
    account.add("payments booked twice", int(doubles[0][0]), 0)
    return account


def add_orders(account: Account, stack: Stack, tally: Tally) -> None:
    """Each order that was answered is in the back office once, with the same sum."""
    keys, wanted = ",".join(map(str, tally.orders)) or "0", len(tally.orders)
    ours = {
        str(key): str(payable.normalize())
        for key, payable in ask_database(
            stack,
            "SELECT h.`key`, o.payable FROM handover_handover h JOIN orders_order o "
            f"ON o.id = h.order_id WHERE o.id IN ({keys})",
        )
    }
    theirs: list[tuple[str, str]] = []
    for key, body in _office(stack, "SELECT key, body FROM orders"):
        if key in ours:
            theirs.append((key, json.loads(body)["payable"]))
    account.add("of them in the back office", len(theirs), wanted)
    account.add("with the same sum", sum(_same(ours[key], sum_) for key, sum_ in theirs), wanted)


def unpaid(stack: Stack, tally: Tally) -> list[str]:
    """How those stand that are not paid in full: here, with their invoices and news, and in the back office."""
    keys = ",".join(map(str, tally.orders)) or "0"
    found = ask_database(
        stack,
        "SELECT o.id, o.number, o.payable, o.invoiced, o.settled, o.credited, o.handover_state, h.`key` "
        "FROM orders_order o JOIN handover_handover h ON h.order_id = o.id "
        f"WHERE o.id IN ({keys}) AND o.paid = 0",
    )
    said = []
    for order, *facts, key in found:
        bills = f"SELECT number, kind, gross, settled, discount FROM ledger_invoice WHERE order_id = {order:d}"
        there = f"SELECT number, state, held FROM orders WHERE key = '{key}'"
        told = f"SELECT position, kind, data FROM events WHERE key = '{key}'"
        said += [
            str((*facts, key)),
            f"  invoices: {ask_database(stack, bills)}",
            f"  there: {_office(stack, there)}",
            f"  told: {_office(stack, told)}",
        ]
    return said


def _same(ours: str, theirs: str) -> bool:
    return Decimal(ours) == Decimal(theirs)


def census(stack: Stack) -> dict[str, int]:
    """How much there is of what is counted."""
    return {
        name: int(ask_database(stack, f"SELECT COUNT(*) FROM {source}")[0][0])
        for name, source in {
            "orders": "orders_order",
            "quotes": "quotes_quote",
            "events": "handover_backofficeevent",
            "applied": "handover_backofficeevent WHERE state = 'applied'",
        }.items()
    } | {"told": int(_office(stack, "SELECT COUNT(*) FROM events")[0][0])}


def main() -> int:
    """Run, print, and judge."""
    parser = argparse.ArgumentParser(
        prog="ops.faults", description="Orders while everything is killed"
    )
    parser.add_argument("--orders", type=int, default=500)
    parser.add_argument("--kills", type=int, default=1000)
    parser.add_argument("--seed", type=int, default=1)
    given = parser.parse_args()
    stack = stack_of_faults()
    began = monotonic()
    try:
        stack.bring_up()
        by_themselves(stack)
        before = census(stack)
        tally = put_to_the_test(
            stack, orders=given.orders, kills=given.kills, parts=list(WEIGHTS), people=6, seed=given.seed,
            weather=True,
        )  # fmt: skip
        settle(stack, before)
        account = counted(stack, tally, before)
        account.add("forgotten, and sent again", lose_a_day(stack, tally, given.seed), FORGOTTEN)
        settle(stack, before)
        add_orders(account, stack, tally)
        stack.manage("check_figures")
    finally:
        stack.stop()
        database.stop(stack.database)
    report(tally, account, monotonic() - began)
    return 0 if account.right else 1


def report(
    tally: Tally, account: Account, seconds: float, say: Callable[[str], None] = print
) -> None:
    """What happened, in lines."""
    parts = ", ".join(f"{part} {count}" for part, count in tally.kills.most_common())
    say(f"{tally.kills.total():,} kills in {seconds / 60:.0f} minutes: {parts}")
    if tally.weather:
        kinds = ", ".join(f"{kind} {count}" for kind, count in tally.weather.most_common())
        say(f"{tally.weather.total():,} troubles of the line: {kinds}")
    say("answers: " + ", ".join(f"{what} {count:,}" for what, count in tally.heard.most_common()))
    for what, found, wanted in account.lines:
        say(f"{'  ' if found == wanted else '! '}{found:6,} of {wanted:6,}  {what}")


if __name__ == "__main__":
    sys.exit(main())
