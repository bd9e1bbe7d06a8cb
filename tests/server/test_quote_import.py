"""Quotes from a file: many in one, each whole or not at all, every refused row with its place."""

from decimal import Decimal
from typing import Any

import pytest

from apps.quotes.flows.ending import discard_draft
from apps.quotes.flows.filing import file_quotes
from apps.quotes.models import Quote, QuoteLine, Revision
from tests.server.conftest import Caller, World

HEAD = "Quote;Customer;Reference;Valid until;Kind;Item;Text;Quantity;Unit;Price;Reason;Discount %\n"
GOOD = (
    "1;C-1;RFQ 7;;;;=heading text;;;;;\n"
    "1;;;;heading;;Fence;;;;;\n"
    "1;;;;;POST-25;;20;;;;5\n"
    "1;;;;alternative;galvanised wire;;1.200,50;metre;0,35;Season;\n"
)


def send(caller: Caller, rows: str, *, keep: bool = True, name: str = "quotes.csv") -> Any:
    """What came of a file of these rows."""
    return caller.send("quotes/import", name, (HEAD + rows).encode(), keep=keep)


def test_a_file_makes_a_draft_of_each_quote(world: World, as_ilse: Caller) -> None:
    rows = GOOD.partition("\n")[2] + "2;Hazelmoor Orchards;RFQ 8;31.12.2099;;POST-25;;1;;;;\n"
    report = send(as_ilse, "1;C-1;RFQ 7;;note;;First;;;;;\n" + rows)
    assert report["faults"] == []
    assert [(row["quote"], row["lines"], row["net"]) for row in report["filed"]] == [
        ("1", 4, "788.50"),
        ("2", 1, "41.50"),
    ]
    made = Revision.objects.get(pk=report["filed"][0]["revision_id"])
    assert (made.buyer_reference, made.quote.customer) == ("RFQ 7", world.customer)
    kinds = list(made.lines.order_by("position").values_list("kind", "quantity", "typed_price"))
    assert kinds[3] == ("alternative", Decimal("1200.5"), Decimal("0.35"))
    assert kinds[:2] == [("note", None, None), ("heading", None, None)]
    other = Revision.objects.get(pk=report["filed"][1]["revision_id"])
    assert other.valid_until.isoformat() == "2099-12-31"


def test_a_quote_with_one_bad_row_is_not_made_and_the_others_are(
    world: World, as_ilse: Caller
) -> None:
    bad = "a;C-1;;;;POST-25;;5;;;;\na;C-1;;;;NOTHING;;5;;;;\na;C-1;;;;POST-25;;1.234;;;;\n"
    report = send(as_ilse, bad + "b;C-1;;;;POST-25;;5;;;;\n")
    assert [(row["row"], row["quote"], row["field"]) for row in report["faults"]] == [
        (3, "a", "item"),
        (4, "a", "quantity"),
    ]
    assert [row["quote"] for row in report["filed"]] == ["b"]
    assert Quote.objects.count() == 1


def test_a_trial_says_the_same_and_keeps_nothing(
    world: World, as_ilse: Caller, snapshot: Any
) -> None:
    before = snapshot()
    report = send(as_ilse, "b;C-1;;;;POST-25;;5;;;;\n", keep=False)
    assert [(row["net"], row["number"]) for row in report["filed"]] == [("207.50", "")]
    assert snapshot() == before


@pytest.mark.parametrize(
    ("row", "field"),
    [
        (";C-1;;;;POST-25;;5;;;;", "quote"),
        ("a;C-9;;;;POST-25;;5;;;;", "customer"),
        ("a;;;;;POST-25;;5;;;;", "customer"),
        ("a;C-1;;32.12.2026;;POST-25;;5;;;;", "valid_until"),
        ("a;C-1;;2001-01-01;;POST-25;;5;;;;", "valid_until"),
        ("a;C-1;;;gift;POST-25;;5;;;;", "kind"),
        ("a;C-1;;;heading;;;;;;;", "text"),
        ("a;C-1;;;;POST-25;;;;;;", "quantity"),
        ("a;C-1;;;;POST-25;;1e400;;;;", "quantity"),
        ("a;C-1;;;;POST-25;;0;;;;", "quantity"),
        ("a;C-1;;;;POST-25;;-3;;;;", "quantity"),
        ("a;C-1;;;;POST-25;;=1+1;;;;", "quantity"),
        ("a;C-1;;;;POST-25;;5;roll;;;", "unit"),
        ("a;C-1;;;;POST-25;;5;;cheap;;", "price"),
        ("a;C-1;;;;POST-25;;5;;;;250", "discount"),
    ],
)
def test_a_refused_row_names_its_column(as_ilse: Caller, row: str, field: str) -> None:
    report = send(as_ilse, row + "\n")
    assert [(fault["row"], fault["field"]) for fault in report["faults"]] == [(2, field)]
    assert not QuoteLine.objects.exists()


