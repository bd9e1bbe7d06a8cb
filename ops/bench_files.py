"""How long a file of many customers takes: tried, and taken in. Part of ``make bench``.

The customers, their people and places are invented by chance from one seed, so that few are like one another;
the house is the demo, made for this and thrown away.
"""

import csv
import io
import json
import os
from pathlib import Path
from random import Random
import sys
from time import perf_counter
from typing import Any

import httpx

from ops import database
from ops.bench_growth import running
from ops.grow import connect, make_house, name_of, stack_of
from ops.visitor import signed_in

#: Rows of the file, and what taking them in may take: what people are promised.
ROWS, MOST_SECONDS = 20_000, 60
HOUSE = 1
HEAD = (
    "Name",
    "Kind",
    "Contact",
    "Role",
    "Mail",
    "Phone",
    "Place for",
    "Street",
    "Postcode",
    "Town",
)
SOUNDS = [a + b for a in "bdfgklmnprstvz" for b in "aeiou"]
TRADES = ("Farm", "Orchards", "Nursery", "Estate", "Fruit", "Gardens", "Vineyards")


def file_of(rows: int, seed: int = 1) -> bytes:
    """A CSV file of so many customers, each with a person and a place."""
    chance = Random(seed)

    def word(sounds: int) -> str:
        return "".join(chance.choice(SOUNDS) for _ in range(sounds)).capitalize()

    out = io.StringIO()
    sheet = csv.writer(out)
    sheet.writerow(HEAD)
    for n in range(rows):
        house = word(4)
        name = f"{house} {word(3)} {chance.choice(TRADES)}"
        person = (f"{word(3)} {word(3)}", "buyer", f"p{n}@{house.lower()}{n}.example")
        place = ("delivery", f"{n} Lane", f"QF{n}", word(3))
        sheet.writerow((name, "grower", *person, f"+44 1632 {100_000 + n}", *place))
    return out.getvalue().encode()


def send(client: httpx.Client, body: bytes, *, keep: bool) -> tuple[float, dict[str, Any]]:
    """Seconds until the last line, and what it reports."""
    start = perf_counter()
    answer = client.post(
        "/api/customer-files",
        params={"keep": str(keep).lower()},
        files={"file": ("customers.csv", body)},
        timeout=600,
    )
    told = json.loads(answer.raise_for_status().text.strip().splitlines()[-1])
    return perf_counter() - start, told["result"]


def main() -> int:
    """Measure and print; the house goes."""
    os.environ.setdefault("VIVID_DB_MEMORY", "1024")
    body = file_of(ROWS)
    try:
        stack = stack_of(make_house(HOUSE, anew=True), Path("var/growth") / str(HOUSE))
        with running(stack) as house, signed_in(house.url, "ilse") as client:
            for what, keep in (("tried", False), ("taken in", True), ("again", True)):
                seconds, report = send(client, body, keep=keep)
                counts = ", ".join(
                    f"{many:,} {state}" for state, many in report["counts"].items() if many
                )
                mark = "!" if seconds > MOST_SECONDS else " "
                print(f"{mark} {ROWS:,} rows {what:9} {seconds:6.1f} s   {counts}")
        with connect() as link:
            link.cursor().execute(f"DROP DATABASE {name_of(HOUSE)}")
    finally:
        database.stop(database.of_growth())
    return 0


if __name__ == "__main__":
    sys.exit(main())
