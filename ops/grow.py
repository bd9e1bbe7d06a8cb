"""A big house: the demo data many times over, in a database of its own.

``python -m ops.grow --times 100``. Every customer with all that belongs to them, every item with its
prices, are copied so many times, under numbers and names of their own; people, price lists, units and
taxes stay as they are, but a dozen reps share the customers. The rows are copied in the database, so that
they are what the demo's own are: same lengths, same days, same states. Kept figures are copied with their
rows and proved at the end.
"""

import argparse
from collections.abc import Iterator
from dataclasses import dataclass, field
import os
from pathlib import Path
import sys
import time
from typing import Any

import MySQLdb

from config.paths import VAR, load_secrets
from ops import database
from ops.ports import Trouble, free_port
from ops.stack import Stack

#: Numbers of copies lie so far apart.
STRIDE = 1_000_000
REPS = 12
COPIED = (
    *("catalogue_item", "catalogue_itemunit", "catalogue_priceentry"),
    *("stock_level", "stock_receipt", "stock_reservation", "stock_substitute"),
    *("customers_customer", "customers_contact", "customers_address", "customers_mark"),
    "regulars_customerday",
    *("prices_customerprice", "prices_agreement", "deals_deal", "diary_activity"),
    *("quotes_quote", "quotes_revision", "quotes_quoteline", "quotes_quotepaper", "quotes_signoff"),
    *("orders_order", "orders_acceptance", "orders_orderline"),
    *("orders_delivery", "orders_deliveryline"),
    *("handover_handover", "handover_backofficeevent"),
    *("ledger_invoice", "ledger_invoiceline", "ledger_payment", "ledger_allocation"),
    *("mail_message", "mail_received"),
)
#: Columns that hold the number or code of something that is copied, beside those that are unique.
NUMBERS = ("order_number", "document", "backoffice_number", "item_code", "mark")
#: By table, columns with the key of a copied row that are no foreign keys.
POINTERS = {
    "quotes_quote": {"revision_id": "quotes_revision", "order_pk": "orders_order"},
    "diary_activity": {"record": "quotes_quote"},
}
FIRST = ("Ash", "Birch", "Crag", "Dun", "Elm", "Fern", "Gorse", "Heath", "Iris", "Juniper")
SECOND = ("bank", "croft", "den", "fold", "garth", "holt", "leigh", "mere", "stead", "wick")


def stack_of(name: str, folder: Path) -> Stack:
    """An application on a grown house."""
    return Stack(
        database=database.of_growth(),
        database_name=name,
        web_port=free_port(),
        office_port=free_port(),
        folder=folder,
        tied=True,
    )


def name_of(times: int) -> str:
    """The database of a house of that size."""
    return f"vivid_grown_{times}"


def connect(name: str = "") -> Any:
    """A connection to the growth server as the account that owns the tables."""
    return MySQLdb.connect(
        host="127.0.0.1",
        port=database.of_growth().port,
        user="vividroute",
        password=load_secrets()["database"],
        database=name,
        charset="utf8mb4",
        autocommit=True,
    )


