"""The verdicts that come with a quote, as each person gets them."""

from datetime import timedelta
from typing import Any

import pytest

from apps.quotes.models import Revision
from tests.server.conftest import Caller, World, accepting
from tests.server.test_quotes import body_of


def checks(caller: Caller, revision: Revision) -> dict[str, str]:
    """The verdicts over a revision."""
    found: dict[str, str] = caller("get", f"revisions/{revision.pk}")["checks"]
    return found


def test_a_fresh_draft_is_clear_and_says_the_same_however_it_is_asked(
    as_ilse: Caller, drafted: Revision
) -> None:
    seen = checks(as_ilse, drafted)
    assert seen == {"prices": "clear", "margin": "clear", "limits": "none", "dates": "clear"}
    body = body_of(drafted)
    assert as_ilse("put", f"revisions/{drafted.pk}", body)["checks"] == seen
    del body["version"]
    assert as_ilse("post", f"revisions/{drafted.pk}/price", body)["checks"] == seen


def test_the_margins_verdict_is_for_those_who_see_margins(
    world: World, as_ilse: Caller, drafted: Revision
) -> None:
    world.ilse.may_see_margin = False
    world.ilse.save()
    assert checks(as_ilse, drafted)["margin"] == "none"
    assert checks(world.call(world.petra), drafted)["margin"] == "clear"


def test_a_low_margin_and_a_line_to_mend_show_while_typing(
    as_ilse: Caller, drafted: Revision
) -> None:
    body = body_of(drafted)
    del body["version"]
    body["lines"][0] |= {"price": "21.50", "price_reason": ""}
    found = as_ilse("post", f"revisions/{drafted.pk}/price", body)
    assert (found["checks"]["margin"], found["checks"]["prices"]) == ("caution", "halt")


def test_the_last_week_is_a_caution_and_an_older_day_of_prices_too(
    world: World, as_ilse: Caller, drafted: Revision, monkeypatch: pytest.MonkeyPatch
) -> None:
    soon = body_of(drafted, valid_until=(world.today + timedelta(days=3)).isoformat())
    assert as_ilse("put", f"revisions/{drafted.pk}", soon)["checks"]["dates"] == "caution"
    monkeypatch.setattr("api.quotes.view.today", lambda: world.today + timedelta(days=1))
    assert checks(as_ilse, drafted)["prices"] == "caution"


def test_a_lapsed_quote_halts_and_an_ordered_one_does_not_lapse(
    world: World, as_ilse: Caller, issued: Revision, monkeypatch: pytest.MonkeyPatch
) -> None:
    later = issued.valid_until + timedelta(days=1)
    monkeypatch.setattr("api.quotes.view.today", lambda: later)
    assert checks(as_ilse, issued)["dates"] == "halt"
    order: Any = as_ilse(
        "post",
        "orders",
        accepting(issued),
    )
    assert order["number"]
    assert checks(as_ilse, issued)["dates"] == "clear"
