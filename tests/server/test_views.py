"""Views of lists that a person keeps under a name."""

from typing import Any

import pytest

from apps.people.saved_views import MOST_VIEWS
from tests.server.conftest import Caller, World

VIEW = {
    "place": "quotes",
    "name": "Declined, dearest first",
    "query": {"state": "declined", "sort": "-payable"},
    "columns": ["number", "customer", "payable"],
}


def names(caller: Caller, place: str = "quotes") -> list[str]:
    """The names of this person's views, as listed."""
    return [view["name"] for view in caller("get", "views", place=place)]


def test_a_view_comes_back_as_it_was_kept(as_ilse: Caller) -> None:
    kept = as_ilse("post", "views", VIEW)
    assert as_ilse("get", "views", place="quotes") == [kept]
    assert (kept["query"], kept["columns"]) == (VIEW["query"], VIEW["columns"])


def test_a_view_of_the_same_name_is_replaced_and_another_place_has_its_own(
    as_ilse: Caller,
) -> None:
    as_ilse("post", "views", VIEW)
    as_ilse("post", "views", VIEW | {"columns": [], "name": " Declined, dearest first "})
    as_ilse("post", "views", VIEW | {"place": "orders", "name": "Mine"})
    assert [view["columns"] for view in as_ilse("get", "views", place="quotes")] == [[]]
    assert names(as_ilse, "orders") == ["Mine"]


def test_views_are_ones_own(world: World, as_ilse: Caller) -> None:
    kept = as_ilse("post", "views", VIEW)
    tomas = world.call(world.tomas)
    assert names(tomas) == []
    assert tomas.status("delete", f"views/{kept['id']}") == 404
    assert as_ilse.status("delete", f"views/{kept['id']}") == 204
    assert names(as_ilse) == []


@pytest.mark.parametrize(
    "change",
    [
        {"name": "   "},
        {"name": "x" * 61},
        {"place": "elsewhere"},
        {"columns": ["Robert'); DROP"]},
        {"query": {"state": "x" * 121}},
        {"query": {f"k{'a' * n}": "" for n in range(21)}},
    ],
)
def test_a_view_that_cannot_be_is_refused_and_nothing_kept(
    as_ilse: Caller, change: dict[str, Any]
) -> None:
    assert as_ilse.status("post", "views", VIEW | change) == 422
    assert names(as_ilse) == []


def test_a_list_keeps_so_many_views_at_most(as_ilse: Caller) -> None:
    for n in range(MOST_VIEWS):
        as_ilse("post", "views", VIEW | {"name": f"View {n:02d}"})
    refused = as_ilse.ask("post", "views", VIEW)
    assert (refused.status_code, refused.json()["code"]) == (409, "too_many")
    assert as_ilse.status("post", "views", VIEW | {"name": "View 00"}) == 200
