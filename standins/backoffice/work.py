"""How far an order is: what of each line left, was billed, came back; and the papers that say so.

Everything follows from the papers (despatch advices, invoices, credit notes, returns) and from what the order is now,
after its changes. Amounts and quantities are decimal text.
"""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from decimal import ROUND_HALF_UP, Decimal
import json
import sqlite3
from typing import Any

from standins.backoffice import accounts, goods, terms, ubl
from standins.backoffice.feed import announce, count

Json = dict[str, Any]
TABLES = (
    """CREATE TABLE IF NOT EXISTS papers (
    number TEXT PRIMARY KEY, reference TEXT NOT NULL, kind TEXT NOT NULL, body TEXT NOT NULL)""",
    """CREATE TABLE IF NOT EXISTS revised (reference TEXT PRIMARY KEY, body TEXT NOT NULL)""",
    """CREATE TABLE IF NOT EXISTS asked (
    key TEXT PRIMARY KEY, reference TEXT NOT NULL, body TEXT NOT NULL, answer TEXT)""",
)
CENT = Decimal("0.01")
ZERO = Decimal(0)


@dataclass(slots=True, kw_only=True)
class Line:
    """A line of an order as it stands: in its own unit."""

    number: int
    item: str
    text: str
    service: bool
    unit: str
    place: str
    quantity: Decimal
    net: Decimal
    shipped: Decimal = ZERO
    billed: Decimal = ZERO
    billed_net: Decimal = ZERO
    back: Decimal = ZERO

    @property
    def to_ship(self) -> Decimal:
        """What has not left."""
        return ZERO if self.service else self.quantity - self.shipped

    @property
    def to_bill(self) -> Decimal:
        """What left and was not billed; services once they are ordered."""
        return (self.quantity if self.service else self.shipped) - self.billed


def order_of(db: sqlite3.Connection, number: str) -> Json:
    """The order as it is now, after its changes."""
    row = db.execute("SELECT body FROM revised WHERE reference = ?", (number,)).fetchone()
    row = row or db.execute("SELECT body FROM orders WHERE number = ?", (number,)).fetchone()
    found: Json = json.loads(row["body"])
    return found


def lines_of(db: sqlite3.Connection, number: str, order: Json | None = None) -> list[Line]:
    """Its lines with what was done of them."""
    order = order or order_of(db, number)
    lines = {
        row["line"]: Line(
            number=row["line"],
            item=row["item"],
            text=row.get("text") or row["item"],
            service=row["kind"] == "service",
            unit=row.get("unit") or "C62",
            place=json.dumps(
                row.get("delivery_address") or order.get("delivery_address"), sort_keys=True
            ),
            quantity=Decimal(row["quantity"]),
            net=Decimal(row["net"]),
        )
        for row in order["lines"]
    }
    for kind, body in _papers(db, number):
        for row in body["lines"]:
            line = lines.get(row["line"])
            if line is None:
                continue
            quantity = Decimal(row.get("quantity") or 0)
            if kind == "shipped":
                line.shipped += quantity
            elif kind == "invoiced":
                line.billed += quantity
                line.billed_net += Decimal(row["net"])
            elif kind == "returned":
                line.back += quantity
    return list(lines.values())


def _papers(db: sqlite3.Connection, number: str) -> Iterable[tuple[str, Json]]:
    rows = db.execute("SELECT kind, body FROM papers WHERE reference = ? ORDER BY rowid", (number,))
    return [(row["kind"], json.loads(row["body"])) for row in rows.fetchall()]


def state_of(db: sqlite3.Connection, number: str) -> str:
    """The furthest that the papers support."""
    lines = lines_of(db, number)
    if not any(line.quantity for line in lines):
        return "cancelled"
    bills = bills_of(db, number)
    if bills and not any(line.to_ship or line.to_bill for line in lines):
        return "paid" if all(accounts.open_of(db, each) <= 0 for each in bills) else "invoiced"
    if any(line.to_bill for line in lines if not line.service):
        return "part_shipped" if any(line.to_ship for line in lines) else "shipped"
    return "part_invoiced" if bills else "taken"


def bills_of(db: sqlite3.Connection, number: str) -> list[str]:
    """The numbers of its invoices."""
    rows = db.execute(
        "SELECT number FROM papers WHERE reference = ? AND kind = 'invoiced' ORDER BY rowid",
        (number,),
    )
    return [row["number"] for row in rows.fetchall()]


def _put(db: sqlite3.Connection, number: str, kind: str, reference: str, body: Json) -> None:
    db.execute(
        "INSERT INTO papers VALUES (?, ?, ?, ?)", (number, reference, kind, json.dumps(body))
    )


