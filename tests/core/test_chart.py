"""The chart of a chain: nothing covers anything, descent goes to the right and down, the same every time."""

from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.chart import Place, Stop, places_of
from routecore.errors import InvalidInput


def at(*stops: tuple[str, int, str]) -> dict[str, tuple[int, int]]:
    """Places by id; origins as letters."""
    chain = [Stop(id=key, column=column, origins=tuple(of)) for key, column, of in stops]
    return {key: (place.column, place.row) for key, place in places_of(chain).items()}


def test_a_plain_chain_is_one_row() -> None:
    assert at(("a", 0, ""), ("b", 1, "a"), ("c", 3, "b")) == {"a": (0, 0), "b": (1, 0), "c": (3, 0)}


def test_two_part_deliveries_with_their_invoices_are_two_rows_and_one_payment_joins_them() -> None:
    found = at(
        *(("o", 0, ""), ("d", 1, "o"), ("e", 1, "o")),
        *(("i", 2, "d"), ("j", 2, "e"), ("p", 3, "ij")),
    )
    assert found == {"o": (0, 0), "d": (1, 0), "i": (2, 0), "p": (3, 0), "e": (1, 1), "j": (2, 1)}


def test_a_second_order_begins_below_all_that_the_first_one_needs() -> None:
    found = at(
        *(("q", 0, ""), ("o", 1, "q"), ("x", 1, "q")),
        *(("d", 2, "o"), ("e", 2, "o"), ("f", 2, "x")),
    )
    assert (found["e"], found["x"], found["f"]) == ((2, 1), (1, 2), (2, 2))


def test_chains_of_their_own_lie_below_each_other() -> None:
    assert at(("a", 0, ""), ("b", 0, ""))["b"] == (0, 1)


@pytest.mark.parametrize(
    "chain",
    [
        [Stop(id="a", column=0), Stop(id="a", column=0)],
        [Stop(id="a", column=0, origins=("b",))],
        [Stop(id="a", column=1), Stop(id="b", column=1, origins=("a",))],
    ],
)
def test_a_chain_that_is_none_is_refused(chain: list[Stop]) -> None:
    with pytest.raises(InvalidInput):
        places_of(chain)


@st.composite
def chains(draw: st.DrawFn) -> list[Stop]:
    """Up to sixty stops, each from earlier ones to its left."""
    stops: list[Stop] = []
    for n in range(draw(st.integers(1, 60))):
        column = draw(st.integers(0, 7))
        left = [stop.id for stop in stops if stop.column < column]
        origins = draw(st.lists(st.sampled_from(left), max_size=3, unique=True)) if left else []
        stops.append(Stop(id=str(n), column=column, origins=tuple(origins)))
    return stops


@given(chains())
def test_no_two_stops_share_a_place_and_nothing_stands_above_what_it_comes_from(
    chain: list[Stop],
) -> None:
    found = places_of(chain)
    assert len(set(found.values())) == len(chain)
    for stop in chain:
        assert found[stop.id].column == stop.column
        if stop.origins:
            assert found[stop.id].row >= found[stop.origins[0]].row
    assert found == places_of(chain)
    assert isinstance(found["0"], Place)
