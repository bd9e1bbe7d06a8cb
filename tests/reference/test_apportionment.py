"""Exact splits against the largest-remainder method of the ``apportionment`` package.

The published examples: (6, 6, 2) with 10 and 11 seats, and 47000/16000/15800/12000/6100/3100 with
10 seats (Hamilton's method). A seat is a cent here.
"""

from decimal import Decimal

from apportionment.methods import compute
from hypothesis import given
from hypothesis import strategies as st
import pytest

from routecore.money import split_amount


def seats(total: int, weights: list[int]) -> list[int]:
    parts = split_amount(Decimal(total) / 100, [Decimal(w) for w in weights], "EUR")
    return [int(part * 100) for part in parts]


@pytest.mark.parametrize(
    ("total", "weights", "expected"),
    [
        (10, [6, 6, 2], [4, 4, 2]),
        (11, [6, 6, 2], [5, 5, 1]),
        (10, [47000, 16000, 15800, 12000, 6100, 3100], [5, 2, 1, 1, 1, 0]),
    ],
)
def test_published_examples(total: int, weights: list[int], expected: list[int]) -> None:
    assert seats(total, weights) == expected


@given(total=st.integers(1, 500), weights=st.lists(st.integers(1, 10**6), min_size=1, max_size=9))
def test_agrees_with_the_package(total: int, weights: list[int]) -> None:
    by_package = compute("hamilton", weights, total, tiesallowed=True)
    exact = [total * weight / sum(weights) for weight in weights]
    remainders = [share - int(share) for share in exact]
    if len(set(remainders)) == len(remainders):  # ties are ours to settle, by line order
        assert seats(total, weights) == by_package