@dataclass
class Grower:
    """Copies the demo's rows within one database."""

    link: Any
    times: int
    highest: dict[str, int] = field(default_factory=dict)

    def ask(self, statement: str) -> list[tuple[Any, ...]]:
        """Run a statement; its rows."""
        cursor = self.link.cursor()
        cursor.execute(statement)
        return list(cursor.fetchall())

    def grow(self) -> None:
        """All copies, without the indexes of words, which are made anew at the end."""
        for table in COPIED:
            self.highest[table] = int(self.ask(f"SELECT COALESCE(MAX(id), 0) FROM {table}")[0][0])
        plans = {table: self._plan(table) for table in COPIED if self.highest[table]}
        words = self._words()
        for table, index, _ in words:
            self.ask(f"ALTER TABLE {table} DROP INDEX {index}")
        guards = self._guards()
        for name, _ in guards:
            self.ask(f"DROP TRIGGER {name}")
        self.ask("SET foreign_key_checks = 0, unique_checks = 0, @kept_later = 1")
        self.ask("CREATE TEMPORARY TABLE grow_owner (k INT, old BIGINT, new BIGINT, KEY (k, old))")
        self._share_out()
        for k in range(1, self.times):
            for plan in plans.values():
                self.ask(plan.replace("{k}", str(k)))
        self.ask("SET foreign_key_checks = 1, unique_checks = 1, @kept_later = NULL")
        # A sum over rows that were copied is no copy of theirs; check_figures proves it as all others.
        self.ask("DELETE FROM ledger_billedday")
        self.ask(
            "INSERT INTO ledger_billedday (`on`, whose_id, net) SELECT `on`, whose_id, SUM(ROUND("
            "IF(kind = 'credit', -net, net) * base_rate, 2)) FROM ledger_invoice GROUP BY `on`, whose_id"
        )
        for _, order in guards:
            self.ask(order)
        for table, index, columns in words:
            self.ask(f"ALTER TABLE {table} ADD FULLTEXT INDEX {index} ({columns}), ALGORITHM=COPY")
        self.ask(f"UPDATE numbering_series SET last = {(self.times + 1) * STRIDE}")
        for table in COPIED:
            self.ask(f"ANALYZE TABLE {table}")

    def _share_out(self) -> None:
        """The first house is its reps' own; of the others each goes to the next rep."""
        self._hire()
        reps = [
            pk for (pk,) in self.ask("SELECT id FROM people_user WHERE role = 'rep' ORDER BY id")
        ]
        everybody = [pk for (pk,) in self.ask("SELECT id FROM people_user")]
        rows = [
            (k, old, reps[(reps.index(old) + k) % len(reps)] if old in reps else old)
            for k in range(1, self.times)
            for old in everybody
        ]
        self.link.cursor().executemany("INSERT INTO grow_owner VALUES (%s, %s, %s)", rows)

    def _hire(self) -> None:
        """Further reps of the team, like its last one."""
        own = ("id", "username", "first_name")
        kept = [column for column, _ in self._columns("people_user") if column not in own]
        names = ", ".join(f"`{column}`" for column in kept)
        ((last, many),) = self.ask("SELECT MAX(id), COUNT(*) FROM people_user WHERE role = 'rep'")
        for n in range(many + 1, REPS + 1):
            self.ask(
                f"INSERT INTO people_user (username, first_name, {names}) "
                f"SELECT 'rep{n:02}', '{FIRST[n % len(FIRST)]}', {names} "
                f"FROM people_user WHERE id = {last}"
            )

    def _columns(self, table: str) -> list[tuple[str, str]]:
        """(name, type) of the columns that are written."""
        return [
            (name, kind)
            for name, kind in self.ask(
                "SELECT COLUMN_NAME, DATA_TYPE FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = "
                f"DATABASE() AND TABLE_NAME = '{table}' AND EXTRA NOT LIKE '%GENERATED%'"
            )
        ]

    def _plan(self, table: str) -> str:
        """The statement that copies a table for one ``{k}``."""
        points: dict[str, str] = dict(
            self.ask(
                "SELECT COLUMN_NAME, REFERENCED_TABLE_NAME FROM information_schema.KEY_COLUMN_USAGE "
                f"WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = '{table}' "
                "AND REFERENCED_TABLE_NAME IS NOT NULL"
            )
        )
        points |= POINTERS.get(table, {})
        unique = {
            column
            for (column,) in self.ask(
                "SELECT MAX(COLUMN_NAME) FROM information_schema.STATISTICS WHERE NON_UNIQUE = 0 AND "
                f"TABLE_SCHEMA = DATABASE() AND TABLE_NAME = '{table}' GROUP BY INDEX_NAME HAVING COUNT(*) = 1"
            )
        }
        values = {
            column: self._value(table, column, kind, points.get(column, ""), column in unique)
            for column, kind in self._columns(table)
        }
        names = ", ".join(f"`{column}`" for column in values)
        join = (
            "JOIN grow_owner g ON g.k = {k} AND g.old = t.owner_id" if "owner_id" in values else ""
        )
        return (
            f"INSERT INTO {table} ({names}) SELECT {', '.join(values.values())} FROM {table} t {join} "
            f"WHERE t.id <= {self.highest[table]} ORDER BY t.id"
        )

    def _value(self, table: str, column: str, kind: str, target: str, unique: bool) -> str:
        old = f"t.`{column}`"
        if column == "id":
            return f"{old} + {{k}} * {self.highest[table]}"
        if target in self.highest:
            return f"{old} + {{k}} * {self.highest[target]}"
        if column == "owner_id":
            return "g.new"
        if column == "whose_id":
            customer = f"t.customer_id + {{k}} * {self.highest['customers_customer']}"
            theirs = f"(SELECT c.owner_id FROM customers_customer c WHERE c.id = {customer})"
            if table != "ledger_invoice":
                return theirs
            order = f"t.order_id + {{k}} * {self.highest['orders_order']}"
            return (
                f"COALESCE((SELECT o.owner_id FROM orders_order o WHERE o.id = {order}), {theirs})"
            )
        if column == "owner_name":
            return "(SELECT u.first_name FROM people_user u WHERE u.id = g.new)"
        if kind == "uuid":
            mark = f"MD5(CONCAT({old}, {{k}}))"
            return f"CONCAT(LEFT({mark}, 12), 4, SUBSTR({mark}, 14, 3), 8, SUBSTR({mark}, 18))"
        if (
            column in ("customer_name", "name")
            and table != "catalogue_item"
            and self._is_name(table)
        ):
            return f"CONCAT({_place()}, ' ', {old})"
        if column == "name" and table == "catalogue_item":
            return f"CONCAT({old}, ' ', {_place()})"
        if kind in ("char", "varchar") and (unique or column in NUMBERS):
            return _number(old)
        return old

    @staticmethod
    def _is_name(table: str) -> bool:
        return table in (
            *("customers_customer", "deals_deal", "quotes_quote", "orders_order"),
            "ledger_invoice",
        )

    def _words(self) -> list[tuple[str, str, str]]:
        """(table, index, columns) of each index of words."""
        return [
            (table, index, columns)
            for table, index, columns in self.ask(
                "SELECT TABLE_NAME, INDEX_NAME, GROUP_CONCAT(COLUMN_NAME ORDER BY SEQ_IN_INDEX) "
                "FROM information_schema.STATISTICS WHERE TABLE_SCHEMA = DATABASE() "
                "AND INDEX_TYPE = 'FULLTEXT' GROUP BY TABLE_NAME, INDEX_NAME"
            )
        ]

    def _guards(self) -> list[tuple[str, str]]:
        """(name, what makes it) of the triggers that would refuse a copied row."""
        names = self.ask(
            "SELECT TRIGGER_NAME FROM information_schema.TRIGGERS WHERE TRIGGER_SCHEMA = DATABASE() "
            "AND EVENT_MANIPULATION = 'INSERT' AND TRIGGER_NAME LIKE '%refuse%'"
        )
        return [(name, self.ask(f"SHOW CREATE TRIGGER {name}")[0][2]) for (name,) in names]