def ship(db: sqlite3.Connection, key: str, number: str, *, half: bool = False) -> bool:
    """All that has not left leaves, with a despatch advice for each place; or about half of each line.

    An order that must not leave in parts leaves whole.
    """
    order = order_of(db, number)
    half = half and order.get("partial_deliveries", True)
    left = [line for line in lines_of(db, number, order) if line.to_ship > 0]
    for place in dict.fromkeys(line.place for line in left):
        rows = [
            (line, _half(line.to_ship) if half else line.to_ship)
            for line in left
            if line.place == place
        ]
        _despatch(db, key, number, order, place, rows)
    return bool(left)


def _half(quantity: Decimal) -> Decimal:
    """About half, in whole ones where it is whole; never nothing."""
    half = (quantity / 2).quantize(
        Decimal(1) if quantity == quantity.to_integral() else Decimal("0.1"), ROUND_HALF_UP
    )
    return half or quantity


def _despatch(
    db: sqlite3.Connection,
    key: str,
    number: str,
    order: Json,
    place: str,
    rows: list[tuple[Line, Decimal]],
) -> None:
    delivery = f"DN-{count(db, 'delivery', 71300)}"
    told = {
        "number": delivery,
        "order": order["order_number"],
        "on": goods.today().isoformat(),
        "to": json.loads(place),
        "lines": [
            {
                "line": line.number,
                "quantity": f"{quantity:f}",
                "unit": line.unit,
                "item": line.item,
                "text": line.text,
            }
            for line, quantity in rows
        ],
    }
    _put(db, delivery, "shipped", number, told)
    base = {row["line"]: row.get("base_quantity") for row in order["lines"]}
    goods.ship(
        db,
        number,
        {
            line.number: Decimal(base[line.number]) * quantity / line.quantity
            for line, quantity in rows
            if base.get(line.number)
        },
    )
    announce(db, key, "shipped", {"ubl": ubl.despatch_advice(told, order)})


def bill(db: sqlite3.Connection, key: str, number: str) -> bool:
    """An invoice over all that left and was not billed, and over the services."""
    order = order_of(db, number)
    every = lines_of(db, number, order)
    lines = [line for line in every if line.to_bill > 0]
    if not lines:
        return False
    rows = [
        {
            "line": line.number, "quantity": f"{line.to_bill:f}", "unit": line.unit, "item": line.item,
            "text": line.text, "net": f"{_net(line):f}", "category": _category(order, line.number),
        }
        for line in lines
    ]  # fmt: skip
    first = not bills_of(db, number)
    last = all(line.to_bill + line.billed >= line.quantity for line in every)
    told = _sums(db, number, order, rows, first=first, last=last)
    invoice, today = f"INV-B{count(db, 'invoice', 9100)}", goods.today()
    told |= {
        "number": invoice,
        "order": order["order_number"],
        "on": today.isoformat(),
        "due_on": terms.due_day(today, **order["terms"]).isoformat(),
        "lines": rows,
    }
    _put(db, invoice, "invoiced", number, told)
    accounts.bill(db, told, order)
    announce(db, key, "invoiced", {"ubl": ubl.invoice(told, order)})
    return True


def _net(line: Line) -> Decimal:
    """Its share of the line's net; what rounding leaves goes with the last."""
    billed = line.billed + line.to_bill
    if billed >= line.quantity:
        return line.net - line.billed_net
    return (line.net * billed / line.quantity).quantize(CENT, ROUND_HALF_UP) - line.billed_net


def _category(order: Json, number: int) -> str:
    row = next(each for each in order["lines"] if each["line"] == number)
    return str(row.get("tax_category") or "")


def _sums(
    db: sqlite3.Connection, number: str, order: Json, rows: list[Json], *, first: bool, last: bool
) -> Json:
    """Net, tax and gross of an invoice. Charges go with the first; the last makes all of them come to the order's."""
    charges = order.get("charges") or [] if first else []
    nets: dict[str, Decimal] = {}
    for category, net in [
        *((row["category"], row["net"]) for row in rows),
        *((row["tax_category"], row["amount"]) for row in charges),
    ]:
        nets[category] = nets.get(category, ZERO) + Decimal(net)
    net = sum(nets.values(), ZERO)
    taxes = _taxes(order, nets, net)
    gross = net + sum((Decimal(row["amount"]) for row in taxes), ZERO)
    before = [json.loads(row["body"]) for row in db.execute(
        "SELECT body FROM papers WHERE reference = ? AND kind = 'invoiced'", (number,)
    ).fetchall()]  # fmt: skip
    payable = gross
    if last:
        rest = Decimal(order["payable"]) - sum((Decimal(each["gross"]) for each in before), ZERO)
        payable = rest if abs(rest - gross) <= Decimal("0.10") else gross
    return {
        "net": f"{net:f}",
        "charges": charges,
        "taxes": taxes,
        "rounding": f"{payable - gross:f}",
        "gross": f"{payable:f}",
    }


