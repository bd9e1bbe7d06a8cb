"""Searches by the beginnings of words and of numbers. A word index sees what is committed."""

from django.utils import timezone
import pytest

from apps.orders.flows import write_order
from apps.quotes.models import Revision
from apps.searching import tokens
from demo.factories import ContactFactory
from tests.server.conftest import World

pytestmark = pytest.mark.django_db(transaction=True)

#: What is typed, and the lists that must find Hazelmoor Orchards, its deal "New frost line" …
FOUND = [
    ("hazel", ["customers", "deals", "quotes", "orders"]),
    ("Hazelmoor orch", ["customers", "deals", "quotes", "orders"]),
    ("orchards HAZELMOOR", ["customers", "deals", "quotes", "orders"]),
    ("frost", ["deals", "quotes"]),
    ("frost haz", ["deals", "quotes"]),
    ("maren", ["customers"]),
    ("marrow vale", ["customers"]),
    ("C-1", ["customers"]),
    ("c-", ["customers"]),
    ("h", ["customers", "quotes", "orders"]),
    ("PO-77", []),
    ("moor", []),
    ("hazel drip", []),
    ("z", []),
]
HOSTILE = [
    "+",
    "-",
    '"',
    "(",
    ")",
    "*",
    "~",
    "<",
    ">",
    "@",
    "%",
    "_",
    "\\",
    "'",
    "+*",
    '"hazel',
    "@8",
    "__",
]


@pytest.fixture
def ordered(world: World, issued: Revision) -> Revision:
    write_order(
        *(world.ilse, issued.pk, issued.version),
        today=world.today,
        now=timezone.now(),
        close_deal=False,
    )
    return issued


@pytest.mark.parametrize("common", [0, 10**9], ids=["by the index", "looked at one by one"])
def test_lists_find_beginnings_of_words_and_of_numbers(
    world: World, ordered: Revision, common: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("apps.searching.COMMON", common)
    ilse, stranger = world.call(world.ilse), world.call(world.stranger)
    for words, places in FOUND:
        found = {
            p
            for p in ("customers", "deals", "quotes", "orders")
            if ilse("get", p, words=words)["count"]
        }
        assert found == set(places), words
        assert not any(stranger("get", place, words=words)["count"] for place in places), words
    number = ordered.quote.number
    for words in (number, number[:4], number.lower(), f"{number} hazel"):
        assert ilse("get", "quotes", words=words)["count"] == 1, words
    assert ilse("get", "quotes", words="Q-99")["count"] == 0
    for _ in range(3):
        ContactFactory(customer=world.customer, name="Maren Marsh")
    assert ilse("get", "customers", words="ma mar mars marr maren m")["count"] == 1
    for sign in HOSTILE:
        for place in ("customers", "deals", "quotes", "orders", "go", "items"):
            assert ilse.status("get", place, words=sign) == 200, (place, sign)
    kinds = {hit["kind"] for hit in ilse("get", "go", words="hazel")}
    assert kinds == {"customer", "deal", "quote", "order"}
    assert [hit["detail"] for hit in ilse("get", "go", words="chest")] == ["POST-25"]
    assert [row["code"] for row in ilse("get", "items", words="post")] == ["POST-25"]
    assert [row["code"] for row in ilse("get", "items", words="POST-2")] == ["POST-25"]
    entries = world.call(world.admin)("get", "prices/records/entries", words="wire")
    assert [row["values"]["item"] for row in entries["rows"]] == ["WIRE-2"]
    assert b"Hazelmoor" in ilse.ask("get", "customers.csv", words="maren").content
    assert b"Hazelmoor" not in ilse.ask("get", "customers.csv", words="oak").content


def test_a_word_is_letters_and_figures() -> None:
    assert tokens("Frühjahr-2027") == ["Frühjahr", "2027"]