def _place() -> str:
    """SQL: a name for the copy, one of a hundred, then with a figure."""
    first = ", ".join(f"'{word}'" for word in FIRST)
    second = ", ".join(f"'{word}'" for word in SECOND)
    return (
        f"CONCAT(ELT({{k}} % 10 + 1, {first}), ELT({{k}} DIV 10 % 10 + 1, {second}), "
        "IF({k} < 100, '', {k}))"
    )


def _number(old: str) -> str:
    """SQL: a number of the copy's own, in the shape of the old one."""
    tail = f"SUBSTRING_INDEX({old}, '-', -1)"
    head = f"LEFT({old}, CHAR_LENGTH({old}) - CHAR_LENGTH({tail}))"
    return (
        f"IF({old} IS NULL OR {old} = '', {old}, IF({tail} REGEXP '^[0-9]+$', "
        f"CONCAT({head}, {tail} + {{k}} * {STRIDE}), CONCAT({old}, '-', {{k}})))"
    )


def make_house(times: int, *, anew: bool = False) -> str:
    """The database of a house of that size, made unless it is there already; its name."""
    server, name = database.of_growth(), name_of(times)
    database.start(server)
    with connect() as link:
        there = bool(link.cursor().execute(f"SHOW DATABASES LIKE '{name}'"))
        if there and not anew and _whole(name):
            for act in (("migrate", "--no-input", "-v0"), ("grant_rights",)):
                stack_of(name, VAR / "growth").manage(*act)
            return name
        for order in (
            f"DROP DATABASE IF EXISTS {name}",
            f"CREATE DATABASE {name} CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_as_ci",
        ):
            link.cursor().execute(order)
    stack = stack_of(name, VAR / "growth")
    for act in (("migrate", "--no-input", "-v0"), ("grant_rights",), ("load_demo",)):
        stack.manage(*act)
    tell(stack, name)
    with connect(name) as link:
        Grower(link, times).grow()
        link.cursor().execute("CREATE TABLE grown (at DATETIME)")
    return name


