"""Tables from files: what was written comes back, whatever the program that wrote it; nothing is run."""

import csv
from datetime import date
from io import BytesIO, StringIO
import zipfile

from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook
import pytest

from apps import tables
from apps.errors import Invalid
from apps.tables import read_table, refuse_formulas, whole_table

CELL = st.text(
    st.characters(exclude_categories=("Cs", "Cc"), exclude_characters=";,\t\n\r\ufeff"),
    min_size=1,
    max_size=12,
).filter(lambda text: text == text.strip())
TABLE = st.lists(st.lists(CELL, min_size=3, max_size=3), min_size=1, max_size=8)


@given(
    rows=TABLE,
    mark=st.sampled_from(";,\t"),
    bom=st.booleans(),
    ends=st.sampled_from(("\n", "\r\n")),
)
def test_a_csv_comes_back_as_it_was_written(
    rows: list[list[str]], mark: str, bom: bool, ends: str
) -> None:
    out = StringIO()
    csv.writer(out, delimiter=mark, lineterminator=ends).writerows(rows)
    body = out.getvalue().encode("utf-8-sig" if bom else "utf-8")
    assert [cells for _, cells in read_table("x.csv", body)] == rows


@given(rows=TABLE)
def test_a_sheet_comes_back_as_it_was_written(rows: list[list[str]]) -> None:
    book = Workbook()
    assert book.active is not None
    for row in rows:
        book.active.append([f"'{cell}" if cell.startswith("=") else cell for cell in row])
    out = BytesIO()
    book.save(out)
    found = [cells for _, cells in read_table("x.xlsx", out.getvalue())]
    assert found == [[f"'{cell}" if cell.startswith("=") else cell for cell in row] for row in rows]


def test_rows_keep_their_numbers_and_empty_ones_are_left_out() -> None:
    assert list(read_table("x.csv", b"a;b\n\n;\n1;2\n")) == [(1, ["a", "b"]), (4, ["1", "2"])]


def test_cells_of_a_sheet_are_read_as_they_would_be_typed() -> None:
    book = Workbook()
    assert book.active is not None
    book.active.append([20, 20.0, 0.645, 12.5, 1e-6, date(2026, 3, 2), None, True])
    out = BytesIO()
    book.save(out)
    [(_, cells)] = read_table("x.xlsx", out.getvalue())
    assert cells == ["20", "20", "0.6450", "12.5", "0.000001", "2026-03-02", "", "True"]


def packed(name: str, size: int) -> bytes:
    out = BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(name, b"0" * size)
    return out.getvalue()


@pytest.mark.parametrize(
    ("name", "body", "code"),
    [
        ("x.ods", b"", "unknown_format"),
        ("x.xlsm", b"", "unknown_format"),
        ("x", b"a;b", "unknown_format"),
        ("x.csv", b"a;b\n\xff\xfe", "encoding"),
        ("x.csv", "a;b\nä".encode("utf-16"), "encoding"),
        ("x.csv", b'a;b\n"' + b"x" * 140_000, "not_a_table"),
        ("x.csv", b"x" * (tables.MOST_BYTES + 1), "too_big"),
        ("x.csv", b"a;b\n" * (tables.MOST_ROWS + 2), "too_many_rows"),
        ("x.xlsx", b"PK\x03\x04", "unreadable"),
        ("x.xlsx", packed("any.xml", 10), "unreadable"),
        ("x.xlsx", packed("xl/workbook.xml", tables.MOST_UNPACKED + 1), "too_big"),
    ],
)
def test_what_only_pretends_to_be_a_table_is_refused(name: str, body: bytes, code: str) -> None:
    with pytest.raises(Invalid) as refused:
        whole_table(name, body)
    assert (refused.value.code, refused.value.path) == (code, "file")


def test_a_formula_is_refused_at_its_field() -> None:
    refuse_formulas({"text": "1 = 1", "price": "8.90"})
    with pytest.raises(Invalid) as refused:
        refuse_formulas({"text": "fine", "price": "=1+1"})
    assert (refused.value.code, refused.value.path) == ("formula", "price")
