"""Which sentences of ``docs/back-office-interface.md`` hold at an address.

``make conformance URL=…``; the token comes from ``VIVID_BACKOFFICE_TOKEN``, or is this installation's own.
Hands three orders over there. The numbers are those of the document's sentences.
"""

import argparse
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from datetime import date, timedelta
from decimal import Decimal
import hmac
import json
import os
from pathlib import Path
import re
import sys
import time
from typing import Any
import uuid

import httpx
import jsonschema_rs

from apps.handover.reading import Answered, Numbered, story_of
from apps.told import Unfit
from config.paths import load_secrets
from routecore.payment import EarlyPayment, settle

FORMS = Path(__file__).parents[1] / "docs" / "back-office"
PAGE = 25
MOST_PAGES = 5_000
SIGNATURE = re.compile(r"t=(\d{1,12}),v1=([0-9a-f]{64})", re.ASCII)


class Broken(Exception):
    """A sentence that does not hold, and what was seen instead."""


def form(name: str) -> Any:
    """What holds something against a form of the document, with the forms it refers to."""
    schema = json.loads((FORMS / f"{name}.schema.json").read_text("utf-8"))
    parts = {
        "event": json.loads((FORMS / "event.schema.json").read_text("utf-8")),
        "change": json.loads((FORMS / "change.schema.json").read_text("utf-8")),
    }
    text = json.dumps(schema)
    for part, body in parts.items():
        bare = {key: value for key, value in body.items() if key not in ("$id", "$schema")}
        text = text.replace(json.dumps({"$ref": part}), json.dumps(bare))
    return jsonschema_rs.validator_for(json.loads(text))


def fits(name: str, told: object) -> None:
    """Raises ``Broken`` where something is not of a form."""
    found = next(form(name).iter_errors(told), None)
    if found is not None:
        raise Broken(f"{name}: {found.message[:200]} at {list(found.instance_path)}")


def order(number: str, item: str = "", depot: str = "") -> dict[str, Any]:
    """An order of one line, as it is handed over."""
    today = date.today().isoformat()  # noqa: DTZ011 - any day will do
    return {
        "order_number": number,
        "accepted_on": today,
        "requested_on": today,
        "buyer_reference": "on trial",
        "currency": "EUR",
        "terms": {"days": 30, "end_of_month": ""},
        "customer": {"number": "C-0", "name": "On trial"},
        "delivery_address": {"street": "1 Trial Lane", "town": "Trial", "country": "QF"},
        "charges": [],
        "net": "10.00",
        "tax_total": "2.00",
        "payable": "12.00",
        "lines": [
            {
                "line": 1,
                "item": item or "TRIAL",
                "kind": "goods",
                "text": "On trial",
                "quantity": "1",
                "unit": "H87",
                "base_quantity": "1",
                "depot": depot or None,
                "wanted_on": today,
                "net": "10.00",
            }
        ],
    }


@dataclass
class Trial:
    """A back office on trial, and what was learnt of it on the way."""

    url: str
    token: str
    common: str = ""
    key: str = field(default_factory=lambda: str(uuid.uuid4()))
    number: str = ""
    order_number: str = field(default_factory=lambda: f"T-{uuid.uuid4().hex[:8]}")
    body: dict[str, Any] = field(default_factory=dict)
    unknown: dict[str, list[str]] = field(default_factory=dict)

    def ask(self, method: str, path: str, *, signed: bool = True, **more: Any) -> httpx.Response:
        """One request; with the token, where it is ``signed``."""
        headers = {"Authorization": f"Bearer {self.token}"} if signed else {}
        headers |= more.pop("headers", {})
        return httpx.request(
            method, self.url + path, headers=headers, timeout=15, trust_env=False, **more
        )

    def send(self, body: dict[str, Any]) -> httpx.Response:
        """An order under this trial's key."""
        return self.ask("POST", "/orders", json=body, headers={"Idempotency-Key": self.key})

    def pages(self, path: str, name: str, **more: str) -> Iterator[dict[str, Any]]:
        """Every page of a feed, from its beginning."""
        after = 0
        for _ in range(MOST_PAGES):
            asked = self.ask("GET", path, params={"after": after, "limit": PAGE, **more})
            page = _status(asked, 200).json()
            yield page
            rows = page[name]
            if not rows:
                return
            if name == "orders":
                after = page["next"]
                if after >= page["last"]:
                    return
                continue
            key = "change" if name == "changes" else "position"
            numbers = [row[key] for row in rows]
            if numbers != sorted(set(numbers)) or numbers[0] <= after or len(rows) > PAGE:
                raise Broken(f"{path}: not ascending after {after}, or more than {PAGE}")
            after = page.get("next", numbers[-1])
            if after >= page["last"]:
                return


