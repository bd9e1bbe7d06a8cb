"""Numbers and tables as people paste them."""

from decimal import Decimal
import json
from pathlib import Path

from hypothesis import example, given
from hypothesis import strategies as st
import pytest

from routecore.errors import InvalidInput
from routecore.reading import ReadRow, read_number, read_rows, style_of
from routecore.reading.numbers import readings_of

D = Decimal


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("12", "12"), ("12.5", "12.5"), ("12,5", "12.5"), ("1.234,50", "1234.50"), ("1,234.50", "1234.50"),
        ("1 234,5", "1234.5"), ("1'234.5", "1234.5"), ("1.234.567", "1234567"), ("0.385", "0.385"),
        ("0,385", "0.385"), ("1.2345", "1.2345"), ("1’234.50", "1234.50"), (",5", "0.5"), ("01.234", "1.234"),
    ],
)  # fmt: skip
def test_numbers_of_any_habit(text: str, value: str) -> None:
    number = read_number(text)
    assert number is not None and number.value == D(value)


@pytest.mark.parametrize(
    "text",
    [
        "", "x", "1.2.3", "1,23,4", "-5", "1e400", "NaN", "1,234,56", "12 pcs", "1 2", "20 5", "5'10",
        "1.234 567", "0.500.000", "1.2345678", "1234567890123456",
    ],
)  # fmt: skip
def test_what_fits_no_reading_is_no_number(text: str) -> None:
    assert read_number(text) is None


def test_a_single_group_of_three_stays_in_doubt_until_its_column_decides() -> None:
    def read(text: str, *column: str) -> tuple[Decimal, list[Decimal]]:
        number = read_number(text, style_of([text, *column]))
        assert number is not None
        return number.value, [other.value for other in number.others]

    assert read("1.234") == (D(1234), [D("1.234")])
    assert read("1,234") == (D(1234), [D("1.234")])
    assert read("1.234", "2,5") == (D(1234), [])
    assert read("1.234", "2.5") == (D("1.234"), [])
    assert read("1.234", "2.5", "2,5") == (D(1234), [D("1.234")])


@given(st.decimals(0, 10**9, places=2))
def test_both_habits_read_back(value: Decimal) -> None:
    english = f"{value:,.2f}"
    german = english.replace(",", " ").replace(".", ",").replace(" ", ".")
    for written in (english, german, english.replace(",", "’")):
        number = read_number(written)
        assert number is not None and (number.value, number.certain) == (value, True)


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


KNOWN = {"1001", "post-25"}
UNITS = {"roll", "rolls"}


def rows(text: str, known: set[str] = KNOWN) -> list[ReadRow]:
    return read_rows(text, UNITS, lambda words: words.lower() in known)


def meant(row: ReadRow) -> tuple[str, str, str]:
    return row.words, str(row.quantity), str(row.price)


@pytest.mark.parametrize(
    ("text", "first", "doubts", "other"),
    [
        # what is written, the likeliest reading, what is in doubt, one of the other readings
        ("1001\tOak post\t20", ("1001", "20", "None"), (), None),
        ("1001\t20\t41.50", ("1001", "20", "41.50"), (), None),
        ("POST-25,20,41,50", ("POST-25", "20", "41.50"), ("quantity", "price"), ("POST-25", "20", "41")),
        ("POST-25,20,41.50", ("POST-25", "20", "41.50"), (), None),
        ("Item,Qty\nPOST-25,1,5", ("POST-25", "1.5", "None"), ("quantity",), ("POST-25", "1", "None")),
        ("POST-25 20 41,50", ("POST-25", "20", "41.50"), (), None),
        ("No.\tItem\tQty\n1\tPOST-25\t20", ("POST-25", "20", "None"), (), None),
        ("Item\tAmount\tQty\nPOST-25\t830.00\t20", ("POST-25", "20", "None"), (), None),
        ("POST-25\t1.234", ("POST-25", "1234", "None"), ("quantity",), ("POST-25", "1.234", "None")),
        ("POST-25\t41.50\t20", ("POST-25", "41.50", "20"), ("quantity", "price"), ("POST-25", "20", "41.50")),
        ("20\tPOST-25\t41.50", ("POST-25", "20", "41.50"), ("quantity", "price"), ("POST-25", "41.50", "None")),
        ("20 x POST-25", ("POST-25", "20", "None"), (), None),
        ("1 2\tPOST-25", ("1 2", "None", "None"), (), None),
    ],
)  # fmt: skip
def test_a_row_is_certain_only_where_no_other_reading_exists(
    text: str, first: tuple[str, str, str], doubts: tuple[str, ...], other: tuple[str, str, str] | None
) -> None:  # fmt: skip
    [row] = rows(text)
    assert (meant(row), row.doubts) == (first, doubts)
    assert bool(row.others) == bool(doubts)
    if other:
        assert other in [(r.words, str(r.quantity), str(r.price)) for r in row.others]


def test_numbers_that_could_be_a_code_a_quantity_or_a_price_are_all_offered() -> None:
    [row] = rows("1001\tOak post\t20", known=set())
    found = {meant(row), *((r.words, str(r.quantity), str(r.price)) for r in row.others)}
    assert found == {
        ("Oak post", "1001", "20"),
        ("Oak post", "20", "None"),
        ("1001", "20", "None"),
    }
    assert row.doubts == ("item", "quantity", "price")
    assert {reading.why for reading in row.others} == {"position", "code"}


def test_numbers_alone_make_rows_too() -> None:
    [row] = rows("7007\t20\t41.50", known=set())
    assert meant(row) == ("7007", "20", "41.50")


def test_one_bad_cell_does_not_hide_its_column() -> None:
    found = rows("POST-25\t3 rolls\nWIRE-2\t4\nBARK\tplenty\nPEAT\t5")
    assert [(row.quantity, row.unit, row.doubts) for row in found] == [
        (D(3), "rolls", ()),
        (D(4), "", ()),
        (None, "", ("quantity",)),
        (D(5), "", ()),
    ]


def test_a_third_column_that_is_the_product_settles_the_other_two() -> None:
    [row] = rows("POST-25\t20\t2.50\t50.00")
    assert (meant(row), row.doubts) == (("POST-25", "20", "2.50"), ())


def test_more_than_a_thousand_rows_are_refused() -> None:
    with pytest.raises(InvalidInput, match="too_many_rows"):
        read_rows("POST\t1\n" * 1001)


@given(st.one_of(st.text(max_size=300), st.text(alphabet="A1,;.\t\n '’", max_size=40)))
@example(",")
@example(";;\n;")
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        read_rows(text)
    except InvalidInput as error:
        assert error.code in ("not_a_table", "too_many_rows")


def test_the_browser_reads_numbers_by_the_same_examples() -> None:
    """The examples that the browser's own reading is held to, in ``readNumber.test.ts``."""
    path = Path(__file__).parents[1] / "shared" / "numbers.json"
    examples = json.loads(path.read_text())
    assert len(examples) > 30
    for row in examples:
        read = [f"{reading.value.normalize():f}" for reading in readings_of(row["text"])]
        assert read == row["values"], row["text"]
