"""The buyer changes an order: at once before it is handed over, with the back office's answer afterwards."""

from datetime import timedelta
from decimal import Decimal
from threading import Barrier, Thread
from typing import Any
import uuid

from django.db import connection
from django.db.utils import OperationalError
from django.utils import timezone
import pytest

from apps.customers.models import Address
from apps.handover.changes import Wish, change_order
from apps.handover.intake import take_in
from apps.handover.models import BackOfficeEvent, Handover, OrderChange
from apps.handover.reading import News
from apps.handover.worker import go_round
from apps.journal.models import Change
from apps.ledger.models import Allocation, Invoice
from apps.orders.models import Delivery, Order, OrderLine, Return
from apps.quotes.models import Revision
from tests.server.conftest import Caller, World, as_seen
from tests.server.office import Office
from tests.server.test_parts import cancel, order, source, state
from tests.server.test_trade_documents import valid

D = Decimal
_NAMES = "urn:oasis:names:specification:ubl:schema:xsd:Common"
SHORT = {"cac": f"{_NAMES}AggregateComponents-2", "cbc": f"{_NAMES}BasicComponents-2"}


def change(caller: Caller, made: Any, *lines: dict[str, Any], **more: Any) -> Any:
    """Change an order as it was seen; lines by their place on it."""
    ids = {line["position"]: line["id"] for line in made["lines"]}
    body = {
        "version": made["version"],
        "lines": [{"line_id": ids[each.pop("n")], **each} for each in lines],
        "reason": "They need less",
        **more,
    }
    return caller.ask("post", f"orders/{made['id']}/changes", body)


def hear(office: Office, caller: Caller, made: Any) -> Any:
    """The worker goes round until what was said is known; the order then."""
    for _ in range(2):
        go_round(office.client, "test", timezone.now)
    return caller("get", f"orders/{made['id']}")


def test_less_of_a_line_is_its_share_and_the_rest_is_left_of_the_offer(
    as_ilse: Caller, issued: Revision, made: Any
) -> None:
    # 788.50 × 7 ÷ 20 = 275.975; with the rolls 375.73, less 3 % (11.27)
    less = change(as_ilse, made, {"n": 1, "quantity": "7"}).json()
    assert (less["lines_net"], less["document_discount"], less["net"]) == (
        *("375.73", "11.27"),
        "364.46",
    )
    first = less["lines"][0]
    assert (first["quantity"], first["first_quantity"], first["net"]) == ("7", "20", "275.98")
    assert state(as_ilse, issued) == "part_ordered"
    rest = order(as_ilse, source(issued, a="13")).json()
    assert D(rest["net"]) + D(less["net"]) == D("861.60")
    told = Change.objects.filter(what="order", record=made["id"], reason="They need less")
    assert {row.field for row in told} == {"line 1 POST-25: quantity", "payable"}


def test_an_order_of_which_nothing_is_wanted_any_more_is_cancelled(
    as_ilse: Caller, issued: Revision, made: Any
) -> None:
    gone = change(as_ilse, made, {"n": 1, "quantity": "0"}, {"n": 2, "quantity": "0"}).json()
    assert (gone["state"], gone["payable"], gone["cancel_reason"]) == (
        *("cancelled", "0.00"),
        "They need less",
    )
    assert state(as_ilse, issued) == "issued"
    assert order(as_ilse, source(issued, a="20", b="3")).json()["net"] == "861.60"


def test_days_and_places_of_lines_and_of_the_whole_change(
    world: World, as_ilse: Caller, made: Any
) -> None:
    place = Address.objects.create(
        customer=world.customer, kind="delivery", label="Yard", street="9 Yard Way", town="Fell"
    )
    later = (world.today + timedelta(days=21)).isoformat()
    head = {"buyer_reference": "PO 77", "requested_on": later}
    now = change(as_ilse, made, {"n": 2, "wanted_on": later, "address_id": place.pk}, head=head)
    told = now.json()
    assert (told["buyer_reference"], told["requested_on"]) == ("PO 77", later)
    assert told["lines"][1]["wanted_on"] == later
    assert told["lines"][1]["delivery_address"]["street"] == "9 Yard Way"
    assert told["lines"][0]["delivery_address"] is None
    assert (told["payable"], told["mark"] != made["mark"]) == (made["payable"], True)


