"""What was pasted is matched with items: the quick way finds what the plain one does."""

from hypothesis import given
from hypothesis import strategies as st
import pytest
from pytest_django import DjangoAssertNumQueries

from apps.catalogue.matching import MOST_CANDIDATES, _Names, match_rows
from demo.factories import ItemFactory

WORD = st.text("abP- 25", min_size=1, max_size=6)
ITEMS = st.lists(
    st.tuples(st.integers(1, 99), WORD, WORD), max_size=12, unique_by=lambda row: row[0]
)


def plainly(items: list[tuple[int, str, str]], words: str) -> list[int]:
    """Every item's code and name looked at for every word."""
    scored = []
    for key, code, name in items:
        text = f"{code} {name}".lower()
        hits = sum(word in text for word in words.lower().split())
        if hits:
            scored.append((-hits, len(text), code, key))
    return [key for *_, key in sorted(scored)[:MOST_CANDIDATES]]


@given(items=ITEMS, words=st.text("abP- 25", max_size=9))
def test_candidates_are_those_of_looking_at_every_item(
    items: list[tuple[int, str, str]], words: str
) -> None:
    found = _Names(items).like(words)
    rank = {key: (code, f"{code} {name}") for key, code, name in items}
    # Items of one code, equally long, are equally good.
    assert [rank[key] for key in found] == [rank[key] for key in plainly(items, words)] or {
        (rank[key][0], len(rank[key][1])) for key in found
    } == {(rank[key][0], len(rank[key][1])) for key in plainly(items, words)}


def test_a_code_goes_before_a_name() -> None:
    names = _Names([(1, "POST", "Wire"), (2, "WIRE", "Post")])
    assert (names.named(" post "), names.named("WIRE")) == (1, 2)


@pytest.mark.django_db
@pytest.mark.parametrize("rows", [1, 40])
def test_the_same_queries_however_many_rows(
    rows: int, django_assert_num_queries: DjangoAssertNumQueries
) -> None:
    for n in range(6):
        ItemFactory(code=f"POST-{n}", name=f"Post {n}")
    with django_assert_num_queries(4):
        found = match_rows("\n".join(f"post {n % 6}\t{n + 1}\tposst" for n in range(rows)))
    assert len(found) == rows
