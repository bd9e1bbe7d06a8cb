"""Fields of price records: what is shown can be typed again, what makes no sense is refused."""

from decimal import Decimal
from types import SimpleNamespace
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
import pytest

from apps.catalogue.models import Unit
from apps.errors import Invalid
from apps.prices.fields import Field, read_value, shown
from tests.server.conftest import World

D = Decimal
TIERS = Field(name="tiers", kind="tiers")
TAXES = Field(name="components", kind="taxes", needed=False)
PACKS = Field(name="units", kind="packs", needed=False)
PRICE = Field(name="price", kind="decimal")
FIGURE = st.decimals(min_value=0, max_value=10**6, places=4).map(lambda value: value.normalize())
NAME = st.text(st.characters(categories=("Lu", "Ll")), min_size=1, max_size=12)


class Rows(list[Any]):
    """Rows of their own, as a record gives them."""

    def all(self) -> "Rows":
        return self


@given(
    st.lists(
        st.tuples(FIGURE, st.sampled_from(("percent", "per_unit", "per_line")), FIGURE),
        min_size=1,
        max_size=5,
        unique_by=lambda tier: tier[0],
    )
)
def test_tiers_are_shown_as_they_can_be_typed(tiers: list[tuple[Decimal, str, Decimal]]) -> None:
    stored = [
        {"from": f"{start:f}", name: f"{min(value, D(100)):f}"} for start, name, value in tiers
    ]
    assert read_value(TIERS, shown(SimpleNamespace(tiers=stored), TIERS)) == stored


@given(
    st.lists(
        st.tuples(NAME, FIGURE.map(lambda v: min(v, D(1000))), st.sampled_from(("net", "running"))),
        max_size=4,
    )
)
def test_taxes_are_shown_as_they_can_be_typed(taxes: list[tuple[str, Decimal, str]]) -> None:
    parts = Rows(SimpleNamespace(name=name, percent=value, on=on) for name, value, on in taxes)
    text = shown(SimpleNamespace(components=parts), TAXES)
    assert [(t.name, t.percent, t.on) for t in read_value(TAXES, text)] == taxes


def test_packs_are_shown_as_they_can_be_typed(world: World) -> None:
    codes = list(Unit.objects.values_list("code", flat=True))
    packs = Rows(
        SimpleNamespace(unit_id=code, factor=D(12) * n) for n, code in enumerate(codes, start=1)
    )
    text = shown(SimpleNamespace(units=packs), PACKS)
    assert read_value(PACKS, text) == {row.unit_id: row.factor for row in packs}


@pytest.mark.parametrize(
    "text", ["-1", "1e400", "NaN", "Infinity", "ten", "1,5", "10000000000", "0.1234567"]
)
def test_a_price_is_a_plain_number(text: str) -> None:
    with pytest.raises(Invalid) as refused:
        read_value(PRICE, text)
    assert (refused.value.code, refused.value.path) == ("unreadable", "price")


@pytest.mark.parametrize(
    "text",
    ["from 10", "from ten: 5 %", "10: five %", "from 10: 5 a pound", "[]x", '[{"from": "1"}]',
     "from -5: 3 %", "from 1: 1e400 %", '[{"percent": "5"}]'],
)  # fmt: skip
def test_tiers_that_make_no_sense_are_refused_at_their_field(text: str) -> None:
    with pytest.raises(Invalid) as refused:
        read_value(TIERS, text)
    assert refused.value.path == "tiers"


@pytest.mark.parametrize(
    "text", ["VAT", "20 %", "VAT 20", "VAT 20 % on gross", "VAT -3 %", "VAT 2000 %"]
)
def test_taxes_that_make_no_sense_are_refused_at_their_field(text: str) -> None:
    with pytest.raises(Invalid) as refused:
        read_value(TAXES, text)
    assert refused.value.path == "components"


def test_what_is_needed_is_asked_for_and_what_is_not_may_stay_empty() -> None:
    with pytest.raises(Invalid) as refused:
        read_value(PRICE, "  ")
    assert refused.value.code == "required"
    assert (read_value(TAXES, ""), read_value(PACKS, "")) == ([], {})