@pytest.mark.parametrize(
    ("lines", "more", "code", "status"),
    [
        ([{"n": 1, "quantity": "21"}], {}, "more_is_another_order", 422),
        ([{"n": 1, "quantity": "20"}], {}, "nothing_changes", 422),
        ([], {}, "nothing_changes", 422),
        ([{"n": 1, "wanted_on": "2001-01-01"}], {}, "date_gone_by", 422),
        ([{"n": 1, "quantity": "7"}], {"reason": " "}, "required", 422),
        ([{"n": 1, "quantity": "7"}], {"version": 99}, "stale", 409),
        ([{"n": 1, "quantity": "7"}, {"n": 1, "quantity": "6"}], {}, "double_id", 422),
        ([{"n": 1, "address_id": 999_999}], {}, "not_found", 404),
    ],
)
def test_what_cannot_be_changes_nothing(
    as_ilse: Caller, made: Any, lines: Any, more: Any, code: str, status: int
) -> None:
    refused = change(as_ilse, made, *lines, **more)
    assert (refused.status_code, refused.json()["code"]) == (status, code)
    assert as_ilse("get", f"orders/{made['id']}")["version"] == made["version"]
    assert not OrderChange.objects.exists()


def test_only_those_who_sell_to_them_change_an_order(world: World, made: Any) -> None:
    asked = [
        change(world.call(person), made, {"n": 1, "quantity": "7"}).status_code
        for person in (world.stranger, world.tomas, world.joren, world.petra)
    ]
    assert asked == [404, 404, 403, 200]


def test_the_back_office_is_asked_and_its_answer_decides(
    as_ilse: Caller, office: Office, issued: Revision, with_them: Any
) -> None:
    office.press("answers-hand")
    asked = change(as_ilse, with_them, {"n": 1, "quantity": "7"}).json()
    assert (asked["payable"], asked["changes"][0]["state"]) == (with_them["payable"], "waiting")
    waits = hear(office, as_ilse, with_them)
    assert (waits["payable"], waits["changes"][0]["state"]) == (with_them["payable"], "asked")
    second = change(as_ilse, waits, {"n": 2, "quantity": "0"})
    assert second.json()["code"] == "change_open"
    office.press("answer", number=str(OrderChange.objects.get().key))
    now = hear(office, as_ilse, with_them)
    # What they bill: (788.50 − 23.66) × 7 ÷ 20 = 267.69, and 99.75 − 2.99 for the rolls.
    assert (now["net"], now["lines"][0]["quantity"]) == ("364.45", "7")
    (answered,) = now["changes"]
    assert (answered["state"], answered["noticed"]) == ("answered", False)
    assert [line["outcome"] for line in answered["lines"]] == ["taken"]
    assert state(as_ilse, issued) == "part_ordered"


def test_what_has_left_cannot_be_taken_back_line_by_line(
    as_ilse: Caller, office: Office, with_them: Any
) -> None:
    number = with_them["backoffice_number"]
    office.press("answers-hand")
    change(as_ilse, with_them, {"n": 1, "quantity": "0"}, {"n": 2, "quantity": "1"})
    go_round(office.client, "test", timezone.now)
    office.press(
        "ship-half", number=number
    )  # 10 posts and 2 rolls leave while the answer is awaited
    office.press("answer", number=str(OrderChange.objects.get().key))
    now = hear(office, as_ilse, with_them)
    assert [line["quantity"] for line in now["lines"]] == ["20", "3"]
    assert [line["shipped"] for line in now["lines"]] == ["10", "2"]
    told = now["changes"][0]["lines"]
    assert [line["outcome"] for line in told] == ["refused", "refused"]
    assert told[0]["message"] == "10 have left or were billed already."
    again = change(as_ilse, now, {"n": 1, "quantity": "8"})
    assert again.json()["code"] == "has_left_more"
    office.press("answers-itself")
    change(as_ilse, now, {"n": 1, "quantity": "10"})
    now = hear(office, as_ilse, with_them)
    assert [line["quantity"] for line in now["lines"]] == ["10", "3"]


def test_an_answer_that_takes_back_what_has_left_is_set_apart(
    as_ilse: Caller, office: Office, with_them: Any
) -> None:
    office.press("answers-hand")
    change(as_ilse, with_them, {"n": 1, "quantity": "5"})
    go_round(office.client, "test", timezone.now)
    office.press("ship-half", number=with_them["backoffice_number"])
    hear(office, as_ilse, with_them)
    told = {"change": str(OrderChange.objects.get().key), "lines": [{"line": 1, "taken": True}]}
    take_in([News(
        position=0, event_id=uuid.uuid4(), key=Handover.objects.get().key, kind="answered",
        occurred_at=timezone.now(), data=told,
    )])  # fmt: skip
    (apart,) = BackOfficeEvent.objects.filter(state="apart")
    assert apart.facts == {"what": "below_what_left", "line": "1", "left": "10"}
    now = as_ilse("get", f"orders/{with_them['id']}")
    assert (now["payable"], now["changes"][0]["state"]) == (with_them["payable"], "asked")


