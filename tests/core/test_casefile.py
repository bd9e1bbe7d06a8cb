"""The case file: priced, checked, refused with the path of every fault."""

import io
import json
from pathlib import Path
from typing import Any

import pytest

from routecore.__main__ import main
from routecore.casefile import CaseFaults, price_case

CASE = Path(__file__).parent / "cases" / "orchard.json"


@pytest.fixture
def case() -> dict[str, Any]:
    loaded: dict[str, Any] = json.loads(CASE.read_text())
    return loaded


def faults_of(case: object) -> list[str]:
    with pytest.raises(CaseFaults) as caught:
        price_case(case)
    return str(caught.value).splitlines()


def test_the_kept_case_comes_out_as_expected() -> None:
    assert main(["check", str(CASE)]) == 0


def test_a_difference_is_printed_with_its_path(
    case: dict[str, Any], tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    case["expect"]["totals"]["net"] = "861.61"
    file = tmp_path / "case.json"
    file.write_text(json.dumps(case))
    assert main(["check", str(file)]) == 1
    assert capsys.readouterr().out == f"{file}: totals.net: expected 861.61, found 861.60\n"


def test_a_list_of_cases_from_standard_input_gives_a_list(
    case: dict[str, Any], monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setattr("sys.stdin", io.StringIO(json.dumps([case, case])))
    assert main(["price", "-"]) == 0
    results = json.loads(capsys.readouterr().out)
    assert [result["totals"]["payable"] for result in results] == ["1033.90", "1033.90"]


def test_a_malformed_case_exits_with_2_and_says_each_fault(
    case: dict[str, Any], tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    case["lines"][1]["quantity"] = "-3"
    case["items"][0]["units"] = {"PF": "0"}
    file = tmp_path / "case.json"
    file.write_text(json.dumps(case))
    assert main(["price", str(file)]) == 2
    assert [row.split(":")[0] for row in capsys.readouterr().err.splitlines()] == [
        "items[0].units.PF",
        "lines[1].quantity",
    ]


@pytest.mark.parametrize(
    ("place", "value", "path"),
    [
        (["document", "date"], "2026-02-30", "document.date"),
        (["document", "date"], None, "document.date"),
        (["document", "currency"], "euro", "document.currency"),
        (["document", "mood"], "good", "document.mood"),
        (["lines", 0, "quantity"], 20, "lines[0].quantity"),
        (["lines", 0, "quantity"], "1e400", "lines[0].quantity"),
        (["lines", 0, "quantity"], "NaN", "lines[0].quantity"),
        (["lines", 0, "unit"], "KGM", "lines[0].unit"),
        (["lines", 0, "item"], "NONE", "lines[0].item"),
        (["lines", 0, "discount_percent"], "100.5", "lines[0].discount_percent"),
        (["lines", 1, "id"], "1", "lines[1].id"),
        (["lines"], "three", "lines"),
        (["price_lists", 0, "entries", 1, "price"], "-0.38", "price_lists[0].entries[1].price"),
        (["price_lists", 1, "factor"], "0", "price_lists[1].factor"),
        (["price_lists", 1, "derives_from"], "trade", "price_lists[1].derives_from"),
        (["taxes"], {}, "lines[0].item"),
        (["document_discount"], {"percent": "3", "amount": "1"}, "document_discount"),
    ],
)
def test_each_fault_is_named_by_its_path(
    case: dict[str, Any], place: list[str | int], value: object, path: str
) -> None:
    part: Any = case
    for step in place[:-1]:
        part = part[step]
    part[place[-1]] = value
    assert any(fault.startswith(f"{path}:") for fault in faults_of(case)), faults_of(case)


@pytest.mark.parametrize("junk", [None, 1, "case", [], {}])
def test_what_is_no_case_is_refused(junk: object) -> None:
    assert faults_of(junk)


@pytest.mark.parametrize("text", ["", "{", "[" * 100_000, "\ufeff{}"])
def test_what_is_no_json_exits_with_2(
    text: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    file = tmp_path / "case.json"
    file.write_text(text)
    assert main(["price", str(file)]) == 2
    assert "is not JSON" in capsys.readouterr().err


def test_a_missing_file_exits_with_2(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["price", "no-such-file.json"]) == 2
    assert "cannot be read" in capsys.readouterr().err