def _taxes(order: Json, nets: Mapping[str, Decimal], net: Decimal) -> list[Json]:
    """By category and component: on its own net, as the order taxes it; without rows, in the order's proportion."""
    whole = {row["line"]: row for row in order["lines"]}
    of_order: dict[str, Decimal] = {}
    for category, amount in [
        *((str(row.get("tax_category") or ""), row["net"]) for row in whole.values()),
        *((row["tax_category"], row["amount"]) for row in order.get("charges") or []),
    ]:
        of_order[category] = of_order.get(category, ZERO) + Decimal(amount)
    found = []
    for row in order.get("tax") or []:
        base = of_order.get(row["category"], ZERO)
        if row["category"] not in nets or not base:
            continue
        share = nets[row["category"]] * Decimal(row["base"]) / base
        tax = (share * Decimal(row["percent"]) / 100).quantize(CENT, ROUND_HALF_UP)
        found.append(
            {**row, "base": f"{share.quantize(CENT, ROUND_HALF_UP):f}", "amount": f"{tax:f}"}
        )
    if not order.get("tax") and Decimal(order["net"]):
        tax = net * Decimal(order.get("tax_total") or 0) / Decimal(order["net"])
        found.append(
            {
                "category": "",
                "percent": None,
                "base": f"{net:f}",
                "amount": f"{tax.quantize(CENT):f}",
            }
        )
    return found


def pay(db: sqlite3.Connection, key: str, number: str, *, half: bool = False) -> bool:
    """What is open of its oldest open invoice is paid, or half of it."""
    order = order_of(db, number)
    for invoice in bills_of(db, number):
        left = accounts.open_of(db, invoice)
        if left > 0:
            amount = (left / 2).quantize(CENT, ROUND_HALF_UP) if half else left
            payment = f"PAY-B{count(db, 'payment', 5000)}"
            customer = str(order["customer"].get("number") or "")
            accounts.book_payment(
                db, payment, customer, order["currency"], amount, {invoice: amount}
            )
            told = {
                "number": payment,
                "invoice": invoice,
                "on": goods.today().isoformat(),
                "amount": f"{amount:f}",
            }
            announce(db, key, "paid", told)
            return True
    return False


def take_back(db: sqlite3.Connection, key: str, number: str) -> bool:
    """About half of what left of the first line comes back, and is credited where it was billed."""
    order = order_of(db, number)
    line = next((each for each in lines_of(db, number, order) if each.shipped > each.back), None)
    if line is None:
        return False
    quantity, today = _half(line.shipped - line.back), goods.today().isoformat()
    back = f"RET-{count(db, 'return', 600)}"
    told: Json = {
        "number": back, "order": order["order_number"], "on": today, "reason": "Damaged on the way",
        "lines": [{"line": line.number, "quantity": f"{quantity:f}"}],
    }  # fmt: skip
    _put(db, back, "returned", number, told)
    announce(db, key, "returned", told)
    if line.billed >= line.back + quantity:
        _credit(db, key, number, order, line, quantity)
    return True


def _credit(
    db: sqlite3.Connection, key: str, number: str, order: Json, line: Line, quantity: Decimal
) -> None:
    net = (line.net * quantity / line.quantity).quantize(CENT, ROUND_HALF_UP)
    category = _category(order, line.number)
    taxes = _taxes(order, {category: net}, net)
    gross = net + sum((Decimal(row["amount"]) for row in taxes), ZERO)
    note, today = f"CN-B{count(db, 'credit', 300)}", goods.today().isoformat()
    of = bills_of(db, number)[-1]
    told = {
        "number": note, "order": order["order_number"], "on": today, "due_on": today, "invoice": of,
        "net": f"{net:f}", "charges": [], "taxes": taxes, "rounding": "0", "gross": f"{gross:f}",
        "lines": [{
            "line": line.number, "quantity": f"{quantity:f}", "unit": line.unit, "item": line.item,
            "text": line.text, "net": f"{net:f}", "category": category,
        }],
    }  # fmt: skip
    _put(db, note, "credited", number, told)
    accounts.credit_order(db, told, order)
    announce(db, key, "credited", {"ubl": ubl.credit_note(told, order)})