def test_a_clerk_turns_a_change_down_and_people_notice_it(
    as_ilse: Caller, office: Office, with_them: Any
) -> None:
    office.press("answers-hand")
    change(as_ilse, with_them, {"n": 1, "quantity": "0"})
    go_round(office.client, "test", timezone.now)
    office.press("turn-down", number=str(OrderChange.objects.get().key))
    now = hear(office, as_ilse, with_them)
    assert now["payable"] == with_them["payable"]
    (stop,) = as_ilse("get", "today")["answers"]
    assert (stop["kind"], stop["title"]) == ("change_refused", with_them["number"])
    seen = as_ilse("post", f"order-changes/{now['changes'][0]['id']}/noticed")
    assert seen["changes"][0]["noticed"] is True
    assert as_ilse("get", "today")["answers"] == []


def test_the_whole_order_is_cancelled_with_the_back_offices_word(
    as_ilse: Caller, office: Office, issued: Revision, with_them: Any
) -> None:
    assert cancel(as_ilse, with_them).json()["code"] == "handed_over"
    change(as_ilse, with_them, {"n": 1, "quantity": "0"}, {"n": 2, "quantity": "0"})
    gone = hear(office, as_ilse, with_them)
    assert (gone["state"], state(as_ilse, issued)) == ("cancelled", "issued")
    assert "Cancelled" in office.page()


def test_the_back_office_changes_an_order_by_itself_and_it_is_told(
    as_ilse: Caller, office: Office, with_them: Any
) -> None:
    office.press("shorten", number=with_them["backoffice_number"])
    now = hear(office, as_ilse, with_them)
    assert [line["quantity"] for line in now["lines"]] == ["18", "3"]
    (told,) = now["changes"]
    assert (told["by"], told["reason"]) == ("", "Not to be had any more")
    (stop,) = as_ilse("get", "today")["answers"]
    assert (stop["kind"], stop["detail"]) == ("changed_by_them", "Not to be had any more")


def test_an_order_that_was_turned_down_is_mended_and_sent_again(
    world: World, as_ilse: Caller, office: Office, made: Any
) -> None:
    office.press("mood-strict")
    as_ilse("post", f"orders/{made['id']}/handover", as_seen(made))
    go_round(office.client, "test", timezone.now)
    refused = as_ilse("get", f"orders/{made['id']}")
    assert refused["state"] == "refused"
    less = change(as_ilse, refused, {"n": 1, "quantity": "7"}, head={"buyer_reference": "PO 8"})
    assert less.json()["net"] == "364.46"
    office.press("mood-well")
    entry = Handover.objects.get()
    world.call(world.petra)("post", f"handovers/{entry.pk}/again", {"version": entry.version})
    now = hear(office, as_ilse, made)
    assert now["state"] == "taken"
    entry.refresh_from_db()
    assert entry.payload["buyer_reference"] == "PO 8"
    assert [row["quantity"] for row in entry.payload["lines"]] == ["7", "3"]


def test_an_order_on_its_way_is_not_changed(as_ilse: Caller, made: Any) -> None:
    on_its_way = as_ilse("post", f"orders/{made['id']}/handover", as_seen(made))
    refused = change(as_ilse, on_its_way, {"n": 1, "quantity": "7"})
    assert (refused.status_code, refused.json()["code"]) == (409, "on_its_way")


def test_the_database_lets_nobody_else_change_what_was_handed_over(
    as_ilse: Caller, with_them: Any
) -> None:
    line = OrderLine.objects.filter(order_id=with_them["id"]).first()
    assert line is not None
    with pytest.raises(OperationalError, match="What was handed over stays"):
        OrderLine.objects.filter(pk=line.pk).update(quantity=1)


def test_parts_leave_and_are_billed_and_come_back_and_all_of_it_adds_up(
    as_ilse: Caller, office: Office, with_them: Any
) -> None:
    number = with_them["backoffice_number"]
    stages = []
    for act in ("ship-half", "bill", "ship", "bill", "pay", "pay"):
        office.press(act, number=number)
        now = hear(office, as_ilse, with_them)
        stages.append((now["state"], now["lines"][0]["stage"]))
    assert stages == [
        ("part_shipped", "part_shipped"),
        ("part_invoiced", "part_invoiced"),
        ("part_invoiced", "part_invoiced"),
        ("invoiced", "invoiced"),
        ("part_paid", "invoiced"),
        ("paid", "paid"),
    ]
    assert not BackOfficeEvent.objects.exclude(state="applied").exists()
    bills = Invoice.objects.filter(order_id=with_them["id"])
    assert sum(bill.gross for bill in bills) == D(with_them["payable"])
    assert Delivery.objects.count() == bills.count() == Allocation.objects.count() == 2
    office.press("take-back", number=number)
    now = hear(office, as_ilse, with_them)
    assert now["lines"][0]["returned"] == "10"
    (back,) = now["returns"]
    assert (back["reason"], Return.objects.count()) == ("Damaged on the way", 1)
    credit = bills.get(kind="credit")
    # Half of the line, less its share of the discount: (788.50 − 23.66) ÷ 2
    assert (credit.net, credit.gross) == (D("382.42"), D("458.90"))
    assert [row["kind"] for row in now["invoices"]] == ["invoice", "invoice", "credit"]


