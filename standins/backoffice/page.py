"""The clerk's page."""

from collections.abc import Mapping
from decimal import Decimal
from html import escape
from typing import Any

from standins.backoffice.faults import KINDS

STYLE = """
body{font:14px/1.45 system-ui,sans-serif;background:#f4f1e8;color:#12332b;margin:24px auto;max-width:1000px;padding:0 16px}
a{color:inherit}h1{font-size:20px;margin:0 0 4px}p{color:#50655d;margin:0 0 16px}
table{width:100%;border-collapse:collapse;background:#fffdf7;border-top:2px solid #12332b}
th,td{padding:7px 10px;border-bottom:1px solid #dcd6c6;text-align:left}th{font-size:12px}
td.n{text-align:right;font-variant-numeric:tabular-nums}form{display:inline}
button{font:inherit;padding:4px 12px;border:1px solid #12332b;border-radius:4px;background:#fffdf7;color:#12332b;cursor:pointer}
button[aria-pressed=true]{background:#12332b;color:#fffdf7}nav{margin:0 0 16px;display:flex;gap:24px;flex-wrap:wrap}
button:focus-visible{outline:2px solid #c23a1b;outline-offset:2px}
"""
#: The acts on an order, by how far it is: name and words.
ACTS = {
    "taken": (
        ("ship", "Ship"),
        ("ship-half", "Half of each line"),
        ("bill", "Bill the services"),
        ("shorten", "Short by a tenth"),
    ),
    "part_shipped": (("ship", "Ship the rest"), ("bill", "Invoice"), ("take-back", "Take back")),
    "shipped": (("bill", "Invoice"), ("take-back", "Take back")),
    "part_invoiced": (("ship", "Ship the rest"), ("bill", "Invoice"), ("pay", "Book payment")),
    "invoiced": (
        ("pay", "Book payment"),
        ("pay-half-order", "Half of it"),
        ("take-back", "Take back"),
    ),
    "paid": (("take-back", "Take back"),),
}
WORDS = {
    "taken": "Taken",
    "part_shipped": "Shipped in part",
    "shipped": "Shipped",
    "part_invoiced": "Invoiced in part",
    "invoiced": "Invoiced",
    "paid": "Paid",
    "cancelled": "Cancelled",
}


HEAD = (
    "<!doctype html><html lang=en><meta charset=utf-8>{more}"
    f"<title>Back office</title><style>{STYLE}</style><h1>Back office</h1>"
)


def door(wrong: bool) -> str:
    """The page that asks for the password."""
    said = "<p role=alert>That is not the password.</p>" if wrong else ""
    return (
        HEAD.replace("{more}", "")
        + "<p>A stand-in with its own storage.</p>"
        + said
        + "<form method=post action=/sign-in><label>Password <input type=password name=password "
        "autofocus></label> <button>Sign in</button></form></html>"
    )


def render(orders: list[dict[str, Any]], switches: Mapping[str, str], token: str) -> str:
    """The whole page; ``token`` goes with every button."""
    return _page(orders, switches).replace(MARK, escape(token))


MARK = "{token}"
LINKS = "<a href=/>Orders</a> · <a href=/stock>Stock</a> · <a href=/accounts>Accounts</a>"


def _page(orders: list[dict[str, Any]], switches: Mapping[str, str]) -> str:
    rows = "".join(map(_row, orders)) or "<tr><td colspan=6>No order has arrived yet.</td></tr>"
    return (
        HEAD.replace("{more}", "<meta http-equiv=refresh content=5>")
        + f"<p>{LINKS}</p><p>A stand-in with its own storage. Orders arrive here; step them on by hand or let them "
        "run.</p><nav>"
        + _choice(
            "Orders move", "pace", switches, (("hand", "by hand"), ("itself", "by themselves"))
        )
        + _choice(
            "New orders are",
            "mood",
            switches,
            (("well", "taken"), ("busy", "put off"), ("strict", "refused")),
        )
        + _choice(
            "Changes are answered",
            "answers",
            switches,
            (("itself", "at once"), ("hand", "by a clerk")),
        )
        + "</nav><nav><span>The interface "
        + " ".join(
            _button(f"fault-{kind}", words, pressed=bool(switches[kind]))
            for kind, words in KINDS.items()
        )
        + "</span></nav><table><tr><th>Number<th>Order<th>Customer<th style='text-align:right'>"
        f"Payable<th>State<th>Next</tr>{rows}</table></html>"
    )


def _choice(
    words: str, name: str, switches: Mapping[str, str], values: tuple[tuple[str, str], ...]
) -> str:
    buttons = (
        _button(f"{name}-{value}", said, pressed=switches[name] == value) for value, said in values
    )
    return f"<span>{words} {' '.join(buttons)}</span>"


