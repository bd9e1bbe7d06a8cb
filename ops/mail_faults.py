"""Mails go out and come in while everything is killed: ``make test-faults`` runs it after the orders.

People write mails over the API, each repeated until it is answered, and customers' mails are laid into the house's
mailbox, some of them twice. Meanwhile the mail server's stand-in, the worker, web workers and MariaDB are killed without a
word. At the end it is counted: what the house says was sent lies once in its box, what nobody knows at most once, nothing
twice; each mail of a customer is kept once.
"""

import argparse
from collections import Counter
from email.message import EmailMessage
from email.parser import BytesHeaderParser
from random import Random
import smtplib
import sys
from threading import Event, Thread
from time import monotonic, sleep
from typing import Any

from ops import database
from ops.faults import (
    Account,
    Person,
    Tally,
    ask_database,
    by_themselves,
    kill_one,
    report,
    revive,
    stack_of_faults,
)
from ops.ports import Trouble
from ops.stack import Stack

PARTS = ["web child", "worker", "mailbox", "database"]
PAUSE = 0.4
#: One in so many of the customers' mails is laid into the box a second time.
TWICE = 5
SETTLES_WITHIN_SECONDS = 240.0
ON_ITS_WAY = "SELECT COUNT(*) FROM mail_message WHERE state IN ('waiting', 'under_way', 'handing')"
HOUSE = "sales@quillfen.example"
DOMAIN = "probe.example"


def written(
    stack: Stack, tally: Tally, name: str, numbers: range, faults: list[BaseException]
) -> None:
    """A person's mails, each to an address of its own."""
    try:
        person = Person(stack.url, name, tally, Event())
        person.enter()
        customer = person.insist("GET", "/api/customers")["rows"][0]["id"]
        for n in numbers:
            mail = {
                "kind": "customer",
                "record": customer,
                "to": [{"name": "", "address": f"buyer{n}@{DOMAIN}"}],
                "subject": f"Probe {n}",
                "body": "Twenty posts are there.",
            }
            answer = person.insist("POST", "/api/mails", mail)
            if "refused" in answer:
                raise Trouble(f"not written: {answer}")
    except BaseException as error:
        faults.append(error)


def laid(stack: Stack, address: str, count: int, random: Random, stop: Event) -> None:
    """A customer's mails, each handed over until the server takes it; one in ``TWICE`` once more."""
    for n in range(count):
        mail = EmailMessage()
        mail["From"], mail["To"], mail["Subject"] = address, HOUSE, f"Question {n}"
        mail["Message-ID"] = f"<question-{n}@{DOMAIN}>"
        mail.set_content("When do they come?")
        for _ in range(2 if n % TWICE == 0 else 1):
            while not stop.is_set() and not _handed_over(stack, mail):
                sleep(0.2)
        sleep(PAUSE * random.uniform(0.2, 1.0))


def _handed_over(stack: Stack, mail: EmailMessage) -> bool:
    try:
        with smtplib.SMTP("127.0.0.1", stack.smtp_port, timeout=10) as line:
            line.send_message(mail)
    except (OSError, smtplib.SMTPException):
        return False
    return True


def put_to_the_test(stack: Stack, *, mails: int, kills: int, seed: int) -> Tally:
    """So many mails out, a third as many in, and so many kills, at the same time."""
    tally, stop, random, faults = Tally(), Event(), Random(seed), list[BaseException]()
    names = ("ilse", "tomas", "amara")
    each = -(-mails // len(names))
    threads = [
        Thread(
            target=written,
            args=(stack, tally, name, range(k * each, min(mails, (k + 1) * each)), faults),
            daemon=True,
        )
        for k, name in enumerate(names)
    ]
    address = known_address(stack)
    threads.append(
        Thread(target=laid, args=(stack, address, mails // 3, Random(seed + 1), stop), daemon=True)
    )
    for thread in threads:
        thread.start()
    try:
        while any(each.is_alive() for each in threads) or tally.kills.total() < kills:
            if faults:
                raise faults[0]
            if tally.kills.total() < kills:
                kill_one(stack, tally, random, PARTS)
            sleep(PAUSE * random.uniform(0.3, 1.7))
            revive(stack)
    finally:
        stop.set()
    return tally


def known_address(stack: Stack) -> str:
    """The address of a contact whom one of the demo's people sees."""
    rows = ask_database(
        stack,
        "SELECT c.email FROM customers_contact c WHERE c.email <> '' AND c.retired_at IS NULL "
        "ORDER BY c.id LIMIT 1",
    )
    return str(rows[0][0])


def settle(stack: Stack, wanted_in: int) -> None:
    """Until nothing is on its way and all that lies in the box was looked at."""
    deadline = monotonic() + SETTLES_WITHIN_SECONDS
    while monotonic() < deadline:
        revive(stack)
        on_its_way = int(ask_database(stack, ON_ITS_WAY)[0][0])
        if not on_its_way and came_in(stack).total() >= wanted_in:
            return
        sleep(1)


def came_in(stack: Stack) -> Counter[str]:
    """How often each mail of a customer is kept."""
    rows = ask_database(
        stack,
        f"SELECT mark, COUNT(*) FROM mail_received WHERE mark LIKE '%@{DOMAIN}>' GROUP BY mark",
    )
    return Counter({mark: int(count) for mark, count in rows})


def in_boxes(stack: Stack) -> Counter[str]:
    """How often each mail of ours lies in the box of whom it is for."""
    found: Counter[str] = Counter()
    for box in (stack.folder / "mailbox" / "boxes").glob(f"buyer*@{DOMAIN}"):
        for file in [*(box / "new").iterdir(), *(box / "cur").iterdir()]:
            found[str(BytesHeaderParser().parsebytes(file.read_bytes())["Message-ID"])] += 1
    return found


def counted(stack: Stack, mails: int, wanted_in: int) -> Account:
    """What is there, beside what should be."""
    account, lie = Account(), in_boxes(stack)
    rows: list[tuple[Any, ...]] = ask_database(
        stack, "SELECT message_id, state FROM mail_message WHERE subject LIKE 'Probe %'"
    )
    states = Counter(state for _, state in rows)
    sent = [mark for mark, state in rows if state == "sent"]
    account.add("mails in the house", len(rows), mails)
    account.add("sent, or a person is asked", states["sent"] + states["unknown"], mails)
    account.add("of those sent in their boxes", sum(lie[mark] == 1 for mark in sent), len(sent))
    account.add("in a box twice", sum(count > 1 for count in lie.values()), 0)
    known = {mark for mark, _ in rows}
    account.add("in a box, and not of the house", sum(mark not in known for mark in lie), 0)
    came = came_in(stack)
    account.add("customers' mails kept", len(came), wanted_in)
    account.add("kept twice", sum(count > 1 for count in came.values()), 0)
    return account


def main() -> int:
    """Run, print, and judge."""
    parser = argparse.ArgumentParser(
        prog="ops.mail_faults", description="Mails while everything is killed"
    )
    parser.add_argument("--mails", type=int, default=150)
    parser.add_argument("--kills", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    given = parser.parse_args()
    stack = stack_of_faults()
    began = monotonic()
    try:
        stack.bring_up()
        by_themselves(stack)
        tally = put_to_the_test(stack, mails=given.mails, kills=given.kills, seed=given.seed)
        settle(stack, given.mails // 3)
        account = counted(stack, given.mails, given.mails // 3)
    finally:
        stack.stop()
        database.stop(stack.database)
    report(tally, account, monotonic() - began)
    return 0 if account.right else 1


if __name__ == "__main__":
    sys.exit(main())