#: How long the stand-in and the worker have to tell the demo's stock and its customers' days.
TELL_SECONDS = 120


def tell(stack: Stack, name: str) -> None:
    """Let the back office tell its stock, and the worker make the customers' days, before all is copied."""
    stack.start("backoffice")
    stack.start("worker")
    try:
        for _ in range(TELL_SECONDS * 2):
            time.sleep(0.5)
            with connect(name) as link:
                if _told(link):
                    return
        raise Trouble("the back office's stock or the customers' days did not come")
    finally:
        stack.stop()


def _told(link: Any) -> bool:
    cursor = link.cursor()
    cursor.execute(
        "SELECT (SELECT COUNT(*) FROM stock_level) > 100 AND NOT EXISTS (SELECT 1 FROM "
        "customers_customer c LEFT JOIN regulars_customerday d ON d.customer_id = c.id WHERE d.on IS NULL)"
    )
    return bool(cursor.fetchone()[0])


def _whole(name: str) -> bool:
    with connect(name) as link:
        return bool(link.cursor().execute("SHOW TABLES LIKE 'grown'"))


def counts(name: str) -> Iterator[tuple[str, int]]:
    """How many rows the tables hold that people speak of."""
    with connect(name) as link:
        for table in ("customers_customer", "deals_deal", "quotes_quote", "orders_order",
                      "ledger_invoice", "ledger_invoiceline", "catalogue_item"):  # fmt: skip
            cursor = link.cursor()
            cursor.execute(f"SELECT COUNT(*) FROM {table}")
            yield table.split("_")[1], int(cursor.fetchone()[0])


def main() -> int:
    """The command line."""
    parser = argparse.ArgumentParser(prog="ops.grow", description="The demo many times over")
    parser.add_argument("--times", type=int, default=100)
    given = parser.parse_args()
    began = time.monotonic()
    try:
        name = make_house(given.times, anew=True)
        made = time.monotonic() - began
        stack_of(name, VAR / "growth").manage("check_figures")
    except Trouble as trouble:
        print(trouble, file=sys.stderr)
        return 1
    print(f"{name}: " + ", ".join(f"{count:,} {what}s" for what, count in counts(name)))
    print(f"made in {made:.0f} s, its figures proved in {time.monotonic() - began - made:.0f} s")
    return 0


if __name__ == "__main__":
    os.environ.setdefault("VIVID_DB_MEMORY", "1024")
    sys.exit(main())