def _status(answer: httpx.Response, *wanted: int) -> httpx.Response:
    if answer.status_code not in wanted:
        raise Broken(f"answered {answer.status_code} instead of {' or '.join(map(str, wanted))}")
    return answer


def health(trial: Trial) -> None:
    """1"""
    _status(trial.ask("GET", "/health", signed=False), 200)


def closed(trial: Trial) -> None:
    """2"""
    for path in ("/events", "/changes", "/orders"):
        _status(trial.ask("GET", path, signed=False), 401)
    _status(trial.ask("POST", "/orders", signed=False, json={}), 401)


def taken(trial: Trial) -> None:
    """3"""
    goods = (row["data"] for row in _changes(trial) if row["kind"] == "stock")
    stock: dict[str, str] = next(goods, {})
    trial.body = order(trial.order_number, stock.get("item", ""), stock.get("depot", ""))
    fits("order", trial.body)
    answer = trial.send(trial.body)
    if answer.status_code == 424:
        trial.unknown = answer.json()["unknown"]
        introduce(trial)
        answer = trial.send(trial.body)
    trial.number = _status(answer, 201).json()["number"]


def introduce(trial: Trial) -> None:
    """29"""
    for number in trial.unknown.get("customers", ()):
        who = {"number": number, "name": "On trial", "currency": "EUR", "addresses": []}
        _status(trial.ask("PUT", f"/customers/{number}", json=who), 200)
    for code in trial.unknown.get("items", ()):
        told = {"code": code, "name": "On trial", "kind": "goods", "unit": "H87", "units": {}}
        _status(trial.ask("PUT", f"/items/{code}", json=told), 200)
    refused = _status(trial.ask("PUT", "/customers/C-0", json={"name": ""}), 422)
    if not refused.json().get("message"):
        raise Broken("no message")


def signed(trial: Trial) -> None:
    """28"""
    answer = _status(trial.ask("GET", "/events", params={"after": 0, "limit": 1}), 200)
    found = SIGNATURE.fullmatch(answer.headers.get("Signature", ""))
    if found is None:
        raise Broken("no signature that can be read")
    question = f"{answer.request.method} {answer.request.url.raw_path.decode()}"
    text = f"{found[1]}.{question}\n".encode() + answer.content
    if hmac.new(trial.common.encode(), text, "sha256").hexdigest() != found[2]:
        raise Broken("signed with another key, or over something else")
    if abs(time.time() - int(found[1])) > 300:
        raise Broken("signed long ago")


