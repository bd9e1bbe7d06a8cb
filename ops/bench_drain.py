"""How fast waiting orders leave, by workers, and how fast news is taken in. Part of ``make bench``.

A house and a back office of their own, made for this and thrown away. Figures are ratios within one run: to the rate
at which the stand-in itself answers the same orders, one after the other on one connection.
"""

import argparse
import json
from pathlib import Path
import shutil
import sqlite3
import subprocess
import sys
from time import monotonic, sleep
import uuid

import httpx
import MySQLdb

from config.paths import ROOT, VAR, load_secrets
from ops import database
from ops.faults import ask_database, by_themselves
from ops.ports import Trouble, free_port
from ops.stack import Stack

WORKERS = (1, 2, 4)
#: Orders that the stand-in answers by itself, for its bare rate.
BARE = 200
WARM_UP = 20
MOST_SECONDS = 1200.0
LET_GO = (
    "UPDATE handover_handover SET next_try_at = NOW(6) - INTERVAL 1 DAY "
    "WHERE state = 'waiting' ORDER BY id LIMIT %s"
)


def stack_of_drain() -> Stack:
    """An application of its own, made anew."""
    folder = VAR / "drain"
    server = database.Database("drain", 23075, folder / "database")
    database.stop(server)
    shutil.rmtree(folder, ignore_errors=True)
    return Stack(
        database=server, web_port=free_port(), office_port=free_port(), folder=folder, tied=True
    )  # fmt: skip


def let_go(stack: Stack, orders: int) -> None:
    """So many of those that wait are due."""
    link = MySQLdb.connect(
        host="127.0.0.1", port=stack.database.port, user="vividroute", autocommit=True,
        password=load_secrets()["database"], database=stack.database_name,
    )  # fmt: skip
    try:
        link.cursor().execute(LET_GO, (orders,))
    finally:
        link.close()


def _storage(stack: Stack) -> Path:
    return stack.folder / "backoffice" / "backoffice.sqlite"


def told(stack: Stack) -> int:
    """How many events the stand-in has told."""
    with sqlite3.connect(_storage(stack), timeout=20) as link:
        (count,) = link.execute("SELECT COUNT(*) FROM events").fetchone()
    return int(count)


def bare_rate(stack: Stack) -> float:
    """Orders a second that the stand-in answers, one after the other on one connection."""
    (payload,) = ask_database(
        stack, "SELECT payload FROM handover_handover WHERE state = 'waiting' LIMIT 1"
    )[0]
    order = json.loads(str(payload))
    headers = {"Authorization": f"Bearer {load_secrets()['backoffice']}"}
    with httpx.Client(base_url=stack.office_url, headers=headers, trust_env=False) as client:
        began = monotonic()
        for n in range(BARE):
            order["order_number"] = f"BARE-{n}"
            key = {"Idempotency-Key": str(uuid.uuid4())}
            client.post("/orders", json=order, headers=key).raise_for_status()
        return BARE / (monotonic() - began)


def work(stack: Stack, workers: int) -> list[subprocess.Popen[bytes]]:
    """So many workers."""
    return [
        subprocess.Popen(
            stack.command("worker"), env=stack.environment(), cwd=ROOT,
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )
        for _ in range(workers)
    ]  # fmt: skip


def until(stack: Stack, question: str, wanted: int) -> float:
    """The seconds until a count is what it must be."""
    began = monotonic()
    while monotonic() - began < MOST_SECONDS:
        if int(str(ask_database(stack, question)[0][0])) == wanted:
            return monotonic() - began
        sleep(0.2)
    raise Trouble("It does not come to an end.")


def drained(stack: Stack, orders: int, workers: int) -> float:
    """Orders a second that leave and are taken, with so many workers that run already."""
    waiting = "SELECT COUNT(*) FROM handover_handover WHERE state <> 'taken'"
    before = int(str(ask_database(stack, waiting)[0][0]))
    running = work(stack, workers)
    try:
        sleep(4)  # they have started, and read what there was
        let_go(stack, orders)
        return orders / until(stack, waiting, before - orders)
    finally:
        for process in running:
            process.terminate()
        for process in running:
            process.wait()


def taken_in(stack: Stack) -> tuple[int, float]:
    """How many events were taken in, and how many a second, by one worker that finds them all there."""
    by_themselves(stack)
    before = -1
    while (now := told(stack)) != before:
        before = now
        sleep(5)
    known = "SELECT COUNT(*) FROM handover_backofficeevent WHERE state IN ('applied', 'apart')"
    there = int(str(ask_database(stack, known)[0][0]))
    foreign = int(str(ask_database(stack, "SELECT COUNT(*) FROM handover_backofficeevent")[0][0]))
    running = work(stack, 1)
    try:
        return now, (now - there) / until(stack, known, now + max(0, there - foreign))
    finally:
        running[0].terminate()
        running[0].wait()


def main() -> int:
    """Run, and print the ratios."""
    parser = argparse.ArgumentParser(prog="ops.bench_drain")
    parser.add_argument("--orders", type=int, default=1000)
    orders = parser.parse_args().orders
    stack = stack_of_drain()
    try:
        database.start(stack.database)
        stack.manage("make_ready", "--demo-books", str(stack.books))
        stack.start("backoffice")
        stack.manage("write_waiting", "--orders", str(orders * len(WORKERS) + WARM_UP))
        sleep(2)
        bare = bare_rate(stack)
        print(f"the stand-in answers {bare:.0f} orders a second, one after the other")
        drained(stack, WARM_UP, 1)  # what the house reads at first is not measured
        for workers in WORKERS:
            rate = drained(stack, orders, workers)
            print(f"{orders:,} orders by {workers}: {rate:.1f} a second, {rate / bare:.2f} of that")
        events, rate = taken_in(stack)
        print(f"{events:,} events taken in by one: {rate:.0f} a second, {rate / bare:.2f} of that")
    finally:
        stack.stop()
        database.stop(stack.database)
    return 0


if __name__ == "__main__":
    sys.exit(main())
