"""The buyer's own address: read without signing in, said yes to once, closed to everybody else."""

from datetime import timedelta
import re
from typing import Any

from django.test import Client
import pytest

from apps.buyers.flows import MOST_MISSES
from apps.buyers.models import BuyerAnswer, BuyerLink
from apps.journal.models import AuditLine
from apps.orders.models import Order
from apps.quotes.models import Revision
from tests.server.conftest import Caller, World, accepting


@pytest.fixture
def path(as_ilse: Caller, issued: Revision) -> str:
    """The buyer's address of the issued quote."""
    made: str = as_ilse("post", f"revisions/{issued.pk}/buyer", {"quantities": True})["path"]
    return made


@pytest.fixture
def buyer() -> Client:
    return Client()


def look(buyer: Client, path: str) -> tuple[int, str]:
    answer = buyer.get(path)
    return answer.status_code, answer.content.decode()


def hidden(page: str) -> dict[str, str]:
    """What the form carries of what was seen."""
    return {
        name: re.search(f'name="{name}" value="([^"]*)"', page)[1]  # type: ignore[index]
        for name in ("mark", "payable")
    }


def send(buyer: Client, path: str, act: str, page: str, **typed: str) -> Any:
    return buyer.post(path, {**hidden(page), "act": act, **typed})


def test_the_buyer_reads_the_quote_and_its_sums(buyer: Client, path: str) -> None:
    status, page = look(buyer, path)
    assert status == 200
    plain = re.sub(r"[\u00a0\u202f]", " ", page)
    for words in ("Hazelmoor Orchards", "1 033.92", "788.50", "Accept for 1 033.92 EUR"):
        assert words in plain
    assert "<script" not in page
    link = BuyerLink.objects.get()
    assert link.opened == 1
    assert path.removeprefix("/b/") not in str(vars(link))


@pytest.mark.parametrize("secret", ["cost", "margin", "Margin", "C-1", "may_see", "deal"])
def test_nothing_of_the_house_is_on_it(buyer: Client, path: str, secret: str) -> None:
    _, page = look(buyer, path)
    assert secret not in re.sub(r"<[^>]+>", "", page)


def test_the_paper_is_there_as_well(buyer: Client, path: str) -> None:
    assert buyer.get(f"{path}/pdf").content.startswith(b"%PDF")


