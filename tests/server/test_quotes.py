"""A quote's life through the API: drafted, priced, issued, revised; what is frozen stays frozen."""

from datetime import date, timedelta
from decimal import Decimal
from io import BytesIO
from typing import Any

from django.db import connection, transaction
from django.db.utils import OperationalError
from django.utils import timezone
import pypdf
import pytest

from apps.deals.models import Deal
from apps.diary.models import Activity
from apps.handover.payload import payload_of
from apps.journal.models import Change
from apps.orders.flows import write_order
from apps.quotes.flows.issuing import issue_revision
from apps.quotes.models import Quote, QuoteLine, Revision
from demo.factories import PriceEntryFactory
from standins.backoffice.terms import due_day
from tests.server.conftest import Caller, D, World, as_seen


def body_of(revision: Revision, **changes: object) -> dict[str, Any]:
    lines = [
        {
            "key": row.key,
            "item_id": row.item_id,
            "quantity": str(row.quantity),
            "unit": row.unit,
            "text": row.text,
            "discount_percent": str(row.discount_percent),
        }
        for row in revision.lines.all()
    ]
    return {
        "version": revision.version,
        "lines": lines,
        "valid_until": revision.valid_until.isoformat(),
        "discount_percent": "3",
        **changes,
    }


def test_starting_from_a_deal_carries_over_customer_and_contact(
    world: World, as_ilse: Caller
) -> None:
    made = as_ilse("post", "quotes", {"deal_id": world.deal.pk})
    assert (made["customer"], made["letter"], made["state"]) == ("Hazelmoor Orchards", "A", "draft")
    assert made["contact_id"] == world.deal.contact_id
    assert made["valid_until"] == (world.today + timedelta(days=30)).isoformat()


def test_a_saved_draft_answers_the_price_of_the_core(as_ilse: Caller, drafted: Revision) -> None:
    answer = as_ilse("put", f"revisions/{drafted.pk}", body_of(drafted))
    totals = answer["priced"]["totals"]
    assert (totals["net"], totals["tax_total"], totals["gross"]) == ("861.60", "172.32", "1033.92")
    assert answer["version"] == drafted.version + 1
    [post, wire] = answer["priced"]["lines"]
    assert (post["steps"][0]["code"], wire["unit"], wire["price"]) == ("list_price", "MTR", "0.38")


def test_what_is_stored_is_what_was_answered(as_ilse: Caller, drafted: Revision) -> None:
    answer = as_ilse("put", f"revisions/{drafted.pk}", body_of(drafted))
    again = as_ilse("get", f"revisions/{drafted.pk}")
    assert again["priced"] == answer["priced"]
    stored = Revision.objects.get(pk=drafted.pk)
    assert stored.payable == Decimal(answer["priced"]["totals"]["payable"])


def test_a_stale_save_gets_409_and_changes_nothing(as_ilse: Caller, drafted: Revision) -> None:
    as_ilse("put", f"revisions/{drafted.pk}", body_of(drafted))
    before = QuoteLine.objects.filter(revision=drafted).values_list("quantity", flat=True)
    stale = body_of(drafted)
    stale["lines"] = stale["lines"][:1]
    refused = as_ilse.ask("put", f"revisions/{drafted.pk}", stale)
    assert refused.status_code == 409
    assert refused.json()["code"] == "stale"
    assert refused.json()["path"] == "version"
    assert len(before) == 2


