"""Lists that are longer than what is counted, files that are longer than what is read at once."""

from datetime import timedelta
from decimal import Decimal
from io import BytesIO

from django.db.models import F, QuerySet, Sum
from django.utils import timezone
from openpyxl import load_workbook
import pytest

from apps.deals.models import Deal
from apps.errors import Invalid
from apps.listing import Ordered, Span, count, in_order, pointing, sorts_for
from apps.orders.models import Order
from apps.orders.queries import worth_of
from apps.quotes.flows.starting import start_quote
from apps.quotes.models import Quote, Revision
from apps.quotes.queries import SORTS
from apps.quotes.queries import WORDS as QUOTE_WORDS
from demo.factories import CustomerFactory, DealFactory
from routecore.money import round_amount
from tests.server.conftest import Caller, World

D = Decimal


@pytest.fixture
def many(world: World) -> list[Revision]:
    """Seven quotes, of customers from Z to T."""
    names = ["Zelk", "Yarrow", "Xan", "Wold", "Vane", "Umber", "Tarn"]
    return [
        start_quote(
            world.ilse,
            today=world.today - timedelta(days=n),
            customer_id=CustomerFactory(name=name, owner=world.ilse).pk,
        )
        for n, name in enumerate(names)
    ]


def test_a_list_counts_and_sums_only_so_far_and_says_so(
    world: World, as_ilse: Caller, many: list[Revision], monkeypatch: pytest.MonkeyPatch
) -> None:
    Revision.objects.update(net=D("10.50"), payable=D("12.60"))
    whole = as_ilse("get", "quotes")
    assert (whole["count"], whole["more"], whole["sums"]) == (7, False, {"EUR": "73.50"})
    monkeypatch.setattr("apps.listing.MOST", 4)
    longer = as_ilse("get", "quotes")
    assert (longer["count"], longer["more"], longer["sums"]) == (4, True, {})
    assert len(longer["rows"]) == 7
    narrowed = as_ilse("get", "quotes", since=(world.today - timedelta(days=2)).isoformat())
    assert (narrowed["count"], narrowed["more"], narrowed["sums"]) == (3, False, {"EUR": "31.50"})


def test_deals_beyond_the_count_have_no_sums(
    world: World, as_ilse: Caller, monkeypatch: pytest.MonkeyPatch
) -> None:
    DealFactory.create_batch(3, owner=world.ilse, customer=world.customer)
    monkeypatch.setattr("apps.listing.MOST", 2)
    page = as_ilse("get", "deals")
    assert (page["more"], page["sums"], page["count"]) == (True, None, 2)
    assert as_ilse("get", "timetable") != []


@pytest.mark.parametrize("more", [False, True], ids=["counted", "longer"])
@pytest.mark.parametrize("values", [(), ("currency", "net")], ids=["alone", "summed"])
@pytest.mark.parametrize("sort", [s + key for key in (*SORTS, "declined") for s in ("", "-")])
def test_pages_follow_each_other_without_gap_or_double(
    world: World,
    many: list[Revision],
    monkeypatch: pytest.MonkeyPatch,
    sort: str,
    values: tuple[str, ...],
    more: bool,
) -> None:
    monkeypatch.setattr("apps.listing.MOST", 3 if more else 99)
    Quote.objects.filter(pk=many[2].quote_id).update(declined_at=timezone.now())
    ordered = in_order(Quote.objects.all(), sort, {**SORTS, "declined": "declined_at"}, "-date")
    found = count(ordered, *values)
    assert found.more == more
    pages = [found.page(slice(n, n + 3), Quote.objects.all()) for n in (0, 3, 6)]
    assert [len(page) for page in pages] == [3, 3, 1]
    seen = [row.pk for page in pages for row in page]
    assert seen == ordered.keys(slice(0, 9)) == list(by_hand(ordered))
    assert len(set(seen)) == 7


def by_hand(ordered: Ordered[Quote]) -> QuerySet[Quote, int]:
    """The order as one query says it: empty values last."""
    first, *rest = ordered.columns
    rising = F(first).asc(nulls_last=True) if not first.startswith("-") else first
    return ordered.rows.order_by(rising, *rest).values_list("pk", flat=True)


def test_a_page_beyond_the_end_is_the_last() -> None:
    assert Span.of(120, 9) == Span(3, 3)
    assert Span.of(0, 1).slice == slice(0, 50)


def test_a_rep_who_sees_their_own_alone_sorts_by_no_owner(world: World) -> None:
    assert "owner" not in sorts_for(world.ilse, SORTS)
    assert "owner" in sorts_for(world.petra, SORTS)
    assert world.call(world.ilse).status("get", "quotes", sort="owner") == 200


def test_a_search_of_many_records_is_asked_by_the_query(
    world: World, many: list[Revision], monkeypatch: pytest.MonkeyPatch
) -> None:
    found = Quote.objects.filter(number__gt=many[1].quote.number)
    few = Revision.objects.filter(pointing("quote", found))
    monkeypatch.setattr("apps.listing.MOST", 2)
    longer = Revision.objects.filter(pointing("quote", found))
    assert "SELECT U0" not in str(few.query)
    assert "SELECT U0" in str(longer.query)
    assert set(few) == set(longer) == set(Revision.objects.filter(quote__in=list(found))) != set()


