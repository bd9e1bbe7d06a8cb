"""Prices from the database: what touches a quote, who keeps it, what a change would move."""

from datetime import timedelta
from decimal import Decimal
from io import BytesIO
from typing import Any
import zipfile

from django.db import IntegrityError, transaction
from django.utils import timezone
from openpyxl import Workbook
import pytest

from apps.catalogue.models import ExchangeRate, PriceEntry, PriceList
from apps.journal.models import Change
from apps.orders.flows import write_order
from apps.prices.models import Agreement, CustomerPrice, DiscountRule, Limit
from apps.prices.queries import with_remaining
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.models import Revision
from demo.factories import CustomerFactory, ItemFactory, PriceEntryFactory
from tests.server.conftest import Caller, World, accepting, as_seen
from tests.server.test_quotes import body_of

D = Decimal


def priced(caller: Caller, revision: Revision, **changes: object) -> Any:
    current = Revision.objects.get(pk=revision.pk)
    answer = caller("put", f"revisions/{revision.pk}", body_of(current, **changes))
    assert "priced" in answer, answer
    return answer["priced"]


def agree(world: World, **given: Any) -> Agreement:
    values = {
        "number": "FA-1",
        "customer": world.customer,
        "item": world.post,
        "unit_id": "H87",
        "currency": "EUR",
        "price": D("35.00"),
        "quantity": D(50),
        "valid_from": world.today,
        "valid_to": world.today + timedelta(days=90),
    }
    return Agreement.objects.create(**{**values, **given})