def test_issuing_freezes_plans_the_follow_up_and_moves_the_deal(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    wanted = (world.today + timedelta(days=4)).isoformat()
    issued = as_ilse(
        "post",
        f"revisions/{drafted.pk}/issue",
        as_seen(drafted, follow_up_on=wanted),
    )
    assert issued["state"] == "issued"
    deal = Deal.objects.select_related("stage").get(pk=world.deal.pk)
    assert (deal.quoted_amount, deal.stage.code) == (Decimal("861.60"), "quoted")
    [follow_up] = Activity.objects.filter(deal=deal, kind="follow_up")
    assert str(follow_up.due_on) == wanted
    forecast = as_ilse("get", "forecast")
    assert (forecast["total"]["amount"], forecast["total"]["weighted"]) == ("861.60", "473.88")
    assert Change.objects.filter(what="deal", field="amount", after="861.60").exists()


@pytest.mark.parametrize(
    "change",
    [
        "UPDATE quotes_revision SET net = 1",
        "DELETE FROM quotes_revision",
        "UPDATE quotes_quoteline SET quantity = 1",
        "DELETE FROM quotes_quoteline",
        "UPDATE quotes_quotepaper SET pdf = ''",
        "UPDATE journal_change SET reason = 'x'",
        "DELETE FROM journal_change",
    ],
)
def test_the_database_itself_refuses_to_change_what_is_frozen(
    issued: Revision, change: str
) -> None:
    with (
        transaction.atomic(),
        connection.cursor() as cursor,
        pytest.raises(OperationalError, match=r"does not change|only grows"),
    ):
        cursor.execute(change)


def test_the_api_refuses_to_save_an_issued_revision(as_ilse: Caller, issued: Revision) -> None:
    refused = as_ilse.ask("put", f"revisions/{issued.pk}", body_of(issued))
    assert (refused.status_code, refused.json()["code"]) == (409, "issued")


def test_a_line_without_a_price_keeps_the_quote_from_being_issued(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    world.post.prices.all().delete()
    refused = as_ilse.ask("post", f"revisions/{drafted.pk}/issue", as_seen(drafted))
    assert (refused.status_code, refused.json()["code"]) == (409, "not_ready")
    assert refused.json()["message"].startswith("Line 1 needs a price")
    assert refused.json()["path"] == "lines[0]"
    assert Revision.objects.get(pk=drafted.pk).issued_at is None
    assert Deal.objects.get(pk=world.deal.pk).quoted_amount is None


def test_the_pdf_shows_the_stored_figures(as_ilse: Caller, issued: Revision) -> None:
    paper = as_ilse.ask("get", f"revisions/{issued.pk}/pdf")
    assert paper["Content-Type"] == "application/pdf"
    words = pypdf.PdfReader(BytesIO(paper.content)).pages[0].extract_text().replace("\xa0", " ")
    for shown in (issued.quote.number, "Hazelmoor Orchards", "788.50", "861.60", "1 033.92"):
        assert shown in words
    assert as_ilse.ask("get", f"revisions/{issued.pk}/pdf").content == paper.content


def test_revising_makes_b_and_keeps_a(world: World, as_ilse: Caller, issued: Revision) -> None:
    made = as_ilse("post", f"quotes/{issued.quote_id}/revise")
    assert (made["letter"], made["state"]) == ("B", "draft")
    assert [line["quantity"] for line in made["lines"]] == ["20", "3"]
    body = {
        "version": made["version"],
        "lines": [
            {"key": "a", "item_id": world.post.pk, "quantity": "30", "unit": "H87"},
        ],
        "valid_until": made["valid_until"],
    }
    as_ilse("put", f"revisions/{made['id']}", body)
    kept = as_ilse("get", f"revisions/{issued.pk}")
    assert kept["priced"]["totals"]["payable"] == "1033.92"
    assert [mark["letter"] for mark in kept["revisions"]] == ["A", "B"]


def test_a_second_draft_is_refused(as_ilse: Caller, issued: Revision) -> None:
    as_ilse("post", f"quotes/{issued.quote_id}/revise")
    assert as_ilse.status("post", f"quotes/{issued.quote_id}/revise") == 409


def test_issuing_b_takes_the_place_of_the_follow_up_for_a(
    as_ilse: Caller, issued: Revision
) -> None:
    made = as_ilse("post", f"quotes/{issued.quote_id}/revise")
    as_ilse("post", f"revisions/{made['id']}/issue", as_seen(made))
    still_due = Activity.objects.filter(kind="follow_up", done_at__isnull=True)
    assert [row.text for row in still_due] == [f"Ask about quote {issued.quote.number} B"]


def test_discarding_the_only_draft_takes_the_quote_with_it(
    as_ilse: Caller, drafted: Revision
) -> None:
    path = f"revisions/{drafted.pk}"
    assert as_ilse.status("delete", path, version=drafted.version) == 204
    assert not Quote.objects.exists()


def test_costs_and_margins_are_hidden_from_those_who_may_not_see_them(
    world: World, drafted: Revision
) -> None:
    Quote.objects.update(owner=world.tomas)
    seen = world.call(world.tomas)("get", f"revisions/{drafted.pk}")
    assert "21.10" not in str(seen)
    for part in (seen["priced"]["totals"], *seen["priced"]["lines"]):
        assert not {"cost", "margin", "margin_percent"} & part.keys()


def test_saving_and_pricing_take_a_constant_number_of_queries(
    world: World, as_ilse: Caller, drafted: Revision, queries_of: Any
) -> None:
    def save(count: int) -> int:
        current = Revision.objects.get(pk=drafted.pk)
        body = body_of(current)
        body["lines"] = [
            {
                "key": f"k{count}-{n}",
                "item_id": world.post.pk,
                "quantity": str(n + 1),
                "unit": "H87",
            }
            for n in range(count)
        ]
        return int(queries_of(lambda: as_ilse("put", f"revisions/{drafted.pk}", body)))

    save(2)
    assert save(60) == save(3)


def test_a_draft_keeps_its_day_until_it_is_priced_as_of_today(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    earlier = world.today - timedelta(days=3)
    Revision.objects.filter(pk=drafted.pk).update(on=earlier)
    world.post.prices.filter(from_quantity=0).update(valid_to=world.today - timedelta(days=1))
    PriceEntryFactory(item=world.post, price=D("45.00"), valid_from=world.today)
    before = as_ilse("get", f"revisions/{drafted.pk}")["priced"]["totals"]["net"]
    saved = as_ilse("put", f"revisions/{drafted.pk}", body_of(drafted, message="Dear Holm"))
    assert (saved["on"], saved["priced"]["totals"]["net"]) == (earlier.isoformat(), before)
    path = f"revisions/{drafted.pk}/issue"
    refused = as_ilse.ask("post", path, as_seen(saved))
    assert (refused.status_code, refused.json()["code"]) == (409, "prices_moved")
    drafted.refresh_from_db()
    saved = as_ilse("put", f"revisions/{drafted.pk}", body_of(drafted, as_of_today=True))
    assert saved["on"] == world.today.isoformat()
    assert saved["priced"]["totals"]["net"] != before
    assert as_ilse.status("post", path, as_seen(saved)) == 200


def test_an_older_draft_whose_prices_stand_is_issued_as_of_today(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    Revision.objects.filter(pk=drafted.pk).update(on=world.today - timedelta(days=3))
    answer = as_ilse("post", f"revisions/{drafted.pk}/issue", as_seen(drafted))
    assert answer["on"] == world.today.isoformat()


def test_a_draft_is_priced_while_typing_as_it_will_be_saved(
    world: World, as_ilse: Caller, drafted: Revision, snapshot: Any
) -> None:
    body = body_of(drafted)
    body["lines"][0]["quantity"] = "120"
    before = snapshot()
    typed = {name: value for name, value in body.items() if name != "version"}
    asked = as_ilse("post", f"revisions/{drafted.pk}/price", {**typed, "trails": ["b"]})
    assert snapshot() == before
    saved = as_ilse("put", f"revisions/{drafted.pk}", body)["priced"]
    assert asked["priced"]["totals"] == saved["totals"]
    assert asked["priced"]["next_breaks"] == saved["next_breaks"]
    first, second = asked["priced"]["lines"]
    assert set(first) == {"id", "price", "per", "unit", "net", "margin_percent"}
    assert second == saved["lines"][1]


def test_typing_hides_costs_and_drafts_as_saving_does(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    body = {name: value for name, value in body_of(drafted).items() if name != "version"}
    path = f"revisions/{drafted.pk}/price"
    assert world.call(world.stranger).status("post", path, body) == 404
    world.ilse.may_see_margin = False
    world.ilse.save()
    line = as_ilse("post", path, body)["priced"]["lines"][0]
    assert "cost" not in line and "margin" not in line
    issued = issue_revision(
        world.ilse, drafted.pk, drafted.version, today=world.today, now=timezone.now()
    )
    assert as_ilse.status("post", f"revisions/{issued.pk}/price", body) == 404


def test_terms_and_places_go_with_the_quote_to_paper_and_order(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    place = world.customer.addresses.get()
    wanted = (world.today + timedelta(days=20)).isoformat()
    terms = {"terms_days": 14, "terms_end_of_month": "after", "requested_on": wanted}
    body = body_of(drafted, delivery_address_id=place.pk, **terms)
    saved = as_ilse("put", f"revisions/{drafted.pk}", body)
    shown = as_ilse("get", f"revisions/{drafted.pk}")
    assert {name: shown[name] for name in terms} == terms
    assert shown["delivery_address_id"] == place.pk
    as_ilse("post", f"revisions/{drafted.pk}/issue", as_seen(saved))
    pdf = as_ilse.ask("get", f"revisions/{drafted.pk}/pdf").content
    text = " ".join(pypdf.PdfReader(BytesIO(pdf)).pages[0].extract_text().split())
    assert "net 14 days, end of month" in text and place.street in text and "Wanted by" in text
    revised = as_ilse("post", f"quotes/{shown['quote_id']}/revise")
    assert {name: revised[name] for name in terms} == terms


def test_a_wanted_day_in_the_past_or_a_strange_place_is_refused(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    path = f"revisions/{drafted.pk}"
    past = as_ilse.ask("put", path, body_of(drafted, requested_on="2001-01-01"))
    assert (past.status_code, past.json()["path"]) == (422, "requested_on")
    assert as_ilse.status("put", path, body_of(drafted, delivery_address_id=999_999)) == 404
    assert as_ilse.status("put", path, body_of(drafted, terms_days=1000)) == 422


def test_who_gave_what_is_recorded(world: World, as_ilse: Caller, drafted: Revision) -> None:
    body = body_of(drafted, discount_percent="4")
    body["lines"][0] |= {"price": "39.00", "price_reason": "Season", "discount_percent": None}
    as_ilse("put", f"revisions/{drafted.pk}", body)
    found = {
        row["field"]: (row["who"], row["before"], row["after"])
        for row in reversed(as_ilse("get", f"quotes/{drafted.quote_id}/history"))
    }
    name = world.ilse.name
    assert found["A, line 1 Chestnut post: price"] == (name, "", "39")
    assert found["A, line 1 Chestnut post: discount %"][1:] == ("5", "")
    assert found["A, discount"] == (name, "3 % on net", "4 % on net")
    assert world.call(world.stranger).status("get", f"quotes/{drafted.quote_id}/history") == 404


def test_what_moved_since_it_was_saved_is_not_issued_unseen(
    world: World, as_ilse: Caller, drafted: Revision, snapshot: Any
) -> None:
    world.wire.prices.update(price=D("0.50"))
    before = snapshot()
    refused = as_ilse.ask("post", f"revisions/{drafted.pk}/issue", as_seen(drafted))
    assert (refused.status_code, refused.json()["code"]) == (409, "prices_moved")
    assert snapshot() == before


def test_the_save_has_the_last_word_over_prices_of_a_moment_ago(
    world: World, as_ilse: Caller, drafted: Revision, monkeypatch: pytest.MonkeyPatch
) -> None:
    body = body_of(drafted)
    typed = {name: value for name, value in body.items() if name != "version"}

    def asked() -> str:
        answer = as_ilse("post", f"revisions/{drafted.pk}/price", typed)
        return str(answer["priced"]["totals"]["net"])

    first = asked()
    world.wire.prices.update(price=D("0.50"))
    assert asked() == first
    saved = as_ilse("put", f"revisions/{drafted.pk}", body)["priced"]["totals"]["net"]
    assert saved != first
    monkeypatch.setattr("apps.quotes.quick.SECONDS", 0)
    assert asked() == saved


def test_a_quote_is_paid_in_parts_on_a_fixed_day_or_less_if_early(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    def put(**more: Any) -> Any:
        version = Revision.objects.get(pk=drafted.pk).version
        body = body_of(drafted, terms_days=30, terms_more=more)
        return as_ilse.ask("put", f"revisions/{drafted.pk}", {**body, "version": version})

    early = put(early={"percent": "2", "days": 10}).json()
    assert early["early_yearly_rate"] == "37.24"
    shown = as_ilse("get", f"revisions/{drafted.pk}")
    assert shown["terms_words"] == "2 % off within 10 days, net 30 days"
    put(fixed_day=10)
    shown = as_ilse("get", f"revisions/{drafted.pk}")
    assert shown["terms_words"] == "on day 10 of the next month"
    put(instalments=[{"percent": "30", "days": 0}, {"percent": "70", "days": 60}])
    shown = as_ilse("get", f"revisions/{drafted.pk}")
    assert shown["terms_words"] == "30 % net 0 days, 70 % net 60 days"

    for wrong, path in (
        ({"instalments": [{"percent": "30", "days": 0}]}, "terms_more.instalments"),
        ({"early": {"percent": "2", "days": 30}}, "terms_more.early.days"),
        ({"early": {"percent": "100", "days": 5}}, "terms_more.early.percent"),
    ):
        refused = put(**wrong)
        assert (refused.status_code, refused.json()["path"]) == (422, path)
    assert as_ilse("get", f"revisions/{drafted.pk}")["terms_words"] == shown["terms_words"]


def test_further_terms_go_to_the_order_and_to_the_back_office(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    more = {"instalments": [{"percent": "50", "days": 0}, {"percent": "50", "days": 60}]}
    saved = as_ilse(
        "put", f"revisions/{drafted.pk}", body_of(drafted, terms_days=30, terms_more=more)
    )
    done = issue_revision(
        world.ilse, drafted.pk, saved["version"], today=world.today, now=timezone.now()
    )
    order = write_order(
        world.ilse, done.pk, done.version, today=world.today, now=timezone.now(), close_deal=False
    )
    terms: Any = payload_of(order)["terms"]
    assert terms["instalments"] == more["instalments"]
    assert due_day(date(2026, 1, 15), **terms) == date(2026, 3, 16)
    assert due_day(date(2026, 1, 15), 0, "", fixed_day=31) == date(2026, 2, 28)
