"""Tables from files: what was written comes back, whatever the program that wrote it; nothing is run."""

import csv
from datetime import date
from io import BytesIO, StringIO
from time import monotonic
import zipfile

from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook
import pytest

from apps import killable, table_reader, tables
from apps.errors import Invalid
from apps.table_reader import rows_of
from apps.tables import read_table, refuse_formulas

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
    assert [cells for _, cells in rows_of("csv", body, 100)] == rows


@given(rows=TABLE)
def test_a_sheet_comes_back_as_it_was_written(rows: list[list[str]]) -> None:
    book = Workbook()
    assert book.active is not None
    for row in rows:
        book.active.append([f"'{cell}" if cell.startswith("=") else cell for cell in row])
    out = BytesIO()
    book.save(out)
    found = [cells for _, cells in rows_of("xlsx", out.getvalue(), 100)]
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
        ("x.xlsx", packed("xl/workbook.xml", table_reader.MOST_UNPACKED + 1), "too_big"),
    ],
)
def test_what_only_pretends_to_be_a_table_is_refused(name: str, body: bytes, code: str) -> None:
    with pytest.raises(Invalid) as refused:
        read_table(name, body)
    assert (refused.value.code, refused.value.path) == (code, "file")


def test_a_formula_is_refused_at_its_field() -> None:
    refuse_formulas({"text": "1 = 1", "price": "8.90"})
    with pytest.raises(Invalid) as refused:
        refuse_formulas({"text": "fine", "price": "=1+1"})
    assert (refused.value.code, refused.value.path) == ("formula", "price")


SHEET = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"


def workbook(sheet: str, **parts: str) -> bytes:
    """A workbook whose first sheet, and other parts, are written by hand."""
    out = BytesIO()
    Workbook().save(out)
    made = BytesIO()
    with zipfile.ZipFile(out) as old, zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as new:
        for entry in old.namelist():
            name = entry.rpartition("/")[2].partition(".")[0]
            given = {"sheet1": f'<worksheet xmlns="{SHEET}">{sheet}</worksheet>', **parts}
            new.writestr(entry, given[name] if name in given else old.read(entry))
        if "sharedStrings" in parts:
            new.writestr("xl/sharedStrings.xml", parts["sharedStrings"])
    return made.getvalue()


ROW = '<sheetData><row r="1"><c r="A1"><v>1</v></c></row>{more}</sheetData>'
FAR = '<row r="900000000"><c r="A900000000"><v>2</v></c></row>'
WIDE = '<row r="2"><c r="XFD2"><v>2</v></c></row>'


@pytest.mark.parametrize(
    ("name", "body"),
    [
        ("a row far away", workbook(ROW.format(more=FAR))),
        ("a cell far away", workbook(ROW.format(more=WIDE))),
        (
            "a million styles",
            workbook(
                ROW.format(more=""),
                styles=f'<styleSheet xmlns="{SHEET}"><cellXfs>{"<xf/>" * 10**6}</cellXfs></styleSheet>',
            ),
        ),
        (
            "a million shared texts",
            workbook(
                ROW.format(more=""),
                sharedStrings=f'<sst xmlns="{SHEET}">{"<si><t/></si>" * 10**6}</sst>',
            ),
        ),
    ],
)
def test_a_file_that_takes_for_ever_is_refused_soon(name: str, body: bytes) -> None:
    begun = monotonic()
    with pytest.raises(Invalid) as refused:
        read_table("x.xlsx", body)
    assert refused.value.code in ("too_big", "too_many", "too_many_rows"), name
    assert monotonic() - begun < 5


def test_a_dimension_that_lies_makes_no_rows() -> None:
    sheet = '<dimension ref="A1:XFD20000"/>' + ROW.format(more="")
    assert read_table("x.xlsx", workbook(sheet)) == [(1, ["1"])]


def test_a_reader_that_does_not_end_is_killed(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(killable, "LONGEST_SECONDS", 0.01)
    with pytest.raises(Invalid) as refused:
        read_table("x.csv", b"a;b\n1;2\n")
    assert refused.value.facts["what"] == "endless"


def test_texts_of_a_file_are_cleaned() -> None:
    body = "a;b\nPo\u202est;\u200bWi\x07re\n".encode()
    assert read_table("x.csv", body)[1] == (2, ["Post", "Wire"])
