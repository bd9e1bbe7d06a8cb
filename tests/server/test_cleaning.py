"""What comes in is cleaned at the door: whatever is typed can be stored, printed and exported."""

from io import BytesIO
import json
from typing import Any
import unicodedata
from xml.etree import ElementTree

from django.db import OperationalError
from django.db.backends.utils import CursorWrapper
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook
import pytest

from apps.cleaning import clean, cleaned
from apps.deals.models import Deal
from apps.quotes.models import Revision
from tests.server.conftest import Caller, World, as_seen
from tests.server.test_quotes import body_of

NASTY = "A\x01\x07\u202eB\u200b\ud800\ufffe \u0085C"


@given(text=st.text())
def test_clean_text_can_be_stored_and_stays_as_it_is(text: str) -> None:
    once = clean(text)
    assert clean(once) == once
    once.encode()
    seen = [unicodedata.category(sign) for sign in once if sign not in "\n\t"]
    assert not {"Cc", "Cs", "Co", "Cn"} & set(seen)


@given(text=st.text(st.characters(categories=("L", "N", "P", "Zs"))))
def test_what_people_write_is_left_alone(text: str) -> None:
    assert clean(text) == unicodedata.normalize("NFC", text)


def test_keys_and_texts_at_any_depth_are_cleaned() -> None:
    assert cleaned({"a\x00": ["\u202e1", {"b": "\x07"}], "n": 5}) == {"a": ["1", {"b": ""}], "n": 5}


def test_a_deal_with_control_signs_makes_no_list_unreadable(world: World, as_ilse: Caller) -> None:
    body = {"title": NASTY, "decision_on": str(world.today), "customer_id": world.customer.pk}
    made = as_ilse("post", "deals", body)
    assert Deal.objects.get(pk=made["id"]).title == "AB C"
    book = load_workbook(BytesIO(as_ilse.ask("get", "deals.xlsx").content))
    assert book.active is not None


def test_what_is_issued_can_be_printed_and_exported(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    body = body_of(drafted, message=f"{NASTY}\nsecond line", buyer_reference=NASTY)
    body["lines"][0]["text"] = NASTY
    saved = as_ilse("put", f"revisions/{drafted.pk}", body)
    issued = as_ilse("post", f"revisions/{drafted.pk}/issue", as_seen(saved))
    assert issued["lines"][0]["text"] == "AB C"
    path = f"revisions/{drafted.pk}"
    ElementTree.fromstring(as_ilse.ask("get", f"{path}/ubl").content)
    load_workbook(BytesIO(as_ilse.ask("get", f"{path}/xlsx").content))
    assert as_ilse.ask("get", f"{path}/pdf").content.startswith(b"%PDF")


@pytest.mark.parametrize(
    "number", ["١٢", "1e3", "Infinity", "NaN", "+5", " 5", "5_0", "0x5", "", "1" * 40, "--1"]
)
def test_a_number_is_in_plain_figures(as_ilse: Caller, drafted: Revision, number: str) -> None:
    body = body_of(drafted)
    body["lines"][0]["quantity"] = number
    refused = as_ilse.ask("put", f"revisions/{drafted.pk}", body)
    assert (refused.status_code, refused.json()["path"]) == (422, "lines.0.quantity")


@pytest.mark.parametrize(
    "body",
    [
        b"",
        b"{",
        b'{"lines": NaN}',
        b'{"lines": Infinity}',
        b"[" * 100_000,
        b'{"a":' * 50 + b"1" + b"}" * 50,
    ],
)
def test_a_body_that_is_no_json_is_a_400(as_ilse: Caller, drafted: Revision, body: bytes) -> None:
    path = f"/api/revisions/{drafted.pk}"
    refused = as_ilse.client.put(path, body, content_type="application/json")
    assert refused.status_code in (400, 422)
    assert refused.json()["code"] in ("bad_request", "invalid")


def test_a_month_of_other_digits_is_no_month(as_ilse: Caller) -> None:
    assert as_ilse.status("get", "deals", month="20٢٦-01") == 422


def test_a_write_that_lost_a_deadlock_is_made_again(
    world: World, as_ilse: Caller, monkeypatch: pytest.MonkeyPatch
) -> None:
    plain, lost = CursorWrapper.execute, []

    def execute(self: Any, sql: str, params: Any = None) -> Any:
        if sql.startswith("INSERT INTO `deals_deal`") and len(lost) < 2:
            lost.append(sql)
            raise OperationalError(1213, "Deadlock found when trying to get lock")
        return plain(self, sql, params)

    monkeypatch.setattr(CursorWrapper, "execute", execute)
    body = {"title": "Once", "decision_on": str(world.today), "customer_id": world.customer.pk}
    made = as_ilse.ask("post", "deals", body)
    assert (made.status_code, len(lost)) == (201, 2)
    assert Deal.objects.filter(title="Once").count() == 1


@pytest.mark.parametrize(
    ("number", "code"), [(1205, "busy"), (1969, "too_slow"), (2013, "away"), (2002, "away")]
)
def test_what_the_database_refuses_is_told_apart(
    world: World, as_ilse: Caller, monkeypatch: pytest.MonkeyPatch, number: int, code: str
) -> None:
    plain = CursorWrapper.execute

    def execute(self: Any, sql: str, params: Any = None) -> Any:
        if "FROM `deals_deal`" in sql:
            raise OperationalError(number, "no")
        return plain(self, sql, params)

    monkeypatch.setattr(CursorWrapper, "execute", execute)
    refused = as_ilse.ask("get", "deals")
    assert (refused.status_code, refused.json()["code"]) == (503, code)
    assert json.loads(refused.content)["message"]
