"""The case file: priced, checked, refused with the path of every fault."""

import io
import json
from pathlib import Path
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.__main__ import main
from routecore.casefile import CaseFaults, price_case
from routecore.errors import CoreError

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


def put(case: dict[str, Any], place: list[str | int], value: object) -> None:
    part: Any = case
    for step in place[:-1]:
        part = part[step]
    part[place[-1]] = value


HUGE = "999999999999999"


@pytest.mark.parametrize(
    ("place", "value", "fault"),
    [
        (["document", "tax_rounding"], "weekly", "document.tax_rounding: must be one of document, line"),
        (["document_discount", "on"], "tax", "document_discount.on: must be one of net, gross"),
        (["document_discount"], {"percent": "101"}, "document_discount.percent: must not be more than 100"),
        (["customer", "price_list"], "none", "customer.price_list: no list none"),
        (["price_lists", 1, "derives_from"], "none", "price_lists[1].derives_from: no list none"),
        (["price_lists", 0, "derives_from"], "trade", "price_lists[0].derives_from: leads back to the list itself"),
        (["lines", 0, "id"], "\ud800", "lines[0].id: is not text: it has half a character"),
        (["items", 0, "units"], {"\udfff": "2"}, "items[0].units.\udfff: is not text: it has half a character"),
        (["lines", 0, "id"], "x" * 201, "lines[0].id: must not be longer than 200 letters"),
        (["lines"], [{}] * 10_001, "lines: must not have more than 10,000 entries"),
        (["customer", "parent"], ["G", 3], "customer.parent[1]: must be a string that is not empty"),
        (["items", 1, "id"], "POST-25", "items[1].id: is used twice"),
        (["discount_rules", 0, "tiers", 0, "per_line"], "3", "discount_rules[0].tiers[0]: one of percent per unit per line"),
        (["discount_rules", 0, "on", "item"], "NONE", "discount_rules[0].on.item: no item NONE"),
    ],
)  # fmt: skip
def test_a_fault_says_where_and_what(
    case: dict[str, Any], place: list[str | int], value: object, fault: str
) -> None:
    put(case, place, value)
    assert fault in faults_of(case)


def test_a_circle_away_from_the_customers_lists_is_named_too(case: dict[str, Any]) -> None:
    for name, derives in (("one", "two"), ("two", "one")):
        case["price_lists"].append(
            {"id": name, "currency": "EUR", "derives_from": derives, "entries": []}
        )
    assert [fault.split(":")[0] for fault in faults_of(case)] == [
        "price_lists[2].derives_from",
        "price_lists[3].derives_from",
    ]


def test_two_customer_prices_that_say_the_same_are_refused(case: dict[str, Any]) -> None:
    row = case["customer_prices"][0]
    case["customer_prices"] = [row, {**row, "price": "1.00"}]
    assert "customer_prices[1]: says the same as another entry" in faults_of(case)[0]


def test_nothing_has_no_sign(case: dict[str, Any]) -> None:
    case["lines"][0]["price"] = "-0"
    result: Any = price_case(case)
    assert result["lines"][0]["net"] == "0.00"


@pytest.mark.parametrize(
    ("changes", "path"),
    [
        ([(["lines", 0, "quantity"], HUGE), (["lines", 0, "price"], HUGE)], "lines[0]"),
        ([(["price_lists", 1, "factor"], HUGE), (["price_lists", 0, "entries", 0, "price"], HUGE)], "price_lists"),
    ],
)  # fmt: skip
def test_figures_that_grow_beyond_fifteen_digits_are_a_fault(
    case: dict[str, Any],
    changes: list[tuple[list[str | int], str]],
    path: str,
    tmp_path: Path,
    capsys: pytest.CaptureFixture[str],
) -> None:
    for place, value in changes:
        put(case, place, value)
    file = tmp_path / "case.json"
    file.write_text(json.dumps(case))
    assert main(["price", str(file)]) == 2
    assert capsys.readouterr().err == f"{path}: too large (most_digits 15)\n"