def changed(trial: Trial) -> None:
    """30 and 31"""
    body = order(
        f"T-{uuid.uuid4().hex[:8]}", *(trial.body["lines"][0][k] for k in ("item", "depot"))
    )
    body["lines"][0] |= {"quantity": "4", "base_quantity": "4"}
    headers = {"Idempotency-Key": str(uuid.uuid4())}
    number = _status(trial.ask("POST", "/orders", json=body, headers=headers), 201).json()["number"]
    wish = {
        "order_number": body["order_number"],
        "reason": "On trial",
        "lines": [{"line": 1, "quantity": "0"}],
    }
    fits("order-change", wish)
    key = str(uuid.uuid4())
    path = f"/orders/{number}/changes"
    for status in (202, 200):
        _status(trial.ask("POST", path, json=wish, headers={"Idempotency-Key": key}), status)
    other = {**wish, "reason": "Another"}
    _status(trial.ask("POST", path, json=other, headers={"Idempotency-Key": key}), 409)
    nowhere = {"Idempotency-Key": str(uuid.uuid4())}
    _status(trial.ask("POST", "/orders/NONE/changes", json=wish, headers=nowhere), 404)
    for page in trial.pages("/events", "events"):
        for row in page["events"]:
            if row["kind"] == "answered" and row["data"].get("change") == key:
                told = story_of("answered", row["data"])
                if not isinstance(told, Answered) or 1 not in told.lines:
                    raise Broken("the answer does not say of the line whether it is taken")
                return
    raise Broken("it is not answered yet: a person may have to")


def papers(trial: Trial) -> None:
    """33"""
    for page in trial.pages("/events", "events"):
        for row in page["events"]:
            try:
                story_of(row["kind"], row["data"])
            except Unfit as unfit:
                raise Broken(f"a {row['kind']} event cannot be read: {unfit.facts}") from unfit


def standings(trial: Trial) -> None:
    """35"""
    for page in trial.pages("/orders", "orders"):
        fits("standings", page)
        for row in page["orders"]:
            if row["number"] == trial.number:
                (line,) = row["lines"]
                if (line["line"], line["quantity"], line["shipped"]) != (1, "1", "0"):
                    raise Broken(f"the order stands as {line}")
                return
    raise Broken("the order is not there")


def once(trial: Trial) -> None:
    """4"""
    if _status(trial.send(trial.body), 200).json()["number"] != trial.number:
        raise Broken("another number")


def clash(trial: Trial) -> None:
    """5"""
    _status(trial.send({**trial.body, "payable": "13.00"}), 409)


def refused(trial: Trial) -> None:
    """6"""
    headers = {"Idempotency-Key": str(uuid.uuid4())}
    answer = _status(trial.ask("POST", "/orders", json={"lines": []}, headers=headers), 400, 422)
    if not answer.json().get("message"):
        raise Broken("no message")


def events(trial: Trial) -> None:
    """7 and 8"""
    for page in trial.pages("/events", "events"):
        fits("events", page)


def told(trial: Trial) -> None:
    """9"""
    for page in trial.pages("/events", "events"):
        for row in page["events"]:
            if row["key"] == trial.key and row["kind"] == "taken":
                said = story_of("taken", row["data"])
                if not isinstance(said, Numbered) or said.number != trial.number:
                    raise Broken("under another number")
                return
    raise Broken("no such event")


def changes(trial: Trial) -> None:
    """11, 12 and 13"""
    seen: dict[tuple[str, str], int] = {}
    for page in trial.pages("/changes", "changes"):
        fits("changes", page)
        if page["next"] > page["last"]:
            raise Broken("next lies beyond last")
        for row in page["changes"]:
            if (row["kind"], row["id"]) in seen:
                raise Broken(f"{row['kind']} {row['id']} stands in it twice")
            seen[row["kind"], row["id"]] = row["change"]
    if not seen:
        raise Broken("nothing is told")


def kept(trial: Trial) -> None:
    """15 and 16"""
    line = trial.body["lines"][0]
    for row in _changes(trial):
        data = row["data"]
        if row["kind"] == "stock" and (data["item"], data["depot"]) == (
            line["item"],
            line["depot"],
        ):
            held = [
                each["quantity"]
                for each in data["reservations"]
                if each.get("order_number") == trial.order_number
            ]
            if held != [line["base_quantity"]]:
                raise Broken(f"reserved: {held}")
            return
    raise Broken("the item is not told")