def ask(db: sqlite3.Connection, key: str, number: str, body: Json) -> bool | None:
    """A change is asked for under its key; whether it is new, None for another under the same key."""
    text = json.dumps(body, sort_keys=True)
    there = db.execute("SELECT body FROM asked WHERE key = ?", (key,)).fetchone()
    if there is not None:
        return False if there["body"] == text else None
    db.execute("INSERT INTO asked VALUES (?, ?, ?, NULL)", (key, number, text))
    return True


CLERK = "The clerk turned it down."


def answer(db: sqlite3.Connection, order_key: str, key: str, *, refuse: bool = False) -> None:
    """Answer a change line by line: what has left cannot be taken back, what was billed neither."""
    row = db.execute("SELECT * FROM asked WHERE key = ? AND answer IS NULL", (key,)).fetchone()
    if row is None:
        return
    number, body = row["reference"], json.loads(row["body"])
    order = order_of(db, number)
    lines = {line.number: line for line in lines_of(db, number, order)}
    rows = [
        (each, CLERK if refuse else _against(lines.get(each["line"]), each) or _not_there(db, order, each))
        for each in body["lines"]
    ]  # fmt: skip
    done = {each["line"]: each for each, why in rows if not why}
    now = {
        **order,
        "lines": [_changed(line, done.get(line["line"], {})) for line in order["lines"]],
    }
    if done:
        _resum(order, now)
        db.execute("INSERT OR REPLACE INTO revised VALUES (?, ?)", (number, json.dumps(now)))
        goods.keep_anew(db, number, now, {line.number: line.shipped for line in lines.values()})
    told = {
        "number": number,
        "order": order["order_number"],
        "change": key,
        "on": goods.today().isoformat(),
        "lines": [
            {
                **_told(lines.get(each["line"]), each),
                "taken": not why,
                "message": why,
                **({} if why else _net_of(now, each["line"])),
            }
            for each, why in rows
        ],
    }
    db.execute("UPDATE asked SET answer = ? WHERE key = ?", (json.dumps(told), key))
    announce(db, order_key, "answered", {"change": key, "ubl": ubl.order_response(told, order)})


def _against(line: Line | None, wish: Json) -> str:
    """Why a line cannot be changed so; nothing where it can."""
    if line is None:
        return "There is no such line."
    wanted = Decimal(wish["quantity"]) if wish.get("quantity") is not None else line.quantity
    if wanted < max(line.shipped, line.billed):
        return f"{max(line.shipped, line.billed):f} have left or were billed already."
    if line.shipped >= line.quantity and line.quantity:
        return "All of it has left."
    return ""


def _not_there(db: sqlite3.Connection, order: Json, wish: Json) -> str:
    """Why a line cannot leave from the depot that is asked for; nothing where it can."""
    if not wish.get("depot"):
        return ""
    item = next(row["item"] for row in order["lines"] if row["line"] == wish["line"])
    return "" if goods.known(db, item, wish["depot"]) else "It is not kept in that depot."


def shorten(db: sqlite3.Connection, order_key: str, number: str) -> None:
    """Of the first line that has not left at all a tenth is not to be had: the order is changed, and told so."""
    order = order_of(db, number)
    line = next(
        (each for each in lines_of(db, number, order) if each.to_ship > 1 and not each.shipped),
        None,
    )
    if line is None:
        return
    kept = line.quantity - max((line.quantity / 10).quantize(Decimal(1)), Decimal(1))
    wish = {"line": line.number, "quantity": f"{kept:f}"}
    now = {
        **order,
        "lines": [
            _changed(row, wish if row["line"] == line.number else {}) for row in order["lines"]
        ],
    }
    _resum(order, now)
    db.execute("INSERT OR REPLACE INTO revised VALUES (?, ?)", (number, json.dumps(now)))
    goods.keep_anew(
        db, number, now, {each.number: each.shipped for each in lines_of(db, number, order)}
    )
    told = {
        "number": number,
        "order": order["order_number"],
        "on": goods.today().isoformat(),
        "message": "Not to be had any more",
        "lines": [
            {
                **_told(line, wish),
                "taken": True,
                "changed": True,
                "message": "Not to be had any more",
                **_net_of(now, line.number),
            }
        ],
    }
    announce(db, order_key, "changed", {"ubl": ubl.order_response(told, order)})


def _net_of(order: Json, number: int) -> Json:
    """What a line will be billed with."""
    return {"net": next(row["net"] for row in order["lines"] if row["line"] == number)}