PAPERS = {"taken": "OrderResponse", "answered": "OrderResponse", "changed": "OrderResponse"}
PAPERS |= {"shipped": "DespatchAdvice", "invoiced": "Invoice", "credited": "CreditNote"}


def test_the_papers_of_the_back_office_are_valid_and_their_sums_agree(
    as_ilse: Caller, office: Office, with_them: Any
) -> None:
    number = with_them["backoffice_number"]
    change(as_ilse, with_them, {"n": 1, "quantity": "12"})
    hear(office, as_ilse, with_them)
    for act in ("shorten", "ship-half", "bill", "ship", "bill", "take-back"):
        office.press(act, number=number)
    hear(office, as_ilse, with_them)
    seen = set()
    for event in BackOfficeEvent.objects.exclude(kind="returned"):
        document = valid(event.data["ubl"].encode(), PAPERS[event.kind])
        seen.add(event.kind)
        if event.kind in ("invoiced", "credited"):
            adds_up(document)
    assert seen == set(PAPERS)


def adds_up(document: Any) -> None:
    """EN 16931 BR-CO-10, -13, -14, -15, -16 and -17, of a paper without prepayments."""

    def amounts(path: str) -> list[Decimal]:
        return [D(node.text) for node in document.xpath(path, namespaces=SHORT)]

    total = "//cac:LegalMonetaryTotal/cbc:"
    lines = amounts(
        "//*[self::cac:InvoiceLine or self::cac:CreditNoteLine]/cbc:LineExtensionAmount"
    )
    assert amounts(f"{total}LineExtensionAmount") == [sum(lines)]
    charges = amounts("/*/cac:AllowanceCharge/cbc:Amount")
    (net,) = amounts(f"{total}TaxExclusiveAmount")
    assert net == sum(lines) + sum(charges)
    parts = amounts("//cac:TaxSubtotal/cbc:TaxAmount")
    assert amounts("/*/cac:TaxTotal/cbc:TaxAmount") == [sum(parts)]
    (gross,) = amounts(f"{total}TaxInclusiveAmount")
    assert gross == net + sum(parts)
    rounding = sum(amounts(f"{total}PayableRoundingAmount"))
    assert amounts(f"{total}PayableAmount") == [gross + rounding]
    bases = amounts("//cac:TaxSubtotal/cbc:TaxableAmount")
    percents = amounts("//cac:TaxSubtotal/cac:TaxCategory/cbc:Percent")
    for base, percent, tax in zip(bases, percents, parts, strict=True):
        assert abs(base * percent / 100 - tax) <= D("0.005")


def test_an_invoice_that_comes_before_its_delivery_waits_for_it(
    as_ilse: Caller, office: Office, with_them: Any
) -> None:
    office.press("fault-reorder")
    office.press("ship", number=with_them["backoffice_number"])
    office.press("bill", number=with_them["backoffice_number"])
    now = hear(office, as_ilse, with_them)
    assert (now["state"], BackOfficeEvent.objects.exclude(state="applied").count()) == (
        *("invoiced",),
        0,
    )


def test_of_two_changes_at_once_one_is_asked(
    world: World, as_ilse: Caller, with_them: Any, transactional_db: None
) -> None:
    line = with_them["lines"][0]["id"]
    start, answers = Barrier(2), []

    def ask() -> None:
        try:
            start.wait()
            change_order(
                world.ilse,
                with_them["id"],
                with_them["version"],
                wishes=[Wish(line_id=line, quantity=D(7))],
                reason="x",
                today=world.today,
                now=timezone.now(),
            )
            answers.append("asked")
        except Exception as error:
            answers.append(type(error).__name__)
        finally:
            connection.close()

    threads = [Thread(target=ask) for _ in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(answers) == ["Refused", "asked"]
    assert OrderChange.objects.count() == 1
    assert Order.objects.get().payable == D(with_them["payable"])