def test_rules_customer_prices_and_agreements_come_from_the_database(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    agree(world)
    CustomerPrice.objects.create(
        customer=world.customer, item=world.wire, unit_id="MTR", currency="EUR", price=D("0.30")
    )
    [post, wire] = priced(as_ilse, drafted)["lines"]
    assert (post["source"], post["price"]) == ("agreement:FA-1", "35.00")
    assert (wire["source"], wire["price"]) == ("customer_price:C-1", "0.30")


def test_a_parents_price_serves_its_members(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    parent = CustomerFactory(name="Marrow Vale", number="C-9", owner=world.petra)
    world.customer.parent = parent
    world.customer.save()
    CustomerPrice.objects.create(
        customer=parent, item=world.post, unit_id="H87", currency="EUR", price=D("30")
    )
    assert priced(as_ilse, drafted)["lines"][0]["source"] == "customer_price:C-9"


def test_a_rule_is_applied_and_named_in_the_trail(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    DiscountRule.objects.create(
        code="POSTS", name="Posts", group=world.post.group, tiers=[{"from": "10", "percent": "2"}]
    )
    steps = priced(as_ilse, drafted)["lines"][0]["steps"]
    assert [(s["source"], s["percent"], s["value"]) for s in steps if s["code"] == "rule"] == [
        ("POSTS", "2", "16.60")
    ]


def test_an_order_calls_off_its_agreement(world: World, as_ilse: Caller, drafted: Revision) -> None:
    agree(world)
    priced(as_ilse, drafted)
    current = Revision.objects.get(pk=drafted.pk)
    now = timezone.now()
    done = issue_revision(world.ilse, current.pk, current.version, today=world.today, now=now)
    write_order(world.ilse, done.pk, done.version, today=world.today, now=now, close_deal=False)
    left = with_remaining(Agreement.objects.all()).get()
    assert (left.called_off, left.remaining) == (D(20), D(30))


def test_what_an_agreement_does_not_cover_is_proposed_to_be_split(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    agree(world, quantity=D(12))
    line = priced(as_ilse, drafted)["lines"][0]
    assert line["split"] == {"agreement": "FA-1", "covered": "12", "rest": "8"}


def test_the_rules_of_a_quote_take_a_constant_number_of_queries(
    world: World, as_ilse: Caller, drafted: Revision, queries_of: Any
) -> None:
    def save(count: int) -> int:
        for n in range(count):
            item = ItemFactory()
            PriceEntryFactory(item=item)
            DiscountRule.objects.create(
                code=f"R{count}-{n}", name="R", item=item, tiers=[{"from": "1", "percent": "1"}]
            )
        current = Revision.objects.get(pk=drafted.pk)
        body = body_of(current)
        return int(queries_of(lambda: as_ilse("put", f"revisions/{drafted.pk}", body)))

    assert save(30) == save(1)


# ---- lines of other kinds -----------------------------------------------------------------


def test_a_price_agreed_by_hand_needs_its_reason(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    body = body_of(drafted)
    body["lines"][0] |= {"price": "40.00"}
    answer = as_ilse("put", f"revisions/{drafted.pk}", body)
    assert [p["code"] for p in answer["problems"]] == ["reason_needed"]
    refused = as_ilse.ask("post", f"revisions/{drafted.pk}/issue", as_seen(answer))
    assert (refused.status_code, refused.json()["code"]) == (409, "not_ready")
    assert refused.json()["message"] == "Line 1 has a price agreed by hand: say why."
    body = body_of(Revision.objects.get(pk=drafted.pk))
    body["lines"][0] |= {"price": "40.00", "price_reason": "last year's"}
    assert as_ilse("put", f"revisions/{drafted.pk}", body)["problems"] == []


def test_alternatives_options_and_words_are_kept_and_not_counted(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    body = body_of(drafted, discount_percent=None)
    body["lines"] += [
        {"key": "h", "kind": "heading", "text": "Besides"},
        {"key": "c", "kind": "alternative", "alternative_to": "a", "item_id": world.wire.pk,
         "quantity": "100", "unit": "MTR"},
        {"key": "d", "kind": "optional", "item_id": world.post.pk, "quantity": "1", "unit": "H87"},
    ]  # fmt: skip
    answer = as_ilse("put", f"revisions/{drafted.pk}", body)
    assert answer["priced"]["totals"]["net"] == "888.25"
    assert [row["counted"] for row in answer["priced"]["lines"]] == [True, True, False, False]
    kept = as_ilse("get", f"revisions/{drafted.pk}")["lines"]
    assert [row["kind"] for row in kept] == [
        "normal",
        "normal",
        "heading",
        "alternative",
        "optional",
    ]
    issued = as_ilse("post", f"revisions/{drafted.pk}/issue", as_seen(answer))
    order = as_ilse(
        "post",
        "orders",
        accepting(issued),
    )
    assert [row["item"] for row in order["lines"]] == ["POST-25", "WIRE-2"]


def test_charges_and_a_discount_on_the_gross_are_kept(as_ilse: Caller, drafted: Revision) -> None:
    body = body_of(
        drafted,
        discount_percent="10",
        discount_on="gross",
        charges=[{"name": "Freight", "amount": "30", "tax_category": "standard"}],
    )
    totals = as_ilse("put", f"revisions/{drafted.pk}", body)["priced"]["totals"]
    assert (totals["charges"], totals["payable"]) == ("30.00", "991.71")  # 90 % of 1 101.90
    assert as_ilse("get", f"revisions/{drafted.pk}")["discount_on"] == "gross"


# ---- limits and sign-off ------------------------------------------------------------------


@pytest.fixture
def limited(world: World) -> None:
    Limit.objects.create(role="rep", line_percent=D(10), document_percent=D(5))


def test_what_is_beyond_the_limits_needs_a_sign_off_for_exactly_this(
    world: World, as_ilse: Caller, drafted: Revision, limited: None
) -> None:
    answer = as_ilse("put", f"revisions/{drafted.pk}", body_of(drafted))
    assert [(e["code"], e["found"], e["limit"]) for e in answer["excesses"]] == [
        ("line_discount", "12.5", "10")
    ]
    issue = ("post", f"revisions/{drafted.pk}/issue", as_seen(answer))
    assert as_ilse.ask(*issue).json()["code"] == "sign_off_needed"
    asked = as_ilse(
        "post", f"revisions/{drafted.pk}/sign-off", as_seen(answer, reason="Opens the account")
    )
    path = f"sign-offs/{asked['id']}"
    assert as_ilse.status("post", path, as_seen(answer, granted=True)) == 403
    assert world.call(world.stranger).status("post", path, as_seen(answer, granted=True)) == 404
    seen = world.call(world.petra)("post", path, as_seen(answer, granted=True, comment="Once"))
    assert seen["sign_off"]["answer"] == "granted"
    changed = body_of(Revision.objects.get(pk=drafted.pk))
    changed["lines"][1]["discount_percent"] = "13"
    again = as_ilse("put", f"revisions/{drafted.pk}", changed)
    assert again["sign_off"] is None
    issue = ("post", f"revisions/{drafted.pk}/issue", as_seen(again))
    assert as_ilse.ask(*issue).json()["code"] == "sign_off_needed"
    changed = body_of(Revision.objects.get(pk=drafted.pk))
    changed["lines"][1]["discount_percent"] = "12.5"
    back = as_ilse("put", f"revisions/{drafted.pk}", changed)
    assert back["sign_off"]["answer"] == "granted"
    done = as_ilse.ask("post", f"revisions/{drafted.pk}/issue", as_seen(back))
    assert done.status_code == 200


def test_a_sign_off_of_a_quote_that_changed_cannot_be_answered(
    world: World, as_ilse: Caller, drafted: Revision, limited: None
) -> None:
    first = as_ilse("put", f"revisions/{drafted.pk}", body_of(drafted))
    path = f"revisions/{drafted.pk}/sign-off"
    asked = as_ilse("post", path, as_seen(first, reason="Please"))
    changed = body_of(Revision.objects.get(pk=drafted.pk))
    changed["lines"][0]["quantity"] = "21"
    now = as_ilse("put", f"revisions/{drafted.pk}", changed)
    path, petra = f"sign-offs/{asked['id']}", world.call(world.petra)
    assert petra.ask("post", path, as_seen(first, granted=True)).json()["code"] == "total_changed"
    assert petra.ask("post", path, as_seen(now, granted=True)).json()["code"] == "changed"


# ---- declined, copied, compared, solved ---------------------------------------------------


def test_a_declined_quote_says_why_and_is_not_accepted(as_ilse: Caller, issued: Revision) -> None:
    path = f"quotes/{issued.quote_id}/decline"
    assert as_ilse.status("post", path, {"reason": " "}) == 422
    told = as_ilse("post", path, {"reason": "Bought elsewhere"})
    assert (told["state"], told["decline_reason"]) == ("declined", "Bought elsewhere")
    assert as_ilse.ask("post", "orders", accepting(issued)).json()["code"] == "declined"
    assert as_ilse("get", "quotes", state="declined")["count"] == 1


def test_a_copy_is_priced_for_its_own_customer(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    other = CustomerFactory(name="Stonebeck", owner=world.ilse)
    CustomerPrice.objects.create(
        customer=other, item=world.post, unit_id="H87", currency="EUR", price=D("38")
    )
    made = as_ilse("post", f"revisions/{issued.pk}/copy", {"customer_id": other.pk})
    assert (made["customer"], made["letter"], made["state"]) == ("Stonebeck", "A", "draft")
    assert [row["discount_percent"] for row in made["lines"]] == [None, None]
    assert made["priced"]["totals"]["net"] == "874.00"  # 20 × 38 and 3 rolls of 38


def test_two_revisions_side_by_side(world: World, as_ilse: Caller, issued: Revision) -> None:
    made = as_ilse("post", f"quotes/{issued.quote_id}/revise")
    body = body_of(Revision.objects.get(pk=made["id"]))
    body["lines"][0]["quantity"] = "30"
    del body["lines"][1]
    as_ilse("put", f"revisions/{made['id']}", body)
    found = as_ilse("get", f"revisions/{made['id']}/compare")
    assert (found["before"], found["after"]) == ("A", "B")
    assert [(row["text"].split()[0], row["change"]) for row in found["lines"]] == [
        ("POST-25", "changed"),
        ("WIRE-2", "gone"),
    ]
    net = next(pair for pair in found["sums"] if pair["name"] == "net")
    assert (net["before"], net["after"]) == ("861.60", "1147.27")


def test_compared_lines_are_of_the_same_item_whatever_their_keys(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    made = as_ilse("post", f"quotes/{issued.quote_id}/revise")
    [post, wire] = [
        {"item_id": line["item"]["id"], **{name: line[name] for name in ("quantity", "unit")}}
        for line in made["lines"]
    ]
    lines = [{**wire, "key": "a"}, {**post, "key": "fresh"}, {**post, "key": "again"}]
    body = {"version": made["version"], "valid_until": made["valid_until"], "lines": lines}
    assert as_ilse.status("put", f"revisions/{made['id']}", body) == 200
    found = as_ilse("get", f"revisions/{made['id']}/compare")["lines"]
    assert [(line["text"].split()[0], line["change"]) for line in found] == [
        ("WIRE-2", "changed"),
        ("POST-25", "changed"),
        ("POST-25", "new"),
    ]
    quantities = [next(p for p in line["pairs"] if p["name"] == "quantity") for line in found]
    assert [(p["before"], p["after"]) for p in quantities] == [
        ("3", "3"),
        ("20", "20"),
        (None, "20"),
    ]


def test_pricing_again_shows_what_would_move_and_changes_nothing(
    world: World, as_ilse: Caller, drafted: Revision, snapshot: Any
) -> None:
    world.post.prices.filter(from_quantity=0).update(price=D("50"))
    before = snapshot()
    found = as_ilse("get", f"revisions/{drafted.pk}/again")
    assert [row["change"] for row in found["lines"]] == ["changed", "same"]
    assert snapshot() == before


@pytest.mark.parametrize(
    ("target", "value", "line", "amount"),
    [
        ("net", "800", "", "88.25"),
        ("line_net", "700", "a", "130.00"),
        ("price", "40", "a", "30.00"),
    ],
)
def test_solving_answers_the_discount_and_changes_nothing(
    as_ilse: Caller,
    drafted: Revision,
    snapshot: Any,
    target: str,
    value: str,
    line: str,
    amount: str,
) -> None:
    before = snapshot()
    body = {"target": target, "value": value, "line": line}
    assert as_ilse("post", f"revisions/{drafted.pk}/solve", body)["amount"] == amount
    assert snapshot() == before


# ---- keeping prices -----------------------------------------------------------------------

RULE = {
    "position": "1", "code": "NEW", "name": "New", "measure": "quantity", "over": "line",
    "tiers": "from 10: 5 %; from 100: 8 %",
}  # fmt: skip


def test_an_administrator_keeps_prices_and_each_change_is_recorded(
    world: World, as_ilse: Caller
) -> None:
    admin = world.call(world.admin)
    assert as_ilse.status("post", "prices/records/rules", {"values": RULE}) == 403
    made = admin("post", "prices/records/rules", {"values": RULE})
    assert made["values"]["tiers"] == "from 10: 5 %; from 100: 8 %"
    path = f"prices/records/rules/{made['id']}"
    body = {"values": {"tiers": "from 10: 6 %"}, "version": made["version"]}
    admin("put", path, body)
    assert admin.status("put", path, body) == 409
    change = Change.objects.get(what="rules", field="Tiers", before__startswith="from 10: 5")
    assert (change.after, change.who) == ("from 10: 6 %", world.admin)
    assert as_ilse("get", "prices/records/rules", words="new")["count"] == 1
    assert admin.status("delete", path, version=2) == 204


def test_a_preview_says_what_would_move_and_changes_nothing(
    world: World, drafted: Revision, snapshot: Any
) -> None:
    admin = world.call(world.admin)
    before = snapshot()
    found = admin("post", "prices/records/rules/preview", {"values": RULE})
    assert found["open_quotes"] == 1
    [moved] = found["moved"]
    assert (moved["before"], moved["after"]) == ("861.60", "815.62")
    assert snapshot() == before


@pytest.mark.parametrize(
    ("kind", "change", "path"),
    [
        ("rules", {"tiers": "from 10: 5 %; from 5: 8 %"}, "tiers[1].from"),
        ("rules", {"tiers": "from 10: 101 %"}, "tiers"),
        ("rules", {"tiers": "ten percent"}, "tiers"),
        ("rules", {"measure": "colour"}, "measure"),
        ("rules", {"item": "NONE"}, "item"),
        ("rules", {"valid_from": "2026-02-01", "valid_to": "2026-01-01"}, "valid_to"),
        ("entries", {"price": "-1"}, "price"),
        ("entries", {"price": "1e400"}, "price"),
        ("entries", {"per": "0"}, "per"),
        ("entries", {"unit": "RL"}, "unit"),
        ("entries", {"from_quantity": "0"}, "valid_from"),
        ("limits", {"line_percent": "200"}, "line_percent"),
        ("rates", {"rate": "0"}, "rate"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(
    world: World, kind: str, change: dict[str, str], path: str, snapshot: Any
) -> None:
    good = {
        "rules": RULE,
        "entries": {"price_list": "base", "item": "POST-25", "unit": "H87", "from_quantity": "7",
                    "price": "3", "per": "1"},
        "limits": {"role": "rep"},
        "rates": {"currency": "GBP", "on": "2026-01-01", "rate": "1.1"},
    }[kind]  # fmt: skip
    before = snapshot()
    refused = world.call(world.admin).ask(
        "post", f"prices/records/{kind}", {"values": {**good, **change}}
    )
    assert (refused.status_code, refused.json()["path"]) == (422, path), refused.json()
    assert snapshot() == before


def test_the_price_check_gives_trail_and_breaks(world: World, as_ilse: Caller) -> None:
    found = as_ilse(
        "get", "prices/check", customer=world.customer.pk, item=world.post.pk, quantity=90
    )
    assert (found["line"]["price"], found["line"]["net"]) == ("41.50", "3735.00")
    [step] = found["next_breaks"]
    assert (step["add"], step["new_net"], step["cheaper_overall"]) == ("10", "3700.00", True)


# ---- pasted rows --------------------------------------------------------------------------


def test_pasted_rows_are_matched_and_doubts_are_named(world: World, as_ilse: Caller) -> None:
    text = "Qty\tCode\tUnit\tPrice\n20\tpost-25\t\t41,50\n3\tgalvanised\troll\t\nx\tnothing like it\t\t"
    rows = as_ilse("post", "items/match", {"text": text})
    assert [
        (r["item"] and r["item"]["code"], r["quantity"], r["price"], r["doubts"]) for r in rows
    ] == [
        ("POST-25", "20", "41.50", []),
        (None, "3", None, ["item"]),
        (None, None, None, ["quantity", "item"]),
    ]
    assert [c["code"] for c in rows[1]["candidates"]] == ["WIRE-2"]


def test_past_prices_are_per_base_unit_after_all_discounts(
    world: World, as_ilse: Caller, issued: Revision
) -> None:
    write_order(
        world.ilse,
        issued.pk,
        issued.version,
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    query = {"customer": world.customer.pk, "item": world.wire.pk}
    [point] = as_ilse("get", "prices/past", **query)
    assert (point["quantity"], point["price"]) == ("300", "0.3225")  # 99.75 less 2.99, by 300 m
    assert world.call(world.tomas).status("get", "prices/past", **query) == 404


# ---- files --------------------------------------------------------------------------------

HEAD = "List,Item,Unit,From,Price,per,Valid from,to\n"


def send(caller: Caller, body: bytes, name: str = "prices.csv", keep: bool = True) -> Any:
    return caller.send("prices/import/entries", name, body, keep=keep)


def test_a_file_takes_in_good_rows_and_reports_the_others(world: World) -> None:
    rows = "base,POST-25,H87,200,35.00,1,,\nbase,NONE,H87,0,1,1,,\nbase,POST-25,H87,300,=1+1,1,,\n"
    caller = world.call(world.admin)
    tried = send(caller, (HEAD + rows).encode(), keep=False)
    assert (tried["rows"], tried["good"]) == (3, 1)
    assert [(f["row"], f["field"]) for f in tried["faults"]] == [(3, "item"), (4, "price")]
    assert world.post.prices.count() == 2
    assert send(caller, (HEAD + rows).encode())["good"] == 1
    assert world.post.prices.filter(from_quantity=200, price=D("35.00")).exists()


def test_what_was_exported_comes_in_again(world: World) -> None:
    caller = world.call(world.admin)
    body = caller.ask("get", "prices/files/entries.xlsx").content
    before = world.post.prices.count()
    world.post.prices.all().delete()
    world.wire.prices.all().delete()
    answer = send(caller, body, "prices.xlsx")
    assert (answer["good"], answer["faults"]) == (answer["rows"], [])
    assert world.post.prices.count() == before


@pytest.mark.parametrize(
    ("name", "body", "code"),
    [
        ("prices.xlsm", b"x", "unknown_format"),
        ("prices.xlsx", b"no archive", "unreadable"),
        ("prices.csv", "Preis für Äpfel".encode("latin-1"), "encoding"),
        ("prices.csv", b"Item,Price\nPOST-25,1\n", "no_heading"),
        ("prices.csv", b"x" * 5_000_001, "too_big"),
    ],
)
def test_a_file_that_cannot_be_read_says_why(
    world: World, name: str, body: bytes, code: str, snapshot: Any
) -> None:
    before = snapshot()
    refused = send(world.call(world.admin), body, name)
    assert refused["code"] == code
    assert snapshot() == before


def test_only_an_administrator_imports(world: World, as_ilse: Caller) -> None:
    answer = send(as_ilse, (HEAD + "base,POST-25,H87,200,35.00,1,,\n").encode())
    assert answer["code"] == "not_for_role"
    assert world.post.prices.count() == 2


LIST = {"code": "spring", "name": "Spring list", "currency": "EUR", "derives_from": "base",
        "factor": "0.9", "round_to": "0.05"}  # fmt: skip


def test_a_list_that_derives_prices_a_customer(world: World, as_ilse: Caller) -> None:
    admin = world.call(world.admin)
    made = admin("post", "prices/records/lists", {"values": LIST})
    assert (made["values"]["factor"], made["values"]["derives_from"]) == ("0.9", "base")
    world.customer.price_list = PriceList.objects.get(code="spring")
    world.customer.save()
    checked = as_ilse(
        "get", "prices/check", customer=world.customer.pk, item=world.post.pk, quantity=1
    )
    assert checked["line"]["price"] == "37.35"


@pytest.mark.parametrize(
    ("kind", "values", "path"),
    [
        ("lists", {**LIST, "factor": "0"}, "factor"),
        ("lists", {**LIST, "factor": "-1"}, "factor"),
        ("lists", {**LIST, "currency": "EURO"}, "currency"),
        ("lists", {**LIST, "currency": "ZZZ"}, "currency"),
        ("lists", {**LIST, "derives_from": "nowhere"}, "derives_from"),
        ("lists", {**LIST, "code": "base"}, "code"),
        ("taxes", {"code": "free", "name": "Free"}, "reason"),
        ("taxes", {"code": "odd", "name": "Odd", "components": "VAT twenty"}, "components"),
        ("taxes", {"code": "odd", "name": "Odd", "components": "VAT 1001 %"}, "components"),
        ("items", {"units": "RL = 0"}, "units.RL"),
        ("items", {"units": "ZZZ = 4"}, "units"),
        ("items", {"units": "RL = 1e400"}, "units"),
        ("items", {"sales_unit": "RL"}, "sales_unit"),
        ("items", {"pack_multiple": "0"}, "pack_multiple"),
    ],
)
def test_lists_items_and_taxes_that_cannot_be_are_refused_at_their_field(
    world: World, kind: str, values: dict[str, str], path: str, snapshot: Any
) -> None:
    item = {"code": "NEW-1", "name": "New", "group": world.post.group.code, "kind": "goods",
            "base_unit": "H87", "sales_unit": "H87", "tax_category": "standard", "active": "yes"}  # fmt: skip
    before = snapshot()
    body = {"values": {**item, **values} if kind == "items" else values}
    refused = world.call(world.admin).ask("post", f"prices/records/{kind}", body)
    assert (refused.status_code, refused.json()["path"]) == (422, path)
    assert snapshot() == before


def test_lists_do_not_derive_in_a_circle(world: World) -> None:
    admin = world.call(world.admin)
    made = admin("post", "prices/records/lists", {"values": LIST})
    base = PriceList.objects.get(code="base")
    body = {"values": {"derives_from": "spring"}}
    refused = admin.ask("put", f"prices/records/lists/{base.pk}", body)
    assert (refused.status_code, refused.json()["code"]) == (422, "circular_list")
    itself = {"values": {"derives_from": "spring"}}
    assert admin.status("put", f"prices/records/lists/{made['id']}", itself) == 422


def test_taxes_are_kept_under_their_code_and_recorded(world: World, drafted: Revision) -> None:
    admin = world.call(world.admin)
    body = {"values": {"components": "VAT 21 %; Levy 2.5 % on running"}}
    ahead = admin("post", "prices/records/taxes/preview", body, record="standard")
    assert [row["name"] for row in ahead["moved"]] == [f"{drafted.quote.number} A"]
    saved = admin("put", "prices/records/taxes/standard", body)
    assert saved["values"]["components"] == "VAT 21 %; Levy 2.5 % on running"
    [change] = admin("get", "prices/history/taxes", record="standard")
    assert (change["field"], change["before"]) == ("standard: Taxes", "VAT 20 %")
    renamed = admin.ask(
        "put", "prices/records/taxes/standard", {"values": {"code": "other"}, "version": 2}
    )
    assert renamed.json()["code"] == "fixed"
    gone = admin.ask("delete", "prices/records/taxes/standard", version=2)
    assert (gone.status_code, gone.json()["code"]) == (409, "in_use")


def test_an_items_packs_are_typed_in_one_field(world: World, as_ilse: Caller) -> None:
    admin = world.call(world.admin)
    path = f"prices/records/items/{world.wire.pk}"
    saved = admin("put", path, {"values": {"units": "RL = 250"}})
    assert saved["values"]["units"] == "RL = 250"
    assert as_ilse("get", "prices/records/items")["rows"] == []
    fixed = admin.ask("put", path, {"values": {"base_unit": "H87"}, "version": 2})
    assert (fixed.status_code, fixed.json()["path"]) == (422, "base_unit")


def test_an_xml_bomb_in_a_sheet_is_not_opened(world: World, snapshot: Any) -> None:
    """Entities that stand for each other, ten to the ninth deep."""
    entities = "".join(f'<!ENTITY e{n} "{f"&e{n - 1};" * 10}">' for n in range(1, 10))
    bomb = f'<?xml version="1.0"?><!DOCTYPE w [<!ENTITY e0 "x">{entities}]>'
    book = Workbook()
    out = BytesIO()
    book.save(out)
    packed = BytesIO()
    with zipfile.ZipFile(out) as source, zipfile.ZipFile(packed, "w") as target:
        for name in source.namelist():
            body = source.read(name).decode()
            if name.endswith("sheet1.xml"):
                body = bomb + body.partition("?>")[2].replace(
                    "<sheetData/>", "<sheetData>&e9;</sheetData>"
                )
            target.writestr(name, body)
    before = snapshot()
    refused = send(world.call(world.admin), packed.getvalue(), "prices.xlsx")
    assert refused["code"] == "unreadable"
    assert snapshot() == before


def test_an_agreement_tells_what_was_called_off(world: World) -> None:
    admin = world.call(world.admin)
    values = {"number": "FA-9", "customer": "C-1", "item": "POST-25", "unit": "H87",
              "currency": "EUR", "quantity": "500", "price": "35", "per": "1",
              "valid_from": "2020-01-01", "valid_to": "2099-12-31"}  # fmt: skip
    admin("post", "prices/records/agreements", {"values": {**values, "remaining": "7"}})
    [row] = admin("get", "prices/records/agreements")["rows"]
    assert (row["values"]["called_off"], row["values"]["remaining"]) == ("0", "500")
    body = admin.ask("get", "prices/files/agreements.csv").content.decode("utf-8-sig")
    assert "Called off,Left" in body


# ---- versions and uniqueness ---------------------------------------------------------------


def rows_of_kinds(world: World) -> dict[str, tuple[str, dict[str, str]]]:
    """A record of each kind that is kept, and a change of it."""
    entry = PriceEntry.objects.filter(item=world.post)[0]
    rate = ExchangeRate.objects.create(currency="GBP", on=world.today, rate=D("1.15"))
    return {
        "entries": (str(entry.pk), {"price": "41.60"}),
        "lists": (str(entry.price_list.pk), {"name": "Renamed"}),
        "items": (str(world.post.pk), {"name": "Renamed"}),
        "taxes": ("standard", {"name": "Renamed"}),
        "rates": (str(rate.pk), {"rate": "1.16"}),
    }


@pytest.mark.parametrize("kind", ["entries", "lists", "items", "taxes", "rates"])
def test_a_record_is_changed_and_deleted_only_as_it_was_seen(world: World, kind: str) -> None:
    admin = world.call(world.admin)
    key, change = rows_of_kinds(world)[kind]
    path = f"prices/records/{kind}/{key}"
    assert admin("put", path, {"values": change, "version": 1})["version"] == 2
    stale = admin.ask("put", path, {"values": change, "version": 1})
    assert (stale.status_code, stale.json()["code"]) == (409, "stale")
    assert admin.status("delete", path) == 422
    assert admin.status("delete", path, version=1) == 409


def test_the_database_holds_a_price_once(world: World) -> None:
    entry = PriceEntry.objects.filter(item=world.post, valid_from=None)[0]
    agreed = CustomerPrice.objects.create(
        customer=world.customer, item=world.post, unit_id="H87", currency="EUR", price=D(30)
    )
    for row in (entry, agreed):
        row.pk = None
        with pytest.raises(IntegrityError), transaction.atomic():
            row.save(force_insert=True)


@pytest.mark.parametrize(
    ("kind", "values", "code"),
    [
        ("rates", {"currency": "GBP", "on": "2026-11-02", "rate": "1.2"}, "taken"),
        ("limits", {"role": "rep", "line_percent": "5"}, "taken"),
    ],
)
def test_the_same_record_twice_is_refused_in_the_one_form(
    world: World, kind: str, values: dict[str, str], code: str
) -> None:
    admin = world.call(world.admin)
    assert admin.status("post", f"prices/records/{kind}", {"values": values}) == 201
    again = admin.ask("post", f"prices/records/{kind}", {"values": values})
    assert (again.status_code, again.json()["code"]) == (422, code)
    head = ",".join(values)
    body = f"{head}\n{','.join(values.values())}\n".encode()
    report = admin.send(f"prices/import/{kind}", "x.csv", body)
    assert (report["good"], [row["fault"]["code"] for row in report["faults"]]) == (0, [code])


@pytest.mark.parametrize(
    "tiers",
    [
        "[1]",
        "[null]",
        "[" * 1900,
        '[{"from": "Infinity", "percent": "5"}]',
        "from 1e9: 5 %",
        '[{"from": "1", "percent": "1e999999"}]',
        '[{"from": "1", "x": "5"}]',
        "[]",
        "from ١: 5 %",
    ],
)
def test_tiers_that_are_none_are_refused(world: World, tiers: str) -> None:
    values = {
        "position": "9",
        "code": "ODD",
        "name": "Odd",
        "measure": "quantity",
        "over": "line",
        "tiers": tiers,
    }
    refused = world.call(world.admin).ask("post", "prices/records/rules", {"values": values})
    assert (refused.status_code, refused.json()["path"]) == (422, "tiers")


def test_a_price_far_below_cost_can_be_saved(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    body = body_of(drafted)
    body["lines"][0] |= {"price": "0.000001", "price_reason": "a gift"}
    assert as_ilse.status("put", f"revisions/{drafted.pk}", body) == 200