def test_rows_of_one_quote_agree_about_the_whole(world: World, as_ilse: Caller) -> None:
    report = send(as_ilse, "a;C-1;X;;;POST-25;;5;;;;\na;C-1;Y;;;POST-25;;5;;;;\n")
    assert [fault["field"] for fault in report["faults"]] == ["reference"]


def test_too_many_rows_or_quotes_are_refused_as_a_whole(as_ilse: Caller) -> None:
    line = ";C-1;;;;POST-25;;5;;;;\n"
    assert send(as_ilse, "".join(f"{n}{line}" for n in range(501)))["code"] == "too_many"
    assert send(as_ilse, f"a{line}" * 100_000)["code"] == "too_many_rows"


def test_somebody_elses_customer_is_not_known(world: World) -> None:
    report = send(world.call(world.stranger), "a;C-1;;;;POST-25;;5;;;;\n")
    assert [fault["field"] for fault in report["faults"]] == ["customer"]


def test_the_template_comes_in_again(world: World, as_ilse: Caller) -> None:
    for kind in ("csv", "xlsx"):
        body = as_ilse.ask("get", f"quotes/template.{kind}").content
        report = as_ilse.send("quotes/import", f"template.{kind}", body, keep=False)
        assert (report["faults"], len(report["filed"])) == ([], 1)


def test_the_queries_do_not_grow_with_the_rows_of_a_quote(
    world: World, as_ilse: Caller, queries_of: Any
) -> None:
    line = "a;C-1;;;;POST-25;;5;;;;\n"
    few = queries_of(lambda: send(as_ilse, line * 3, keep=False))
    many = queries_of(lambda: send(as_ilse, line * 60, keep=False))
    assert many <= few


def test_a_file_that_was_broken_off_goes_on_without_doubles(world: World, as_ilse: Caller) -> None:
    rows = "".join(f"{n};C-1;;;;POST-25;;{n};;;;\n" for n in (1, 2, 3, 4))
    steps = file_quotes(world.ilse, "q.csv", (HEAD + rows).encode(), today=world.today, keep=True)
    assert [next(steps), next(steps)] == [1, 2]
    steps.close()  # type: ignore[attr-defined]
    assert Quote.objects.count() == 2
    report = send(as_ilse, rows, name="q.csv")
    assert [row["there"] for row in report["filed"]] == [True, True, False, False]
    assert Quote.objects.count() == 4
    assert all(row["number"] for row in report["filed"])
    again = send(as_ilse, rows, name="renamed.csv")
    assert [row["revision_id"] for row in again["filed"]] == [
        row["revision_id"] for row in report["filed"]
    ]
    assert Quote.objects.count() == 4


def test_another_file_and_another_person_make_their_own(world: World, as_ilse: Caller) -> None:
    send(as_ilse, "1;C-1;;;;POST-25;;5;;;;\n")
    send(as_ilse, "1;C-1;;;;POST-25;;6;;;;\n")
    send(world.call(world.petra), "1;C-1;;;;POST-25;;5;;;;\n")
    assert Quote.objects.count() == 3


def test_a_quote_of_a_file_that_was_discarded_is_made_anew(world: World, as_ilse: Caller) -> None:
    rows = "1;C-1;;;;POST-25;;5;;;;\n"
    made = Revision.objects.get(pk=send(as_ilse, rows)["filed"][0]["revision_id"])
    discard_draft(world.ilse, made.pk, made.version, today=world.today)
    report = send(as_ilse, rows)
    assert (report["filed"][0]["there"], Quote.objects.count()) == (False, 1)