def _told(line: Line | None, wish: Json) -> Json:
    quantity = (
        wish.get("quantity")
        if line is None or wish.get("quantity") is not None
        else f"{line.quantity:f}"
    )
    return {
        "line": wish["line"], "quantity": quantity, "on": wish.get("wanted_on"),
        "unit": line.unit if line else "C62", "item": line.item if line else "", "text": line.text if line else "",
    }  # fmt: skip


def _changed(line: Json, wish: Json) -> Json:
    now = dict(line)
    if wish.get("quantity") is not None:
        share = (
            Decimal(wish["quantity"]) / Decimal(line["quantity"])
            if Decimal(line["quantity"])
            else ZERO
        )
        now["quantity"] = wish["quantity"]
        now["net"] = f"{(Decimal(line['net']) * share).quantize(CENT, ROUND_HALF_UP):f}"
        if line.get("base_quantity"):
            now["base_quantity"] = f"{(Decimal(line['base_quantity']) * share).normalize():f}"
    if wish.get("wanted_on"):
        now["wanted_on"], now["reserve_by"] = wish["wanted_on"], None
    if wish.get("delivery_address"):
        now["delivery_address"] = wish["delivery_address"]
    if wish.get("depot"):
        now["depot"], now["reserve_by"] = wish["depot"], None
    return now


def _resum(before: Json, now: Json) -> None:
    """The sums of an order whose lines have changed: charges in proportion, tax by category, rounding as it was."""
    lines = [sum((Decimal(row["net"]) for row in each["lines"]), ZERO) for each in (before, now)]
    share = lines[1] / lines[0] if lines[0] else ZERO
    now["charges"] = [
        {**row, "amount": f"{(Decimal(row['amount']) * share).quantize(CENT, ROUND_HALF_UP):f}"}
        for row in before.get("charges") or []
    ]
    nets: dict[str, Decimal] = {}
    for category, net in [
        *((str(row.get("tax_category") or ""), row["net"]) for row in now["lines"]),
        *((row["tax_category"], row["amount"]) for row in now["charges"]),
    ]:
        nets[category] = nets.get(category, ZERO) + Decimal(net)
    net = sum(nets.values(), ZERO)
    taxes = _taxes(before, nets, net)
    tax = sum((Decimal(row["amount"]) for row in taxes), ZERO)
    now["net"], now["tax_total"], now["payable"] = f"{net:f}", f"{tax:f}", f"{net + tax:f}"
    if before.get("tax"):
        now["tax"] = taxes


def request(db: sqlite3.Connection, order_key: str, key: str, body: Json) -> bool | None:
    """Goods are asked for; whether it is new, None for another request under the key. It is answered at once."""
    new = ask(db, key, "", body)
    if new:
        told = goods.order_for(db, body)
        db.execute("UPDATE asked SET answer = ? WHERE key = ?", (json.dumps(told), key))
        announce(db, order_key, "replenished", {"request": key, **told})
    return new


STEPS: dict[str, Callable[[sqlite3.Connection, str, str], bool]] = {
    "ship": ship,
    "ship-half": lambda db, key, number: ship(db, key, number, half=True),
    "bill": bill,
    "pay": pay,
    "pay-half-order": lambda db, key, number: pay(db, key, number, half=True),
    "take-back": take_back,
}


def next_step(db: sqlite3.Connection, key: str, number: str) -> bool:
    """One step on: everything leaves, then is billed, then is paid."""
    return ship(db, key, number) or bill(db, key, number) or pay(db, key, number)


def standing(db: sqlite3.Connection, number: str) -> Json:
    """An order as it is compared with ours: what of each line was ordered, left, was billed, came back."""
    order = order_of(db, number)
    return {
        "number": number,
        "order_number": order["order_number"],
        "currency": order["currency"],
        "payable": order["payable"],
        "lines": [
            {
                "line": line.number, "item": line.item, "quantity": f"{line.quantity:f}",
                "shipped": f"{line.shipped:f}", "billed": f"{line.billed_net:f}", "returned": f"{line.back:f}",
            }
            for line in lines_of(db, number, order)
        ],
    }  # fmt: skip


def began(db: sqlite3.Connection, number: str, row: Mapping[str, Any]) -> None:
    """What an order that was taken over had come to before, by line; it was told by others."""
    for kind in ("shipped", "invoiced"):
        done = row.get(kind) or []
        if done:
            on = date.today().isoformat()  # noqa: DTZ011 - nobody reads it
            body = {"on": on, "gross": row.get("gross") or "0", "lines": done}
            _put(db, f"{number}/{kind}", kind, number, body)