def test_a_guessed_an_ended_a_replaced_and_a_lapsed_address_look_alike(
    as_ilse: Caller,
    buyer: Client,
    issued: Revision,
    path: str,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    seen = [look(buyer, "/b/" + "x" * 43)]
    other = as_ilse("post", f"revisions/{issued.pk}/buyer", {})
    seen.append(look(buyer, path))
    as_ilse("post", f"buyer-links/{other['link']['id']}/end")
    seen.append(look(buyer, other["path"]))
    third = as_ilse("post", f"revisions/{issued.pk}/buyer", {})["path"]
    lapsed = issued.valid_until + timedelta(days=1)
    monkeypatch.setattr("api.buyer_page.today", lambda: lapsed)
    seen.append(look(buyer, third))
    assert len(set(seen)) == 1
    assert seen[0][0] == 404
    assert buyer.get(f"{third}/pdf").status_code == 404


def test_a_revised_quote_is_not_read_at_the_old_address(
    as_ilse: Caller, buyer: Client, issued: Revision, path: str
) -> None:
    as_ilse("post", f"quotes/{issued.quote_id}/revise", {"version": issued.version})
    assert look(buyer, path)[0] == 404


def test_who_guesses_too_often_is_put_off(buyer: Client, path: str) -> None:
    statuses = [look(buyer, f"/b/{n}")[0] for n in range(MOST_MISSES + 1)]
    assert statuses == [404] * MOST_MISSES + [429]
    assert look(buyer, path)[0] == 429
    assert AuditLine.objects.filter(what="link_missed").count() == MOST_MISSES


def test_a_changed_quantity_shows_its_total_and_yes_is_for_what_was_seen(
    world: World, as_ilse: Caller, buyer: Client, issued: Revision, path: str
) -> None:
    _, page = look(buyer, path)
    again = send(buyer, path, "total", page, **{"q-a": "7"}).content.decode()
    assert hidden(again)["payable"] == "437.35"  # (275.98 + 99.75) less 3 %, and a fifth of tax
    stale = send(buyer, path, "yes", page, name="Ada", **{"q-a": "7"})
    assert (stale.status_code, BuyerAnswer.objects.count()) == (422, 0)
    yes = send(buyer, path, "yes", again, name="Ada Finch", reference="PO 9", **{"q-a": "7"})
    assert yes.status_code == 302
    row = BuyerAnswer.objects.get()
    assert (row.name, row.reference, str(row.payable), row.address) == (
        *("Ada Finch", "PO 9"),
        *("437.350", "127.0.0.1"),
    )
    assert row.lines == [{"key": "a", "quantity": "7"}, {"key": "b", "quantity": "3"}]
    _, after = look(buyer, path)
    assert "Accepted by Ada Finch" in after
    assert 'name="reference"' not in after
    (stop,) = as_ilse("get", "today")["answers"]
    assert (stop["kind"], stop["amount"], stop["detail"]) == (
        "buyer_accepts",
        "437.35",
        "Ada Finch",
    )


def test_the_rep_writes_the_order_that_was_said_yes_to_and_the_buyer_follows_it(
    as_ilse: Caller, buyer: Client, issued: Revision, path: str
) -> None:
    _, page = look(buyer, path)
    send(buyer, path, "yes", page, name="Ada", reference="PO 9")
    (said,) = as_ilse("get", f"revisions/{issued.pk}/buyer")["said"]
    made = as_ilse("post", f"buyer-answers/{said['id']}/order", {"close_deal": False})
    assert (made["payable"], made["buyer_reference"]) == ("1033.92", "PO 9")
    assert Order.objects.count() == 1
    again = as_ilse.ask("post", f"buyer-answers/{said['id']}/order", {"close_deal": False})
    assert again.json()["code"] == "answered"
    status, page = look(buyer, path)
    assert (status, made["number"] in page, "is being prepared" in page) == (200, True, True)
    assert "Accept for" not in page


def test_an_order_that_was_looked_at_first_takes_what_the_buyer_said(
    world: World, as_ilse: Caller, buyer: Client, issued: Revision, path: str
) -> None:
    _, page = look(buyer, path)
    send(buyer, path, "yes", page, name="Ada", reference="PO 9")
    (said,) = as_ilse("get", f"revisions/{issued.pk}/buyer")["said"]
    assert [line["key"] for line in said["lines"]] == ["a", "b"]
    body = accepting(issued) | {"answer_id": said["id"], "buyer_reference": said["reference"]}
    assert world.call(world.tomas).ask("post", "orders", body).json()["code"] == "not_found"
    wrong = as_ilse.ask("post", "orders", {**body, "answer_id": said["id"] + 99})
    assert (wrong.status_code, Order.objects.count()) == (404, 0)
    made = as_ilse("post", "orders", body)
    (told,) = as_ilse("get", f"revisions/{issued.pk}/buyer")["said"]
    assert (told["state"], told["order_id"]) == ("taken", made["id"])
    assert as_ilse("get", "today")["answers"] == []


def test_a_wish_is_told_and_answered(
    as_ilse: Caller, buyer: Client, issued: Revision, path: str
) -> None:
    _, page = look(buyer, path)
    assert send(buyer, path, "ask", page, name="Ada").status_code == 422
    send(buyer, path, "ask", page, name="Ada", words="Can it come in May?")
    (said,) = as_ilse("get", f"revisions/{issued.pk}/buyer")["said"]
    assert (said["kind"], said["words"]) == ("asks", "Can it come in May?")
    nothing = as_ilse.ask("post", f"buyer-answers/{said['id']}/order", {"close_deal": False})
    assert nothing.json()["code"] == "nothing_accepted"
    as_ilse("post", f"buyer-answers/{said['id']}/reply", {"reply": "In the second week of May."})
    assert "In the second week of May." in look(buyer, path)[1]
    assert as_ilse("get", "today")["answers"] == []


@pytest.mark.parametrize("typed", ["some", "1,234", "-3", "99999999999999999999", "7; DROP"])
def test_a_quantity_that_cannot_be_read_is_told_and_orders_nothing(
    buyer: Client, path: str, typed: str
) -> None:
    _, page = look(buyer, path)
    answer = send(buyer, path, "yes", page, name="Ada", **{"q-a": typed})
    assert (answer.status_code, BuyerAnswer.objects.count()) == (422, 0)
    assert 'role="alert"' in answer.content.decode()


def test_quantities_stay_where_the_rep_did_not_let_them_change(
    as_ilse: Caller, buyer: Client, issued: Revision
) -> None:
    path = as_ilse("post", f"revisions/{issued.pk}/buyer", {})["path"]
    _, page = look(buyer, path)
    assert 'name="q-a"' not in page
    again = send(buyer, path, "total", page, **{"q-a": "7"}).content.decode()
    assert hidden(again)["payable"] == "1033.92"


def test_a_script_in_what_is_typed_is_text(buyer: Client, path: str) -> None:
    _, page = look(buyer, path)
    send(buyer, path, "ask", page, name="<script>x</script>", words="<b>loud</b>")
    _, page = look(buyer, path)
    assert "<script>" not in page
    assert "&lt;b&gt;loud" in page


def test_another_site_cannot_say_yes_in_the_buyers_name(path: str) -> None:
    strict = Client(enforce_csrf_checks=True)
    page = strict.get(path).content.decode()
    token = re.search(r'csrfmiddlewaretoken" value="(\w+)"', page)
    assert token
    body = {**hidden(page), "act": "yes", "name": "Ada"}
    assert strict.post(path, body).status_code == 403
    own = {**body, "csrfmiddlewaretoken": token[1]}
    evil = strict.post(path, own, headers={"Origin": "https://elsewhere.example"})
    assert (evil.status_code, BuyerAnswer.objects.count()) == (403, 0)
    assert strict.post(path, own, headers={"Origin": "http://testserver"}).status_code == 302


def test_only_the_one_who_sells_has_the_address(
    world: World, issued: Revision, path: str, drafted: Revision
) -> None:
    for person, status in ((world.stranger, 404), (world.tomas, 404), (world.joren, 403)):
        caller = world.call(person)
        assert caller.status("get", f"revisions/{issued.pk}/buyer") == status
        assert caller.status("post", f"revisions/{issued.pk}/buyer", {}) == status


def test_a_draft_has_no_address(as_ilse: Caller, drafted: Revision) -> None:
    refused = as_ilse.ask("post", f"revisions/{drafted.pk}/buyer", {})
    assert (refused.status_code, refused.json()["code"]) == (409, "not_issued")