def test_a_key_that_is_given_twice_is_refused_with_its_path(
    case: dict[str, Any], tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    text = json.dumps(case).replace('"quantity": "20"', '"quantity": "20", "quantity": "21"', 1)
    file = tmp_path / "case.json"
    file.write_text(text)
    assert main(["price", str(file)]) == 2
    assert capsys.readouterr().err == "lines[0].quantity: is given twice\n"


def test_one_malformed_file_does_not_stop_the_others_and_each_is_named(
    case: dict[str, Any], tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    bad, wrong = tmp_path / "bad.json", tmp_path / "wrong.json"
    bad.write_text(json.dumps([case, {**case, "lines": "none"}, case]))
    case["expect"]["totals"]["net"] = "1.00"
    wrong.write_text(json.dumps(case))
    assert main(["check", str(bad), str(wrong)]) == 2
    printed = capsys.readouterr()
    assert printed.err == f"{bad}: [1].lines: must be a list\n"
    assert printed.out == f"{wrong}: totals.net: expected 1.00, found 861.60\n"


def test_a_file_that_is_not_there_is_named_once(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["check", "no-such-file.json", str(CASE)]) == 2
    assert capsys.readouterr().err.startswith("no-such-file.json: cannot be read")


def test_what_is_not_there_equals_no_word(
    case: dict[str, Any], tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    case["expect"] = {"totals": {"colour": "nothing"}}
    file = tmp_path / "case.json"
    file.write_text(json.dumps(case))
    assert main(["check", str(file)]) == 1
    assert capsys.readouterr().out.endswith("totals.colour: expected nothing, found nothing\n")


def test_a_category_without_tax_and_without_a_reason_is_a_problem(case: dict[str, Any]) -> None:
    case["taxes"] = {"standard": []}
    result: Any = price_case(case)
    assert {"line": None, "code": "needs_tax_reason", "category": "standard"} in result["problems"]
    case["tax_reasons"] = {"standard": "Reverse charge"}
    result = price_case(case)
    assert [problem["code"] for problem in result["problems"]] == []


json_parts = st.recursive(
    st.none() | st.booleans() | st.integers() | st.text(max_size=3) | st.sampled_from(["1", "-1", HUGE, "0.000001", "1e9", "2026-03-02", "EUR", "POST-25", "H87"]),
    lambda inner: st.lists(inner, max_size=2) | st.dictionaries(st.sampled_from(["id", "item", "percent", "from"]), inner, max_size=2),
    max_leaves=4,
)  # fmt: skip


@given(data=st.data())
def test_whatever_stands_in_a_case_it_is_priced_or_its_faults_are_named(
    data: st.DataObject,
) -> None:
    """One place of a good case is something else: a result that can be printed, or a fault."""
    case: Any = json.loads(CASE.read_text())
    places: list[list[str | int]] = []

    def walk(part: Any, path: list[str | int]) -> None:
        places.append(path)
        pairs = (
            part.items()
            if isinstance(part, dict)
            else enumerate(part)
            if isinstance(part, list)
            else ()
        )
        for key, value in pairs:
            walk(value, [*path, key])

    walk(case, [])
    for _ in range(data.draw(st.integers(1, 2))):
        place = data.draw(st.sampled_from(places[1:]))
        try:
            put(case, place, data.draw(json_parts))
        except (KeyError, IndexError, TypeError):
            continue  # the first change took the place away
    try:
        json.dumps(price_case(case), ensure_ascii=False).encode()
    except CoreError as error:
        assert str(error)


@pytest.mark.parametrize("junk", [None, 1, "case", [], {}])
def test_what_is_no_case_is_refused(junk: object) -> None:
    assert faults_of(junk)


@pytest.mark.parametrize("text", ["", "{", "[" * 100_000, "\ufeff{}", f"[{'9' * 5000}]"])
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
