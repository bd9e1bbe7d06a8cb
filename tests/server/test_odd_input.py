"""Input that looked fine and broke something later, or told too much."""

import pytest

from apps.customers.flows import add_customer
from apps.customers.models import Customer
from apps.quotes.models import Revision
from tests.server.conftest import Caller, World
from tests.server.test_quotes import body_of


def test_two_lines_do_not_share_a_key_whatever_its_case(as_ilse: Caller, drafted: Revision) -> None:
    body = body_of(drafted)
    body["lines"][0]["key"], body["lines"][1]["key"] = "K", "k"
    assert as_ilse.status("put", f"revisions/{drafted.pk}", body) == 422


@pytest.mark.parametrize("code", ["a/b", "ä", "a b", "x" * 21])
def test_a_code_that_could_not_be_addressed_is_refused(world: World, code: str) -> None:
    admin = world.call(world.admin)
    values = {"code": code, "name": "Odd", "components": "VAT 20 %"}
    refused = admin.ask("post", "prices/records/taxes", {"values": values})
    assert (refused.status_code, refused.json()["path"]) == (422, "code")


def test_a_customer_of_a_colleague_is_told_without_their_number(world: World) -> None:
    body = {"title": "x", "decision_on": str(world.today), "new_customer": world.customer.name}
    own = world.call(world.ilse).ask("post", "deals", body).json()
    other = world.call(world.stranger).ask("post", "deals", body).json()
    assert own["facts"]["number"] == "C-1"
    assert (other["code"], "number" in other["facts"]) == ("already_there", False)
    assert "C-1" not in other["message"]


def test_a_pasted_row_without_end_is_refused(as_ilse: Caller) -> None:
    refused = as_ilse.ask("post", "items/match", {"text": "x " * 50_000})
    assert (refused.status_code, refused.json()["path"]) == (422, "text")


@pytest.mark.parametrize(
    "mail",
    ["a?bcc=x@y.example", "a&b@c.example", "a b@c.example", "a@b", "a@b..example", "@b.example"],
)
def test_an_address_that_is_none_or_more_than_one_is_refused(world: World, mail: str) -> None:
    path = f"customers/{world.customer.pk}/contacts"
    refused = world.call(world.ilse).ask("post", path, {"name": "Maren", "email": mail})
    assert (refused.status_code, refused.json()["path"]) == (422, "email")


def test_a_name_is_made_a_customer_once(world: World) -> None:
    add_customer(world.ilse, name="Alder Farm")
    with pytest.raises(Exception, match="Alder Farm"):
        add_customer(world.ilse, name=" Alder  Farm ")
    assert Customer.objects.filter(name="Alder Farm").count() == 1