def test_keys_are_written_into_a_query_and_nothing_else_is(
    world: World, many: list[Revision]
) -> None:
    pks = [row.pk for row in many[:3]]
    found = Revision.objects.filter(pk__among=[*pks, pks[0]])
    assert set(found) == set(many[:3])
    assert set(Revision.objects.filter(quote__among=[many[0].quote_id])) == {many[0]}
    assert not Revision.objects.filter(pk__among=[]).exists()
    assert set(Revision.objects.exclude(pk__among=pks)) == set(Revision.objects.all()) - set(found)
    for bad in ("1", "0) OR (1=1", 1.0, True, None):
        with pytest.raises(TypeError):
            Revision.objects.filter(pk__among=[bad])


def test_sums_are_by_currency(world: World, many: list[Revision]) -> None:
    Revision.objects.filter(pk=many[0].pk).update(currency="GBP", net=D(5))
    Revision.objects.filter(pk=many[1].pk).update(net=D("7.25"))
    found = count(Ordered(Quote.objects.all(), ("pk",)), "currency", "net")
    assert found.sums == {"GBP": D(5), "EUR": D("7.25")}


def test_the_worth_of_orders_is_each_ones_rounded_once(world: World, issued: Revision) -> None:
    assert worth_of(Order.objects.none(), {"EUR": D(1)}, world.today) == (0, D(0))
    rows = [("EUR", D("10.00")), ("GBP", D("33.33")), ("GBP", D("0.43")), ("GBP", D("9.99"))]
    rates = {"EUR": D(1), "GBP": D("1.168450")}
    expected = sum((round_amount(amount * rates[code], "EUR") for code, amount in rows), D(0))
    assert expected == D("10.00") + D("38.94") + D("0.50") + D("11.67")
    for n, (code, amount) in enumerate(rows):
        fresh = start_quote(world.ilse, today=world.today, customer_id=world.customer.pk)
        Order.objects.create(
            number=f"O-{n}",
            revision=fresh,
            customer=world.customer,
            owner=world.ilse,
            accepted_on=world.today,
            currency=code,
            terms_days=30,
            **dict.fromkeys(
                (
                    *("lines_net", "document_discount", "net", "tax_total", "gross"),
                    *("payable_rounding", "base_payable"),
                ),
                D(0),
            ),
            payable=amount,
        )
    assert worth_of(Order.objects.all(), rates, world.today) == (4, expected)
    with pytest.raises(Invalid, match="GBP"):
        worth_of(Order.objects.all(), {"EUR": D(1)}, world.today)


@pytest.mark.parametrize("kind", ["csv", "xlsx"])
def test_a_long_file_is_sent_piece_by_piece_and_is_the_same(
    as_ilse: Caller, many: list[Revision], monkeypatch: pytest.MonkeyPatch, kind: str
) -> None:
    def cells(answer: object) -> list[list[str]]:
        body = b"".join(answer.streaming_content) if answer.streaming else answer.content  # type: ignore[attr-defined]
        if kind == "csv":
            return [line.split(",") for line in body.decode("utf-8-sig").splitlines()]
        sheet = load_workbook(BytesIO(body)).active
        return [[str(cell) for cell in row] for row in sheet.iter_rows(values_only=True)]

    whole = as_ilse.ask("get", f"quotes.{kind}")
    monkeypatch.setattr("apps.listing.BATCH", 2)
    pieces = as_ilse.ask("get", f"quotes.{kind}")
    assert (whole.streaming, pieces.streaming) == (False, True)
    found = cells(pieces)
    assert found == cells(whole)
    assert len(found) == 8
    assert pieces.headers["Content-Disposition"] == f'attachment; filename="quotes.{kind}"'


def test_a_file_ends_at_its_longest(
    as_ilse: Caller, many: list[Revision], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("apps.listing.LONGEST_FILE", 3)
    monkeypatch.setattr("apps.listing.in_batches.__defaults__", (3,))
    body = as_ilse.ask("get", "quotes.csv").content.decode()
    assert len(body.splitlines()) == 4


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("recent", [1, 3, 500])
def test_the_newest_by_words_are_the_same_however_they_are_found(
    world: World, many: list[Revision], monkeypatch: pytest.MonkeyPatch, recent: int
) -> None:
    monkeypatch.setattr("apps.searching.RECENT", recent)
    rows = Quote.objects.all()
    for words in ("tar", "w", "yarrow", "q-", "q-99", "zelk y", many[3].quote.number, "qq"):
        for most in (1, 2, 5):
            expected = list(
                QUOTE_WORDS.find(rows, words).order_by("-pk").values_list("pk", flat=True)
            )
            assert QUOTE_WORDS.newest(rows, words, most) == expected[:most], (words, most)


def test_the_sum_of_a_forecast_is_asked_once_for_all_deals(world: World, as_ilse: Caller) -> None:
    DealFactory.create_batch(5, owner=world.ilse, customer=world.customer, estimate=D("99.99"))
    total = Deal.objects.filter(owner=world.ilse).aggregate(Sum("amount"))["amount__sum"]
    assert as_ilse("get", "forecast")["total"]["amount"] == f"{total:.2f}"