def render_stock(shelf: list[dict[str, Any]], token: str) -> str:
    """The page of stock: on hand, kept, what comes; ``token`` goes with every button."""
    rows = "".join(map(_shelf_row, shelf)) or "<tr><td colspan=6>No goods are kept here.</td></tr>"
    page = (
        HEAD.replace("{more}", "")
        + f"<p>{LINKS}</p><table><tr><th>Item<th>Depot<th style='text-align:right'>On hand"
        "<th style='text-align:right'>Kept<th>On order with suppliers<th>More</tr>"
        f"{rows}</table></html>"
    )
    return page.replace(MARK, escape(token))


def _shelf_row(row: dict[str, Any]) -> str:
    kept = sum((Decimal(each["quantity"]) for each in row["reservations"]), Decimal(0))
    coming = "<br>".join(map(_receipt, row["receipts"])) or "nothing"
    name = f"{row['item']}@{row['depot']}"
    more = _button("reorder", "Order more", name) if row["lead_days"] is not None else ""
    return (
        f"<tr><td>{escape(row['item'])}<td>{escape(row['depot'])}<td class=n>{escape(row['on_hand'])}"
        f"<td class=n>{kept:f}<td>{coming}<td>{more}</tr>"
    )


def render_accounts(ledger: list[dict[str, Any]], token: str) -> str:
    """The page of accounts: what is open of each customer, payments, credit notes, holds."""
    rows = (
        "".join(map(_account_row, ledger)) or "<tr><td colspan=4>Nobody has ordered yet.</td></tr>"
    )
    page = (
        HEAD.replace("{more}", "")
        + f"<p>{LINKS}</p><p>A payment settles the oldest invoices first; it may be for several.</p>"
        f"<table><tr><th>Customer<th>Open<th>Payments<th>Credit</tr>{rows}</table></html>"
    )
    return page.replace(MARK, escape(token))


def _account_row(row: dict[str, Any]) -> str:
    customer = row["customer"]
    lines = "<br>".join(
        f"{escape(number)}: {left:f} {escape(currency)} {_button('credit', 'Credit a tenth', number)}"
        for number, currency, left in row["open"]
    )
    pays = f"{_button('pay-all', 'All of it', customer)} {_button('pay-half', 'Half of it', customer)} "
    pays = pays if row["open"] else ""
    held = (
        _button("free-customer", "Release", customer)
        if row["held"]
        else _button("hold-customer", "Hold", customer)
    )
    return (
        f"<tr><td>{escape(row['name'])} ({escape(customer)})<td>{lines or 'nothing'}"
        f"<td>{pays}{_button('on-account', '250 on account', customer)}<td>{held}</tr>"
    )


def _receipt(row: dict[str, Any]) -> str:
    number = row["number"]
    sure = "confirmed" if row["sure"] else _button("confirm", "Confirm", number)
    return (
        f"{escape(number)}: {escape(row['quantity'])} on {escape(row['on'])} "
        f"{_button('receive', 'Has come', number)} {_button('postpone', 'A week later', number)} {sure}"
    )


def _row(order: dict[str, Any]) -> str:
    body = order["body"]
    number = order["number"]
    acts = [_button(act, words, number) for act, words in ACTS.get(order["state"], ())]
    if order["held"]:
        acts = [_button("release", "Release", number)]
    elif order["state"] == "taken":
        acts.append(_button("hold", "Hold for credit", number))
    for key in order["asked"]:
        acts.append(
            f"<br>A change is asked for: {_button('answer', 'Answer', key)} {_button('turn-down', 'Turn down', key)}"
        )
    lines = "<br>".join(map(_line, body["lines"]))
    return (
        f"<tr><td>{escape(number)}<td>{escape(str(body['order_number']))}<br><small>{lines}</small>"
        f"<td>{escape(str(body['customer'].get('name', '')))}"
        f"<td class=n>{escape(str(body['payable']))} {escape(str(body['currency']))}"
        f"<td>{'Held' if order['held'] else WORDS[order['state']]}<td>{' '.join(acts)}</tr>"
    )


def _line(row: dict[str, Any]) -> str:
    place = row.get("delivery_address") or {}
    to = f", to {place['street']}, {place['town']}" if place.get("street") else ""
    by = f", by {row['wanted_on']}" if row.get("wanted_on") else ""
    at = f", from {row['depot']}" if row.get("depot") else ""
    return escape(f"{row['line']}: {row['quantity']} × {row['item']}{by}{at}{to}")


def _button(act: str, words: str, number: str = "", *, pressed: bool | None = None) -> str:
    state = "" if pressed is None else f" aria-pressed={'true' if pressed else 'false'}"
    hidden = f"<input type=hidden name=number value='{escape(number)}'>" if number else ""
    hidden += f"<input type=hidden name=token value='{MARK}'>"
    return f"<form method=post action=/page/{act}>{hidden}<button{state}>{words}</button></form>"