def accounts(trial: Trial) -> None:
    """17, 18 and 19"""
    gross: dict[str, Decimal] = {}
    settled: dict[str, Decimal] = {}
    known = set()
    for row in _changes(trial):
        data = row["data"]
        if row["kind"] == "account":
            known.add(data["customer"])
        if row["kind"] == "invoice":
            gross[data["number"]] = Decimal(data["gross"])
            dues = [Decimal(part["amount"]) for part in data["dues"]]
            if dues and sum(dues) != gross[data["number"]]:
                raise Broken(f"the parts of {data['number']} do not come to it")
        for part in data.get("settles", ()):
            number = part["invoice"]
            settled[number] = settled.get(number, Decimal(0)) + Decimal(part["amount"])
    for number, amount in settled.items():
        if amount > gross.get(number, Decimal(0)):
            raise Broken(f"{number} is settled by {amount}")
    if trial.body["customer"]["number"] not in known:
        raise Broken("the customer of the order has no account")


def balances(trial: Trial) -> None:
    """25 and 26"""
    rows = list(_changes(trial))
    told = {
        row["data"]["customer"]: (row["change"], row["data"]["balances"])
        for row in rows
        if row["kind"] == "account" and row["data"].get("balances") is not None
    }
    if not told:
        return  # it need not tell them
    found: dict[tuple[str, str], Decimal] = {}
    for customer, currency, amount, change in _open_of_each(rows):
        if customer in told:
            key = (customer, currency)
            found[key] = found.get(key, Decimal(0)) + amount
            if change > told[customer][0]:
                raise Broken(f"{customer} is told before what its balances count")
    for customer, (_, parts) in told.items():
        said = {(customer, part["currency"]): Decimal(part["amount"]) for part in parts}
        for key in {*said, *(key for key in found if key[0] == customer)}:
            if said.get(key, Decimal(0)) != found.get(key, Decimal(0)):
                raise Broken(f"{key} is told as {said.get(key)}, and comes to {found.get(key)}")


def _open_of_each(rows: list[dict[str, Any]]) -> Iterator[tuple[str, str, Decimal, int]]:
    """(customer, currency, what is open, number of the change) of invoices, credit notes and payments."""
    paid: dict[str, list[tuple[date, Decimal]]] = {}
    for row in rows:
        for part in row["data"].get("settles", ()):
            # What a credit note settles was not paid in time: it counts, on no day that is early.
            on = date.fromisoformat(row["data"]["on"]) if row["kind"] == "payment" else date.max
            paid.setdefault(part["invoice"], []).append((on, Decimal(part["amount"])))
    for row in rows:
        data, change = row["data"], row["change"]
        if row["kind"] not in ("invoice", "payment"):
            continue
        whole = Decimal(data["gross"] if row["kind"] == "invoice" else data["amount"])
        if row["kind"] == "payment" or data["kind"] == "credit":
            left = sum((Decimal(part["amount"]) for part in data["settles"]), -whole)
        else:
            left = _open_of(data, whole, paid.get(data["number"], []))
        yield data["customer"], data["currency"], left, change


def _open_of(data: Mapping[str, Any], gross: Decimal, paid: list[tuple[date, Decimal]]) -> Decimal:
    on, early = date.fromisoformat(data["on"]), data.get("early")
    offer = early and EarlyPayment(
        percent=Decimal(early["percent"]), days=(date.fromisoformat(early["until"]) - on).days
    )
    return settle(gross, data["currency"], paid, invoiced=on, early=offer or None).open_amount


def one_kind(trial: Trial) -> None:
    """21"""
    everything = {row["id"] for row in _changes(trial) if row["kind"] == "depot"}
    alone = [
        row for page in trial.pages("/changes", "changes", kind="depot") for row in page["changes"]
    ]
    if {row["kind"] for row in alone} - {"depot"}:
        raise Broken("other kinds are told as well: it is read, and passed over")
    if {row["id"] for row in alone} != everything:
        raise Broken("not the same depots as in the whole feed")


