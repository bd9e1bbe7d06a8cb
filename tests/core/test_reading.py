"""Numbers and tables as people paste them."""

from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.reading import NumberStyle, read_number, read_rows, style_of

D = Decimal


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("12", "12"), ("12.5", "12.5"), ("12,5", "12.5"), ("1.234,50", "1234.50"), ("1,234.50", "1234.50"),
        ("1 234,5", "1234.5"), ("1'234.5", "1234.5"), ("1.234.567", "1234567"), ("0.385", "0.385"),
        ("0,385", "0.385"), ("1.2345", "1.2345"),
    ],
)  # fmt: skip
def test_numbers_of_any_habit(text: str, value: str) -> None:
    assert read_number(text)[0] == D(value)


@pytest.mark.parametrize(
    "text", ["", "x", "1.2.3", "1,23,4", "-5", "1e400", "NaN", "1,234,56", "12 pcs"]
)
def test_what_is_no_number(text: str) -> None:
    assert read_number(text)[0] is None


def test_a_single_group_of_three_stays_in_doubt_until_its_column_decides() -> None:
    assert read_number("1.234") == (D(1234), False)
    assert read_number("1.234", style_of(["1.234", "2,5"])) == (D(1234), True)
    assert read_number("1.234", style_of(["1.234", "2.5"])) == (D("1.234"), True)
    assert style_of(["2,5", "2.5"]) == NumberStyle()


@given(st.decimals(0, 10**9, places=2))
def test_both_habits_read_back(value: Decimal) -> None:
    english = f"{value:,.2f}"
    german = english.replace(",", " ").replace(".", ",").replace(" ", ".")
    assert read_number(english) == (value, True)
    assert read_number(german) == (value, True)


TABLES = {
    "headings in another order": "Menge\tArtikel\tPreis\n20\tPOST-25\t41,50\n3\tWIRE-2\t38,00",
    "no headings": "POST-25\t20\t41,50\nWIRE-2\t3\t38,00",
    "semicolons": "Code;Qty;Price\nPOST-25;20;41.50\nWIRE-2;3;38.00",
    "commas and quotes": '"POST-25",20,41.50\n"WIRE-2",3,38.00',
    "windows lines and an empty row": "POST-25\t20\t41,50\r\n\t\t\r\nWIRE-2\t3\t38,00\r\n",
}


@pytest.mark.parametrize("text", TABLES.values(), ids=TABLES.keys())
def test_columns_in_any_order_with_or_without_headings(text: str) -> None:
    found = [(row.words, row.quantity, row.price) for row in read_rows(text)]
    assert found == [("POST-25", D(20), D("41.50")), ("WIRE-2", D(3), D(38))]


def test_a_column_of_unit_words_is_the_unit() -> None:
    [row, _] = read_rows("POST-25\t2\tpallet\nWIRE-2\t3\troll", {"pallet", "roll"})
    assert (row.words, row.unit) == ("POST-25", "pallet")


def test_what_cannot_be_read_is_in_doubt_and_never_guessed() -> None:
    [row] = read_rows("Code\tQty\nPOST-25\tfive")
    assert (row.quantity, row.doubts) == (None, ("quantity",))


def test_more_than_a_thousand_rows_are_refused() -> None:
    with pytest.raises(InvalidInput, match="too_many_rows"):
        read_rows("POST\t1\n" * 1001)


@given(st.text(max_size=300))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        read_rows(text)
    except InvalidInput as error:
        assert error.code in ("not_a_table", "too_many_rows")
