"""Whatever is typed on the desk is either priced so that all adds up, or refused in the one form."""

from decimal import Decimal
from typing import Any

from hypothesis import HealthCheck, event, given, settings
from hypothesis import strategies as st
import pytest

from apps.quotes.models import Revision
from tests.server.conftest import Caller, World
from tests.server.test_quotes import body_of

D = Decimal
FIGURES = st.one_of(
    st.decimals("0.001", "5000", places=3).map(str),
    st.sampled_from(["1", "20", "100", "0.000001", "999999999", "0", "-1", "1e400", "NaN", ""]),
)
PERCENTS = st.decimals("0", "100", places=2).map(str)
AMOUNTS = st.decimals("0", "5000", places=2).map(str)
UNITS = st.sampled_from(["H87", "MTR", "RL", "KGM", ""])
KINDS = st.sampled_from(["normal", "normal", "normal", "alternative", "optional", "heading"])


ONE_FIGURE = st.one_of(st.tuples(PERCENTS, st.none()), st.tuples(st.none(), AMOUNTS))
NO_FIGURE = st.just((None, None))
ODD_FIGURE = st.sampled_from([("100.01", None), ("5", "5"), (None, "-1"), ("NaN", None)])


@st.composite
def drafts(draw: st.DrawFn) -> dict[str, Any]:
    """A draft of up to six lines: most as a rep would type them, some with anything in a field."""
    odd = draw(st.integers(0, 3)) == 0
    figure = st.one_of(ONE_FIGURE, NO_FIGURE, ODD_FIGURE) if odd else ONE_FIGURE | NO_FIGURE
    discount = draw(figure)
    return {
        "lines": [draw(lines(n, odd)) for n in range(draw(st.integers(0, 6)))],
        "discount_percent": discount[0],
        "discount_amount": discount[1],
        "discount_on": draw(st.sampled_from(["net", "gross"])),
        "charges": [
            {"name": "Freight", "percent": percent, "amount": amount}
            for percent, amount in draw(st.lists(figure if odd else ONE_FIGURE, max_size=2))
        ],
    }


@st.composite
def lines(draw: st.DrawFn, n: int, odd: bool) -> dict[str, Any]:
    """One line; ``item_id`` names an item of the small world."""
    kind = draw(KINDS)
    item = draw(st.sampled_from(["post", "wire"]))
    discount = draw(st.one_of(NO_FIGURE, ONE_FIGURE, ODD_FIGURE if odd else NO_FIGURE))
    return {
        "key": f"k{n}",
        "kind": kind,
        "alternative_to": f"k{draw(st.integers(0, 6))}" if kind == "alternative" else "",
        "item_id": item,
        "text": draw(st.text(max_size=20)),
        "quantity": draw(FIGURES) if odd else str(draw(st.integers(1, 500))),
        "unit": draw(UNITS) if odd else {"post": "H87", "wire": "RL"}[item],
        "price": draw(st.one_of(st.none(), FIGURES if odd else AMOUNTS)),
        "price_reason": draw(st.sampled_from(["", "Agreed"])),
        "discount_percent": discount[0],
        "discount_amount": discount[1],
    }


def sums_hold(answer: dict[str, Any]) -> None:
    """BR-CO-10, -13, -15 and -16 of EN 16931, on the figures as they are answered."""
    totals = {
        name: D(value)
        for name, value in answer["priced"]["totals"].items()
        if isinstance(value, str) and name != "margin_percent"
    }
    priced = answer["priced"]["lines"]
    counted = sum((D(line["net"]) for line in priced if line["counted"] and line["net"]), D(0))
    assert totals["lines_net"] == counted
    assert totals["net"] == counted - totals["document_discount"] + totals["charges"]
    assert totals["gross"] == totals["net"] + totals["tax_total"]
    assert totals["payable"] == totals["gross"] + totals["payable_rounding"]
    for line in priced:
        if line["net"]:
            assert D(line["net"]) == D(line["amount"]) - D(line["discount"]) >= 0


@pytest.mark.django_db
@settings(
    max_examples=40,
    deadline=None,
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
)
@given(typed=drafts())
def test_a_draft_of_any_shape_adds_up_or_is_refused(
    world: World, as_ilse: Caller, drafted: Revision, typed: dict[str, Any]
) -> None:
    drafted.refresh_from_db()
    ids = {"post": world.post.pk, "wire": world.wire.pk}
    lines = [line | {"item_id": ids[line["item_id"]]} for line in typed["lines"]]
    body = body_of(drafted, **typed | {"lines": lines})
    saved = as_ilse.ask("put", f"revisions/{drafted.pk}", body)
    asked = as_ilse.ask(
        "post", f"revisions/{drafted.pk}/price", {k: v for k, v in body.items() if k != "version"}
    )
    event(f"answered {saved.status_code}")
    if saved.status_code != 200:
        fault = saved.json()
        assert 400 <= saved.status_code < 500
        assert fault["code"] and fault["message"]
        return
    answer = saved.json()
    sums_hold(answer)
    assert asked.json()["priced"]["totals"] == answer["priced"]["totals"]
    shown = as_ilse("get", f"revisions/{drafted.pk}")
    assert (shown["priced"], shown["problems"]) == (answer["priced"], answer["problems"])