def places(trial: Trial) -> None:
    """22, 23 and 24"""
    line = trial.body["lines"][0]
    own = _days_of(trial, line["item"], line["depot"])[trial.order_number]
    later = (date.fromisoformat(own["by"]) + timedelta(days=9)).isoformat()
    other = order(f"T-{uuid.uuid4().hex[:8]}", line["item"], line["depot"])
    other["lines"][0]["reserve_by"] = later
    headers = {"Idempotency-Key": str(uuid.uuid4())}
    _status(trial.ask("POST", "/orders", json=other, headers=headers), 201)
    theirs = _days_of(trial, line["item"], line["depot"])[other["order_number"]]
    if theirs["by"] != later:
        raise Broken(f"reserved by {theirs['by']} instead of {later}")
    move = {
        "item": line["item"],
        "depot": line["depot"],
        "gives": {key: own[key] for key in ("reference", "by")},
        "takes": {key: theirs[key] for key in ("reference", "by")},
    }
    fits("move", move)
    answer = trial.ask("POST", "/moves", json=move)
    if answer.status_code == 404:
        return
    _status(answer, 200)
    now = _days_of(trial, line["item"], line["depot"])
    if (now[trial.order_number]["by"], now[other["order_number"]]["by"]) != (later, own["by"]):
        raise Broken("they do not stand in each other's place")
    again = _status(trial.ask("POST", "/moves", json=move), 409)
    if not again.json().get("message"):
        raise Broken("no message")


def _days_of(trial: Trial, item: str, depot: str | None) -> dict[str, dict[str, Any]]:
    """What is reserved of an item in a depot, by the numbers of our orders."""
    for row in _changes(trial):
        data = row["data"]
        if row["kind"] == "stock" and (data["item"], data["depot"]) == (item, depot):
            held = data["reservations"]
            return {each["order_number"]: each for each in held if each.get("order_number")}
    raise Broken("the item is not told")


def _changes(trial: Trial) -> Iterator[dict[str, Any]]:
    for page in trial.pages("/changes", "changes"):
        yield from page["changes"]


CHECKS: tuple[tuple[str, Callable[[Trial], None]], ...] = (
    ("answers whether it is there", health),
    ("asks for the token", closed),
    ("takes an order", taken),
    ("signs its answers with our common key", signed),
    ("says whom and what it does not know, and gets to know them", introduce),
    ("takes it once", once),
    ("refuses another order under its key", clash),
    ("refuses what it cannot take, in words", refused),
    ("tells news by pages, in order, in the form", events),
    ("tells that the order was taken", told),
    ("tells depots and stock whole, once each, in order, in the form", changes),
    ("keeps the order's goods, under our number", kept),
    ("takes changes of an order once, and answers them line by line", changed),
    ("tells papers that can be read", papers),
    ("tells how orders stand", standings),
    ("tells one kind alone", one_kind),
    ("lets two orders change places, as they were seen, or says that it does not", places),
    ("tells what an account comes to, after what it counts", balances),
    ("tells accounts, whose invoices add up and are not settled twice", accounts),
)


def examine(trial: Trial) -> list[tuple[str, str, str]]:
    """(sentences, what, what was seen instead; nothing where it holds) of each check."""
    found = []
    for what, check in CHECKS:
        try:
            check(trial)
            wrong = ""
        except Broken as reason:
            wrong = str(reason)
        except (httpx.HTTPError, ValueError, KeyError, TypeError) as reason:
            wrong = f"{type(reason).__name__}: {reason}"
        found.append((check.__doc__ or "", what, wrong))
    return found


def main() -> int:
    """Examine and print; 1 where a sentence does not hold."""
    parser = argparse.ArgumentParser(prog="conformance")
    parser.add_argument("url")
    token = os.environ.get("VIVID_BACKOFFICE_TOKEN") or load_secrets()["backoffice"]
    common = os.environ.get("VIVID_BACKOFFICE_KEY") or load_secrets()["backoffice_key"]
    found = examine(Trial(parser.parse_args().url.rstrip("/"), token, common))
    for sentences, what, wrong in found:
        print(f"{'does not hold' if wrong else 'holds':14}{sentences:14}{what}")
        if wrong:
            print(f"{'':28}{wrong}")
    return int(any(wrong for *_, wrong in found))


if __name__ == "__main__":
    sys.exit(main())
